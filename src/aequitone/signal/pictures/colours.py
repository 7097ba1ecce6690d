"""Pictures of colour: bars with a view of one channel, and skin and everyday colours."""

from aequitone.signal.pictures.canvas import RGB, Canvas
from aequitone.signal.pictures.scene import still_life

BARS: tuple[tuple[str, tuple[float, float, float]], ...] = (
    ("white", (75.0, 75.0, 75.0)),
    ("yellow", (75.0, 75.0, 0.0)),
    ("cyan", (0.0, 75.0, 75.0)),
    ("green", (0.0, 75.0, 0.0)),
    ("magenta", (75.0, 0.0, 75.0)),
    ("red", (75.0, 0.0, 0.0)),
    ("blue", (0.0, 0.0, 75.0)),
    ("black", (0.0, 0.0, 0.0)),
)
# Signals in %, chosen by us: six skins from pale to deep, then what everybody knows the colour of.
EVERYDAY: tuple[tuple[str, tuple[float, float, float]], ...] = (
    ("skin 1", (91.0, 76.0, 69.0)), ("skin 2", (82.0, 64.0, 54.0)), ("skin 3", (73.0, 53.0, 42.0)),
    ("skin 4", (60.0, 41.0, 31.0)), ("skin 5", (44.0, 29.0, 22.0)), ("skin 6", (30.0, 20.0, 16.0)),
    ("grass", (36.0, 46.0, 22.0)), ("leaf", (28.0, 40.0, 26.0)), ("moss", (45.0, 47.0, 28.0)),
    ("sky", (45.0, 62.0, 80.0)), ("evening sky", (36.0, 41.0, 58.0)), ("sea", (24.0, 44.0, 50.0)),
    ("brick", (58.0, 33.0, 26.0)), ("sand", (79.0, 71.0, 57.0)), ("clay", (66.0, 45.0, 34.0)),
    ("lemon", (92.0, 84.0, 32.0)), ("orange", (90.0, 55.0, 20.0)), ("tomato", (78.0, 25.0, 20.0)),
    ("plum", (40.0, 22.0, 36.0)), ("lavender", (66.0, 60.0, 78.0)), ("denim", (28.0, 34.0, 46.0)),
    ("paper", (94.0, 93.0, 90.0)), ("concrete", (60.0, 60.0, 58.0)), ("slate", (30.0, 32.0, 34.0)),
)  # fmt: skip


def colour_bars(canvas: Canvas) -> None:
    """Bars of 75 %, each with a patch of its own blue alone: seen by blue light only, patch and bar are one."""
    _bars(canvas, (True, True, True))


def red_of_bars(canvas: Canvas) -> None:
    """The red channel of the bars alone."""
    _bars(canvas, (True, False, False))


def green_of_bars(canvas: Canvas) -> None:
    """The green channel of the bars alone."""
    _bars(canvas, (False, True, False))


def blue_of_bars(canvas: Canvas) -> None:
    """The blue channel of the bars alone."""
    _bars(canvas, (False, False, True))


def _bars(canvas: Canvas, channels: tuple[bool, bool, bool]) -> None:
    black = canvas.of(0.0)
    canvas.ground(black)
    whole = all(channels)
    pitch = 1.0 / len(BARS)
    for i, (name, signals) in enumerate(BARS):
        codes = canvas.of(*signals)
        shown: RGB = tuple(c if on else b for c, on, b in zip(codes, channels, black, strict=True))  # type: ignore[assignment]
        canvas.fill(canvas.rect(i * pitch, 0.0, pitch, 0.62), shown, name)
        if whole:
            canvas.fill(
                canvas.rect(i * pitch, 0.62, pitch, 0.16), (black[0], black[1], codes[2]), f"blue of {name}"
            )
            # The other way round below, so that every bar has another neighbour.
            other, _ = BARS[-1 - i]
            canvas.fill(canvas.rect(i * pitch, 0.78, pitch, 0.22), canvas.of(*BARS[-1 - i][1]), f"{other} below")


def everyday(canvas: Canvas) -> None:
    """Everyday colours as beads around white, skins nearest to it: an eye knows them without a reference."""
    canvas.ground(canvas.of(35.0))
    canvas.disc(0.5, 0.5, 0.06, canvas.of(100.0), "white")
    beads = iter(EVERYDAY)
    for count, radius, size in ((6, 0.17, 0.065), (8, 0.31, 0.06), (10, 0.43, 0.055)):
        for i in range(count):
            name, signals = next(beads)
            # Each ring begins between two beads of the one inside it.
            x, y = canvas.hour(12.0 * (i + 0.5 * (count == 8)) / count, radius)
            canvas.disc(x, y, size, canvas.of(*signals), name)


def scene(canvas: Canvas) -> None:
    """The made-up still life."""
    canvas.signals(still_life(canvas.width, canvas.height))
