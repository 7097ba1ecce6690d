"""Tone: near black with the biases together, then the whole ladder by multi-point where the screen has it."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any, cast

import numpy as np

from aequitone.advice.by_hand.watching import Watched
from aequitone.advice.moves import ControlState, Move, trip_between
from aequitone.advice.points import ways_back
from aequitone.advice.points.near_black import ALONE, NEAR_BLACK, REPAIRED, SHOULDER, Price
from aequitone.colorimetry import Formula
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.known_level import KnownLevel, known_at
from aequitone.procedures.policy import target_policy
from aequitone.procedures.steps import (
    Interrupt,
    Note,
    Procedure,
    Progress,
    Purpose,
    PutBack,
    Read,
    ReadAgain,
    Reading,
    Show,
    StopHere,
    T,
    Turn,
)
from aequitone.procedures.tone.multi_plan import MultiPlan, MultiState
from aequitone.procedures.tone.multi_point import as_found, ladder_words, multi_point
from aequitone.procedures.tone.multi_session import MultiPointSession, begin, read_again
from aequitone.procedures.tone.near_black import REST, NearBlack, NearBlackPlan, near_black
from aequitone.procedures.uninterrupted import insist
from aequitone.reference import Target, grey_errors, mean_error, mean_error_sd
from aequitone.signal import SignalFormat, grey_patch

# The share of its light by which a level near black, as far as a meter tells it, may have moved with the ladder's
# before it is read again.
_FELT_NEAR_BLACK, _TOLD = 0.03, 3.0
# Of the ladder, in %, what is read beside near black's own levels: to see what its biases have cost higher up.
_BESIDE = (100.0, 80.0, 10.0)
# ΔE 2000 that those levels may be worse by on average.
_NOT_WORSE = 0.03
_STOPPED = "Stopped by you before the ladder was read."


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
    known: tuple[KnownLevel, ...] = ()
    """What the pass before read in the end, as all stands, white among it: taken where white reads the same."""

    @property
    def read_along(self) -> tuple[float, ...]:
        """The levels of the ladder, in %, that are read along with near black."""
        levels = {*_BESIDE, *(level.percent for level in self.known)} - {*SHOULDER}
        return tuple(p for p in self.percents if p in levels and p <= self.top)

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

    Near black comes first, so that a ladder that its biases move is read once. What they have cost the levels
    that were read along, and multi-point does not repair, is taken back in the end. StopHere ends the part that
    is under way; for the other wishes see `near_black` and `multi_point`.
    """
    multi = plan.multi
    if multi is None:
        foot = yield from _near_black(plan, plan.biases, ToneState(), ALONE, REST)
        return ToneState(foot, words=foot.words if foot is not None else "")
    session, foot = begin(multi), None
    try:
        if plan.near_black:
            foot = yield from _foot_first(plan, session)
        yield from _telling(as_found(session), lambda value: ToneState(foot, value))
    except StopHere:
        return _ended(session, foot, _STOPPED)
    found = foot if foot is None or foot.began is None else foot.began
    if foot is not None:
        plan = replace(plan, biases=foot.found)
        session.take_near_black(foot)
    result = yield from _telling(multi_point(session), lambda value: ToneState(foot, value))
    words = result.words
    if foot is not None and _reached_down(session):
        # A cast that was taken out there has changed its light; nothing comes after that could repair a price.
        stood = foot.biases
        foot = yield from _near_black(plan, stood, ToneState(foot, session.state()), ALONE, known=session.fresh)
        assert foot is not None
        if stood == plan.biases:
            plan = replace(plan, biases=foot.found)
        if foot.biases != foot.found:
            yield from _taken(session, foot.found, foot)
            words = ladder_words(session)
    if foot is not None and found is not None and foot.biases != plan.biases and _left_worse(plan, found, session):
        yield Note("The ladder was better before near black was brought in, so everything goes back.")
        foot = yield from _all_back(plan, session, foot)
        if foot is not None:
            session.take_near_black(foot)
        # What is known of the levels by now serves the ladder without it.
        result = yield from _telling(multi_point(session), lambda value: ToneState(foot, value))
        words = result.words
    return _ended(session, foot, words)


def _ended(session: MultiPointSession, foot: NearBlack | None, words: str) -> ToneState:
    return ToneState(foot, session.state(), f"{words} {foot.words if foot is not None else ''}".strip())


