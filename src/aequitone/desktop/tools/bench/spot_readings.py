"""Single readings of the Bench, each against what the target asks for; pure functions, no Qt."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from aequitone.colorimetry import uv_from_xyz
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.policy import seen_black
from aequitone.procedures.steps import Reading
from aequitone.reference import Target, colour_errors

HEADS = ("Patch", "x", "y", "Y cd/m²", "±", "u'", "v'", "Wanted", "ΔE 2000", "ΔE ITP")


@dataclass(frozen=True)
class Aim:
    """What single readings are held to: the target, and luminance of 100 % and 0 % as far as it is known."""

    target: Target
    white: float = 0.0
    black: float = 0.0

    def learnt(self, reading: Reading) -> "Aim":
        """The aim after a reading: white and black are those that were read last."""
        if reading.patch.is_grey and reading.patch.percent == 100.0:
            return Aim(self.target, reading.Y, self.black)
        if reading.patch.is_grey and reading.patch.percent == 0.0:
            return Aim(self.target, self.white, seen_black(reading.Y, reading.sd_Y))
        return self

    def wanted(self, signal: tuple[float, float, float]) -> Array | None:
        """XYZ that is wanted of a signal, shape (3,); None while white is not known."""
        if self.white <= self.black:
            return None
        return self.target.colour(signal, self.white, self.black)


@dataclass(frozen=True)
class SpotRow:
    """A reading in figures."""

    name: str
    x: float
    y: float
    Y: float
    sd: float
    u: float
    v: float
    wanted: float | None
    """Luminance that the target asks for, cd/m²."""
    de2000: float | None
    """None for black, and while white is not known."""
    deitp: float | None

    @property
    def cells(self) -> tuple[str, ...]:
        """The row in words, as under HEADS."""
        return (
            self.name,
            f"{self.x:.4f}",
            f"{self.y:.4f}",
            f"{self.Y:.4g}",
            f"{self.sd:.2g}",
            f"{self.u:.4f}",
            f"{self.v:.4f}",
            "" if self.wanted is None else f"{self.wanted:.4g}",
            "" if self.de2000 is None else f"{self.de2000:.2f}",
            "" if self.deitp is None else f"{self.deitp:.1f}",
        )


def spot_rows(readings: Sequence[Reading], aim: Aim) -> tuple[SpotRow, ...]:
    """Every reading against the target, as white and black are known by now."""
    return tuple(_row(reading, aim) for reading in readings)


def spot_text(rows: Sequence[SpotRow]) -> str:
    """The table as text, columns parted by tabs."""
    return "\n".join("\t".join(cells) for cells in (HEADS, *(row.cells for row in rows)))


def _row(reading: Reading, aim: Aim) -> SpotRow:
    total = float(reading.xyz.sum())
    x, y = (reading.X / total, reading.Y / total) if total > 0.0 else (0.0, 0.0)
    u, v = (float(value) for value in np.nan_to_num(uv_from_xyz(np.clip(reading.xyz, 1e-9, None))))
    signal, wanted = reading.patch.signal, aim.wanted(reading.patch.signal)
    de2000 = deitp = None
    if wanted is not None and max(reading.patch.signal) > 0.0:
        errors = colour_errors([signal], reading.xyz[None], aim.target, white=aim.white, black=aim.black)
        de2000, deitp = float(errors.de2000[0]), float(errors.deitp[0])
    light = None if wanted is None else float(wanted[1])
    return SpotRow(reading.patch.name, x, y, reading.Y, reading.sd_Y, u, v, light, de2000, deitp)
