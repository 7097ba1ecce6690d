"""Multi-point: read the ladder, turn it level by level from the bright end, read again what moved along."""

from dataclasses import dataclass, field, replace

import numpy as np

from aequitone.advice.moves import Move
from aequitone.advice.points import Grid, PointEffect, PointPlanner, Tracked, log_variance, most_bent
from aequitone.advice.points.slips import slip_of
from aequitone.advice.points.words import ended_words, promise_words, undone_words, why_words
from aequitone.advice.seen import log_light
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.insisting import insist, insist_on_reading, nothing
from aequitone.procedures.multi_plan import MultiPlan, MultiResult, MultiState, PointTrip
from aequitone.procedures.near_black import NearBlack
from aequitone.procedures.policy import CLOSER_DE, ReadPolicy, policy_for, seen_black
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
    Turn,
)
from aequitone.signal import grey_patch

# ΔE 2000, on all levels together, that a minute of turning and reading must bring to be worth it.
_WORTH_A_MINUTE = 0.5
# A level that was changed from its neighbours by more than this, in log light, is read again.
_MOVED = 0.004
# What is between two levels is looked at once, where a level is turned so far that it must show.
_PROBED_STEPS, _KNOWN = 3.0, 0.2
# Black that rises by so many spreads, and by this share of the darkest level's light, has come up with it.
_SIGMAS, _BLACK_SHARE = 4.0, 0.02
# Going over the same level again within a round: once is for learning, twice would be hunting.
_TRIES = 2
# A cast at 100 % that two points should have taken out: to bend every level to it would ruin the ramp.
_WHITES_WORK = 3.0
_MOST_SECONDS = 3.0


@dataclass
class _Session:
    """The running state; private to the generator."""

    plan: MultiPlan
    grid: Grid
    planner: PointPlanner
    effect: PointEffect
    percents: tuple[float, ...]
    xyz: Array
    sd: Array
    offsets: Array
    foot: int = 0
    """How many levels at the end are not of the ladder, but were read near black."""
    black: float = 0.0
    read: int = 0
    """How many of the levels, from the bright end, were read."""
    trips: list[PointTrip] = field(default_factory=list)
    round: int = 0
    open: list[int] = field(default_factory=list)
    tries: dict[int, int] = field(default_factory=dict)
    """Of this round: how often each level was turned."""
    took: list[float] = field(default_factory=list)
    """Seconds of each reading."""
    last: int = 0
    """The level, as a row of the ladder, that was read last."""
    began: MultiState | None = None
    why: str = ""

    @property
    def tracked(self) -> Tracked:
        # Copies: what was known at one moment must not change with the next reading.
        return Tracked(
            np.array(self.percents), self.xyz.copy(), self.sd.copy(), self.offsets.copy(), self.black, self.foot
        )

    def row(self, level: int) -> int:
        """The row of the ladder that a level of the grid is."""
        return self.percents.index(float(self.grid.percents[level]))

    def state(self, proposed: Move | None = None) -> MultiState:
        n = self.read
        de = self.planner.de2000(self.tracked, self.xyz)[:n]
        return MultiState(
            self.percents[:n],
            self.xyz[:n].copy(),
            self.sd[:n].copy(),
            tuple(float(value) for value in de),
            self.grid.controls,
            tuple(self.trips),
            most_bent(self.effect, self.grid),
            self.black,
            proposed,
            self.why if proposed else "",
            self.round,
            self.began,
        )


