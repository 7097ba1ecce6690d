"""A look at another input, through its own device: is it what the finished job is?"""

from dataclasses import dataclass, field, replace

import numpy as np

from aequitone.advice.last_look import Moved
from aequitone.advice.same_input import input_differences
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.policy import policy_for_colour, target_policy
from aequitone.procedures.steps import Note, Procedure, Progress, Purpose
from aequitone.procedures.uninterrupted import insist_on_reading
from aequitone.reference import Target
from aequitone.signal import Patch, SignalFormat, colour_patch, grey_patch

# How exactly greys are read: enough to tell what a few steps of a gain do, and of a bias in the dark.
_WANTED_DE, _DARK_DE, _DARK = 0.05, 0.025, 35.0
_MOST_SECONDS = 6.0


@dataclass(frozen=True, eq=False)
class VerifyPlan:
    """What to read, and what the finished job has given."""

    target: Target
    format: SignalFormat
    place: str
    """Input and device, in words."""
    job: str
    """Memory and input of the finished job, in words."""
    percents: tuple[float, ...]
    """Greys, from 100 % down."""
    xyz: Array
    """Of those, (n, 3), cd/m²."""
    sd: Array
    names: tuple[str, ...]
    """Colours."""
    signals: tuple[tuple[float, float, float], ...]
    """Of those, in %."""
    colour_xyz: Array
    colour_sd: Array
    levels: tuple[float, ...]
    """The proof's whole ladder, rising, in %."""
    light: tuple[float, ...]
    """Its light, cd/m²."""

    @property
    def patches(self) -> tuple[Patch, ...]:
        """In the order they are read."""
        greys = tuple(grey_patch(percent, self.format) for percent in self.percents)
        colours = zip(self.names, self.signals, strict=True)
        return (*greys, *(colour_patch(name, signal, self.format) for name, signal in colours))


@dataclass(frozen=True, eq=False)
class Verified:
    """What was read of an input, XYZ in cd/m², greys and then colours, and what differs."""

    place: str
    job: str
    now: Array
    differences: tuple[Moved, ...] = field(default=())

    @property
    def same(self) -> bool:
        """Whether it is as the finished job is."""
        return not self.differences

    @property
    def words(self) -> str:
        """What there is to say of it."""
        if self.same:
            return f"{self.place}: the same as {self.job}."
        told = " ".join(f"{each.what} Look at {each.likely}." for each in self.differences)
        return f"{self.place}: not the same as {self.job}. {told}"


def verify(plan: VerifyPlan) -> Procedure[Verified]:
    """Read the greys and colours of the plan; returns a Verified."""
    white, greys = float(plan.xyz[0, 1]), len(plan.percents)
    then, spread = np.concatenate([plan.xyz, plan.colour_xyz]), np.concatenate([plan.sd, plan.colour_sd])
    seen, sd = [], []
    for row, patch in enumerate(plan.patches):
        if row < greys:
            wanted_de = _WANTED_DE if patch.percent > _DARK else _DARK_DE
            policy = target_policy(plan.target, float(then[row, 1]), white, wanted_de)
        else:
            policy = policy_for_colour(then[row], plan.xyz[0])
        # A look is a look: what it cannot tell within seconds it does not wait for.
        policy = replace(policy, most_seconds=_MOST_SECONDS)
        reading = yield from insist_on_reading(patch, policy, Purpose.SWEEP)
        seen.append(reading.xyz)
        sd.append(reading.sd)
        yield Progress(len(seen), len(plan.patches))
    now, doubt = np.array(seen), np.hypot(np.array(sd), spread)
    told = input_differences(
        np.array(plan.percents),
        then[:greys],
        now[:greys],
        doubt[:greys],
        (then[greys:], now[greys:], doubt[greys:]),
        (np.array(plan.levels), np.array(plan.light)),
    )
    found = Verified(plan.place, plan.job, now, told)
    yield Note(found.words)
    return found
