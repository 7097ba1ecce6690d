"""How noisy this meter really is at each light level, learnt from repeats, starting from its data sheet."""

import math
from collections.abc import Iterable
from dataclasses import dataclass
from typing import TYPE_CHECKING

from aequitone.colorimetry.arrays import Array
from aequitone.instruments.ports import MeterNoise

if TYPE_CHECKING:
    from aequitone.procedures.steps import Reading

# The data sheet is believed as if it had been seen in this many repeats at each level of light.
_TRUST = 12.0
# Each level learns for itself between these, in cd/m².
EDGES = (0.1, 1.0, 10.0)
_SIGMAS = 3.0


@dataclass(frozen=True)
class NoiseBand:
    """What was learnt at one level of light: from, to in cd/m², and the multiple of the data sheet's noise."""

    low: float
    high: float
    factor: float
    repeats: int


class NoiseModel:
    """The data sheet's noise times a factor for each level of light."""

    def __init__(self, sheet: MeterNoise, past: Iterable[tuple[float, float, int]] = ()) -> None:
        """`past`: (luminance in cd/m², scatter, repeats) of the readings that are already there."""
        self.sheet = sheet
        self._squares = [0.0] * (len(EDGES) + 1)
        self._freedom = [0] * (len(EDGES) + 1)
        for luminance, scatter, repeats in past:
            self.learn(luminance, scatter, repeats)

    def factor(self, luminance: float) -> float:
        """Noise of the meter as a multiple of the data sheet's, at a luminance in cd/m²."""
        return self._factor(_band(luminance))

    def variance(self, xyz: Array, seconds: float) -> Array:
        """Variance of one exposure in (cd/m²)², shape of `xyz`; its light is told by Y, the second of three."""
        return self.sheet.variance(xyz, seconds) * self.factor(float(xyz[1])) ** 2

    def learn(self, luminance: float, scatter: float, repeats: int) -> None:
        """Take in repeats: the sum of their squares around their mean, in units of the data sheet's noise."""
        band = _band(luminance)
        self._squares[band] += scatter
        self._freedom[band] += 3 * (repeats - 1)

    def bands(self) -> tuple[NoiseBand, ...]:
        """What is known at each level of light, dark to bright."""
        edges = (0.0, *EDGES, math.inf)
        return tuple(
            NoiseBand(edges[i], edges[i + 1], self._factor(i), freedom // 3)
            for i, freedom in enumerate(self._freedom)
        )

    def darkest(self, seconds: float) -> float:
        """The darkest light that `seconds` of integration tell from nothing, cd/m²: three standard deviations."""
        return (
            _SIGMAS * self._factor(0) * math.sqrt(self.sheet.floor**2 / seconds + (self.sheet.read / seconds) ** 2)
        )

    def _factor(self, band: int) -> float:
        return math.sqrt((_TRUST + self._squares[band]) / (_TRUST + self._freedom[band]))


def learnt_noise(sheet: MeterNoise, readings: "Iterable[Reading]") -> NoiseModel:
    """The noise of a meter of this data sheet, as its readings show it."""
    return NoiseModel(sheet, ((reading.Y, reading.scatter, reading.repeats) for reading in readings))


def _band(luminance: float) -> int:
    return sum(luminance >= edge for edge in EDGES)
