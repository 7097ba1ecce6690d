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


def window_rect(width: int, height: int, area: float) -> Rect:
    """The centred window of a picture's own shape that takes `area` (0 to 1) of it."""
    side = sqrt(area)
    w, h = max(1, round(width * side)), max(1, round(height * side))
    return Rect((width - w) // 2, (height - h) // 2, w, h)
