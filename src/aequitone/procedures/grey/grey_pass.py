"""A pass over grey: anchors, the levels from bright to dark with anchors on the way, and the anchors again."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise, takewhile
from math import hypot

import numpy as np

from aequitone.advice.technology import Technology, black_words
from aequitone.colorimetry import Formula
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.grey.drift import Drift, fitted, rise
from aequitone.procedures.grey.first_look import first_look, look_readings
from aequitone.procedures.policy import seen_black, target_policy
from aequitone.procedures.steps import Note, Procedure, Progress, Purpose, PutBack, Read, Reading, Show
from aequitone.reference import GreyErrors, Target, grey_errors, mean_error, mean_error_sd, without_noise
from aequitone.signal import SignalFormat, grey_levels, grey_patch

# What a first white is taken to be before anything is known: it only chooses how long to look.
_UNKNOWN_WHITE = 100.0
# Anchors further apart than this, and than four times their noise, do not agree.
_DISAGREE = 0.005
_SIGMAS = 4.0
# Light that rises by more than this in a minute, in %, is of a screen that still warms up.
_WARMING = 0.18
# Steps of white up and down between two readings of it: one wrong reading makes two.
_FEW_STEPS = 2
# White that scatters by so much, and so many times as much as it did at first, moved while it was read.
_SCATTER, _AS_AT_FIRST = 0.004, 3.0
_UNSTEADY_WORDS = (
    "White went to and fro by {:.1f} % over the pass: something automatic is still on, or the screen follows "
    "the room (a sensor). Switch that off, then read it as found again."
)
# A fall that a warming or ageing lamp does not make in the minutes of a pass.
_DIMMING_PERCENT = -1.0


@dataclass(frozen=True)
class GreyPlan:
    """What a grey pass reads, and what it is compared with."""

    target: Target
    format: SignalFormat
    levels: int = 11
    repeat_anchors: bool = True
    """False for a meter by hand: a person types each reading once, and the anchors again at the end."""
    anchor_every: int = 0
    """White is read again after so many levels; 0 for only at the start and the end."""
    take_out_drift: bool = True
    first_look: bool = False
    """Whether the first readings must show that the screen answers as the target says."""
    technology: Technology = Technology.UNKNOWN
    """Of the screen, as noted: what its black should look like."""
    formula: Formula = Formula.DE2000
    """Of the ΔE that leads."""

    @property
    def percents(self) -> tuple[float, ...]:
        return grey_levels(self.levels)

    @property
    def readings(self) -> int:
        """How many readings it takes when nothing is read again."""
        ends = 4 if self.repeat_anchors else 2
        look = look_readings(self.format) if self.first_look else 0
        return len(self.percents) + ends + self.on_the_way + look

    @property
    def on_the_way(self) -> int:
        """How many times white is read between the levels."""
        return (len(self.percents) - 3) // self.anchor_every if self.anchor_every else 0


@dataclass(frozen=True)
class GreyPass:
    """What a pass found; levels from 100 % down to 0 %."""

    percents: tuple[float, ...]
    xyz: Array
    sd: Array
    errors: GreyErrors
    drift: float
    """White at the end against the start, in %."""
    drift_taken_out: bool = False
    rejected: tuple[int, ...] = ()
    """Answers of the meter that were left out, for each level."""
    formula: Formula = Formula.DE2000
    """Of the ΔE that leads."""

    @property
    def white(self) -> float:
        """Luminance of 100 % grey, cd/m²."""
        return float(self.xyz[0, 1])

    @property
    def black(self) -> float:
        """Luminance of 0 % grey, cd/m²; 0 where the meter cannot tell it from nothing."""
        return seen_black(float(self.xyz[-1, 1]), float(self.sd[-1, 1]))

    @property
    def mean(self) -> float:
        """Average ΔE without black and what lies beyond the screen, and without what the readings' noise adds."""
        delta, _, noise = self.errors.by(self.formula)
        return mean_error(delta[:-1], noise[:-1])

    @property
    def mean_sd(self) -> float:
        """Standard deviation of `mean` from the readings' noise."""
        return mean_error_sd(self.errors.by(self.formula)[1][:-1])

    @property
    def worst(self) -> tuple[float, float]:
        """The level in % that is worst, and its ΔE as `mean` takes it; (nan, nan) where no level has one."""
        delta, _, noise = self.errors.by(self.formula)
        told = without_noise(delta[:-1], noise[:-1])
        if np.isnan(told).all():
            return float("nan"), float("nan")
        at = int(np.nanargmax(told))
        return self.percents[at], float(told[at])


@dataclass(frozen=True)
class _Point:
    """One reading that the pass is to take."""

    percent: float
    purpose: Purpose
    end: bool = False
    on_the_way: bool = False


