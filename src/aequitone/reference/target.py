"""SDR targets: a tone, a white and primaries."""

from dataclasses import dataclass
from typing import Protocol

import numpy as np

from aequitone.colorimetry import D65, REC709, Gamut, White
from aequitone.colorimetry.arrays import Array, ArrayLike
from aequitone.colorimetry.transfer import bt1886_light, power_light


class Tone(Protocol):
    """The luminance that a signal should give on a screen of this white and black."""

    @property
    def label(self) -> str: ...

    def luminance(self, signal: ArrayLike, white: ArrayLike, black: ArrayLike) -> Array:
        """cd/m² of `signal` (0 to 1); the three broadcast against each other."""
        ...


@dataclass(frozen=True)
class Power:
    """A power law from zero: black is wanted black, whatever the screen can do."""

    gamma: float

    @property
    def label(self) -> str:
        return f"gamma {self.gamma:g}"

    def luminance(self, signal: ArrayLike, white: ArrayLike, black: ArrayLike) -> Array:  # noqa: ARG002 - port
        return np.asarray(white) * power_light(signal, self.gamma)


@dataclass(frozen=True)
class Bt1886:
    """ITU-R BT.1886: a 2.4 law that starts from the screen's measured black."""

    @property
    def label(self) -> str:
        return "BT.1886"

    def luminance(self, signal: ArrayLike, white: ArrayLike, black: ArrayLike) -> Array:
        return bt1886_light(signal, white, black)


@dataclass(frozen=True)
class Target:
    """What a memory is brought to. Luminance is relative: 100 % grey is right at the light it has."""

    name: str
    tone: Tone
    white: White = D65
    gamut: Gamut = REC709

    @property
    def label(self) -> str:
        return f"{self.gamut.name}, {self.white.name}, {self.tone.label}"

    def grey(self, percent: ArrayLike, white: float, black: float = 0.0) -> Array:
        """XYZ in cd/m², shape (..., 3), wanted at `percent` of the signal.

        `white` and `black` are the measured luminances of 100 % and 0 % in cd/m².
        """
        luminance = self.tone.luminance(np.asarray(percent, dtype=np.float64) / 100.0, white, black)
        return np.asarray(luminance[..., None] * self.white.xyz())


TARGETS = {
    target.name: target
    for target in (
        Target("rec709-2.2", Power(2.2)),
        Target("rec709-2.4", Power(2.4)),
        Target("rec709-bt1886", Bt1886()),
    )
}
DEFAULT_TARGET = TARGETS["rec709-2.2"]


def target_named(name: str) -> Target:
    """The target of that name; ValueError names those there are."""
    if name not in TARGETS:
        raise ValueError(f"there is no target “{name}”; the targets are {', '.join(TARGETS)}")
    return TARGETS[name]
