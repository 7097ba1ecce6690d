"""Multi-point, several levels in a trip, the ladder read again, and once more from what that has taught.

By link all levels that gain by it go in one trip; a person turns as many as they can keep in mind.
"""

from collections.abc import Mapping, Set
from dataclasses import dataclass, field, replace

import numpy as np

from aequitone.advice.moves import Move, last_standing, trip_between
from aequitone.advice.points import Grid, Tracked, TripLimit, is_smooth, smoothed, ways_back
from aequitone.advice.points.ramp import JOINED_KNOWN
from aequitone.advice.points.words import displaced_words, why_together_words
from aequitone.advice.two_point.guards import Judgement
from aequitone.colorimetry.arrays import Mask
from aequitone.procedures.steps import (
    Interrupt,
    Note,
    Procedure,
    Progress,
    Purpose,
    PutBack,
    ReadAgain,
    Reading,
    Turn,
)
from aequitone.procedures.tone.level_slips import (
    bump_of,
    bump_words,
    see_that_it_stands,
    slipped_words,
    slips_of,
    sound_rows,
    take_as_turned,
)
from aequitone.procedures.tone.level_stands import noted_elsewhere, take_back
from aequitone.procedures.tone.mending import hand_was_right, mended, mends, with_mend
from aequitone.procedures.tone.multi_judging import BestLadder
from aequitone.procedures.tone.multi_plan import PointTrip
from aequitone.procedures.tone.multi_session import (
    MultiPointSession,
    Unmended,
    black_came_up,
    change_from,
    exactly,
    read,
    read_ladder,
    read_moved,
    read_whatever_comes,
)
from aequitone.procedures.tone.multi_turning import levels_turned
from aequitone.procedures.uninterrupted import insist, insist_on_reading, nothing

# What a person turns in one trip, and goes back by.
_BY_HAND = TripLimit(levels=6, controls=12)
# So often a person goes to the menu for as many levels as a link turns at once.
_TRIPS_A_ROUND = 3
# Trips that may fail to better the ladder before what is known of the screen is called not good enough.
_PATIENCE = 2
# Spreads of the difference by which a ladder must be better than as found.
_DOUBT = 0.7
# What a step does is known to a few per cent: a ramp that bends by so much of what it may is smooth enough.
_NEARLY = 1.05
# A ladder that is better by less, in ΔE, is not worth that anything was turned.
_NO_SERVICE = 0.08
# A level whose light is not known better than this, in logarithm, teaches nothing.
_TELLING = 0.15


def whole_ladder(session: MultiPointSession) -> Procedure[None]:
    """Turn all levels that gain by it, as often as that promises enough; ends at the best ladder as read.

    Raises StopHere where that is wished: the controls then stay as they stand.
    """
    stands = yield from _brought(session)
    if not stands:
        words = "It still reads otherwise, so a setting was noted wrong: it goes on from how the ladder reads now."
        yield from insist(Note(words))
        session.begin_here()
        yield from _brought(session)


def _brought(session: MultiPointSession) -> Procedure[bool]:
    """Turn, read and go to the best ladder; whether it reads there as it did."""
    pending, failed = nothing(), 0
    while True:
        try:
            yield from pending
            pending = nothing()
            move = proposed(session) if failed < _PATIENCE else None
            if move is None and session.unmended is not None:
                pending = _mended(session)
                continue
            if move is None:
                break
            session.why = why_together_words(session.effect, session.grid, move)
            yield Progress(len(session.trips), len(session.trips) + 1, session.state(move))
            better = yield from _carried_out(session, move)
            # What a slip has done is no failure of the plan.
            failed = 0 if better else failed + (session.unmended is None)
        except PutBack:
            session.unmended = None
            pending = _put_back(session)
        except ReadAgain:
            session.read = 0
            pending = read_ladder(session)
    return (yield from _settled(session))


def proposed(session: MultiPointSession) -> Move | None:
    """The next trip; None where none is worth it."""
    by_hand, rounds = session.plan.by_hand, session.plan.rounds
    if _is_displaced(session) or session.round >= (_TRIPS_A_ROUND * rounds if by_hand else rounds):
        return None
    grid, levels = session.grid, session.adjustable
    if session.unmended is not None:
        grid = grid.moved(session.unmended.mend.changes)
        levels = [level for level in levels if level not in session.unmended.slips]
    move = session.planner.propose_together(
        session.tracked, session.effect, grid, levels, _BY_HAND if by_hand else None
    )
    return move if move is None or session.unmended is None else with_mend(session, move)


def _mended(session: MultiPointSession) -> Procedure[None]:
    """Mend the last slips on a trip of their own, and keep the ladder if it is the best so far."""
    wish = yield from mended(session)
    _kept_if_best(session)
    if wish is not None:
        raise wish


