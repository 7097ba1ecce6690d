"""Multi-point where readings are typed: a level at a time from the bright end; what came out worse goes back.

Once down the ladder: a second round doubled trips and minutes, for nothing that the truth shows
(benchmarks/typed.py).
"""

from dataclasses import replace

import numpy as np

from aequitone.advice.moves import ControlState, Move, last_standing, moved, steps_of, trip_between
from aequitone.advice.points import Grid, PointEffect, smoothing, ways_back
from aequitone.advice.points.level import SURE, LevelResponses, slip_words
from aequitone.advice.points.ramp import JOINED_KNOWN
from aequitone.advice.points.words import why_words
from aequitone.advice.two_point.guards import Judgement, Mishap, judge
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.steps import (
    Interrupt,
    Note,
    Procedure,
    Progress,
    Purpose,
    PutBack,
    ReadAgain,
    StopHere,
    Turn,
)
from aequitone.procedures.tone.level_stands import noted_elsewhere, take_back
from aequitone.procedures.tone.multi_judging import came_out_worse, is_silent
from aequitone.procedures.tone.multi_session import (
    MultiPointSession,
    black_came_up,
    change_at,
    change_from,
    exactly,
    read,
    read_ladder,
    read_level,
    read_moved,
    read_whatever_comes,
    remember,
)
from aequitone.procedures.tone.multi_turning import levels_turned
from aequitone.procedures.uninterrupted import insist, insist_on_reading, nothing
from aequitone.signal import grey_patch

# What is between two levels is looked at once, where a level is turned so far that it must show.
_PROBED_STEPS = 3.0
# Going over the same level again: once is for learning, twice would be hunting.
_TRIES = 2
# So many trips in a row that had to be undone end it.
_PATIENCE = 3
# Spreads of the difference by which a ladder must be better than as found.
_DOUBT = 0.7


def level_by_level(session: MultiPointSession) -> Procedure[None]:
    """Turn the levels that are worth a trip, one at a time. Raises StopHere where that is wished."""
    pending = nothing()
    while True:
        try:
            yield from pending
            pending = nothing()
            proposal = session.planner.propose(session.tracked, session.effect, session.grid, session.open)
            if proposal is not None:
                level, move = proposal
                session.why = why_words(
                    session.planner, session.tracked, session.effect, session.grid, level, move
                )
                yield Progress(len(session.trips), len(session.trips) + 1, session.state(move))
                yield from _carry_out(session, level, move)
                continue
            if session.tries:
                yield from _ended(session)
            return
        except PutBack:
            pending = _put_back(session)
        except ReadAgain:
            pending = read_level(session, session.last)


def _ended(session: MultiPointSession) -> Procedure[None]:
    """Read what moved, undo what bends the ramp, and go back where the ladder was better as found."""
    yield from read_moved(session)
    found = session.found
    assert found is not None
    smoothed = False
    while (way := smoothing(session.effect, session.grid, session.found_grid)) is not None:
        level, move = way
        yield Note(f"{session.grid.percents[level]} % goes back: a ramp would show it.")
        yield from _undo(session, level, move)
        smoothed = True
    if smoothed:
        yield from read_moved(session)
    now = session.ladder
    # The ladder as it was found is only left for one that is better beyond a doubt.
    if now.is_better(found, _DOUBT * float(np.hypot(now.sd, found.sd))):
        session.best = now
        return
    if session.grid.controls != session.found_grid.controls:
        yield Note("The ladder is no better than it was found, so the controls go back.")
        yield from _back(session, session.found_grid)


def _back(session: MultiPointSession, grid: Grid) -> Procedure[None]:
    """Turn everything to how it stood, level by level, and read what moves with it."""
    before = session.xyz.copy()
    turned = [(level, move) for level, move in enumerate(ways_back(session.grid, grid)) if move.changes]
    for _, move in turned:
        yield from insist(Turn(move))
    session.grid = grid
    yield from read_moved(session)
    for level, move in turned:
        remember(session, level, move, before[session.row(level)])


