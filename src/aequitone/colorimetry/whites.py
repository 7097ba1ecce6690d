"""White points by name."""

from dataclasses import dataclass

import numpy as np

from aequitone.colorimetry.arrays import Array


@dataclass(frozen=True)
class White:
    """A white point as CIE 1931 2° chromaticity."""

    name: str
    x: float
    y: float

    def xyz(self, luminance: float = 1.0) -> Array:
        """XYZ (cd/m² where `luminance` is) of this white, shape (3,)."""
        return np.array([self.x / self.y, 1.0, (1.0 - self.x - self.y) / self.y]) * luminance


# D65 to the four digits that ITU-R BT.709-6 prescribes, the others from CIE 15:2018, table T.3.
D65 = White("D65", 0.3127, 0.3290)
WHITES = {
    white.name: white
    for white in (
        D65,
        White("D55", 0.33243, 0.34744),
        White("D75", 0.29903, 0.31488),
        White("D93", 0.28315, 0.29711),
    )
}