def _carried_out(session: MultiPointSession, move: Move) -> Procedure[bool]:
    """Have the levels turned, read what has moved, and learn; whether the ladder is the best so far."""
    between = yield from _between_before(session, move)
    darkest = session.adjustable[-1]
    stood = session.grid.offsets[darkest]
    made = yield from levels_turned(session, move)
    session.round += 1
    wish = yield from _read_after(session, made, between)
    raised = bool((session.grid.offsets[darkest] > stood).any())
    if raised and (yield from black_came_up(session)):
        own = tuple(change for change in made.changes if change.role.level == session.grid.percents[darkest])
        # A ladder with a lifted black is none to go back to, nor one that slips have spoilt.
        if session.unmended is None:
            session.ladders.pop()
        yield from _turned_back(session, Move(own).reverse)
    better = session.unmended is None and _kept_if_best(session)
    if wish is not None:
        raise wish
    return better


def _kept_if_best(session: MultiPointSession) -> bool:
    """Remember the ladder as it was read last where it is the best so far; whether it is."""
    assert session.best is not None
    ladder = session.ladder
    better = _is_better_than_found(session, ladder) and ladder.is_better(session.best, 0.0)
    if better:
        session.best = ladder
    return better


def _between_before(session: MultiPointSession, move: Move) -> Procedure[Reading | None]:
    """A reading half way between two levels that go far, where it is not known whether the screen joins them.

    Where it does not, each level is a bump of its own, and a ramp shows it.
    """
    of_levels = set(session.grid.percents)
    if session.effect.joined_sd < JOINED_KNOWN or not of_levels.issuperset(session.plan.percents):
        return None
    by = session.grid.moved(move.changes).offsets - session.grid.offsets
    both = np.abs(by[:-1] + by[1:]).max(axis=1) * session.effect.own[:-1]
    level = int(both.argmax())
    percent = (session.grid.percents[level] + session.grid.percents[level + 1]) / 2.0
    return (yield from read(session, percent)) if both[level] > 0.0 else None


@dataclass(frozen=True)
class _Went:
    """How a trip really went: from where, where the ladder was tracked as `was`, and the slips by level."""

    stood: Grid
    was: Tracked
    slips: Mapping[int, Judgement] = field(default_factory=dict)
    words: str = ""
    """What there was to say of the slips."""


def _read_after(
    session: MultiPointSession, move: Move, between: Reading | None = None
) -> Procedure[Interrupt | None]:
    """Read what a trip has moved, learn from it, and remember it; a wish that came meanwhile is returned.

    `between`: what was read between two levels before the trip.
    """
    mean, went, offsets = session.ladder.mean, _Went(session.grid, session.tracked), session.offsets.copy()
    unmended = session.unmended if mends(session, move) else None
    if unmended is not None:
        session.unmended = None
    session.grid = session.grid.moved(move.changes)
    wish = yield from read_moved(session, whatever_comes=True)
    if session.plan.by_hand and (bump := bump_of(session, went.stood, went.was)):
        yield from insist(Note(bump_words(bump)))
        return (yield from _read_anew(session, move, mean, wish))
    moved_rows = np.any(session.offsets != offsets, axis=(1, 2))
    if session.plan.by_hand:
        session.feel(went.was, moved_rows)
        if not _is_displaced(session):
            went = yield from _judged(session, went, move)
        if unmended is not None:
            hand_was_right(session, unmended, move)
    guessed = {*went.slips, *(unmended.slips if unmended is not None else ())}
    yield from _learnt(session, went, moved_rows, guessed, between)
    _remember(session, move, mean, went.words)
    return wish


def _judged(session: MultiPointSession, went: _Went, move: Move) -> Procedure[_Went]:
    """What really happened on a trip that a person made and that was read; a slip is said."""
    stood, was = take_back(session, went.stood, went.was, move)
    slips = slips_of(session, stood, was)
    if not slips:
        return _Went(stood, was)
    words = slipped_words(session, stood, slips)
    yield from insist(Note(words))
    mend = take_as_turned(session, stood, slips)
    session.doubted.update(slips)
    stood, was = take_back(session, stood, was, noted_elsewhere(stood, slips))
    if mend.changes:
        session.unmended = Unmended(stood, was, slips, mend)
    return _Went(stood, was, slips, words)


def _learnt(
    session: MultiPointSession, went: _Went, moved_rows: Mask, guessed: Set[int], between: Reading | None
) -> Procedure[None]:
    """Learn from the rows that a trip has moved, and from between two levels where that was read before.

    `guessed`: levels of which it is only guessed where they stand, or stood: they teach nothing of the screen.
    """
    rows = np.flatnonzero(moved_rows)
    before = session.planner.now(went.was, session.effect, went.stood.offsets)
    by = session.grid.offsets - went.stood.offsets
    signal, light = np.array(session.percents)[rows] / 100.0, before[rows]
    now, sd = session.xyz[rows], session.sd[rows]
    if between is not None:
        policy = exactly(session.plan.target, between.Y, float(session.xyz[0, 1]))
        again: Reading = yield from insist_on_reading(between.patch, policy, Purpose.ADJUST)
        signal = np.append(signal, between.patch.percent / 100.0)
        light, now, sd = (np.vstack(each) for each in ((light, between.xyz), (now, again.xyz), (sd, again.sd)))
    seen, variance = change_from(light, now, sd, session.planner.gamut)
    told = variance.max(axis=1, initial=0.0) < _TELLING**2
    if guessed:
        told[: len(rows)] &= sound_rows(session, guessed)[rows]
        told[len(rows) :] = False
    if told.any():
        session.effect = session.effect.learn(signal[told], by, seen[told], variance[told])
    turned_levels = np.flatnonzero(by.any(axis=1))
    session.turned.update(int(level) for level in turned_levels if level not in went.slips)


