"""A made-up still life, rendered: a table, a bowl, fruit, a cloth, a dark bottle, an even strip of greys."""

import numpy as np
from numpy.typing import NDArray

from aequitone.colorimetry.arrays import Array


def still_life(width: int = 720, height: int = 450) -> Array:
    """A made-up scene as RGB signals, 0 to 1, shape (height, width, 3): a table, a bowl, fruit, a grey wall."""
    y, x = np.mgrid[0:height, 0:width].astype(np.float64)
    x, y = x / width * 1.6, y / height
    wall = 0.62 - 0.35 * np.hypot(x - 0.35, y - 0.1)
    image = np.repeat(np.clip(wall, 0.05, 1.0)[..., None], 3, axis=-1)
    _paint(image, y > 0.68, np.clip(np.array([0.46, 0.33, 0.24]) * (1.5 - y[:, :1, None] * 0.7), 0, 1))
    # The bowl, white glaze; fruit; a folded white cloth; a dark bottle; a strip of even greys.
    paint_ball(image, x, y, 0.62, 0.74, 0.26, (0.90, 0.90, 0.89), squash=0.55)
    for cx, cy, r, colour in (
        (0.50, 0.58, 0.105, (0.80, 0.28, 0.16)),
        (0.70, 0.56, 0.115, (0.92, 0.62, 0.14)),
        (0.60, 0.50, 0.090, (0.42, 0.56, 0.16)),
        (1.02, 0.80, 0.080, (0.55, 0.14, 0.24)),
    ):
        paint_ball(image, x, y, cx, cy, r, colour)
    bottle = (np.abs(x - 1.24) < 0.07) & (y > 0.30) & (y < 0.86)
    neck = (np.abs(x - 1.24) < 0.028) & (y > 0.14) & (y <= 0.30)
    shade = np.clip(0.10 + 0.5 * np.exp(-(((x[:1] - 1.205) / 0.012) ** 2)), 0, 1)[..., None]
    _paint(image, bottle | neck, shade * np.array([0.7, 0.9, 0.8]))
    fold = 0.93 - 0.10 * np.abs(np.sin(26 * (x + y)))
    _paint(image, (x + 1.3 * y > 1.12) & (x + 0.3 * y < 0.52) & (y > 0.72), np.repeat(fold[..., None], 3, axis=-1))
    strip = (y > 0.93) & (x < 1.6)
    _paint(image, strip, np.repeat((np.floor(x[:1] / 1.6 * 11) / 10)[..., None], 3, axis=-1))
    return np.asarray(np.clip(image, 0.0, 1.0))


def _paint(image: Array, where: NDArray[np.bool_], colour: Array) -> None:
    image[where] = np.broadcast_to(colour, image.shape)[where]


def paint_ball(
    image: Array,
    x: Array,
    y: Array,
    cx: float,
    cy: float,
    r: float,
    colour: tuple[float, float, float],
    squash: float = 1.0,
) -> None:
    """Paint a lit ball into an image; `x` and `y`: where its pixels are, `squash`: how tall it is, as a share."""
    # Only where the ball is: at the size of a screen the rest would cost seconds.
    rows = np.flatnonzero(np.abs(y[:, 0] - cy) < r * squash)
    columns = np.flatnonzero(np.abs(x[0] - cx) < r)
    if not (rows.size and columns.size):
        return
    box = np.s_[rows[0] : rows[-1] + 1, columns[0] : columns[-1] + 1]
    dx, dy = (x[box] - cx) / r, (y[box] - cy) / (r * squash)
    inside = dx**2 + dy**2 < 1.0
    light = np.clip(0.35 + 0.75 * np.sqrt(np.clip(1 - dx**2 - dy**2, 0, 1)) - 0.28 * dx - 0.25 * dy, 0.12, 1.12)
    gleam = 0.35 * np.exp(-(((dx + 0.4) ** 2 + (dy + 0.45) ** 2) / 0.02))
    _paint(image[box], inside, np.clip(light[..., None] * np.array(colour) + gleam[..., None], 0.0, 1.0))
