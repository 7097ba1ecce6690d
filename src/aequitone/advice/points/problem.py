"""One decision of multi-point: the quadratic form of log light that all levels make together.

All levels that are still open are solved for at once, so that what is turned at one level suits its neighbours. A
ramp must stay smooth: see `ramp.BEND`.
"""

from functools import cached_property

import numpy as np

from aequitone.advice.points.drive import GAMMA
from aequitone.advice.points.effect import PointEffect
from aequitone.advice.points.goal import PointGoal, Tracked
from aequitone.advice.points.grid import Grid
from aequitone.advice.points.metric import missing_light
from aequitone.advice.points.ramp import BEND, CLOSE, bends
from aequitone.advice.two_point.level_readings import log_light
from aequitone.colorimetry.arrays import Array

# A bend of a tenth counts like this much ΔE at one level, squared: noise must not be copied into the ramp.
_BEND_COST = (0.12 / 0.1) ** 2
_WHITE = 100
# What the darkest level may bring black up by: a share of the black there is, and of white's light (0.03 in L*).
_BLACK_SHARE, _BLACK_RISE = 0.05, 3e-5
# The share of the doubt about an effect that a move takes into account.
_CAUTION = 0.3
_TINY = 1e-9
_ROUNDINGS = np.array(np.meshgrid(*[np.arange(-1.0, 3.0)] * 3)).reshape(3, -1).T


