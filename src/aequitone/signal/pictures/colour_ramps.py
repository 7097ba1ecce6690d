"""Ramps of the six colours from grey to full, with made-up heads and fruit before a white wall."""

import numpy as np

from aequitone.colorimetry.arrays import Array
from aequitone.signal.pictures.canvas import Canvas
from aequitone.signal.pictures.scene import paint_ball

# In another order than a spectrum's, so that no ramp lies beside the one that it could melt into.
_ORDER = ((1, 0, 0), (0, 1, 1), (0, 1, 0), (1, 0, 1), (1, 1, 0), (0, 0, 1))
_RAMPS, _LEVEL, _WALL = 0.62, 0.75, 0.94
_HEADS = (
    (0.91, 0.76, 0.69), (0.82, 0.64, 0.54), (0.73, 0.53, 0.42), (0.60, 0.41, 0.31), (0.44, 0.29, 0.22),
    (0.30, 0.20, 0.16),
)  # fmt: skip
_HAIR = (
    (0.85, 0.75, 0.5),
    (0.45, 0.28, 0.16),
    (0.25, 0.16, 0.1),
    (0.6, 0.6, 0.6),
    (0.1, 0.08, 0.08),
    (0.2, 0.12, 0.1),
)
_FRUIT = (
    (0.78, 0.16, 0.14), (0.90, 0.55, 0.12), (0.92, 0.84, 0.30), (0.40, 0.58, 0.18), (0.22, 0.24, 0.48),
    (0.50, 0.16, 0.40),
)  # fmt: skip


def colour_ramps(canvas: Canvas) -> None:
    """Six ramps across the picture, and below them six heads and six fruits."""
    canvas.signals(ramps_and_heads(canvas.width, canvas.height))


def ramps_and_heads(width: int, height: int) -> Array:
    """The picture as RGB signals, 0 to 1, shape (height, width, 3)."""
    image = np.full((height, width, 3), _WALL)
    along = np.linspace(0.0, 1.0, width)[:, None]
    for row, colour in enumerate(_ORDER):
        top, end = (round(height * _RAMPS * place / len(_ORDER)) for place in (row, row + 1))
        full, grey = _LEVEL * np.array(colour, dtype=float), _LEVEL * np.ones(3)
        image[top:end] = grey + along * (full - grey)
    y, x = np.mgrid[0:height, 0:width].astype(np.float64)
    x, y = x / width * 1.6, y / height
    for i, (skin, hair, fruit) in enumerate(zip(_HEADS, _HAIR, _FRUIT, strict=True)):
        middle = 1.6 * (i + 0.5) / len(_HEADS)
        paint_ball(image, x, y, middle - 0.055, 0.775, 0.062, hair, squash=1.25)
        paint_ball(image, x, y, middle - 0.055, 0.805, 0.056, skin, squash=1.25)
        paint_ball(image, x, y, middle + 0.065, 0.885, 0.052, fruit)
    return np.asarray(np.clip(image, 0.0, 1.0))