def _read_anew(
    session: MultiPointSession, move: Move, mean: float, wish: Interrupt | None
) -> Procedure[Interrupt | None]:
    """Read the whole ladder after a trip on which the meter has moved: nothing is learnt by it.

    `mean`: ΔE before the trip. What was read in another light is nothing to go back to.
    """
    for row in range(len(session.percents) - session.foot):
        yield from read_whatever_comes(session, row)
    _remember(session, move, mean, "")
    ladder = session.ladder
    session.ladders = [ladder]
    session.best = session.found = ladder
    return wish


def _remember(session: MultiPointSession, move: Move, mean: float, slip: str) -> None:
    """Enter a trip into the history; `mean`: ΔE of the ladder before it."""
    ladder, unit = session.ladder, session.planner.unit
    if session.unmended is None:
        session.ladders.append(ladder)
    session.trips.append(PointTrip(move, None, unit * mean, unit * ladder.mean, unit * ladder.sd, slip))


def _put_back(session: MultiPointSession) -> Procedure[None]:
    """Undo the last trip that has not been undone."""
    last = last_standing([trip.move for trip in session.trips])
    if last is None:
        yield Note("There is no move to put back.")
    else:
        yield from _turned_back(session, session.back_of(session.trips[last].move))


def _settled(session: MultiPointSession) -> Procedure[bool]:
    """Go to the best ladder as read whose ramp is smooth; to how it was found, where none is better.

    Returns whether it reads there as it did, as far as a person turns.
    """
    assert session.best is not None and session.found is not None
    if _is_displaced(session):
        yield from insist(Note(displaced_words(session.grid.percents, session.scale)))
        yield from _turned_to(session, session.found_grid)
        return True
    if not _is_smooth(session, session.best.grid):
        yield Note("A part of it goes back: a ramp would show it.")
        yield from _turned_to(session, smoothed(session.effect, session.best.grid, session.found_grid))
    smooth = [each for each in session.ladders if _is_smooth(session, each.grid)]
    better = [each for each in smooth if _is_better_than_found(session, each)]
    best = min(better, key=lambda each: each.score, default=session.found)
    if session.grid != best.grid:
        yield Note(
            "The ladder was better before that, so the controls go back."
            if better
            else "The ladder is no better than it was found, so the controls go back."
        )
        yield from _turned_to(session, best.grid)
    return not session.plan.by_hand or (yield from see_that_it_stands(session, best))


def _is_displaced(session: MultiPointSession) -> bool:
    """Whether a person cannot find the levels by their names: what they turn is not felt there."""
    return session.plan.by_hand and session.scale != 1.0


def _is_better_than_found(session: MultiPointSession, ladder: BestLadder) -> bool:
    """Whether a ladder as it was read is better than as found, beyond a doubt."""
    assert session.found is not None
    doubt = _DOUBT * float(np.hypot(ladder.sd, session.found.sd))
    # By hand it is the way back that is no service: for a link it is one trip, and no hand slips on it.
    return ladder.is_better(session.found, doubt if session.plan.by_hand else max(doubt, _NO_SERVICE))


def _is_smooth(session: MultiPointSession, grid: Grid) -> bool:
    return is_smooth(session.effect, grid, session.found_grid, _NEARLY)


def _turned_to(session: MultiPointSession, grid: Grid) -> Procedure[None]:
    if not session.plan.by_hand:
        yield from _turned_back(session, replace(trip_between(session.grid.controls, grid.controls), undoes=True))
        return
    # Nobody turns sixty controls from one list.
    levels = [move.changes for move in ways_back(session.grid, grid) if move.changes]
    for at in range(0, len(levels), _BY_HAND.levels):
        changes = tuple(change for level in levels[at : at + _BY_HAND.levels] for change in level)
        yield from _turned_back(session, Move(changes, undoes=True))


def _turned_back(session: MultiPointSession, move: Move) -> Procedure[None]:
    """Turn controls back and read what moves with them, whatever is wished meanwhile."""
    made: Move = yield from insist(Turn(move))
    wish = yield from _read_after(session, made)
    if session.unmended is not None:
        wish = (yield from mended(session)) or wish
    if wish is not None:
        raise wish
