"""Slips of a hand on a trip to several levels of multi-point: each level is judged by what was read of it."""

from collections.abc import Iterable, Mapping

import numpy as np

from aequitone.advice.moves import Move, looked_at, moved, trip_between
from aequitone.advice.points import Grid, PointEffect, Tracked
from aequitone.advice.points.level import SURE, LevelResponses, slip_words
from aequitone.advice.two_point.guards import Judgement, Mishap, judge
from aequitone.advice.two_point.level_readings import log_light
from aequitone.colorimetry.arrays import Array, Mask
from aequitone.procedures.steps import Note, Procedure, Turn
from aequitone.procedures.tone.multi_judging import BestLadder
from aequitone.procedures.tone.multi_session import (
    MultiPointSession,
    change_at,
    change_from,
    read_whatever_comes,
)
from aequitone.procedures.uninterrupted import insist

# What is moved by a level by no more than this share of what the level itself is, tells nothing of its slip.
_NOT_FELT = 0.05
_ROUNDS, _MOST_SLIPS = 4, 0.5
# Light of white that changes by more, in logarithm and in spreads, has not drifted: the meter has moved.
_BUMP, _SIGMAS = 0.02, 5.0
# ΔE 2000 of a level from how it read at the same settings, and so many spreads, that is no drift.
_UNLIKE, _SPREADS = 0.6, 4.0
# ΔE 2000 of a level that a slip must make to be spoken of.
_MINOR = 0.5
# The share of black in the light of a level from which the level tells nothing.
_BURIED = 0.5
# Levels that a person looks at from one list.
_AT_ONCE = 6


def slips_of(session: MultiPointSession, stood: Grid, was: Tracked) -> dict[int, Judgement]:
    """What most likely happened at the levels (rows of the grid) that did not come as asked for.

    The ladder was read after a trip from `stood`, where it was read as `was`, to where the session has the grid.
    Each level is judged by what the others have taught of the screen, and what they were asked for is taken as
    made; then once more by those that seem sound, until it is the same ones.
    """
    moved_levels = np.flatnonzero((session.grid.offsets != stood.offsets).any(axis=1))
    turned = [int(level) for level in moved_levels if not _is_buried(session, int(level))]
    seeming: dict[int, Judgement] = {}
    for _ in range(_ROUNDS):
        judged = {level: _judged(session, stood, was, level, {level, *seeming}) for level in turned}
        before = set(seeming)
        seeming = {level: told for level, told in judged.items() if _is_believed(session, level, told)}
        if set(seeming) == before:
            break
    amounts = [told.mishap in (Mishap.WRONG_COUNT, Mishap.NOTED_WRONG) for told in seeming.values()]
    if all(amounts) and len(amounts) > max(1.0, _MOST_SLIPS * len(turned)):
        # Nobody counts or notes wrong at most levels of a trip: the steps of this screen are unusual ones.
        return {}
    return {
        level: told
        for level, told in seeming.items()
        if level not in session.doubted and _is_seen(session, stood, level, told)
    }


def _is_buried(session: MultiPointSession, level: int) -> bool:
    """Whether most of a level's light is black's, which drifts: what its own controls do is hardly seen there."""
    tracked = session.tracked
    return tracked.black > _BURIED * float(tracked.xyz[session.row(level), 1])


def _is_seen(session: MultiPointSession, stood: Grid, level: int, told: Judgement) -> bool:
    """Whether what went wrong at a level makes a difference that is worth a word."""
    row, planner = session.row(level), session.planner
    responses = LevelResponses(session.effect, level, session.grid.light)
    off = responses.predict(_asked(stood, session.grid, level)) - responses.predict(told.steps)
    right = planner.gamut.xyz(np.exp(log_light(session.xyz[[row]], planner.gamut).reshape(-1, 3) + off))
    difference = planner.formula.between(right, session.xyz[[row]], session.xyz[[0]])
    return float(difference[0]) / planner.unit > _MINOR


def _is_believed(session: MultiPointSession, level: int, told: Judgement) -> bool:
    """Whether a slip is said of a level; a wrong number of steps only where its steps were measured before."""
    return told.mishap is not None and (told.mishap is not Mishap.WRONG_COUNT or level in session.turned)


def bump_of(session: MultiPointSession, stood: Grid, was: Tracked) -> float:
    """By how much all light has changed beside a trip, as a share; 0 where it has not, or cannot be told.

    It is told from 100 %, where nothing was turned that is felt there.
    """
    by = session.grid.offsets - stood.offsets
    felt = np.abs(session.effect.weights(np.array([1.0])) @ by)
    if float(felt.max()) > _BUMP / 10.0:
        return 0.0
    change, variance = change_from(was.xyz[0], session.xyz[0], session.sd[0], session.planner.gamut)
    light = float(change.mean())
    sure = _SIGMAS * float(np.sqrt(variance.mean()))
    return float(np.expm1(light)) if abs(light) > max(_BUMP, sure) else 0.0


def bump_words(share: float) -> str:
    """What to say of a bump."""
    return (
        f"All light changed by {share * 100.0:+.1f} % beside what was turned: it seems that the meter has moved, "
        "or something fell on it. Check that it hangs as before. The ladder is read from the start."
    )