def _foot_first(plan: TonePlan, session: MultiPointSession) -> Procedure[NearBlack | None]:
    """Bring near black in, and hand what was read of the ladder by the way on to it. Raises StopHere."""
    known = yield from _still_known(plan)
    foot = yield from _near_black(plan, plan.biases, ToneState(), REPAIRED, plan.read_along, known)
    stands = foot is None or foot.biases == foot.found
    session.known = {level.percent: level for level in (known if stands else ())}
    if foot is not None:
        lit = zip(foot.lit, foot.shoulder_xyz, foot.shoulder_xyz_sd, strict=True)
        dark = zip(foot.percents, foot.xyz, foot.sd, strict=True)
        session.known |= {percent: KnownLevel(percent, xyz, sd) for percent, xyz, sd in (*lit, *dark)}
        session.black_known = foot.black
    return foot


def _still_known(plan: TonePlan) -> Procedure[tuple[KnownLevel, ...]]:
    """Read white once more: what else is known is taken where that reads the same. Raises StopHere."""
    white = known_at(plan.known, 100.0)
    if white is None:
        return ()
    patch, policy = grey_patch(100.0, plan.format), target_policy(plan.target, plan.white, plan.white)
    while True:
        try:
            yield Show(patch)
            reading: Reading = yield Read(patch, policy, Purpose.ADJUST)
        except (PutBack, ReadAgain):
            continue
        others = plan.known if white.is_as(reading) else ()
        return (KnownLevel.of(reading), *(level for level in others if level is not white))


def _near_black(
    plan: TonePlan,
    biases: tuple[ControlState, ...],
    so_far: ToneState,
    price: Price,
    rest: tuple[float, ...] = (),
    known: tuple[KnownLevel, ...] = (),
) -> Procedure[NearBlack | None]:
    """Bring near black in; None where it is not wanted, or was stopped before it was read.

    `rest`: levels that are read along; `known`: what was just read, which is not read again.
    """
    if not plan.near_black:
        return so_far.foot
    part = NearBlackPlan(
        plan.target,
        plan.format,
        biases,
        plan.white,
        plan.bias_light,
        price,
        rest,
        known,
        shared=plan.percents,
        by_hand=plan.by_hand,
        beside=plan.beside if plan.by_hand else (),
    )
    ended: NearBlack | None = yield from _telling(near_black(part), lambda value: replace(so_far, foot=value))
    return ended if ended is not None else so_far.foot


def _taken(session: MultiPointSession, stood: tuple[ControlState, ...], foot: NearBlack) -> Procedure[None]:
    """Take what was read near black into the ladder, which is read again where the biases were turned."""
    was = session.xyz.copy()
    session.take_near_black(foot)
    if foot.biases != stood:
        yield from _telling(read_again(session, was=was), lambda value: ToneState(foot, value))


def _left_worse(plan: TonePlan, found: NearBlack, session: MultiPointSession) -> bool:
    """Whether the levels that were read before the biases were turned are worse now; `found`: that look.

    What noise adds is taken out of both: the one was read more closely than the other.
    """
    read = [i for i, percent in enumerate(found.lit) if percent in session.percents]
    rows = [session.percents.index(found.lit[i]) for i in read]
    white = float(session.xyz[0, 1])

    def off(xyz: Array, sd: Array, white: float, black: float) -> tuple[float, float]:
        told = grey_errors([found.lit[i] for i in read], xyz, plan.target, white=white, black=black, sd=sd)
        delta, spread, noise = told.by(Formula.DE2000)
        return mean_error(delta, noise), mean_error_sd(spread, 0.0)

    was, was_sd = off(found.shoulder_xyz[read], found.shoulder_xyz_sd[read], plan.white, found.black)
    now, now_sd = off(session.xyz[rows], session.sd[rows], white, session.black)
    return now > was + max(_NOT_WORSE, float(np.hypot(was_sd, now_sd)))


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
    """Whether levels were turned whose effect on light is felt near black."""
    told = np.array([percent for percent in NEAR_BLACK if percent >= _TOLD])
    weights = session.effect.weights(told / 100.0)
    turned = session.grid.offsets - session.found_grid.offsets
    channels = np.exp(np.einsum("lp,pc->lc", weights, turned) * session.effect.channels)
    light = session.planner.gamut.xyz(channels)[:, 1]
    return bool(np.abs(light / session.planner.gamut.xyz(np.ones(3))[1] - 1.0).max() > _FELT_NEAR_BLACK)


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
