"""How far measured greys are from the target, with the spread that the readings' noise gives."""

from dataclasses import dataclass
from enum import Enum
from functools import lru_cache

import numpy as np

from aequitone.colorimetry import delta_e_2000, delta_e_itp, light_error
from aequitone.colorimetry.arrays import Array, ArrayLike, triples
from aequitone.colorimetry.cast import cast_components
from aequitone.reference.target import Target

# The draws of the small Monte Carlo behind every ± on a ΔE. First-order propagation fails where it
# matters most: ΔE is a length, and at the target its slope is not defined.
DRAWS = np.random.default_rng(20).standard_normal((160, 1, 3))


# ΔE 2000 by which an average may be off for what its levels have in common (benchmarks/zoo.py).
_IN_COMMON = 0.07


class Verdict(Enum):
    """What a viewer would notice (practice: below 1 is invisible, below 3 is good)."""

    NOT_VISIBLE = "not visible"
    SIDE_BY_SIDE = "side by side only"
    VISIBLE = "visible"


@dataclass(frozen=True)
class GreyErrors:
    """Errors of n grey levels; every array has shape (n,), `cast` (n, 2) as (warm, green) in u'v'.

    At 0 % there is light, and a contrast to speak of, but no error of either kind: nan. A difference to a black
    that is not there, or to the screen's own, says nothing of what is seen.
    """

    percent: Array
    target: Array
    """XYZ wanted, cd/m², shape (n, 3)."""
    de2000: Array
    de2000_sd: Array
    de2000_noise: Array
    """ΔE 2000 that the readings' noise alone makes of a level that is right, as root of the mean square."""
    de2000_cast: Array
    """ΔE 2000 without its light part."""
    deitp: Array
    deitp_cast: Array
    light: Array
    """Luminance error in %; nan where no light is wanted."""
    cast: Array


def grey_errors(
    percent: ArrayLike,
    xyz: ArrayLike,
    target: Target,
    *,
    white: float,
    black: float = 0.0,
    sd: ArrayLike | None = None,
) -> GreyErrors:
    """Errors of greys `xyz`, shape (n, 3) in cd/m², at `percent`, shape (n,).

    `white` and `black`: measured luminance of 100 % and 0 %. `sd`: standard deviation of `xyz`.
    ΔE 2000 is taken against the target white, at the measured luminance unless the target says cd/m².
    """
    percents = np.asarray(percent, dtype=np.float64)
    measured = triples(xyz, "XYZ")
    wanted = target.grey(percents, white, black)
    reference_white = target.white.xyz(float(target.white_luminance(white)))
    de2000 = delta_e_2000(measured, wanted, reference_white)
    spread, noise = np.zeros_like(de2000), np.zeros_like(de2000)
    if sd is not None:
        scattered = DRAWS * np.asarray(sd, dtype=np.float64)
        spread = delta_e_2000(measured + scattered, wanted, reference_white).std(axis=0)
        noise = np.sqrt((delta_e_2000(wanted + scattered, wanted, reference_white) ** 2).mean(axis=0))
    lit = np.where(percents > 0.0, 1.0, np.nan)
    return GreyErrors(
        percent=percents,
        target=wanted,
        de2000=de2000 * lit,
        de2000_sd=spread * lit,
        de2000_noise=noise * lit,
        de2000_cast=delta_e_2000(measured, wanted, reference_white, light=False) * lit,
        deitp=delta_e_itp(measured, wanted) * lit,
        deitp_cast=delta_e_itp(measured, wanted, light=False) * lit,
        light=light_error(measured, wanted) * lit,
        cast=cast_components(measured, wanted),
    )


def mean_error(de2000: ArrayLike, noise: ArrayLike) -> float:
    """Average of ΔE of levels, shape (n,), with what the readings' `noise` (n,) adds to a length taken out.

    A difference is never below nothing, so that noise adds to it whichever way it goes: to a length of two
    dimensions that is longer than the noise, half of its mean square (Rice, Bell System Technical Journal 24,
    1945). Where a level is right but for noise, a part of that stays.
    """
    seen, added = np.asarray(de2000, dtype=np.float64), np.asarray(noise, dtype=np.float64)
    return float(np.sqrt(np.maximum(seen**2 - added**2 / 2.0, 0.0)).mean())


def mean_error_sd(sd: ArrayLike) -> float:
    """Standard deviation of `mean_error`: of each level's own noise (n,), and of what all have in common.

    Light wanders between one look and the next, and white, which all are relative to, was read with noise.
    """
    own = np.asarray(sd, dtype=np.float64)
    return float(np.hypot(np.sqrt((own**2).sum()) / len(own), _IN_COMMON))


def verdict(de2000: float) -> Verdict:
    """What a ΔE 2000 looks like."""
    if de2000 < 1.0:
        return Verdict.NOT_VISIBLE
    return Verdict.SIDE_BY_SIDE if de2000 < 3.0 else Verdict.VISIBLE


@lru_cache(maxsize=16)
def light_band(
    target: Target, percents: tuple[float, ...], most: float = 1.0, peak: float = 100.0
) -> tuple[tuple[float, float, float], ...]:
    """Level, and the light in % below and above the target at which ΔE 2000 reaches `most`, cast being right.

    For a screen whose white gives `peak`, in cd/m², and whose black gives no light.
    """
    white = target.white.xyz(float(target.white_luminance(peak)))
    # Between two of these ΔE is as good as straight; a finer net would take longer than a frame to draw.
    shares = np.linspace(-0.95, 4.0, 397)
    told = []
    for percent in percents:
        wanted = target.grey(percent, peak)
        de = delta_e_2000(wanted * (1.0 + shares[:, None]), wanted, white)
        below, above = shares <= 0.0, shares >= 0.0
        low = float(np.interp(most, de[below][::-1], shares[below][::-1]))
        told.append((percent, low * 100.0, float(np.interp(most, de[above], shares[above])) * 100.0))
    return tuple(told)
