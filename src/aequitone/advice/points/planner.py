"""Which level of a multi-point adjustment to turn next, and how far; or all of them at once.

Pure. A person turns one level at a time: the brightest that is worth a trip, rounded to whole steps, the others
giving way (`problem`). A link turns all of them in one trip.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from aequitone.advice.moves import Expectation, Move, trip_between
from aequitone.advice.points.belief import Belief
from aequitone.advice.points.effect import PointEffect
from aequitone.advice.points.goal import DRAWS, PointGoal, Tracked, log_variance
from aequitone.advice.points.grid import Grid
from aequitone.advice.points.problem import Problem
from aequitone.advice.points.ramp import smoothed
from aequitone.advice.two_point.level_readings import WANDER, log_light
from aequitone.colorimetry import Formula, Gamut
from aequitone.colorimetry.arrays import Array

# ΔE 2000 at which a level may be left for the good of its neighbours.
_UNSEEN = 0.6
_MOST_SPREAD = 1.0
# In a trip with others a level costs little; what it must take off all the same, in ΔE.
_LEAST_OF_A_LEVEL = 0.05
_WHOLE = 80
# What a person is asked to turn a level by in one trip, as a share of its range.
_MOST_OF_RANGE = 0.06
# ΔE of the average that all levels share, which no number of them takes out of what is foretold.
_SHARED = 0.05


@lru_cache(maxsize=8)
def _whole_draws(figures: int, levels: int) -> tuple[Array, Array, Array]:
    """Standard normal draws of what is not known of a screen (draws, figures), and of two looks (draws, L, 3)."""
    draws = np.random.default_rng(35)
    return (draws.standard_normal((_WHOLE, figures)), *draws.standard_normal((2, _WHOLE, levels, 3)))


@dataclass(frozen=True)
class _Drawn:
    """Draws, each (draws, L, 3): log light as it may be, what a trip does to it, and the noise of a reading."""

    light: Array
    change: Array
    noise: Array
    gamut: Gamut

    @classmethod
    def of(cls, tracked: Tracked, effect: PointEffect, belief: Belief, by: Array) -> "_Drawn":
        """Draw for a ladder as it is believed, and `by` (P, 3) steps."""
        figures, first, second = _whole_draws(len(effect.mean), len(belief.light))
        light = belief.light + (first.reshape(len(first), -1) @ belief.root.T).reshape(first.shape)
        noise = np.einsum("lij,nlj->nli", belief.noise, second)
        return cls(light, effect.draws(tracked.percents / 100.0, by, figures), noise, belief.gamut)

    @property
    def known(self) -> "_Drawn":
        """The same, if the screen did what is believed of it."""
        return replace(self, change=np.broadcast_to(self.change.mean(axis=0), self.change.shape))

    def xyz(self, light: Array) -> Array:
        """XYZ of log light."""
        return self.gamut.xyz(np.exp(light))


@dataclass(frozen=True)
class TripLimit:
    """What a person can turn in one trip to the menu without losing their place."""

    levels: int
    controls: int


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
            if told is None or told.de2000_after <= max(told.de2000_before, _UNSEEN * self.unit):
                return level, move
        return None

    def propose_together(
        self,
        tracked: Tracked,
        effect: PointEffect,
        grid: Grid,
        levels: Sequence[int],
        most: TripLimit | None = None,
    ) -> Move | None:
        """The trip that brings all of the levels (rows of the grid) at once, or None where it does not pay.

        What is expected of it is of the mean ΔE of the ladder, as it will be read. `most`: no more than so many go
        in this trip, those that gain most.
        """
        here = self.now(tracked, effect, grid.offsets)
        belief = Belief.of(self, tracked, here)
        to = self._planned(tracked, effect, grid, belief.xyz, levels)
        if most is not None:
            to = self._within(most, tracked, effect, grid, belief.xyz, to)
        changes = trip_between(grid.controls, to.controls).changes
        if not changes:
            return None
        drawn = _Drawn.of(tracked, effect, belief, to.offsets - grid.offsets)
        # What a screen that is not known yet teaches is worth a trip; what is foretold to be worse is not.
        least = self.least_gain + self.least_of_a_control * len(changes)
        if self._gain(tracked, drawn.known) <= least or self._gain(tracked, drawn) <= 0.0:
            return None
        told = self._foretold(tracked, here, drawn)
        if told.de2000_after >= told.de2000_before:
            return None
        return Move(changes, told)

    def promise(
        self, tracked: Tracked, effect: PointEffect, grid: Grid, levels: Sequence[int]
    ) -> tuple[float, float, int]:
        """What the average ΔE reads, what it should once the screen is known, and how many levels are turned."""
        here = self.now(tracked, effect, grid.offsets)
        known, belief = replace(effect, doubt=np.zeros_like(effect.doubt)), Belief.of(self, tracked, here)
        by = self._planned(tracked, known, grid, belief.xyz, levels).offsets - grid.offsets
        if not by.any():
            mean = self.unit * self._mean(tracked, here)
            return mean, mean, 0
        told = self._foretold(tracked, here, _Drawn.of(tracked, known, belief, by))
        return told.de2000_before, told.de2000_after, int(by.any(axis=1).sum())

    def _planned(
        self, tracked: Tracked, effect: PointEffect, grid: Grid, here: Array, levels: Sequence[int]
    ) -> Grid:
        """Where all of the levels should stand, with a ramp that stays smooth."""
        each = replace(self, least_gain=min(self.least_gain, _LEAST_OF_A_LEVEL))
        steps = Problem(each, tracked, effect, grid, here).together(list(levels))
        # A level is planned counting on the others, and not all of them then move.
        return smoothed(effect, grid.stood_at(grid.offsets + steps), grid)

    def _within(
        self, most: TripLimit, tracked: Tracked, effect: PointEffect, grid: Grid, here: Array, to: Grid
    ) -> Grid:
        """Of a plan, the levels that bring most by themselves, as many as go in one trip; with a smooth ramp."""
        low, high = grid.limits
        # What is not known of a screen, or was noted wrong, must not send a level across its range.
        reach = np.ceil(_MOST_OF_RANGE * (high - low))
        by = np.clip(to.offsets - grid.offsets, -reach, reach)
        weights, light = effect.weights(tracked.percents / 100.0), log_light(here, self.gamut).reshape(-1, 3)
        ladder = slice(0, len(here) - tracked.foot)

        def gain(level: int) -> float:
            alone = self.gamut.xyz(np.exp(light + weights[:, level, None] * by[level] * effect.channels))
            pressed = self.least_of_a_control * len(grid.changes(level, by[level]))
            return float((self.delta(tracked, here) - self.delta(tracked, alone))[ladder].sum()) - pressed

        gains = {level: gain(level) for level in map(int, np.flatnonzero(by.any(axis=1)))}
        told = sorted((level for level in gains if gains[level] > 0.0), key=lambda level: -gains[level])
        part = grid
        for levels in range(min(most.levels, len(told)), 0, -1):
            part = grid.moved(change for level in told[:levels] for change in grid.changes(level, by[level]))
            # A ramp that the rest would have kept smooth may ask for further levels.
            part = smoothed(effect, part, grid)
            trip = Move(trip_between(grid.controls, part.controls).changes)
            if len(trip.levels) <= most.levels and len(trip.changes) <= most.controls:
                break
        return part

    def _gain(self, tracked: Tracked, drawn: "_Drawn") -> float:
        """What a trip takes off the true ΔE 2000 of the ladder, all levels together, on average."""
        before = self.delta(tracked, drawn.xyz(drawn.light))
        after = self.delta(tracked, drawn.xyz(drawn.light + drawn.change))
        return float((before - after)[:, : before.shape[1] - tracked.foot].sum(axis=1).mean())

    def _foretold(self, tracked: Tracked, here: Array, drawn: "_Drawn") -> Expectation:
        """What the mean ΔE 2000 of the ladder is likely to read after a trip, and its spread.

        Before it counts as it would read once more: what was read may be low by luck.
        """
        after, again = (
            self.delta(tracked, drawn.xyz(light + drawn.noise))[:, : len(here) - tracked.foot].mean(axis=1)
            for light in (drawn.light + drawn.change, drawn.light)
        )
        before = max(self._mean(tracked, here), float(np.median(again)))
        low, middle, high = np.percentile(after, (16.0, 50.0, 84.0))
        white = float(np.exp(drawn.change[:, 0].mean(axis=0) @ self.gamut.xyz_matrix[1]) - 1.0) * 100.0
        sd = float(np.hypot((high - low) / 2.0, _SHARED))
        return _told(self.formula, before, float(middle), sd, white)

    def _mean(self, tracked: Tracked, xyz: Array) -> float:
        """Mean ΔE 2000 of the ladder for XYZ (L, 3)."""
        return float(self.delta(tracked, xyz)[: len(xyz) - tracked.foot].mean())

    def _move(
        self, tracked: Tracked, effect: PointEffect, grid: Grid, here: Array, level: int, steps: Array
    ) -> Move:
        row = tracked.row(grid.percents[level])
        before = float(self.delta(tracked, here)[row])
        change = effect.own[level] * effect.channels * steps
        noise = 2.0 * log_variance(tracked.xyz[row], tracked.sd[row], self.gamut) + WANDER**2
        light = log_light(here, self.gamut).reshape(-1, 3)
        # Where there is hardly any light a logarithm knows no bounds, and nobody asks for them.
        spread = np.minimum(np.sqrt(effect.variance(level, steps) + noise), _MOST_SPREAD)
        drawn = self.gamut.xyz(np.exp(light[row] + change + DRAWS * spread))
        low, after, high = np.percentile(self.delta_at(tracked, drawn, row, float(here[0, 1])), (16.0, 50.0, 84.0))
        expected = self.gamut.xyz(np.exp(light[row] + change))
        light_after = float(expected[1] / here[row, 1] - 1.0) * 100.0
        told = _told(self.formula, before, float(after), float(high - low) / 2.0, light_after)
        return Move(grid.changes(level, steps), told)


def _told(formula: Formula, before: float, after: float, sd: float, light: float) -> Expectation:
    """An expectation in the chosen formula, from ΔE as it is counted here; `light`: the change of light in %."""
    unit = formula.unit
    return Expectation(unit * before, unit * after, unit * sd, light, formula.short)