def slipped_words(session: MultiPointSession, stood: Grid, slips: Mapping[int, Judgement]) -> str:
    """What to say of the slips of a trip from `stood`."""
    wanted = session.grid
    return " ".join(
        slip_words(told, stood.rows[level], _asked(stood, wanted, level), wanted.percents[level])
        for level, told in slips.items()
    )


def sound_rows(session: MultiPointSession, levels: Iterable[int]) -> Mask:
    """Which rows of the ladder, (L,), are felt by none of these levels: what moved there was no slip."""
    felt = np.abs(session.effect.weights(np.array(session.percents) / 100.0)) > _NOT_FELT * session.effect.own
    return np.asarray(~felt[:, sorted(levels)].any(axis=1))


def take_as_turned(session: MultiPointSession, stood: Grid, slips: Mapping[int, Judgement]) -> Move:
    """Take the controls to stand where the slips left them; returns the move that mends them."""
    wanted = session.grid
    changes = tuple(
        change
        for level, told in slips.items()
        for change in trip_between(wanted.rows[level], moved(stood.rows[level], told.off + told.steps)).changes
    )
    fresh = (session.offsets == wanted.offsets).all(axis=(1, 2))
    session.grid = wanted.moved(changes)
    session.offsets[fresh] = session.grid.offsets
    return trip_between(session.grid.controls, wanted.controls)


def see_that_it_stands(session: MultiPointSession, ladder: BestLadder) -> Procedure[bool]:
    """Have the levels set once more that do not read as they did when the controls stood as they should now.

    Returns whether it reads as it did in the end; otherwise something was noted wrong.
    """
    levels = _unlike(session, ladder)
    # One reading can be off by itself; another one costs no walk.
    for level in levels:
        yield from read_whatever_comes(session, session.row(level))
    levels = [level for level in _unlike(session, ladder) if level in levels]
    if not levels:
        return True
    named = ", ".join(f"{session.grid.percents[level]} %" for level in levels)
    reads = "do not read as they did" if len(levels) > 1 else "does not read as it did"
    yield from insist(Note(f"{named} {reads} at these settings: see in the menu that they stand as listed."))
    for at in range(0, len(levels), _AT_ONCE):
        stand = (control for level in levels[at : at + _AT_ONCE] for control in session.grid.rows[level])
        yield from insist(Turn(looked_at(stand)))
    for level in levels:
        yield from read_whatever_comes(session, session.row(level))
    return not _unlike(session, ladder)


def _unlike(session: MultiPointSession, ladder: BestLadder) -> list[int]:
    """The levels that read otherwise now than on a ladder with the same settings."""
    if ladder.xyz is None or ladder.grid != session.grid or len(ladder.xyz) != len(session.xyz):
        return []
    tracked, planner = session.tracked, session.planner
    rows = [session.row(level) for level in session.adjustable]
    white = np.broadcast_to(session.xyz[0], (len(rows), 3))
    off = planner.formula.between(session.xyz[rows], ladder.xyz[rows], white) / planner.unit
    doubt = np.maximum(_UNLIKE, _SPREADS * planner.spreads(tracked)[rows])
    far = [level for level, is_far in zip(session.adjustable, off > doubt, strict=True) if is_far]
    return [level for level in far if not _is_buried(session, level)]


def _judged(
    session: MultiPointSession, stood: Grid, was: Tracked, level: int, doubtful: Iterable[int]
) -> Judgement:
    """What most likely happened at a level; `doubtful`: levels that nothing is to be learnt from."""
    effect, row = _taught(session, stood, was, doubtful), session.row(level)
    without = session.grid.offsets.copy()
    without[level] = stood.offsets[level]
    before = session.planner.now(was, effect, without)[row]
    change, variance = change_at(session, row, before)
    responses, asked = LevelResponses(effect, level, session.grid.light), _asked(stood, session.grid, level)
    # A meter that has moved is seen at all levels, and not told from one of them.
    noted = session.plan.grid.rows[level]
    return judge(responses, stood.rows[level], asked, change, variance, sure=SURE, bumps=False, noted=noted)


def _taught(session: MultiPointSession, stood: Grid, was: Tracked, doubtful: Iterable[int]) -> PointEffect:
    """What is known of the screen after a trip from `stood`, but for what the doubtful levels are felt by."""
    signal = np.array(session.percents) / 100.0
    by = session.grid.offsets - stood.offsets
    fresh = (session.offsets == session.grid.offsets).all(axis=(1, 2))
    rows = np.flatnonzero(fresh & sound_rows(session, doubtful))
    if not len(rows):
        return session.effect
    before = session.planner.now(was, session.effect, stood.offsets)[rows]
    change, variance = change_from(before, session.xyz[rows], session.sd[rows], session.planner.gamut)
    return session.effect.learn(signal[rows], by, change, variance)


def _asked(stood: Grid, wanted: Grid, level: int) -> Array:
    """Steps (3 or 4,) of each control of a level, as it was asked for."""
    pairs = zip(wanted.rows[level], stood.rows[level], strict=True)
    return np.array([(to.value - was.value) / was.step for to, was in pairs])
