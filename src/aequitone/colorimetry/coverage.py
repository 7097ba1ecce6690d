"""How much of one gamut another covers: area in u'v', volume in ICtCp."""

from itertools import permutations

import numpy as np

from aequitone.colorimetry.arrays import Array
from aequitone.colorimetry.difference import ITP_SCALE
from aequitone.colorimetry.gamut import Gamut
from aequitone.colorimetry.spaces import ictcp_from_xyz, uv_from_xy

# A cell of the RGB cube, cut into six tetrahedra along its diagonal.
_CORNERS = np.array(
    [np.cumsum(np.vstack([np.zeros(3), np.eye(3)[list(order)]]), axis=0) for order in permutations(range(3))]
)
_CELLS = 16
# Steps of light that lie evenly for the eye.
_LAW = 2.4
_EDGE = 1e-9


def area_uv(gamut: Gamut) -> float:
    """Area of a gamut's triangle in u'v'."""
    return _area(_triangle(gamut))


def coverage_uv(screen: Gamut, target: Gamut) -> float:
    """Share, 0 to 1, of the target's triangle in u'v' that lies inside the screen's."""
    return _area(_clipped(_triangle(target), _triangle(screen))) / area_uv(target)


def volume_itp(gamut: Gamut, white: float) -> float:
    """Volume of all that a gamut with white at so many cd/m² can show, in cubes of one ΔE ITP.

    Of the tetrahedra that cells of the RGB cube become in ICtCp (ITU-R BT.2100-2; BT.2124-0 for the scale).
    """
    return float(_tetrahedra(gamut, white)[1].sum())


def coverage_itp(screen: Gamut, screen_white: float, target: Gamut, white: float) -> float:
    """Share, 0 to 1, of the target's volume in ICtCp that the screen can show; whites in cd/m²."""
    middles, volumes = _tetrahedra(target, white)
    rgb = screen.rgb(middles / screen_white)
    inside = np.all((rgb >= -_EDGE) & (rgb <= 1.0 + _EDGE), axis=-1)
    return float(volumes[inside].sum() / volumes.sum())


def _tetrahedra(gamut: Gamut, white: float) -> tuple[Array, Array]:
    """Middles of the tetrahedra in XYZ, cd/m², shape (n, 3), and their volumes in cubes of ΔE ITP, (n,)."""
    cells = np.stack(np.meshgrid(*[np.arange(_CELLS)] * 3, indexing="ij"), axis=-1).reshape(-1, 1, 1, 3)
    linear = ((cells + _CORNERS) / _CELLS).reshape(-1, 4, 3) ** _LAW
    xyz = gamut.xyz(linear) * white
    sides = np.diff(ictcp_from_xyz(xyz) * ITP_SCALE, axis=1)
    return xyz.mean(axis=1), np.abs(np.linalg.det(sides)) / 6.0


def _triangle(gamut: Gamut) -> Array:
    return uv_from_xy(np.array([gamut.red, gamut.green, gamut.blue]))


def _area(corners: Array) -> float:
    """Of a polygon, shape (n, 2), by the shoelace formula."""
    if len(corners) < 3:
        return 0.0
    u, v = corners.T
    return float(abs(u @ np.roll(v, -1) - v @ np.roll(u, -1)) / 2.0)


def _clipped(corners: Array, by: Array) -> Array:
    """What of a polygon (n, 2) lies inside a triangle (3, 2) (Sutherland and Hodgman 1974)."""
    turn = np.sign(_cross(by[1] - by[0], by[2] - by[0]))
    for start, end in zip(by, np.roll(by, -1, axis=0), strict=True):
        if not len(corners):
            break
        side = turn * _cross(end - start, corners - start)
        kept: list[Array] = []
        for i, here in enumerate(corners):
            there, a, b = corners[i - 1], float(side[i]), float(side[i - 1])
            if a * b < 0.0:
                kept.append(there + (here - there) * b / (b - a))
            if a >= 0.0:
                kept.append(here)
        corners = np.array(kept).reshape(-1, 2)
    return corners


def _cross(first: Array, second: Array) -> Array:
    return np.asarray(first[..., 0] * second[..., 1] - first[..., 1] * second[..., 0])
