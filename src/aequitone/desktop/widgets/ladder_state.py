"""The grey ladder as plain values, built from passes and their errors; no Qt."""

from dataclasses import dataclass, replace

import numpy as np

from aequitone.colorimetry import REC709, Formula, cast_word
from aequitone.colorimetry.arrays import Array
from aequitone.colorimetry.transfer import PQ_PEAK, srgb_codes
from aequitone.procedures.grey.grey_pass import GreyPass
from aequitone.reference import GreyErrors, Target, Verdict, verdict
from aequitone.signal import grey_levels

# White is drawn below full drive so that a cast has room to show.
_SWATCH_PEAK = 0.86
# What white is taken for before it was read, cd/m².
_SDR_WHITE, _HDR_WHITE = 100.0, 1_000.0


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
    meant: float | None = None
    """Light in cd/m² that the signal means, where it says so by itself."""
    beyond: bool = False
    """Whether more is meant than the screen has: no error of the screen."""


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
    formula: Formula = Formula.DE2000
    """Of the ΔE that is drawn."""


@dataclass(frozen=True)
class LadderTablePage:
    """The ladder as a table of figures."""

    ladder: LadderState


def short_light(cd_m2: float) -> str:
    """Light in cd/m² where there is little room: "0", "0.06", "9.2", "92", "4.1k"."""
    if cd_m2 <= 0.0:
        return "0"
    if cd_m2 >= 1000.0:
        return f"{cd_m2 / 1000.0:.1f}k"
    return f"{cd_m2:.0f}" if cd_m2 >= 10.0 else f"{cd_m2:.1f}" if cd_m2 >= 1.0 else f"{cd_m2:.2f}"


def measured_light(cd_m2: float) -> str:
    """Light as it was read, with its unit: "0.0412 cd/m²", "698 cd/m²"."""
    return f"{cd_m2:.0f} cd/m²" if cd_m2 >= 100.0 else f"{max(0.0, cd_m2):.3f} cd/m²"


def swatch(xyz: Array, white: float) -> tuple[int, int, int]:
    """An XYZ as sRGB codes for the ladder, white at `white` cd/m²."""
    linear = np.clip(REC709.rgb(xyz / max(white, 1e-9)) * _SWATCH_PEAK, 0.0, 1.0)
    r, g, b = (int(code) for code in srgb_codes(linear))
    return r, g, b


def empty_rows(target: Target, levels: int, white: float | None = None) -> dict[float, LadderRow]:
    """A ladder on which nothing is read yet; `white`: luminance of 100 %, cd/m², where it is known."""
    white = white or (_HDR_WHITE if target.tone.absolute else _SDR_WHITE)
    return {
        percent: LadderRow(
            percent,
            swatch(target.grey(percent, white), white),
            meant=float(target.luminance(percent / 100.0, PQ_PEAK, 0.0)) if target.tone.absolute else None,
        )
        for percent in grey_levels(levels)
    }


def filled(
    rows: dict[float, LadderRow],
    errors: GreyErrors,
    xyz: Array,
    white: float,
    formula: Formula = Formula.DE2000,
) -> dict[float, LadderRow]:
    """The ladder with what was read put on it; a level that the ladder lacks is left out."""
    rows, (off, spread, _) = dict(rows), errors.by(formula)
    for i, level in enumerate(errors.percent):
        percent = float(level)
        if percent not in rows:
            continue
        warm, green = (float(value) for value in np.nan_to_num(errors.cast[i]))
        dark, held = percent == 0.0, not np.isnan(off[i])
        rows[percent] = replace(
            rows[percent],
            target_rgb=swatch(errors.target[i], white),
            seen_rgb=swatch(np.clip(xyz[i], 0.0, None), white),
            luminance=float(xyz[i, 1]),
            light=None if np.isnan(errors.light[i]) else float(errors.light[i]),
            cast=None if dark else (warm, green),
            word="" if dark else cast_word(warm, green),
            delta=float(off[i]) if held else None,
            sd=float(spread[i]) if held else 0.0,
            verdict=verdict(float(off[i])) if held else None,
            beyond=bool(errors.beyond[i]),
            xyz=(float(xyz[i, 0]), float(xyz[i, 1]), float(xyz[i, 2])),
        )
    return rows


def marked(rows: dict[float, LadderRow], found: GreyPass) -> dict[float, LadderRow]:
    """The ladder with a mark where answers of the meter were left out."""
    left_out = dict(zip(found.percents, found.rejected, strict=False))
    return {percent: replace(row, left_out=left_out.get(percent, 0)) for percent, row in rows.items()}


def ghosted(
    rows: dict[float, LadderRow],
    errors: GreyErrors,
    xyz: Array,
    white: float,
    formula: Formula = Formula.DE2000,
) -> dict[float, LadderRow]:
    """The ladder with another pass as the ghost behind it."""
    rows, off = dict(rows), errors.by(formula)[0]
    for i, level in enumerate(errors.percent):
        if float(level) in rows:
            ghost = None if np.isnan(off[i]) else float(off[i])
            rows[float(level)] = replace(rows[float(level)], ghost=ghost, ghost_rgb=swatch(xyz[i], white))
    return rows