def multi_point(plan: MultiPlan, foot: NearBlack | None = None) -> Procedure[MultiResult]:
    """Bring every level to the target in light and cast; returns a MultiResult.

    `foot`: what was read near black, which the darkest control must not spoil. Understands PutBack (the last move
    is undone), ReadAgain (the last level is read once more) and StopHere.
    """
    session = _begun(plan, foot)
    pending = _ladder(session)
    try:
        while True:
            try:
                yield from pending
                pending = nothing()
                if session.began is None:
                    session.began = session.state()
                    session.planner = replace(session.planner, least_gain=_least_gain(session))
                    if session.began.de2000[0] > _WHITES_WORK:
                        return MultiResult(undone_words(session.began.de2000[0]), session.began)
                    yield Note(_promise(session))
                proposal = session.planner.propose(session.tracked, session.effect, session.grid, session.open)
                if proposal is not None:
                    level, move = proposal
                    session.why = why_words(
                        session.planner, session.tracked, session.effect, session.grid, level, move
                    )
                    yield Progress(len(session.trips), len(session.trips) + 1, session.state(move))
                    yield from _carry_out(session, level, move)
                    continue
                if not session.tries or session.round + 1 >= plan.rounds:
                    break
                session.round, session.tries = session.round + 1, {}
                session.open = _adjustable(session.grid)
                yield from _read_moved(session)
            except PutBack:
                pending = _put_back(session)
            except ReadAgain:
                pending = _read_level(session, session.last)
        if session.trips:
            yield from _read_moved(session)
    except StopHere:
        pass
    state = session.state()
    yield Progress(len(session.trips), len(session.trips), state)
    began = session.began or state
    words = ended_words(began.mean, state.mean, state.de2000, state.percents, len(session.trips), state.bend)
    return MultiResult(words, state)


def _begun(plan: MultiPlan, foot: NearBlack | None) -> _Session:
    grid = plan.grid
    near = [i for i, p in enumerate(foot.percents) if p not in plan.percents] if foot else []
    percents = (*plan.percents, *(foot.percents[i] for i in near)) if foot else plan.percents
    xyz, sd = plan.target.grey(percents, plan.white), np.full((len(percents), 3), 1e-6)
    if foot is not None and near:
        xyz[-len(near) :], sd[-len(near) :] = foot.xyz[near], foot.sd[near]
    return _Session(
        plan,
        grid,
        PointPlanner(plan.target, 0.0, plan.stop_at / 2.0),
        PointEffect.prior(grid.signal, grid.controls[0].steps / 2.0),
        percents,
        xyz,
        sd,
        np.repeat(grid.offsets[None], len(percents), axis=0),
        foot=len(near),
        open=_adjustable(grid),
    )


def _least_gain(session: _Session) -> float:
    """What a trip must bring here, by what a trip and a reading take."""
    return _WORTH_A_MINUTE * (session.plan.trip_seconds + float(np.median(session.took))) / 60.0


def _adjustable(grid: Grid) -> list[int]:
    """The levels that are turned: all but black, which has its own control."""
    return [i for i, percent in enumerate(grid.percents) if percent > 0]


def _promise(session: _Session) -> str:
    mean, levels = session.planner.promise(session.tracked, session.effect, session.grid, session.open)
    assert session.began is not None
    return promise_words(session.began.mean, mean, levels)


def _ladder(session: _Session) -> Procedure[None]:
    """Black, and the whole ladder from the bright end; what was read before a wish is not read again."""
    while session.read < len(session.plan.percents):
        try:
            yield from _read_level(session, session.read)
            if session.read == 0:
                black = yield from _read_black(session)
                session.black = seen_black(black.Y, black.sd_Y)
            session.read += 1
            yield Progress(session.read, len(session.plan.percents), session.state())
        except (PutBack, ReadAgain):
            session.read = max(0, session.read - 1)


def _read_black(session: _Session) -> Procedure[Reading]:
    white = float(session.xyz[0, 1])
    patch = grey_patch(0.0, session.plan.format)
    return (yield from insist_on_reading(patch, policy_for(0.0, white), Purpose.ADJUST))


def _read_level(session: _Session, row: int) -> Procedure[None]:
    """Read a level of the ladder, and remember how the controls stood."""
    percent = session.percents[row]
    reading = yield from _read(session, percent)
    session.xyz[row], session.sd[row], session.offsets[row] = reading.xyz, reading.sd, session.grid.offsets
    session.last = row


