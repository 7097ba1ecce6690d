"""A move that is worked out anew, where a person finds a control elsewhere than it was held to stand."""

from aequitone.advice.by_hand.standing import as_noted
from aequitone.advice.moves import ControlState, Move, moved, steps_of, stood_off, trip_between
from aequitone.procedures.steps import Interrupt, Note, Procedure, Progress
from aequitone.procedures.watch_levels import two_point_sights
from aequitone.procedures.watching import turned
from aequitone.procedures.white.session import WhiteSession

_ANEW = "What to turn is worked out anew, from where the controls stand."


def turned_by_what_stands(session: WhiteSession, move: Move) -> Procedure[Move]:
    """Have a move made; where a control stands off its way, another one, from there, in the same walk.

    Returns the move as made, from where the controls were held to stand, with what the person said of that: once
    it is read the light tells whether it was so when grey was read last.
    """
    sights = two_point_sights(session, move)
    untouched = yield from turned(move, session.plan.format, sights, heeds=not move.undoes)
    if not untouched.is_untouched:
        return untouched
    off = stood_off(as_noted(untouched, untouched, session.controls), session.controls)
    there = session.supposing(off)
    proposed = _proposed(there, moved(session.controls, steps_of(move, session.controls)))
    yield Note(_ANEW)
    yield Progress(len(session.trips), len(session.trips) + 1, there.state(proposed))
    try:
        made = yield from turned(proposed, session.plan.format, two_point_sights(there, proposed))
    except Interrupt:
        # Nothing is turned, so no light will tell: what the person saw in the menu is all there is.
        session.believe(off)
        raise
    return as_noted(made, untouched, session.controls)


def _proposed(there: WhiteSession, to: tuple[ControlState, ...]) -> Move:
    """What to turn from there: to where it was asked before, if nothing is worth a trip any more."""
    assert there.seen is not None
    proposal = there.mover.propose(there.seen, there.responses, there.controls)
    return proposal if isinstance(proposal, Move) else trip_between(there.controls, to)
