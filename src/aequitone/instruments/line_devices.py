"""Drivers of the bench protocol: a meter, a pattern source and a screen on a line."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from aequitone.colorimetry.arrays import Array
from aequitone.instruments.errors import InstrumentError
from aequitone.instruments.line import Identity, Line, numbers, texts
from aequitone.instruments.ports import Measurement, MeterNoise
from aequitone.signal import DEPTHS, MasteringLight, Patch, Shape

# What the figures of an instrument can be. Light itself is judged by what reads it (reliable.py).
_NOISE = ((0.0, 10.0), (0.0, 100.0), (0.0, 100.0))
_LIGHT, _SECONDS = (0.0, 1e6), (1e-4, 600.0)
_ANY = (-1e6, 1e6)
_SETTLE, _REFRESH, _CONTROLS, _VALUE = (0.0, 60.0), (0.0, 1000.0), (0.0, 5_000.0), 1_000_000
_POINTS, _SIDE = (0.0, 65_536.0), (0.0, 129.0)
MASTERING = "mastering"
"""The word of the bench protocol that metadata follow."""
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
        self._noise = MeterNoise(*numbers(line, line.ask("SENS:NOIS?"), *_NOISE))
        limits = MeterLimits(*numbers(line, line.ask("SENS:LIM?"), _LIGHT, _LIGHT, _SECONDS, _SECONDS))
        if limits.shortest > limits.longest or limits.darkest >= limits.brightest:
            raise InstrumentError(line.name, "its limits begin beyond where they end")
        self.limits = limits

    @property
    def name(self) -> str:
        return self.identity.name

    @property
    def noise(self) -> MeterNoise:
        return self._noise

    def measure(self, patch: Patch, seconds: float) -> Measurement:  # noqa: ARG002 - it looks at the screen
        integration = min(max(seconds, self.limits.shortest), self.limits.longest)
        answer = self.line.ask_tagged("MEAS:XYZ?", f"{integration:.6g}", integration + _SLACK_SECONDS)
        return Measurement(*_xyz(self.line, answer))

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
        return numbers(self.line, self.line.ask("SENS:REFR?", _SLACK_SECONDS + 1.0), _REFRESH)[0]

    def synchronise(self, hz: float | None) -> None:
        """Integrate over whole periods; None for not."""
        self.line.tell(f"SENS:SYNC {hz or 0.0:.6g}")


class LineSource:
    """A pattern source on a line."""

    def __init__(self, line: Line) -> None:
        """Asks the source who it is. Raises InstrumentError."""
        self.line = line
        self.identity: Identity = line.identity()
        self._settle = numbers(line, line.ask("PATT:SETT?"), _SETTLE)[0]
        told = {depth.strip() for depth in line.ask("PATT:DEPT:CAT?").split(",")}
        self.depths = tuple(depth for depth in DEPTHS if str(depth) in told)
        if not self.depths:
            raise InstrumentError(line.name, "it names no depth of signal that it can send")

    @property
    def name(self) -> str:
        return self.identity.name

    @property
    def settle_seconds(self) -> float:
        return self._settle

    def show(self, patch: Patch) -> None:
        if patch.format.depth not in self.depths:
            can = " or ".join(map(str, self.depths))
            raise InstrumentError(self.name, f"it sends {can} bit, not {patch.format.depth} bit")
        self.line.ask_tagged("PATT:SHOW?", self._described(patch), _SHOW_SECONDS)

    def shows(self, patch: Patch) -> bool:
        shown = self.line.ask("PATT:CURR?").strip().upper()
        if shown == "NONE":
            return False
        return _same(shown.split(","), self._described(patch).split(","))

    def _described(self, patch: Patch) -> str:
        sent = patch.format
        words = ",".join(word.value.upper() for word in (sent.range, sent.transfer, sent.container))
        shape = "" if patch.shape is Shape.WINDOW else f",{patch.shape.value.upper()}"
        # A source of the first version knows of no metadata.
        named = described_mastering(sent.mastering) if self.line.protocol > 1 else ""
        return f"{sent.depth},{words},{sent.window:.9g},{','.join(map(str, patch.codes))}{shape}{named}"


def described_mastering(light: MasteringLight | None) -> str:
    """Metadata as the bench protocol has it, after the patch; "" for none."""
    if light is None:
        return ""
    figures = (f"{light.peak:.9g}", f"{light.black:.9g}", str(light.brightest_pixel), str(light.brightest_frame))
    return ",".join(("", MASTERING.upper(), *figures))


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
        count = int(numbers(self.line, self.line.ask("CONT:COUN?"), _CONTROLS)[0])
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
        one, three = (
            int(numbers(self.line, self.line.ask(f"TABL:{node}:SIZE?"), most)[0])
            for node, most in (("ONED", _POINTS), ("THRE", _SIDE))
        )
        return one, three

    def _control(self, index: int) -> MenuControl:
        parts = texts(self.line.ask(f"CONT:DESC? {index}"))
        try:
            role, name, *figures, choices = parts
            lowest, highest, step, factory = map(int, figures)
        except ValueError as error:
            raise InstrumentError(self.name, f"its control {index} cannot be read") from error
        if not -_VALUE <= lowest <= factory <= highest <= _VALUE or not 1 <= step <= max(1, highest - lowest):
            raise InstrumentError(
                self.name,
                f"its control “{name}” goes from {lowest} to {highest} in steps of {step}, from {factory}",
            )
        return MenuControl(
            role, name, lowest, highest, step, factory, tuple(choices.split("|")) if choices else ()
        )


def _xyz(line: Line, answer: str) -> list[float]:
    """The three figures of a reading, whatever they are: what cannot be light is asked for again."""
    try:
        values = [float(part) for part in answer.split(",")]
    except ValueError:
        values = []
    return values if len(values) == 3 else numbers(line, answer, _ANY, _ANY, _ANY)
