"""Tone: near black with the biases together, then the whole ladder by multi-point where the screen has it."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any, cast

from aequitone.advice.moves import ControlState
from aequitone.advice.points.near_black import UNSEEN
from aequitone.advice.watching import Watched
from aequitone.procedures.steps import Interrupt, Procedure, Progress, T
from aequitone.procedures.tone.multi_plan import MultiPlan, MultiState
from aequitone.procedures.tone.multi_point import multi_point
from aequitone.procedures.tone.near_black import NearBlack, NearBlackPlan, near_black
from aequitone.procedures.uninterrupted import nothing
from aequitone.reference import Target
from aequitone.signal import SignalFormat

_FELT_NEAR_BLACK = 10
# ΔE 2000 that near black may cost from 15 to 50 % where there is no multi-point to take it out again.
_ALONE = 0.4


@dataclass(frozen=True)
class TonePlan:
    """What is wanted, what may be turned, and as it stands."""

    target: Target
    format: SignalFormat
    white: float
    """Luminance of 100 %, cd/m², from the pass before."""
    biases: tuple[ControlState, ...] = ()
    """Red, green and blue; none where they are not noted."""
    bias_light: float = 0.0
    """What white balance has learnt of a step of them: log light at 30 %."""
    points: tuple[ControlState, ...] = ()
    """The multi-point controls; none where the screen has none."""
    percents: tuple[float, ...] = ()
    """Levels that are read for multi-point, from 100 % down; without 0 %."""
    near_black: bool = True
    by_hand: bool = False
    """Whether a person turns the controls."""
    trip_seconds: float = 1.0
    """What a trip to the menu costs here."""
    stop_at: float = 0.5

    @property
    def multi(self) -> MultiPlan | None:
        """The multi-point part; None where the screen has none. ValueError where a level lacks a channel."""
        if not self.points:
            return None
        return MultiPlan(
            self.target,
            self.format,
            self.points,
            self.percents,
            self.white,
            self.by_hand,
            self.trip_seconds,
            self.stop_at,
        )


@dataclass(frozen=True)
class ToneState:
    """Where tone stands: for the window, after every reading."""

    foot: NearBlack | None = None
    ladder: MultiState | None = None
    words: str = ""
    """How it ended; empty while it goes on."""


def tone(plan: TonePlan) -> Procedure[ToneState]:
    """Bring near black and the ladder to the target; returns a ToneState.

    StopHere ends the part that is under way; for the other wishes see `near_black` and `multi_point`.
    """
    foot = yield from _near_black(plan, plan.biases, ToneState()) if plan.near_black else nothing()
    multi = plan.multi
    if multi is None:
        return ToneState(foot, words=foot.words if foot is not None else "")
    result = yield from _telling(multi_point(multi, foot), lambda value: ToneState(foot, value))
    ladder = result.state
    if foot is not None and _reached_down(ladder):
        # A cast that was taken out there has changed its light. It is read, and what was said of the ladder holds.
        foot = yield from _near_black(replace(plan, bias_light=0.0), foot.biases, ToneState(foot, ladder))
    return ToneState(foot, ladder, f"{result.words} {foot.words if foot is not None else ''}".strip())


def _near_black(
    plan: TonePlan, biases: tuple[ControlState, ...], so_far: ToneState
) -> Procedure[NearBlack | None]:
    may_cost = UNSEEN if plan.points else _ALONE
    part = NearBlackPlan(plan.target, plan.format, biases, plan.white, plan.bias_light, may_cost)
    found: NearBlack | None = yield from _telling(near_black(part), lambda value: replace(so_far, foot=value))
    return found if found is not None else so_far.foot


def _reached_down(ladder: MultiState) -> bool:
    """Whether a level was turned that is felt near black."""
    return any(trip.percent <= _FELT_NEAR_BLACK for trip in ladder.trips)


def _telling(part: Procedure[T], tell: Callable[[Any], ToneState]) -> Procedure[T]:
    """A part of the whole, whose progress is told as that of the whole."""
    answer: Any = None
    wish: Exception | None = None
    while True:
        try:
            step = part.throw(wish) if wish is not None else part.send(answer)
        except StopIteration as end:
            return cast(T, end.value)
        if isinstance(step, Progress) and not isinstance(step.value, Watched):
            step = replace(step, value=tell(step.value))
        wish = None
        try:
            answer = yield step
        except Interrupt as interrupt:
            wish = interrupt
