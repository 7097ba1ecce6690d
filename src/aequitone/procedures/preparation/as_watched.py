"""The picture as it has been watched: a minute of grey, primaries and everyday colours, nothing being turned."""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from aequitone.colorimetry import Formula
from aequitone.procedures.colour.colour_pass import ColourPass
from aequitone.procedures.colour.samples import DIFFUSE_WHITE, Length, Sample, hdr_samples, is_primary, samples
from aequitone.procedures.grey.grey_pass import GreyPass
from aequitone.procedures.grey.short_grey import short_grey
from aequitone.procedures.policy import policy_for_colour, target_policy
from aequitone.procedures.steps import Note, Procedure, Progress, Purpose, Reading
from aequitone.procedures.uninterrupted import insist_on_reading
from aequitone.reference import Target, colour_errors
from aequitone.signal import SignalFormat, colour_patch, grey_patch

WATCHED_PERCENTS = (100.0, 90.0, 75.0, 60.0, 45.0, 30.0, 20.0, 10.0, 5.0, 0.0)
"""Greys that are read, in % of the signal: enough to draw a picture through."""
# Everyday colours that are read, in the order of a short pass: three skins, a leaf, a sky, sand.
_EVERYDAY = 6
# What white is taken for where it gives no light, cd/m²; and the share by which it may move meanwhile.
_WHITE, _STEADY = 100.0, 0.02


@dataclass(frozen=True)
class WatchedPlan:
    """What is read, and what it is compared with."""

    target: Target
    format: SignalFormat
    level: float = 75.0
    """The signal of the primaries, in %."""
    formula: Formula = Formula.DE2000

    @cached_property
    def samples(self) -> tuple[Sample, ...]:
        """The three primaries, and a few everyday colours."""
        if self.target.tone.absolute:
            told = hdr_samples(Length.SHORT, self.target)
        else:
            told = samples(Length.SHORT, self.level, self.target.container, self.target.gamut)
        everyday = [sample for sample in told if sample.is_everyday]
        return (*(sample for sample in told if is_primary(sample)), *everyday[:_EVERYDAY])

    @property
    def readings(self) -> int:
        """How many readings it takes: white once more at the end."""
        return len(WATCHED_PERCENTS) + len(self.samples) + 1


@dataclass(frozen=True, eq=False)
class Watched:
    """The picture as it was watched: greys from 100 % down, and colours."""

    grey: GreyPass
    colours: ColourPass
    steady: bool = True
    """Whether white was the same at the end."""


def as_watched(plan: WatchedPlan) -> Procedure[Watched]:
    """Read the plan's greys and colours, turning nothing; returns what was Watched."""
    target, format_, total = plan.target, plan.format, plan.readings
    grey = yield from short_grey(target, format_, WATCHED_PERCENTS, plan.formula, total=total)
    white = grey.white or _WHITE
    beside = target.white.xyz() * (min(white, DIFFUSE_WHITE) if target.tone.absolute else white)
    colours: list[Reading] = []
    for sample in plan.samples:
        patch = colour_patch(sample.name, sample.signal, format_)
        policy = policy_for_colour(target.colour(np.array([patch.signal]), white)[0], beside)
        colours.append((yield from insist_on_reading(patch, policy, Purpose.SWEEP)))
        yield Progress(len(WATCHED_PERCENTS) + len(colours), total)
    last = yield from insist_on_reading(
        grey_patch(100.0, format_), target_policy(target, white, white), Purpose.SWEEP
    )
    yield Progress(total, total)
    drift = 100.0 * (last.Y / white - 1.0)
    found = Watched(
        replace(grey, drift=drift), _colours(plan, grey, colours), steady=abs(drift) <= 100.0 * _STEADY
    )
    if not found.steady:
        yield Note(
            f"White moved by {drift:+.0f} % meanwhile, with nothing turned: the screen warms up, or something "
            "automatic is on. It is kept as it was read."
        )
    return found


def _colours(plan: WatchedPlan, grey: GreyPass, colours: list[Reading]) -> ColourPass:
    """What the colours say beside the greys."""
    xyz, sd = np.array([each.xyz for each in colours]), np.array([each.sd for each in colours])
    signal = np.array([each.patch.signal for each in colours])
    off = colour_errors(signal, xyz, plan.target, white=grey.white, black=grey.black, sd=sd)
    return ColourPass(plan.samples, xyz, sd, off, grey.xyz[0], grey.sd[0], grey.black, grey.drift, plan.formula)
