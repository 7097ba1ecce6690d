"""Moves of a colour management: made, felt by the colours, and learnt from."""

from dataclasses import replace

import numpy as np

from aequitone.advice.colours import Asked
from aequitone.advice.moves import Move, moved, stands_as_asked, steps_of, stood_off, trip_between
from aequitone.procedures.colour.manage_looks import felt_by, held, look_after
from aequitone.procedures.colour.manage_plan import ColourTrip
from aequitone.procedures.colour.manage_session import ManageSession
from aequitone.procedures.steps import Done, Note, Procedure, Progress, Turn, Watch
from aequitone.procedures.uninterrupted import insist
from aequitone.procedures.watching import turned_as_far


def turned(session: ManageSession, move: Move) -> Procedure[Move]:
    """Have a move made; there is no one light to watch meanwhile. Returns it as it was made."""
    return (yield from turned_as_far(move, session.controls, _turned))


def _turned(move: Move, heeds: bool) -> Procedure[Move]:
    while True:
        try:
            made: Move = yield Turn(move, heeds=heeds)
            return made
        except (Watch, Done):
            continue


def after(session: ManageSession, move: Move) -> Procedure[None]:
    """Read what a move is felt by, learn from it and remember it; a slip of the hand is mended at once."""
    average, asked = session.average(), _asked(session, move)
    session.controls = to = moved(session.controls, asked.steps)
    session.felt(_moved_rows(session, move), asked.steps)
    by_hand = session.plan.by_hand
    # A slip of the hand may be in any colour.
    surprise = yield from look_after(session, move, asked if by_hand else None, doubted=not by_hand)
    session.trips.append(ColourTrip(move, average, session.average(), spread_of(session), surprise))
    if surprise:
        yield from held(session, Note(surprise))
    if session.controls != to:
        yield from turned_beside(session, trip_between(session.controls, to))


def spread_of(session: ManageSession) -> float:
    """How far the average ΔE of the colours may be off by the noise of their readings."""
    colours = session.colours
    return float(np.nanmean(colours.errors.by(colours.formula)[1])) / 2.0


def turned_beside(session: ManageSession, move: Move) -> Procedure[None]:
    """Have a move made that mends or tries another one, and read what it is felt by: it is no trip of its own."""
    yield from held(session, Progress(len(session.trips), len(session.trips) + 1, session.state(move)))
    made: Move = yield from insist(Turn(move))
    asked = replace(_asked(session, made), slips=False)
    session.controls = moved(session.controls, asked.steps)
    session.felt(_moved_rows(session, move), asked.steps)
    yield from look_after(session, move, asked if session.plan.by_hand else None)


def _asked(session: ManageSession, move: Move) -> Asked:
    controls = session.controls
    return Asked(steps_of(move, controls), stood_off(move, controls), stands_as_asked(move, controls))


def _moved_rows(session: ManageSession, move: Move) -> list[int]:
    """Rows of the samples that a move may have moved: saturations beside its colours, and every everyday one."""
    everyday = [row for row, sample in enumerate(session.plan.samples) if sample.is_everyday]
    return [*felt_by(session, move), *everyday]
