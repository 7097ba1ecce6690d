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


# From where to where the daylight locus goes, in kelvin.
_COOLEST, _BEND, _WARMEST = 25_000.0, 7_000.0, 4_000.0


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


def daylight(kelvin: float) -> White:
    """The white of daylight of a correlated colour temperature (CIE 15:2018, 4.1.2).

    Raises ValueError outside of 4000 to 25 000 K.
    """
    if not _WARMEST <= kelvin <= _COOLEST:
        raise ValueError(f"daylight goes from {_WARMEST:g} to {_COOLEST:g} K; {kelvin:g} K is none")
    t = 1e3 / kelvin
    if kelvin <= _BEND:
        x = ((-4.6070 * t + 2.9678) * t + 0.09911) * t + 0.244063
    else:
        x = ((-2.0064 * t + 1.9018) * t + 0.24748) * t + 0.237040
    y = (-3.000 * x + 2.870) * x - 0.275
    return White(f"{kelvin:.0f} K", round(x, 4), round(y, 4))
