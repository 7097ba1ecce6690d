"""What was really turned on a trip to a colour management, told from the colours that were read after it."""

from dataclasses import dataclass

import numpy as np

from aequitone.advice.colours.belief import Observation
from aequitone.advice.colours.effect import ColourEffect
from aequitone.advice.moves import ControlState
from aequitone.advice.two_point.guards import Judgement, judge
from aequitone.colorimetry.arrays import Array


@dataclass(frozen=True)
class _Predicted:
    """What other steps than those asked for would have done to the colours that were read, channel by channel."""

    effect: ColourEffect
    told: Observation
    asked: Array

    def _turned(self, steps: Array) -> Array:
        return np.asarray(self.told.steps + (steps - self.asked)[..., None, :])

    def predict(self, steps: Array) -> Array:
        """Change of linear light, (..., rows), for steps of shape (..., controls)."""
        change = self.effect.change(self.effect.basis(self.told.linear), self._turned(steps))
        return np.asarray(change.reshape(*change.shape[:-2], -1))

    def variance(self, steps: Array) -> Array:
        """Its variance, (..., rows)."""
        variance = self.effect.variance(self.effect.basis(self.told.linear), self._turned(steps))
        return np.asarray(variance.reshape(*variance.shape[:-2], -1))


def judge_turning(
    effect: ColourEffect, controls: tuple[ControlState, ...], asked: Array, told: Observation
) -> Judgement:
    """Judge a move of a colour management that a person made.

    `controls` as they stood before it, `asked` (controls,) steps of them; `told`: what was seen, with those steps
    and any of earlier moves that the same colours have felt since they were read. A bump of the meter is not seen
    in it, as colours are held against white.
    """
    return judge(
        _Predicted(effect, told, asked), controls, asked, told.seen.ravel(), told.variance.ravel(), bumps=False
    )
