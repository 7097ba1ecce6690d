"""What the logbook gives out: plain values, safe in any thread."""

from dataclasses import dataclass, field, replace
from datetime import UTC, datetime
from enum import StrEnum
from typing import Any

from aequitone.advice.answers.encoding import transfer_of
from aequitone.advice.moves import ControlState
from aequitone.advice.roles import Role
from aequitone.advice.scopes import Scope
from aequitone.advice.technology import DIMMING, Technology
from aequitone.colorimetry import Formula
from aequitone.procedures.care import Care, RefreshFields
from aequitone.reference import target_named
from aequitone.signal import Container, MasteringLight, Range, SignalFormat, Transfer

# Factors on the wanted standard deviation.
PRECISIONS = {"quick": 2.0, "usual": 1.0, "careful": 0.5}


# How often a brighter field keeps a panel from dimming under a picture that stands still.
USUAL_REFRESH_SECONDS = 40.0


def local_time(at: datetime) -> datetime:
    """A moment of the file, which is in UTC, as the clock on the wall has it."""
    return at.replace(tzinfo=UTC).astimezone()


class Connection(StrEnum):
    """How an instrument of the bench is reached."""

    BY_HAND = "by hand"
    """A person types what it reads, shows the patch or turns the control."""
    STANDIN = "stand-in"
    SCREEN = "screen"
    """Patterns alone: a window of this computer."""
    INSTRUMENT = "instrument"
    """One on the shelf, over a line."""


class PassState(StrEnum):
    """RUNNING is also what a killed process leaves behind: a pass that can be gone on with."""

    RUNNING = "running"
    DONE = "done"
    SET_ASIDE = "set aside"


@dataclass(frozen=True)
class BenchChoice:
    """The instruments of a visit and how they are used, as chosen at Arrive and at the Bench.

    A stand-in needs a scenario, an instrument its number on the shelf.
    """

    meter: Connection = Connection.BY_HAND
    patterns: Connection = Connection.SCREEN
    link: Connection = Connection.BY_HAND
    scenario: str = ""
    seed: int = 0
    depth: int = 8
    range: str = Range.LIMITED.value
    window: float = 0.10
    display: str = ""
    meter_id: int = 0
    source_id: int = 0
    link_id: int = 0
    correction_id: int = 0
    """0 for none."""
    meter_mode: str = ""
    """The screen technology chosen in the meter; empty for its own choice."""
    precision: str = "usual"
    entry_form: str = "xyY"
    """What a person types of a meter by hand: "xyY" or "XYZ"."""
    synchronise_hz: float | None = None
    """What the meter integrates over; None for what it does by itself."""
    settle_seconds: float | None = None
    anchor_every: int = 4
    refresh_every: float = 0.0
    """Seconds between refresh fields; 0 for none."""
    refresh_for: float = 2.0
    refresh_percent: float = 60.0
    transfer: Transfer = Transfer.GAMMA
    """With depth, range and container: the signal of the job that is worked on."""
    container: Container = Container.REC709
    mastering: float = 0.0
    """The mastering peak that is named with PQ, cd/m²; 0 for none."""
    colour_level: float = 75.0
    """The highest signal of primaries and secondaries as they are read, in %: schools differ."""

    @property
    def format(self) -> SignalFormat:
        named = MasteringLight.usual(self.mastering) if self.mastering and self.transfer is Transfer.PQ else None
        return SignalFormat(self.depth, Range(self.range), self.window, self.transfer, self.container, named)

    def suited_to(self, technology: Technology) -> "BenchChoice":
        """The choice for the first visit to such a screen: refresh fields where its kind dims."""
        if technology in DIMMING and not self.refresh_every:
            return replace(self, refresh_every=USUAL_REFRESH_SECONDS)
        return self

    def without_stale(self, before: "BenchChoice") -> "BenchChoice":
        """The choice without what was measured or made with another instrument than the one chosen now."""
        choice = self
        meter = (before.meter, before.meter_id, before.meter_mode) != (self.meter, self.meter_id, self.meter_mode)
        if meter and self.correction_id == before.correction_id:
            choice = replace(choice, correction_id=0)
        if (before.meter, before.meter_id) != (self.meter, self.meter_id):
            choice = replace(choice, synchronise_hz=None)
        source = (before.patterns, before.source_id) != (self.patterns, self.source_id)
        if source and self.settle_seconds == before.settle_seconds:
            choice = replace(choice, settle_seconds=None)
        return choice

    @property
    def care(self) -> Care:
        """What the runner is told of it."""
        refresh = None
        # A person who shows the patterns is not asked for a field every forty seconds.
        if self.refresh_every and self.patterns is not Connection.BY_HAND:
            refresh = RefreshFields(self.refresh_every, self.refresh_for, self.refresh_percent)
        return Care(self.settle_seconds, PRECISIONS[self.precision], refresh)

    @property
    def automatic(self) -> bool:
        """Whether a pass takes readings without a person: only then is reading more than once cheap."""
        return self.meter is not Connection.BY_HAND and self.patterns is not Connection.BY_HAND

    @property
    def by_link(self) -> bool:
        """Whether a link turns the screen's controls, and not a person."""
        return self.link is not Connection.BY_HAND

    @property
    def simulated(self) -> bool:
        return Connection.STANDIN in (self.meter, self.patterns, self.link)


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
    scope: Scope = field(default_factory=Scope)

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
    """A visit and where it is, as seen from the job that is worked on: its input, memory, target and the like."""

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
    technology: Technology = Technology.UNKNOWN
    """Of the screen; empty where it is not noted."""
    light: float = 0.0
    """Luminance of white that is wanted in the end, cd/m²; 0 for what is usual for the screen."""
    plate: "Plate" = field(default_factory=lambda: Plate())
    device: str = ""
    """What hangs on the input."""
    stop_at: float = 0.5
    """ΔE at which white balance stops."""
    formula: Formula = Formula.DE2000
    """Of that ΔE."""
    pair: tuple[float, float] = (80.0, 30.0)
    """The bright and the dark level of white balance, in %."""
    job_id: int = 0
    notes: str = ""
    """The calibrator's own, for the report."""

    @property
    def name(self) -> str:
        """The memory with its input, as a job is called."""
        return f"{self.memory}, {self.input}"


