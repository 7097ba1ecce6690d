"""How dark the room is: what the meter reads of a black picture, and in doubt of the screen while it is off."""

from dataclasses import dataclass

from aequitone.advice.moves import ControlState
from aequitone.advice.roles import Role
from aequitone.procedures.policy import ReadPolicy
from aequitone.procedures.steps import Note, Procedure, Progress, Purpose, Turn
from aequitone.procedures.uninterrupted import insist, insist_on_reading
from aequitone.signal import SignalFormat, grey_patch

POWER = ControlState(Role.POWER, "Power", 0, 1, 1, 1)
_OFF = ControlState(Role.POWER, "Power", 0, 1, 1, 0)


@dataclass(frozen=True)
class RoomPlan:
    """`most`: light that may be left, cd/m²: a twentieth of what a good black has on a screen of 100 cd/m²."""

    format: SignalFormat
    most: float = 0.01


@dataclass(frozen=True)
class RoomLight:
    """What was left with the screen off, or with a black picture on it."""

    light: float
    sd: float
    most: float
    lit: bool = False
    """Whether the screen was on, and its own black is in the light."""

    @property
    def dark(self) -> bool:
        return self.light <= self.most + 2.0 * self.sd

    @property
    def words(self) -> str:
        """How dark it is, in a sentence."""
        when = "Of a black picture" if self.lit else "With the screen off"
        told = f"{when} the meter reads {max(0.0, self.light):.3f} ± {self.sd:.3f} cd/m²"
        if self.dark:
            return f"{told}: dark enough."
        return f"{told}, more than {self.most:g}: dim the room, or put a cloth over screen and meter."


def room_light(plan: RoomPlan) -> Procedure[RoomLight]:
    """Read a black picture; returns a RoomLight.

    Where that has more light than the room may give, it is the screen's black or the room: the screen is switched
    off, read, and switched on again.
    """
    black, policy = grey_patch(0.0, plan.format), ReadPolicy(plan.most / 8.0, 0.0)
    reading = yield from insist_on_reading(black, policy, Purpose.WATCH)
    found = RoomLight(reading.Y, reading.sd_Y, plan.most, lit=True)
    if not found.dark:
        yield Progress(1, 2, found)
        yield from insist(Turn(POWER.moved_to(0)))
        reading = yield from insist_on_reading(black, policy, Purpose.WATCH)
        yield from insist(Turn(_OFF.moved_to(1)))
        found = RoomLight(reading.Y, reading.sd_Y, plan.most)
    yield Progress(1, 1, found)
    yield Note(found.words)
    return found
