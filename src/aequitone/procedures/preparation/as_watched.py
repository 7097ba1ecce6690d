"""The picture as it has been watched: a minute of grey, primaries and everyday colours, nothing being turned."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from aequitone.colorimetry import Formula
from aequitone.procedures.colour.colour_pass import ColourPass
from aequitone.procedures.colour.samples import DIFFUSE_WHITE, Length, Sample, hdr_samples, is_primary, samples
from aequitone.procedures.grey.grey_pass import GreyPass
from aequitone.procedures.policy import policy_for_colour, seen_black, target_policy
from aequitone.procedures.steps import Note, Procedure, Progress, Purpose, Reading
from aequitone.procedures.uninterrupted import insist_on_reading
from aequitone.reference import Target, colour_errors, grey_errors
from aequitone.signal import SignalFormat, colour_patch, grey_patch

WATCHED_PERCENTS = (100.0, 90.0, 75.0, 60.0, 45.0, 30.0, 20.0, 10.0, 5.0, 0.0)
"""Greys that are read, in % of the signal: enough to draw a picture through."""
# Everyday colours that are read, in the order of a short pass: three skins, a leaf, a sky, sand.
_EVERYDAY = 6
# What white is taken for before it was read, cd/m²; a before is told in tenths of ΔE, not in hundredths.
_WHITE, _HDR_WHITE, _ROUGH_DE = 100.0, 1_000.0, 0.15
_STEADY = 0.02


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
    target, white = plan.target, _HDR_WHITE if plan.target.tone.absolute else _WHITE
    greys: list[Reading] = []
    for percent in WATCHED_PERCENTS:
        policy = target_policy(target, float(target.grey(percent, white)[1]), white, _ROUGH_DE)
        greys.append((yield from insist_on_reading(grey_patch(percent, plan.format), policy, Purpose.LEVEL)))
        white = greys[0].Y or white
        yield Progress(len(greys), plan.readings)
    beside = target.white.xyz() * (min(white, DIFFUSE_WHITE) if target.tone.absolute else white)
    colours: list[Reading] = []
    for sample in plan.samples:
        patch = colour_patch(sample.name, sample.signal, plan.format)
        wanted = target.colour(np.array([patch.signal]), white)[0]
        policy = policy_for_colour(wanted, beside)
        colours.append((yield from insist_on_reading(patch, policy, Purpose.LEVEL)))
        yield Progress(len(greys) + len(colours), plan.readings)
    last = yield from insist_on_reading(greys[0].patch, target_policy(target, white, white), Purpose.ANCHOR)
    yield Progress(plan.readings, plan.readings)
    found = _understood(plan, greys, colours, last)
    if not found.steady:
        yield Note(
            f"White moved by {found.grey.drift:+.0f} % meanwhile, with nothing turned: the screen warms up, or "
            "something automatic is on. It is kept as it was read."
        )
    return found


def _understood(plan: WatchedPlan, greys: list[Reading], colours: list[Reading], last: Reading) -> Watched:
    """What the readings say."""
    xyz, sd = np.array([each.xyz for each in greys]), np.array([each.sd for each in greys])
    white, black = float(xyz[0, 1]), seen_black(float(xyz[-1, 1]), float(sd[-1, 1]))
    drift = (last.Y / white - 1.0) * 100.0 if white > 0.0 else 0.0
    grey_off = grey_errors(WATCHED_PERCENTS, xyz, plan.target, white=white, black=black, sd=sd)
    grey = GreyPass(WATCHED_PERCENTS, xyz, sd, grey_off, drift, formula=plan.formula)
    colour_xyz, colour_sd = np.array([each.xyz for each in colours]), np.array([each.sd for each in colours])
    signal = np.array([each.patch.signal for each in colours])
    off = colour_errors(signal, colour_xyz, plan.target, white=white, black=black, sd=colour_sd)
    told = ColourPass(plan.samples, colour_xyz, colour_sd, off, xyz[0], sd[0], black, drift, plan.formula)
    return Watched(grey, told, steady=abs(drift) <= 100.0 * _STEADY)
