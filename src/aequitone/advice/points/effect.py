"""What the steps of multi-point controls do at any level, learnt as one goes.

The measure is the natural logarithm of linear RGB light, as in `responses`. Before anything is known the
controls are taken to add to the drive, so that a step is felt the more the darker the level. Everything that is
not known of a screen is one vector of figures with a Gaussian doubt: what a step does at each level, how the
channels differ, whether levels are joined, how much leaks to the neighbours, and how far each acts from its name.
"""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from aequitone.advice.points.drive import GAMMA
from aequitone.advice.two_point.level_readings import WANDER
from aequitone.colorimetry.arrays import Array

# From the middle to the end of its range, a control is expected to move the signal by so much.
_HALF_RANGE = 0.1
# How unsure that is, relative: of all levels alike, of how it changes from bright to dark, of each by itself.
_ALL, _TILT, _EACH = 0.5, 0.35, 0.12
# How unlike the three channels are, and what is never the same everywhere on a control's range.
_CHANNELS, _UNEVEN = 0.05, 0.06
# Spreads up to which a surprise is taken at its word.
_BELIEVED = 2.0
# Between two levels: 1 where the screen joins them, 0 where it leaves them alone. Most join them.
_JOINED, _JOINED_SD = 0.9, 0.35
# Of a level's setting, what acts at each neighbour instead; and how far a level acts from its name, in signal.
_LEAK_SD, _MOST_LEAK = 0.06, 0.3
_OFF_SD = 0.007
_NUDGE, _ROUNDS = 1e-4, 2
_DARKEST = 0.01


