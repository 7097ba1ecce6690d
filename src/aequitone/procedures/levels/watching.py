"""Watching a level while it is turned: the light that feels it, beside what it was and what is wanted."""

from dataclasses import replace

from aequitone.advice.levels import Look
from aequitone.advice.levels.black import DISC_RAMP, RAMP
from aequitone.advice.levels.crossing import MAGENTA
from aequitone.advice.levels.sweep import WHITE
from aequitone.advice.moves import Change, Move
from aequitone.advice.roles import Role
from aequitone.procedures.levels.session import Glance, LevelsSession, LevelsState
from aequitone.procedures.policy import ReadPolicy
from aequitone.procedures.steps import Done, Interrupt, Procedure, Progress, Purpose, Read, Reading, Show
from aequitone.procedures.uninterrupted import insist
from aequitone.signal import colour_patch

# Exact enough to follow a hand, as a share of the light; and what is no more than the noise of two such glances.
_EXACT, _SAME, _DARK = 0.004, 0.012, 0.002
# What is looked at for each control, the first that is turned counting.
_LOOKS: tuple[tuple[Role, Look], ...] = (
    (Role.LIGHT_OUTPUT, WHITE),
    (Role.CONTRAST, WHITE),
    (Role.BLACK_LEVEL, RAMP[-1]),
    (Role.COLOUR, MAGENTA),
    (Role.TINT, MAGENTA),
)


def watch(now: LevelsSession, move: Move) -> Procedure[tuple[Change, ...]]:
    """Read on and on until the person says that all is turned; returns what was not seen to move.

    What moves is told against the patch as it was read last, or against the first glance.
    """
    control, look = next((role, look) for role, look in _LOOKS if any(c.role is role for c in move.changes))
    if control is Role.BLACK_LEVEL and now.plan.from_disc:
        look = DISC_RAMP[-1]
    change = next(each for each in move.changes if each.role is control)
    patch = colour_patch(look.name, look.percents, now.plan.format)
    yield from insist(Show(patch))
    before, glance = now.last.get(look.name), None
    while True:
        try:
            policy = ReadPolicy(max(_DARK, _EXACT * (before or 1.0)))
            reading: Reading = yield Read(patch, policy, Purpose.WATCH, once=True)
            before = reading.Y if before is None else before
            wanted = now.wanted if control is Role.LIGHT_OUTPUT and now.wanted else None
            glance = Glance(move, look.name, reading.Y, before, wanted)
            yield Progress(0, 0, replace(_state(now), glance=glance))
        except Done:
            still = glance is not None and _is_still(glance)
            left = replace(glance, still=(change.name,)) if still and glance is not None else None
            yield from insist(Progress(0, 0, replace(_state(now), glance=left)))
            return (change,) if still else ()
        except Interrupt:
            # Half of a move may be made: there is nothing to put back or to stop at before it is whole.
            continue


def _state(now: LevelsSession) -> LevelsState:
    return now.state(*((now.swept,) if now.swept is not None else ()))


def _is_still(seen: Glance) -> bool:
    """Whether the light that is watched is at the end what it was before."""
    return abs(seen.light - seen.before) <= max(_SAME * seen.before, 2.0 * _DARK)
