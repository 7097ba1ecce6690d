"""An error split into light (in %) and cast (direction and size in u'v')."""

from dataclasses import dataclass

import numpy as np

from aequitone.colorimetry.arrays import Array, ArrayLike, triples
from aequitone.colorimetry.spaces import uv_from_xy, uv_from_xyz

# The axis from cool to warm: along the daylight locus through D65, from D75 to D55 (CIE 15:2018), in u'v'.
_COOL, _WARM = uv_from_xy([0.29903, 0.31488]), uv_from_xy([0.33243, 0.34744])
_WARM_AXIS = (_WARM - _COOL) / np.linalg.norm(_WARM - _COOL)
# A right angle to it, towards green.
_GREEN_AXIS = np.array([-_WARM_AXIS[1], _WARM_AXIS[0]])

# Two greys this far apart in u'v' are not told apart side by side.
JUST_VISIBLE_UV = 0.001

_WORDS = ("warm", "warm green", "green", "cool green", "cool", "cool magenta", "magenta", "warm magenta")


@dataclass(frozen=True)
class Cast:
    """The cast of one colour: `warm` and `green` are its components in u'v' (negative: cool, magenta)."""

    warm: float
    green: float

    @property
    def size(self) -> float:
        """Length in u'v'."""
        return float(np.hypot(self.warm, self.green))

    @property
    def word(self) -> str:
        """The cast as a word, "even" where it cannot be seen."""
        return cast_word(self.warm, self.green)


def light_error(sample: ArrayLike, reference: ArrayLike) -> Array:
    """Luminance error in %, shape (...); nan where the reference has no light."""
    Y, target = triples(sample, "sample")[..., 1], triples(reference, "reference")[..., 1]
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(target > 0, (Y / target - 1.0) * 100.0, np.nan)


def cast_components(sample: ArrayLike, reference: ArrayLike) -> Array:
    """Cast as (warm, green) components in u'v', shape (..., 2); nan where either has no light."""
    difference = uv_from_xyz(sample) - uv_from_xyz(reference)
    return np.stack([difference @ _WARM_AXIS, difference @ _GREEN_AXIS], axis=-1)


def cast_of(sample: ArrayLike, reference: ArrayLike) -> Cast:
    """The cast of one colour against its reference, both XYZ of shape (3,); no light is no cast."""
    warm, green = np.nan_to_num(cast_components(sample, reference))
    return Cast(float(warm), float(green))


def cast_word(warm: float, green: float) -> str:
    """One of eight directions, or "even" below `JUST_VISIBLE_UV`."""
    if not np.hypot(warm, green) >= JUST_VISIBLE_UV:
        return "even"
    return _WORDS[round(np.degrees(np.arctan2(green, warm)) / 45.0) % 8]
