"""A last look at a memory that is done: is it still as it was left?"""

from dataclasses import dataclass, field

import numpy as np

from aequitone.advice.last_look import Moved, moved
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.policy import target_policy
from aequitone.procedures.steps import Note, Procedure, Progress, Purpose
from aequitone.procedures.uninterrupted import insist_on_reading
from aequitone.reference import Target
from aequitone.signal import SignalFormat, grey_patch

# How exactly the greys are read: enough to tell what a few steps of a gain do, and of a bias in the dark.
_WANTED_DE, _DARK_DE, _DARK = 0.05, 0.02, 35.0


@dataclass(frozen=True, eq=False)
class LastLookPlan:
    """What to read, and what its proof has read."""

    target: Target
    format: SignalFormat
    percents: tuple[float, ...]
    """From 100 % down."""
    xyz: Array
    """(n, 3), cd/m²."""
    sd: Array


@dataclass(frozen=True, eq=False)
class LastLook:
    """Greys as they were left and as they are, XYZ in cd/m², and what has moved."""

    percents: tuple[float, ...]
    then: Array
    now: Array
    moved: tuple[Moved, ...] = field(default=())

    @property
    def words(self) -> str:
        """What there is to say of it."""
        if not self.moved:
            return "Looked at once more: it is as it was left."
        told = " ".join(f"{each.what} Look at {each.likely}." for each in self.moved)
        return f"It is not as it was left. {told}"


def last_look(plan: LastLookPlan) -> Procedure[LastLook]:
    """Read the greys of the plan once more; returns a LastLook."""
    seen, spread = [], []
    white = float(plan.xyz[0, 1])
    for percent, then in zip(plan.percents, plan.xyz, strict=True):
        policy = target_policy(plan.target, float(then[1]), white, _WANTED_DE if percent > _DARK else _DARK_DE)
        reading = yield from insist_on_reading(grey_patch(percent, plan.format), policy, Purpose.SWEEP)
        seen.append(reading.xyz)
        spread.append(reading.sd)
        yield Progress(len(seen), len(plan.percents))
    now, sd = np.array(seen), np.hypot(np.array(spread), plan.sd)
    found = LastLook(plan.percents, plan.xyz, now, moved(np.array(plan.percents), plan.xyz, now, sd))
    yield Note(found.words)
    return found
