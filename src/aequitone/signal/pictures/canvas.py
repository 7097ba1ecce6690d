"""A canvas of codes: rectangles of exact values, and the list of what was promised where."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from aequitone.colorimetry.arrays import Array
from aequitone.signal.codes import Range, code_value
from aequitone.signal.patch import SignalFormat
from aequitone.signal.window import Rect

Pixels = NDArray[np.uint16]
RGB = tuple[int, int, int]

# Digits of five columns and seven rows, a row a number of five bits.
_DIGITS = {
    "0": (14, 17, 19, 21, 25, 17, 14),
    "1": (4, 12, 4, 4, 4, 4, 14),
    "2": (14, 17, 1, 6, 8, 16, 31),
    "3": (31, 2, 4, 2, 1, 17, 14),
    "4": (2, 6, 10, 18, 31, 2, 2),
    "5": (31, 16, 30, 1, 1, 17, 14),
    "6": (6, 8, 16, 30, 17, 17, 14),
    "7": (31, 1, 2, 4, 8, 8, 8),
    "8": (14, 17, 17, 14, 17, 17, 14),
    "9": (14, 17, 17, 15, 1, 2, 12),
}


@dataclass(frozen=True)
class Area:
    """A rectangle that holds one code and nothing else."""

    name: str
    rect: Rect
    codes: RGB


@dataclass(frozen=True)
class Rendered:
    """A picture in codes, shape (height, width, 3), and its areas of one code each."""

    codes: Pixels
    areas: tuple[Area, ...]
    format: SignalFormat


class Canvas:
    """Draws codes. Places are shares of width and height from the upper left corner."""

    def __init__(self, width: int, height: int, format_: SignalFormat) -> None:
        if width < 64 or height < 36:
            raise ValueError(f"a test picture has at least 64 × 36 pixels, got {width} × {height}")
        self.width, self.height, self.format = width, height, format_
        self.codes: Pixels = np.empty((height, width, 3), dtype=np.uint16)
        self.areas: list[Area] = []
        self._short = min(width, height)

    def of(self, *signals: float) -> RGB:
        """Codes of one signal for grey, or of three for red, green and blue, in % (0 black, 100 white)."""
        r, g, b = (signals * 3)[:3] if len(signals) == 1 else signals
        codes = code_value(np.array([r, g, b]) / 100.0, self.format.depth, self.format.range)
        return int(codes[0]), int(codes[1]), int(codes[2])

    def of_eight(self, r: int, g: int | None = None, b: int | None = None) -> RGB:
        """8-bit codes at the depth of the canvas: the same light, whatever the depth."""
        shift = self.format.depth - 8
        return r << shift, (r if g is None else g) << shift, (r if b is None else b) << shift

    @property
    def full(self) -> bool:
        """Whether black is code 0."""
        return self.format.range is Range.FULL

    def rect(self, x: float, y: float, width: float, height: float) -> Rect:
        """A rectangle in whole pixels from shares; neighbours meet without a gap."""
        left, top = round(x * self.width), round(y * self.height)
        right, bottom = round((x + width) * self.width), round((y + height) * self.height)
        return Rect(left, top, max(1, right - left), max(1, bottom - top))

    def ground(self, codes: RGB) -> None:
        """Fill everything."""
        self.codes[:] = codes

    def fill(self, rect: Rect, codes: RGB, name: str = "") -> None:
        """Fill a rectangle; with a name it becomes an area that is promised to hold this code."""
        self.codes[rect.y : rect.y + rect.height, rect.x : rect.x + rect.width] = codes
        if name:
            self.areas.append(Area(name, rect, codes))

    def where(self, mask: NDArray[np.bool_], codes: RGB) -> None:
        """Fill where a mask of the canvas's shape holds."""
        self.codes[mask] = codes

    def disc(self, x: float, y: float, radius: float, codes: RGB, name: str = "") -> None:
        """Fill a disc; `radius` is of the shorter side. With a name, its middle is promised to hold this code."""
        across, down = self.grid()
        inside = np.hypot(across - x * self.width, down - y * self.height) <= radius * self._short
        self.where(inside, codes)
        side = 1.2 * radius * self._short
        wide, high = side / self.width, side / self.height
        self.fill(self.rect(x - wide / 2, y - high / 2, wide, high), codes, name)

    def ring(self, radius: float, thickness: float, codes: RGB) -> None:
        """Fill a ring around the middle; both in shares of the shorter side."""
        across, down = self.grid()
        far = np.hypot(across - 0.5 * self.width, down - 0.5 * self.height) / self._short
        self.where(np.abs(far - radius) <= thickness / 2.0, codes)

    def hour(self, hour: float, radius: float) -> tuple[float, float]:
        """The place of an hour on a dial around the middle, `radius` being of the shorter side."""
        turn, away = 2.0 * np.pi * hour / 12.0, radius * self._short
        return float(0.5 + np.sin(turn) * away / self.width), float(0.5 - np.cos(turn) * away / self.height)

    def signals(self, rgb: Array) -> None:
        """Fill everything from signals 0 to 1, shape (height, width, 3)."""
        self.codes[:] = code_value(rgb, self.format.depth, self.format.range)

    def grid(self) -> tuple[Array, Array]:
        """Pixel centres as x (1, width) and y (height, 1), in pixels."""
        x, y = np.arange(self.width, dtype=np.float64), np.arange(self.height, dtype=np.float64)
        return x[None, :] + 0.5, y[:, None] + 0.5

    def number(self, words: str, x: float, y: float, height: float, codes: RGB) -> None:
        """Write digits with their middle at a place."""
        unit = max(1, round(height * self.height / 7.0))
        glyphs: Sequence[str] = [letter for letter in words if letter in _DIGITS]
        left = round(x * self.width) - (len(glyphs) * 6 - 1) * unit // 2
        top = round(y * self.height) - 7 * unit // 2
        for i, letter in enumerate(glyphs):
            for row, bits in enumerate(_DIGITS[letter]):
                for column in range(5):
                    if bits >> (4 - column) & 1:
                        at = Rect(left + (i * 6 + column) * unit, top + row * unit, unit, unit)
                        self.fill(at, codes)

    def rendered(self) -> Rendered:
        return Rendered(self.codes, tuple(self.areas), self.format)