def grey_pass(plan: GreyPlan) -> Procedure[GreyPass]:
    """Read the plan's levels; returns a GreyPass. Raises WrongSignalError where another signal is found.

    Understands PutBack: the last reading is taken once more, and the one before is kept but not used.
    """
    earlier: list[Reading] = []
    if plan.first_look:
        look = yield from first_look(plan.format, plan.target, plan.readings)
        earlier = [look.white]
    looked = look_readings(plan.format) if plan.first_look else 0
    route = _route(plan)
    planned = len(route)
    readings: list[Reading] = []
    while len(readings) < len(route):
        point = route[len(readings)]
        white = readings[0].Y if readings and readings[0].Y > 0 else _UNKNOWN_WHITE
        patch = grey_patch(point.percent, plan.format)
        policy = target_policy(plan.target, float(plan.target.grey(point.percent, white)[1]), white)
        try:
            yield Show(patch)
            readings.append((yield Read(patch, policy, point.purpose)))
            yield Progress(looked + len(readings), looked + len(route))
        except PutBack:
            if readings:
                again = readings.pop()
                yield Note(f"{again.patch.name} is read again; the reading before is kept, but not used.")
            continue
        if plan.repeat_anchors and len(readings) == 2 and len(route) == planned and apart(*readings):
            yield Note("The first two readings of white disagree, so white is read a third time.")
            route.insert(2, _Point(100.0, Purpose.ANCHOR))
    found = _understood(plan, route, readings)
    unsteady = _unsteady(earlier, readings)
    # What goes to and fro rises now and then, and is no screen that warms up.
    moving = unsteady or _warming(earlier, readings)
    for words in [*moving, *_disagreements(plan, route, readings, found, moves=not unsteady)]:
        yield Note(words)
    return found


def _route(plan: GreyPlan) -> list[_Point]:
    anchors = 2 if plan.repeat_anchors else 1
    levels: list[_Point] = []
    inner = plan.percents[1:-1]
    for i, percent in enumerate(inner, 1):
        levels.append(_Point(percent, Purpose.LEVEL))
        if plan.anchor_every and i % plan.anchor_every == 0 and i < len(inner):
            levels.append(_Point(100.0, Purpose.ANCHOR, on_the_way=True))
    return [
        *[_Point(100.0, Purpose.ANCHOR)] * anchors,
        *[_Point(0.0, Purpose.ANCHOR)] * anchors,
        *levels,
        _Point(100.0, Purpose.ANCHOR, end=True),
        _Point(0.0, Purpose.ANCHOR, end=True),
    ]


def _understood(plan: GreyPlan, route: list[_Point], readings: list[Reading]) -> GreyPass:
    """What the readings of a whole route say."""
    starts = _anchors(route, readings, 100.0, end=False)
    whites = closest_pair(starts) if len(starts) == 3 else starts
    white, white_sd = mean_reading(whites)
    black, black_sd = mean_reading(_anchors(route, readings, 0.0, end=False))
    levels = [reading for reading in readings if reading.purpose is Purpose.LEVEL]
    (end_white,) = _anchors(route, readings, 100.0, end=True)
    xyz = np.array([white, *(reading.xyz for reading in levels), black])
    sd = np.array([white_sd, *(reading.sd for reading in levels), black_sd])
    taken_out = False
    if plan.anchor_every and plan.take_out_drift and white[1] > 0:
        on_the_way = [r for point, r in zip(route, readings, strict=True) if point.on_the_way]
        course = _course(whites, [*on_the_way, end_white])
        taken_out = course.shape != "none"
        if taken_out:
            times = np.array([reading.at for reading in levels])
            xyz[1:-1] = xyz[1:-1] / course.at(times)
    seen = seen_black(float(black[1]), float(black_sd[1]))
    errors = grey_errors(plan.percents, xyz, plan.target, white=float(white[1]), black=seen, sd=sd)
    drift = (end_white.Y / float(white[1]) - 1.0) * 100.0 if white[1] > 0 else 0.0
    rejected = tuple(sum(r.rejected for r in readings if r.patch.percent == p) for p in plan.percents)
    return GreyPass(plan.percents, xyz, sd, errors, drift, taken_out, rejected, plan.formula)


def held_to(found: GreyPass, target: Target, formula: Formula) -> GreyPass:
    """The same readings, held to another target and told by another formula."""
    errors = grey_errors(found.percents, found.xyz, target, white=found.white, black=found.black, sd=found.sd)
    return replace(found, errors=errors, formula=formula)


def recovered(plan: GreyPlan, readings: Sequence[Reading]) -> GreyPass | None:
    """What the readings of a pass say by themselves; None where they are not those of its route.

    For records of versions whose first look was another. Of readings that were taken again the last counts.
    """
    taken = [reading for reading in readings if reading.purpose in (Purpose.ANCHOR, Purpose.LEVEL)]
    route = _route(plan)
    whites = len(list(takewhile(lambda reading: reading.patch.is_white, taken)))
    if plan.repeat_anchors and whites > 2:
        route.insert(2, _Point(100.0, Purpose.ANCHOR))
    told: list[Reading] = []
    for place, point in enumerate(route):
        after = route[place + 1] if place + 1 < len(route) else None
        while taken and _is_of(taken[0], point):
            again = len(taken) > 1 and _is_of(taken[1], point)
            reading = taken.pop(0)
            if not again or (after is not None and _is_of(reading, after)):
                told.append(reading)
                break
    return _understood(plan, route, told) if len(told) == len(route) else None


