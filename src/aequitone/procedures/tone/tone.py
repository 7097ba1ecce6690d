"""Tone: near black with the biases together, then the whole ladder by multi-point where the screen has it."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any, cast

import numpy as np

from aequitone.advice.moves import ControlState, Move, trip_between
from aequitone.advice.points import Grid, ways_back
from aequitone.advice.points.near_black import ALONE, REPAIRED, SHOULDER, Price
from aequitone.advice.points.words import ended_words
from aequitone.advice.roles import Role
from aequitone.advice.watching import Watched
from aequitone.procedures.policy import policy_for
from aequitone.procedures.steps import Interrupt, Note, Procedure, Progress, Purpose, T, Turn
from aequitone.procedures.tone.multi_plan import MultiPlan, MultiState
from aequitone.procedures.tone.multi_point import multi_point
from aequitone.procedures.tone.near_black import NearBlack, NearBlackPlan, near_black
from aequitone.procedures.uninterrupted import insist, insist_on_reading
from aequitone.reference import Target, grey_errors
from aequitone.signal import SignalFormat, grey_patch

_FELT_NEAR_BLACK = 10
# Levels that biases act on, in %.
_FELT_BY_BIASES = 60.0
# How much worse the shoulder may be left than it was found, where levels were turned after.
_LEFT = Price(level=1.0, more=0.7, mean=0.5, as_read=0.15)


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
    foot, first = yield from _near_black(plan, plan.biases, ToneState())
    multi = plan.multi
    if multi is None:
        return ToneState(foot, words=foot.words if foot is not None else "")
    result = yield from _telling(multi_point(multi, foot), lambda value: ToneState(foot, value))
    ladder, words = result.state, result.words
    if foot is not None and _reached_down(ladder):
        # A cast that was taken out there has changed its light.
        stood = foot.biases
        foot, _ = yield from _near_black(plan, stood, ToneState(foot, ladder))
        if foot is not None and foot.biases != stood:
            ladder = yield from _read_again(plan, ladder, foot)
            words = told_words(ladder)
    if foot is not None and first is not None and _left_worse(plan, first, foot, ladder):
        yield Note("From 15 to 50 % grey was better before, so everything goes back to how it stood.")
        for move in _all_back(plan, foot, ladder):
            yield from insist(Turn(move))
        ladder = yield from _read_again(plan, replace(ladder, controls=multi.grid.controls), foot)
        looked = NearBlackPlan(plan.target, plan.format, plan.biases, plan.white)
        foot = yield from _telling(near_black(looked), lambda value: ToneState(value, ladder))
        words = told_words(ladder)
    return ToneState(foot, ladder, f"{words} {foot.words if foot is not None else ''}".strip())


def _near_black(
    plan: TonePlan, biases: tuple[ControlState, ...], so_far: ToneState
) -> Procedure[tuple[NearBlack | None, NearBlack | None]]:
    """Bring near black in; how it ended, and how it was found. Neither where it is not wanted."""
    if not plan.near_black:
        return so_far.foot, None
    price = REPAIRED if plan.points else ALONE
    part = NearBlackPlan(plan.target, plan.format, biases, plan.white, plan.bias_light, price)
    told: list[NearBlack] = []

    def tell(value: NearBlack) -> ToneState:
        told.append(value)
        return replace(so_far, foot=value)

    ended: NearBlack | None = yield from _telling(near_black(part), tell)
    return (ended, told[0]) if ended is not None and told else (so_far.foot, None)


def _read_again(plan: TonePlan, ladder: MultiState, foot: NearBlack) -> Procedure[MultiState]:
    """The ladder after the biases were turned: white and what they are felt at, read once more."""
    xyz, sd = ladder.xyz.copy(), ladder.sd.copy()
    white = float(xyz[0, 1])
    for row, percent in enumerate(ladder.percents):
        if row > 0 and percent > _FELT_BY_BIASES:
            continue
        patch = grey_patch(percent, plan.format)
        policy = policy_for(float(plan.target.grey(percent, white, foot.black)[1]), white)
        reading = yield from insist_on_reading(patch, policy, Purpose.ADJUST)
        xyz[row], sd[row] = reading.xyz, reading.sd
    errors = grey_errors(ladder.percents, xyz, plan.target, white=float(xyz[0, 1]), black=foot.black)
    de = (float(errors.de2000_cast[0]), *(float(value) for value in errors.de2000[1:]))
    return replace(ladder, xyz=xyz, sd=sd, de2000=de, black=foot.black)


def _left_worse(plan: TonePlan, first: NearBlack, foot: NearBlack, ladder: MultiState) -> bool:
    """Whether the shoulder is worse now than before the biases were first turned."""
    if foot.biases == plan.biases:
        return False
    now = dict(zip(ladder.percents, ladder.de2000, strict=True))
    if not all(percent in now for percent in SHOULDER):
        return False
    after = np.array([now[percent] for percent in SHOULDER])
    # Where no level was left turned, nothing has repaired what near black has cost.
    limit = replace(ALONE, as_read=_LEFT.as_read) if _stand(ladder.controls) == _stand(plan.points) else _LEFT
    return limit.is_beaten_as_read(first.shoulder_de, after)


def _stand(controls: tuple[ControlState, ...]) -> dict[Role, int]:
    return {control.role: control.value for control in controls}


def _all_back(plan: TonePlan, foot: NearBlack, ladder: MultiState) -> list[Move]:
    """The trips to how the biases and every level stood."""
    biases = replace(trip_between(foot.biases, plan.biases), undoes=True)
    points = ways_back(Grid.of(ladder.controls), Grid.of(plan.points))
    return [move for move in (biases, *points) if move.changes]


def told_words(ladder: MultiState) -> str:
    """How the ladder stands, after what was read last."""
    began = ladder.began or ladder
    trips = len(ladder.trips)
    return ended_words(began.mean, ladder.mean, ladder.de2000, ladder.percents, trips, ladder.bend)


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
