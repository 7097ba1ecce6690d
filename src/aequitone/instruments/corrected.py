"""A meter whose readings are corrected by a matrix."""

import numpy as np

from aequitone.colorimetry.arrays import Array
from aequitone.instruments.ports import Measurement, Meter
from aequitone.instruments.wrapped import WrappedMeter
from aequitone.signal import Patch


class CorrectedMeter(WrappedMeter):
    """Applies a 3x3 correction to every answer of another meter.

    Its noise is the meter's own: a correction moves a reading by a few per cent, and its noise by as little.
    """

    def __init__(self, meter: Meter, matrix: Array) -> None:
        if matrix.shape != (3, 3) or not np.isfinite(matrix).all():
            raise ValueError(f"a correction is a matrix of 3 by 3 numbers, got shape {matrix.shape}")
        super().__init__(meter)
        self._matrix = matrix

    @property
    def name(self) -> str:
        return f"{self._meter.name}, corrected"

    def measure(self, patch: Patch, seconds: float) -> Measurement:
        X, Y, Z = (self._matrix @ self._meter.measure(patch, seconds).xyz).tolist()
        return Measurement(X, Y, Z)
