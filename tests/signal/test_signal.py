"""Codes by the Recommendations, windows by area, patches."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from aequitone.signal import (
    Patch,
    Range,
    SignalFormat,
    code_value,
    grey_levels,
    signal_of,
    window_rect,
)


@pytest.mark.parametrize(
    ("depth", "range_", "black", "white"),
    [
        # ITU-R BT.709-6, 4.6 and BT.2100-2, table 9.
        (8, Range.LIMITED, 16, 235),
        (10, Range.LIMITED, 64, 940),
        (12, Range.LIMITED, 256, 3760),
        (8, Range.FULL, 0, 255),
        (10, Range.FULL, 0, 1023),
        (12, Range.FULL, 0, 4095),
    ],
)
def test_black_and_white_codes(depth: int, range_: Range, black: int, white: int) -> None:
    assert code_value([0.0, 1.0], depth, range_).tolist() == [black, white]


def test_half_signal_rounds_up() -> None:
    # 16 + 219 / 2 = 125.5; BT.709 rounds to the nearest, halves up.
    assert code_value(0.5, 8, Range.LIMITED) == 126
    assert code_value(0.5, 10, Range.LIMITED) == 502


@given(st.sampled_from([8, 10, 12]), st.sampled_from(list(Range)), st.floats(0.0, 1.0))
def test_codes_go_there_and_back_within_half_a_step(depth: int, range_: Range, signal: float) -> None:
    step = 1.0 / (219 << (depth - 8)) if range_ is Range.LIMITED else 1.0 / (2**depth - 1)
    assert signal_of(code_value(signal, depth, range_), depth, range_) == pytest.approx(signal, abs=step * 0.501)


@given(st.floats(-2.0, 3.0), st.sampled_from([8, 10, 12]))
def test_limited_codes_keep_clear_of_timing(signal: float, depth: int) -> None:
    code = int(code_value(signal, depth, Range.LIMITED))
    assert 1 << (depth - 8) <= code <= 2**depth - 1 - (1 << (depth - 8))


@given(st.integers(200, 4096), st.integers(200, 2200), st.sampled_from([0.02, 0.04, 0.1, 0.18, 0.5, 1.0]))
def test_a_window_takes_its_share_and_is_centred(width: int, height: int, area: float) -> None:
    rect = window_rect(width, height, area)
    # Each side is a whole number of pixels: at most half a pixel off.
    assert abs(rect.width * rect.height - area * width * height) <= (rect.width + rect.height) / 2 + 1
    assert abs(rect.x * 2 + rect.width - width) <= 1
    assert abs(rect.y * 2 + rect.height - height) <= 1


def test_levels_run_from_white_to_black() -> None:
    assert grey_levels(11) == tuple(float(p) for p in range(100, -1, -10))
    assert len(grey_levels(21)) == 21
    with pytest.raises(ValueError, match="11 or 21"):
        grey_levels(12)


def test_nonsense_formats_are_refused() -> None:
    with pytest.raises(ValueError, match="depth must be one of"):
        SignalFormat(9)
    with pytest.raises(ValueError, match="more than 0 and at most 1"):
        SignalFormat(8, Range.FULL, 0.0)


def test_the_signal_of_a_patch_is_what_its_codes_say() -> None:
    patch = Patch("red", 100.0, (235, 16, 16), SignalFormat())
    assert patch.signal == (1.0, 0.0, 0.0)
