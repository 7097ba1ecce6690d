"""Readings from files: CGATS.17 text and CSV, as other programs and our own write them."""

import io
import re
from dataclasses import dataclass, field
from pathlib import Path
from typing import TextIO

import numpy as np

from aequitone.colorimetry import xyz_from_xyY
from aequitone.colorimetry.arrays import Array
from aequitone.handover.errors import ImportFailedError
from aequitone.handover.incoming.tables import NOTHING, rows_of
from aequitone.instruments.ports import Measurement, MeterNoise
from aequitone.instruments.reliable import implausible

_MOST_BYTES = 64_000_000
_MOST_READINGS = 50_000
# Columns by the names they go by, in lower case, without units.
_COLUMNS = {
    "percent": ("percent", "level", "signal", "stimulus", "grey", "gray"),
    "r": ("r", "red", "rgb_r", "code_r"),
    "g": ("g", "green", "rgb_g", "code_g"),
    "b": ("b", "blue", "rgb_b", "code_b"),
    "X": ("x_cd_m2", "xyz_x", "cap_x"),
    "Y": ("y_cd_m2", "xyz_y", "cap_y", "luminance"),
    "Z": ("z_cd_m2", "xyz_z", "cap_z"),
    "x": ("xyy_x", "xyy_x_1", "small_x"),
    "y": ("xyy_y", "small_y"),
    "yY": ("xyy_capy", "xyy_yy"),
    "name": ("sample_name", "patch", "name"),
    "group": ("pass",),
}
_WORDS = ("name", "group")
_XYZ, _XYY, _RGB = ("X", "Y", "Z"), ("x", "y", "yY"), ("r", "g", "b")
_NUMBER = re.compile(r"[+-]?(?:[0-9]+\.?[0-9]*|\.[0-9]+)(?:[eE][+-]?[0-9]{1,3})?")
# A comma with three figures behind it parts thousands in some countries and is the decimal sign in others.
_THOUSANDS = re.compile(r"[+-]?[1-9][0-9]{0,2},[0-9]{3}")
# Signals go below black and above white, and not far.
_LEAST_PERCENT, _MOST_PERCENT, _MOST_CODE = -10.0, 110.0, 4095.0
# Below the y of violet light (CIE 15:2018), no light has a chromaticity.
_LEAST_Y = 0.004
FILE_NOISE = MeterNoise(shot=0.01, floor=0.002)
"""Assumed for readings from a file, whose meter is not known."""


@dataclass(frozen=True)
class ImportedReading:
    """One line of a file: the signal in % of R, G, B and XYZ in cd/m²."""

    name: str
    rgb_percent: tuple[float, float, float]
    xyz: Array
    group: str = ""
    """The pass it belongs to, where the file tells several apart."""
    line: int = 0
    """Where it stands in the file."""

    @property
    def grey_percent(self) -> float | None:
        """The level of a grey, None for a colour."""
        r, g, b = self.rgb_percent
        return r if r == g == b else None


def read_file(path: Path) -> list[ImportedReading]:
    """The readings of a CGATS.17 or CSV file. Raises ImportFailedError, naming line and column."""
    try:
        if not path.is_file():
            raise ImportFailedError(f"{path.name} cannot be read: there is no such file. {NOTHING}")
        if path.stat().st_size > _MOST_BYTES:
            raise ImportFailedError(f"{path.name} is larger than {_MOST_BYTES // 1_000_000} MB. {NOTHING}")
        with path.open(encoding="utf-8-sig", newline="") as file:
            return _read(file, path.name)
    except UnicodeDecodeError as error:
        raise ImportFailedError(f"{path.name} is not text (byte {error.start}). Nothing was taken.") from error
    except OSError as error:
        raise ImportFailedError(f"{path.name} cannot be read: {error.strerror}. Nothing was taken.") from error


def parse(text: str, where: str) -> list[ImportedReading]:
    """The readings in a text; `where` names it in errors. Raises ImportFailedError."""
    return _read(io.StringIO(text, newline=""), where)


def _read(file: TextIO, where: str) -> list[ImportedReading]:
    rows = rows_of(file, where)
    _, heads = next(rows)
    places = _places(heads, where)
    numbers = _Numbers(where)
    found: list[_Line] = []
    for line, row in rows:
        if len(found) == _MOST_READINGS:
            raise ImportFailedError(
                f"{where} holds more than {_MOST_READINGS} readings, more than any visit has. {NOTHING}"
            )
        figures = {what: numbers.read(row[i].strip(), line) for what, i in places.items() if what not in _WORDS}
        words = {what: row[places[what]] if what in places else "" for what in _WORDS}
        found.append(_Line(line, figures, words["name"], words["group"], _xyz(figures, line, where)))
    if not found:
        raise ImportFailedError(f"{where} holds no readings. {NOTHING}")
    numbers.check_commas()
    scale = _code_scale(found)
    return [each.reading(scale, where) for each in found]


@dataclass(frozen=True)
class _Line:
    number: int
    figures: dict[str, float]
    name: str
    group: str
    xyz: Array

    def reading(self, scale: float, where: str) -> ImportedReading:
        """With its signal in %, once it is known how far the codes go."""
        rgb = tuple(self.figures[c] * scale for c in _RGB if c in self.figures)
        if "percent" in self.figures and (len(rgb) < 3 or rgb[0] == rgb[1] == rgb[2]):
            rgb = (self.figures["percent"],) * 3
        if min(rgb) < _LEAST_PERCENT or max(rgb) > _MOST_PERCENT:
            raise ImportFailedError(
                f"{where}, line {self.number}: a signal of {max(rgb):g} % cannot be. {NOTHING}"
            )
        return ImportedReading(
            self.name, (float(rgb[0]), float(rgb[1]), float(rgb[2])), self.xyz, self.group, self.number
        )


