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
    if not readings:
        return ()
    xyz = np.array([reading.xyz for reading in readings])
    uv = np.nan_to_num(uv_from_xyz(np.clip(xyz, 1e-9, None)))
    xy = xyz[:, :2] / np.maximum(xyz.sum(axis=1, keepdims=True), 1e-9)
    signals = [reading.patch.signal for reading in readings]
    known = aim.white > aim.black
    errors = colour_errors(signals, xyz, aim.target, white=aim.white, black=aim.black) if known else None
    rows = []
    for i, reading in enumerate(readings):
        wanted = de2000 = deitp = None
        if errors is not None:
            wanted = float(errors.target[i, 1])
            # A difference to black says nothing of what is seen.
            if max(signals[i]) > 0.0:
                de2000, deitp = float(errors.de2000[i]), float(errors.deitp[i])
        x, y, u, v = (float(value) for value in (*xy[i], *uv[i]))
        rows.append(SpotRow(reading.patch.name, x, y, reading.Y, reading.sd_Y, u, v, wanted, de2000, deitp))
    return tuple(rows)


def spot_text(rows: Sequence[SpotRow]) -> str:
    """The table as text, columns parted by tabs."""
    return "\n".join("\t".join(cells) for cells in (HEADS, *(row.cells for row in rows)))
