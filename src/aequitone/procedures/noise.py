"""How noisy this meter really is, learnt from repeats, starting from its data sheet."""

from collections.abc import Iterable

import numpy as np

from aequitone.colorimetry.arrays import Array
from aequitone.instruments.ports import MeterNoise

# The data sheet is believed as if it had been seen in this many repeats.
_TRUST = 12.0


class NoiseModel:
    """The data sheet's noise times one learnt factor."""

    def __init__(self, sheet: MeterNoise, past: Iterable[tuple[float, int]] = ()) -> None:
        """`past`: (scatter, repeats) of the readings that are already there."""
        self._sheet = sheet
        self._squares = 0.0
        self._freedom = 0
        for scatter, repeats in past:
            self._learn(scatter, repeats)

    @property
    def factor(self) -> float:
        """This meter's noise as a multiple of the data sheet's."""
        return float(np.sqrt((_TRUST + self._squares) / (_TRUST + self._freedom)))

    def combine(self, repeats: Array, seconds: float) -> tuple[Array, Array, float]:
        """Mean, its standard deviation (both shape (3,)) and scatter of repeats of shape (n, 3)."""
        mean = repeats.mean(axis=0)
        sheet = self._sheet.sd(mean, seconds)
        scatter = float((((repeats - mean) / sheet) ** 2).sum())
        self._learn(scatter, len(repeats))
        return mean, sheet * self.factor / np.sqrt(len(repeats)), scatter

    def _learn(self, scatter: float, repeats: int) -> None:
        self._squares += scatter
        self._freedom += 3 * (repeats - 1)
