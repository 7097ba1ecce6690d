"""How exactly a reading is wanted: by what the eye makes of its noise, not by a fixed time.

A standard deviation in L* (CIE 15:2018, 8.2.1) is turned into one of luminance at the level's own light, so
that bright levels are read in a moment and dark ones for as long as they need.
"""

import math
from dataclasses import dataclass, replace

import numpy as np

from aequitone.colorimetry import ITP_SCALE, lab_from_xyz
from aequitone.colorimetry.arrays import Array
from aequitone.colorimetry.transfer import pq_encode
from aequitone.reference import Target

WANTED_DE = 0.05
# A colour: noise of X and Z counts beside that of Y, and each would have to be read for minutes otherwise.
COLOUR_DE = 0.2
# A look that settles whether a setting is right, not only which way to turn.
CLOSER_DE = 0.02
# A look that is weighed with what was expected of it.
WEIGHED_DE = 0.034
# Contrast and BT.1886 ask more of black than ΔE does.
_BLACK_CARE = 3.0
LAB_SLOPE_BLACK = 903.3
"""L* for a share of white's light, near black (CIE 15:2018)."""
_MOST_SECONDS = 12.0
# L*, a* and b* for a cube root of light (CIE 15:2018, 8.2.1), and S_C of ISO/CIE 11664-6.
_L_FACTOR, _A_FACTOR, _B_FACTOR, _CHROMA = 116.0, 500.0, 200.0, 0.045
# About what a unit of L* is worth in ΔE ITP.
_ITP_OF_L = 3.0
# Along which the slope of PQ is taken: a share of light, and cd/m².
_NUDGE, _LEAST_LIGHT = 0.01, 1e-4
# Diffuse white in cd/m² (ITU-R BT.2408), against which the shadows of HDR are seen.
_DIFFUSE_WHITE = 203.0
# So many spreads above nothing, black is seen.
_SIGMAS = 3.0


@dataclass(frozen=True)
class ReadPolicy:
    """What is wanted of a reading, and what it may cost."""

    sd: float
    """Wanted standard deviation of Y, cd/m²."""
    expected: float | None = None
    """The light that is expected, cd/m²: chooses the first exposure; None where nothing is known."""
    most_seconds: float = _MOST_SECONDS
    """Integration in all, however far from the wanted precision."""
    colour: "ColourWish | None" = None
    """What is wanted of X and Z beside; None where Y decides, as it does for a grey."""

    def coarser(self, factor: float) -> "ReadPolicy":
        """The policy with so many times the standard deviation."""
        colour = self.colour
        if colour is not None:
            colour = replace(colour, sd_X=colour.sd_X * factor, sd_Z=colour.sd_Z * factor)
        return replace(self, sd=self.sd * factor, colour=colour)

    def __post_init__(self) -> None:
        if not (self.sd > 0.0 and self.most_seconds > 0.0):
            raise ValueError(
                f"a reading needs a precision and a time above 0, got {self.sd:g} and {self.most_seconds:g}"
            )


@dataclass(frozen=True)
class ColourWish:
    """What is wanted of X and Z of a colour: standard deviations, and what is expected, in cd/m²."""

    sd_X: float
    sd_Z: float
    X: float
    Z: float


def seen_black(luminance: float, sd: float) -> float:
    """Luminance of 0 %, cd/m², where the meter can tell it from nothing; else 0.

    BT.1886 would lift all shadows by what is nothing but noise: a thousandth of a candela by a tenth at 10 %.
    """
    return luminance if luminance > _SIGMAS * sd else 0.0


def policy_for(
    luminance: float, white: float, wanted_de: float = WANTED_DE, *, absolute: bool = False
) -> ReadPolicy:
    """The policy for an expected luminance on a screen of this white, both in cd/m²; `wanted_de` in L*.

    `absolute`: for a target in cd/m², whose differences are counted along PQ and not against white.
    """
    if absolute:
        return ReadPolicy(_absolute_sd(luminance, wanted_de), luminance)
    return ReadPolicy(_lightness_sd(luminance, white, wanted_de), luminance)


def target_policy(target: Target, luminance: float, white: float, wanted_de: float = WANTED_DE) -> ReadPolicy:
    """The policy for a grey of a target: against white, or along PQ where the target says cd/m²."""
    return policy_for(luminance, white, wanted_de, absolute=target.tone.absolute)


def policy_for_colour(xyz: Array, white: Array, wanted_de: float = COLOUR_DE) -> ReadPolicy:
    """The policy for an expected colour against a white, both XYZ in cd/m², shape (3,); `wanted_de` in ΔE 2000.

    Noise of X and Z moves a* and b* (CIE 15:2018, 8.2.1); it counts for less the stronger the colour is, and a*
    for more beside a neutral (S_C and G of ISO/CIE 11664-6). A red has little Z and a blue little Y: light alone
    would not tell what they need.
    """
    _, a, b = (float(value) for value in lab_from_xyz(np.maximum(xyz, 0.0), white))
    chroma = math.hypot(a, b)
    allowed = wanted_de * (1.0 + _CHROMA * chroma)
    stretch = 1.5 - 0.5 * math.sqrt(chroma**7 / (chroma**7 + 25.0**7))
    # Of a difference of two, each may have its part.
    a_star = allowed / stretch * _L_FACTOR / _A_FACTOR / math.sqrt(2.0)
    b_star = allowed * _L_FACTOR / _B_FACTOR / math.sqrt(2.0)
    X, Y, Z = (max(float(value), 0.0) for value in xyz)
    white_X, white_Y, white_Z = (float(value) for value in white)
    wish = ColourWish(_lightness_sd(X, white_X, a_star), _lightness_sd(Z, white_Z, b_star), X, Z)
    return ReadPolicy(_lightness_sd(Y, white_Y, min(wanted_de, a_star, b_star)), Y, colour=wish)


def _lightness_sd(light: float, white: float, wanted: float) -> float:
    """Standard deviation in cd/m² that makes `wanted` of L*: 116 cube roots of light as a share of white."""
    share = max(light, 0.0) / white
    bright = wanted * 3.0 / _L_FACTOR * math.cbrt(share) ** 2
    dark = wanted / LAB_SLOPE_BLACK / _BLACK_CARE
    return max(bright, dark) * white


def _absolute_sd(light: float, wanted: float) -> float:
    """Standard deviation in cd/m² that makes as much of ΔE ITP (ITU-R BT.2124) as `wanted` L* is worth."""
    rise = float(pq_encode(light * (1.0 + _NUDGE) + _LEAST_LIGHT) - pq_encode(light))
    bright = wanted * _ITP_OF_L / float(ITP_SCALE[0]) * (light * _NUDGE + _LEAST_LIGHT) / rise
    return max(bright, wanted / LAB_SLOPE_BLACK / _BLACK_CARE * _DIFFUSE_WHITE)