def _is_of(reading: Reading, point: _Point) -> bool:
    return reading.patch.is_grey and reading.patch.percent == point.percent and reading.purpose is point.purpose


def _course(whites: list[Reading], later: list[Reading]) -> Drift:
    anchors = [*whites, *later]
    times = np.array([reading.at for reading in anchors])
    if np.any(np.diff(times) <= 0):
        # Records from before readings knew their time: by their order.
        times = np.arange(len(anchors), dtype=float)
    return fitted(times, np.array([r.xyz for r in anchors]), np.array([r.sd for r in anchors]))


def _warming(earlier: list[Reading], readings: list[Reading]) -> list[str]:
    """What is to be said of white that rises: all the time, or before the pass where it falls later."""
    whites = [*earlier, *(reading for reading in readings if reading.patch.is_white)]
    for told in (whites, whites[: len(earlier) + 2]):
        times = np.array([reading.at for reading in told])
        if len(told) < 3 or times[-1] <= times[0]:
            continue
        light, sd = np.array([r.Y for r in told]), np.array([r.sd_Y for r in told])
        percent, spread = rise(times, light, sd)
        if percent > max(_WARMING, _SIGMAS * spread) and _without_any(times, light, sd) > _WARMING / 4.0:
            return [
                f"White rises by {percent:.1f} % a minute: the screen is not warm yet. Watch it at Prepare until "
                "it holds, then read it as found again."
            ]
    return []


def _without_any(times: Array, light: Array, sd: Array) -> float:
    """The least that light rises a minute, in %, with any one reading left out: a wrong one must not say it."""
    rows = [np.delete(np.arange(len(times)), i) for i in range(len(times))]
    return min(rise(times[kept], light[kept], sd[kept])[0] for kept in rows)


def _disagreements(
    plan: GreyPlan, route: list[_Point], readings: list[Reading], found: GreyPass, *, moves: bool
) -> list[str]:
    """What is to be said of black, and of anchors that moved over the pass; without `moves` not of white's."""
    told = [black_words(plan.technology, found.white, float(found.xyz[-1, 1]), float(found.sd[-1, 1]))]
    (end_white,), (end_black,) = (_anchors(route, readings, percent, end=True) for percent in (100.0, 0.0))
    if moves and apart(_anchors(route, readings, 100.0, end=False)[-1], end_white):
        told.append(_drift_words(found))
    if apart(_anchors(route, readings, 0.0, end=False)[-1], end_black):
        told.append(
            f"Black moved from {float(found.xyz[-1, 1]):.3f} to {end_black.Y:.3f} cd/m² over the pass. "
            "Look for stray light or for something automatic that is still on."
        )
    left_out = sum(reading.rejected for reading in readings)
    if left_out:
        told.append(
            f"{left_out} answer{'' if left_out == 1 else 's'} of the meter did not agree with the rest and "
            f"{'was' if left_out == 1 else 'were'} left out; what replaced them is marked in the table."
        )
    return [words for words in told if words]


def _unsteady(earlier: list[Reading], readings: list[Reading]) -> list[str]:
    """What is to be said of white that goes to and fro."""
    if not _is_unsteady(earlier, readings):
        return []
    light = np.array([reading.Y for reading in (*earlier, *readings) if reading.patch.is_white])
    return [_UNSTEADY_WORDS.format(float(np.ptp(light) / light.mean()) * 100.0)]


def _is_unsteady(earlier: list[Reading], readings: list[Reading]) -> bool:
    """Whether white goes to and fro as nothing does that warms up, ages or dims; one wrong reading says nothing.

    `earlier`: whites of the first look.
    """
    whites = [reading for reading in readings if reading.patch.is_white]
    scatter = [reading.sd_Y / max(reading.Y, 1e-6) for reading in (*earlier, *whites)]
    if float(np.median(scatter[len(earlier) :])) > max(_SCATTER, _AS_AT_FIRST * min(scatter)):
        return True
    steps = [later.Y - before.Y for before, later in pairwise(whites) if apart(before, later)]
    fro = any(step > 0.0 for step in steps) and any(step < 0.0 for step in steps)
    return fro and len(steps) > _FEW_STEPS and _course(whites[:1], whites[1:]).shape == "between"


def _drift_words(found: GreyPass) -> str:
    moved = f"White moved by {found.drift:+.1f} % over the pass"
    dims = (
        " A panel that dims under a still picture falls so: set refresh fields at the Bench."
        if found.drift < _DIMMING_PERCENT
        else ""
    )
    if found.drift_taken_out:
        return f"{moved}; readings of white on the way took that out of the levels.{dims}"
    return (
        f"{moved}: the levels between carry up to that error. "
        f"Let the screen warm up and measure again if it matters.{dims}"
    )


def _anchors(route: list[_Point], readings: list[Reading], percent: float, *, end: bool) -> list[Reading]:
    return [
        reading
        for point, reading in zip(route, readings, strict=True)
        if point.purpose is Purpose.ANCHOR
        and point.percent == percent
        and point.end is end
        and not point.on_the_way
    ]


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
