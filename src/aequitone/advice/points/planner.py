"""Which level of a multi-point adjustment to turn next, and how far.

Pure. All levels that are still open are solved for at once, as small quadratic forms of log light around the
target, so that what is turned at one level suits its neighbours; then the brightest that is worth a trip is
rounded to whole steps. A ramp must stay smooth: see `ramp.BEND`.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from aequitone.advice.moves import Expectation, Move
from aequitone.advice.points.effect import GAMMA, PointEffect
from aequitone.advice.points.grid import Grid
from aequitone.advice.points.near_black import wanted_light
from aequitone.advice.points.ramp import BEND, CLOSE, bends
from aequitone.advice.two_point.level_readings import WANDER, log_light
from aequitone.colorimetry import REC709, delta_e_2000, lab_from_xyz
from aequitone.colorimetry.arrays import Array
from aequitone.reference import Target

# A bend of a tenth counts like this much ΔE at one level, squared: noise must not be copied into the ramp.
_BEND_COST = (0.12 / 0.1) ** 2
# Near black ΔE says little of light that is wrong: a tenth more or less counts like half of one there.
_FOOT_COST = (0.5 / 0.1) ** 2
_WHITE = 100
# What the darkest level may bring black up by: a share of the black there is, and of white's light (0.03 in L*).
_BLACK_SHARE, _BLACK_RISE = 0.05, 3e-5
# ΔE 2000 at which a level may be left for the good of its neighbours.
_UNSEEN = 0.6
_MOST_SPREAD = 1.0
# The share of the doubt about an effect that a move takes into account.
_CAUTION = 0.3
_DRAWS = np.random.default_rng(33).standard_normal((160, 3))
_ROUNDINGS = np.array(np.meshgrid(*[np.arange(-1.0, 3.0)] * 3)).reshape(3, -1).T


@dataclass(frozen=True)
class Tracked:
    """What was last read at each level, and where the controls stood then."""

    percents: Array
    """(L,), the ladder from 100 % down, then what was read near black."""
    xyz: Array
    """(L, 3), cd/m²."""
    sd: Array
    offsets: Array
    """(L, P, 3): the grid's offsets when each was read."""
    black: float
    """Luminance of 0 %, cd/m²."""
    foot: int = 0
    """How many rows at the end were read near black, and are there for their light alone."""

    def row(self, percent: float) -> int:
        """The row of a level, or of the nearest to it."""
        return int(np.abs(self.percents - percent).argmin())


