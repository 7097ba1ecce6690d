"""A trip of multi-point, as a person makes it: watched level by level, and from where they find its controls."""

from dataclasses import replace

from aequitone.advice.moves import Move
from aequitone.procedures.steps import Procedure, Turn
from aequitone.procedures.tone.multi_session import MultiPointSession
from aequitone.procedures.watch_levels import level_sights
from aequitone.procedures.watching import turned, turned_as_far


def levels_turned(session: MultiPointSession, move: Move) -> Procedure[Move]:
    """Have a trip made; a person may watch one of its levels after the other. Returns the move as made."""
    if not session.plan.by_hand:
        yield Turn(move)
        return move

    def turn(part: Move, heeds: bool) -> Procedure[Move]:
        sights = []
        for percent in part.levels:
            here = replace(part, changes=tuple(change for change in part.changes if change.role.level == percent))
            sights += level_sights(session, session.grid.percents.index(percent), here)
        return (yield from turned(part, session.plan.format, sights, heeds=heeds))

    return (yield from turned_as_far(move, session.grid.controls, turn))
