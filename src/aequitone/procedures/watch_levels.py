"""What a glance tells while a move is made: at two points, and at a level of multi-point."""

from dataclasses import replace
from functools import partial

import numpy as np

from aequitone.advice.by_hand.watching import Watched, first_level, level_steps_left, steps_left, watched_changes
from aequitone.advice.moves import Move, steps_of
from aequitone.advice.points.level import LevelResponses
from aequitone.procedures.steps import Reading
from aequitone.procedures.tone.multi_session import MultiPointSession, change_from
from aequitone.procedures.watching import Sight
from aequitone.procedures.white.session import WhiteSession

_DRAWS = np.random.default_rng(34).standard_normal((60, 3))


def two_point_sights(session: WhiteSession, move: Move) -> list[Sight]:
    """Gains are watched at the bright level; once they are there, biases at the dark one."""
    assert session.seen is not None
    bright = first_level(move)
    both = bright and watched_changes(move, bright=False)
    levels = {True: session.plan.bright, False: session.plan.dark}
    return [
        Sight(
            levels[at], float(session.seen.xyz[1 if at else 2, 1]), partial(_two_points, session, move, bright=at)
        )
        for at in ((True, False) if both else (bright,))
    ]


def _two_points(session: WhiteSession, move: Move, reading: Reading, *, bright: bool) -> Watched:
    before = session.seen
    assert before is not None
    row = 1 if bright else 2
    rows = slice(3 * row, 3 * row + 3)
    now = replace(before, xyz=np.vstack([reading.xyz] * 3), sd=np.vstack([reading.sd] * 3))
    change = now.log_light[:3] - before.log_light[rows]
    variance = now.variance[:3] + before.variance[rows]
    xyz = np.repeat(before.xyz[None], len(_DRAWS) + 1, axis=0)
    xyz[:, row] = reading.xyz
    xyz[1:, row] += _DRAWS * reading.sd
    de = session.mover.errors(xyz)[:, row]
    left = steps_left(session.responses, move, change, variance, steps_of(move, session.controls), bright=bright)
    told = float(de[0]), float(de[1:].std())
    return Watched(move, reading.patch.percent, reading.xyz, *told, left, session.plan.formula)


def level_sights(session: MultiPointSession, level: int, move: Move) -> list[Sight]:
    """A move at one level is felt there and nowhere else as much."""
    row = session.row(level)
    return [Sight(session.percents[row], float(session.xyz[row, 1]), partial(_level, session, level, move))]


def _level(session: MultiPointSession, level: int, move: Move, reading: Reading) -> Watched:
    row = session.row(level)
    responses = LevelResponses(session.effect, level, session.grid.light)
    before = session.planner.now(session.tracked, session.effect, session.grid.offsets)[row]
    change, variance = change_from(before, reading.xyz, reading.sd, session.planner.gamut)
    left = level_steps_left(responses, session.grid.rows[level], move, change, variance)
    white = float(session.xyz[0, 1])
    drawn = np.vstack([reading.xyz, reading.xyz + _DRAWS * reading.sd])
    de = session.planner.delta_at(session.tracked, drawn, row, white)
    return Watched(move, reading.patch.percent, reading.xyz, float(de[0]), float(de[1:].std()), left)
