"""What was really turned on a trip to a colour management, told from the colours that were read after it."""

from dataclasses import dataclass, replace

import numpy as np

from aequitone.advice.colours.belief import Observation
from aequitone.advice.colours.effect import ColourEffect
from aequitone.advice.moves import ControlState
from aequitone.advice.two_point.guards import Judgement, judge
from aequitone.colorimetry.arrays import Array

# Surer than this that something went wrong, the likeliest slip is said: many controls are turned at a time.
_SURE = 0.999
# A control whose doubt is below this share of its effect is known.
_KNOWN = 0.3


@dataclass(frozen=True)
class _Predicted:
    """What other steps than those asked for would have done to the colours that were read, channel by channel."""

    effect: ColourEffect
    told: Observation
    asked: Array
    wider: float = 1.0
    """How many times as large its variance is than the effect's."""

    def _turned(self, steps: Array) -> Array:
        return np.asarray(self.told.steps + (steps - self.asked)[..., None, :])

    def predict(self, steps: Array) -> Array:
        """Change of linear light, (..., rows), for steps of shape (..., controls)."""
        change = self.effect.change(self.effect.basis(self.told.linear), self._turned(steps))
        return np.asarray(change.reshape(*change.shape[:-2], -1))

    def variance(self, steps: Array) -> Array:
        """Its variance, (..., rows)."""
        variance = self.effect.variance(self.effect.basis(self.told.linear), self._turned(steps))
        return np.asarray(self.wider * variance.reshape(*variance.shape[:-2], -1))


def judge_turning(
    effect: ColourEffect, controls: tuple[ControlState, ...], asked: Array, told: Observation
) -> Judgement:
    """Judge a move of a colour management that a person made.

    `controls` as they stood before it, `asked` (controls,) steps of them; `told`: what was seen, with those steps
    and any of earlier moves that the same colours have felt since they were read. A bump of the meter is not seen
    in it, as colours are held against white.
    """
    predicted = _Predicted(effect, told, asked)
    first = judge(predicted, controls, asked, told.seen.ravel(), told.variance.ravel(), _SURE, bumps=False)
    # Where even the likeliest turn explains badly what was seen, a difference between two bad answers proves less.
    off = told.seen.ravel() - predicted.predict(first.steps)
    badly = float((off**2 / (predicted.variance(first.steps) + told.variance.ravel())).mean())
    judged = first
    if first.mishap is not None and badly > 1.0:
        wider = replace(predicted, wider=badly)
        judged = judge(
            wider, controls, asked, told.seen.ravel(), badly * told.variance.ravel(), _SURE, bumps=False
        )
    # Of a control that is not known yet, what it does cannot be told from how far it was turned.
    about = [place for place in (judged.control, judged.instead) if place >= 0]
    known = all(float(effect.doubt[place]) < _KNOWN for place in about)
    return judged if known else Judgement(None, asked, np.zeros(told.seen.size))
