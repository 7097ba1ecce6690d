"""Tone: near black with the biases together, then the whole ladder by multi-point where the screen has it."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any, cast

import numpy as np

from aequitone.advice.by_hand.watching import Watched
from aequitone.advice.moves import ControlState, Move, trip_between
from aequitone.advice.points import ways_back
from aequitone.advice.points.near_black import ALONE, REPAIRED, Price
from aequitone.colorimetry import Formula
from aequitone.procedures.steps import Interrupt, Note, Procedure, Progress, StopHere, T, Turn
from aequitone.procedures.tone.multi_judging import BestLadder
from aequitone.procedures.tone.multi_plan import MultiPlan, MultiState
from aequitone.procedures.tone.multi_point import as_found, ladder_words, multi_point
from aequitone.procedures.tone.multi_session import MultiPointSession, begin, read_again
from aequitone.procedures.tone.near_black import REST, NearBlack, NearBlackPlan, near_black
from aequitone.procedures.uninterrupted import insist
from aequitone.reference import Target
from aequitone.signal import SignalFormat

_FELT_NEAR_BLACK = 10


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
    formula: Formula = Formula.DE2000
    """Of the ΔE of the ladder."""
    top: float = 100.0
    """The brightest level, in %, that may be turned."""
    typed: bool = False
    """Whether a person types the readings."""
    beside: tuple[ControlState, ...] = ()
    """Controls that lie beside the biases in the menu: a hand may turn one of them instead."""

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
            self.formula,
            top=self.top,
            typed=self.typed,
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

    The ladder is read before anything is turned: whatever near black costs it, and multi-point does not repair, is
    taken back in the end. StopHere ends the part that is under way; for the other wishes see `near_black` and
    `multi_point`.
    """
    multi = plan.multi
    if multi is None:
        foot = yield from _near_black(plan, plan.biases, ToneState(), ALONE, REST)
        return ToneState(foot, words=foot.words if foot is not None else "")
    session = begin(multi)
    try:
        yield from _telling(as_found(session), lambda value: ToneState(None, value))
    except StopHere:
        return ToneState(None, session.state(), "Stopped by you before the ladder was read.")
    found = session.ladder
    foot = yield from _near_black(plan, plan.biases, ToneState(None, session.state()), REPAIRED, session=session)
    if foot is not None:
        plan = replace(plan, biases=foot.found)
        yield from _taken(session, foot.found, foot)
    result = yield from _telling(multi_point(session), lambda value: ToneState(foot, value))
    words = result.words
    if foot is not None and _reached_down(session):
        # A cast that was taken out there has changed its light; nothing comes after that could repair a price.
        stood = foot.biases
        foot = yield from _near_black(plan, stood, ToneState(foot, session.state()), ALONE, session=session)
        assert foot is not None
        if stood == plan.biases:
            plan = replace(plan, biases=foot.found)
        if foot.biases != foot.found:
            yield from _taken(session, foot.found, foot)
            words = ladder_words(session)
    if foot is not None and foot.biases != plan.biases and _left_worse(found, session.ladder):
        yield Note("The ladder was better before near black was brought in, so everything goes back.")
        foot = yield from _all_back(plan, session, foot)
        if foot is not None:
            session.take_near_black(foot)
        # What is known of the levels by now serves the ladder without it.
        result = yield from _telling(multi_point(session), lambda value: ToneState(foot, value))
        words = result.words
    return ToneState(foot, session.state(), f"{words} {foot.words if foot is not None else ''}".strip())


def _near_black(
    plan: TonePlan,
    biases: tuple[ControlState, ...],
    so_far: ToneState,
    price: Price,
    rest: tuple[float, ...] = (),
    session: MultiPointSession | None = None,
) -> Procedure[NearBlack | None]:
    """Bring near black in; None where it is not wanted, or was stopped before it was read.

    `session`: the ladder, of which nothing is read twice.
    """
    if not plan.near_black:
        return so_far.foot
    known = session.fresh if session is not None else ()
    beside = plan.beside if plan.by_hand else ()
    part = NearBlackPlan(
        plan.target, plan.format, biases, plan.white, plan.bias_light, price, rest, known, plan.by_hand, beside
    )
    ended: NearBlack | None = yield from _telling(near_black(part), lambda value: replace(so_far, foot=value))
    return ended if ended is not None else so_far.foot


def _taken(session: MultiPointSession, stood: tuple[ControlState, ...], foot: NearBlack) -> Procedure[None]:
    """Take what was read near black into the ladder, which is read again where the biases were turned."""
    was = session.xyz.copy()
    session.take_near_black(foot)
    if foot.biases != stood:
        yield from _telling(read_again(session, was=was), lambda value: ToneState(foot, value))


def _left_worse(found: BestLadder, now: BestLadder) -> bool:
    """Whether the ladder is worse than before the biases were turned."""
    return now.score > found.score or now.is_worse(found)


def _all_back(plan: TonePlan, session: MultiPointSession, foot: NearBlack) -> Procedure[NearBlack | None]:
    """Turn the biases and every level to how they stood, and read what there is; returns near black."""
    biases = trip_between(foot.biases, plan.biases).changes
    points = ways_back(session.grid, session.found_grid)
    # A person turns a level at a time, a link all of them.
    together = (biases + tuple(change for move in points for change in move.changes),)
    for changes in (biases, *(move.changes for move in points)) if plan.by_hand else together:
        if changes:
            yield from insist(Turn(Move(changes, undoes=True)))
    session.begin_again()
    yield from _telling(read_again(session), lambda value: ToneState(foot, value))
    looked = NearBlackPlan(plan.target, plan.format, plan.biases, plan.white)
    return (yield from _telling(near_black(looked), lambda value: ToneState(value, session.state())))


def _reached_down(session: MultiPointSession) -> bool:
    """Whether a level was turned that is felt near black."""
    turned = np.any(session.grid.offsets != session.found_grid.offsets, axis=1)
    return bool((turned & (np.array(session.grid.percents) <= _FELT_NEAR_BLACK)).any())


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
