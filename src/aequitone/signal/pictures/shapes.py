"""Pictures of shape: geometry with circle and edge arrows, crosshatch, sharpness, and moving bars."""

import numpy as np

from aequitone.signal.pictures.canvas import Canvas
from aequitone.signal.window import Rect

GRATING_PERIODS = (2, 3, 4, 6, 8, 12)


def geometry(canvas: Canvas) -> None:
    """Arrows whose tips touch the edges, a circle that must be round, a grid of squares, the middle."""
    width, height = canvas.width, canvas.height
    canvas.ground(canvas.of(12.0))
    line, white = canvas.of(35.0), canvas.of(90.0)
    stroke = max(1, round(height / 1080))
    square = height / 9.0
    for i in range(-int(width / square / 2) - 1, int(width / square / 2) + 2):
        _vertical(canvas, width / 2 + i * square, stroke, line)
    for i in range(10):
        _horizontal(canvas, i * square, stroke, line)
    x, y = canvas.grid()
    off = np.abs(np.hypot(x - width / 2, y - height / 2) - 0.44 * height)
    canvas.where(off < 1.6 * stroke, white)
    small = 0.5 * square
    for cx in (square, width - square):
        for cy in (square, height - square):
            canvas.where(np.abs(np.hypot(x - cx, y - cy) - small) < stroke, white)
    _vertical(canvas, width / 2, 2 * stroke, white)
    _horizontal(canvas, height / 2, 2 * stroke, white)
    _arrows(canvas)
    # The outermost pixels: a frame that overscan takes away.
    for rect in (
        Rect(0, 0, width, 1),
        Rect(0, height - 1, width, 1),
        Rect(0, 0, 1, height),
        Rect(width - 1, 0, 1, height),
    ):
        canvas.fill(rect, white, f"edge {rect.x},{rect.y},{rect.width}")


def _arrows(canvas: Canvas) -> None:
    """Triangles with their tips on the edges, three a side."""
    width, height = canvas.width, canvas.height
    long_ = 0.055 * height
    x, y = canvas.grid()
    codes = canvas.of(75.0)
    for share in (0.25, 0.5, 0.75):
        across, down = np.abs(x - share * width), np.abs(y - share * height)
        canvas.where((across < y / 2) & (y < long_), codes)
        canvas.where((across < (height - y) / 2) & (height - y < long_), codes)
        canvas.where((down < x / 2) & (x < long_), codes)
        canvas.where((down < (width - x) / 2) & (width - x < long_), codes)


def crosshatch(canvas: Canvas) -> None:
    """Fine white lines on black with dots between: focus, and fringes where the colours do not meet."""
    canvas.ground(canvas.of(0.0))
    white = canvas.of(100.0)
    square = canvas.height / 9.0
    columns = round(canvas.width / square)
    for i in range(columns + 1):
        _vertical(canvas, i * (canvas.width - 1) / columns, 1, white)
    for i in range(10):
        _horizontal(canvas, i * (canvas.height - 1) / 9.0, 1, white)
    for i in range(columns):
        for j in range(9):
            cx, cy = round((i + 0.5) * canvas.width / columns), round((j + 0.5) * canvas.height / 9.0)
            canvas.fill(Rect(cx, cy, 2, 2), white)
    for i, (name, signals) in enumerate(
        (("red", (100.0, 0.0, 0.0)), ("green", (0.0, 100.0, 0.0)), ("blue", (0.0, 0.0, 100.0)))
    ):
        # A line of each colour by itself, to tell which one strays.
        place = canvas.rect(0.35 + 0.12 * i, 0.51, 0.06, 0.0)
        canvas.fill(Rect(place.x, place.y, place.width, 2), canvas.of(*signals), f"{name} line")


def sharpness(canvas: Canvas) -> None:
    """Lines on grey that grow rings where sharpness is too high, and gratings that show how far detail goes."""
    width, height = canvas.width, canvas.height
    canvas.ground(canvas.of(50.0))
    black, white = canvas.of(0.0), canvas.of(100.0)
    for i, thick in enumerate((1, 2, 4, 8)):
        for codes, top in ((black, 0.06), (white, 0.27)):
            name = f"{'black' if codes == black else 'white'} line {thick}"
            left = round((0.08 + 0.11 * i) * width)
            canvas.fill(Rect(left, round(top * height), thick, round(0.18 * height)), codes, name)
    canvas.fill(canvas.rect(0.55, 0.08, 0.14, 0.16), black, "black block")
    canvas.fill(canvas.rect(0.55, 0.28, 0.14, 0.16), white, "white block")
    x, y = canvas.grid()
    slanted = np.abs((x - 0.82 * width) + 0.35 * (y - 0.25 * height))
    band = (y > 0.06 * height) & (y < 0.45 * height)
    canvas.where((slanted < 1.0) & band, black)
    canvas.where((np.abs(slanted - 0.05 * width) < 1.0) & band, white)
    pitch = 0.9 / len(GRATING_PERIODS)
    for i, period in enumerate(GRATING_PERIODS):
        upright = canvas.rect(0.05 + i * pitch, 0.52, 0.85 * pitch, 0.19)
        lying = canvas.rect(0.05 + i * pitch, 0.73, 0.85 * pitch, 0.19)
        _grating(canvas, upright, period, across=True)
        _grating(canvas, lying, period, across=False)
        canvas.number(str(period), 0.05 + (i + 0.425) * pitch, 0.96, 0.03, black)


def _grating(canvas: Canvas, rect: Rect, period: int, *, across: bool) -> None:
    low, high = canvas.of(20.0), canvas.of(80.0)
    part = canvas.codes[rect.y : rect.y + rect.height, rect.x : rect.x + rect.width]
    length = rect.width if across else rect.height
    lit = (np.arange(length) % period) < (period + 1) // 2
    colours = np.where(lit[:, None], np.array(high), np.array(low)).astype(np.uint16)
    part[:] = colours[None] if across else colours[:, None]


def moving_bars(canvas: Canvas) -> None:
    """Upright bars to be moved across: trails and jumps. Two of them, so that no place is passed too often."""
    canvas.ground(canvas.of(20.0))
    for i, (name, percent) in enumerate((("light bar", 80.0), ("dark bar", 0.0))):
        canvas.fill(canvas.rect(0.1 + 0.5 * i, 0.1, 0.05, 0.8), canvas.of(percent), name)


def _vertical(canvas: Canvas, x: float, thick: int, codes: tuple[int, int, int]) -> None:
    left = min(max(0, round(x - thick / 2)), canvas.width - thick)
    canvas.fill(Rect(left, 0, thick, canvas.height), codes)


def _horizontal(canvas: Canvas, y: float, thick: int, codes: tuple[int, int, int]) -> None:
    top = min(max(0, round(y - thick / 2)), canvas.height - thick)
    canvas.fill(Rect(0, top, canvas.width, thick), codes)
