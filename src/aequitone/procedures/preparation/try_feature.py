"""What something that acts by itself does: a small set of patches with it off and on, and off again."""

from dataclasses import dataclass, replace

from aequitone.advice.moves import ControlState
from aequitone.colorimetry import Formula
from aequitone.procedures.grey.grey_pass import GreyPass
from aequitone.procedures.grey.short_grey import short_grey
from aequitone.procedures.policy import target_policy
from aequitone.procedures.steps import Note, Procedure, Progress, Purpose, Turn
from aequitone.procedures.uninterrupted import insist, insist_on_reading
from aequitone.reference import Target
from aequitone.signal import SignalFormat, grey_patch

TRIED_PERCENTS = (100.0, 75.0, 50.0, 25.0, 10.0, 5.0, 0.0)
"""Greys, in %: bright, middle, near black, black."""
WINDOWS = (0.02, 0.5)
"""White in a small and in a large window, as shares of the area."""
READINGS = 2 * (len(TRIED_PERCENTS) + len(WINDOWS))
_ROUGH_DE, _WHITE = 0.1, 100.0
# More than this is seen: of ΔE on average; of light that follows the picture, or white's, as shares.
_WORSE, _FOLLOWS, _LIGHT = 0.5, 0.04, 0.04
# A black of less than so much of the one before is a gain.
_DEEPER = 0.8


@dataclass(frozen=True)
class TryPlan:
    """What is tried, as it stands: off; `on`: where it stands when it is on."""

    target: Target
    format: SignalFormat
    control: ControlState
    on: int
    formula: Formula = Formula.DE2000


@dataclass(frozen=True, eq=False)
class Look:
    """The small set, read once."""

    grey: GreyPass
    small: float
    """White in a small window, cd/m²."""
    large: float

    @property
    def follows(self) -> float:
        """How much less light white has in a large window, as a share."""
        return 1.0 - self.large / self.small if self.small > 0.0 else 0.0


@dataclass(frozen=True, eq=False)
class Tried:
    """Both looks."""

    name: str
    off: Look
    on: Look

    @property
    def light(self) -> float:
        """What it does to white, as a share."""
        return self.on.grey.white / self.off.grey.white - 1.0 if self.off.grey.white > 0.0 else 0.0

    @property
    def costs(self) -> bool:
        """Whether it makes grey worse, or lets light follow the picture."""
        worse = self.on.grey.mean - self.off.grey.mean > _WORSE
        return worse or abs(self.on.follows) - abs(self.off.follows) > _FOLLOWS

    @property
    def deepens(self) -> bool:
        """Whether black is clearly deeper."""
        return self.on.grey.black < _DEEPER * self.off.grey.black

    @property
    def words(self) -> str:
        """What it does, and whether it is a plus by the meter."""
        off, on = self.off, self.on
        told = (
            f"With {self.name} on: white {100.0 * self.light:+.0f} %, {off.grey.formula} of grey from "
            f"{off.grey.mean:.1f} to {on.grey.mean:.1f}, black from {off.grey.black:.3f} to "
            f"{on.grey.black:.3f} cd/m²"
        )
        if abs(on.follows - off.follows) > _FOLLOWS:
            told += (
                f", white in a large window {-100.0 * on.follows:+.0f} % instead of {-100.0 * off.follows:+.0f} %"
            )
        return f"{told}. {self._verdict}"

    @property
    def _verdict(self) -> str:
        if self.costs:
            gain = ", though black is deeper" if self.deepens else ""
            return f"A minus by the meter{gain}; a real scene may say otherwise."
        if self.deepens:
            return "A plus by the meter: black is deeper, and grey stays. Look at a real scene."
        if abs(self.light) > _LIGHT:
            return "It changes the light and leaves grey alone: the client's choice."
        return "By the meter it makes no difference: a real scene decides."


def try_feature(plan: TryPlan) -> Procedure[Tried]:
    """Read the small set with the feature off and on, and leave it off; returns what was Tried."""
    off = yield from _look(plan, 0)
    yield from insist(Turn(plan.control.moved_to(plan.on)))
    on = yield from _look(plan, READINGS // 2)
    yield from insist(Turn(replace(plan.control, value=plan.on).moved_to(plan.control.value)))
    found = Tried(plan.control.name, off, on)
    yield Note(found.words)
    return found


def _look(plan: TryPlan, done: int) -> Procedure[Look]:
    grey = yield from short_grey(plan.target, plan.format, TRIED_PERCENTS, plan.formula, done=done, total=READINGS)
    lights = []
    for window in WINDOWS:
        patch = grey_patch(100.0, replace(plan.format, window=window))
        patch = replace(patch, name=f"{patch.name}, {100.0 * window:g} % window")
        policy = target_policy(plan.target, grey.white, grey.white or _WHITE, _ROUGH_DE)
        reading = yield from insist_on_reading(patch, policy, Purpose.SWEEP)
        lights.append(reading.Y)
        yield Progress(done + len(TRIED_PERCENTS) + len(lights), READINGS)
    return Look(grey, lights[0], lights[1])