@dataclass(frozen=True)
class PointPlanner:
    """What is wanted, and what a trip must bring."""

    target: Target
    least_gain: float
    """ΔE 2000 that turning a level must take off, on all levels together, to be worth the trip."""
    good: float = 0.0
    """ΔE 2000 of a level below which nothing more is gained."""
    floor: bool = False
    """Whether the darkest level may no longer be raised: black came up with it."""

    def de2000(self, tracked: Tracked, xyz: Array) -> Array:
        """ΔE 2000, shape (..., L), of XYZ (..., L, 3); at 100 % of a relative target only cast counts."""
        white = self.target.white_luminance(np.maximum(xyz[..., 0, 1], 1e-6))
        black = np.minimum(tracked.black, white * 0.5)
        luminance = self.target.luminance(tracked.percents / 100.0, white[..., None], black[..., None])
        wanted = luminance[..., None] * self.target.white.xyz()
        return delta_e_2000(xyz, wanted, (white[..., None] * self.target.white.xyz())[..., None, :])

    def now(self, tracked: Tracked, effect: PointEffect, offsets: Array) -> Array:
        """XYZ (L, 3) that is to be expected now: as read, and what was turned since."""
        light = log_light(tracked.xyz).reshape(-1, 3)
        turned = offsets - tracked.offsets
        if not turned.any():
            return tracked.xyz
        weights = effect.weights(tracked.percents / 100.0)
        return np.asarray(REC709.xyz(np.exp(light + np.einsum("lp,lpc->lc", weights, turned))))

    def spread(self, tracked: Tracked, row: int) -> float:
        """Spread of ΔE 2000 at a row from the noise of its reading."""
        drawn = tracked.xyz[row] + _DRAWS * tracked.sd[row]
        return float(self.de2000_at(tracked, drawn, row, float(tracked.xyz[0, 1])).std())

    def de2000_at(self, tracked: Tracked, xyz: Array, row: int, white: float) -> Array:
        """ΔE 2000, shape (n,), of XYZ (n, 3) at one row, where 100 % gives `white`."""
        own = self.target.white_luminance(np.maximum(xyz[:, 1], 1e-6) if row == 0 else np.full(len(xyz), white))
        light = self.target.luminance(tracked.percents[row] / 100.0, own, np.minimum(tracked.black, own / 2.0))
        reference = self.target.white.xyz()
        return delta_e_2000(xyz, light[:, None] * reference, own[:, None] * reference)

    def propose(
        self, tracked: Tracked, effect: PointEffect, grid: Grid, open_levels: Sequence[int]
    ) -> tuple[int, Move] | None:
        """The brightest of the open levels (rows of the grid) that is worth turning, and the move; or None."""
        here = self.now(tracked, effect, grid.offsets)
        problem = _Problem(self, tracked, effect, grid, here)
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

    def noise(self, tracked: Tracked) -> Array:
        """ΔE 2000, shape (L,), that the noise of its reading alone makes of a level that is right."""
        aim = self.target.grey(tracked.percents, max(float(tracked.xyz[0, 1]), 1e-6), tracked.black)
        drawn = aim + _DRAWS[:, None, :] * tracked.sd
        reference = self.target.white.xyz(max(float(tracked.xyz[0, 1]), 1e-6))
        return np.asarray(delta_e_2000(drawn, aim, reference).mean(axis=0))

    def promise(
        self, tracked: Tracked, effect: PointEffect, grid: Grid, open_levels: Sequence[int]
    ) -> tuple[float, int]:
        """What the average ΔE 2000 would about come to, and how many levels would have to be turned."""
        here = self.now(tracked, effect, grid.offsets)
        steps = _Problem(self, tracked, effect, grid, here).all_rounded(list(open_levels))
        weights = effect.weights(tracked.percents / 100.0)
        light = log_light(here).reshape(-1, 3) + weights @ steps
        after = self.de2000(tracked, REC709.xyz(np.exp(light)))
        ladder = slice(0, len(after) - tracked.foot)
        # A level that is good enough is seldom worth a trip of its own.
        rows = [tracked.row(percent) for percent in grid.percents]
        worth = self.de2000(tracked, here)[rows] > 2.0 * self.good
        return float(after[ladder].mean()), int((steps.any(axis=1) & worth).sum())

    def _move(
        self, tracked: Tracked, effect: PointEffect, grid: Grid, here: Array, level: int, steps: Array
    ) -> Move:
        row = tracked.row(grid.percents[level])
        before = float(self.de2000(tracked, here)[row])
        change = effect.step[level] * steps
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


