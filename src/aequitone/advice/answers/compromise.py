"""What a curve from the light that is meant to the light of a screen does to a picture: clips it, darkens it.

A projector of 100 cd/m² cannot show what was mastered to 1,000: either its top is given up, or the whole picture
is darker than meant. Both are shares of a picture's pixels, and can be looked at before anything is chosen.
"""

from dataclasses import dataclass

import numpy as np

from aequitone.colorimetry.arrays import Array
from aequitone.colorimetry.transfer import pq_light
from aequitone.reference import Target

_SIGNALS = np.linspace(0.0, 1.0, 513)
# Of the most light there is: above it nothing can be told apart; and of what is meant: below it a pixel is darker.
_ALL, _DARKER = 0.99, 0.85
_LEAST = 1e-3
# Below this, cd/m², a screen's own shadows decide and no roll-off.
_SHADOWS = 2.5


@dataclass(frozen=True, eq=False)
class LightCurve:
    """Light that is given for light that is meant, both rising, shape (n,), in cd/m²."""

    meant: Array
    given: Array

    @classmethod
    def of_target(cls, target: Target, white: float, black: float = 0.0) -> "LightCurve":
        """What a target wants of a screen of this white and black, cd/m²."""
        return cls(pq_light(_SIGNALS), np.maximum.accumulate(target.luminance(_SIGNALS, white, black)))

    @classmethod
    def of_greys(cls, signal: Array, light: Array, black: float = 0.0) -> "LightCurve":
        """What a screen of this black, cd/m², gives, by greys (n,) that were read under PQ, 0 to 1."""
        order = np.argsort(signal)
        x, y = signal[order], np.maximum.accumulate(np.maximum(light[order], black))
        meant = pq_light(_SIGNALS)
        # What a grey has of its light is a smooth figure; below the darkest a screen goes on as there.
        share = np.interp(_SIGNALS, x, (y - black) / np.maximum(pq_light(x), _LEAST))
        return cls(meant, np.maximum.accumulate(np.minimum(black + share * meant, y[-1])))

    def __call__(self, light: Array) -> Array:
        """Light given, of the shape of `light` meant, cd/m²."""
        return np.asarray(np.interp(light, self.meant, self.given))

    @property
    def clips_at(self) -> float:
        """Light meant, in cd/m², from which nothing more is given."""
        return float(self.meant[int(np.argmax(self.given >= _ALL * self.given[-1]))])


@dataclass(frozen=True)
class Made:
    """What a curve makes of a picture, as shares of its pixels, and of its light."""

    clipped: float
    """Brighter than the curve tells apart."""
    darker: float
    """Not clipped, but visibly darker than meant; shadows left out, which no roll-off touches."""
    light: float
    """The picture's light as the eye averages it (of logarithms), as a share of what is meant."""


def made_of(picture: Array, curve: LightCurve) -> Made:
    """What a curve makes of a picture of linear RGB in cd/m², shape (..., 3), each channel by itself."""
    brightest = picture.max(axis=-1)
    given = curve(brightest)
    clipped = brightest > curve.clips_at
    darker = ~clipped & (brightest > _SHADOWS) & (given < _DARKER * brightest)
    average = np.log(np.maximum(given, _LEAST)).mean() - np.log(np.maximum(brightest, _LEAST)).mean()
    return Made(float(clipped.mean()), float(darker.mean()), float(np.exp(average)))
