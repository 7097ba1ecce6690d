"""The steps a procedure yields, and what it gets back.

A procedure touches no device, thread, clock, database or window: it yields one of these and is sent
the result. That is what lets the same procedure run on real instruments, on stand-ins, on a person
with a remote, in a test, and again from the journal after a crash.
"""

from collections.abc import Generator
from dataclasses import dataclass
from enum import StrEnum
from typing import Any, TypeVar

import numpy as np

from aequitone.advice.moves import Move
from aequitone.advice.roles import Role
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.policy import ReadPolicy
from aequitone.signal import Patch


class Purpose(StrEnum):
    """What a reading is for."""

    ANCHOR = "anchor"
    LEVEL = "level"
    ADJUST = "adjust"
    FIRST_LOOK = "first look"
    WATCH = "watch"
    SWEEP = "sweep"


@dataclass(frozen=True)
class Reading:
    """The mean of the repeats, in cd/m², with the standard deviation of that mean."""

    patch: Patch
    purpose: Purpose
    X: float
    Y: float
    Z: float
    sd_X: float
    sd_Y: float
    sd_Z: float
    repeats: int
    seconds: float
    """Integration time of each repeat."""
    took: float
    """From asking to having, in seconds of the bench's clock, the patch's settling included."""
    scatter: float
    """Sum of squares of the repeats around their mean, in units of the data sheet's noise."""
    at: float = 0.0
    """When it was had, in seconds of the bench's clock since the pass began, breaks left out."""
    rejected: int = 0
    """Answers of the meter that did not belong and were left out."""

    @property
    def xyz(self) -> Array:
        return np.array([self.X, self.Y, self.Z])

    @property
    def sd(self) -> Array:
        return np.array([self.sd_X, self.sd_Y, self.sd_Z])


@dataclass(frozen=True)
class Show:
    """Show a patch and let it settle. Result: None."""

    patch: Patch
    settle: bool = True
    """False only where the settling itself is measured."""
    together: bool = False
    """What is read is compared with the patch before: no refresh field comes between them, as a panel's light
    is another before a field than after it."""


@dataclass(frozen=True)
class Read:
    """Read what is shown. Result: a Reading."""

    patch: Patch
    policy: ReadPolicy
    purpose: Purpose
    once: bool = False
    """One exposure, taken as it comes: where the light is known to be moving."""


@dataclass(frozen=True)
class Turn:
    """One trip to the menu, by link or by a person. Result: the move as it was made."""

    move: Move
    made: bool = False
    """It was made while it was watched, and is only to be recorded."""
    freely: frozenset[Role] = frozenset()
    """Controls that may end elsewhere than asked, where a person says so: they are read where they stand."""
    heeds: bool = False
    """Where a person says that a control stands off its way, nothing is turned: the move is to be planned anew."""


@dataclass(frozen=True)
class Place:
    """Hang the meter at a place of the screen: across and up, 0 the middle, 1 an edge. Result: None."""

    name: str
    spot: tuple[float, float]


@dataclass(frozen=True)
class Wait:
    """Wait. Result: None."""

    seconds: float
    why: str


@dataclass(frozen=True)
class Note:
    """Something for the person and the record, in words. Result: None."""

    text: str


@dataclass(frozen=True)
class Checkpoint:
    """A named place reached. Result: None."""

    name: str


@dataclass(frozen=True)
class Progress:
    """How far the procedure is, and what it knows by now. Result: None."""

    done: int
    total: int
    value: object = None


Step = Show | Read | Turn | Place | Wait | Note | Checkpoint | Progress
T = TypeVar("T")
Procedure = Generator[Step, Any, T]


class Interrupt(Exception):  # noqa: N818 - a wish, not an error
    """What a person may wish for between two steps; thrown into the procedure where it stands."""


class PutBack(Interrupt):
    """Undo the last move."""


class ReadAgain(Interrupt):
    """Read the present state once more before anything is turned."""


class StopHere(Interrupt):
    """It is good enough."""


class PassOver(Interrupt):
    """The present one is not to be had: a picture mode whose controls are greyed out."""


class Watch(ReadAgain):
    """Read on and on while it is turned. Where there is nothing to watch, it is read again."""


class Done(ReadAgain):
    """What was watched is turned. The runner hands it over only while a move is watched."""


INTERRUPTS: dict[str, type[Interrupt]] = {
    kind.__name__: kind for kind in (PutBack, ReadAgain, StopHere, PassOver, Watch, Done)
}
