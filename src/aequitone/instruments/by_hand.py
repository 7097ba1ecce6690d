"""A meter whose display a person reads and types in: x, y and Y, with checks for slips."""

import re
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from aequitone.colorimetry import xyz_from_xyY
from aequitone.instruments.ports import Measurement, MeterNoise
from aequitone.signal import Patch

# The range of chromaticities in which any grey of any screen lies, faults and all.
_GREY_X, _GREY_Y = (0.20, 0.48), (0.18, 0.48)
# A reading this many times from what the neighbours promise is more likely a slip of the decimal point.
_LIGHT_FACTOR = 4.0
_FORMS = {"xyY": "x, y and Y, as 0.3127 0.3290 98.4,", "XYZ": "X, Y and Z, as 93.5 98.4 107.1,"}
_NUMBER = re.compile(r"[+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:[eE][+-]?\d+)?")


@dataclass(frozen=True)
class HandEntry:
    """One reading as typed, and what looks wrong with it: nothing, a doubt, or a refusal."""

    x: float
    y: float
    Y: float
    doubts: tuple[str, ...] = ()

    @property
    def measurement(self) -> Measurement:
        if self.Y == 0.0:
            return Measurement(0.0, 0.0, 0.0)
        X, Y, Z = xyz_from_xyY([self.x, self.y, self.Y])
        return Measurement(float(X), float(Y), float(Z))


def parse_entry(
    text: str, expected_luminance: float | None = None, *, form: str = "xyY", grey: bool = True
) -> HandEntry:
    """Read “x y Y” (or “X Y Z”) as typed; a comma may be the decimal sign when figures are parted by spaces.

    Raises ValueError with a sentence where it cannot be a reading. What could be one but looks like a
    slip comes back with doubts, to be confirmed by the person. `expected_luminance` in cd/m²; `grey` False for
    a colour, which may lie anywhere.
    """
    figures = _figures(text)
    if len(figures) == 1 and figures[0] == 0.0:
        return HandEntry(0.3127, 0.3290, 0.0)
    if len(figures) != 3:
        raise ValueError(
            f"“{text.strip()}” holds {len(figures)} figure{'' if len(figures) == 1 else 's'}; "
            f"type {_FORMS[form]} with spaces between, or 0 for no light"
        )
    if not all(np.isfinite(figures)):
        raise ValueError("a figure is too large to be a reading")
    if form == "XYZ":
        return _of_xyz(figures, expected_luminance, grey)
    x, y, Y = figures
    if x > 1.0 or y > 1.0:
        raise ValueError(
            f"x {x:g} and y {y:g} must be below 1; a decimal point may be missing, as in {_mend(x)} {_mend(y)}"
        )
    if x < 0.0 or y <= 0.0 or x + y > 1.0:
        raise ValueError(f"x {x:g} and y {y:g} are no colour: x is at least 0, y above 0, together at most 1")
    if Y < 0.0:
        raise ValueError(f"Y {Y:g} cd/m² is less than no light")
    return HandEntry(x, y, Y, tuple(_doubts(x, y, Y, expected_luminance, grey)))


def _of_xyz(figures: list[float], expected: float | None, grey: bool) -> HandEntry:
    X, Y, Z = figures
    if min(figures) < 0.0:
        raise ValueError(f"X {X:g}, Y {Y:g}, Z {Z:g}: none of the three can be below 0")
    if Y == 0.0 or X + Y + Z <= 0.0:
        raise ValueError(f"Y {Y:g} with X {X:g} and Z {Z:g} is no light; type 0 alone for none")
    x, y = X / sum(figures), Y / sum(figures)
    return HandEntry(x, y, Y, tuple(_doubts(x, y, Y, expected, grey)))


def _figures(text: str) -> list[float]:
    parts = [part for part in re.split(r"[\s;]+", text.strip()) if part]
    if len(parts) == 1 and parts[0].count(",") == 2:
        parts = parts[0].split(",")
    parts = [part.rstrip(",") if part.count(",") == 1 and part.endswith(",") else part for part in parts]
    wrong = [part for part in parts if not _NUMBER.fullmatch(part)]
    if wrong:
        raise ValueError(f"“{wrong[0]}” is not a number; type three, as 0.3127 0.3290 98.4")
    return [float(part.replace(",", ".")) for part in parts]


def _mend(value: float) -> str:
    while value > 1.0:
        value /= 10.0
    return f"{value:.4f}"


def _doubts(x: float, y: float, Y: float, expected: float | None, grey: bool) -> list[str]:
    doubts = []
    if grey and not (_GREY_X[0] <= x <= _GREY_X[1] and _GREY_Y[0] <= y <= _GREY_Y[1]):
        doubts.append(f"x {x:g}, y {y:g} is far from any grey")
    if expected is not None and expected > 0.0:
        # A constant is added so that figures around black may wander.
        ratio = (Y + 0.05) / (expected + 0.05)
        if not 1.0 / _LIGHT_FACTOR < ratio < _LIGHT_FACTOR:
            about = f"{expected:.3g}" if expected >= 1.0 else f"{expected:.1g}"
            doubts.append(f"Y {Y:g} cd/m² where about {about} was expected")
    return doubts


class HandMeter:
    """A meter of any make, read by a person. `ask` blocks until they have typed a reading."""

    name = "Meter by hand"
    repeats = False
    # Four digits of x and y and three of Y are what displays show; half a last digit at 100 cd/m².
    noise = MeterNoise(shot=0.02, floor=0.002)

    def __init__(self, ask: Callable[[Patch], HandEntry]) -> None:
        self._ask = ask

    def measure(self, patch: Patch, seconds: float) -> Measurement:  # noqa: ARG002 - the person takes their time
        return self._ask(patch).measurement


class HandSource:
    """Patches from a disc, a stick or an app, called up by a person. `ask` blocks until it is shown."""

    name = "Patterns by hand"
    settle_seconds = 0.5

    def __init__(self, ask: Callable[[Patch], None]) -> None:
        self._ask = ask
        self._shown: Patch | None = None

    def show(self, patch: Patch) -> None:
        # The same patch again is not asked for: it still stands.
        if patch != self._shown:
            self._shown = None
            self._ask(patch)
            self._shown = patch

    def shows(self, patch: Patch) -> bool:
        return self._shown == patch
