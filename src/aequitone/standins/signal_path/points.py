"""Multi-point white balance: the settings at many levels, and what the screen makes of the levels between."""

from collections.abc import Mapping

import numpy as np

from aequitone.colorimetry.arrays import Array
from aequitone.standins.parts import MultiPointPart

# Light for a signal, where a screen joins its levels in light.
_GAMMA = 2.2


def point_curves(part: MultiPointPart, at: Mapping[str, int], signal: Array, off: Array) -> Array | None:
    """What is added to the drive of R, G, B at each signal, shape (3, n); None where nothing is set.

    `off`: how far each level acts from its name in this unit, -1 to 1 of the part's `off_share`.
    """
    percents = part.percents
    offsets = np.array([[at.get(f"multi-{channel}-{percent}", 0) for percent in percents] for channel in "rgby"])
    if not offsets.any():
        return None
    levels = np.array(percents) / 100.0
    rows = (offsets[:3] + offsets[3]) * part.effect_per_step * (1.0 + part.dark_boost * (1.0 - levels))
    if part.leak_share:
        rows = _leaked(rows, part.leak_share)
    # The ends stay where they are: there is no signal beyond.
    acts = levels + np.where((levels > 0.0) & (levels < 1.0), off, 0.0) * part.off_share
    if part.joined_in == "light":
        acts, signal = acts**_GAMMA, np.clip(signal, 0.0, None) ** _GAMMA
    return np.array([_between(part.interpolation, acts, row, signal) for row in rows])


def _leaked(rows: Array, share: float) -> Array:
    """Settings (3, n), of which each level has given a share to both of its neighbours."""
    padded = np.pad(rows, ((0, 0), (1, 1)), mode="edge")
    return np.asarray((1.0 - 2.0 * share) * rows + share * (padded[:, :-2] + padded[:, 2:]))


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
