"""Readings from files: CGATS.17 text and CSV, as other programs and our own write them."""

import csv
import io
import re
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from aequitone.colorimetry import xyz_from_xyY
from aequitone.colorimetry.arrays import Array
from aequitone.handover.errors import ImportFailedError

_MOST_BYTES = 64_000_000
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


@dataclass(frozen=True)
class ImportedReading:
    """One line of a file: the signal in % of R, G, B and XYZ in cd/m²."""

    name: str
    rgb_percent: tuple[float, float, float]
    xyz: Array
    group: str = ""
    """The pass it belongs to, where the file tells several apart."""

    @property
    def grey_percent(self) -> float | None:
        """The level of a grey, None for a colour."""
        r, g, b = self.rgb_percent
        return r if r == g == b else None


def read_file(path: Path) -> list[ImportedReading]:
    """The readings of a CGATS.17 or CSV file. Raises ImportFailedError, naming line and column."""
    try:
        if path.stat().st_size > _MOST_BYTES:
            raise ImportFailedError(
                f"{path.name} is larger than {_MOST_BYTES // 1_000_000} MB. Nothing was taken from it."
            )
        text = path.read_text("utf-8-sig")
    except UnicodeDecodeError as error:
        raise ImportFailedError(f"{path.name} is not text (byte {error.start}). Nothing was taken.") from error
    except OSError as error:
        raise ImportFailedError(f"{path.name} cannot be read: {error.strerror}. Nothing was taken.") from error
    return parse(text, path.name)


def parse(text: str, where: str) -> list[ImportedReading]:
    """The readings in a text; `where` names it in errors. Raises ImportFailedError."""
    if "BEGIN_DATA_FORMAT" in text:
        heads, rows = _cgats(text, where)
    else:
        heads, rows = _csv(text, where)
    if not rows:
        raise ImportFailedError(f"{where} holds no readings. Nothing was taken from it.")
    places = _places(heads, where)
    figures = [_figures(row, places, line, where) for line, row in rows]
    words = [{what: row[places[what]] if what in places else "" for what in _WORDS} for _, row in rows]
    return _readings(figures, words)


Rows = list[tuple[int, list[str]]]
"""Line numbers from 1, and the cells of each line."""


def _cgats(text: str, where: str) -> tuple[list[str], Rows]:
    """Columns and data of CGATS.17 (ISO 28178): keywords and data between their BEGIN and END lines."""
    heads: list[str] = []
    rows: Rows = []
    part, ended = "", False
    for number, line in enumerate(text.splitlines(), 1):
        words = _words(line)
        if not words:
            continue
        if words[0] in ("BEGIN_DATA_FORMAT", "BEGIN_DATA"):
            part = words[0]
        elif words[0] in ("END_DATA_FORMAT", "END_DATA"):
            ended = ended or words[0] == "END_DATA"
            part = ""
        elif part == "BEGIN_DATA_FORMAT":
            heads += words
        elif part == "BEGIN_DATA":
            if len(words) != len(heads):
                raise ImportFailedError(
                    f"{where}, line {number}: {len(words)} values where the format names {len(heads)} columns. "
                    "Nothing was taken from it."
                )
            rows.append((number, words))
    if not ended:
        raise ImportFailedError(f"{where} ends before its data do (no END_DATA). Nothing was taken from it.")
    return heads, rows


def _words(line: str) -> list[str]:
    bare = line if '"' in line else line.split("#", 1)[0]
    return [quoted or plain for quoted, plain in re.findall(r'"([^"]*)"|(\S+)', bare)]


def _csv(text: str, where: str) -> tuple[list[str], Rows]:
    sample = text[:4096]
    try:
        dialect = csv.Sniffer().sniff(sample, delimiters=",;\t")
    except csv.Error:
        dialect = csv.excel
    try:
        lines = [(i, row) for i, row in enumerate(csv.reader(io.StringIO(text), dialect), 1) if any(row)]
    except csv.Error as error:
        raise ImportFailedError(f"{where} is no table ({error}). Nothing was taken from it.") from error
    if not lines:
        raise ImportFailedError(f"{where} is empty. Nothing was taken from it.")
    (_, heads), *rows = lines
    for number, row in rows:
        if len(row) != len(heads):
            raise ImportFailedError(
                f"{where}, line {number}: {len(row)} values under {len(heads)} headings. Nothing was taken."
            )
    return [head.strip() for head in heads], rows


def _places(heads: list[str], where: str) -> dict[str, int]:
    """Which column holds what."""
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
            f"{where} has no columns for light: X, Y, Z (or x, y, Y) are needed; it has {', '.join(heads)}. "
            "Nothing was taken from it."
        )
    if not ("percent" in places or set(_RGB) <= set(places)):
        raise ImportFailedError(
            f"{where} does not say what was shown: a column percent, or R, G and B, is needed; "
            f"it has {', '.join(heads)}. Nothing was taken from it."
        )
    return places


def _figures(row: list[str], places: dict[str, int], line: int, where: str) -> dict[str, float]:
    figures = {}
    for what, i in places.items():
        if what in _WORDS:
            continue
        cell = row[i].strip()
        try:
            figures[what] = float(cell.replace(",", "."))
        except ValueError:
            raise ImportFailedError(
                f"{where}, line {line}: “{cell}” stands where a number belongs. Nothing was taken from it."
            ) from None
        if not np.isfinite(figures[what]):
            raise ImportFailedError(f"{where}, line {line}: “{cell}” is no reading. Nothing was taken from it.")
    return figures


def _readings(figures: list[dict[str, float]], words: list[dict[str, str]]) -> list[ImportedReading]:
    scale = 1.0
    if set(_RGB) <= set(figures[0]):
        most = max(max(row[c] for c in _RGB) for row in figures)
        # RGB goes to 1, to 100, or to the largest code of 8, 10 or 12 bit.
        scale = 100.0 / next((top for top in (1.0, 100.0, 255.0, 1023.0, 4095.0) if most <= top), most or 1.0)
    readings = []
    for row, told in zip(figures, words, strict=True):
        rgb = tuple(row[c] * scale for c in _RGB if c in row)
        if "percent" in row and (len(rgb) < 3 or rgb[0] == rgb[1] == rgb[2]):
            rgb = (row["percent"],) * 3
        if set(_XYZ) <= set(row):
            xyz = np.array([row["X"], row["Y"], row["Z"]])
        elif row["yY"] <= 0.0 or row["y"] <= 0.0:
            xyz = np.zeros(3)
        else:
            xyz = xyz_from_xyY([row["x"], row["y"], row["yY"]])
        readings.append(
            ImportedReading(told["name"], (float(rgb[0]), float(rgb[1]), float(rgb[2])), xyz, told["group"])
        )
    return readings
