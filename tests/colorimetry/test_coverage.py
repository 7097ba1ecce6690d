"""Coverage in u'v' and ICtCp: against colour-science, and what must hold of any gamut."""

import colour
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from aequitone.colorimetry import (
    P3,
    REC709,
    REC2020,
    Gamut,
    area_uv,
    coverage_itp,
    coverage_uv,
    ictcp_from_xyz,
    uv_from_xyz,
    volume_itp,
)

GAMUTS = (REC709, P3, REC2020)


@pytest.mark.parametrize("gamut", GAMUTS, ids=lambda gamut: gamut.name)
def test_the_area_is_that_of_the_published_primaries(gamut: Gamut) -> None:
    uv = colour.xy_to_Luv_uv(np.array([gamut.red, gamut.green, gamut.blue]))
    (u1, v1), (u2, v2), (u3, v3) = uv
    area = abs((u2 - u1) * (v3 - v1) - (u3 - u1) * (v2 - v1)) / 2.0
    assert area_uv(gamut) == pytest.approx(area, rel=1e-9)


@pytest.mark.parametrize("screen", GAMUTS, ids=lambda gamut: gamut.name)
@pytest.mark.parametrize("target", GAMUTS, ids=lambda gamut: gamut.name)
def test_coverage_is_the_share_of_points_that_lie_inside(screen: Gamut, target: Gamut) -> None:
    rng = np.random.default_rng(3)
    # Points spread evenly over a triangle.
    weights = rng.dirichlet(np.ones(3), 40_000)
    corners = colour.xy_to_Luv_uv(np.array([target.red, target.green, target.blue]))
    xy = colour.Luv_uv_to_xy(weights @ corners)
    rgb = screen.rgb(colour.xyY_to_XYZ(np.column_stack([xy, np.ones(len(xy))])))
    inside = float((rgb >= -1e-9).all(axis=1).mean())
    assert coverage_uv(screen, target) == pytest.approx(inside, abs=0.01)


def test_a_wider_gamut_covers_a_narrower_one_whole_and_not_the_other_way_round() -> None:
    for wide, narrow in ((P3, REC709), (REC2020, REC709)):
        assert coverage_uv(wide, narrow) == pytest.approx(1.0, abs=1e-6)
        assert coverage_itp(wide, 100.0, narrow, 100.0) > 0.999
        assert volume_itp(wide, 100.0) > volume_itp(narrow, 100.0)
        assert coverage_uv(narrow, wide) == pytest.approx(area_uv(narrow) / area_uv(wide), rel=1e-6)


def test_the_volume_is_that_of_points_counted_in_ictcp() -> None:
    # Points evenly in a box of ICtCp around all that the gamut shows; how many of them it can show.
    rng = np.random.default_rng(8)
    grid = np.stack(np.meshgrid(*[np.linspace(0.0, 1.0, 25) ** 2.4] * 3, indexing="ij"), axis=-1).reshape(-1, 3)
    scale = 720.0 * np.array([1.0, 0.5, 1.0])
    seen = colour.XYZ_to_ICtCp(REC709.xyz(grid) * 100.0) * scale
    low, high = seen.min(axis=0), seen.max(axis=0)
    points = rng.uniform(low, high, (60_000, 3))
    rgb = REC709.rgb(colour.ICtCp_to_XYZ(points / scale)) / 100.0
    share = float(((rgb >= 0.0) & (rgb <= 1.0)).all(axis=1).mean())
    assert volume_itp(REC709, 100.0) == pytest.approx(share * float(np.prod(high - low)), rel=0.03)
    assert np.allclose(ictcp_from_xyz(REC709.xyz(grid) * 100.0) * scale, seen, atol=0.1)


@given(st.floats(0.3, 1.0))
def test_a_gamut_that_is_shrunk_towards_white_covers_the_square_of_it(share: float) -> None:
    white = uv_from_xyz(REC709.white.xyz())
    corners = colour.xy_to_Luv_uv(np.array([REC709.red, REC709.green, REC709.blue]))
    red, green, blue = (tuple(xy) for xy in colour.Luv_uv_to_xy(white + share * (corners - white)).tolist())
    small = Gamut("small", red, green, blue, REC709.white)
    assert coverage_uv(small, REC709) == pytest.approx(share**2, rel=1e-6)
    assert coverage_uv(REC709, small) == pytest.approx(1.0, abs=1e-6)
