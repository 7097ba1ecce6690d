"""A pass over colours: white and black, the colours with white read again on the way, and white at the end."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from aequitone.advice.colours import missing_light
from aequitone.colorimetry import Formula, delta_e_2000
from aequitone.colorimetry.arrays import Array, ArrayLike
from aequitone.procedures.colour.samples import (
    DIFFUSE_WHITE,
    HDR_LIGHT,
    Length,
    Sample,
    hdr_samples,
    is_primary,
    samples,
    steady_order,
)
from aequitone.procedures.grey.drift import fitted
from aequitone.procedures.grey.grey_pass import apart, mean_reading
from aequitone.procedures.policy import policy_for_colour, seen_black, target_policy
from aequitone.procedures.steps import Note, Procedure, Progress, Purpose, PutBack, Read, Reading, Show
from aequitone.reference import ColourErrors, Target, colour_errors, mean_error, mean_error_sd
from aequitone.signal import Patch, SignalFormat, colour_patch, grey_patch

# What white is taken for before it was read, cd/m².
_UNKNOWN_WHITE, _HDR_WHITE = 100.0, 1_000.0


@dataclass(frozen=True)
class ColourPlan:
    """What a colour pass reads, and what it is compared with."""

    target: Target
    format: SignalFormat
    length: Length = Length.USUAL
    level: float = 75.0
    """The highest signal of primaries and secondaries, in %."""
    anchor_every: int = 8
    """White is read again after so many colours; 0 for only at the start and the end."""
    repeat_anchors: bool = True
    """False for a meter by hand: white and black are typed once at the start."""
    formula: Formula = Formula.DE2000
    """Of the ΔE that leads."""
    light: float = HDR_LIGHT
    """Of primaries and secondaries under PQ, cd/m²."""

    @cached_property
    def samples(self) -> tuple[Sample, ...]:
        """The colours, the six by saturation and then the everyday ones."""
        if self.target.tone.absolute:
            return hdr_samples(self.length, self.target, self.light)
        return samples(self.length, self.level, self.target.container, self.target.gamut)

    @property
    def readings(self) -> int:
        """How many readings it takes when nothing is read again."""
        colours = len(self.samples)
        between = (colours - 1) // self.anchor_every if self.anchor_every else 0
        return colours + between + (4 if self.repeat_anchors else 3)


@dataclass(frozen=True)
class ColourPass:
    """What a pass found; rows in the order of the plan's samples."""

    samples: tuple[Sample, ...]
    xyz: Array
    """(n, 3), cd/m², with the drift of white taken out."""
    sd: Array
    errors: ColourErrors
    white: Array
    """XYZ of 100 % grey at the start, cd/m², (3,)."""
    white_sd: Array
    black: float
    """Luminance of 0 %, cd/m²; 0 where the meter cannot tell it from nothing."""
    drift: float
    """White at the end against the start, in %."""
    formula: Formula = Formula.DE2000
    """Of the ΔE that leads."""

    def rows(self, *, everyday: bool) -> list[int]:
        """Which rows are everyday colours, or are not."""
        return [row for row, sample in enumerate(self.samples) if sample.is_everyday is everyday]

    def mean(self, *, everyday: bool) -> tuple[float, float]:
        """Average ΔE of the everyday colours, or of the others, noise taken out, and its spread.

        What lies beyond the screen is left out.
        """
        rows = self.rows(everyday=everyday)
        off, spread, noise = self.errors.by(self.formula)
        return mean_error(off[rows], noise[rows]), mean_error_sd(spread[rows])

    @property
    def missing_light(self) -> float:
        """The share of light that the full primaries miss together, where white is boosted; 0 elsewhere."""
        rows = [row for row, sample in enumerate(self.samples) if is_primary(sample)]
        return missing_light(self.xyz[rows, 1], self.errors.target[rows, 1]) if len(rows) == 3 else 0.0

    def mean_cast(self, *, everyday: bool, white: ArrayLike) -> float:
        """Average ΔE 2000 without light of the everyday colours, or of the others, against XYZ of a white."""
        rows = self.rows(everyday=everyday)
        return float(delta_e_2000(self.xyz[rows], self.errors.target[rows], white, light=False).mean())

    def worst(self, *, everyday: bool) -> int:
        """The row of the worst of them."""
        off = np.nan_to_num(self.errors.by(self.formula)[0])
        return max(self.rows(everyday=everyday), key=lambda row: float(off[row]))


