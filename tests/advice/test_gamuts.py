"""Gamut presets: what is named wrong with the colours of one, and which one is chosen."""

from dataclasses import replace

import colour
import numpy as np
import pytest
from benchmarks.gamuts import run_one

from aequitone.advice.gamuts import (
    GAMUT_GREYS,
    Fault,
    diagnosed,
    gamut_signals,
    judged_by_colour,
    ranked_by_colour,
    taken_apart,
)
from aequitone.advice.presets import Track, why
from aequitone.colorimetry import P3, REC709, Gamut
from aequitone.reference import target_named

TARGET = target_named("rec709-2.2/added")
NARROW = Gamut("narrow", (0.58, 0.34), (0.31, 0.54), (0.17, 0.09), REC709.white)
TURNED = Gamut("turned", (0.64, 0.37), (0.27, 0.60), (0.15, 0.05), REC709.white)
STANDARDS = ("BT.601", "BT.709", "BT.2020")


def shown(gamut: Gamut, encoded: str = "BT.709", decoded: str = "BT.709", white: float = 100.0) -> Track:
    """What a screen of these primaries shows, with a black of a thousandth."""

    def light(signal: np.ndarray) -> np.ndarray:
        return gamut.xyz(np.clip(taken_apart(signal, encoded, decoded), 0.0, 1.0) ** 2.2) * white

    black = REC709.white.xyz(white / 1000.0)
    greys = np.array([light(np.full(3, percent / 100.0)) for percent in GAMUT_GREYS]) + black
    colours = light(gamut_signals()) + black
    return Track(0, gamut.name, np.array(GAMUT_GREYS), greys, greys * 0.001, colours=colours)


@pytest.mark.parametrize("decoded", STANDARDS)
@pytest.mark.parametrize("encoded", STANDARDS)
def test_a_signal_is_mixed_and_taken_apart_as_the_standards_say(encoded: str, decoded: str) -> None:
    rgb = np.random.default_rng(1).random((50, 3))
    weights = {"BT.601": "ITU-R BT.601", "BT.709": "ITU-R BT.709", "BT.2020": "ITU-R BT.2020"}
    ycc = colour.RGB_to_YCbCr(
        rgb, K=colour.WEIGHTS_YCBCR[weights[encoded]], out_legal=False, in_legal=False, out_int=False
    )
    wanted = colour.YCbCr_to_RGB(
        ycc, K=colour.WEIGHTS_YCBCR[weights[decoded]], in_legal=False, out_legal=False, in_int=False
    )
    assert np.allclose(taken_apart(rgb, encoded, decoded), wanted, atol=1e-9)


@pytest.mark.parametrize(
    ("gamut", "fault"),
    [
        (REC709, Fault.NONE),
        (P3, Fault.WIDE),
        (NARROW, Fault.NARROW),
        (TURNED, Fault.TURNED),
    ],
    ids=lambda each: getattr(each, "name", ""),
)
@pytest.mark.parametrize("tint", [(1.0, 1.0, 1.0), (0.93, 1.0, 1.12)], ids=["white", "bluish"])
def test_primaries_are_named_as_they_lie_whatever_white_is(
    gamut: Gamut, fault: Fault, tint: tuple[float, float, float]
) -> None:
    track = shown(gamut)
    white, grey, black = track.xyz * np.array(tint)
    assert track.colours is not None
    found = diagnosed(track.colours * np.array(tint), grey, black, TARGET, float(white[1]))
    assert found.fault is fault
    assert bool(found.words) is (fault is not Fault.NONE)


@pytest.mark.parametrize("gamut", [REC709, P3], ids=["Rec.709", "P3"])
@pytest.mark.parametrize("decoded", STANDARDS)
@pytest.mark.parametrize("encoded", STANDARDS)
def test_a_wrong_matrix_is_named_by_both_standards(encoded: str, decoded: str, gamut: Gamut) -> None:
    track = shown(gamut, encoded, decoded)
    white, grey, black = track.xyz
    assert track.colours is not None
    found = diagnosed(track.colours, grey, black, TARGET, float(white[1]))
    if encoded == decoded:
        assert found.fault is not Fault.MATRIX
    else:
        assert (found.encoded, found.decoded) == (encoded, decoded)
        assert f"mixed by {encoded}, taken apart by {decoded}" in found.words


def test_a_fourth_light_that_helps_grey_alone_is_no_fault() -> None:
    track = shown(REC709)
    assert track.colours is not None
    white, grey, black = track.xyz * np.array([[1.4], [1.4], [1.0]])
    assert diagnosed(track.colours, grey, black, TARGET, float(white[1])).fault is Fault.NONE


def test_a_black_below_nothing_by_noise_is_taken_as_none() -> None:
    track, target = shown(REC709), target_named("rec709-bt1886")
    below = replace(track, xyz=track.xyz * np.array([[1.0], [1.0], [0.0]]) - np.array([[0.0], [0.0], [0.002]]))
    none = replace(track, xyz=track.xyz * np.array([[1.0], [1.0], [0.0]]))
    seen = [judged_by_colour(each, target).colour for each in (below, none)]
    assert seen[0] == pytest.approx(seen[1], abs=0.05)


def test_the_nearest_is_chosen_and_the_reason_names_what_is_wrong_with_the_next() -> None:
    order = ranked_by_colour([shown(P3), shown(REC709), shown(NARROW)], TARGET)
    assert order[0].track.name == "Rec.709"
    words = why(order)
    assert words.startswith("Rec.709 shows colours nearer to the target than ")
    assert "too narrow: primaries -" in words or "too wide: primaries +" in words


@pytest.mark.parametrize("name", ["wide-lcd", "white-oled", "laser-projector", "demo"])
@pytest.mark.parametrize("matrix", ["as asked", "bt601", "bt2020"])
def test_the_stand_ins_presets_and_matrices_are_named(name: str, matrix: str) -> None:
    told = run_one((name, 4, matrix))
    assert told
    assert all(right for _, right in told), told
