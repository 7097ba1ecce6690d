"""Drivers of the bench protocol: a meter, a pattern source and a screen on a line."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from aequitone.colorimetry.arrays import Array
from aequitone.instruments.errors import InstrumentError
from aequitone.instruments.line import Identity, Line, numbers, texts
from aequitone.instruments.ports import Measurement, MeterNoise
from aequitone.signal import Patch, Shape

_SLACK_SECONDS, _SHOW_SECONDS, _MENU_SECONDS = 3.0, 5.0, 60.0


@dataclass(frozen=True)
class MeterLimits:
    """What a meter can do: cd/m² and seconds."""

    darkest: float
    brightest: float
    shortest: float
    longest: float


class LineMeter:
    """A meter on a line."""

    repeats = True

    def __init__(self, line: Line) -> None:
        """Asks the meter who it is and what it can do. Raises InstrumentError."""
        self.line = line
        self.identity: Identity = line.identity()
        self._noise = MeterNoise(*numbers(line, line.ask("SENS:NOIS?"), 3))
        self.limits = MeterLimits(*numbers(line, line.ask("SENS:LIM?"), 4))

    @property
    def name(self) -> str:
        return self.identity.name

    @property
    def noise(self) -> MeterNoise:
        return self._noise

    def measure(self, patch: Patch, seconds: float) -> Measurement:  # noqa: ARG002 - it looks at the screen
        integration = min(max(seconds, self.limits.shortest), self.limits.longest)
        answer = self.line.ask_tagged("MEAS:XYZ?", f"{integration:.6g}", integration + _SLACK_SECONDS)
        return Measurement(*numbers(self.line, answer, 3))

    def modes(self) -> list[str]:
        """The screen technologies it can be set to."""
        return texts(self.line.ask("SENS:MODE:CAT?"))

    def mode(self) -> str:
        """The one that is chosen."""
        return texts(self.line.ask("SENS:MODE?"))[0]

    def choose_mode(self, technology: str) -> None:
        """Set it to a screen technology. Raises InstrumentError where it does not know it."""
        self.line.tell(f'SENS:MODE "{technology}"')

    def measure_refresh(self) -> float:
        """The refresh of the light in front of it in Hz, 0 where it is steady."""
        return numbers(self.line, self.line.ask("SENS:REFR?", _SLACK_SECONDS + 1.0), 1)[0]

    def synchronise(self, hz: float | None) -> None:
        """Integrate over whole periods; None for not."""
        self.line.tell(f"SENS:SYNC {hz or 0.0:.6g}")


class LineSource:
    """A pattern source on a line."""

    def __init__(self, line: Line) -> None:
        """Asks the source who it is. Raises InstrumentError."""
        self.line = line
        self.identity: Identity = line.identity()
        self._settle = numbers(line, line.ask("PATT:SETT?"), 1)[0]
        self._depths = {int(float(depth)) for depth in line.ask("PATT:DEPT:CAT?").split(",") if depth.strip()}

    @property
    def name(self) -> str:
        return self.identity.name

    @property
    def settle_seconds(self) -> float:
        return self._settle

    def show(self, patch: Patch) -> None:
        if patch.format.depth not in self._depths:
            can = " or ".join(map(str, sorted(self._depths)))
            raise InstrumentError(self.name, f"it sends {can} bit, not {patch.format.depth} bit")
        self.line.ask_tagged("PATT:SHOW?", _described(patch), _SHOW_SECONDS)

    def shows(self, patch: Patch) -> bool:
        shown = self.line.ask("PATT:CURR?").strip().upper()
        if shown == "NONE":
            return False
        return _same(shown.split(","), _described(patch).split(","))


def _described(patch: Patch) -> str:
    sent = patch.format
    words = ",".join(word.value.upper() for word in (sent.range, sent.transfer, sent.container))
    shape = "" if patch.shape is Shape.WINDOW else f",{patch.shape.value.upper()}"
    return f"{sent.depth},{words},{sent.window:.9g},{','.join(map(str, patch.codes))}{shape}"


def _same(shown: list[str], wanted: list[str]) -> bool:
    """Whether two descriptions of a patch say the same; numbers may be written in other ways."""
    if len(shown) != len(wanted):
        return False
    for one, other in zip(shown, wanted, strict=True):
        if one.strip() == other:
            continue
        try:
            if abs(float(one) - float(other)) > 1e-6:
                return False
        except ValueError:
            return False
    return True


@dataclass(frozen=True)
class MenuControl:
    """A control as a screen on a line describes it."""

    role: str
    name: str
    lowest: int
    highest: int
    step: int
    factory: int
    choices: tuple[str, ...]


class LineScreen:
    """A screen's controls on a line."""

    def __init__(self, line: Line) -> None:
        """Asks the screen who it is. Raises InstrumentError."""
        self.line = line
        self.identity: Identity = line.identity()

    @property
    def name(self) -> str:
        return f"{self.identity.name}, by link"

    def turn(self, settings: Mapping[str, int]) -> None:
        pairs = ",".join(f'"{role}",{value}' for role, value in settings.items())
        self.line.ask_tagged("CONT:SET?", pairs, _MENU_SECONDS)

    def values(self) -> dict[str, int]:
        parts = texts(self.line.ask("CONT:ALL?"))
        try:
            return {role: int(value) for role, value in zip(parts[::2], parts[1::2], strict=True)}
        except ValueError as error:
            raise InstrumentError(self.name, "its list of settings makes no sense") from error

    def menu(self) -> tuple[MenuControl, ...]:
        """Every control that it has."""
        count = int(numbers(self.line, self.line.ask("CONT:COUN?"), 1)[0])
        return tuple(self._control(i) for i in range(count))

    def load_1d(self, table: Array) -> None:
        """Load a 1D table of drives, shape (size, 3). Raises InstrumentError where the screen refuses it."""
        self.line.tell("TABL:ONED:LOAD", np.asarray(table, dtype="<f4").tobytes())

    def load_3d(self, table: Array) -> None:
        """Load a cube of drives, shape (size, size, size, 3), red first."""
        self.line.tell("TABL:THRE:LOAD", np.asarray(table, dtype="<f4").tobytes())

    def clear_tables(self) -> None:
        """Take out what was loaded."""
        self.line.tell("TABL:ONED:CLE")
        self.line.tell("TABL:THRE:CLE")

    def table_sizes(self) -> tuple[int, int]:
        """Points a side of the 1D and the 3D table, 0 where it takes none."""
        one, three = (numbers(self.line, self.line.ask(f"TABL:{node}:SIZE?"), 1)[0] for node in ("ONED", "THRE"))
        return int(one), int(three)

    def _control(self, index: int) -> MenuControl:
        parts = texts(self.line.ask(f"CONT:DESC? {index}"))
        try:
            role, name, lowest, highest, step, factory, choices = parts
            return MenuControl(
                role,
                name,
                int(lowest),
                int(highest),
                int(step),
                int(factory),
                tuple(choices.split("|")) if choices else (),
            )
        except ValueError as error:
            raise InstrumentError(self.name, f"its control {index} cannot be read") from error
