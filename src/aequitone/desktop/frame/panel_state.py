"""What the move panel draws: plain values, compared to find out what to redraw."""

from dataclasses import dataclass

from aequitone.desktop.commands import KeyHint
from aequitone.reference import Verdict


@dataclass(frozen=True)
class BigLine:
    """A control and how far, in words to be read while standing."""

    label: str
    amount: str = ""
    detail: str = ""


@dataclass(frozen=True)
class ReadingFigure:
    """The live reading."""

    label: str
    luminance: float
    target: float | None


@dataclass(frozen=True)
class DeltaFigure:
    """A ΔE 2000 with its spread."""

    label: str
    value: float
    sd: float
    verdict: Verdict


@dataclass(frozen=True)
class DialState:
    """Casts in u'v' as (warm, green): the trail so far, the last being now."""

    trail: tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class SliderState:
    """A control on its range: where it stands, and where it is to go."""

    channel: str
    name: str
    lowest: int
    highest: int
    value: int
    to: int | None = None


@dataclass(frozen=True)
class EntryState:
    """A reading to be typed in."""

    prompt: str
    objection: str = ""
    text: str = ""
    """What stands there to begin with."""
    letters: bool = False
    """Whether words are typed, and not figures."""


@dataclass(frozen=True)
class PanelState:
    """The move panel: one thing to do now."""

    heading: str
    yours: bool
    lines: tuple[BigLine, ...] = ()
    sentence: str = ""
    reading: ReadingFigure | None = None
    delta: DeltaFigure | None = None
    dial: DialState | None = None
    sliders: tuple[SliderState, ...] = ()
    entry: EntryState | None = None
    keys: tuple[KeyHint, ...] = ()
    outlook: str = ""
    progress: float | None = None
