"""What was really turned on a trip to a colour management, told from the colours that were read after it."""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from aequitone.advice.by_hand.stood import stood_before
from aequitone.advice.colours.belief import Observation
from aequitone.advice.colours.effect import ColourEffect, Reach
from aequitone.advice.moves import ControlState
from aequitone.advice.two_point.guards import Judgement, judge
from aequitone.colorimetry.arrays import Array, Mask

# Surer than this that something went wrong, the likeliest slip is said: many controls are turned at a time.
_SURE = 0.999
# A control whose doubt is below this share of its effect is known.
_KNOWN = 0.3


@dataclass(frozen=True)
class Asked:
    """A move that a person was asked for."""

    steps: Array
    """Of each control, (controls,)."""
    off: Array
    """By how many steps each stood elsewhere before it, as they said, (controls,)."""
    right: Mask
    """Which of them were found where the move was to bring them, (controls,)."""
    slips: bool = True
    """Whether it is to be judged: what mends a slip, or tries a control, is not."""


@dataclass(frozen=True)
class _Predicted:
    """What other steps than those asked for would have done to the colours that were read, channel by channel."""

    effect: ColourEffect
    told: Observation
    asked: Array
    wider: float = 1.0
    """How many times as large its variance is than the effect's."""
    felt: Array | float = 1.0
    """Which colours and controls (n, controls) have felt the difference, as 1; 1 for all."""

    @cached_property
    def _reach(self) -> Reach:
        return self.effect.reach(self.told.linear)

    def _turned(self, steps: Array) -> Array:
        return np.asarray(self.told.steps + (steps - self.asked)[..., None, :] * self.felt)

    def predict(self, steps: Array) -> Array:
        """Change of linear light, (..., rows), for steps of shape (..., controls)."""
        change = self._reach.change(self._turned(steps))
        return np.asarray(change.reshape(*change.shape[:-2], -1))

    def variance(self, steps: Array) -> Array:
        """Its variance, (..., rows)."""
        variance = self._reach.variance(self._turned(steps))
        return np.asarray(self.wider * variance.reshape(*variance.shape[:-2], -1))


def stood_so(effect: ColourEffect, asked: Asked, told: Observation) -> Array:
    """By how many steps (controls,) each control stood elsewhere when the colours were last read.

    `told`: what was seen after the move, with the steps that were noted since each colour was read.
    """
    read_before_it = (told.steps == asked.steps).astype(float)
    predicted = _Predicted(effect, told, asked.steps, felt=read_before_it)
    return stood_before(predicted, asked.steps, asked.off, told.seen.ravel(), told.variance.ravel())


def judge_turning(
    effect: ColourEffect,
    controls: tuple[ControlState, ...],
    asked: Array,
    told: Observation,
    noted: tuple[ControlState, ...] = (),
) -> Judgement:
    """Judge a move of a colour management that a person made.

    `controls` as they stood before it, `asked` (controls,) steps of them; `told`: what was seen, with those steps
    and any of earlier moves that the same colours have felt since they were read. A bump of the meter is not seen
    in it, as colours are held against white. `noted`: as for `guards.judge`.
    """
    predicted, seen, variance = _Predicted(effect, told, asked), told.seen.ravel(), told.variance.ravel()
    first = judge(predicted, controls, asked, seen, variance, _SURE, bumps=False, noted=noted)
    # Where even the likeliest turn explains badly what was seen, a difference between two bad answers proves less.
    off = seen - predicted.predict(first.steps)
    badly = float((off**2 / (predicted.variance(first.steps) + variance)).mean())
    judged = first
    if first.mishap is not None and badly > 1.0:
        wider = replace(predicted, wider=badly)
        judged = judge(wider, controls, asked, seen, badly * variance, _SURE, bumps=False, noted=noted)
    # Of a control that is not known yet, what it does cannot be told from how far it was turned.
    about = [place for place in (judged.control, judged.instead) if place >= 0]
    known = all(float(effect.doubt[place]) < _KNOWN for place in about)
    return judged if known else Judgement(None, asked, np.zeros(told.seen.size))