class Problem:
    """The levels as they are to be expected now, and what changing each would cost and bring."""

    def __init__(self, goal: PointGoal, tracked: Tracked, effect: PointEffect, grid: Grid, here: Array) -> None:
        self._goal, self._effect, self._grid, self._tracked = goal, effect, grid, tracked
        self._here = here
        self._offsets = grid.offsets
        self._white = max(float(here[0, 1]), 1e-6)
        self._weights = effect.weights(tracked.percents / 100.0)
        self._bends = bends(effect, grid)
        self._errors, self._metrics = missing_light(goal, tracked, here)
        self._hessian, self._slope = self._form(), self._sloping()
        self._lowest, self._highest = self._limits()
        self._most = self._wished()
        self._before = goal.delta(tracked, here)

    def _form(self) -> Array:
        """Hessian (P, 3, P, 3) of the cost."""
        W, M = self._weights, self._metrics
        # What is not known of a step should not be counted on, wherever it is felt.
        share = np.diag(self._effect.covariance) / np.maximum(self._effect.own, _TINY) ** 2
        doubt = _CAUTION * share[:, None] * (W.T**2 @ np.diagonal(M, axis1=1, axis2=2))
        k = self._effect.channels
        hessian = np.einsum("lp,lcd,lq->pcqd", W, M * np.outer(k, k), W)
        for c in range(3):
            hessian[:, c, :, c] += _BEND_COST * self._bends.T @ self._bends + np.diag(doubt[:, c] + 1e-9)
        return np.asarray(hessian)

    def _sloping(self) -> Array:
        """Slope (P, 3) of the cost where the levels stand now."""
        slope = np.einsum("lp,lcd,ld->pc", self._weights, self._metrics, self._errors) * self._effect.channels
        return np.asarray(slope - _BEND_COST * self._bends.T @ (self._bends @ self._offsets))

    def solved(self, free: list[int]) -> tuple[Array, Array]:
        """The best change (n, 3) of the levels that are free, not rounded, and what it costs the first to be off.

        That cost is a quadratic form (3, 3), the other levels giving way as well as they can. A channel of theirs
        that comes to an end stop stays there, and the rest makes the best of it.
        """
        n = 3 * len(free)
        hessian = self._hessian[np.ix_(free, range(3), free, range(3))].reshape(n, n)
        slope = self._slope[free].reshape(n)
        low, high = self._lowest[free].reshape(n), self._most[free].reshape(n)
        best, gives = np.zeros(n), np.ones(n, dtype=bool)
        while True:
            missing = slope[gives] - hessian[np.ix_(gives, ~gives)] @ best[~gives]
            asked = np.column_stack([missing, np.eye(len(missing), 3)])
            answer = np.linalg.solve(hessian[np.ix_(gives, gives)], asked)
            best[gives] = answer[:, 0]
            stopped = gives & ((best < low - CLOSE) | (best > high + CLOSE))
            stopped[:3] = False
            if not stopped.any():
                return np.asarray(best.reshape(-1, 3)), np.asarray(np.linalg.inv(answer[:3, 1:]))
            best[stopped], gives = np.clip(best, low, high)[stopped], gives & ~stopped

    def together(self, levels: list[int]) -> Array:
        """Whole steps (P, 3) for all of the levels in one trip, rounded one after another."""
        steps = np.zeros_like(self._offsets)
        for i, level in enumerate(levels):
            own = self.rounded(level, levels[i:])
            if own.any():
                steps[level] = own
                self._fix(level, own)
        return steps

    def _fix(self, level: int, steps: Array) -> None:
        """Take steps (3,) of a level as made."""
        change = self._weights[:, level, None] * steps * self._effect.channels
        self._here = self._goal.gamut.xyz(np.exp(log_light(self._here, self._goal.gamut).reshape(-1, 3) + change))
        self._errors = self._errors - change
        self._offsets = self._offsets.copy()
        self._offsets[level] += steps
        for limit in (self._lowest, self._highest, self._most):
            limit[level] -= steps
        self._slope = self._sloping()
        self._before = self._goal.delta(self._tracked, self._here)

    def rounded(self, level: int, free: list[int]) -> Array:
        """Whole steps (3,) for a level, the rest of `free` following it; zeros where it is not worth a trip."""
        if self._at_most(level) < self._worth(level):
            return np.zeros(3)
        # Nothing is forced for the ramp: a level may always stay, and what bends too much is undone instead.
        low, high = self._span(level, free)
        low, high = np.minimum(low, 0.0), np.maximum(high, 0.0)
        best, form = self.solved(free)
        tries = np.clip(np.floor(np.clip(best[0], low, high)) + _ROUNDINGS, low, high)
        away = tries - best[0]
        chosen = tries[int(np.einsum("nc,cd,nd->n", away, form, away).argmin())]
        if chosen.any() and self._gain(level, chosen) < self._worth(level):
            return np.zeros(3)
        return np.asarray(chosen)

    def _span(self, level: int, free: list[int]) -> tuple[Array, Array]:
        """The fewest and the most whole steps (3,) that the end stops and the ramp allow at a level.

        What is only planned may still give way to the ramp, as far as its own end stops let it.
        """
        low, high = self._lowest[level], self._highest[level]
        others = [i for i in free if i != level]
        ends = np.stack([self._lowest[others], self._highest[others]])
        for bend in self._bends:
            if bend[level] == 0.0:
                continue
            gives = bend[others, None] * ends
            now, each = bend @ self._offsets, bend[level]
            first = (-BEND - now - gives.max(axis=0).sum(axis=0)) / each
            last = (BEND - now - gives.min(axis=0).sum(axis=0)) / each
            low = np.maximum(low, np.ceil(np.minimum(first, last) - CLOSE))
            high = np.minimum(high, np.floor(np.maximum(first, last) + CLOSE))
        high = np.maximum(np.minimum(high, self._most[level]), np.minimum(low, high))
        # Where nothing will do, as near to it as whole steps come.
        middle = np.rint((low + high) / 2.0)
        crossed = low > high
        stops = self._lowest[level], self._highest[level]
        return np.clip(np.where(crossed, middle, low), *stops), np.clip(np.where(crossed, middle, high), *stops)

    def _limits(self) -> tuple[Array, Array]:
        """How many steps down and up (P, 3) the end stops allow, and reason."""
        low, high = (np.array(limit - self._offsets) for limit in self._grid.limits)
        if self._grid.percents[0] == _WHITE:
            # What gives all it has cannot rise, and White has left little cast there: it is only taken from.
            high[0] = np.minimum(high[0], 0.0)
        if self._goal.floor:
            high[-1] = np.minimum(high[-1], 0.0)
        return low, high

    def _wished(self) -> Array:
        """How many steps up (P, 3) are wished for at most: black is not to be seen to rise with the darkest level.

        That holds if the screen goes on below it as at it. The ramp comes before it, and black is looked at then.
        """
        rise = max(_BLACK_SHARE * self._tracked.black / self._white, _BLACK_RISE)
        allowed = np.floor(rise ** (1.0 / GAMMA) / float(self._effect.signal_steps()[-1]))
        high = self._highest.copy()
        high[-1] = np.minimum(high[-1], np.maximum(allowed - self._offsets[-1], 0.0))
        return high

    @cached_property
    def _spreads(self) -> Array:
        return self._goal.spreads(self._tracked)

    def _worth(self, level: int) -> float:
        """What turning a level must take off: less than the noise of its reading is not there to be gained."""
        row = self._tracked.row(self._grid.percents[level])
        return max(self._goal.least_gain, float(self._spreads[row]))

    def _at_most(self, level: int) -> float:
        """ΔE 2000 that turning this level alone could take off, if all that it is felt at came right by it."""
        felt = self._weights[: len(self._before) - self._tracked.foot, level] != 0.0
        return float(np.maximum(self._before[: len(felt)][felt] - self._goal.good, 0.0).sum())

    def _gain(self, level: int, steps: Array) -> float:
        """ΔE 2000 that turning this level alone takes off, over all levels."""
        change = self._weights[:, level, None] * steps * self._effect.channels
        after = self._goal.gamut.xyz(np.exp(log_light(self._here, self._goal.gamut).reshape(-1, 3) + change))
        ladder = slice(0, len(after) - self._tracked.foot)
        then = self._goal.delta(self._tracked, after)[ladder]
        good = self._goal.good
        return float((np.maximum(self._before[ladder], good) - np.maximum(then, good)).sum())
