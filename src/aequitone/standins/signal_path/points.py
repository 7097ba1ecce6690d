"""Multi-point white balance: the settings at many levels, and what the screen makes of the levels between."""

from collections.abc import Mapping

import numpy as np

from aequitone.colorimetry.arrays import Array
from aequitone.standins.parts import MultiPointPart


def point_curves(part: MultiPointPart, at: Mapping[str, int], signal: Array) -> Array | None:
    """What is added to the drive of R, G, B at each signal, shape (3, n); None where nothing is set."""
    percents = part.percents
    offsets = np.array([[at.get(f"multi-{channel}-{percent}", 0) for percent in percents] for channel in "rgby"])
    if not offsets.any():
        return None
    rows = (offsets[:3] + offsets[3]) * part.effect_per_step
    levels = np.array(percents) / 100.0
    return np.array([_between(part.interpolation, levels, row, signal) for row in rows])


def _between(kind: str, levels: Array, offsets: Array, signal: Array) -> Array:
    if kind == "smooth":
        from scipy.interpolate import PchipInterpolator

        return np.asarray(PchipInterpolator(levels, offsets)(np.clip(signal, levels[0], levels[-1])))
    if kind == "own-level-only":
        # A bump as wide as half the way to its neighbours: between two levels nothing happens.
        half = (levels[1] - levels[0]) / 2.0
        nearest = np.abs(signal[:, None] - levels).argmin(axis=1)
        return np.asarray(offsets[nearest] * np.clip(1.0 - np.abs(signal - levels[nearest]) / half, 0.0, 1.0))
    return np.interp(signal, levels, offsets)
