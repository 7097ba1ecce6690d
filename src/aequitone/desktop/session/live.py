"""What the window hears of a running pass, digested in the runner's thread: no Qt, no waiting."""

from dataclasses import dataclass, field
from typing import Any

import numpy as np

from aequitone.advice.by_hand.watching import Watched
from aequitone.advice.moves import Change, Move
from aequitone.colorimetry import Formula, cast_of, xyY_from_xyz
from aequitone.desktop.frame.panel_state import DeltaFigure, DialState, ReadingFigure
from aequitone.desktop.widgets.ladder_state import LadderRow, empty_rows, filled, ghosted
from aequitone.procedures.grey.grey_pass import GreyPass
from aequitone.procedures.policy import seen_black
from aequitone.procedures.runner import Event, Paused, StepBegun, StepDone
from aequitone.procedures.steps import Note, Progress, Purpose, Read, Reading, Show, Turn
from aequitone.reference import GreyErrors, Target, colour_errors, grey_errors, verdict

# Glances that the trail of a cast goes back.
_TRAIL = 30


@dataclass(frozen=True, kw_only=True)
class Live:
    """One moment of a running pass."""

    percent: float | None = None
    shown: str = ""
    """The name of the patch that is shown."""
    first_look: bool = False
    reading: ReadingFigure | None = None
    delta: DeltaFigure | None = None
    dial: DialState | None = None
    rows: tuple[LadderRow, ...] = ()
    done: int = 0
    total: int = 0
    white: float | None = None
    value: Any = None
    """What the procedure last told of itself."""
    turned: tuple[Change, ...] = ()
    """The changes of the trip that is being made."""
    paused: bool = False
    note: str = ""
    xyY: tuple[float, float, float] | None = None
    watched: Watched | None = None
    """The last glance, while a trip is being watched."""
    trail: tuple[tuple[float, float], ...] = ()
    """How the cast went from trip to trip, where the station follows it."""
    trips: int = 0
    """Trips made to the menu, including those that mend a slip."""

    @property
    def turning(self) -> bool:
        """Whether a trip to the menu is being made."""
        return bool(self.turned)


