"""A pass over grey: anchors, the levels from bright to dark, and the anchors again."""

from dataclasses import dataclass
from math import hypot

import numpy as np

from aequitone.colorimetry.arrays import Array
from aequitone.procedures.policy import policy_for
from aequitone.procedures.steps import Checkpoint, Note, Procedure, Progress, Purpose, Read, Reading, Show
from aequitone.reference import GreyErrors, Target, grey_errors
from aequitone.signal import SignalFormat, grey_levels, grey_patch

# What a first white is taken to be before anything is known: it only chooses how long to look.
_UNKNOWN_WHITE = 100.0
# Anchors further apart than this, and than four times their noise, do not agree.
_DISAGREE = 0.005
_SIGMAS = 4.0


@dataclass(frozen=True)
class GreyPlan:
    """What a grey pass reads, and what it is compared with."""

    target: Target
    format: SignalFormat
    levels: int = 11
    repeat_anchors: bool = True
    """False for a meter by hand: a person types each reading once, and the anchors again at the end."""

    @property
    def percents(self) -> tuple[float, ...]:
        return grey_levels(self.levels)

    @property
    def readings(self) -> int:
        """How many readings it takes when nothing is read again."""
        return len(self.percents) + (4 if self.repeat_anchors else 2)


@dataclass(frozen=True)
class GreyPass:
    """What a pass found; levels from 100 % down to 0 %."""

    percents: tuple[float, ...]
    xyz: Array
    sd: Array
    errors: GreyErrors
    drift: float
    """White at the end against the start, in %."""

    @property
    def white(self) -> float:
        """Luminance of 100 % grey, cd/m²."""
        return float(self.xyz[0, 1])

    @property
    def black(self) -> float:
        """Luminance of 0 % grey, cd/m², never below nothing."""
        return max(0.0, float(self.xyz[-1, 1]))


def grey_pass(plan: GreyPlan) -> Procedure[GreyPass]:
    """Read the plan's levels; returns a GreyPass."""
    percents = plan.percents
    total = plan.readings
    readings: list[Reading] = []

    def read(percent: float, expected: float, purpose: Purpose) -> Procedure[Reading]:
        patch = grey_patch(percent, plan.format)
        yield Show(patch)
        reading: Reading = yield Read(patch, policy_for(expected), purpose)
        readings.append(reading)
        yield Progress(len(readings), max(total, len(readings)))
        return reading

    whites = [(yield from read(100.0, _UNKNOWN_WHITE, Purpose.ANCHOR))]
    if plan.repeat_anchors:
        whites.append((yield from read(100.0, whites[0].Y, Purpose.ANCHOR)))
        if apart(whites[0], whites[1]):
            total += 1
            yield Note("The first two readings of white disagree, so white is read a third time.")
            whites.append((yield from read(100.0, whites[0].Y, Purpose.ANCHOR)))
            whites = closest_pair(whites)
    white, white_sd = mean_reading(whites)
    blacks = [(yield from read(0.0, 0.0, Purpose.ANCHOR))]
    if plan.repeat_anchors:
        blacks.append((yield from read(0.0, 0.0, Purpose.ANCHOR)))
    black, black_sd = mean_reading(blacks)
    yield Checkpoint("anchors")

    xyz, sd = [white], [white_sd]
    for percent in percents[1:-1]:
        expected = float(plan.target.grey(percent, float(white[1]))[1])
        reading = yield from read(percent, expected, Purpose.LEVEL)
        xyz.append(reading.xyz)
        sd.append(reading.sd)
    yield Checkpoint("levels")

    end_white = yield from read(100.0, float(white[1]), Purpose.ANCHOR)
    end_black = yield from read(0.0, 0.0, Purpose.ANCHOR)
    drift = (end_white.Y / float(white[1]) - 1.0) * 100.0 if white[1] > 0 else 0.0
    if apart(whites[-1], end_white):
        yield Note(
            f"White moved by {drift:+.1f} % between the start and the end of the pass: the levels "
            "between carry up to that error. Let the screen warm up and measure again if it matters."
        )
    if apart(blacks[-1], end_black):
        yield Note(
            f"Black moved from {float(black[1]):.3f} to {end_black.Y:.3f} cd/m² over the pass. "
            "Look for stray light or for something automatic that is still on."
        )
    points, spreads = np.array([*xyz, black]), np.array([*sd, black_sd])
    errors = grey_errors(
        percents, points, plan.target, white=float(white[1]), black=max(0.0, float(black[1])), sd=spreads
    )
    return GreyPass(percents, points, spreads, errors, drift)


def apart(first: Reading, second: Reading) -> bool:
    """Whether two readings of the same patch disagree beyond their noise and beyond 0.5 %."""
    gap = abs(first.Y - second.Y)
    return gap > _SIGMAS * hypot(first.sd_Y, second.sd_Y) and gap > _DISAGREE * max(first.Y, second.Y)


def closest_pair(readings: list[Reading]) -> list[Reading]:
    """The two of three readings that agree best, in the order they were taken."""
    ordered = sorted(readings, key=lambda reading: reading.Y)
    low, high = ordered[1].Y - ordered[0].Y, ordered[2].Y - ordered[1].Y
    left_out = ordered[2] if low <= high else ordered[0]
    return [reading for reading in readings if reading is not left_out]


def mean_reading(readings: list[Reading]) -> tuple[Array, Array]:
    """Mean XYZ of readings and its standard deviation, both shape (3,)."""
    xyz = np.array([reading.xyz for reading in readings])
    sd = np.array([reading.sd for reading in readings])
    return xyz.mean(axis=0), np.sqrt((sd**2).sum(axis=0)) / len(readings)
