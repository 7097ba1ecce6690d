"""Primaries, and linear RGB to XYZ and back."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from aequitone.colorimetry.arrays import Array, ArrayLike, triples
from aequitone.colorimetry.whites import D65, White


@dataclass(frozen=True)
class Gamut:
    """Three primaries and their white; derives the matrices by SMPTE RP 177:1993."""

    name: str
    red: tuple[float, float]
    green: tuple[float, float]
    blue: tuple[float, float]
    white: White

    @cached_property
    def xyz_matrix(self) -> Array:
        """Linear RGB (white = 1, 1, 1 with Y = 1) to XYZ, shape (3, 3)."""
        primaries = np.array([[x / y, 1.0, (1.0 - x - y) / y] for x, y in (self.red, self.green, self.blue)]).T
        return np.asarray(primaries * np.linalg.solve(primaries, self.white.xyz()))

    @cached_property
    def rgb_matrix(self) -> Array:
        """XYZ to linear RGB, shape (3, 3)."""
        return np.asarray(np.linalg.inv(self.xyz_matrix))

    def xyz(self, rgb: ArrayLike) -> Array:
        """XYZ, shape (..., 3), of linear RGB."""
        return triples(rgb, "RGB") @ self.xyz_matrix.T

    def rgb(self, xyz: ArrayLike) -> Array:
        """Linear RGB, shape (..., 3), of XYZ; out-of-gamut colours have components outside 0..1."""
        return triples(xyz, "XYZ") @ self.rgb_matrix.T


# ITU-R BT.709-6, table 1.
REC709 = Gamut("Rec.709", (0.640, 0.330), (0.300, 0.600), (0.150, 0.060), D65)
# SMPTE EG 432-1:2010: the primaries of RP 431-2 with the white of television.
P3 = Gamut("P3", (0.680, 0.320), (0.265, 0.690), (0.150, 0.060), D65)
# ITU-R BT.2020-2, table 3.
REC2020 = Gamut("Rec.2020", (0.708, 0.292), (0.170, 0.797), (0.131, 0.046), D65)
