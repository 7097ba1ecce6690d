"""Tones: the luminance that a signal should give on a screen of this white and black."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Protocol

import numpy as np

from aequitone.colorimetry.arrays import Array, ArrayLike
from aequitone.colorimetry.transfer import bt1886_light, power_light, srgb_light


class BlackReference(StrEnum):
    """What a tone that starts from nothing asks for on a screen whose black gives light."""

    ADDED = "added"
    """L = (Lw - Lb) f(V) + Lb: black lies under everything, and the rest is as the law says."""
    SCALED = "scaled"
    """The law is moved along the signal so that it starts from black, as ITU-R BT.1886 does."""
    ZERO = "zero"
    """L = Lw f(V): as on a screen whose black is none, whatever this one can do."""
    EARLIER = ""
    """As the first versions had it: zero, but near black on top of black. For what they have measured."""

    @property
    def label(self) -> str:
        """In words."""
        return {
            BlackReference.ADDED: "black added",
            BlackReference.SCALED: "scaled to black",
            BlackReference.ZERO: "ideal zero",
            BlackReference.EARLIER: "",
        }[self]


class Tone(Protocol):
    """A law of light."""

    @property
    def label(self) -> str: ...

    @property
    def black_references(self) -> tuple[BlackReference, ...]:
        """What it can make of black, the usual one first."""
        ...

    def luminance(self, signal: ArrayLike, white: ArrayLike, black: ArrayLike, reference: BlackReference) -> Array:
        """Compute cd/m² of `signal` (0 to 1) on a screen of this white and black; the three broadcast."""
        ...


@dataclass(frozen=True)
class Power:
    """A power law."""

    gamma: float

    @property
    def label(self) -> str:
        return f"gamma {self.gamma:g}"

    @property
    def black_references(self) -> tuple[BlackReference, ...]:
        return (BlackReference.ADDED, BlackReference.SCALED, BlackReference.ZERO)

    def luminance(self, signal: ArrayLike, white: ArrayLike, black: ArrayLike, reference: BlackReference) -> Array:
        """Compute cd/m²; `SCALED` is the form of ITU-R BT.1886, annex 1, with this exponent."""
        if reference is BlackReference.SCALED:
            return bt1886_light(signal, white, black, self.gamma)
        return _based(power_light(signal, self.gamma), white, black, reference)


@dataclass(frozen=True)
class Bt1886:
    """ITU-R BT.1886: a 2.4 law that starts from the screen's measured black."""

    @property
    def label(self) -> str:
        return "BT.1886"

    @property
    def black_references(self) -> tuple[BlackReference, ...]:
        return (BlackReference.SCALED,)

    def luminance(self, signal: ArrayLike, white: ArrayLike, black: ArrayLike, reference: BlackReference) -> Array:  # noqa: ARG002 - the law has its own
        """Compute cd/m² by annex 1."""
        return bt1886_light(signal, white, black)


@dataclass(frozen=True)
class Srgb:
    """IEC 61966-2-1: a law for monitors, straight near black and about 2.2 above."""

    @property
    def label(self) -> str:
        return "sRGB"

    @property
    def black_references(self) -> tuple[BlackReference, ...]:
        return (BlackReference.ADDED, BlackReference.ZERO)

    def luminance(self, signal: ArrayLike, white: ArrayLike, black: ArrayLike, reference: BlackReference) -> Array:
        """Compute cd/m²."""
        return _based(srgb_light(signal), white, black, reference)


def _based(relative: Array, white: ArrayLike, black: ArrayLike, reference: BlackReference) -> Array:
    bright, dark = np.asarray(white, dtype=np.float64), np.asarray(black, dtype=np.float64)
    if reference is BlackReference.ADDED:
        return np.asarray((bright - dark) * relative + dark)
    return np.asarray(bright * relative)
