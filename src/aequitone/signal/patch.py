"""A patch: three code values in a window on black, or in another picture."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from aequitone.signal.codes import Range, code_value, signal_of
from aequitone.signal.mastering import MasteringLight


class Transfer(StrEnum):
    """What the codes mean in light: a power law (SDR), PQ or HLG (ITU-R BT.2100-2)."""

    GAMMA = "gamma"
    PQ = "pq"
    HLG = "hlg"


class Container(StrEnum):
    """The primaries that the codes are mixed from."""

    REC709 = "rec709"
    P3 = "p3"
    REC2020 = "rec2020"

    @property
    def label(self) -> str:
        return {Container.REC709: "Rec.709", Container.P3: "P3", Container.REC2020: "Rec.2020"}[self]


@dataclass(frozen=True)
class SignalFormat:
    """How patches are sent: depth, range, the window's share of the area, and what the codes mean."""

    depth: int = 8
    range: Range = Range.LIMITED
    window: float = 0.10
    transfer: Transfer = Transfer.GAMMA
    container: Container = Container.REC709
    mastering: MasteringLight | None = None
    """What is named of the picture under PQ; None for nothing."""

    def __post_init__(self) -> None:
        code_value(0.0, self.depth, self.range)
        if not 0.0 < self.window <= 1.0:
            raise ValueError(f"a window takes more than 0 and at most 1 of the area, got {self.window:g}")

    @property
    def label(self) -> str:
        window = "full field" if self.window == 1.0 else f"{self.window * 100:g} % window"
        hdr = "" if self.transfer is Transfer.GAMMA else f", {self.transfer.value.upper()}"
        container = "" if self.container is Container.REC709 else f", {self.container.label}"
        named = f", mastered to {self.mastering.peak:g} cd/m²" if self.mastering is not None else ""
        return f"{window}, {self.depth}-bit {self.range.value}{hdr}{container}{named}"


class Shape(StrEnum):
    """How a patch fills the picture."""

    WINDOW = "window"
    """A window on black."""
    BOARD = "board"
    """A checkerboard of black and white, five squares by five; the codes are those of the square in the middle."""
    CORNERS = "corners"
    """A window on black, with a white square in each corner of the picture."""


BOARD_SQUARES = 5
CORNER_AREA = 0.01
"""Of the picture's area, for each of the four squares of `Shape.CORNERS`."""


@dataclass(frozen=True)
class Patch:
    """What is shown: a name, RGB codes, the format they are sent in, and how they fill the picture."""

    name: str
    percent: float
    codes: tuple[int, int, int]
    format: SignalFormat
    shape: Shape = Shape.WINDOW

    @property
    def is_grey(self) -> bool:
        """Whether red, green and blue are sent alike."""
        return len(set(self.codes)) == 1

    @property
    def is_white(self) -> bool:
        """Whether it is 100 % grey."""
        return self.is_grey and self.percent == 100.0

    @property
    def signal(self) -> tuple[float, float, float]:
        """The signal that the codes stand for, 0 black to 1 white."""
        r, g, b = signal_of(self.codes, self.format.depth, self.format.range)
        return float(r), float(g), float(b)


def grey_patch(percent: float, format_: SignalFormat) -> Patch:
    """A grey of `percent` of the signal."""
    code = int(code_value(percent / 100.0, format_.depth, format_.range))
    return Patch(f"{percent:g} % grey", percent, (code, code, code), format_)


def board_patch(format_: SignalFormat, *, white: bool) -> Patch:
    """A checkerboard with white, or black, in the middle."""
    code = int(code_value(1.0 if white else 0.0, format_.depth, format_.range))
    middle = "white" if white else "black"
    return Patch(
        f"checkerboard, {middle} in the middle", 100.0 if white else 0.0, (code, code, code), format_, Shape.BOARD
    )


def corners_patch(percent: float, format_: SignalFormat) -> Patch:
    """A grey of `percent` of the signal, with white in the corners of the picture."""
    return replace(grey_patch(percent, format_), name=f"{percent:g} % grey, white corners", shape=Shape.CORNERS)


def colour_patch(name: str, percents: Sequence[float], format_: SignalFormat) -> Patch:
    """A colour by the signals of red, green and blue in %."""
    r, g, b = (int(code_value(percent / 100.0, format_.depth, format_.range)) for percent in percents)
    return Patch(name, max(percents), (r, g, b), format_)


def grey_levels(count: int) -> tuple[float, ...]:
    """The levels of a grey pass, in % from white to black: `count` of 11 or 21, evenly apart."""
    if count not in (11, 21):
        raise ValueError(f"a grey pass has 11 or 21 levels, got {count}")
    return tuple(100.0 - i * ladder_step(count) for i in range(count))


def ladder_step(count: int) -> float:
    """How far the levels of a grey pass lie apart, in %."""
    return 100.0 / (count - 1)
