"""Pictures of levels: steps by black and white, staircase and ramp, fields, checkerboard, uniformity."""

import numpy as np

from aequitone.signal.pictures.canvas import Canvas

# 8-bit codes, by where black is.
BLACK_STEPS = {False: (8, 12, 17, 18, 19, 20, 21, 22, 23, 24, 25), True: (1, 2, 3, 4, 5, 6, 7, 8, 9)}
WHITE_STEPS = {
    False: (218, 222, 226, 230, 232, 234, 238, 242, 246, 250, 254),
    True: (236, 239, 242, 245, 247, 249, 251, 252, 253, 254),
}
_ROWS = ((True, True, True), (True, False, False), (False, True, False), (False, False, True))
_ROW_NAMES = ("grey", "red", "green", "blue")


def black_steps(canvas: Canvas) -> None:
    """Bars a few codes from black, on black, each with its number below in a dim grey."""
    canvas.ground(canvas.of(0.0))
    _bars_by_black(canvas, lit=True)


def black_steps_dark(canvas: Canvas) -> None:
    """The same without its bars: the other half of the blinking."""
    canvas.ground(canvas.of(0.0))
    _bars_by_black(canvas, lit=False)


def _bars_by_black(canvas: Canvas, *, lit: bool) -> None:
    steps = BLACK_STEPS[canvas.full]
    pitch = 0.9 / len(steps)
    dim = canvas.of(12.0)
    for i, code in enumerate(steps):
        bar = canvas.rect(0.05 + i * pitch + 0.15 * pitch, 0.2, 0.7 * pitch, 0.5)
        canvas.fill(bar, canvas.of_eight(code) if lit else canvas.of(0.0), f"bar {code}")
        canvas.number(str(code), 0.05 + (i + 0.5) * pitch, 0.76, 0.03, dim)


def white_steps(canvas: Canvas) -> None:
    """Bars by white in grey, red, green and blue, on the white of each."""
    steps = WHITE_STEPS[canvas.full]
    black, white = canvas.of(0.0)[0], canvas.of(100.0)[0]
    canvas.ground(canvas.of(0.0))
    pitch = 0.9 / len(steps)
    for row, (on, name) in enumerate(zip(_ROWS, _ROW_NAMES, strict=True)):
        top = 0.06 + row * 0.22
        ground = tuple(white if channel else black for channel in on)
        canvas.fill(canvas.rect(0.03, top, 0.94, 0.2), (ground[0], ground[1], ground[2]))
        for i, code in enumerate(steps):
            value = canvas.of_eight(code)[0]
            codes = tuple(value if channel else black for channel in on)
            bar = canvas.rect(0.05 + i * pitch + 0.15 * pitch, top + 0.03, 0.7 * pitch, 0.14)
            canvas.fill(bar, (codes[0], codes[1], codes[2]), f"{name} {code}")
    for i, code in enumerate(steps):
        canvas.number(str(code), 0.05 + (i + 0.5) * pitch, 0.965, 0.025, canvas.of(30.0))


def staircase(canvas: Canvas) -> None:
    """Eleven greys up and eleven down."""
    canvas.ground(canvas.of(0.0))
    for i in range(11):
        for top, percent in ((0.0, i * 10.0), (0.5, 100.0 - i * 10.0)):
            name = f"{percent:g} % {'above' if top == 0.0 else 'below'}"
            canvas.fill(canvas.rect(i / 11.0, top, 1.0 / 11.0, 0.5), canvas.of(percent), name)


def ramp(canvas: Canvas) -> None:
    """Every code from black to white, and back below: banding shows as edges."""
    low, high = canvas.of(0.0)[0], canvas.of(100.0)[0]
    across = np.rint(np.linspace(low, high, canvas.width)).astype(np.uint16)
    half = canvas.height // 2
    canvas.codes[:half] = across[None, :, None]
    canvas.codes[half:] = across[None, ::-1, None]


def checkerboard(canvas: Canvas) -> None:
    """Four by four squares of white and black: contrast within one picture."""
    for row in range(4):
        for column in range(4):
            white = (row + column) % 2 == 0
            name = f"{'white' if white else 'black'} {row + 1}.{column + 1}"
            place = canvas.rect(column / 4, row / 4, 0.25, 0.25)
            canvas.fill(place, canvas.of(100.0 if white else 0.0), name)


def uniformity(canvas: Canvas) -> None:
    """A mid grey field with nine rings around the places that are measured."""
    grey = canvas.of(50.0)
    canvas.ground(grey)
    x, y = canvas.grid()
    radius = 0.06 * canvas.height
    for row in range(3):
        for column in range(3):
            cx, cy = (0.1 + 0.4 * column) * canvas.width, (0.1 + 0.4 * row) * canvas.height
            ring = np.abs(np.hypot(x - cx, y - cy) - radius) < max(1.0, canvas.height / 900.0)
            canvas.where(ring, canvas.of(40.0))
            inner = radius / canvas.height
            name = f"spot {row + 1}.{column + 1}"
            # Inside the ring, where the meter looks.
            side = 0.8 * inner
            wide = side * canvas.height / canvas.width
            place = canvas.rect(0.1 + 0.4 * column - wide / 2, 0.1 + 0.4 * row - side / 2, wide, side)
            canvas.fill(place, grey, name)


def full_field(percent: float, canvas: Canvas) -> None:
    """One grey everywhere."""
    canvas.ground(canvas.of(percent))
    canvas.fill(canvas.rect(0.0, 0.0, 1.0, 1.0), canvas.of(percent), f"{percent:g} %")


def windowed_field(percent: float, area: float, canvas: Canvas) -> None:
    """One grey in a window of a share of the area, on black."""
    canvas.ground(canvas.of(0.0))
    side = area**0.5
    canvas.fill(canvas.rect((1 - side) / 2, (1 - side) / 2, side, side), canvas.of(percent), f"{percent:g} %")
