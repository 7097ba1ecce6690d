"""Colour management: what is wanted of it, which colours are known before it begins, and what it came to."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from aequitone.advice.moves import ControlState, Move
from aequitone.advice.roles import is_of_colours
from aequitone.colorimetry import Formula
from aequitone.colorimetry.arrays import Array, ArrayLike
from aequitone.colorimetry.transfer import pq_encode
from aequitone.procedures.colour.colour_pass import ColourPass
from aequitone.procedures.colour.samples import Length, Sample, hdr_samples, samples
from aequitone.reference import ColourErrors, Target, colour_errors
from aequitone.reference.saturations import hdr_saturation_signal, saturation_signal
from aequitone.signal import Patch, SignalFormat, grey_patch

# Everyday colours in the sun are brighter than diffuse white: they are measured, not set by.
_AS_BRIGHT = 1.0


@dataclass(frozen=True)
class DiffuseWhite:
    """Under PQ, what stands in place of a white of 100 %, which a screen's roll-off rules; all in cd/m²."""

    luminance: float
    """Of the grey that colours are held to (ITU-R BT.2408)."""
    six: float
    """Light of the six."""
    peak: float
    """Of 100 % of the signal."""


# Of the signal of white.
_HELD_GREY = 0.6


@dataclass(frozen=True)
class KnownColours:
    """Colours that were read just before, with all controls as they stand now."""

    signals: tuple[tuple[float, float, float], ...]
    """Of R, G and B, in %."""
    xyz: Array
    """(n, 3), against the luminance of white, or of diffuse white."""
    sd: Array
    black: float
    """Luminance of 0 %, cd/m²; 0 where the meter cannot tell it from nothing."""

    @classmethod
    def of(cls, found: ColourPass, diffuse: DiffuseWhite | None = None) -> "KnownColours":
        """From a colour pass; `diffuse`: of one under PQ."""
        white = float(found.white[1]) if diffuse is None else diffuse.luminance
        signals = tuple(sample.signal for sample in found.samples)
        return cls(signals, found.xyz / white, found.sd / white, found.black)


