"""The controls of one level, as a guard needs them: what each does to its light, and what to say of a slip."""

from dataclasses import dataclass

import numpy as np

from aequitone.advice.moves import ControlState
from aequitone.advice.points.effect import PointEffect
from aequitone.advice.two_point.guards import Judgement, Mishap
from aequitone.advice.two_point.guards import words as guard_words
from aequitone.colorimetry.arrays import Array

SURE = 0.5
"""How likely a slip must be to be believed at a level, where right moves are hardly ever taken for one: see
benchmarks/point_guards.py."""


@dataclass(frozen=True)
class LevelResponses:
    """Red, green and blue of a level and, where the screen has it, light: `guards.Predicts`, on three rows."""

    effect: PointEffect
    level: int
    light: bool

    def totals(self, steps: Array) -> Array:
        """What R, G, B move by, shape (..., 3), for steps of each control (..., 3 or 4)."""
        return np.asarray(steps[..., :3] + steps[..., 3:]) if self.light else np.asarray(steps)

    def predict(self, steps: Array) -> Array:
        """Change of log light, shape (..., 3)."""
        return np.asarray(self.effect.own[self.level] * self.totals(steps))

    def variance(self, steps: Array) -> Array:
        """Variance of `predict`, shape (..., 3)."""
        return self.effect.variance(self.level, self.totals(steps))


def slip_words(told: Judgement, controls: tuple[ControlState, ...], steps: Array, percent: int) -> str:
    """What to say of a slip at `percent`; `controls` and `steps` of that level, as `guards.judge` had them."""
    if told.mishap is Mishap.BUMP:
        return f"{guard_words(told, controls, steps)} The ladder is read from the start."
    if not told.steps.any():
        return (
            f"Light at {percent} % did not move as it should: it seems that another level was turned, or none. "
            "See what the menu says, and turn it once more."
        )
    said = guard_words(told, controls, steps)
    return said if told.mishap is Mishap.NOTED_WRONG else f"{said} The next move takes that back."