def _carry_out(session: MultiPointSession, level: int, move: Move) -> Procedure[None]:
    """Have a level turned, read it, and learn; then look between levels and at black where that matters."""
    stood, by = session.grid.rows[level], session.grid.moved(move.changes).offsets - session.grid.offsets
    between = yield from _between_before(session, level, by)
    row = session.row(level)
    was, noted = session.tracked, session.grid
    made = yield from levels_turned(session, move)
    session.grid = session.grid.moved(made.changes)
    session.tries[level] = session.tries.get(level, 0) + 1
    # What lies above is settled; the level itself stays open for a second try.
    session.open = [i for i in session.open if i > level or (i == level and session.tries[level] < _TRIES)]
    wish: Interrupt | None = None
    while True:
        try:
            yield from read_level(session, row)
            break
        except ReadAgain:
            continue
        except (PutBack, StopHere) as interrupt:
            # Once turned, the reading that goes with it is not given up for a wish.
            wish = interrupt
    if session.plan.by_hand:
        noted, was = take_back(session, noted, was, made)
        stood, by = noted.rows[level], session.grid.offsets - noted.offsets
    before = session.planner.now(was, session.effect, noted.offsets)[row]
    told = _judged(session, level, stood, before)
    slip = yield from _understood(session, level, stood, told, before, repair=wish is None)
    real, _ = take_back(session, noted, was, noted_elsewhere(noted, {level: told}))
    remember(session, level, made, before, slip)
    # What came out worse goes back to where it really stood, which is not always where it was noted.
    back = trip_between(session.grid.rows[level], real.rows[level])
    undone = (
        wish is None and told.mishap is None and (yield from _undone_at_once(session, level, back, by, before))
    )
    if told.mishap is Mishap.BUMP:
        # What was read before it is in another light: nothing between levels can be told by it either.
        whole, session.read = session.read, 0
        try:
            yield from read_ladder(session)
        finally:
            # Stopped meanwhile, the rest stands as it was read before.
            session.read = whole
    elif between is not None and not undone:
        yield from _between_after(session, between, by)
    rose = level == session.adjustable[-1] and by[level].max() > 0 and not undone
    if rose and (yield from black_came_up(session)):
        yield from _undo(session, level, back)
    if wish is not None:
        raise wish


def _undone_at_once(
    session: MultiPointSession, level: int, back: Move, by: Array, before: Array
) -> Procedure[bool]:
    """Undo a trip that its level did not answer, or that left it worse, by `back`; whether that was so.

    `by` (P, 3): the steps of the trip; `before`: XYZ (3,) of its level as it was to be expected without it.
    """
    percent = session.grid.percents[level]
    if is_silent(session.usual[level] * by[level], *change_at(session, session.row(level), before)):
        yield Note(f"{percent} % hardly answers at its own level, so it is put back and left.")
    elif came_out_worse(session.trips[-1], session.planner.unit):
        yield Note(f"{percent} % came out worse than it was, so it is put back.")
    else:
        session.undone = 0
        return False
    yield from _undo(session, level, back)
    session.undone += 1
    if session.undone >= _PATIENCE:
        yield Note("What is turned here comes out worse again and again, so no more is tried.")
        session.open = []
    return True


def _judged(session: MultiPointSession, level: int, stood: tuple[ControlState, ...], before: Array) -> Judgement:
    """What most likely happened on a trip; `stood`: the controls of its level before it."""
    asked = steps_of(trip_between(stood, session.grid.rows[level]), stood)
    if not session.plan.by_hand:
        return Judgement(None, asked, np.zeros(3))
    responses = LevelResponses(session.effect, level, session.grid.light)
    noted = session.plan.grid.rows[level]
    return judge(responses, stood, asked, *change_at(session, session.row(level), before), sure=SURE, noted=noted)