def _code_scale(found: list[_Line]) -> float:
    """What turns codes into %: RGB goes to 1, to 100, or to the largest code of 8, 10 or 12 bit."""
    if not set(_RGB) <= set(found[0].figures):
        return 1.0
    most = max(max(each.figures[c] for c in _RGB) for each in found)
    return 100.0 / next((top for top in (1.0, 100.0, 255.0, 1023.0, _MOST_CODE) if most <= top), most)


def _places(heads: list[str], where: str) -> dict[str, int]:
    """Which column holds what."""
    for head in heads:
        if head and heads.count(head) > 1:
            raise ImportFailedError(f"{where} has more than one column {head}. {NOTHING}")
    places: dict[str, int] = {}
    # A bare X, Y, Z and x, y differ by their case alone.
    for i, head in enumerate(heads):
        if head in ("X", "Y", "Z", "x", "y"):
            places[head] = i
    lower = [re.sub(r"[\s()/.-]+", "_", head.lower()).strip("_") for head in heads]
    for what, names in _COLUMNS.items():
        for i, head in enumerate(lower):
            if what not in places and i not in places.values() and head in names:
                places[what] = i
    if "yY" not in places and {"x", "y", "Y"} <= set(places) and "X" not in places:
        places["yY"] = places["Y"]
    if not (set(_XYZ) <= set(places) or set(_XYY) <= set(places)):
        raise ImportFailedError(
            f"{where} has no columns for light: X, Y, Z (or x, y, Y) are needed; it has {_shown(heads)}. {NOTHING}"
        )
    if not ("percent" in places or set(_RGB) <= set(places)):
        raise ImportFailedError(
            f"{where} does not say what was shown: a column percent, or R, G and B, is needed; "
            f"it has {_shown(heads)}. {NOTHING}"
        )
    return places


def _shown(heads: list[str]) -> str:
    told = ", ".join(heads[:20])
    return told if len(told) <= 200 else f"{told[:200]}…"


@dataclass
class _Numbers:
    """Reads cells as numbers, with a decimal point or a decimal comma, but not with both in one file."""

    where: str
    point: int = 0
    comma: int = 0
    """The first line that has one; 0 for none."""
    doubtful: list[tuple[int, str]] = field(default_factory=list)
    """The first cell whose comma might part thousands."""
    sure: bool = False
    """Whether a comma was seen that can only be the decimal sign."""

    def read(self, cell: str, line: int) -> float:
        """The number in a cell. Raises ImportFailedError with the place."""
        if "," in cell:
            self.comma = self.comma or line
            if not _THOUSANDS.fullmatch(cell):
                self.sure = True
            elif not self.doubtful:
                self.doubtful.append((line, cell))
        elif "." in cell:
            self.point = self.point or line
        if self.point and self.comma:
            raise ImportFailedError(
                f"{self.where}, line {line}: “{cell[:40]}”, but numbers before it have another decimal sign. "
                f"{NOTHING}"
            )
        plain = cell.replace(",", ".", 1)
        if not _NUMBER.fullmatch(plain):
            if re.fullmatch(r"[+-]?(nan|inf(inity)?)", cell, re.IGNORECASE):
                raise ImportFailedError(f"{self.where}, line {line}: “{cell}” is no reading. {NOTHING}")
            raise ImportFailedError(
                f"{self.where}, line {line}: “{cell[:40]}” stands where a number belongs. {NOTHING}"
            )
        value = float(plain)
        if not np.isfinite(value):
            raise ImportFailedError(f"{self.where}, line {line}: “{cell[:40]}” is no reading. {NOTHING}")
        return value

    def check_commas(self) -> None:
        """Refuse a file whose commas could be decimal signs or thousands separators."""
        if self.doubtful and not self.sure:
            line, cell = self.doubtful[0]
            raise ImportFailedError(
                f"{self.where}, line {line}: “{cell}” could be {cell.replace(',', '')} or "
                f"{cell.replace(',', '.')}. Save it with decimal points. {NOTHING}"
            )


def _xyz(figures: dict[str, float], line: int, where: str) -> Array:
    """XYZ of a line, within the bounds that a meter's answers are held to."""
    if set(_XYZ) <= set(figures):
        xyz = np.array([figures["X"], figures["Y"], figures["Z"]])
    else:
        x, y, luminance = figures["x"], figures["y"], figures["yY"]
        if luminance != 0.0 and not (x >= 0.0 and y >= _LEAST_Y and x + y <= 1.0):
            raise ImportFailedError(f"{where}, line {line}: x {x:g}, y {y:g} is the colour of no light. {NOTHING}")
        xyz = xyz_from_xyY([x, y, luminance]) if luminance != 0.0 else np.zeros(3)
    reason = implausible(Measurement(*(float(v) for v in xyz)), FILE_NOISE, 1.0)
    if reason is not None:
        told = reason.replace("it answered with", "it has").replace("it answered", "it has")
        raise ImportFailedError(f"{where}, line {line}: {told}. {NOTHING}")
    return xyz
