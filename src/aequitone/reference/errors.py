"""How far measured greys are from the target, with the spread that the readings' noise gives."""

from dataclasses import dataclass, field
from enum import Enum
from functools import lru_cache

import numpy as np

from aequitone.colorimetry import Formula, delta_e_2000, delta_e_itp, light_error
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


class ByFormula:
    """Errors by more than one formula; every array has shape (n,)."""

    de2000: Array
    de2000_sd: Array
    de2000_noise: Array
    deitp: Array
    deitp_sd: Array
    deitp_noise: Array

    def by(self, formula: Formula) -> tuple[Array, Array, Array]:
        """ΔE with its light, its spread, and what noise alone makes of it, shape (n,) each."""
        if formula in (Formula.ITP, Formula.ITP_CAST):
            return self.deitp, self.deitp_sd, self.deitp_noise
        return self.de2000, self.de2000_sd, self.de2000_noise


@dataclass(frozen=True)
class GreyErrors(ByFormula):
    """Errors of n grey levels; every array has shape (n,), `cast` (n, 2) as (warm, green) in u'v'.

    At 0 % there is light, and a contrast to speak of, but no error of either kind: nan. A difference to a black
    that is not there, or to the screen's own, says nothing of what is seen. Beyond what the target asks of this
    screen there is no error either, but a cast.
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
    deitp_sd: Array = field(default_factory=lambda: np.zeros(0))
    deitp_noise: Array = field(default_factory=lambda: np.zeros(0))
    beyond: Array = field(default_factory=lambda: np.zeros(0, dtype=bool))
    """Whether a level lies beyond what the target asks of this screen."""

    def __post_init__(self) -> None:
        fill_missing(self, ("deitp_sd", "deitp_noise", "beyond"))


def fill_missing(errors: ByFormula, names: tuple[str, ...]) -> None:
    """Fill what records of earlier versions have not with as many zeros as there are errors."""
    for name in names:
        empty = getattr(errors, name)
        if len(empty) != len(errors.deitp):
            object.__setattr__(errors, name, np.zeros(len(errors.deitp), dtype=empty.dtype))


def deltas(measured: Array, wanted: Array, white: Array, sd: Array | None) -> tuple[Array, Array, Array]:
    """ΔE 2000 and ΔE ITP, shape (2, n), their spread, and what noise alone makes of them (root mean square).

    All of XYZ (n, 3) in cd/m²; `white`: what ΔE 2000 is seen against; `sd`: of `measured`, None for no noise.
    """

    def between(sample: Array) -> list[Array]:
        return [delta_e_2000(sample, wanted, white), delta_e_itp(sample, wanted)]

    off = np.array(between(measured))
    if sd is None:
        return off, np.zeros_like(off), np.zeros_like(off)
    scattered = DRAWS * sd
    spread = np.array([drawn.std(axis=0) for drawn in between(measured + scattered)])
    noise = np.array([np.sqrt((drawn**2).mean(axis=0)) for drawn in between(wanted + scattered)])
    return off, spread, noise


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
    beyond = np.logical_not(target.judged(percents, white))

    off, spread, noise = deltas(measured, wanted, reference_white, None if sd is None else np.asarray(sd))
    lit = np.where(percents > 0.0, 1.0, np.nan)
    held = np.where(beyond, np.nan, lit)
    return GreyErrors(
        percent=percents,
        target=wanted,
        de2000=off[0] * held,
        de2000_sd=spread[0] * held,
        de2000_noise=noise[0] * held,
        de2000_cast=delta_e_2000(measured, wanted, reference_white, light=False) * lit,
        deitp=off[1] * held,
        deitp_cast=delta_e_itp(measured, wanted, light=False) * lit,
        light=light_error(measured, wanted) * held,
        cast=cast_components(measured, wanted),
        deitp_sd=spread[1] * held,
        deitp_noise=noise[1] * held,
        beyond=beyond,
    )


def mean_error(de2000: ArrayLike, noise: ArrayLike) -> float:
    """Average of ΔE of levels, shape (n,), with what the readings' `noise` (n,) adds to a length taken out.

    Levels without an error (nan) are left out; nan where all are.

    A difference is never below nothing, so that noise adds to it whichever way it goes: to a length of two
    dimensions that is longer than the noise, half of its mean square (Rice, Bell System Technical Journal 24,
    1945). Where a level is right but for noise, a part of that stays.
    """
    told = without_noise(de2000, noise)
    held = told[~np.isnan(told)]
    return float(held.mean()) if len(held) else float("nan")


def without_noise(de2000: ArrayLike, noise: ArrayLike) -> Array:
    """ΔE of levels, shape (n,), with what the readings' `noise` (n,) adds to a length taken out (`mean_error`)."""
    seen, added = np.asarray(de2000, dtype=np.float64), np.asarray(noise, dtype=np.float64)
    return np.asarray(np.sqrt(np.maximum(seen**2 - added**2 / 2.0, 0.0)))


def mean_error_sd(sd: ArrayLike, in_common: float = _IN_COMMON) -> float:
    """Standard deviation of `mean_error`: of each level's own noise (n,), and of what all have `in_common`.

    Light wanders between one look and the next, and white, which all are relative to, was read with noise.
    """
    own = np.asarray(sd, dtype=np.float64)
    own = own[~np.isnan(own)]
    if not len(own):
        return float("nan")
    return float(np.hypot(np.sqrt((own**2).sum()) / len(own), in_common))


def verdict(de2000: float) -> Verdict:
    """What a ΔE looks like; none at all (nan), as beyond a screen, is not visible."""
    if not de2000 >= 1.0:
        return Verdict.NOT_VISIBLE
    return Verdict.SIDE_BY_SIDE if de2000 < 3.0 else Verdict.VISIBLE


@lru_cache(maxsize=16)
def light_band(
    target: Target,
    percents: tuple[float, ...],
    most: float = 1.0,
    peak: float = 100.0,
    formula: Formula = Formula.DE2000,
) -> tuple[tuple[float, float, float], ...]:
    """Level, and the light in % below and above the target at which ΔE reaches `most`, cast being right.

    For a screen whose white gives `peak`, in cd/m², and whose black gives no light.
    """
    white = target.white.xyz(float(target.white_luminance(peak)))
    # Between two of these ΔE is as good as straight; a finer net would take longer than a frame to draw.
    shares = np.linspace(-0.95, 4.0, 397)
    told = []
    for percent in percents:
        wanted = target.grey(percent, peak)
        de = formula.between(wanted * (1.0 + shares[:, None]), wanted, white)
        below, above = shares <= 0.0, shares >= 0.0
        low = float(np.interp(most, de[below][::-1], shares[below][::-1]))
        told.append((percent, low * 100.0, float(np.interp(most, de[above], shares[above])) * 100.0))
    return tuple(told)