def _read(session: _Session, percent: float) -> Procedure[Reading]:
    plan = session.plan
    white = float(session.xyz[0, 1]) if session.read else plan.white
    patch = grey_patch(percent, plan.format)
    yield Show(patch)
    expected = float(plan.target.grey(percent, white, session.black)[1])
    policy = _exactly(expected, white) if session.began else policy_for(expected, white)
    reading: Reading = yield Read(patch, policy, Purpose.ADJUST)
    session.took.append(reading.took)
    return reading


def _exactly(expected: float, white: float) -> ReadPolicy:
    """What settles a setting is read more exactly; but dark levels are many, and must not take for ever."""
    return replace(policy_for(expected, white, CLOSER_DE), most_seconds=_MOST_SECONDS)


def _read_moved(session: _Session) -> Procedure[None]:
    """Read again what has moved since it was read: levels between, and white, which all others are relative to."""
    weights = session.effect.weights(np.array(session.percents) / 100.0)
    turned = session.grid.offsets - session.offsets
    moved = np.abs(np.einsum("lp,lpc->lc", weights, turned)).max(axis=1) > _MOVED
    for row in [0, *np.flatnonzero(moved[1:]) + 1]:
        while True:
            try:
                yield from _read_level(session, int(row))
                break
            except (PutBack, ReadAgain):
                continue
        yield Progress(len(session.trips), len(session.trips) + 1, session.state())


def _carry_out(session: _Session, level: int, move: Move) -> Procedure[None]:
    """Have a level turned, read it, and learn; then look between levels and at black where that matters."""
    by = session.grid.moved(move.changes).offsets - session.grid.offsets
    between = yield from _between_before(session, level, by)
    row = session.row(level)
    before = session.planner.now(session.tracked, session.effect, session.grid.offsets)[row]
    yield Turn(move)
    session.grid = session.grid.moved(move.changes)
    session.tries[level] = session.tries.get(level, 0) + 1
    # What lies above is settled; the level itself stays open for a second try.
    session.open = [i for i in session.open if i > level or (i == level and session.tries[level] < _TRIES)]
    wish: Interrupt | None = None
    while True:
        try:
            yield from _read_level(session, row)
            break
        except ReadAgain:
            continue
        except (PutBack, StopHere) as interrupt:
            # Once turned, the reading that goes with it is not given up for a wish.
            wish = interrupt
    slip = yield from _understood(session, level, move, by[level], before, repair=wish is None)
    _remember(session, level, move, before, slip)
    if between is not None:
        yield from _between_after(session, between, by)
    if level == len(session.grid.percents) - 1 and by[level].max() > 0:
        yield from _guard_black(session, level, move)
    if wish is not None:
        raise wish


def _remember(session: _Session, level: int, move: Move, before: Array, slip: str = "") -> None:
    """Enter a move into the history; `before`: XYZ (3,) of its level as it was to be expected without it."""
    row, tracked = session.row(level), session.tracked
    was = tracked.xyz.copy()
    was[row] = before
    de_before, de_after = (float(session.planner.de2000(tracked, xyz)[row]) for xyz in (was, tracked.xyz))
    spread = session.planner.spread(tracked, row)
    session.trips.append(PointTrip(move, session.grid.percents[level], de_before, de_after, spread, slip))


