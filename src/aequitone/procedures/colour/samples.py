"""What a colour pass reads: which colours, in which order, for how long a pass."""

from dataclasses import dataclass
from enum import StrEnum

from aequitone.colorimetry import REC709, Gamut
from aequitone.reference.everyday import EVERYDAY, everyday_signal
from aequitone.reference.saturations import SATURATIONS, SIX, saturation_signal


class Length(StrEnum):
    """How much a colour pass reads."""

    SHORT = "short"
    """Half and full saturation at one level, and twelve everyday colours."""
    USUAL = "usual"
    """Four saturations at one level, and forty everyday colours."""
    LONG = "long"
    """Four saturations at two levels, and forty everyday colours."""


_SHORT_SATURATIONS, _SHORT_EVERYDAY = (50.0, 100.0), 12
_SECOND_LEVEL = 100.0


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


def samples(length: Length, level: float, container: Gamut = REC709) -> tuple[Sample, ...]:
    """The colours of a pass, the six at `level` % of the signal first, then the everyday ones, kind by kind.

    `container`: the primaries that the signal is encoded in.
    """
    levels = (level,) if length is not Length.LONG or level == _SECOND_LEVEL else (level, _SECOND_LEVEL)
    shares = _SHORT_SATURATIONS if length is Length.SHORT else SATURATIONS
    of_six = [
        Sample(
            _named(colour, share, at, several=len(levels) > 1),
            saturation_signal(colour, share, at, container),
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
