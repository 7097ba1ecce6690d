"""What the dark end of a first look leaves in doubt where the curve as a whole can be explained as it is.

A range that is changed on the way and a black level that is set wrongly bend the curve of grey alike.
"""

from enum import Enum

import numpy as np

from aequitone.advice.answers.answer import BLACK_ROW, DARKEST_ROW
from aequitone.colorimetry.arrays import Array

# Light of 5 % above black, of white, on a dark screen (gamma 2.4); and the share of that which is there at least.
_USUAL_RISE, _AT_LEAST = 0.05**2.4, 0.25
# White over black, where a screen in a dark room has more; a range that is squeezed lifts black to that.
_LEAST_CONTRAST = 450.0
_SIGMAS = 3.0


class DarkEnd(Enum):
    """What may be wrong at the dark end of grey."""

    SWALLOWED = "dark steps are as black as black"
    GREY = "black is grey"


def dark_end(light: Array, sd: Array) -> DarkEnd | None:
    """What greys at LOOK_PERCENTS, luminance (9,) in cd/m² with its spread, leave in doubt; None for nothing."""
    white, black = float(light[0]), float(light[BLACK_ROW])
    if black - _SIGMAS * float(sd[BLACK_ROW]) > white / _LEAST_CONTRAST:
        return DarkEnd.GREY
    rise = float(light[DARKEST_ROW]) - black
    if rise + _SIGMAS * float(np.hypot(sd[DARKEST_ROW], sd[BLACK_ROW])) < _AT_LEAST * _USUAL_RISE * white:
        return DarkEnd.SWALLOWED
    return None
