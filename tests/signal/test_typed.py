"""A patch as it is typed."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from aequitone.signal import NAMED_COLOURS, SignalFormat, patch_typed

FORMAT = SignalFormat(10)


@pytest.mark.parametrize(
    ("words", "name", "signal"),
    [
        ("white", "100 % grey", (1.0, 1.0, 1.0)),
        ("Black", "0 % grey", (0.0, 0.0, 0.0)),
        ("white 30", "30 % grey", (0.3, 0.3, 0.3)),
        ("50 %", "50 % grey", (0.5, 0.5, 0.5)),
        ("20 20 20", "20 % grey", (0.2, 0.2, 0.2)),
        ("red", "red", (1.0, 0.0, 0.0)),
        ("cyan 75 %", "cyan 75 %", (0.0, 0.75, 0.75)),
        ("75, 20, 10.5", "R 75, G 20, B 10.5 %", (0.75, 0.2, 0.105)),
    ],
)
def test_what_is_typed_is_shown(words: str, name: str, signal: tuple[float, float, float]) -> None:
    patch = patch_typed(words, FORMAT)
    assert patch.name == name
    assert patch.signal == pytest.approx(signal, abs=0.0006)


@pytest.mark.parametrize(
    "words", ["", "mauve", "red red", "red 75 75", "1 2", "1 2 3 4", "nan", "inf 0 0", "120", "-3"]
)
def test_what_is_no_patch_is_said(words: str) -> None:
    with pytest.raises(ValueError, match="no patch|between 0 and 100"):
        patch_typed(words, FORMAT)


@given(st.text(max_size=30))
def test_nothing_typed_makes_anything_but_a_patch_or_a_sentence(words: str) -> None:
    try:
        patch = patch_typed(words, FORMAT)
    except ValueError as error:
        assert str(error)
    else:
        assert all(0.0 <= share <= 1.0 for share in patch.signal)


def test_every_name_is_a_patch() -> None:
    assert all(patch_typed(name, FORMAT).codes for name in NAMED_COLOURS)
