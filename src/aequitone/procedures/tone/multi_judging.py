"""What came of a trip or of a round of multi-point, and whether it is kept: pure functions."""

from dataclasses import dataclass, field

import numpy as np

from aequitone.advice.points import Grid, PointPlanner, Tracked
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.tone.multi_plan import PointTrip

# ΔE 2000 by which a level may come out worse before it is put back at once: so much, or so many of its spreads.
_WORSE, _TWO_SPREADS = 0.3, 2.0
# A channel that moves by less than this share of what is usual has not answered, where so many spreads would tell.
_HARDLY, _SURE_SPREADS = 0.15, 5.0
# A ladder whose mean is below this once noise is taken out, and none of whose levels would be seen, is left alone.
_HARDLY_OFF, _SEEN = 0.2, 0.8
# A ladder is judged by its mean and, by this share, by its worst level: half of one is a tenth of the other.
_WORST = 0.2
# ΔE 2000 by which the worst level may be worse in a ladder that is better on the whole.
_NO_LEVEL, _NOT_ON_AVERAGE = 0.3, 0.02


@dataclass(frozen=True)
class BestLadder:
    """A ladder that was read as a whole after its last move, and the controls as they stood."""

    score: float
    """Mean ΔE 2000, and a share of the worst."""
    sd: float
    """Of the mean."""
    mean: float
    """ΔE 2000 as read, noise and all."""
    worst: float
    grid: Grid
    worst_sd: float = 0.0
    """Of the worst level."""
    xyz: Array | None = field(default=None, compare=False)
    """What was read, and what was near black, (L, 3)."""

    @classmethod
    def of(cls, planner: PointPlanner, tracked: Tracked, grid: Grid) -> "BestLadder":
        """The ladder as it was read last."""
        de = _ladder(planner.delta(tracked, tracked.xyz), tracked)
        spreads = planner.spreads(tracked)[: len(de)]
        worst, sd = float(de.max()), float(np.sqrt((spreads**2).sum())) / len(de)
        at = float(spreads[int(de.argmax())])
        return cls(float(de.mean()) + _WORST * worst, sd, float(de.mean()), worst, grid, at, tracked.xyz)

    def is_better(self, other: "BestLadder", margin: float) -> bool:
        """Whether this ladder is better than another by so much, and nothing of it the price."""
        return self.score < other.score - margin and not self.is_worse(other)

    def is_worse(self, other: "BestLadder") -> bool:
        """Whether this ladder is worse than another on average, or at its worst level."""
        # A dark level can be off by its noise alone.
        doubt = float(np.hypot(self.worst_sd, other.worst_sd))
        return self.mean > other.mean + _NOT_ON_AVERAGE or self.worst > other.worst + _NO_LEVEL + doubt


def is_noise(planner: PointPlanner, tracked: Tracked) -> bool:
    """Whether the ladder is right but for what the meter's noise makes of it: then it is better left alone."""
    seen = _ladder(planner.delta(tracked, tracked.xyz), tracked)
    real = np.sqrt(np.maximum(seen**2 - _ladder(planner.noise(tracked), tracked) ** 2, 0.0))
    return float(real.mean()) < _HARDLY_OFF and float(real.max()) < _SEEN


def is_silent(usual: Array, change: Array, variance: Array) -> bool:
    """Whether a level that was turned far enough to be seen has hardly moved.

    `usual` and `change`: log light (3,) that was to come on such a screen, and that came, with its variance.
    """
    turned = np.abs(usual) > _SURE_SPREADS * np.sqrt(variance)
    return bool(turned.any() and (np.abs(change) < _HARDLY * np.abs(usual))[turned].all())


def came_out_worse(trip: PointTrip, unit: float = 1.0) -> bool:
    """Whether a trip left its level worse by more than its reading can be off; `unit`: of its ΔE (`Formula`)."""
    return trip.after - trip.before > max(_WORSE * unit, _TWO_SPREADS * trip.sd)


def _ladder(rows: Array, tracked: Tracked) -> Array:
    """The rows (L,) of the ladder, without those that were read near black."""
    return rows[: len(rows) - tracked.foot]
