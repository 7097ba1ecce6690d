"""What the window hears of a running pass, digested in the runner's thread: no Qt, no waiting."""

from dataclasses import dataclass, field

import numpy as np

from aequitone.advice.moves import Change
from aequitone.advice.watching import Watched
from aequitone.colorimetry import cast_of, xyY_from_xyz
from aequitone.desktop.stages import empty_rows, filled, ghosted
from aequitone.desktop.states import DeltaFigure, DialState, LadderRow, ReadingFigure
from aequitone.procedures.grey_pass import GreyPass
from aequitone.procedures.policy import seen_black
from aequitone.procedures.runner import Event, Paused, StepBegun, StepDone
from aequitone.procedures.steps import Note, Progress, Purpose, Read, Reading, Show, Turn
from aequitone.procedures.white_session import WhiteState
from aequitone.reference import Target, grey_errors, verdict

# Glances that the trail of a cast goes back.
_TRAIL = 30


@dataclass(frozen=True)
class Live:
    """One moment of a running pass."""

    percent: float | None
    reading: ReadingFigure | None
    delta: DeltaFigure | None
    dial: DialState | None
    rows: tuple[LadderRow, ...]
    done: int
    total: int
    white: float | None
    state: WhiteState | None
    turning: bool
    paused: bool
    note: str
    xyY: tuple[float, float, float] | None = None
    shown: str = ""
    """The name of the patch that is shown."""
    first_look: bool = False
    value: object = None
    """What the procedure last told of itself, beside white's own state."""
    turned: Change | None = None
    """The first change of the trip that is being made."""
    watched: Watched | None = None
    """The last glance, while a trip is being watched."""


@dataclass
class LiveTracker:
    """Turns runner events into Live; one for each pass, used by one thread."""

    target: Target
    levels: int
    white: float | None = None
    black: float = 0.0
    ghost: GreyPass | None = None
    _rows: dict[float, LadderRow] = field(default_factory=dict)
    _percent: float | None = None
    _shown: str = ""
    _first_look: bool = False
    _reading: ReadingFigure | None = None
    _delta: DeltaFigure | None = None
    _dial: DialState | None = None
    _done: int = 0
    _total: int = 0
    _state: WhiteState | None = None
    _turning: bool = False
    _note: str = ""
    _value: object = None
    _turned: Change | None = None
    _watched: Watched | None = None
    _xyY: tuple[float, float, float] | None = None
    _trail: tuple[tuple[float, float], ...] = ()
    _trail_at: float = 0.0

    def __post_init__(self) -> None:
        self._rows = empty_rows(self.target, self.levels)
        if self.ghost is not None:
            found = self.ghost
            self._rows = ghosted(self._rows, found.errors, found.xyz, found.white)

    def hear(self, event: Event) -> Live | None:
        """The moment after an event, or None where nothing changed that can be seen."""
        if isinstance(event, Paused):
            return self._moment(paused=True)
        match event:
            case StepBegun(_, Show(patch)):
                self._percent, self._shown, self._turning = patch.percent, patch.name, False
            case StepBegun(_, Read(_, _, purpose)):
                self._first_look = purpose is Purpose.FIRST_LOOK
            case StepBegun(_, Turn(move), False):
                # What was watched is turned.
                self._turning, self._turned, self._watched = True, move.changes[0], None
            case StepDone(_, Read(), Reading() as reading):
                self._read(reading)
            case StepDone(_, Progress(done, total, value)):
                self._done, self._total = done, total
                if isinstance(value, WhiteState):
                    self._state = value
                elif isinstance(value, Watched):
                    self._watched = value
                    self._watch(value)
                elif value is not None:
                    self._value = value
            case StepDone(_, Note(text)):
                self._note = text
            case _:
                return None
        # A replay is one leap, not a film: the first step that is live shows where it led.
        return None if event.replayed else self._moment()

    def _read(self, reading: Reading) -> None:
        percent = reading.patch.percent
        if reading.purpose is Purpose.FIRST_LOOK:
            self._reading = ReadingFigure(f"First look, {reading.patch.name}", reading.Y, None)
            return
        if reading.purpose in (Purpose.SWEEP, Purpose.WATCH):
            self._reading = ReadingFigure(f"Read at {reading.patch.name}", reading.Y, None)
            return
        if percent == 100.0 and (self.white is None or reading.purpose is not Purpose.LEVEL):
            self.white = reading.Y
        if percent == 0.0:
            self.black = seen_black(reading.Y, reading.sd_Y)
        white = self.white or reading.Y
        if white <= self.black:
            self._reading = ReadingFigure(f"Read at {percent:g} %", reading.Y, None)
            return
        errors = grey_errors(
            [percent], reading.xyz[None], self.target, white=white, black=self.black, sd=reading.sd[None]
        )
        self._rows = filled(self._rows, errors, reading.xyz[None], white)
        target = float(errors.target[0, 1])
        self._reading = ReadingFigure(f"Read at {percent:g} %", reading.Y, target)
        if percent > 0.0:
            de = float(errors.de2000[0])
            self._delta = DeltaFigure("ΔE 2000", de, float(errors.de2000_sd[0]), verdict(de))
            warm, green = (float(value) for value in np.nan_to_num(errors.cast[0]))
            self._dial = DialState(((warm, green),))
            x, y, Y = (float(value) for value in xyY_from_xyz(reading.xyz))
            self._xyY = (x, y, Y)

    def _watch(self, seen: Watched) -> None:
        """The trail of the cast while a control is being turned."""
        cast = cast_of(seen.xyz, self.target.white.xyz())
        before = self._trail if self._trail_at == seen.percent else ()
        self._trail, self._trail_at = (*before[-_TRAIL:], (cast.warm, cast.green)), seen.percent
        self._dial = DialState(self._trail)

    def _moment(self, *, paused: bool = False) -> Live:
        return Live(
            self._percent,
            self._reading,
            self._delta,
            self._dial,
            tuple(self._rows.values()),
            self._done,
            self._total,
            self.white,
            self._state,
            self._turning,
            paused,
            self._note,
            self._xyY,
            self._shown,
            self._first_look,
            self._value,
            self._turned if self._turning else None,
            self._watched,
        )
