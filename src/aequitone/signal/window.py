"""Windows by area, and the picture of a patch."""

from dataclasses import dataclass
from math import sqrt

import numpy as np
from numpy.typing import NDArray

from aequitone.signal.codes import code_value
from aequitone.signal.patch import Patch


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


def patch_image(patch: Patch, width: int, height: int) -> NDArray[np.uint16]:
    """The whole picture as codes, shape (height, width, 3): the patch in its window on black."""
    black = int(code_value(0.0, patch.format.depth, patch.format.range))
    image = np.full((height, width, 3), black, dtype=np.uint16)
    rect = window_rect(width, height, patch.format.window)
    image[rect.y : rect.y + rect.height, rect.x : rect.x + rect.width] = patch.codes
    return image
