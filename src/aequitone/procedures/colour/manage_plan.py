"""Colour management: what is wanted of it, which colours are known before it begins, and what it came to."""

from dataclasses import dataclass
from functools import cached_property

from aequitone.advice.moves import ControlState, Move
from aequitone.advice.roles import is_of_colours
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.colour.colour_pass import ColourPass
from aequitone.procedures.colour.samples import Length, Sample, samples
from aequitone.reference import Target
from aequitone.signal import SignalFormat


@dataclass(frozen=True)
class KnownColours:
    """Colours that were read just before, with all controls as they stand now."""

    signals: tuple[tuple[float, float, float], ...]
    """Of R, G and B, in %."""
    xyz: Array
    """(n, 3), against the luminance of white."""
    sd: Array
    black: float
    """Luminance of 0 %, cd/m²; 0 where the meter cannot tell it from nothing."""

    @classmethod
    def of(cls, found: ColourPass) -> "KnownColours":
        """From a colour pass."""
        white = float(found.white[1])
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
    light: bool = True
    """Whether the light of colours counts, beside their hue and saturation."""

    def __post_init__(self) -> None:
        if not self.controls or not all(is_of_colours(control.role) for control in self.controls):
            raise ValueError("a colour management has controls of its own and no others")

    @cached_property
    def samples(self) -> tuple[Sample, ...]:
        """The colours that count: four saturations of each of the six, and the everyday ones that are known.

        The saturations are read, the everyday colours reckoned.
        """
        every = samples(Length.USUAL, self.level, self.target.container)
        known = set(self.known.signals) if self.known is not None else set()
        return tuple(each for each in every if not each.is_everyday or each.signal in known)

    @cached_property
    def read(self) -> tuple[int, ...]:
        """Rows of the samples that are read."""
        return tuple(row for row, sample in enumerate(self.samples) if not sample.is_everyday)


@dataclass(frozen=True)
class ColourTrip:
    """A move as made, and what came of it: weighted average ΔE 2000 of the colours."""

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
    """Weighted average ΔE 2000 of all colours that count before anything was turned."""
    proposed: Move | None = None
    why: str = ""
    """Why that move."""
    words: str = ""
    everyday: tuple[float, float] | None = None
    """Average ΔE 2000 of the everyday colours as found, and as reckoned by now; None where none is known."""
    ramps: tuple[Ramp, ...] = ()
    """Ramps that were read, as they were last."""
    ramp: Ramp | None = None
    """The ramp that is being read."""
