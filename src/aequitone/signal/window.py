"""Windows by area."""

from dataclasses import dataclass
from math import sqrt


@dataclass(frozen=True)
class Rect:
    """A rectangle in whole pixels."""

    x: int
    y: int
    width: int
    height: int


def board_rects(width: int, height: int, squares: int) -> list[Rect]:
    """The squares of a checkerboard that have the colour of the one in the middle; `squares` a side, odd."""
    x = [round(i * width / squares) for i in range(squares + 1)]
    y = [round(i * height / squares) for i in range(squares + 1)]
    return [
        Rect(x[i], y[j], x[i + 1] - x[i], y[j + 1] - y[j])
        for j in range(squares)
        for i in range(squares)
        if (i + j) % 2 == (squares - 1) % 2
    ]


def corner_rects(width: int, height: int, area: float) -> list[Rect]:
    """A square in each corner of a picture, of `area` (0 to 1) of it each."""
    side = max(1, round(sqrt(area * width * height)))
    return [Rect(x, y, side, side) for x in (0, width - side) for y in (0, height - side)]


def window_rect(width: int, height: int, area: float) -> Rect:
    """The centred window of a picture's own shape that takes `area` (0 to 1) of it."""
    side = sqrt(area)
    w, h = max(1, round(width * side)), max(1, round(height * side))
    return Rect((width - w) // 2, (height - h) // 2, w, h)