def _understood(
    session: MultiPointSession,
    level: int,
    stood: tuple[ControlState, ...],
    told: Judgement,
    before: Array,
    *,
    repair: bool,
) -> Procedure[str]:
    """Learn what a trip did at its own level, and say what went wrong with it; a slip is mended at once."""
    row, responses = session.row(level), LevelResponses(session.effect, level, session.grid.light)
    change, variance = change_at(session, row, before)
    if told.mishap is not Mishap.BUMP:
        # How much of a bump was the turn cannot be told at one level.
        session.effect = _learnt(session, level, responses.totals(told.steps), change, variance)
    if told.mishap is None:
        return ""
    wanted = session.grid.rows[level]
    asked = np.array([(to.value - was.value) / was.step for to, was in zip(wanted, stood, strict=True)])
    words = slip_words(told, stood, asked, session.grid.percents[level])
    yield Note(words)
    if told.mishap in (Mishap.BUMP, Mishap.NOTED_WRONG):
        return words
    back = trip_between(moved(stood, told.steps), wanted)
    if not repair:
        session.grid = session.grid.moved(back.reverse.changes)
        session.offsets[row] = session.grid.offsets
        return words
    slipped = session.xyz[row].copy()
    yield Progress(len(session.trips) + 1, len(session.trips) + 2, session.state(back))
    yield from insist(Turn(back))
    yield from read_whatever_comes(session, row)
    change, variance = change_at(session, row, slipped)
    session.effect = _learnt(session, level, responses.totals(asked - told.steps), change, variance)
    return words


def _learnt(session: MultiPointSession, level: int, steps: Array, change: Array, variance: Array) -> PointEffect:
    """What is known once a level has changed so, (3,), by so many steps of it, (3,)."""
    by = np.zeros((len(session.grid.percents), 3))
    by[level] = steps
    return session.effect.learn(session.grid.signal[[level]], by, change[None], variance[None])


def _between_before(session: MultiPointSession, level: int, by: Array) -> Procedure[tuple[float, Array] | None]:
    """A reading halfway to the next darker level, where this move will show whether the screen joins the two."""
    darker = level + 1
    known = session.effect.joined_sd < JOINED_KNOWN
    if known or darker >= len(session.grid.percents) or np.abs(by[level]).max() < _PROBED_STEPS:
        return None
    percent = (session.grid.percents[level] + session.grid.percents[darker]) / 2.0
    reading = yield from read(session, percent)
    return percent, reading.xyz


def _between_after(session: MultiPointSession, between: tuple[float, Array], by: Array) -> Procedure[None]:
    percent, before = between
    patch = grey_patch(percent, session.plan.format)
    policy = exactly(session.plan.target, float(before[1]), float(session.xyz[0, 1]))
    reading = yield from insist_on_reading(patch, policy, Purpose.ADJUST)
    change, variance = change_from(before, reading.xyz, reading.sd, session.planner.gamut)
    session.effect = session.effect.learn(np.array([patch.percent / 100.0]), by, change[None], variance[None])


def _put_back(session: MultiPointSession) -> Procedure[None]:
    """Undo the last move that has not been undone."""
    last = last_standing([trip.move for trip in session.trips])
    if last is None:
        yield Note("There is no move to put back.")
        return
    trip = session.trips[last]
    assert trip.percent is not None
    yield from _undo(session, session.grid.percents.index(trip.percent), session.back_of(trip.move))


def _undo(session: MultiPointSession, level: int, back: Move) -> Procedure[None]:
    """Turn a level back and read it; it is not proposed again."""
    before, back = session.xyz[session.row(level)].copy(), replace(back, undoes=True)
    yield from insist(Turn(back))
    session.grid = session.grid.moved(back.changes)
    session.open = [i for i in session.open if i > level]
    yield from read_whatever_comes(session, session.row(level))
    remember(session, level, back, before)
