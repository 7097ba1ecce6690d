"""Colour differences, each with and without its light part.

"Without light" compares the two colours at the luminance of the reference: what is left is cast.
"""

from enum import StrEnum

import numpy as np

from aequitone.colorimetry.arrays import Array, ArrayLike, triples
from aequitone.colorimetry.spaces import ictcp_from_xyz, lab_from_xyz, uv_from_xyz

ITP_SCALE = 720.0 * np.array([1.0, 0.5, 1.0])
"""What ΔE ITP makes of I, Ct and Cp (ITU-R BT.2124-0): T is half of Ct."""


def at_luminance_of(sample: ArrayLike, reference: ArrayLike) -> Array:
    """`sample` scaled to the luminance of `reference` (both XYZ); a sample without light becomes it."""
    sample, reference = np.broadcast_arrays(triples(sample, "sample"), triples(reference, "reference"))
    Y = sample[..., 1:2]
    with np.errstate(divide="ignore", invalid="ignore"):
        scaled = sample * (reference[..., 1:2] / Y)
    return np.where(Y > 0, scaled, reference)


def delta_e_2000(sample: ArrayLike, reference: ArrayLike, white: ArrayLike, *, light: bool = True) -> Array:
    """CIEDE2000, shape (...), between XYZ `sample` and `reference` seen against `white`.

    Source: ISO/CIE 11664-6:2014 (kL = kC = kH = 1), with the angle cases of Sharma, Wu and Dalal (2005).
    """
    if not light:
        sample = at_luminance_of(sample, reference)
    return delta_e_2000_lab(lab_from_xyz(sample, white), lab_from_xyz(reference, white))


def delta_e_2000_lab(sample: ArrayLike, reference: ArrayLike) -> Array:
    """CIEDE2000 between Lab colours, shape (...)."""
    L1, a1, b1 = _parts(triples(reference, "reference"))
    L2, a2, b2 = _parts(triples(sample, "sample"))
    mean_chroma7 = ((np.hypot(a1, b1) + np.hypot(a2, b2)) / 2.0) ** 7
    G = 0.5 * (1.0 - np.sqrt(mean_chroma7 / (mean_chroma7 + 25.0**7)))
    a1, a2 = (1.0 + G) * a1, (1.0 + G) * a2
    C1, C2 = np.hypot(a1, b1), np.hypot(a2, b2)
    h1, h2 = np.degrees(np.arctan2(b1, a1)) % 360.0, np.degrees(np.arctan2(b2, a2)) % 360.0

    dL, dC = L2 - L1, C2 - C1
    neutral = C1 * C2 == 0
    dh = np.where(neutral, 0.0, (h2 - h1 + 180.0) % 360.0 - 180.0)
    # Exactly opposite hues: the source keeps +180, the modulo gives -180.
    dh = np.where((dh == -180.0) & (h2 > h1), 180.0, dh)
    dH = 2.0 * np.sqrt(C1 * C2) * np.sin(np.radians(dh) / 2.0)

    L, C = (L1 + L2) / 2.0, (C1 + C2) / 2.0
    total = h1 + h2
    apart = np.abs(h1 - h2) > 180.0
    h = np.where(neutral, total, np.where(apart, (total + np.where(total < 360.0, 360.0, -360.0)), total) / 2.0)
    T = (
        1.0
        - 0.17 * np.cos(np.radians(h - 30.0))
        + 0.24 * np.cos(np.radians(2.0 * h))
        + 0.32 * np.cos(np.radians(3.0 * h + 6.0))
        - 0.20 * np.cos(np.radians(4.0 * h - 63.0))
    )
    SL = 1.0 + 0.015 * (L - 50.0) ** 2 / np.sqrt(20.0 + (L - 50.0) ** 2)
    SC = 1.0 + 0.045 * C
    SH = 1.0 + 0.015 * C * T
    RC = 2.0 * np.sqrt(C**7 / (C**7 + 25.0**7))
    RT = -np.sin(np.radians(60.0 * np.exp(-(((h - 275.0) / 25.0) ** 2)))) * RC
    light_part, c, s = dL / SL, dC / SC, dH / SH
    return np.asarray(np.sqrt(np.maximum(light_part**2 + c * c + s * s + RT * c * s, 0.0)))


def _parts(lab: Array) -> tuple[Array, Array, Array]:
    return lab[..., 0], lab[..., 1], lab[..., 2]


def delta_e_itp(sample: ArrayLike, reference: ArrayLike, *, light: bool = True) -> Array:
    """ΔE ITP, shape (...), between absolute XYZ in cd/m² (ITU-R BT.2124-0)."""
    if not light:
        sample = at_luminance_of(sample, reference)
    difference = ictcp_from_xyz(sample) - ictcp_from_xyz(reference)
    return np.asarray(np.sqrt(((difference * ITP_SCALE) ** 2).sum(axis=-1)))


def delta_uv(sample: ArrayLike, reference: ArrayLike) -> Array:
    """Distance in u'v', shape (...); it has no light part."""
    return np.asarray(np.linalg.norm(uv_from_xyz(sample) - uv_from_xyz(reference), axis=-1))


class Formula(StrEnum):
    """A colour difference as people choose it, by its label."""

    DE2000 = "ΔE 2000"
    DE2000_CAST = "ΔE 2000 of cast"
    ITP = "ΔE ITP"
    ITP_CAST = "ΔE ITP of cast"

    @property
    def light(self) -> bool:
        return self in (Formula.DE2000, Formula.ITP)

    @property
    def short(self) -> str:
        """What figures are called where space is short: a ΔE of which nothing is said is ΔE 2000."""
        return "ΔE ITP" if self in (Formula.ITP, Formula.ITP_CAST) else "ΔE"

    @property
    def unit(self) -> float:
        """What a ΔE 2000 of 1 between two greys comes to in it, about: by light, from 5 to 100 cd/m²."""
        return 3.0 if self in (Formula.ITP, Formula.ITP_CAST) else 1.0

    def between(self, sample: ArrayLike, reference: ArrayLike, white: ArrayLike) -> Array:
        """Shape (...), between XYZ in cd/m²; only ΔE 2000 asks for the `white` they are seen against."""
        if self in (Formula.ITP, Formula.ITP_CAST):
            return delta_e_itp(sample, reference, light=self.light)
        return delta_e_2000(sample, reference, white, light=self.light)
