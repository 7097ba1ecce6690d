"""Moves of a colour management: made, felt by the colours, and learnt from."""

import numpy as np

from aequitone.advice.moves import Move, moved, steps_of, trip_between
from aequitone.advice.two_point.guards import words as guard_words
from aequitone.procedures.colour.manage_looks import felt_by, held, look_after
from aequitone.procedures.colour.manage_plan import ColourTrip
from aequitone.procedures.colour.manage_session import ManageSession
from aequitone.procedures.steps import Done, Note, Procedure, Progress, Turn, Watch
from aequitone.procedures.uninterrupted import insist


def turned(move: Move) -> Procedure[None]:
    """Have a move made; there is no one light to watch meanwhile."""
    while True:
        try:
            yield Turn(move)
            return
        except (Watch, Done):
            continue


def after(session: ManageSession, move: Move) -> Procedure[None]:
    """Read what a move is felt by, learn from it and remember it; a slip of the hand is mended at once."""
    average, steps = session.average(), steps_of(move, session.controls)
    session.controls = to = moved(session.controls, steps)
    session.felt(_moved_rows(session, move), steps)
    judged = yield from look_after(session, move, steps if session.plan.by_hand else None)
    surprise = "" if judged is None else guard_words(judged, moved(to, -steps), steps)
    colours = session.colours
    spread = float(np.nanmean(colours.errors.by(colours.formula)[1])) / 2.0
    session.trips.append(ColourTrip(move, average, session.average(), spread, surprise))
    if surprise:
        yield from held(session, Note(surprise))
    if session.controls != to:
        yield from turned_beside(session, trip_between(session.controls, to))


def turned_beside(session: ManageSession, move: Move) -> Procedure[None]:
    """Have a move made that mends or tries another one, and read what it is felt by: it is no trip of its own."""
    yield from held(session, Progress(len(session.trips), len(session.trips) + 1, session.state(move)))
    yield from insist(Turn(move))
    steps = steps_of(move, session.controls)
    session.controls = moved(session.controls, steps)
    session.felt(_moved_rows(session, move), steps)
    yield from look_after(session, move, None)


def _moved_rows(session: ManageSession, move: Move) -> list[int]:
    """Rows of the samples that a move may have moved: saturations beside its colours, and every everyday one."""
    everyday = [row for row, sample in enumerate(session.plan.samples) if sample.is_everyday]
    return [*felt_by(session, move), *everyday]