@dataclass(frozen=True, eq=False)
class ColoursSoFar:
    """A pass on its way; what it has found by now is worked out when it is looked at."""

    plan: ColourPlan
    readings: tuple[Reading, ...]

    @cached_property
    def found(self) -> ColourPass | None:
        """What the readings say so far, without the spread of errors; None while no colour is among them."""
        return understood(self.plan, self.readings, spread=False)


def colour_pass(plan: ColourPlan) -> Procedure[ColourPass]:
    """Read the plan's colours; returns a ColourPass.

    Understands PutBack: the last reading is taken once more, and the one before is kept but not used.
    """
    route, unknown = _route(plan), _HDR_WHITE if plan.target.tone.absolute else _UNKNOWN_WHITE
    readings: list[Reading] = []
    while len(readings) < len(route):
        patch, purpose = route[len(readings)]
        white = readings[0].Y if readings and readings[0].Y > 0 else unknown
        wanted = plan.target.colour(np.array([patch.signal]), white)[0]
        # In HDR the eye goes by diffuse white, however bright the screen's own is.
        beside = min(white, DIFFUSE_WHITE) if plan.target.tone.absolute else white
        policy = (
            target_policy(plan.target, float(wanted[1]), white)
            if patch.is_grey
            else policy_for_colour(wanted, plan.target.white.xyz() * beside)
        )
        try:
            yield Show(patch)
            readings.append((yield Read(patch, policy, purpose)))
            yield Progress(len(readings), len(route), ColoursSoFar(plan, tuple(readings)))
        except PutBack:
            if readings:
                again = readings.pop()
                yield Note(f"{again.patch.name} is read again; the reading before is kept, but not used.")
    found = understood(plan, readings)
    if found is None:
        raise ValueError("a colour pass without a colour")
    if apart(readings[0], readings[-1]):
        yield Note(f"White moved by {found.drift:+.1f} % over the pass; readings of white on the way took it out.")
    return found


def understood(plan: ColourPlan, readings: Sequence[Reading], *, spread: bool = True) -> ColourPass | None:
    """What the readings say so far; None while no colour is among them.

    White is believed where it was read; between, its course is taken out of the colours. `spread`: whether the
    spread of every error is worked out, which takes most of the time.
    """
    anchors = [reading for reading in readings if reading.purpose is Purpose.ANCHOR]
    whites = [reading for reading in anchors if reading.patch.is_white]
    blacks = [reading for reading in anchors if reading.patch.percent == 0.0]
    by_name = {reading.patch.name: reading for reading in readings if reading.purpose is Purpose.LEVEL}
    told = [sample for sample in plan.samples if sample.name in by_name]
    if not whites or not blacks or not told:
        return None
    first = whites[: 2 if plan.repeat_anchors else 1]
    white, white_sd = mean_reading(first)
    black, black_sd = mean_reading(blacks)
    colours = [by_name[sample.name] for sample in told]
    xyz, sd = np.array([each.xyz for each in colours]), np.array([each.sd for each in colours])
    times = np.array([each.at for each in whites])
    if len(whites) > len(first) and np.all(np.diff(times) > 0):
        course = fitted(times, np.array([each.xyz for each in whites]), np.array([each.sd for each in whites]))
        xyz = xyz / course.at(np.array([each.at for each in colours]))
    seen = seen_black(float(black[1]), float(black_sd[1]))
    signal = np.array([each.patch.signal for each in colours])
    errors = colour_errors(signal, xyz, plan.target, white=float(white[1]), black=seen, sd=sd if spread else None)
    drift = (whites[-1].Y / float(white[1]) - 1.0) * 100.0 if white[1] > 0 else 0.0
    return ColourPass(tuple(told), xyz, sd, errors, white, white_sd, seen, drift, plan.formula)


def _route(plan: ColourPlan) -> list[tuple[Patch, Purpose]]:
    told = plan.samples
    patches = [colour_patch(sample.name, sample.signal, plan.format) for sample in told]
    white_light = _HDR_WHITE if plan.target.tone.absolute else _UNKNOWN_WHITE
    lights = plan.target.colour(np.array([patch.signal for patch in patches]), white_light)[:, 1]
    white, black = ((grey_patch(percent, plan.format), Purpose.ANCHOR) for percent in (100.0, 0.0))
    levels: list[tuple[Patch, Purpose]] = []
    order = steady_order(tuple(float(light) for light in lights))
    for i, row in enumerate(order, 1):
        levels.append((patches[row], Purpose.LEVEL))
        if plan.anchor_every and i % plan.anchor_every == 0 and i < len(order):
            levels.append(white)
    return [*[white] * (2 if plan.repeat_anchors else 1), black, *levels, white]
