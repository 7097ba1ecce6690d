"""Which level of a multi-point adjustment to turn next, and how far; or all of them at once.

Pure. A person turns one level at a time: the brightest that is worth a trip, rounded to whole steps, the others
giving way (`problem`). A link turns all of them in one trip.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from aequitone.advice.moves import Expectation, Move, trip_between
from aequitone.advice.points.effect import PointEffect
from aequitone.advice.points.goal import PointGoal, Tracked, log_variance
from aequitone.advice.points.grid import Grid
from aequitone.advice.points.problem import Problem
from aequitone.advice.points.ramp import smoothed
from aequitone.advice.two_point.level_readings import WANDER, log_light
from aequitone.colorimetry import REC709
from aequitone.colorimetry.arrays import Array

# ΔE 2000 at which a level may be left for the good of its neighbours.
_UNSEEN = 0.6
_MOST_SPREAD = 1.0
_DRAWS = np.random.default_rng(33).standard_normal((160, 3))
# In a trip with others a level costs little; what it must take off all the same, in ΔE.
_LEAST_OF_A_LEVEL = 0.05
_WHOLE = 80


@lru_cache(maxsize=8)
def _whole_draws(figures: int, levels: int) -> tuple[Array, Array, Array]:
    """Standard normal draws of what is not known of a screen (draws, figures), and of two looks (draws, L, 3)."""
    draws = np.random.default_rng(35)
    return (draws.standard_normal((_WHOLE, figures)), *draws.standard_normal((2, _WHOLE, levels, 3)))


@dataclass(frozen=True)
class PointPlanner(PointGoal):
    """Proposes moves towards a goal."""

    def propose(
        self, tracked: Tracked, effect: PointEffect, grid: Grid, open_levels: Sequence[int]
    ) -> tuple[int, Move] | None:
        """The brightest of the open levels (rows of the grid) that is worth turning, and the move; or None."""
        here = self.now(tracked, effect, grid.offsets)
        problem = Problem(self, tracked, effect, grid, here)
        remaining = list(open_levels)
        while remaining:
            level, *remaining = remaining
            steps = problem.rounded(level, [level, *remaining])
            if not steps.any():
                continue
            move = self._move(tracked, effect, grid, here, level, steps)
            # What does its neighbours good may leave its own level where nobody sees a difference, but no worse.
            told = move.expected
            if told is None or told.de2000_after <= max(told.de2000_before, _UNSEEN):
                return level, move
        return None

    def propose_together(
        self, tracked: Tracked, effect: PointEffect, grid: Grid, levels: Sequence[int]
    ) -> Move | None:
        """The trip that brings all of the levels (rows of the grid) at once, or None where it does not pay.

        What is expected of it is of the mean ΔE of the ladder, as it will be read.
        """
        here = self.now(tracked, effect, grid.offsets)
        each = replace(self, least_gain=min(self.least_gain, _LEAST_OF_A_LEVEL))
        steps = Problem(each, tracked, effect, grid, here).together(list(levels))
        # A level is planned counting on the others, and not all of them then move.
        to = smoothed(effect, grid.stood_at(grid.offsets + steps), grid)
        changes, by = trip_between(grid.controls, to.controls).changes, to.offsets - grid.offsets
        if not changes:
            return None
        # What a screen that is not known yet teaches is worth a trip; what is foretold to be worse is not.
        known, likely = (self.gain(tracked, effect, here, by, doubt=doubt) for doubt in (0.0, 1.0))
        if known <= self.least_gain or likely <= 0.0:
            return None
        return Move(changes, self.foretold(tracked, effect, here, by))

    def gain(self, tracked: Tracked, effect: PointEffect, here: Array, by: Array, doubt: float = 1.0) -> float:
        """What `by` (P, 3) steps take off the true ΔE 2000 of the ladder, all levels together, on average.

        `doubt`: how many of its spreads of what is not known of the screen are taken into account.
        """
        truths, change, _ = self._drawn(tracked, effect, here, by)
        change = change.mean(axis=0) + doubt * (change - change.mean(axis=0))
        before, after = (self.de2000(tracked, REC709.xyz(np.exp(light))) for light in (truths, truths + change))
        return float((before - after)[:, : len(here) - tracked.foot].sum(axis=1).mean())

    def foretold(self, tracked: Tracked, effect: PointEffect, here: Array, by: Array) -> Expectation:
        """What the mean ΔE 2000 of the ladder is likely to read after `by` (P, 3) steps, and its spread."""
        ladder = slice(0, len(here) - tracked.foot)
        truths, change, noise = self._drawn(tracked, effect, here, by)
        after = self.de2000(tracked, REC709.xyz(np.exp(truths + change + noise)))[:, ladder].mean(axis=1)
        low, middle, high = np.percentile(after, (16.0, 50.0, 84.0))
        before = self._mean(tracked, here)
        white = float(np.exp(change[:, 0].mean(axis=0) @ REC709.xyz_matrix[1]) - 1.0) * 100.0
        return Expectation(before, float(middle), float(high - low) / 2.0, white)

    def _drawn(self, tracked: Tracked, effect: PointEffect, here: Array, by: Array) -> tuple[Array, Array, Array]:
        """Draws (draws, L, 3) of log light as it may be, of what `by` steps do to it, and of a reading's noise."""
        figures, first, second = _whole_draws(len(effect.mean), len(here))
        variance = log_variance(here, tracked.sd)
        spread = np.minimum(np.sqrt(variance), _MOST_SPREAD)
        light = log_light(here).reshape(-1, 3)
        return light + spread * first, effect.draws(tracked.percents / 100.0, by, figures), spread * second

    def promise(
        self, tracked: Tracked, effect: PointEffect, grid: Grid, open_levels: Sequence[int]
    ) -> tuple[float, int]:
        """What the average ΔE 2000 should come to once the screen is known, and how many levels must be turned."""
        here = self.now(tracked, effect, grid.offsets)
        known = replace(effect, doubt=np.zeros_like(effect.doubt))
        each = replace(self, least_gain=min(self.least_gain, _LEAST_OF_A_LEVEL))
        steps = Problem(each, tracked, known, grid, here).together(list(open_levels))
        to = smoothed(known, grid.stood_at(grid.offsets + steps), grid)
        by = to.offsets - grid.offsets
        after = self.foretold(tracked, known, here, by).de2000_after if by.any() else self._mean(tracked, here)
        return after, int(by.any(axis=1).sum())

    def _mean(self, tracked: Tracked, xyz: Array) -> float:
        """Mean ΔE 2000 of the ladder for XYZ (L, 3)."""
        return float(self.de2000(tracked, xyz)[: len(xyz) - tracked.foot].mean())

    def _move(
        self, tracked: Tracked, effect: PointEffect, grid: Grid, here: Array, level: int, steps: Array
    ) -> Move:
        row = tracked.row(grid.percents[level])
        before = float(self.de2000(tracked, here)[row])
        change = effect.own[level] * effect.channels * steps
        noise = 2.0 * log_variance(tracked.xyz[row], tracked.sd[row]) + WANDER**2
        light = log_light(here).reshape(-1, 3)
        # Where there is hardly any light a logarithm knows no bounds, and nobody asks for them.
        spread = np.minimum(np.sqrt(effect.variance(level, steps) + noise), _MOST_SPREAD)
        drawn = REC709.xyz(np.exp(light[row] + change + _DRAWS * spread))
        low, after, high = np.percentile(
            self.de2000_at(tracked, drawn, row, float(here[0, 1])), (16.0, 50.0, 84.0)
        )
        expected = REC709.xyz(np.exp(light[row] + change))
        told = Expectation(
            before, float(after), float(high - low) / 2.0, float(expected[1] / here[row, 1] - 1.0) * 100.0
        )
        return Move(grid.changes(level, steps), told)
