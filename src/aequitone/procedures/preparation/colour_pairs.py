"""Readings of colours one after another: what a correction between two meters is made from."""

from collections.abc import Sequence

from aequitone.procedures.policy import ReadPolicy
from aequitone.procedures.steps import Procedure, Progress, Purpose, Read, Reading, Show
from aequitone.signal import SignalFormat, colour_patch

# Red, green, blue and white first: the four of the four-colour method. The others for least squares.
PAIR_COLOURS: tuple[tuple[str, tuple[float, float, float]], ...] = (
    ("red", (100.0, 0.0, 0.0)),
    ("green", (0.0, 100.0, 0.0)),
    ("blue", (0.0, 0.0, 100.0)),
    ("white", (100.0, 100.0, 100.0)),
    ("cyan", (0.0, 100.0, 100.0)),
    ("magenta", (100.0, 0.0, 100.0)),
    ("yellow", (100.0, 100.0, 0.0)),
    ("grey", (75.0, 75.0, 75.0)),
)
FOUR_COLOURS = PAIR_COLOURS[:4]
# A correction is made once and used for months, so it is read more exactly than a level.
_PRECISION = 0.0008
_UNKNOWN_LIGHT = 10.0


def read_colours(
    colours: Sequence[tuple[str, tuple[float, float, float]]], format_: SignalFormat
) -> Procedure[list[Reading]]:
    """Read colours, each a name and the signals of red, green and blue in %; returns their Readings."""
    taken: list[Reading] = []
    for name, percents in colours:
        patch = colour_patch(name, percents, format_)
        yield Show(patch)
        rough: Reading = yield Read(patch, ReadPolicy(_UNKNOWN_LIGHT * 0.02), Purpose.WATCH)
        light = max(rough.Y, _UNKNOWN_LIGHT / 1000.0)
        taken.append((yield Read(patch, ReadPolicy(light * _PRECISION, light), Purpose.LEVEL)))
        yield Progress(len(taken), len(colours))
    return taken
