"""Watching a screen warm up on repeated readings of white, until it has really settled."""

from dataclasses import dataclass

import numpy as np

from aequitone.colorimetry.arrays import Array
from aequitone.procedures.policy import ReadPolicy, policy_for
from aequitone.procedures.steps import (
    Note,
    Procedure,
    Progress,
    Purpose,
    Read,
    ReadAgain,
    Reading,
    Show,
    StopHere,
    Wait,
)  # fmt: skip
from aequitone.signal import SignalFormat, grey_patch

_WATCH_DE = 0.03
_LEAST_READINGS = 6


@dataclass(frozen=True)
class WarmUpPlan:
    """How white is watched. Settled: under 0.5 % of change over 5 minutes (practice)."""

    format: SignalFormat
    every_seconds: float = 30.0
    over_seconds: float = 300.0
    settled_percent: float = 0.5
    most_minutes: float = 90.0


@dataclass(frozen=True)
class Warmth:
    """What the watch knows by now."""

    seconds: Array
    """When white was read, from the start, shape (n,)."""
    xyz: Array
    """What was read, cd/m², shape (n, 3)."""
    change_percent: float | None
    """Change of light over the last stretch, by a fitted line; None before there is a whole one."""
    change_sd: float
    settled: bool

    @property
    def words(self) -> str:
        """How warm the screen is, in a sentence."""
        if self.change_percent is None:
            return "White is being watched; five minutes of it are needed before anything can be said."
        moved = f"White changed by {self.change_percent:+.2f} ± {self.change_sd:.2f} % over the last five minutes"
        if self.settled:
            return f"{moved}: settled."
        return f"{moved}: not settled. Under 0.5 % is wanted."


def warm_up(plan: WarmUpPlan) -> Procedure[Warmth]:
    """Read white again and again until it has settled, or the person stops; returns a Warmth."""
    patch = grey_patch(100.0, plan.format)
    readings: list[Reading] = []
    most = int(plan.most_minutes * 60.0 / plan.every_seconds) + 1
    while True:
        try:
            white = readings[-1].Y if readings else 0.0
            policy = policy_for(white, white, _WATCH_DE) if white > 0 else ReadPolicy(0.3)
            yield Show(patch)
            readings.append((yield Read(patch, policy, Purpose.WATCH)))
            warmth = _judged(plan, readings)
            yield Progress(len(readings), most, warmth)
            if warmth.settled or len(readings) >= most:
                yield Note(warmth.words)
                return warmth
            yield Wait(max(0.0, plan.every_seconds - readings[-1].took), "the screen warms up")
        except ReadAgain:
            continue
        except StopHere:
            if readings:
                return _judged(plan, readings)


def _judged(plan: WarmUpPlan, readings: list[Reading]) -> Warmth:
    seconds = np.array([reading.at for reading in readings])
    seconds = seconds - seconds[0]
    xyz = np.array([reading.xyz for reading in readings])
    late = seconds >= seconds[-1] - plan.over_seconds - plan.every_seconds / 2.0
    whole = seconds[-1] >= plan.over_seconds - plan.every_seconds and int(late.sum()) >= _LEAST_READINGS
    if not whole:
        return Warmth(seconds, xyz, None, 0.0, settled=False)
    sd = np.array([reading.sd_Y for reading in readings])[late]
    times, Y = seconds[late] - seconds[late].mean(), xyz[late, 1]
    weight = sd**-2.0
    slope = float((weight * times * (Y - Y.mean())).sum() / (weight * times**2).sum())
    scale = plan.over_seconds / float(Y.mean()) * 100.0
    change, spread = slope * scale, float((weight * times**2).sum() ** -0.5) * scale
    settled = abs(change) < plan.settled_percent and spread < plan.settled_percent / 2.0
    return Warmth(seconds, xyz, change, spread, settled)
