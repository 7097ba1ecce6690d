"""Reading on and on while a person turns what a move asks for, until they say that it is done."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from aequitone.advice.moves import Move
from aequitone.advice.watching import Watched
from aequitone.procedures.policy import ReadPolicy
from aequitone.procedures.steps import (
    Done,
    Interrupt,
    Procedure,
    Progress,
    Purpose,
    Read,
    Reading,
    Show,
    Turn,
    Watch,
)
from aequitone.signal import SignalFormat, grey_patch

# Of the light that is read: exact enough to tell half a step, quick enough to follow a hand.
_EXACT = 0.003


@dataclass(frozen=True)
class Sight:
    """A level to look at, and what a glance at it tells."""

    percent: float
    light: float
    """Luminance that is expected there, cd/m²."""
    tell: Callable[[Reading], Watched]


def turned(move: Move, format_: SignalFormat, sights: Sequence[Sight]) -> Procedure[None]:
    """Have a move made; a person may want to watch its light meanwhile, at one sight after the other."""
    made = False
    while True:
        try:
            yield Turn(move, made)
            return
        except Watch:
            yield from watch(sights, format_)
            made = True


def watch(sights: Sequence[Sight], format_: SignalFormat) -> Procedure[None]:
    """Tell after every glance how far each control still has to go; ends with Done, and with nothing else.

    Once all that is felt at one sight is there, the next is looked at.
    """
    at, shown = 0, -1
    while True:
        try:
            sight = sights[at]
            patch = grey_patch(sight.percent, format_)
            if shown != at:
                yield Show(patch)
                shown = at
            policy = ReadPolicy(_EXACT * sight.light, sight.light)
            reading: Reading = yield Read(patch, policy, Purpose.WATCH, once=True)
            told = sight.tell(reading)
            yield Progress(0, 0, told)
            if told.there and at + 1 < len(sights):
                at += 1
        except Done:
            return
        except Interrupt:
            # Half of a move may be made: there is nothing to put back or to stop at before it is whole.
            continue
