"""How far measured colours are from the target: as a whole, and by light, saturation and hue."""

from dataclasses import dataclass, field

import numpy as np

from aequitone.colorimetry import light_error, uv_from_xyz
from aequitone.colorimetry.arrays import Array, ArrayLike, triples
from aequitone.reference.errors import ByFormula, deltas, fill_missing
from aequitone.reference.target import Target

# Nearer to white than this, in u'v', a colour has no hue to speak of.
_NO_HUE = 0.004


@dataclass(frozen=True)
class ColourErrors(ByFormula):
    """Errors of n colours; every array has shape (n,) unless it is said."""

    target: Array
    """XYZ wanted, cd/m², shape (n, 3)."""
    de2000: Array
    de2000_sd: Array
    de2000_noise: Array
    """ΔE 2000 that the readings' noise alone makes of a colour that is right, as root of the mean square."""
    deitp: Array
    light: Array
    """Luminance error in %; nan where no light is wanted."""
    saturation: Array
    """How much further from white than wanted in u'v', in % of what is wanted; nan for a grey."""
    hue: Array
    """Hue angle in u'v' about white beyond what is wanted, in degrees, towards red to yellow to green; nan for a
    grey."""
    deitp_sd: Array = field(default_factory=lambda: np.zeros(0))
    deitp_noise: Array = field(default_factory=lambda: np.zeros(0))

    def __post_init__(self) -> None:
        fill_missing(self, ("deitp_sd", "deitp_noise"))


def colour_errors(
    signal: ArrayLike,
    xyz: ArrayLike,
    target: Target,
    *,
    white: float,
    black: float = 0.0,
    sd: ArrayLike | None = None,
) -> ColourErrors:
    """Compute errors of colours `xyz`, shape (n, 3) in cd/m², at R, G and B of `signal` (0 to 1), shape (n, 3).

    `white` and `black`: measured luminance of 100 % and 0 % grey. `sd`: standard deviation of `xyz`. ΔE 2000 is
    taken against the target white, at the measured luminance unless the target says cd/m². A colour one of whose
    signals means more light than a white of this screen has no error: it lies beyond it.
    """
    measured, wanted = triples(xyz, "XYZ"), target.colour(signal, white, black)
    reference_white = target.white.xyz(float(target.white_luminance(white)))

    off, spread, noise = deltas(measured, wanted, reference_white, None if sd is None else np.asarray(sd))
    held = np.where(target.judged(100.0 * triples(signal, "signal").max(axis=-1), white), 1.0, np.nan)
    saturation, hue = saturation_and_hue(measured, wanted, target.white.xyz())
    return ColourErrors(
        wanted,
        off[0] * held,
        spread[0] * held,
        noise[0] * held,
        off[1] * held,
        light_error(measured, wanted) * held,
        saturation,
        hue,
        spread[1] * held,
        noise[1] * held,
    )


def saturation_and_hue(xyz: ArrayLike, wanted: ArrayLike, white: ArrayLike) -> tuple[Array, Array]:
    """Errors of saturation in % and of hue in degrees, shape (...), of XYZ against what is wanted; nan for a grey.

    Saturation is the distance from `white` (XYZ) in u'v', hue the angle about it (CIE 15:2018, 8.2.2).
    """
    middle = uv_from_xyz(white)
    seen, aim = uv_from_xyz(xyz) - middle, uv_from_xyz(wanted) - middle
    far, wanted_far = np.linalg.norm(seen, axis=-1), np.linalg.norm(aim, axis=-1)
    angle = np.degrees(_angle(seen) - _angle(aim))
    hue = (angle + 180.0) % 360.0 - 180.0
    with np.errstate(divide="ignore", invalid="ignore"):
        saturation = (far / wanted_far - 1.0) * 100.0
    grey = ~(wanted_far > _NO_HUE)
    return np.where(grey, np.nan, saturation), np.where(grey | ~(far > _NO_HUE), np.nan, hue)


def _angle(uv: Array) -> Array:
    return np.asarray(np.arctan2(uv[..., 1], uv[..., 0]))
