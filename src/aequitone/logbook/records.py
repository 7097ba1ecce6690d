"""What the logbook gives out: plain values, safe in any thread."""

from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum
from typing import Any

from aequitone.advice.moves import ControlState
from aequitone.advice.roles import Role
from aequitone.signal import Range, SignalFormat


class PassKind(StrEnum):
    """What a run of a procedure was for."""

    AS_FOUND = "as found"
    WHITE = "white"
    PROOF = "proof"


class PassState(StrEnum):
    """RUNNING is also what a killed process leaves behind: a pass that can be gone on with."""

    RUNNING = "running"
    DONE = "done"
    SET_ASIDE = "set aside"


@dataclass(frozen=True)
class BenchChoice:
    """The instruments of a visit, as chosen at Arrive. A choice of "stand-in" needs a scenario."""

    meter: str = "by hand"
    patterns: str = "screen"
    link: str = "by hand"
    scenario: str = ""
    seed: int = 0
    depth: int = 8
    range: str = Range.LIMITED.value
    window: float = 0.10
    display: str = ""

    @property
    def format(self) -> SignalFormat:
        return SignalFormat(self.depth, Range(self.range), self.window)

    @property
    def simulated(self) -> bool:
        return "stand-in" in (self.meter, self.patterns, self.link)


@dataclass(frozen=True)
class ControlRecord:
    """A control of a screen's menu."""

    id: int
    role: Role
    name: str
    lowest: int
    highest: int
    step: int
    factory: int | None
    choices: tuple[str, ...] = ()

    def state(self, value: int) -> ControlState:
        return ControlState(self.role, self.name, self.lowest, self.highest, self.step, value)

    def shown(self, value: int | None) -> str:
        """A setting in the screen's own words."""
        if value is None:
            return "not noted"
        if self.choices and self.lowest <= value <= self.highest:
            return self.choices[value - self.lowest]
        return str(value)

    def objection(self, value: int) -> str | None:
        """Why a setting is impossible, or None."""
        if not self.lowest <= value <= self.highest:
            return f"{self.name} goes from {self.lowest} to {self.highest}; {value} cannot be"
        if (value - self.lowest) % self.step:
            return f"{self.name} moves by {self.step} from {self.lowest}; {value} lies between two steps"
        return None


@dataclass(frozen=True)
class VisitRecord:
    """A visit and where it is: names from client down to memory."""

    id: int
    client: str
    room: str
    screen: str
    input: str
    memory: str
    screen_id: int
    memory_id: int
    target: str
    levels: int
    bench: BenchChoice
    started: datetime
    closed: datetime | None


@dataclass(frozen=True)
class PassRecord:
    """One run of a procedure."""

    id: int
    visit_id: int
    kind: PassKind
    state: PassState
    plan: dict[str, Any]
    outcome: str
    started: datetime
    readings: int
    seconds: float
    last_reading: datetime | None
