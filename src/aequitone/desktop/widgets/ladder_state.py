"""The grey ladder as plain values, built from passes and their errors; no Qt."""

from dataclasses import dataclass, replace

import numpy as np

from aequitone.colorimetry import REC709, cast_word
from aequitone.colorimetry.arrays import Array
from aequitone.colorimetry.transfer import srgb_codes
from aequitone.procedures.grey.grey_pass import GreyPass
from aequitone.reference import GreyErrors, Target, Verdict, verdict
from aequitone.signal import grey_levels

# White is drawn below full drive so that a cast has room to show.
_SWATCH_PEAK = 0.86


@dataclass(frozen=True)
class LadderRow:
    """A grey level: what is wanted and what is seen."""

    percent: float
    target_rgb: tuple[int, int, int]
    seen_rgb: tuple[int, int, int] | None = None
    luminance: float | None = None
    light: float | None = None
    cast: tuple[float, float] | None = None
    word: str = ""
    delta: float | None = None
    sd: float = 0.0
    verdict: Verdict | None = None
    ghost: float | None = None
    ghost_rgb: tuple[int, int, int] | None = None
    here: bool = False
    left_out: int = 0
    """Answers of the meter that did not belong."""
    xyz: tuple[float, float, float] | None = None


@dataclass(frozen=True)
class LadderState:
    """The grey ladder."""

    title: str
    subtitle: str
    rows: tuple[LadderRow, ...]
    brackets: tuple[tuple[str, float, float], ...] = ()
    """Name, highest and lowest percent that the controls of this name reach."""
    active: str = ""
    """The bracket that the present move acts on."""


@dataclass(frozen=True)
class LadderTablePage:
    """The ladder as a table of figures."""

    ladder: LadderState


def swatch(xyz: Array, white: float) -> tuple[int, int, int]:
    """An XYZ as sRGB codes for the ladder, white at `white` cd/m²."""
    linear = np.clip(REC709.rgb(xyz / max(white, 1e-9)) * _SWATCH_PEAK, 0.0, 1.0)
    r, g, b = (int(code) for code in srgb_codes(linear))
    return r, g, b


def empty_rows(target: Target, levels: int, white: float = 100.0) -> dict[float, LadderRow]:
    """A ladder on which nothing is read yet."""
    return {
        percent: LadderRow(percent, swatch(target.grey(percent, white), white)) for percent in grey_levels(levels)
    }


def filled(rows: dict[float, LadderRow], errors: GreyErrors, xyz: Array, white: float) -> dict[float, LadderRow]:
    """The ladder with what was read put on it; a level that the ladder lacks is left out."""
    rows = dict(rows)
    for i, level in enumerate(errors.percent):
        percent = float(level)
        if percent not in rows:
            continue
        warm, green = (float(value) for value in np.nan_to_num(errors.cast[i]))
        dark = percent == 0.0
        rows[percent] = replace(
            rows[percent],
            target_rgb=swatch(errors.target[i], white),
            seen_rgb=swatch(np.clip(xyz[i], 0.0, None), white),
            luminance=float(xyz[i, 1]),
            light=None if np.isnan(errors.light[i]) else float(errors.light[i]),
            cast=None if dark else (warm, green),
            word="" if dark else cast_word(warm, green),
            delta=None if dark else float(errors.de2000[i]),
            sd=float(errors.de2000_sd[i]),
            verdict=None if dark else verdict(float(errors.de2000[i])),
            xyz=(float(xyz[i, 0]), float(xyz[i, 1]), float(xyz[i, 2])),
        )
    return rows


def marked(rows: dict[float, LadderRow], found: GreyPass) -> dict[float, LadderRow]:
    """The ladder with a mark where answers of the meter were left out."""
    left_out = dict(zip(found.percents, found.rejected, strict=False))
    return {percent: replace(row, left_out=left_out.get(percent, 0)) for percent, row in rows.items()}


def ghosted(rows: dict[float, LadderRow], errors: GreyErrors, xyz: Array, white: float) -> dict[float, LadderRow]:
    """The ladder with another pass as the ghost behind it."""
    rows = dict(rows)
    for i, level in enumerate(errors.percent):
        if float(level) in rows:
            ghost = float(errors.de2000[i]) if level > 0 else None
            rows[float(level)] = replace(rows[float(level)], ghost=ghost, ghost_rgb=swatch(xyz[i], white))
    return rows
