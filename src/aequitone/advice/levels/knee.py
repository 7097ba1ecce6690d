"""The signal at which each channel of white stops rising, from greys read at a few settings of contrast."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from aequitone.advice.moves import ControlState
from aequitone.colorimetry.arrays import Array

# Light is a power of the signal; the power is each channel's own, and not quite the same along the ramp.
USUAL_POWER, _POWER_SD, _BEND_SD = 2.25, 0.25, 0.8
# What the whole range of contrast multiplies the signal by, at least and at most, tried out in steps.
_GAINS = np.geomspace(0.2, 2.0, 25)
# A knee is believed where it fits so much better than none, as a difference of squares.
_TELLING = 16.0
_PLACES = 0.002


@dataclass(frozen=True)
class Knees:
    """Signals beyond which a channel rises no more, 1 being white at `reference`; inf where it rises all along."""

    at: Array
    """Of red, green and blue, (3,)."""
    sd: float
    """Of the lowest, as a share of the signal."""
    gain: float
    """What a setting adds to the factor on the signal, which is 1 at `reference`."""
    reference: float

    @property
    def lowest(self) -> float:
        """The first of them."""
        return float(self.at.min())

    def signal(self, setting: float) -> float:
        """What white's signal is multiplied by at a setting, against the reference."""
        return max(1.0 + self.gain * (setting - self.reference), 0.05)


def to_setting(knees: Knees, signal: float) -> float:
    """The setting at which white has a signal that counts from the reference."""
    return knees.reference + (signal - 1.0) / knees.gain


def knees_of(settings: Array, signals: Array, logs: Array, spread: Array, control: ControlState) -> Knees:
    """Find the knees; `settings` and `signals` (n,), logarithms of each channel's light and their spread, (n, 3).

    How much a setting multiplies is common to the channels and tried out; where all were read at one setting it
    cannot be told and is taken as usual.
    """
    table = np.column_stack([settings, signals, logs, spread])
    return _knees_of(tuple(float(value) for value in table.ravel()), len(table), control)


@lru_cache(maxsize=64)
def _knees_of(key: tuple[float, ...], count: int, control: ControlState) -> Knees:
    """The same; `key`: a table of what was read, row by row. A sweep asks for them again and again."""
    table = np.array(key).reshape(count, -1)
    settings, signals, logs, spread = table[:, 0], table[:, 1], table[:, 2:5], table[:, 5:]
    reference = float(settings[0])
    whole = float(control.highest - control.lowest)
    tried = _GAINS / whole if np.ptp(settings) > 0.0 else np.array([np.sqrt(_GAINS[0] * _GAINS[-1]) / whole])
    best: tuple[float, Array, Array, float] | None = None
    for gain in tried:
        found = _at_gain(settings, signals, logs, spread, float(gain), reference)
        if best is None or found[0] < best[0]:
            best = (*found, float(gain))
    assert best is not None
    _, knees, powers, gain = best
    lowest = int(knees.argmin())
    sd = float(np.median(spread[:, lowest])) * 2.0 / max(float(powers[lowest]), 0.5)
    return Knees(knees, sd, gain, reference)


def _at_gain(
    settings: Array, signals: Array, logs: Array, spread: Array, gain: float, reference: float
) -> tuple[float, Array, Array]:
    """The misfit of all channels, their knees and their powers, where a setting multiplies by so much."""
    across = np.log(signals * np.maximum(1.0 + gain * (settings - reference), 0.05))
    knees, powers, misfit = np.full(3, np.inf), np.zeros(3), 0.0
    for i in range(3):
        knee, left, powers[i] = _knee(across, logs[:, i], spread[:, i])
        knees[i], misfit = np.exp(knee), misfit + left
    return misfit, knees, powers


def _knee(across: Array, log: Array, spread: Array) -> tuple[float, float, float]:
    """One channel's knee in logarithms of the signal, its misfit, and its power there.

    Least squares of log = level + power · x + bend · x², x ending at the knee; power and bend are near what they
    usually are.
    """
    # The last candidate lies beyond all that was read: no knee.
    inside = np.arange(across.min() + 5 * _PLACES, across.max() - 0.5 * _PLACES, _PLACES)
    knees = np.append(inside, across.max() + 1.0)
    x = np.minimum(across, knees[:, None])
    rows = np.stack([np.ones_like(x), x, x**2], axis=-1)
    weighted = rows * (spread**-2.0)[:, None]
    usual = np.diag([0.0, _POWER_SD**-2.0, _BEND_SD**-2.0])
    towards = np.array([0.0, USUAL_POWER * _POWER_SD**-2.0, 0.0])
    normal = np.einsum("kni,knj->kij", weighted, rows) + usual
    solved = np.linalg.solve(normal, (np.einsum("kni,n->ki", weighted, log) + towards)[..., None])[..., 0]
    rest = (log - np.einsum("kni,ki->kn", rows, solved)) / spread
    own = ((solved[:, 1] - USUAL_POWER) / _POWER_SD) ** 2 + (solved[:, 2] / _BEND_SD) ** 2
    misfit = (rest**2).sum(axis=1) + own
    i = int(misfit.argmin())
    if misfit[-1] - misfit[i] < _TELLING:
        i = len(knees) - 1
    knee = float(knees[i]) if i < len(knees) - 1 else np.inf
    at = knee if np.isfinite(knee) else 0.0
    return knee, float(misfit[i]), float(solved[i, 1] + 2.0 * solved[i, 2] * at)
