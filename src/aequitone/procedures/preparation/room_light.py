"""How dark the room is: what the meter reads of the screen while it is off."""

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
    """What was left with the screen off."""

    light: float
    sd: float
    most: float

    @property
    def dark(self) -> bool:
        return self.light <= self.most + 2.0 * self.sd

    @property
    def words(self) -> str:
        """How dark it is, in a sentence."""
        told = f"With the screen off the meter reads {max(0.0, self.light):.3f} ± {self.sd:.3f} cd/m²"
        if self.dark:
            return f"{told}: dark enough."
        return f"{told}, more than {self.most:g}: dim the room, or put a cloth over screen and meter."


def room_light(plan: RoomPlan) -> Procedure[RoomLight]:
    """Switch the screen off, read, and switch it on again; returns a RoomLight."""
    yield from insist(Turn(POWER.moved_to(0)))
    policy = ReadPolicy(plan.most / 8.0, 0.0)
    reading = yield from insist_on_reading(grey_patch(0.0, plan.format), policy, Purpose.WATCH)
    yield from insist(Turn(_OFF.moved_to(1)))
    found = RoomLight(reading.Y, reading.sd_Y, plan.most)
    yield Progress(1, 1, found)
    yield Note(found.words)
    return found
