"""Names and sentences as a page shows them."""

import pytest

from aequitone.wording import listed, sentence


@pytest.mark.parametrize(
    ("names", "told"),
    [
        ([], ""),
        (["R gain"], "R gain"),
        (["R gain", "G gain"], "R gain, G gain"),
        (["R gain", "G gain", "B gain", "R bias"], "R gain, G gain and 2 more"),
    ],
)
def test_names_beyond_the_most_are_counted(names: list[str], told: str) -> None:
    assert listed(names, 2) == told


def test_words_become_a_sentence() -> None:
    assert sentence("type a figure") == "Type a figure."
    assert sentence("ΔE is wanted") == "ΔE is wanted."
    assert sentence("") == ""