@dataclass
class LiveTracker:
    """Turns runner events into Live; one for each pass, used by one thread."""

    target: Target
    levels: int
    white: float | None = None
    """Luminance of 100 % that the pass begins with, where it is known."""
    black: float = 0.0
    ghost: GreyPass | None = None
    formula: Formula = Formula.DE2000
    """Of the ΔE of greys."""
    _rows: dict[float, LadderRow] = field(default_factory=dict)
    _percent: float | None = None
    _shown: str = ""
    _first_look: bool = False
    _reading: ReadingFigure | None = None
    _delta: DeltaFigure | None = None
    _dial: DialState | None = None
    _done: int = 0
    _total: int = 0
    _note: str = ""
    _value: Any = None
    _turned: tuple[Change, ...] = ()
    _watched: Watched | None = None
    _xyY: tuple[float, float, float] | None = None
    _glances: tuple[tuple[float, float], ...] = ()
    _glances_at: float = 0.0
    _trail: tuple[tuple[float, float], ...] = ()
    _trips: int = 0

    def __post_init__(self) -> None:
        self._rows = empty_rows(self.target, self.levels)
        if self.ghost is not None:
            found = self.ghost
            self._rows = ghosted(self._rows, found.errors, found.xyz, found.white, self.formula)

    def hear(self, event: Event) -> Live | None:
        """The moment after an event, or None where nothing changed that can be seen."""
        if isinstance(event, Paused):
            return self._moment(paused=True)
        match event:
            case StepBegun(_, Show(patch)):
                self._percent, self._shown, self._turned = patch.percent, patch.name, ()
            case StepBegun(_, Read(_, _, purpose)):
                self._first_look = purpose is Purpose.FIRST_LOOK
            case StepBegun(_, Turn(move), False):
                # What was watched is turned.
                self._turned, self._watched = move.changes, None
            case StepDone(_, Turn(heeds=True), Move(is_untouched=True)):
                # The person is at the menu still: it is the next move that makes the trip.
                return None
            case StepDone(_, Turn()):
                # What was said before a trip is not said beside the next one.
                self._trips, self._note = self._trips + 1, ""
                return None
            case StepDone(_, Read(), Reading() as reading):
                self._read(reading)
            case StepDone(_, Progress(done, total, value)):
                self._done, self._total = done, total
                if isinstance(value, Watched):
                    self._watched = value
                    self._watch(value)
                elif value is not None:
                    self._value = value
                    self._trail = self.followed(value, self._trail)
            case StepDone(_, Note(text)):
                self._note = text
            case _:
                return None
        # A replay is one leap, not a film: the first step that is live shows where it led.
        return None if event.replayed else self._moment()

    def followed(self, value: Any, trail: tuple[tuple[float, float], ...]) -> tuple[tuple[float, float], ...]:
        """The trail of casts after what a procedure told; stations that show one say which."""
        return trail

    def _read(self, reading: Reading) -> None:
        percent = reading.patch.percent
        if reading.purpose is Purpose.FIRST_LOOK:
            self._reading = ReadingFigure(f"First look, {reading.patch.name}", reading.Y, None)
            return
        if reading.purpose in (Purpose.SWEEP, Purpose.WATCH):
            self._reading = ReadingFigure(f"Read at {reading.patch.name}", reading.Y, None)
            return
        if not reading.patch.is_grey:
            self._read_colour(reading)
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
        self._rows = filled(self._rows, errors, reading.xyz[None], white, self.formula)
        target = float(errors.target[0, 1])
        self._reading = ReadingFigure(f"Read at {percent:g} %", reading.Y, target)
        if percent > 0.0:
            self._delta = _figure(errors, self.formula)
            warm, green = (float(value) for value in np.nan_to_num(errors.cast[0]))
            self._dial = DialState(((warm, green),))
            x, y, Y = (float(value) for value in xyY_from_xyz(reading.xyz))
            self._xyY = (x, y, Y)

    def _read_colour(self, reading: Reading) -> None:
        """A colour has a place of its own: it is neither white nor a level of the ladder."""
        name = reading.patch.name
        x, y, Y = (float(value) for value in xyY_from_xyz(reading.xyz))
        self._xyY, self._dial = (x, y, Y), None
        if self.white is None or self.white <= self.black:
            self._reading, self._delta = ReadingFigure(f"Read: {name}", reading.Y, None), None
            return
        errors = colour_errors(
            [reading.patch.signal],
            reading.xyz[None],
            self.target,
            white=self.white,
            black=self.black,
            sd=reading.sd[None],
        )
        de = float(errors.de2000[0])
        self._reading = ReadingFigure(f"Read: {name}", reading.Y, float(errors.target[0, 1]))
        self._delta = DeltaFigure("ΔE 2000", de, float(errors.de2000_sd[0]), verdict(de))

    def _watch(self, seen: Watched) -> None:
        """The trail of the cast while a control is being turned."""
        cast = cast_of(seen.xyz, self.target.white.xyz())
        before = self._glances if self._glances_at == seen.percent else ()
        self._glances, self._glances_at = (*before[-_TRAIL:], (cast.warm, cast.green)), seen.percent
        self._dial = DialState(self._glances)

    def _moment(self, *, paused: bool = False) -> Live:
        return Live(
            percent=self._percent,
            shown=self._shown,
            first_look=self._first_look,
            reading=self._reading,
            delta=self._delta,
            dial=self._dial,
            rows=tuple(self._rows.values()),
            done=self._done,
            total=self._total,
            white=self.white,
            value=self._value,
            turned=self._turned,
            paused=paused,
            note=self._note,
            xyY=self._xyY,
            watched=self._watched,
            trail=self._trail,
            trips=self._trips,
        )


def _figure(errors: GreyErrors, formula: Formula) -> DeltaFigure | None:
    """The ΔE of one level; None where it has none, as beyond the screen."""
    off, spread, _ = errors.by(formula)
    if np.isnan(off[0]):
        return None
    return DeltaFigure(formula.value, float(off[0]), float(spread[0]), verdict(float(off[0])))
