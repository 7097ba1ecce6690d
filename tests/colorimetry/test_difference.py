"""Colour differences against the published test data."""

import warnings

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from aequitone.colorimetry import D65, Formula, delta_e_2000, delta_e_itp, delta_uv, xyz_from_xyY
from aequitone.colorimetry.difference import at_luminance_of, delta_e_2000_lab

with warnings.catch_warnings():
    warnings.simplefilter("ignore")
    import colour

# Sharma, Wu and Dalal (2005), "The CIEDE2000 color-difference formula", table 1.
SHARMA = np.array(
    [
        [50.0000, 2.6772, -79.7751, 50.0000, 0.0000, -82.7485, 2.0425],
        [50.0000, 3.1571, -77.2803, 50.0000, 0.0000, -82.7485, 2.8615],
        [50.0000, 2.8361, -74.0200, 50.0000, 0.0000, -82.7485, 3.4412],
        [50.0000, -1.3802, -84.2814, 50.0000, 0.0000, -82.7485, 1.0000],
        [50.0000, -1.1848, -84.8006, 50.0000, 0.0000, -82.7485, 1.0000],
        [50.0000, -0.9009, -85.5211, 50.0000, 0.0000, -82.7485, 1.0000],
        [50.0000, 0.0000, 0.0000, 50.0000, -1.0000, 2.0000, 2.3669],
        [50.0000, -1.0000, 2.0000, 50.0000, 0.0000, 0.0000, 2.3669],
        [50.0000, 2.4900, -0.0010, 50.0000, -2.4900, 0.0009, 7.1792],
        [50.0000, 2.4900, -0.0010, 50.0000, -2.4900, 0.0010, 7.1792],
        [50.0000, 2.4900, -0.0010, 50.0000, -2.4900, 0.0011, 7.2195],
        [50.0000, 2.4900, -0.0010, 50.0000, -2.4900, 0.0012, 7.2195],
        [50.0000, -0.0010, 2.4900, 50.0000, 0.0009, -2.4900, 4.8045],
        [50.0000, -0.0010, 2.4900, 50.0000, 0.0010, -2.4900, 4.8045],
        [50.0000, -0.0010, 2.4900, 50.0000, 0.0011, -2.4900, 4.7461],
        [50.0000, 2.5000, 0.0000, 50.0000, 0.0000, -2.5000, 4.3065],
        [50.0000, 2.5000, 0.0000, 73.0000, 25.0000, -18.0000, 27.1492],
        [50.0000, 2.5000, 0.0000, 61.0000, -5.0000, 29.0000, 22.8977],
        [50.0000, 2.5000, 0.0000, 56.0000, -27.0000, -3.0000, 31.9030],
        [50.0000, 2.5000, 0.0000, 58.0000, 24.0000, 15.0000, 19.4535],
        [50.0000, 2.5000, 0.0000, 50.0000, 3.1736, 0.5854, 1.0000],
        [50.0000, 2.5000, 0.0000, 50.0000, 3.2972, 0.0000, 1.0000],
        [50.0000, 2.5000, 0.0000, 50.0000, 1.8634, 0.5757, 1.0000],
        [50.0000, 2.5000, 0.0000, 50.0000, 3.2592, 0.3350, 1.0000],
        [60.2574, -34.0099, 36.2677, 60.4626, -34.1751, 39.4387, 1.2644],
        [63.0109, -31.0961, -5.8663, 62.8187, -29.7946, -4.0864, 1.2630],
        [61.2901, 3.7196, -5.3901, 61.4292, 2.2480, -4.9620, 1.8731],
        [35.0831, -44.1164, 3.7933, 35.0232, -40.0716, 1.5901, 1.8645],
        [22.7233, 20.0904, -46.6940, 23.0331, 14.9730, -42.5619, 2.0373],
        [36.4612, 47.8580, 18.3852, 36.2715, 50.5065, 21.2231, 1.4146],
        [90.8027, -2.0831, 1.4410, 91.1528, -1.6435, 0.0447, 1.4441],
        [90.9257, -0.5406, -0.9208, 88.6381, -0.8985, -0.7239, 1.5381],
        [6.7747, -0.2908, -2.4247, 5.8714, -0.0985, -2.2286, 0.6377],
        [2.0776, 0.0795, -1.1350, 0.9033, -0.0636, -0.5514, 0.9082],
    ]
)
colours = st.tuples(st.floats(0.2, 0.45), st.floats(0.2, 0.45), st.floats(0.05, 300.0))


def test_ciede2000_gives_the_published_differences() -> None:
    assert delta_e_2000_lab(SHARMA[:, :3], SHARMA[:, 3:6]) == pytest.approx(SHARMA[:, 6], abs=5e-5)
    assert delta_e_2000_lab(SHARMA[:, 3:6], SHARMA[:, :3]) == pytest.approx(SHARMA[:, 6], abs=5e-5)


def test_ciede2000_keeps_leading_axes() -> None:
    pairs = SHARMA[:32].reshape(4, 8, 7)
    assert delta_e_2000_lab(pairs[..., :3], pairs[..., 3:6]).shape == (4, 8)


@given(colours, colours)
def test_itp_agrees_with_colour_science(first: tuple, second: tuple) -> None:
    a, b = xyz_from_xyY(first), xyz_from_xyY(second)
    where = {"method": "ITU-R BT.2100-2 PQ", "illuminant": np.array([D65.x, D65.y])}
    expected = colour.delta_E(colour.XYZ_to_ICtCp(a, **where), colour.XYZ_to_ICtCp(b, **where), method="ITP")
    # Their LMS matrix is rounded to the Recommendation's, through a white of other digits.
    assert delta_e_itp(a, b) == pytest.approx(expected, rel=2e-3, abs=0.25)


def test_itp_of_one_step_of_light() -> None:
    # BT.2124: 720 times the PQ difference where there is no chroma; PQ by SMPTE ST 2084.
    assert delta_e_itp(D65.xyz(1000.0), D65.xyz(100.0)) == pytest.approx(720 * (0.751827 - 0.508078), abs=0.01)


@given(colours, st.floats(0.3, 3.0))
def test_without_light_only_cast_counts(first: tuple, factor: float) -> None:
    sample = xyz_from_xyY(first)
    brighter, white = sample * factor, D65.xyz(300.0)
    assert delta_e_2000(brighter, sample, white, light=False) == pytest.approx(0.0, abs=1e-6)
    assert delta_e_itp(brighter, sample, light=False) == pytest.approx(0.0, abs=1e-6)
    assert delta_uv(brighter, sample) == pytest.approx(0.0, abs=1e-12)
    if abs(factor - 1.0) > 0.05:
        assert delta_e_2000(brighter, sample, white) > 0.003


def test_a_sample_without_light_is_not_divided_by() -> None:
    target = D65.xyz(50.0)
    assert np.array_equal(at_luminance_of([0.0, 0.0, 0.0], target), target)


@pytest.mark.parametrize("formula", list(Formula))
def test_a_formula_is_what_its_label_says(formula: Formula) -> None:
    white = xyz_from_xyY([0.3127, 0.3290, 100.0])
    reference = xyz_from_xyY([0.3127, 0.3290, 20.0])
    tinted, darker = xyz_from_xyY([0.30, 0.33, 20.0]), reference * 0.9
    itp = "ITP" in formula.value
    plain = delta_e_itp(tinted, reference) if itp else delta_e_2000(tinted, reference, white)
    assert formula.between(tinted, reference, white) == pytest.approx(plain)
    without = formula.between(darker, reference, white)
    assert bool(without < 1e-6) is ("of cast" in formula.value)
    assert formula.light is ("cast" not in formula.value)
