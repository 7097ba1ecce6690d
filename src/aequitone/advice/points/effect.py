"""What a step of a multi-point control does at its own level and between levels, learnt as one goes.

The measure is the natural logarithm of linear RGB light, as in `responses`. Before anything is known the
controls are taken to add to the signal, so that a step is felt the more the darker the level.
"""

from dataclasses import dataclass, replace

import numpy as np

from aequitone.advice.linear import updated
from aequitone.advice.two_point.level_readings import WANDER
from aequitone.colorimetry.arrays import Array

# From the middle to the end of its range, a control is expected to move the signal by so much.
_HALF_RANGE = 0.1
GAMMA = 2.2
"""A power law that is near enough to that of any screen."""
# How unsure that is, relative: of all levels alike, of how it changes from bright to dark, of each by itself.
_ALL, _TILT, _EACH = 0.5, 0.35, 0.12
# The three channels are not quite alike, nor is a step the same everywhere on its range.
_UNEVEN = 0.06
# Spreads up to which a surprise is taken at its word.
_BELIEVED = 2.0
# Between two levels: 1 where the screen joins them, 0 where it leaves them alone. Most join them.
_JOINED, _JOINED_SD = 0.9, 0.35
_SAME = 1e-6


@dataclass(frozen=True)
class PointEffect:
    """`step` (P,): log light per step at each level, of whatever channel, and its `covariance` (P, P).

    `joined`: how much of the way between two neighbours' effects is felt halfway, and its spread.
    """

    signal: Array
    step: Array
    covariance: Array
    joined: float = _JOINED
    joined_sd: float = _JOINED_SD

    @classmethod
    def prior(cls, signal: Array, steps: float) -> "PointEffect":
        """`signal` (P,), 0 to 1; `steps` from the middle of a control's range to its end."""
        v = np.maximum(signal, 0.01)
        step = GAMMA * _HALF_RANGE / steps / v
        tilt = np.log(v)
        doubt = _ALL**2 + _TILT**2 * np.outer(tilt, tilt) + _EACH**2 * np.eye(len(v))
        return cls(signal, step, doubt * np.outer(step, step))

    def at(self, signal: Array) -> Array:
        """Log light per step at any level, shape (n,): between the known ones along a power law."""
        dark_first = np.argsort(self.signal)
        v, step = np.maximum(self.signal[dark_first], 0.01), np.log(np.maximum(self.step[dark_first], 1e-9))
        wanted = np.log(np.maximum(signal, 0.01))
        inside = np.interp(wanted, np.log(v), step)
        # Below the darkest, a step goes on to be felt the more.
        return np.asarray(np.exp(inside + np.maximum(np.log(v[0]) - wanted, 0.0)))

    def weights(self, signal: Array) -> Array:
        """Log light at `signal` (n,) for a step at each level, shape (n, P)."""
        return np.asarray(self.at(signal)[:, None] * self.shares(signal, self.joined))

    def shares(self, signal: Array, joined: float) -> Array:
        """How much of each level's setting is felt at `signal` (n,), shape (n, P)."""
        dark_first = np.argsort(self.signal)
        rows = np.empty((len(signal), len(self.signal)))
        for column, alone in enumerate(np.eye(len(self.signal))):
            rows[:, column] = np.interp(signal, self.signal[dark_first], alone[dark_first])
        own = np.abs(np.subtract.outer(signal, self.signal)) < _SAME
        return np.where(own.any(axis=1, keepdims=True), own, joined * rows)

    def variance(self, level: int, steps: Array) -> Array:
        """Variance of the change of log light (3,) that `steps` (3,) make at their own level."""
        return np.asarray((self.covariance[level, level] + (_UNEVEN * self.step[level]) ** 2) * steps**2)

    def learn(self, level: int, steps: Array, change: Array, variance: Array) -> "PointEffect":
        """Update from a turn at one level: `change` (3,) of log light after `steps` (3,), with its noise."""
        step, covariance = self.step, self.covariance
        for n, seen, noise in zip(steps, change, variance, strict=True):
            if n == 0.0:
                continue
            turned = np.zeros(len(step))
            turned[level] = n
            own = covariance[level, level] * n**2
            doubt = own + noise + (_UNEVEN * n * step[level]) ** 2
            # One move that came out beyond belief moves belief only as far as a bad one would.
            doubt *= max(1.0, (seen - n * step[level]) ** 2 / doubt / _BELIEVED**2)
            step, covariance = updated(step, covariance, turned, seen, doubt - own)
        return replace(self, step=step, covariance=covariance)

    def learn_between(self, signal: float, steps: Array, change: Array, variance: Array) -> "PointEffect":
        """Update from a reading between levels: `steps` (P, 3) turned, `change` (3,) seen at `signal`."""
        at = np.array([signal])
        full = self.at(at)[0] * (self.shares(at, 1.0)[0] @ steps)
        joined, spread = np.array([self.joined]), np.array([[self.joined_sd**2]])
        for whole, seen, noise in zip(full, change, variance, strict=True):
            doubt = noise + (_ALL * _UNEVEN * whole) ** 2 + WANDER**2
            if whole != 0.0:
                joined, spread = updated(joined, spread, np.array([whole]), seen, doubt)
        return replace(self, joined=float(np.clip(joined[0], 0.0, 1.1)), joined_sd=float(np.sqrt(spread[0, 0])))

    def signal_steps(self, gamma: float = GAMMA) -> Array:
        """A step in terms of the signal, shape (P,): what it moves the ramp by."""
        return np.asarray(self.step * np.maximum(self.signal, 0.01) / gamma)
