"""Reading on and on while a person turns what a move asks for, until they say that it is done."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from aequitone.advice.mover import Mover
from aequitone.advice.moves import Move
from aequitone.advice.responses import Responses
from aequitone.advice.seen import Seen, log_light
from aequitone.advice.watching import Watched, first_level, steps_left, watched_changes
from aequitone.procedures.policy import ReadPolicy
from aequitone.procedures.steps import Done, Interrupt, Procedure, Progress, Purpose, Read, Reading, Show
from aequitone.signal import SignalFormat, grey_patch

# Of the light that is read: exact enough to tell half a step, quick enough to follow a hand.
_EXACT = 0.003
_DRAWS = np.random.default_rng(34).standard_normal((60, 3))


@dataclass(frozen=True)
class Watching:
    """What is known before the move."""

    mover: Mover
    responses: Responses
    seen: Seen
    move: Move
    steps: Sequence[int]
    """(6,) of the move, in whole steps."""
    format: SignalFormat


def watch(plan: Watching) -> Procedure[None]:
    """Tell after every glance how far each control still has to go; ends with Done, and with nothing else.

    Gains are watched at the bright level; once they are there, biases at the dark one.
    """
    bright = first_level(plan.move)
    shown: float | None = None
    while True:
        try:
            percent = plan.mover.bright if bright else plan.mover.dark
            patch = grey_patch(percent, plan.format)
            if shown != percent:
                yield Show(patch)
                shown = percent
            row = 1 if bright else 2
            light = float(plan.seen.xyz[row, 1])
            reading: Reading = yield Read(patch, ReadPolicy(_EXACT * light, light), Purpose.WATCH, once=True)
            told = _told(plan, reading, bright=bright)
            yield Progress(0, 0, told)
            if bright and told.there and watched_changes(plan.move, bright=False):
                bright = False
        except Done:
            return
        except Interrupt:
            # Half of a move may be made: there is nothing to put back or to stop at before it is whole.
            continue


def _told(plan: Watching, reading: Reading, *, bright: bool) -> Watched:
    row = 1 if bright else 2
    rows = slice(3 * row, 3 * row + 3)
    now = Seen(np.vstack([reading.xyz] * 3), np.vstack([reading.sd] * 3))
    change = log_light(now.xyz)[:3] - plan.seen.log_light[rows]
    variance = now.variance[:3] + plan.seen.variance[rows]
    left = steps_left(plan.responses, plan.move, change, variance, plan.steps, bright=bright)
    xyz = np.repeat(plan.seen.xyz[None], len(_DRAWS) + 1, axis=0)
    xyz[:, row] = reading.xyz
    xyz[1:, row] += _DRAWS * reading.sd
    de = plan.mover.de2000(xyz)[:, row]
    return Watched(
        plan.move,
        reading.patch.percent,
        reading.xyz,
        float(de[0]),
        float(de[1:].std()),
        left,
    )
