"""Pictures of levels: steps by black and white, staircase and ramp, fields, checkerboard, uniformity."""

import numpy as np

from aequitone.signal.pictures.canvas import RGB, Canvas

# 8-bit codes at the hours of a dial, by whether black is code 0. From one o'clock on they lie above black, from
# ten to twelve below it, where there are such codes.
BLACK_HOURS = {
    False: {1: 17, 2: 18, 3: 19, 4: 20, 5: 21, 6: 22, 7: 23, 8: 24, 9: 25, 10: 8, 11: 10, 12: 12},
    True: {1: 1, 2: 2, 3: 3, 4: 4, 5: 5, 6: 6, 7: 7, 8: 8, 9: 9},
}
# Six o'clock is the last code before white; what comes after it is a bonus.
WHITE_HOURS = {
    False: {1: 218, 2: 222, 3: 226, 4: 230, 5: 232, 6: 234, 7: 238, 8: 242, 9: 246, 10: 250, 11: 254},
    True: {1: 236, 2: 242, 3: 247, 4: 250, 5: 252, 6: 254},
}
# Rings from the outside to the middle: all channels, then each alone.
_RINGS = (
    ("grey", (True, True, True), 0.415),
    ("red", (True, False, False), 0.315),
    ("green", (False, True, False), 0.215),
    ("blue", (False, False, True), 0.115),
)
_RING_WIDTH, _DIAL = 0.085, 0.36


def black_steps(canvas: Canvas) -> None:
    """Discs a few codes from black at the hours of a dial, on black; the hours stand outside in a dim grey."""
    _dial_by_black(canvas, lit=True)


def black_steps_dark(canvas: Canvas) -> None:
    """The same without its discs: the other half of the blinking."""
    _dial_by_black(canvas, lit=False)


def _dial_by_black(canvas: Canvas, *, lit: bool) -> None:
    canvas.ground(canvas.of(0.0))
    dim = canvas.of(12.0)
    for hour, code in BLACK_HOURS[canvas.full].items():
        x, y = canvas.hour(hour, _DIAL)
        canvas.disc(x, y, 0.065, canvas.of_eight(code) if lit else canvas.of(0.0), f"{hour} o'clock: {code}")
        canvas.number(str(hour), *canvas.hour(hour, _DIAL + 0.105), 0.028, dim)


def white_steps(canvas: Canvas) -> None:
    """Four rings of white, red, green and blue, each with beads by its own full code at the hours of a dial."""
    black, white = canvas.of(0.0)[0], canvas.of(100.0)[0]
    canvas.ground(canvas.of(0.0))
    for name, on, radius in _RINGS:
        canvas.ring(radius, _RING_WIDTH, _of_channels(on, white, black))
        for hour, code in WHITE_HOURS[canvas.full].items():
            x, y = canvas.hour(hour, radius)
            bead = _of_channels(on, canvas.of_eight(code)[0], black)
            canvas.disc(x, y, 0.022, bead, f"{name} {hour} o'clock: {code}")
    for hour in WHITE_HOURS[canvas.full]:
        canvas.number(str(hour), *canvas.hour(hour, 0.475), 0.024, canvas.of(30.0))


def _of_channels(on: tuple[bool, bool, bool], lit: int, dark: int) -> RGB:
    red, green, blue = (lit if channel else dark for channel in on)
    return red, green, blue


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
