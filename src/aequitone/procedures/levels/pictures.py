"""White in windows of several sizes, and in a checkerboard: what the levels come to in pictures."""

from dataclasses import replace

from aequitone.procedures.levels.session import PRECISION, SAME_LIGHT, LevelsSession, best_window, read_grey
from aequitone.procedures.policy import ReadPolicy
from aequitone.procedures.steps import Note, Procedure, Progress, Purpose, Reading
from aequitone.procedures.uninterrupted import insist_on_reading
from aequitone.signal import board_patch

WINDOWS = (0.02, 0.05, 0.10, 0.18, 0.35, 0.60, 1.0)
# The window that no screen limits more than a larger one.
_SMALL = 0.05


def windows(now: LevelsSession) -> Procedure[None]:
    """White in windows of several sizes; those between are only read where the largest is limited."""
    for window in (_SMALL, WINDOWS[-1]):
        yield from _in_window(now, window)
    (_, small), (_, full) = now.windows
    if full >= small * (1.0 - SAME_LIGHT):
        yield Note("White has the same light in every window: nothing limits it.")
        return
    # Larger ones are limited the more: half of those that are left tell where it begins.
    between = [window for window in WINDOWS if _SMALL < window < WINDOWS[-1]]
    while between:
        half = len(between) // 2
        yield from _in_window(now, between[half])
        limited = dict(now.windows)[between[half]] < small * (1.0 - SAME_LIGHT)
        between = between[:half] if limited else between[half + 1 :]
    best = best_window(now.windows)
    yield Note(
        f"A full white field has {full / small * 100:.0f} % of a small window's light. Windows up to "
        f"{best * 100:.0f} % of the area are not limited: measure with one of those."
    )


def _in_window(now: LevelsSession, window: float) -> Procedure[None]:
    reading: Reading = yield from read_grey(now, 100.0, replace(now.plan.format, window=window))
    now.windows = tuple(sorted((*now.windows, (window, reading.Y))))
    yield Progress(0, 0, now.state())


def board(now: LevelsSession) -> Procedure[None]:
    """White and black in the middle of a checkerboard: what the eye has in a picture, glare included."""
    assert now.white is not None
    lights = []
    for white in (True, False):
        patch = board_patch(now.plan.format, white=white)
        sd = PRECISION * float(now.white[1]) if white else 1e-5 * float(now.white[1])
        reading = yield from insist_on_reading(patch, ReadPolicy(max(sd, 0.0008)), Purpose.SWEEP)
        lights.append(max(0.0, reading.Y))
    now.board = (lights[0], lights[1])
    yield Progress(0, 0, now.state())
