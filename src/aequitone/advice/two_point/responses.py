"""What one step of each control does, learnt from the moves that were made.

The measure is the natural logarithm of linear RGB light, so a gain is the same number wherever it
acts. Rows: R, G, B at 100 %, at the bright and at the dark adjusting level. Columns: the gains and
biases, per step. Each row is a Bayesian linear regression: a prior by role, updated by every move,
with a covariance that says how sure it is.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Self

import numpy as np

from aequitone.advice.linear import LinearResponse
from aequitone.advice.moves import ControlState
from aequitone.advice.roles import BIASES, GAINS
from aequitone.advice.technology import Technology
from aequitone.colorimetry.arrays import Array

ROWS = 9
# Priors, as log light over the control's whole range, and how unsure they are (relative).
_GAIN_RANGE, _BIAS_RANGE = 0.9, 0.5
_UNSURE = 0.25
# The drives and cuts of a tube's service menu span the whole life of its guns.
_TUBE_SPAN = 1.6
# A gain is felt nearly in full at the dark level; a bias a little at the bright one.
_GAIN_AT_DARK, _BIAS_AT_BRIGHT, _BIAS_AT_WHITE = 0.95, 0.10, 0.02
# Drive at the dark level of SDR, for which these are.
_SDR_DARK = 0.3
_CROSS = 0.03
# A control is not quite the same at its next setting: certainty decays by this much of an effect per move.
_WANDER = 0.04


@dataclass(frozen=True)
class IdleSteps:
    """Steps around the middle of a control's range that change nothing yet, and where the controls stand."""

    size: int = 0
    """To each side of the middle."""
    stands: tuple[float, ...] = (0.0,) * 6
    """In steps from the middle."""

    @classmethod
    def of(cls, controls: Sequence[ControlState], size: int) -> "IdleSteps":
        """Those of controls as they stand."""
        middles = [c.lowest + c.step * ((c.highest - c.lowest) // (2 * c.step)) for c in controls]
        return cls(size, tuple((c.value - middle) / c.step for c, middle in zip(controls, middles, strict=True)))

    def effective(self, steps: Array) -> Array:
        """Steps (..., 6) that are felt of steps (..., 6) that are turned."""
        if not self.size:
            return np.asarray(steps)
        stands = np.array(self.stands)
        return np.asarray(self._felt(stands + steps) - self._felt(stands))

    def turned(self, effective: Array) -> Array:
        """Steps (6,) to turn for steps (6,) that are to be felt."""
        if not self.size:
            return np.asarray(effective)
        stands = np.array(self.stands)
        to = self._felt(stands) + effective
        there = np.where(to == 0.0, np.clip(stands, -self.size, self.size), to + np.sign(to) * self.size)
        return np.asarray(np.where(effective == 0.0, 0.0, there - stands))

    def _felt(self, at: Array) -> Array:
        return np.asarray(np.sign(at) * np.maximum(np.abs(at) - self.size, 0.0))


@dataclass(frozen=True)
class Responses(LinearResponse):
    """Gains and biases: `effect` (9, 6) per step, and `covariance` (9, 6, 6) of each row."""

    idle: IdleSteps = IdleSteps()

    def predict(self, steps: Array) -> Array:
        """Predict the change of log light, shape (..., 9), for steps of shape (..., 6) from where they stand."""
        return super().predict(self.idle.effective(steps))

    def variance(self, steps: Array) -> Array:
        """Compute the variance of `predict`, shape (..., 9)."""
        return super().variance(self.idle.effective(steps))

    @classmethod
    def prior(
        cls,
        controls: tuple[ControlState, ...],
        technology: Technology = Technology.UNKNOWN,
        drives: tuple[float, float] | None = None,
    ) -> "Responses":
        """What is expected before the first move, from each control's role and steps and the kind of screen.

        `drives`: of the panel at the bright and the dark level, 0 to 1, where they are not those of SDR: a bias
        adds to the drive, and is felt the more the less of it there is.
        """
        biased = (_BIAS_AT_WHITE, _BIAS_AT_BRIGHT, 1.0)
        if drives is not None:
            bright, dark = (_felt_of_a_bias(drive) / _felt_of_a_bias(_SDR_DARK) for drive in drives)
            biased = (_BIAS_AT_WHITE, bright, dark)
        span = _TUBE_SPAN if technology is Technology.TUBE else 1.0
        effect = np.zeros((ROWS, len(controls)))
        spread = np.zeros((ROWS, len(controls)))
        for column, control in enumerate(controls):
            steps = (control.highest - control.lowest) / control.step
            gain = control.role in GAINS
            channel = (GAINS if gain else BIASES).index(control.role)
            size = span * (_GAIN_RANGE if gain else _BIAS_RANGE) / steps
            shares = (1.0, 1.0, _GAIN_AT_DARK) if gain else biased
            for level, share in enumerate(shares):
                rows = slice(3 * level, 3 * level + 3)
                spread[rows, column] = _CROSS * size * max(share, _BIAS_AT_BRIGHT)
                effect[3 * level + channel, column] = size * share
                spread[3 * level + channel, column] = _UNSURE * size * max(share, 2 * _BIAS_AT_BRIGHT)
        return cls(effect, np.stack([np.diag(row**2) for row in spread]))

    def without(self, column: int) -> Self:
        """The same with a control that does nothing, and is known to."""
        effect, covariance = self.effect.copy(), self.covariance.copy()
        effect[:, column] = covariance[:, column] = covariance[:, :, column] = 0.0
        return replace(self, effect=effect, covariance=covariance)

    @property
    def bias_light(self) -> float:
        """Log light at the dark level for a step of all three biases, on average."""
        return float(self.effect[6:9, 3:6].sum(axis=1).mean())

    def learn(self, steps: Array, change: Array, variance: Array) -> Self:
        """Update from one move: `change` (9,) of log light seen after `steps` (6,), with its noise `variance`.

        The steps are those that are felt: see `IdleSteps`.
        """
        learnt = super().learn(steps, change, variance)
        wander = np.stack([np.diag(row) for row in (_WANDER * np.abs(self.effect)) ** 2])
        return replace(learnt, covariance=learnt.covariance + wander)


def _felt_of_a_bias(drive: float) -> float:
    """Log light for an offset of the drive that is full at black and none at white, but for a factor."""
    return (1.0 - drive) / drive
