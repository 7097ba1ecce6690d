"""Programs that know nothing of the bench protocol: one that prints a reading, one that shows a colour.

READ::command            prints X Y Z in cd/m², each time it is run
READXYY::command         prints x y Y
SHOW::command            shows a colour: {r} {g} {b} stand for its codes, {depth} for their bits, {window} for
                         the share of the area in %
"""

import re
from dataclasses import dataclass

import numpy as np

from aequitone.colorimetry import xyz_from_xyY
from aequitone.instruments.channels.channel import EndlessError
from aequitone.instruments.channels.program import Run, arguments_of
from aequitone.instruments.errors import InstrumentError
from aequitone.instruments.ports import Measurement, MeterNoise
from aequitone.signal import Patch, Shape

READ, READ_XYY, SHOW = "READ::", "READXYY::", "SHOW::"
_KINDS = {READ: "METER", READ_XYY: "METER", SHOW: "SOURCE"}
# What a colorimeter of the usual kind promises: a program that prints figures tells nothing of their noise.
_NOISE = MeterNoise(0.01, 0.003, 0.0)
_READ_SECONDS, _SHOW_SECONDS, _SETTLE_SECONDS = 60.0, 15.0, 1.0
_SEPARATORS = re.compile(r"[\s,;]+")
_KNOWN = ("r", "g", "b", "depth", "window")


def bridge_kind(address: str) -> str | None:
    """METER or SOURCE where an address names a bridge, None where it names an instrument."""
    return next((kind for prefix, kind in _KINDS.items() if address.upper().startswith(prefix)), None)


class BridgeMeter:
    """A command that prints a reading."""

    repeats = True

    def __init__(self, address: str) -> None:
        """Raises InstrumentError where there is no command."""
        self._is_xyY = address.upper().startswith(READ_XYY)
        self._arguments = _arguments(address, READ_XYY if self._is_xyY else READ)
        self._command = _Command(_name(self._arguments))

    @property
    def name(self) -> str:
        return _name(self._arguments)

    @property
    def noise(self) -> MeterNoise:
        return _NOISE

    def measure(self, patch: Patch, seconds: float) -> Measurement:  # noqa: ARG002 - it looks at the screen
        """Run the command once; it takes as long as it takes, within a minute."""
        printed = self._command.run(self._arguments, _READ_SECONDS)
        figures = _figures(printed)
        if figures is None:
            raise InstrumentError(self.name, f"it printed “{_shown(printed)}” where three numbers belong")
        if self._is_xyY and figures[1] <= 0.0:
            raise InstrumentError(self.name, f"it printed y {figures[1]:g}, which no light has")
        X, Y, Z = xyz_from_xyY(np.array(figures)) if self._is_xyY else figures
        return Measurement(float(X), float(Y), float(Z))

    def hang_up(self) -> None:
        """End what runs, from any thread, for good."""
        self._command.end()


class BridgeSource:
    """A command that shows a colour."""

    def __init__(self, address: str) -> None:
        """Raises InstrumentError where there is no command, or a placeholder that nothing stands for."""
        self._arguments = _arguments(address, SHOW)
        unknown = set(re.findall(r"\{(\w*)\}", " ".join(self._arguments))) - set(_KNOWN)
        if unknown:
            known = ", ".join(f"{{{name}}}" for name in _KNOWN)
            raise InstrumentError(self.name, f"{{{min(unknown)}}} stands for nothing; there are {known}")
        self._command = _Command(self.name)
        self._shown: Patch | None = None

    @property
    def name(self) -> str:
        return _name(self._arguments)

    @property
    def settle_seconds(self) -> float:
        return _SETTLE_SECONDS

    def show(self, patch: Patch) -> None:
        """Run the command for a patch, and wait until it has ended."""
        if patch.shape is not Shape.WINDOW:
            raise InstrumentError(self.name, "a command shows a window of one colour and no other picture")
        self._shown = None
        r, g, b = patch.codes
        values = dict(zip(_KNOWN, (r, g, b, patch.format.depth, f"{patch.format.window * 100.0:g}"), strict=True))
        arguments = [_filled(argument, values) for argument in self._arguments]
        self._command.run(arguments, _SHOW_SECONDS)
        self._shown = patch

    def shows(self, patch: Patch) -> bool:
        """Whether this patch was the last that it was run for."""
        return self._shown is not None and (self._shown.codes, self._shown.format) == (patch.codes, patch.format)

    def hang_up(self) -> None:
        """End what runs, from any thread, for good."""
        self._command.end()


def _arguments(address: str, prefix: str) -> list[str]:
    try:
        return arguments_of(address[len(prefix) :])
    except ValueError as error:
        raise InstrumentError(address, str(error)) from error


def _name(arguments: list[str]) -> str:
    """What a command is called in sentences."""
    return arguments[0].rsplit("/", 1)[-1]


def _filled(argument: str, values: dict[str, object]) -> str:
    return re.sub(r"\{(\w+)\}", lambda match: str(values[match[1]]), argument)


@dataclass
class _Command:
    """Runs a command, one run at a time, until it is ended for good."""

    name: str
    running: Run | None = None
    is_ended: bool = False

    def run(self, arguments: list[str], seconds: float) -> str:
        """What it printed. Raises InstrumentError."""
        if self.is_ended:
            raise InstrumentError(self.name, "it was ended with the program")
        try:
            self.running = Run(arguments)
            code, printed = self.running.output(seconds)
        except TimeoutError as error:
            raise InstrumentError(self.name, f"it did not end within {seconds:.0f} s") from error
        except EndlessError as error:
            raise InstrumentError(self.name, "it prints without an end") from error
        except OSError as error:
            raise InstrumentError(self.name, f"it cannot be run: {error.strerror or error}") from error
        if code:
            raise InstrumentError(self.name, f"it ended with exit code {code}; the log has what it said")
        return printed.decode("utf-8", "replace")

    def end(self) -> None:
        """End what runs, from any thread, and let nothing begin any more."""
        self.is_ended = True
        if self.running is not None:
            self.running.end()


def _figures(printed: str) -> list[float] | None:
    """The three numbers of the last line that is not empty."""
    lines = [line.strip() for line in printed.splitlines() if line.strip()]
    try:
        values = [float(word) for word in _SEPARATORS.split(lines[-1])] if lines else []
    except ValueError:
        return None
    return values if len(values) == 3 else None


def _shown(printed: str) -> str:
    words = " ".join(printed.split())
    return words if len(words) <= 60 else f"{words[:59]}…"
