"""How exactly a reading is wanted: by what the eye makes of its noise, not by a fixed time.

A standard deviation in L* (CIE 15:2018, 8.2.1) is turned into one of luminance at the level's own light, so
that bright levels are read in a moment and dark ones for as long as they need.
"""

from dataclasses import dataclass

WANTED_DE = 0.05
# A look that settles whether a setting is right, not only which way to turn.
CLOSER_DE = 0.02
# A look that is weighed with what was expected of it.
WEIGHED_DE = 0.034
# Contrast and BT.1886 ask more of black than ΔE does.
_BLACK_CARE = 3.0
LAB_SLOPE_BLACK = 903.3
"""L* for a share of white's light, near black (CIE 15:2018)."""
_MOST_SECONDS = 12.0
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

    def __post_init__(self) -> None:
        if not (self.sd > 0.0 and self.most_seconds > 0.0):
            raise ValueError(
                f"a reading needs a precision and a time above 0, got {self.sd:g} and {self.most_seconds:g}"
            )


def seen_black(luminance: float, sd: float) -> float:
    """Luminance of 0 %, cd/m², where the meter can tell it from nothing; else 0.

    BT.1886 would lift all shadows by what is nothing but noise: a thousandth of a candela by a tenth at 10 %.
    """
    return luminance if luminance > _SIGMAS * sd else 0.0


def policy_for(luminance: float, white: float, wanted_de: float = WANTED_DE) -> ReadPolicy:
    """The policy for an expected luminance on a screen of this white, both in cd/m²; `wanted_de` in L*."""
    share = max(luminance, 0.0) / white
    bright = wanted_de * 3.0 / 116.0 * share ** (2.0 / 3.0)
    dark = wanted_de / LAB_SLOPE_BLACK / _BLACK_CARE
    return ReadPolicy(max(bright, dark) * white, luminance)
