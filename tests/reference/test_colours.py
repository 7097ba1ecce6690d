"""Colours: what is asked of them, how far off they are, and the samples that a pass reads."""

from itertools import pairwise

import colour
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from aequitone.colorimetry import D65, P3, REC709, uv_from_xyz, xyz_from_lab
from aequitone.procedures.colour.samples import Length, samples, steady_order
from aequitone.reference import colour_errors, target_named
from aequitone.reference.colour_errors import saturation_and_hue
from aequitone.reference.everyday import EVERYDAY, Kind, everyday_signal
from aequitone.reference.saturations import SATURATIONS, SIX, saturation_signal

TARGET = target_named("rec709-2.2/added")


@pytest.mark.parametrize("container", [REC709, P3], ids=["Rec.709", "P3"])
@pytest.mark.parametrize("saturation", SATURATIONS)
@pytest.mark.parametrize("name", SIX)
def test_a_saturation_lies_so_far_from_white_on_the_way_to_the_full_colour(
    name: str, saturation: float, container: object
) -> None:
    signal = np.array(saturation_signal(name, saturation, 75.0, container)) / 100.0  # type: ignore[arg-type]
    full = np.array(saturation_signal(name, 100.0, 75.0, container)) / 100.0  # type: ignore[arg-type]
    uv, edge = (uv_from_xyz(container.xyz(each**2.2)) for each in (signal, full))  # type: ignore[attr-defined]
    white = uv_from_xyz(D65.xyz())
    assert np.allclose(uv - white, saturation / 100.0 * (edge - white), atol=6e-4)
    assert max(signal) == pytest.approx(0.75)


def test_what_cannot_be_is_refused() -> None:
    with pytest.raises(ValueError, match="cannot be"):
        saturation_signal("red", 120.0, 75.0)
    with pytest.raises(KeyError):
        saturation_signal("orange", 50.0, 75.0)


def test_forty_everyday_colours_are_inside_rec709_and_apart() -> None:
    assert len(EVERYDAY) == 40
    assert {each.kind for each in EVERYDAY} == set(Kind)
    assert sum(each.kind is Kind.SKIN for each in EVERYDAY) == 6
    linear = REC709.rgb(xyz_from_lab([each.lab for each in EVERYDAY], D65.xyz()))
    assert linear.min() > 0.0
    assert linear.max() < 1.0
    lab = np.array([each.lab for each in EVERYDAY])
    far = colour.delta_E(lab[:, None], lab[None], method="CIE 2000") + 100.0 * np.eye(len(lab))
    assert far.min() > 3.0
    # The signal asks for the colour that it was made from.
    back = REC709.xyz((np.array([everyday_signal(each) for each in EVERYDAY]) / 100.0) ** 2.2)
    assert np.allclose(colour.XYZ_to_Lab(back / D65.xyz()[1], [D65.x, D65.y]), lab, atol=0.25)


def test_light_saturation_and_hue_are_told_apart() -> None:
    signal = np.array(saturation_signal("red", 50.0, 75.0)) / 100.0
    wanted = TARGET.colour([signal], 100.0)[0]
    white = TARGET.white.xyz()
    # The same chromaticity, a tenth more light.
    errors = colour_errors([signal], [wanted * 1.1], TARGET, white=100.0)
    assert errors.light[0] == pytest.approx(10.0)
    assert errors.saturation[0] == pytest.approx(0.0, abs=1e-6)
    assert errors.hue[0] == pytest.approx(0.0, abs=1e-6)
    # Mixed with white: paler, of the same hue.
    paler = wanted + 0.3 * wanted[1] * white
    errors = colour_errors([signal], [paler], TARGET, white=100.0)
    assert errors.saturation[0] < -10.0
    assert errors.hue[0] == pytest.approx(0.0, abs=1e-6)
    # Mixed with yellow: turned towards it.
    yellow = TARGET.colour([np.array(saturation_signal("yellow", 100.0, 40.0)) / 100.0], 100.0)[0]
    assert colour_errors([signal], [wanted + 0.3 * yellow], TARGET, white=100.0).hue[0] > 1.0
    # A grey has neither.
    grey = TARGET.colour([[0.5, 0.5, 0.5]], 100.0)
    errors = colour_errors([[0.5, 0.5, 0.5]], grey, TARGET, white=100.0)
    assert np.isnan(errors.saturation[0])
    assert np.isnan(errors.hue[0])


@given(st.floats(-20.0, 20.0), st.floats(0.8, 1.2))
def test_a_colour_that_was_turned_and_drawn_out_is_told_so(degrees: float, share: float) -> None:
    white = uv_from_xyz(D65.xyz())
    wanted = TARGET.colour([np.array(saturation_signal("green", 50.0, 75.0)) / 100.0], 100.0)[0]
    away = uv_from_xyz(wanted) - white
    turn = np.radians(degrees)
    turned = np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]]) @ away * share + white
    xyz = colour.xyY_to_XYZ([*colour.Luv_uv_to_xy(turned), 30.0])
    saturation, hue = saturation_and_hue(xyz, wanted, D65.xyz())
    assert float(saturation) == pytest.approx((share - 1.0) * 100.0, abs=0.01)
    assert float(hue) == pytest.approx(degrees, abs=0.01)


@pytest.mark.parametrize(
    ("length", "level", "count"),
    [(Length.SHORT, 75.0, 24), (Length.USUAL, 75.0, 64), (Length.LONG, 75.0, 88), (Length.LONG, 100.0, 64)],
)
def test_a_pass_reads_what_its_length_says_each_under_a_name_of_its_own(
    length: Length, level: float, count: int
) -> None:
    told = samples(length, level)
    assert len({sample.name for sample in told}) == len(told) == count
    faces = [sample for sample in told if sample.kind == Kind.SKIN.value]
    assert len(faces) >= 4


@given(st.lists(st.floats(0.01, 500.0), min_size=1, max_size=40))
def test_bright_and_dark_take_turns(lights: list[float]) -> None:
    order = steady_order(tuple(lights))
    assert sorted(order) == list(range(len(lights)))
    middle = np.median(lights)
    taken = [lights[row] for row in order]
    # Never two in a row that are both darker than the middle.
    assert not any(max(pair) < middle for pair in pairwise(taken))