@dataclass(frozen=True)
class PointEffect:
    """What is believed: `mean` (2 P + 5,) and its `doubt`, a covariance; `usual` (P,): a step before it was known.

    In `mean`: by how much each level's step differs from the usual, as a share (P); by how much each channel's
    does (3); how joined levels are; what leaks; and how far each level acts from its name (P).
    `drive` (P,): of the panel at each level, to which a step is taken to add.
    """

    signal: Array
    usual: Array
    mean: Array
    doubt: Array
    drive: Array

    @classmethod
    def prior(cls, signal: Array, steps: float, drive: Array | None = None) -> "PointEffect":
        """`signal` (P,), 0 to 1; `steps` from the middle of a control's range to its end.

        `drive` (P,): of the panel, 0 to 1, where it is not the signal.
        """
        levels = len(signal)
        v = np.maximum(signal if drive is None else drive, _DARKEST)
        tilt = np.log(v)
        mean, doubt = np.zeros(2 * levels + 5), np.zeros((2 * levels + 5, 2 * levels + 5))
        mean[levels + 3] = _JOINED
        doubt[:levels, :levels] = _ALL**2 + _TILT**2 * np.outer(tilt, tilt) + _EACH**2 * np.eye(levels)
        rest = [_CHANNELS] * 3 + [_JOINED_SD, _LEAK_SD] + [_OFF_SD] * levels
        doubt[levels:, levels:] = np.diag(np.square(rest))
        return cls(signal, GAMMA * _HALF_RANGE / steps / v, mean, doubt, v)

    @property
    def step(self) -> Array:
        """Log light per step at each level, of whatever channel, shape (P,)."""
        return self._step(self.mean)

    @cached_property
    def own(self) -> Array:
        """Log light per step of a level at the level's own name, shape (P,): less than `step` where it leaks."""
        return np.diag(self.weights(self.signal))

    @cached_property
    def covariance(self) -> Array:
        """Covariance of `own`, shape (P, P)."""
        nudged = self._weights(self._nudged(self.mean), self.signal)
        slope = (np.diagonal(nudged, axis1=-2, axis2=-1) - self.own) / _NUDGE
        return np.asarray(slope.T @ self.doubt @ slope)

    @property
    def channels(self) -> Array:
        """What red, green and blue do of it, shape (3,): near 1."""
        levels = len(self.signal)
        return np.asarray(1.0 + self.mean[levels : levels + 3])

    @property
    def joined(self) -> float:
        """How much of the way between two neighbours' effects is felt halfway."""
        return float(self.mean[len(self.signal) + 3])

    @property
    def joined_sd(self) -> float:
        """Spread of `joined`."""
        at = len(self.signal) + 3
        return float(np.sqrt(self.doubt[at, at]))

    def weights(self, signal: Array) -> Array:
        """Log light at `signal` (n,) for a step at each level, shape (n, P)."""
        return self._weights(self.mean, signal)

    def predict(self, signal: Array, steps: Array) -> Array:
        """Predict the change of log light (n, 3) at `signal` (n,) after `steps` (P, 3)."""
        return self._predict(self.mean, signal, steps)

    def draws(self, signal: Array, steps: Array, noise: Array) -> Array:
        """Draw what `steps` (P, 3) may do at `signal` (n,), shape (draws, n, 3); `noise`: standard normal draws.

        `noise` has the shape (draws, 2 P + 5). What differs along a control's range is left out.
        """
        slope = self._slope(self.mean, signal, steps)
        values, vectors = np.linalg.eigh(self.doubt)
        root = vectors * np.sqrt(np.maximum(values, 0.0))
        spread = noise @ (slope.reshape(-1, len(self.mean)) @ root).T
        return np.asarray(self.predict(signal, steps) + spread.reshape(-1, len(signal), 3))

    def variance(self, level: int, steps: Array) -> Array:
        """Variance of the change of log light (3,) that `steps` (3,) make at their own level."""
        return np.asarray((self.covariance[level, level] + (_UNEVEN * self.own[level]) ** 2) * steps**2)

    def learn(self, signal: Array, steps: Array, change: Array, variance: Array) -> "PointEffect":
        """Update from a trip: `change` (n, 3) of log light seen at `signal` (n,) after `steps` (P, 3).

        `variance` (n, 3): of the noise in `change`. An iterated extended Kalman filter (Bell and Cathey, 1993).
        """
        predicted = self.predict(signal, steps)
        # Where light crosses nothing of what was turned there is nothing to be learnt.
        felt = np.abs(predicted) > 0.0
        if not felt.any():
            return self
        seen, noise = change[felt], variance[felt] + (_UNEVEN * predicted[felt]) ** 2 + WANDER**2
        slope = self._slope(self.mean, signal, steps)[felt]
        # What came out beyond belief moves belief only as far as a bad surprise would.
        spread = np.einsum("ni,ij,nj->n", slope, self.doubt, slope) + noise
        noise = noise * np.maximum(1.0, (seen - predicted[felt]) ** 2 / spread / _BELIEVED**2)
        mean: Array = self.mean
        gain: Array = np.zeros((len(mean), len(seen)))
        for _ in range(_ROUNDS):
            slope = self._slope(mean, signal, steps)[felt]
            reach = self.doubt @ slope.T
            gain = np.asarray(np.linalg.solve(slope @ reach + np.diag(noise), reach.T).T)
            told = self._predict(mean, signal, steps)[felt] + slope @ (self.mean - mean)
            mean = self._possible(self.mean + gain @ (seen - told))
        doubt = self.doubt - gain @ slope @ self.doubt
        return replace(self, mean=mean, doubt=(doubt + doubt.T) / 2.0)

    def signal_steps(self, gamma: float = GAMMA) -> Array:
        """A step in terms of the drive, shape (P,): what it moves the ramp by."""
        return self.step * self.drive / gamma

    def _step(self, mean: Array) -> Array:
        return np.asarray(self.usual * (1.0 + mean[..., : len(self.signal)]))

    def _possible(self, mean: Array) -> Array:
        """The figures, kept to what a screen can be: no control works backwards everywhere, none leaks all."""
        levels, kept = len(self.signal), mean.copy()
        kept[:levels] = np.maximum(kept[:levels], -0.95)
        kept[levels + 3] = np.clip(kept[levels + 3], 0.0, 1.1)
        kept[levels + 4] = np.clip(kept[levels + 4], 0.0, _MOST_LEAK)
        return kept

    # From here on `mean` may be many sets of figures, shape (..., figures): results have their shape first.

    def _predict(self, mean: Array, signal: Array, steps: Array) -> Array:
        levels = len(self.signal)
        return np.asarray((self._weights(mean, signal) @ steps) * (1.0 + mean[..., None, levels : levels + 3]))

    def _slope(self, mean: Array, signal: Array, steps: Array) -> Array:
        """What each figure does to the prediction, shape (n, 3, figures), by nudging one after another."""
        apart = self._predict(self._nudged(mean), signal, steps) - self._predict(mean, signal, steps)
        return np.moveaxis(apart / _NUDGE, 0, -1)

    @staticmethod
    def _nudged(mean: Array) -> Array:
        return np.asarray(mean + _NUDGE * np.eye(len(mean)))

    def _weights(self, mean: Array, signal: Array) -> Array:
        levels = len(self.signal)
        shares = self._shares(signal, mean[..., levels + 3], mean[..., levels + 5 :])
        leak = mean[..., levels + 4, None, None]
        if leak.any():
            # Beyond the ends there is no neighbour: what would leak there stays.
            beside = np.concatenate([shares[..., :1], shares, shares[..., -1:]], axis=-1)
            shares = (1.0 - 2.0 * leak) * shares + leak * (beside[..., :-2] + beside[..., 2:])
        return np.asarray(self._at(mean, signal)[..., None] * shares)

    def _at(self, mean: Array, signal: Array) -> Array:
        """Log light per step at any level, shape (..., n): between the known ones along a power law."""
        dark_first = np.argsort(self.signal)
        v = np.log(np.maximum(self.signal[dark_first], _DARKEST))
        step = np.log(np.maximum(self._step(mean)[..., dark_first], 1e-9))
        wanted = np.log(np.maximum(signal, _DARKEST))
        below = np.clip(np.searchsorted(v, wanted) - 1, 0, len(v) - 2)
        along = np.clip((wanted - v[below]) / np.maximum(v[below + 1] - v[below], 1e-12), 0.0, 1.0)
        inside = (1.0 - along) * step[..., below] + along * step[..., below + 1]
        # Below the darkest, a step goes on to be felt the more.
        return np.asarray(np.exp(inside + np.maximum(v[0] - wanted, 0.0)))

    def _shares(self, signal: Array, joined: Array, off: Array) -> Array:
        """How much of each level's setting is felt at `signal` (n,), shape (..., n, P).

        Joined levels share what lies between them; a level that stands alone is felt half the way to the next.
        """
        dark_first = np.argsort(self.signal)
        v = self.signal[dark_first]
        inner = (v > 0.0) & (v < 1.0)
        knots = (v + np.where(inner, off[..., dark_first], 0.0))[..., None, :]
        gaps, ends = np.diff(knots), np.full((*knots.shape[:-1], 1), np.inf)
        at, column = signal[:, None], np.arange(len(v))
        below = np.clip((knots < at).sum(axis=-1, keepdims=True) - 1, 0, len(v) - 2)
        start = np.take_along_axis(np.broadcast_to(knots, (*below.shape[:-1], len(v))), below, axis=-1)
        gap = np.take_along_axis(np.broadcast_to(gaps, (*below.shape[:-1], len(v) - 1)), below, axis=-1)
        along = np.clip((at - start) / gap, 0.0, 1.0)
        rows = np.where(column == below, 1.0 - along, np.where(column == below + 1, along, 0.0))
        half = np.minimum(np.concatenate([ends, gaps], -1), np.concatenate([gaps, ends], -1)) / 2.0
        alone = np.clip(1.0 - np.abs(at - knots) / half, 0.0, 1.0)
        alone[..., 0] = np.where(at[:, 0] < knots[..., 0], 1.0, alone[..., 0])
        joined = np.asarray(joined)[..., None, None]
        told = np.empty_like(rows)
        told[..., dark_first] = joined * rows + (1.0 - joined) * alone
        return told
