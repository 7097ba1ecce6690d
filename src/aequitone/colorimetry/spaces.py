"""Colour spaces: xyY, u'v', CIE Lab and ICtCp."""

import numpy as np

from aequitone.colorimetry.arrays import Array, ArrayLike, triples
from aequitone.colorimetry.gamut import REC2020
from aequitone.colorimetry.transfer import pq_encode

# CIE 15:2018, 8.2.1: the cube root gives way to a straight line below (6/29)³.
_LAB_EDGE = (6.0 / 29.0) ** 3
_LAB_SLOPE = (29.0 / 6.0) ** 2 / 3.0

# ITU-R BT.2100-2, table 7: linear RGB to LMS, and non-linear L'M'S' to ICtCp for PQ.
_LMS_FROM_REC2020 = np.array([[1688, 2146, 262], [683, 2951, 462], [99, 309, 3688]]) / 4096.0
_ICTCP_FROM_LMS = np.array([[2048, 2048, 0], [6610, -13613, 7003], [17933, -17390, -543]]) / 4096.0


def xyz_from_xyY(xyY: ArrayLike) -> Array:
    """XYZ, shape (..., 3), from x, y and luminance Y; y must be above zero."""
    x, y, Y = np.moveaxis(triples(xyY, "xyY"), -1, 0)
    if np.any(y <= 0):
        raise ValueError("y must be above 0")
    return np.stack([x / y * Y, Y, (1.0 - x - y) / y * Y], axis=-1)


def xyY_from_xyz(xyz: ArrayLike) -> Array:
    """x, y and Y, shape (..., 3); no light gives x = y = nan."""
    xyz = triples(xyz, "XYZ")
    total = xyz.sum(axis=-1)
    with np.errstate(divide="ignore", invalid="ignore"):
        x, y = xyz[..., 0] / total, xyz[..., 1] / total
    dark = total <= 0
    return np.stack([np.where(dark, np.nan, x), np.where(dark, np.nan, y), xyz[..., 1]], axis=-1)


def uv_from_xyz(xyz: ArrayLike) -> Array:
    """CIE 1976 u', v', shape (..., 2), from XYZ (CIE 15:2018, 8.2.2); no light gives nan."""
    X, Y, Z = np.moveaxis(triples(xyz, "XYZ"), -1, 0)
    below = X + 15.0 * Y + 3.0 * Z
    with np.errstate(divide="ignore", invalid="ignore"):
        uv = np.stack([4.0 * X / below, 9.0 * Y / below], axis=-1)
    return np.where((below > 0)[..., None], uv, np.nan)


def uv_from_xy(xy: ArrayLike) -> Array:
    """u', v' from x, y, both of shape (..., 2)."""
    x, y = np.moveaxis(np.asarray(xy, dtype=np.float64), -1, 0)
    below = -2.0 * x + 12.0 * y + 3.0
    return np.stack([4.0 * x / below, 9.0 * y / below], axis=-1)


def xy_from_uv(uv: ArrayLike) -> Array:
    """x, y from u', v', both of shape (..., 2)."""
    u, v = np.moveaxis(np.asarray(uv, dtype=np.float64), -1, 0)
    below = 6.0 * u - 16.0 * v + 12.0
    return np.stack([9.0 * u / below, 4.0 * v / below], axis=-1)


def xyz_from_uvY(uv: ArrayLike, luminance: ArrayLike) -> Array:
    """XYZ, shape (..., 3), from u'v' of shape (..., 2) and luminance of shape (...)."""
    xy = xy_from_uv(uv)
    Y = np.broadcast_to(np.asarray(luminance, dtype=np.float64), xy.shape[:-1])
    return xyz_from_xyY(np.concatenate([xy, Y[..., None]], axis=-1))


def lab_from_xyz(xyz: ArrayLike, white: ArrayLike) -> Array:
    """CIE 1976 L*a*b*, shape (..., 3), of XYZ seen against `white` (XYZ, broadcastable)."""
    f = _lab_curve(triples(xyz, "XYZ") / triples(white, "white"))
    fx, fy, fz = f[..., 0], f[..., 1], f[..., 2]
    return np.stack([116.0 * fy - 16.0, 500.0 * (fx - fy), 200.0 * (fy - fz)], axis=-1)


def xyz_from_lab(lab: ArrayLike, white: ArrayLike) -> Array:
    """XYZ, shape (..., 3), of CIE 1976 L*a*b* seen against `white` (CIE 15:2018, 8.2.1 turned round)."""
    L, a, b = np.moveaxis(triples(lab, "Lab"), -1, 0)
    f = np.stack([(L + 16.0) / 116.0 + a / 500.0, (L + 16.0) / 116.0, (L + 16.0) / 116.0 - b / 200.0], axis=-1)
    ratio = np.where(f > 6.0 / 29.0, f**3, (f - 4.0 / 29.0) / _LAB_SLOPE)
    return np.asarray(ratio * triples(white, "white"))


def ictcp_from_xyz(xyz: ArrayLike) -> Array:
    """ICtCp with PQ, shape (..., 3), of absolute XYZ in cd/m² (ITU-R BT.2100-2, table 7)."""
    lms = REC2020.rgb(xyz) @ _LMS_FROM_REC2020.T
    return pq_encode(np.clip(lms, 0.0, None)) @ _ICTCP_FROM_LMS.T


def _lab_curve(ratio: Array) -> Array:
    above = np.cbrt(np.maximum(ratio, _LAB_EDGE))
    return np.where(ratio > _LAB_EDGE, above, _LAB_SLOPE * ratio + 4.0 / 29.0)
