"""What is wanted of a ladder, and what was read of it: ΔE of levels, and what of that is noise."""

from dataclasses import dataclass

import numpy as np

from aequitone.advice.points.effect import PointEffect
from aequitone.advice.two_point.level_readings import log_light
from aequitone.colorimetry import Formula, Gamut
from aequitone.colorimetry.arrays import Array, Mask
from aequitone.reference import Target

DRAWS = np.random.default_rng(33).standard_normal((160, 3))
"""Of X, Y and Z, or of three channels, for every spread of ΔE."""


@dataclass(frozen=True)
class Tracked:
    """What was last read at each level, and where the controls stood then."""

    percents: Array
    """(L,), the ladder from 100 % down, then what was read near black."""
    xyz: Array
    """(L, 3), cd/m²."""
    sd: Array
    offsets: Array
    """(L, P, 3): the grid's offsets when each was read."""
    black: float
    """Luminance of 0 %, cd/m²."""
    foot: int = 0
    """How many rows at the end were read near black, and are there for their light alone."""

    def row(self, percent: float) -> int:
        """The row of a level, or of the nearest to it."""
        return int(np.abs(self.percents - percent).argmin())


@dataclass(frozen=True)
class PointGoal:
    """What is wanted, and what a trip must bring."""

    target: Target
    least_gain: float
    """ΔE that turning a level must take off, on all levels together, to be worth the trip."""
    good: float = 0.0
    """ΔE of a level below which nothing more is gained."""
    floor: bool = False
    """Whether the darkest level may no longer be raised: black came up with it."""
    formula: Formula = Formula.DE2000
    """Of the ΔE that is brought down, light included. It is counted here in units of about a ΔE 2000 (`unit`)."""
    least_of_a_control: float = 0.0
    """ΔE that each control of a trip to several levels must take off beside that."""

    @property
    def gamut(self) -> Gamut:
        """The primaries that channels are told by: those of what is sent, which the controls act on."""
        return self.target.container

    @property
    def unit(self) -> float:
        """What a person reads as ΔE, for each that is counted here."""
        return self.formula.unit

    def _between(self, xyz: Array, wanted: Array, white: Array) -> Array:
        return self.formula.between(xyz, wanted, white) / self.unit

    def delta(self, tracked: Tracked, xyz: Array) -> Array:
        """ΔE, shape (..., L), of XYZ (..., L, 3).

        At 100 % of a relative target, and beyond what a target asks of this screen, only cast counts.
        """
        white = self.target.white_luminance(np.maximum(xyz[..., 0, 1], 1e-6))
        black = np.minimum(tracked.black, white * 0.5)
        luminance = self.target.luminance(tracked.percents / 100.0, white[..., None], black[..., None])
        luminance = np.where(self.held(tracked), luminance, xyz[..., 1])
        wanted = luminance[..., None] * self.target.white.xyz()
        return self._between(xyz, wanted, (white[..., None] * self.target.white.xyz())[..., None, :])

    def held(self, tracked: Tracked) -> Mask:
        """Which rows (L,) are held to the light that the target asks for."""
        return np.asarray(self.target.judged(tracked.percents, max(float(tracked.xyz[0, 1]), 1e-6)), dtype=bool)

    def now(self, tracked: Tracked, effect: PointEffect, offsets: Array) -> Array:
        """XYZ (L, 3) that is to be expected now: as read, and what was turned since."""
        light = log_light(tracked.xyz, self.gamut).reshape(-1, 3)
        turned = offsets - tracked.offsets
        if not turned.any():
            return tracked.xyz
        weights = effect.weights(tracked.percents / 100.0)
        change = np.einsum("lp,lpc->lc", weights, turned) * effect.channels
        return np.asarray(self.gamut.xyz(np.exp(light + change)))

    def spread(self, tracked: Tracked, row: int) -> float:
        """Spread of ΔE at a row from the noise of its reading."""
        return float(self.spreads(tracked)[row])

    def spreads(self, tracked: Tracked) -> Array:
        """Spread of ΔE from the noise of its reading at every row, (L,)."""
        drawn = tracked.xyz[:, None] + DRAWS * tracked.sd[:, None]
        lit = np.full(drawn.shape[:2], float(tracked.xyz[0, 1]))
        lit[0] = np.maximum(drawn[0, :, 1], 1e-6)
        own = self.target.white_luminance(lit)
        signal = np.broadcast_to(tracked.percents[:, None] / 100.0, own.shape)
        light = self.target.luminance(signal, own, np.minimum(tracked.black, own / 2.0))
        light = np.where(self.held(tracked)[:, None], light, drawn[..., 1])
        reference = self.target.white.xyz()
        return np.asarray(
            self._between(drawn, light[..., None] * reference, own[..., None] * reference).std(axis=1)
        )

    def delta_at(self, tracked: Tracked, xyz: Array, row: int, white: float) -> Array:
        """ΔE, shape (n,), of XYZ (n, 3) at one row, where 100 % gives `white`."""
        own = self.target.white_luminance(np.maximum(xyz[:, 1], 1e-6) if row == 0 else np.full(len(xyz), white))
        light = self.target.luminance(tracked.percents[row] / 100.0, own, np.minimum(tracked.black, own / 2.0))
        if not self.held(tracked)[row]:
            light = xyz[:, 1]
        reference = self.target.white.xyz()
        return self._between(xyz, light[:, None] * reference, own[:, None] * reference)

    def noise(self, tracked: Tracked) -> Array:
        """ΔE (L,) that the noise of its reading alone makes of a level that is right, as root mean square."""
        aim = self.target.grey(tracked.percents, max(float(tracked.xyz[0, 1]), 1e-6), tracked.black)
        drawn = aim + DRAWS[:, None, :] * tracked.sd
        reference = self.target.white.xyz(max(float(tracked.xyz[0, 1]), 1e-6))
        return np.asarray(np.sqrt((self._between(drawn, aim, reference) ** 2).mean(axis=0)))


def log_variance(xyz: Array, sd: Array, gamut: Gamut) -> Array:
    """Variance of log linear RGB, shape (..., 3), of readings (..., 3)."""
    return np.asarray((sd**2) @ (gamut.rgb_matrix**2).T / _lit(xyz, gamut) ** 2)


def log_covariance(xyz: Array, sd: Array, gamut: Gamut) -> Array:
    """Covariance of log linear RGB, shape (..., 3, 3), of readings (..., 3)."""
    slope = gamut.rgb_matrix / _lit(xyz, gamut)[..., None]
    return np.asarray((slope * sd[..., None, :] ** 2) @ np.swapaxes(slope, -1, -2))


def _lit(xyz: Array, gamut: Gamut) -> Array:
    """Linear RGB (..., 3) of readings (..., 3), none of it so little that its logarithm means nothing."""
    return np.maximum(gamut.rgb(xyz), 1e-3 * np.maximum(xyz[..., 1:2], 1e-9))
