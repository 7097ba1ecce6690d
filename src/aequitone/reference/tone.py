"""Tones: the luminance that a signal should give on a screen of this white and black."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Protocol

import numpy as np

from aequitone.colorimetry.arrays import Array, ArrayLike
from aequitone.colorimetry.transfer import (
    HLG_SURROUND,
    bt1886_light,
    hlg_gamma,
    hlg_scene,
    power_light,
    pq_encode,
    pq_light,
    roll_off_from,
    rolled_off,
    srgb_light,
)
from aequitone.figures import grouped


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
    def absolute(self) -> bool:
        """Whether the law itself says how many cd/m² a signal means."""
        return False

    @property
    def black_references(self) -> tuple[BlackReference, ...]:
        """What it can make of black, the usual one first."""
        ...

    def reach(self, white: float) -> float:  # noqa: ARG002 - most laws end where the screen does
        """The signal, 0 to 1, up to which a screen of this white in cd/m² can give the light that is meant."""
        return 1.0

    def judged(self, white: float) -> float:  # noqa: ARG002 - most laws say what every signal should give
        """The signal, 0 to 1, up to which a screen of this white in cd/m² is held to the law."""
        return 1.0

    def luminance(self, signal: ArrayLike, white: ArrayLike, black: ArrayLike, reference: BlackReference) -> Array:
        """Compute cd/m² of `signal` (0 to 1) on a screen of this white and black; the three broadcast."""
        ...

    def channels(
        self,
        rgb: ArrayLike,
        white: float,
        black: float,
        reference: BlackReference,
        luma: Array,  # noqa: ARG002 - most laws take each channel by itself
    ) -> Array:
        """Compute the light of each channel in cd/m², shape (..., 3), of a signal of that shape.

        `luma`: what each channel gives of white's luminance, shape (3,).
        """
        return self.luminance(rgb, white, black, reference)


@dataclass(frozen=True)
class Power(Tone):
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
class Bt1886(Tone):
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
class Srgb(Tone):
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


@dataclass(frozen=True)
class Pq(Tone):
    """SMPTE ST 2084 (ITU-R BT.2100-2, table 4): a signal means cd/m², up to the light that the screen has."""

    @property
    def label(self) -> str:
        return "PQ"

    @property
    def absolute(self) -> bool:
        return True

    @property
    def black_references(self) -> tuple[BlackReference, ...]:
        return (BlackReference.ADDED, BlackReference.ZERO)

    def luminance(self, signal: ArrayLike, white: ArrayLike, black: ArrayLike, reference: BlackReference) -> Array:
        """Compute cd/m²: what the signal means, black lying under it, cut off at white."""
        below = np.asarray(black, dtype=np.float64) if reference is BlackReference.ADDED else 0.0
        return np.asarray(np.minimum(pq_light(signal) + below, np.asarray(white, dtype=np.float64)))

    def reach(self, white: float) -> float:
        return float(pq_encode(white))

    def judged(self, white: float) -> float:
        # Beyond its reach a screen can do nothing about it.
        return self.reach(white)


@dataclass(frozen=True)
class PqKept(Pq):
    """PQ up to a knee, and above it whatever roll-off the screen has of its own."""

    knee: float = 1.0
    """Signal, 0 to 1."""

    @property
    def label(self) -> str:
        return f"PQ to {100.0 * self.knee:g} %, the screen's own roll-off above"

    def reach(self, white: float) -> float:
        return min(self.knee, super().reach(white))


@dataclass(frozen=True)
class PqRolled(Tone):
    """PQ that is rolled off from a mastering peak to the screen's own peak and black (ITU-R BT.2390-11, 5.4.1)."""

    mastering: float
    """cd/m²."""

    @property
    def label(self) -> str:
        return f"PQ rolled off from {grouped(self.mastering)} cd/m²"

    @property
    def absolute(self) -> bool:
        return True

    @property
    def black_references(self) -> tuple[BlackReference, ...]:
        return (BlackReference.SCALED,)

    def luminance(self, signal: ArrayLike, white: ArrayLike, black: ArrayLike, reference: BlackReference) -> Array:  # noqa: ARG002 - the law has its own
        """Compute cd/m²: what the signal means below the knee, and a smooth way to white above it."""
        return rolled_off(signal, self.mastering, white, black)

    def reach(self, white: float) -> float:
        # Beyond the mastering peak nothing is meant.
        return roll_off_from(self.mastering, white) if white < self.mastering else 1.0

    def judged(self, white: float) -> float:  # noqa: ARG002 - the way to its white is a part of the law
        return float(pq_encode(self.mastering))


@dataclass(frozen=True)
class Hlg(Tone):
    """Hybrid log-gamma (ITU-R BT.2100-2, table 5): relative, with a system gamma by white and by the room."""

    surround: float = HLG_SURROUND
    """Light around the screen, cd/m²."""

    @property
    def label(self) -> str:
        return "HLG" if self.surround == HLG_SURROUND else f"HLG in a room of {self.surround:g} cd/m²"

    @property
    def black_references(self) -> tuple[BlackReference, ...]:
        return (BlackReference.SCALED,)

    def luminance(self, signal: ArrayLike, white: ArrayLike, black: ArrayLike, reference: BlackReference) -> Array:  # noqa: ARG002 - the law has its own
        """Compute cd/m² of a grey."""
        bright, gamma = np.asarray(white, dtype=np.float64), hlg_gamma(white, self.surround)
        return np.asarray(bright * _lifted_scene(signal, bright, black, gamma) ** gamma)

    def channels(
        self,
        rgb: ArrayLike,
        white: float,
        black: float,
        reference: BlackReference,  # noqa: ARG002 - the law has its own
        luma: Array,
    ) -> Array:
        """Compute the light of each channel in cd/m²; the system gamma acts on the luminance of the scene."""
        gamma = hlg_gamma(white, self.surround)
        scene = _lifted_scene(rgb, white, black, gamma)
        luminance = np.maximum(scene @ luma, np.finfo(float).tiny)[..., None]
        return np.asarray(white * luminance ** (gamma - 1.0) * scene)


def _lifted_scene(signal: ArrayLike, white: ArrayLike, black: ArrayLike, gamma: ArrayLike) -> Array:
    """Scene light, 0 to 1, with the black lift of ITU-R BT.2100-2, table 5."""
    share = np.asarray(black, dtype=np.float64) / np.asarray(white, dtype=np.float64)
    beta = np.sqrt(3.0 * share ** (1.0 / np.asarray(gamma)))
    return hlg_scene(np.clip((1.0 - beta) * np.asarray(signal, dtype=np.float64) + beta, 0.0, None))


def _based(relative: Array, white: ArrayLike, black: ArrayLike, reference: BlackReference) -> Array:
    bright, dark = np.asarray(white, dtype=np.float64), np.asarray(black, dtype=np.float64)
    if reference is BlackReference.ADDED:
        return np.asarray((bright - dark) * relative + dark)
    return np.asarray(bright * relative)
