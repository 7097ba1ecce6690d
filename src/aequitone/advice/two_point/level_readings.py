"""What was read at 100 %, at the bright and at the dark adjusting level, and which channels clip."""

from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from aequitone.colorimetry import REC709, Gamut
from aequitone.colorimetry.arrays import Array, Mask

# Light below this share of the level's green counts as none: a logarithm must not be asked of it.
_FLOOR = 1e-3
# A channel that falls this much short (log light) between bright and 100 % of what another rises, clips.
_CLIPS = 0.03
# Room above the brightest that was seen, in log light.
_ROOM = 0.01
WANDER = 0.0025
"""So much light wanders, in logarithm, between one look and the next, whatever is turned."""


def _no_ceilings() -> Array:
    return np.full(3, np.inf)


@dataclass(frozen=True)
class Seen:
    """XYZ (3, 3) in cd/m² at 100 %, bright and dark, and its standard deviation (3, 3).

    `known`: log light, per channel, that 100 % was seen not to rise above at earlier settings.
    `proven`: log light, per channel, that 100 % was seen to reach at earlier settings.
    `gamut`: the primaries that channels are told by: those of what is sent, which the controls act on.
    """

    xyz: Array
    sd: Array
    known: Array = field(default_factory=_no_ceilings)
    proven: Array = field(default_factory=lambda: -_no_ceilings())
    gamut: Gamut = REC709

    @cached_property
    def log_light(self) -> Array:
        """Log of linear RGB, shape (9,)."""
        return log_light(self.xyz, self.gamut)

    @cached_property
    def variance(self) -> Array:
        """Variance of `log_light` from the readings' noise, shape (9,)."""
        rgb = _positive(self.gamut.rgb(self.xyz))
        return np.asarray(((self.sd**2) @ (self.gamut.rgb_matrix**2).T / rgb**2).reshape(9))

    @cached_property
    def clipped(self) -> Mask:
        """Which channels clip at 100 %, shape (3,)."""
        light = self.log_light
        rise = light[:3] - light[3:6]
        noise = np.sqrt(self.variance[:3] + self.variance[3:6])
        return np.asarray(rise < rise.max() - np.maximum(_CLIPS, 5.0 * noise))

    @cached_property
    def ceilings(self) -> Array:
        """Log light at 100 % that each channel is not counted on to rise above, shape (3,).

        Seen to clip, it is where it clips; else a little above the most that was ever seen: a screen whose
        contrast was set well has no room above it, and one trip lost on finding that out is one too many.
        """
        surmised = np.minimum(self.known, self.reached + _ROOM)
        return np.asarray(np.where(self.clipped, self.clips_at, surmised))

    @cached_property
    def clips_at(self) -> Array:
        """Log light at 100 % that each channel was seen not to rise above, inf where none was, shape (3,)."""
        clips_at = np.where(self.clipped, np.minimum(self.known, self.log_light[:3]), self.known)
        # What was seen to give more does not end there: a strong cast can look like a ceiling.
        return np.asarray(np.maximum(clips_at, self.proven))

    @cached_property
    def reached(self) -> Array:
        """The most log light at 100 % that each channel was seen to give, shape (3,)."""
        return np.asarray(np.maximum(self.proven, self.log_light[:3]))

    @cached_property
    def unclipped_light(self) -> Array:
        """`log_light`, with clipped channels at 100 % where they would be without their ceiling."""
        light, clipped = self.log_light.copy(), self.clipped
        rise = light[:3] - light[3:6]
        light[:3] = np.where(clipped, light[3:6] + rise[~clipped].mean(), light[:3])
        return light


def believed(fresh: Seen, expected: Array, variance: Array) -> Seen:
    """A reading and what was expected of it, each by how sure it is; 100 % stays as it was read.

    `expected` is log light (9,) and `variance` its own: a Kalman filter's update (1960) of each level. What is
    read is uncertain in X, Y and Z, what is expected in red, green and blue, so that neither hides the other.
    """
    xyz, sd = fresh.xyz.copy(), fresh.sd.copy()
    for level in (1, 2):
        rows = slice(3 * level, 3 * level + 3)
        rgb = np.exp(expected[rows])
        to_xyz = fresh.gamut.xyz_matrix * rgb
        prior = to_xyz @ (variance[rows, None] * to_xyz.T)
        gain = prior @ np.linalg.inv(prior + np.diag(fresh.sd[level] ** 2))
        aim = fresh.gamut.xyz(rgb)
        xyz[level] = aim + gain @ (fresh.xyz[level] - aim)
        sd[level] = np.sqrt(np.diag(prior - gain @ prior))
    return replace(fresh, xyz=xyz, sd=sd)


def log_light(xyz: Array, gamut: Gamut) -> Array:
    """Log of linear RGB of XYZ (..., n, 3), shape (..., 3 n)."""
    return np.asarray(np.log(_positive(gamut.rgb(xyz))).reshape(*xyz.shape[:-2], 3 * xyz.shape[-2]))


def _positive(rgb: Array) -> Array:
    return np.asarray(np.maximum(rgb, _FLOOR * np.maximum(rgb[..., 1:2], 1e-9)))