@dataclass(frozen=True)
class ManagePlan:
    """What is wanted, and the controls of the colour management as they stand."""

    target: Target
    format: SignalFormat
    controls: tuple[ControlState, ...]
    level: float = 75.0
    """The highest signal of the colours that are read, in %."""
    by_hand: bool = False
    """Whether a person turns the controls: then as few colours a trip as are worth the way."""
    trip_seconds: float = 1.0
    known: KnownColours | None = None
    """Then those are not read first, and everyday colours among them count as well."""
    light: bool | None = None
    """Whether the light of colours counts, beside their hue and saturation; None where the screen is to tell."""
    leading: Formula = Formula.DE2000
    """ΔE 2000, or ΔE ITP under PQ."""
    diffuse: DiffuseWhite | None = None
    """Under PQ; None where white is 100 % of the signal."""

    def __post_init__(self) -> None:
        if not self.controls or not all(is_of_colours(control.role) for control in self.controls):
            raise ValueError("a colour management has controls of its own and no others")

    @cached_property
    def samples(self) -> tuple[Sample, ...]:
        """The colours that count: four saturations of each of the six, and the everyday ones that are known.

        The saturations are read, the everyday colours reckoned.
        """
        if self.diffuse is None:
            every = samples(Length.USUAL, self.level, self.target.container, self.target.gamut)
        else:
            every = hdr_samples(Length.USUAL, self.target, self.diffuse.six)
            lit = self.linear([sample.signal for sample in every]).max(axis=-1)
            every = tuple(each for each, most in zip(every, lit, strict=True) if most <= _AS_BRIGHT)
        known = set(self.known.signals) if self.known is not None else set()
        return tuple(each for each in every if not each.is_everyday or each.signal in known)

    @cached_property
    def read(self) -> tuple[int, ...]:
        """Rows of the samples that are read."""
        return tuple(row for row, sample in enumerate(self.samples) if not sample.is_everyday)

    @property
    def formula(self) -> Formula:
        """What counts: one of cast alone leaves the light of colours out."""
        if self.leading is Formula.ITP:
            return Formula.ITP_CAST if self.light is False else Formula.ITP
        return Formula.DE2000_CAST if self.light is False else Formula.DE2000

    @property
    def white_patch(self) -> Patch:
        """The grey that colours are held to."""
        return grey_patch(100.0 if self.diffuse is None else self._diffuse_percent, self.format)

    @property
    def held_grey(self) -> Patch:
        """A darker grey, which must not take on a cast where white keeps clear of one."""
        return grey_patch(_HELD_GREY * self.white_patch.percent, self.format)

    @property
    def _diffuse_percent(self) -> float:
        assert self.diffuse is not None
        return round(100.0 * float(pq_encode(self.diffuse.luminance)), 1)

    def held_to(self, white: float) -> float:
        """Luminance that colours are held against, where white was read at so much."""
        return white if self.diffuse is None else self.diffuse.luminance

    def six_signal(self, colour: str, saturation: float) -> tuple[float, float, float]:
        """Signals of R, G and B in % of one of the six at so much saturation."""
        target = self.target
        if self.diffuse is None:
            return saturation_signal(colour, saturation, self.level, target.container, target.gamut)
        return hdr_saturation_signal(colour, saturation, self.diffuse.six, target.gamut, target.container)

    def wanted(self, percents: ArrayLike, white: float, black: float = 0.0) -> Array:
        """XYZ wanted of signals in %, (n, 3), in cd/m², where white was read at so much."""
        peak = white if self.diffuse is None else self.diffuse.peak
        return self.target.colour(np.asarray(percents) / 100.0, peak, black)

    def linear(self, percents: ArrayLike) -> Array:
        """Linear light in the target's primaries that signals in % ask for, white being 1, 1, 1, (n, 3)."""
        light = self.wanted(percents, 1.0) / self.held_to(1.0)
        return np.asarray(light @ self.target.gamut.rgb_matrix.T)

    def errors(self, percents: ArrayLike, xyz: Array, white: float, black: float, sd: Array) -> ColourErrors:
        """Errors of colours read as `xyz` (n, 3) with standard deviations `sd`, at signals in %."""
        peak, signal = white if self.diffuse is None else self.diffuse.peak, np.asarray(percents) / 100.0
        return colour_errors(signal, xyz, self.target, white=peak, black=black, sd=sd)


@dataclass(frozen=True)
class ColourTrip:
    """A move as made, and what came of it: weighted average ΔE of the colours."""

    move: Move
    before: float
    after: float
    sd: float
    surprise: str = ""


@dataclass(frozen=True)
class Ramp:
    """A fine ramp through a colour, as far as it was read."""

    colour: str
    pairs: tuple[tuple[tuple[float, float, float], tuple[float, float, float]], ...]
    """XYZ as wanted and as read, as shares of white, from pale to nearly full."""
    step: float = 0.0
    """The largest step, ΔE; 0 while it is being read."""
    is_seen: bool = False


@dataclass(frozen=True)
class Managed:
    """Where it stands, or how it ended."""

    colours: ColourPass
    """The saturations as they were read last."""
    controls: tuple[ControlState, ...]
    trips: tuple[ColourTrip, ...] = ()
    found: float = 0.0
    """Weighted average ΔE of all colours that count before anything was turned."""
    proposed: Move | None = None
    why: str = ""
    """Why that move."""
    words: str = ""
    everyday: tuple[float, float] | None = None
    """Average ΔE of the everyday colours as found, and as reckoned by now; None where none is known."""
    ramps: tuple[Ramp, ...] = ()
    """Ramps that were read, as they were last."""
    ramp: Ramp | None = None
    """The ramp that is being read."""
    average: float = 0.0
    """The same as `found`, by now."""
    formula: Formula = Formula.DE2000
    """Of both."""
