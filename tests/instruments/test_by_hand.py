"""Readings typed by a person: what is taken, what is doubted, what is refused."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from aequitone.colorimetry import xyY_from_xyz
from aequitone.instruments.by_hand import HandEntry, HandMeter, HandSource, parse_entry
from aequitone.instruments.corrected import CorrectedMeter
from aequitone.signal import Patch, SignalFormat, grey_patch


@pytest.mark.parametrize(
    "text",
    [
        "0.3127 0.3290 98.4",
        "  0.3127   0.3290  98.4 ",
        "0,3127 0,3290 98,4",
        ".3127; .3290; 98.4",
        "0.3127,0.3290,98.4",
        "0.3127, 0.3290, 98.4",
    ],
)
def test_ways_to_type_the_same_reading(text: str) -> None:
    entry = parse_entry(text)
    assert (entry.x, entry.y, entry.Y) == (0.3127, 0.3290, 98.4)
    assert entry.doubts == ()


@given(st.floats(0.25, 0.4), st.floats(0.25, 0.4), st.floats(0.01, 900.0))
def test_what_is_typed_is_what_is_measured(x: float, y: float, Y: float) -> None:
    entry = parse_entry(f"{x:.4f} {y:.4f} {Y:.3f}")
    back = xyY_from_xyz(entry.measurement.xyz)
    assert back == pytest.approx([round(x, 4), round(y, 4), round(Y, 3)], rel=1e-9)


@pytest.mark.parametrize(
    ("text", "sentence"),
    [
        ("", "holds 0 figures"),
        ("0.3127 0.3290", "holds 2 figures"),
        ("0.3127 0.3290 98.4 1", "holds 4 figures"),
        ("98.4", "holds 1 figure;"),
        ("0.3127 0.3290 ninety", "“ninety” is not a number"),
        ("nan 0.3 10", "“nan” is not a number"),
        ("3127 3290 98.4", "a decimal point may be missing, as in 0.3127 0.3290"),
        ("0.7 0.6 10", "are no colour"),
        ("-0.3 0.3 10", "are no colour"),
        ("0.3 0 10", "are no colour"),
        ("0.3 0.3 -5", "less than no light"),
        ("0.3 0.3 1e999", "too large"),
    ],
)
def test_what_cannot_be_a_reading_is_refused_with_a_sentence(text: str, sentence: str) -> None:
    with pytest.raises(ValueError, match="^[^\n]+$") as refused:
        parse_entry(text)
    assert sentence in str(refused.value)


@pytest.mark.parametrize(
    ("text", "expected", "doubt"),
    [
        ("0.3127 0.3290 984", 98.0, "Y 984 cd/m² where about 98 was expected"),
        ("0.3127 0.3290 9.84", 98.0, "about 98 was expected"),
        ("0.6127 0.3290 98.4", 98.0, "far from any grey"),
        ("0.3290 0.0127 98.4", None, "far from any grey"),
    ],
)
def test_what_looks_like_a_slip_is_doubted(text: str, expected: float | None, doubt: str) -> None:
    entry = parse_entry(text, expected)
    assert any(doubt in words for words in entry.doubts)


def test_near_black_wanders_without_doubt() -> None:
    assert parse_entry("0.31 0.33 0.06", 0.01).doubts == ()


def test_nought_alone_is_no_light() -> None:
    measurement = parse_entry("0").measurement
    assert (measurement.X, measurement.Y, measurement.Z) == (0.0, 0.0, 0.0)


def test_the_meter_asks_for_the_patch_on_the_screen() -> None:
    asked = []

    def ask(patch: object) -> object:
        asked.append(patch)
        return parse_entry("0.3127 0.3290 50")

    patch = grey_patch(80.0, SignalFormat())
    assert HandMeter(ask).measure(patch, 1.0).Y == 50.0
    assert asked == [patch]


def test_XYZ_is_taken_where_it_is_asked_for() -> None:
    entry = parse_entry("95.05 100 108,9", form="XYZ")
    assert entry.measurement.xyz == pytest.approx([95.05, 100.0, 108.9])
    assert entry.doubts == ()
    assert parse_entry("0", form="XYZ").Y == 0.0


@pytest.mark.parametrize(
    ("text", "sentence"),
    [
        ("95 -100 108", "none of the three can be below 0"),
        ("95 0 108", "is no light"),
        ("95 100", "type X, Y and Z, as 93.5 98.4 107.1,"),
    ],
)
def test_XYZ_that_cannot_be_is_refused(text: str, sentence: str) -> None:
    with pytest.raises(ValueError, match=sentence):
        parse_entry(text, form="XYZ")


def test_a_colour_may_lie_anywhere_but_a_grey_may_not() -> None:
    assert parse_entry("0.64 0.33 21").doubts
    assert parse_entry("0.64 0.33 21", grey=False).doubts == ()
    assert parse_entry("41.2 21.3 1.9", form="XYZ", grey=False).doubts == ()


def test_patterns_by_hand_are_asked_for_once() -> None:
    asked: list[Patch] = []
    source = HandSource(asked.append)
    first, second = grey_patch(50, SignalFormat()), grey_patch(60, SignalFormat())
    for patch in (first, first, second, first):
        source.show(patch)
        assert source.shows(patch)
    assert asked == [first, second, first]
    assert not source.shows(second)


def test_a_correction_is_applied_to_every_answer() -> None:
    meter = HandMeter(lambda _patch: HandEntry(0.3127, 0.3290, 100.0))
    matrix = np.diag([1.1, 1.0, 0.9])
    corrected = CorrectedMeter(meter, matrix)
    plain = meter.measure(grey_patch(100, SignalFormat()), 1.0).xyz
    assert corrected.measure(grey_patch(100, SignalFormat()), 1.0).xyz == pytest.approx(matrix @ plain)
    assert (corrected.name, corrected.repeats, corrected.noise) == ("Meter by hand, corrected", False, meter.noise)
    with pytest.raises(ValueError, match="3 by 3 numbers"):
        CorrectedMeter(meter, np.full((3, 3), np.nan))