@dataclass(frozen=True)
class JobRecord:
    """One picture memory to bring to one target."""

    id: int
    input: str
    memory: str
    memory_id: int
    target: str
    levels: int
    light: float = 0.0
    """Luminance of white that is wanted in the end, cd/m²; 0 for what is usual for the screen."""
    stop_at: float = 0.5
    formula: Formula = Formula.DE2000
    pair: tuple[float, float] = (80.0, 30.0)
    left_out: bool = False
    """Whether it is not done on this visit after all."""
    done: frozenset[str] = frozenset()
    """The keys of the kinds of pass that were done for it."""
    seconds: float = 0.0
    """What its passes took."""
    depth: int = 8
    """Bits of its signal."""
    range: str = Range.LIMITED.value
    presets: tuple[tuple[Role, int], ...] = ()
    """Which gamma and temperature preset stands in its memory, by the last that was noted."""
    newest: tuple[tuple[str, int], ...] = ()
    """Of each kind of pass that was done for it, the number of the newest."""
    turned: int = 0
    """The number of the newest of its passes in which a control was turned; 0 where none was."""

    @property
    def name(self) -> str:
        """The memory with its input, as a job is called."""
        return f"{self.memory}, {self.input}"

    @property
    def transfer(self) -> Transfer:
        """What its codes mean in light."""
        return transfer_of(target_named(self.target))

    @property
    def hdr(self) -> bool:
        """Whether PQ or HLG is sent for it."""
        return self.transfer is not Transfer.GAMMA


@dataclass(frozen=True)
class VisitLine:
    """A visit in a list."""

    id: int
    client: str
    room: str
    screen: str
    input: str
    memory: str
    technology: Technology
    started: datetime
    closed: datetime | None
    hours: str = ""
    """That the screen has run, as noted last."""


@dataclass(frozen=True)
class Plate:
    """What stands on the screen's plate and in its information menu, as noted."""

    size: str = ""
    hours: str = ""
    firmware: str = ""
    serial: str = ""
    throw: str = ""
    """Of a projector: lens to screen."""
    gain: str = ""
    """Of a projector's screen."""


@dataclass(frozen=True)
class PassRecord:
    """One run of a procedure."""

    id: int
    visit_id: int
    job_id: int
    kind: str
    """The key of its kind (passes.PASSES)."""
    state: PassState
    plan: dict[str, Any]
    outcome: str
    started: datetime
    readings: int
    seconds: float
    last_reading: datetime | None
    bench: dict[str, Any] = field(default_factory=dict)
    """What it was measured with."""
    result: dict[str, Any] | None = None
    """What it came to, as it was given on the day; None where that was not kept."""