def _understood(
    session: _Session, level: int, move: Move, steps: Array, before: Array, *, repair: bool
) -> Procedure[str]:
    """Learn what the steps (3,) did at their own level, or say what went wrong with them; a slip is mended."""
    row = session.row(level)
    change, variance = _change(session, row, before)
    slip = slip_of(session.effect, level, steps, change, variance) if session.plan.by_hand else None
    if slip is None:
        session.effect = session.effect.learn(level, steps, change, variance)
        return ""
    words = slip.words(session.grid.percents[level])
    yield Note(words)
    if not repair:
        stands = (replace(c, to_value=c.from_value + slip.done * c.by) for c in move.changes)
        session.grid = session.grid.moved(stands)
        session.offsets[row] = session.grid.offsets
        return words
    back = Move(tuple(replace(c, from_value=c.from_value + slip.done * c.by) for c in move.changes))
    slipped = session.xyz[row].copy()
    yield Progress(len(session.trips) + 1, len(session.trips) + 2, session.state(back))
    yield from insist(Turn(back))
    yield from _read_whatever_comes(session, row)
    change, variance = _change(session, row, slipped)
    session.effect = session.effect.learn(level, (1.0 - slip.done) * steps, change, variance)
    return words


def _change(session: _Session, row: int, before: Array) -> tuple[Array, Array]:
    """The change (3,) of log light at a row since `before`, XYZ (3,), and the variance of its noise."""
    change = (log_light(session.xyz[row][None]) - log_light(before[None])).reshape(3)
    return change, 2.0 * log_variance(session.xyz[row], session.sd[row])


def _read_whatever_comes(session: _Session, row: int) -> Procedure[None]:
    """Read a level that was turned: its reading is not given up for a wish."""
    while True:
        try:
            yield from _read_level(session, row)
            return
        except Interrupt:
            continue


def _between_before(session: _Session, level: int, by: Array) -> Procedure[tuple[float, Array] | None]:
    """A reading halfway to the next darker level, where this move will show whether the screen joins the two."""
    darker = level + 1
    known = session.effect.joined_sd < _KNOWN
    if known or darker >= len(session.grid.percents) or np.abs(by[level]).max() < _PROBED_STEPS:
        return None
    percent = (session.grid.percents[level] + session.grid.percents[darker]) / 2.0
    reading = yield from _read(session, percent)
    return percent, reading.xyz


def _between_after(session: _Session, between: tuple[float, Array], by: Array) -> Procedure[None]:
    percent, before = between
    patch = grey_patch(percent, session.plan.format)
    policy = _exactly(float(before[1]), float(session.xyz[0, 1]))
    reading = yield from insist_on_reading(patch, policy, Purpose.ADJUST)
    change = (log_light(reading.xyz[None]) - log_light(before[None])).reshape(3)
    variance = 2.0 * log_variance(reading.xyz, reading.sd)
    session.effect = session.effect.learn_between(patch.percent / 100.0, by, change, variance)


def _guard_black(session: _Session, level: int, move: Move) -> Procedure[None]:
    """Black must not come up with the darkest level."""
    reading = yield from _read_black(session)
    darkest = float(session.xyz[session.row(level), 1])
    if reading.Y - session.black <= max(_SIGMAS * reading.sd_Y, _BLACK_SHARE * darkest):
        return
    yield Note(
        f"Black came up to {reading.Y:.4f} cd/m² with {session.grid.percents[level]} %, so that is put back: "
        "black counts for more."
    )
    session.planner = replace(session.planner, floor=True)
    yield from _undo(session, level, move)


def _put_back(session: _Session) -> Procedure[None]:
    """Undo the last move that has not been undone."""
    undone = 0
    for trip in reversed(session.trips):
        if trip.move.undoes:
            undone += 1
        elif undone:
            undone -= 1
        else:
            yield from _undo(session, session.grid.percents.index(trip.percent), trip.move)
            return
    yield Note("There is no move to put back.")


def _undo(session: _Session, level: int, move: Move) -> Procedure[None]:
    """Turn a move back and read its level; it is not proposed again in this round."""
    before = session.xyz[session.row(level)].copy()
    yield from insist(Turn(move.reverse))
    session.grid = session.grid.moved(move.reverse.changes)
    session.open = [i for i in session.open if i > level]
    yield from _read_whatever_comes(session, session.row(level))
    _remember(session, level, move.reverse, before)
