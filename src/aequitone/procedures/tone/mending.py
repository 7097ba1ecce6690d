"""Slips of a trip to several levels, mended: by the way on the next trip, or on one of their own."""

from dataclasses import replace

from aequitone.advice.moves import Move, trip_between
from aequitone.procedures.steps import Interrupt, Procedure, Turn
from aequitone.procedures.tone.level_stands import noted_wrong, take_back
from aequitone.procedures.tone.multi_session import MultiPointSession, Unmended, read_moved
from aequitone.procedures.uninterrupted import insist


def with_mend(session: MultiPointSession, move: Move) -> Move | None:
    """A trip that makes a move and mends the last slips; None where both turn the same levels.

    `move`: planned from where the controls stand once the slips are mended.
    """
    assert session.unmended is not None
    mend = session.unmended.mend
    if set(mend.levels) & set(move.levels):
        return None
    to = session.grid.moved((*mend.changes, *move.changes))
    told = move.expected
    if told is not None:
        # Before the trip the ladder is as the slips have left it.
        now = session.planner.unit * session.ladder.mean
        told = replace(told, de2000_before=max(now, told.de2000_before))
    return replace(move, changes=trip_between(session.grid.controls, to.controls).changes, expected=told)


def mends(session: MultiPointSession, move: Move) -> bool:
    """Whether a move mends the last slips by the way."""
    if session.unmended is None:
        return False
    turned = {change.role for change in move.changes}
    return all(change.role in turned for change in session.unmended.mend.changes)


def mended(session: MultiPointSession) -> Procedure[Interrupt | None]:
    """Have the last slips mended on a trip of their own, and read; a wish that came meanwhile is returned."""
    unmended, session.unmended = session.unmended, None
    assert unmended is not None
    slipped_to, seen_so = session.grid, session.tracked
    made: Move = yield from insist(Turn(unmended.mend))
    session.grid = session.grid.moved(unmended.mend.changes)
    wish = yield from read_moved(session, whatever_comes=True)
    take_back(session, slipped_to, seen_so, made)
    hand_was_right(session, unmended, made)
    session.ladders.append(session.ladder)
    return wish


def hand_was_right(session: MultiPointSession, unmended: Unmended, made: Move) -> None:
    """Correct where controls began, if the hand was right after all; `made`: the move that was to mend it."""
    began = noted_wrong(session.plan.grid, unmended.stood, unmended.slips, made)
    take_back(session, unmended.stood, unmended.was, began)
