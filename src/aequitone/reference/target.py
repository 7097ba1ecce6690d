"""SDR targets: a tone, a white and primaries."""

import re
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from aequitone.colorimetry import D65, REC709, WHITES, Gamut, White
from aequitone.colorimetry.arrays import Array, ArrayLike
from aequitone.colorimetry.spaces import uv_from_xy
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


TONES: dict[str, Tone] = {"2.2": Power(2.2), "2.3": Power(2.3), "2.4": Power(2.4), "bt1886": Bt1886()}
"""The tones that a target can have, by what they are called in its name."""
_NAME = re.compile(r"rec709-(?P<tone>[^@]+)(?:@(?P<white>.+))?")
# Whites that a screen can be brought to lie around daylight; what lies further off is a slip of the pen.
_FURTHEST_UV = 0.06


def target_name(tone: str, white: White) -> str:
    """What a target of Rec.709 is called: "rec709-2.2", "rec709-2.4@D75", "rec709-2.2@0.305,0.32"."""
    if white == D65:
        return f"rec709-{tone}"
    return f"rec709-{tone}@{white.name if white.name in WHITES else f'{white.x:g},{white.y:g}'}"


def white_named(name: str) -> White:
    """A white by its name, or by x and y: "D75", "0.305, 0.320". ValueError says what is wrong with it."""
    if name.upper() in WHITES:
        return WHITES[name.upper()]
    figures = name.replace(",", " ").replace(";", " ").split()
    try:
        x, y = (float(figure) for figure in figures)
    except ValueError:
        raise ValueError(f"there is no white “{name}”; there are {', '.join(WHITES)}, or x and y") from None
    if not (0.0 < x < 1.0 and 0.0 < y < 1.0):
        raise ValueError(f"a white of x {x:g}, y {y:g} cannot be: both lie between 0 and 1")
    if np.linalg.norm(uv_from_xy([x, y]) - uv_from_xy([D65.x, D65.y])) > _FURTHEST_UV:
        raise ValueError(f"x {x:g}, y {y:g} is a colour, and no white to bring a screen to")
    return White(f"x {x:g} y {y:g}", x, y)


def with_white(target: Target, white: White) -> Target:
    """The same target with another white, such as one that was measured. ValueError where it is a colour."""
    tone = next(key for key, tone in TONES.items() if tone == target.tone)
    return target_named(target_name(tone, white))


def target_named(name: str) -> Target:
    """The target of that name; ValueError says what is wrong with it."""
    found = _NAME.fullmatch(name)
    if found is None or found["tone"] not in TONES:
        raise ValueError(
            f"there is no target “{name}”; the targets are {', '.join(TARGETS)}, each with another white after @"
        )
    white = white_named(found["white"]) if found["white"] else D65
    return Target(target_name(found["tone"], white), TONES[found["tone"]], white)


TARGETS = {target.name: target for target in (Target(target_name(tone, D65), TONES[tone]) for tone in TONES)}
"""The targets with the white of television."""
DEFAULT_TARGET = TARGETS["rec709-2.2"]
