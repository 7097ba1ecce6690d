"""Colour spaces against published figures, colour-science, and their own inverses."""

import warnings

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra import numpy as hnp

from aequitone.colorimetry import (
    D65,
    REC709,
    WHITES,
    ictcp_from_xyz,
    lab_from_xyz,
    uv_from_xy,
    uv_from_xyz,
    xy_from_uv,
    xyY_from_xyz,
    xyz_from_uvY,
    xyz_from_xyY,
)
from aequitone.colorimetry.gamut import REC2020

with warnings.catch_warnings():
    warnings.simplefilter("ignore")
    import colour

xyz_arrays = hnp.arrays(
    np.float64,
    hnp.array_shapes(max_dims=3, max_side=4).map(lambda shape: (*shape, 3)),
    elements=st.floats(0.01, 1000.0),
)


def test_d65_in_u_prime_v_prime() -> None:
    # CIE 15: D65 has u' 0.1978, v' 0.4683.
    assert uv_from_xy([D65.x, D65.y]) == pytest.approx([0.1978, 0.4683], abs=5e-5)


def test_rec709_matrix_is_the_published_one() -> None:
    # ITU-R BT.709-6 / SMPTE RP 177: luminance of the primaries.
    assert REC709.xyz_matrix[1] == pytest.approx([0.2126, 0.7152, 0.0722], abs=5e-5)


def test_rec2020_matrix_is_the_published_one() -> None:
    # ITU-R BT.2020-2, table 4: Y' = 0.2627 R' + 0.6780 G' + 0.0593 B'.
    assert REC2020.xyz_matrix[1] == pytest.approx([0.2627, 0.6780, 0.0593], abs=5e-5)


def test_lightness_of_eighteen_percent_grey() -> None:
    # CIE 15: Y/Yn = 0.1842 is L* 50, and the straight part begins at 8.
    ratio = np.array([0.18418651851244416, 0.008856451679035631, 0.0, 1.0])
    lightness = lab_from_xyz(ratio[:, None] * D65.xyz(), D65.xyz())[:, 0]
    assert lightness == pytest.approx([50.0, 8.0, 0.0, 100.0], abs=1e-9)


@given(xyz_arrays)
def test_lab_agrees_with_colour_science(xyz: np.ndarray) -> None:
    white = D65.xyz(100.0)
    expected = colour.XYZ_to_Lab(xyz / 100.0, np.array([D65.x, D65.y]))
    np.testing.assert_allclose(lab_from_xyz(xyz, white), expected, atol=2e-6)


@given(xyz_arrays)
def test_ictcp_agrees_with_colour_science(xyz: np.ndarray) -> None:
    expected = colour.XYZ_to_ICtCp(xyz, method="ITU-R BT.2100-2 PQ", illuminant=np.array([D65.x, D65.y]))
    inside = (REC2020.rgb(xyz) >= 0).all(axis=-1)
    np.testing.assert_allclose(ictcp_from_xyz(xyz)[inside], expected[inside], atol=3e-4)


def test_white_has_no_chroma_in_ictcp() -> None:
    intensity, tritan, protan = ictcp_from_xyz(D65.xyz(100.0))
    # SMPTE ST 2084: 100 cd/m² is 50.81 % PQ.
    assert intensity == pytest.approx(0.5081, abs=5e-5)
    assert (tritan, protan) == (pytest.approx(0.0, abs=1e-6), pytest.approx(0.0, abs=1e-6))


@given(xyz_arrays)
def test_xyy_and_uv_go_there_and_back(xyz: np.ndarray) -> None:
    np.testing.assert_allclose(xyz_from_xyY(xyY_from_xyz(xyz)), xyz, rtol=1e-9)
    uv = uv_from_xyz(xyz)
    np.testing.assert_allclose(xyz_from_uvY(uv, xyz[..., 1]), xyz, rtol=1e-7)
    np.testing.assert_allclose(uv_from_xy(xy_from_uv(uv)), uv, atol=1e-12)


@given(xyz_arrays)
def test_linear_rgb_goes_there_and_back(xyz: np.ndarray) -> None:
    np.testing.assert_allclose(REC709.xyz(REC709.rgb(xyz)), xyz, atol=1e-7)


def test_no_light_has_no_chromaticity() -> None:
    assert np.isnan(xyY_from_xyz([0.0, 0.0, 0.0])[:2]).all()
    assert np.isnan(uv_from_xyz([0.0, 0.0, 0.0])).all()


def test_a_wrong_shape_is_named() -> None:
    with pytest.raises(ValueError, match=r"3 components, got shape \(2,\)"):
        lab_from_xyz([1.0, 2.0], D65.xyz())
    with pytest.raises(ValueError, match="y must be above 0"):
        xyz_from_xyY([0.3, 0.0, 1.0])


@pytest.mark.parametrize(("name", "kelvin"), [("D55", 5503), ("D65", 6504), ("D75", 7504)])
def test_daylight_whites_lie_on_the_daylight_locus(name: str, kelvin: float) -> None:
    # CIE 15:2018, 4.1.2: the daylight locus by temperature.
    x = (
        -4.6070e9 / kelvin**3 + 2.9678e6 / kelvin**2 + 0.09911e3 / kelvin + 0.244063
        if kelvin <= 7000
        else -2.0064e9 / kelvin**3 + 1.9018e6 / kelvin**2 + 0.24748e3 / kelvin + 0.237040
    )
    y = -3.0 * x**2 + 2.870 * x - 0.275
    white = WHITES[name]
    assert (white.x, white.y) == (pytest.approx(x, abs=3e-4), pytest.approx(y, abs=3e-4))
