"""A slip of the hand at one level, told from what its light did."""

from enum import Enum

import numpy as np

from aequitone.advice.points.effect import PointEffect
from aequitone.colorimetry.arrays import Array

# Twice the gain in log likelihood that another story needs, to be believed: right moves reach it seldom, and a
# slip that is not seen costs more than a look at the menu.
_SURELY = 14.0
# Of what was expected, what a control may be off by itself, and what light wanders between two looks.
_UNEVEN, _LITTLE = 0.15, 0.004


class Slip(Enum):
    """What may have happened instead of the move."""

    NOT_TURNED = "not turned"
    OTHER_WAY = "other way"

    @property
    def done(self) -> int:
        """How many times the move was made: not at all, or once the other way."""
        return 0 if self is Slip.NOT_TURNED else -1

    def words(self, percent: int) -> str:
        """For the person in the room."""
        if self is Slip.NOT_TURNED:
            return (
                f"Light at {percent} % did not move as it should: it seems that another level was turned, or "
                "none. See what the menu says, and turn it once more."
            )
        return f"Light at {percent} % went the other way: the next move takes that back."


def slip_of(effect: PointEffect, level: int, steps: Array, change: Array, variance: Array) -> Slip | None:
    """What a `change` (3,) of log light after `steps` (3,) tells; None where the move is the likeliest story."""
    expected = effect.step[level] * steps
    scale = float(np.abs(expected).max())
    spread = effect.variance(level, steps) + variance + (_UNEVEN * scale) ** 2 + _LITTLE**2

    def unlikely(done: float) -> float:
        return float(((change - done * expected) ** 2 / spread).sum())

    slip = min(Slip, key=lambda each: unlikely(each.done))
    return slip if unlikely(1.0) - unlikely(slip.done) > _SURELY else None
