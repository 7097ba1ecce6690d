"""A patch: three code values in a window on black."""

from dataclasses import dataclass

from aequitone.signal.codes import Range, code_value, signal_of


@dataclass(frozen=True)
class SignalFormat:
    """How patches are sent: depth, range and the share of the area that the window takes."""

    depth: int = 8
    range: Range = Range.LIMITED
    window: float = 0.10

    def __post_init__(self) -> None:
        code_value(0.0, self.depth, self.range)
        if not 0.0 < self.window <= 1.0:
            raise ValueError(f"a window takes more than 0 and at most 1 of the area, got {self.window:g}")

    @property
    def label(self) -> str:
        window = "full field" if self.window == 1.0 else f"{self.window * 100:g} % window"
        return f"{window}, {self.depth}-bit {self.range.value}"


@dataclass(frozen=True)
class Patch:
    """What is shown: a name, RGB codes, and the format they are sent in."""

    name: str
    percent: float
    codes: tuple[int, int, int]
    format: SignalFormat

    @property
    def signal(self) -> tuple[float, float, float]:
        """The signal that the codes stand for, 0 black to 1 white."""
        r, g, b = signal_of(self.codes, self.format.depth, self.format.range)
        return float(r), float(g), float(b)


def grey_patch(percent: float, format_: SignalFormat) -> Patch:
    """A grey of `percent` of the signal."""
    code = int(code_value(percent / 100.0, format_.depth, format_.range))
    return Patch(f"{percent:g} % grey", percent, (code, code, code), format_)


def grey_levels(count: int) -> tuple[float, ...]:
    """The levels of a grey pass, in % from white to black: `count` of 11 or 21, evenly apart."""
    if count not in (11, 21):
        raise ValueError(f"a grey pass has 11 or 21 levels, got {count}")
    return tuple(100.0 - i * 100.0 / (count - 1) for i in range(count))
