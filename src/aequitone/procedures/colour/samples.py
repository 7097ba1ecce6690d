"""What a colour pass reads: which colours, in which order, for how long a pass."""

from dataclasses import dataclass
from enum import StrEnum

from aequitone.colorimetry import REC709, Gamut
from aequitone.colorimetry.transfer import pq_encode
from aequitone.reference import Target
from aequitone.reference.everyday import EVERYDAY, everyday_signal, hdr_everyday_signal
from aequitone.reference.saturations import SATURATIONS, SIX, hdr_saturation_signal, saturation_signal


class Length(StrEnum):
    """How much a colour pass reads."""

    SHORT = "short"
    """Half and full saturation at one level, and twelve everyday colours."""
    USUAL = "usual"
    """Four saturations at one level, and forty everyday colours."""
    LONG = "long"
    """Four saturations at two levels, and forty everyday colours."""


PRIMARIES = ("red", "green", "blue")
_SHORT_SATURATIONS, _SHORT_EVERYDAY = (50.0, 100.0), 12
_SECOND_LEVEL = 100.0
DIFFUSE_WHITE = 203.0
"""Diffuse white of HDR in cd/m² (ITU-R BT.2408)."""
HDR_LIGHT = 100.0
"""Light of the six in HDR, cd/m²: of the white of which their strongest channel has its share."""
# Of white in the sun, where a few everyday colours are read too.
_SUN, _IN_THE_SUN = 600.0, 6


@dataclass(frozen=True)
class Sample:
    """One colour to be read: its name, and the signals of R, G and B in %."""

    name: str
    signal: tuple[float, float, float]
    colour: str = ""
    """Which of the six it is; "" for an everyday colour."""
    saturation: float = 0.0
    """In %; 0 for an everyday colour."""
    level: float = 0.0
    """The highest of its signals, in %; 0 for an everyday colour."""
    kind: str = ""
    """What an everyday colour is of."""

    @property
    def is_everyday(self) -> bool:
        """Whether it is an everyday colour."""
        return bool(self.kind)


def is_primary(sample: Sample) -> bool:
    """Whether it is a primary at full saturation: three of them tell whether colours have changed."""
    return sample.colour in PRIMARIES and sample.saturation == 100.0


def samples(
    length: Length, level: float, container: Gamut = REC709, gamut: Gamut | None = None
) -> tuple[Sample, ...]:
    """The colours of a pass, the six at `level` % of the signal first, then the everyday ones, kind by kind.

    `container`: the primaries that the signal is encoded in; `gamut`: those that are wanted, if others.
    """
    levels = (level,) if length is not Length.LONG or level == _SECOND_LEVEL else (level, _SECOND_LEVEL)
    shares = _SHORT_SATURATIONS if length is Length.SHORT else SATURATIONS
    of_six = [
        Sample(
            _named(colour, share, at, several=len(levels) > 1),
            saturation_signal(colour, share, at, container, gamut),
            colour,
            share,
            at,
        )
        for at in levels
        for colour in SIX
        for share in shares
    ]
    most = _SHORT_EVERYDAY if length is Length.SHORT else len(EVERYDAY)
    everyday = [
        Sample(each.name, everyday_signal(each, container), kind=each.kind.value)
        for each in EVERYDAY
        if each.order < most
    ]
    return (*of_six, *everyday)


def hdr_samples(length: Length, target: Target, light: float = HDR_LIGHT) -> tuple[Sample, ...]:
    """The colours of a pass under PQ: saturations of the gamut that is wanted, then everyday colours.

    The six at `light` cd/m², in a long pass at half and twice as much; everyday ones under diffuse white (ITU-R
    BT.2408), and a few in the sun.
    """
    lights = (light / 2.0, light * 2.0) if length is Length.LONG else (light,)
    shares = _SHORT_SATURATIONS if length is Length.SHORT else SATURATIONS
    gamut, container = target.gamut, target.container
    of_six = [
        Sample(
            f"{colour} {share:g} % at {each:g} cd/m²",
            hdr_saturation_signal(colour, share, each, gamut, container),
            colour,
            share,
            100.0 * float(pq_encode(each)),
        )
        for each in lights
        for colour in SIX
        for share in shares
    ]
    most = _SHORT_EVERYDAY if length is Length.SHORT else len(EVERYDAY)
    everyday = [
        Sample(each.name, hdr_everyday_signal(each, DIFFUSE_WHITE, container), kind=each.kind.value)
        for each in EVERYDAY
        if each.order < most
    ]
    sunny = [
        Sample(f"{each.name} in the sun", hdr_everyday_signal(each, _SUN, container), kind="in the sun")
        for each in EVERYDAY
        if each.order < _IN_THE_SUN and length is not Length.SHORT
    ]
    return (*of_six, *everyday, *sunny)


def _named(colour: str, saturation: float, level: float, *, several: bool) -> str:
    return f"{colour} {saturation:g} %" + (f" at {level:g} %" if several else "")


def steady_order(lights: tuple[float, ...]) -> tuple[int, ...]:
    """An order of rows by their light, in cd/m², in which bright and dark take turns.

    A panel that warms up under bright pictures, or dims after them, then has about the same to do all the time.
    """
    ranked = sorted(range(len(lights)), key=lambda row: (-lights[row], row))
    half = (len(ranked) + 1) // 2
    bright, dark = ranked[:half], ranked[half:][::-1]
    turns = [row for pair in zip(bright, dark, strict=False) for row in pair]
    return (*turns, *bright[len(dark) :])
