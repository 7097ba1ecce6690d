"""The test pictures there are: what each is for, and what to look for in it."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

import numpy as np

from aequitone.signal.patch import SignalFormat
from aequitone.signal.pictures import colours, shapes, steps
from aequitone.signal.pictures.canvas import Canvas, Rendered
from aequitone.signal.pictures.colour_ramps import colour_ramps

Draw = Callable[[Canvas], None]
# Nothing changes faster than this: flashing can trigger seizures.
MOST_FLASHES_PER_SECOND = 3.0


@dataclass(frozen=True)
class Picture:
    """A test picture."""

    key: str
    title: str
    look_for: str
    draw: Draw
    other: Draw | None = None
    """The other half of a picture that blinks."""
    blinks_per_second: float = 0.0
    widths_per_second: float = 0.0
    """How fast it moves across, where it moves."""
    still: str = ""
    """The key of the picture that shows the same without moving."""
    warning: str = ""

    def __post_init__(self) -> None:
        if self.flashes_per_second >= MOST_FLASHES_PER_SECOND:
            raise ValueError(f"{self.title} would flash {self.flashes_per_second:g} times a second")

    @property
    def moves(self) -> bool:
        return bool(self.blinks_per_second or self.widths_per_second)

    @property
    def flashes_per_second(self) -> float:
        """How often one place goes from dark to light and back: two bars pass it for each width moved."""
        return max(self.blinks_per_second, 2.0 * self.widths_per_second)


_BLINK = "It blinks once a second. Use the still picture if blinking may harm anyone in the room."
_BRIGHT = "A full white field dazzles in a dark room; in HDR do not look into it."
PICTURES: tuple[Picture, ...] = (
    Picture("black-steps", "Black steps", "Discs just show from one o'clock on, and none from ten to twelve.",
            steps.black_steps),
    Picture("black-steps-blinking", "Black steps, blinking", "A disc that blinks is seen before one that stands.",
            steps.black_steps, steps.black_steps_dark, blinks_per_second=1.0, still="black-steps", warning=_BLINK),
    Picture("white-steps", "White steps", "Beads show in every ring up to six o'clock, just below white.",
            steps.white_steps),
    Picture("geometry", "Geometry", "All arrow tips and the outer frame are there, and the circle is round.",
            shapes.geometry),
    Picture("crosshatch", "Focus and convergence", "Lines are equally fine everywhere, without coloured fringes.",
            shapes.crosshatch),
    Picture("sharpness", "Sharpness", "No rings beside lines and blocks; gratings even as far as possible.",
            shapes.sharpness),
    Picture("staircase", "Grey staircase", "Every step is neutral, and none is missing.", steps.staircase),
    Picture("ramp", "Fine ramp", "No bands, no coloured stretches.", steps.ramp),
    Picture("checkerboard", "Checkerboard", "Contrast within one picture; white must not spill into black.",
            steps.checkerboard),
    Picture("uniformity", "Uniformity", "An even grey; rings mark the nine places to measure.", steps.uniformity),
    Picture("white-field", "White field", "An even white, and its light against that of a window.",
            partial(steps.full_field, 100.0), warning=_BRIGHT),
    Picture("white-window", "White window", "A tenth of the area: the usual place to measure.",
            partial(steps.windowed_field, 100.0, 0.10)),
    Picture("black-field", "Black field", "Clouds, bright corners, dead pixels.", partial(steps.full_field, 0.0)),
    Picture("colour-bars", "Colour bars", "By blue light alone, each bar and the patch below it are one.",
            colours.colour_bars),
    Picture("red-of-bars", "Bars, red channel", "The red bars alone, equally bright.", colours.red_of_bars),
    Picture("green-of-bars", "Bars, green channel", "The green bars alone, equally bright.",
            colours.green_of_bars),
    Picture("blue-of-bars", "Bars, blue channel", "The blue bars alone, equally bright.", colours.blue_of_bars),
    Picture("everyday", "Skin and everyday colours", "Skin looks like skin, grass like grass, paper like paper.",
            colours.everyday),
    Picture("colour-ramps", "Colour ramps", "No step or block along a ramp, no tint in the wall.", colour_ramps),
    Picture("moving-bars", "Moving bars", "No trails, no double edges, no jumps.", shapes.moving_bars,
            widths_per_second=0.25, still="sharpness",
            warning="It moves slowly across. Use a still picture if movement may harm anyone in the room."),
    Picture("still-life", "Still life", "Grey is grey, glaze has no cast, the dark bottle keeps its shape.",
            colours.scene),
)  # fmt: skip


def picture_named(key: str) -> Picture:
    """The picture of that key; LookupError names those there are."""
    for picture in PICTURES:
        if picture.key == key:
            return picture
    raise LookupError(f"there is no test picture “{key}”; there are {', '.join(p.key for p in PICTURES)}")


def render(picture: Picture, width: int, height: int, format_: SignalFormat, seconds: float = 0.0) -> Rendered:
    """A picture in codes, as it is so many seconds after it began; ValueError below 64 × 36 pixels."""
    canvas = Canvas(width, height, format_)
    dark = picture.other is not None and seconds * picture.blinks_per_second % 1.0 >= 0.5
    draw = picture.other if dark and picture.other is not None else picture.draw
    draw(canvas)
    made = canvas.rendered()
    shift = round(picture.widths_per_second * seconds * width) % width
    if not shift:
        return made
    return Rendered(np.roll(made.codes, shift, axis=1), (), format_)