class _Problem:
    """One decision: the quadratic form that all levels make together."""

    def __init__(
        self, planner: PointPlanner, tracked: Tracked, effect: PointEffect, grid: Grid, here: Array
    ) -> None:
        self._planner, self._effect, self._grid, self._tracked = planner, effect, grid, tracked
        self._here = here
        self._offsets = grid.offsets
        self._white = max(float(here[0, 1]), 1e-6)
        self._weights = effect.weights(tracked.percents / 100.0)
        self._bends = bends(effect, grid)
        self._errors, self._metrics = self._wanted()
        self._hessian, self._slope = self._form()
        self._lowest, self._highest = self._limits()
        self._most = self._wished()
        self._before = planner.de2000(tracked, here)

    def _wanted(self) -> tuple[Array, Array]:
        """Log light that is missing at each level (L, 3), and what it weighs in ΔE squared (L, 3, 3)."""
        tracked, white = self._tracked, self._white
        black = min(tracked.black, white * 0.5)
        aim = self._planner.target.grey(tracked.percents, white, black)
        errors = log_light(aim).reshape(-1, 3) - log_light(self._here).reshape(-1, 3)
        reference = self._planner.target.white.xyz(float(self._planner.target.white_luminance(white)))
        nudged = aim[:, None, :] + 0.01 * REC709.rgb(aim)[:, :, None] * REC709.xyz(np.eye(3))
        lab = (lab_from_xyz(nudged, reference) - lab_from_xyz(aim, reference)[:, None, :]) / 0.01
        lightness = lab_from_xyz(aim, reference)[:, 0]
        # CIEDE2000 beside a neutral: S_L of the lightness, a* stretched by half, S_C = S_H = 1.
        away = (lightness - 50.0) ** 2
        light = 1.0 / (1.0 + 0.015 * away / np.sqrt(20.0 + away))
        lab *= np.stack([light, np.full(len(aim), 1.5), np.ones(len(aim))], axis=-1)[:, None, :]
        # The light of 100 % is what all others are relative to: it is held as it is, though not at all costs.
        lab[0, :, 0] *= 0.3
        metrics = lab @ lab.transpose(0, 2, 1)
        if tracked.foot:
            near = tracked.percents[-tracked.foot :]
            wanted = wanted_light(self._planner.target, near, white, black)
            errors[-tracked.foot :] += np.log(wanted / aim[-tracked.foot :, 1])[:, None]
            metrics[-tracked.foot :] = _FOOT_COST * np.outer(REC709.xyz_matrix[1], REC709.xyz_matrix[1])
        return errors, np.asarray(metrics)

    def _form(self) -> tuple[Array, Array]:
        """Hessian (P, 3, P, 3) and slope (P, 3) of the cost at no change."""
        W, M = self._weights, self._metrics
        # A channel's own doubt: what is not known of a step should not be counted on.
        doubt = np.zeros((W.shape[1], 3))
        for p, percent in enumerate(self._grid.percents):
            doubt[p] = _CAUTION * self._effect.covariance[p, p] * np.diag(M[self._tracked.row(percent)])
        hessian = np.einsum("lp,lcd,lq->pcqd", W, M, W)
        slope = np.einsum("lp,lcd,ld->pc", W, M, self._errors)
        for c in range(3):
            hessian[:, c, :, c] += _BEND_COST * self._bends.T @ self._bends + np.diag(doubt[:, c] + 1e-9)
            slope[:, c] -= _BEND_COST * self._bends.T @ (self._bends @ self._offsets[:, c])
        return hessian, slope

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

    def all_rounded(self, free: list[int]) -> Array:
        """Whole steps (P, 3) for all levels that are free, within their end stops, worth their trips or not."""
        steps = np.zeros_like(self._offsets)
        steps[free] = np.clip(np.rint(self.solved(free)[0]), self._lowest[free], self._most[free])
        return steps

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
        low, high = (limit - self._offsets for limit in self._grid.limits)
        if self._grid.percents[0] == _WHITE:
            # What gives all it has cannot rise, and White has left little cast there: it is only taken from.
            high[0] = np.minimum(high[0], 0.0)
        if self._planner.floor:
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

    def _worth(self, level: int) -> float:
        """What turning a level must take off: less than the noise of its reading is not there to be gained."""
        row = self._tracked.row(self._grid.percents[level])
        return max(self._planner.least_gain, self._planner.spread(self._tracked, row))

    def _at_most(self, level: int) -> float:
        """ΔE 2000 that turning this level alone could take off, if all that it is felt at came right by it."""
        felt = self._weights[: len(self._before) - self._tracked.foot, level] != 0.0
        return float(np.maximum(self._before[: len(felt)][felt] - self._planner.good, 0.0).sum())

    def _gain(self, level: int, steps: Array) -> float:
        """ΔE 2000 that turning this level alone takes off, over all levels."""
        change = self._weights[:, level][:, None] * steps
        after = REC709.xyz(np.exp(log_light(self._here).reshape(-1, 3) + change))
        ladder = slice(0, len(after) - self._tracked.foot)
        then = self._planner.de2000(self._tracked, after)[ladder]
        good = self._planner.good
        return float((np.maximum(self._before[ladder], good) - np.maximum(then, good)).sum())


def log_variance(xyz: Array, sd: Array) -> Array:
    """Variance of log linear RGB, shape (3,), of a reading."""
    rgb = np.maximum(REC709.rgb(xyz), 1e-3 * max(float(xyz[1]), 1e-9))
    return np.asarray((sd**2) @ (REC709.rgb_matrix**2).T / rgb**2)
