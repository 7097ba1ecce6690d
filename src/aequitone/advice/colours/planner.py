"""How far to turn a colour management: whole steps that bring all saturations nearer, none of them pushed hard."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from scipy.optimize import lsq_linear

from aequitone.advice.colours.belief import Belief
from aequitone.advice.colours.effect import ColourEffect, Reach
from aequitone.advice.moves import ControlState, Expectation, Move, moved, trip_between
from aequitone.colorimetry import Formula
from aequitone.colorimetry.arrays import Array
from aequitone.reference import Target

# The worst colour counts beside the average by this share.
_WORST = 0.2
# What white's cast moves beyond what it may weighs as much as the same on all colours.
_WHITE_BEYOND = 1.0
# Linear light that a control may add to its own full colour: further apart than that, neighbours on a ramp part.
MOST_ADDED = 0.22
# ΔE that a step must be worth, so that nothing is turned for nothing.
_STEP_PRICE = 0.0006
# What comes of a move lies around what is likely by so much of what its doubt costs, in ΔE, and by a little more.
_AROUND, _LITTLE = 0.5, 0.07
_ROUNDS, _JUMPS = 60, (1, 2, 4)
# Linear light over which the eye's metric is taken.
_SMALL = 0.01


@dataclass(frozen=True)
class Seen:
    """Colours as read: linear light in the target's primaries against white, and what is wanted, (n, 3) each."""

    linear: Array
    wanted: Array

    @classmethod
    def of(cls, xyz: Array, wanted: Array, white: float, target: Target) -> "Seen":
        """From XYZ (n, 3) in cd/m², what is wanted, and the luminance of white."""
        to_linear = target.gamut.rgb_matrix / white
        return cls(xyz @ to_linear.T, wanted @ to_linear.T)


@dataclass(frozen=True)
class ColourPlanner:
    """Proposes moves of a colour management; `weights` (n,), on average 1, of the colours and last of white."""

    target: Target
    weights: Array
    least_gain: float = 0.1
    """ΔE, of average and worst together, that a trip must promise."""
    white_may: float = 0.1
    """ΔE by which white may seem to have another cast: noise of its readings is no fault of the colours."""
    formula: Formula = Formula.DE2000
    """What counts; one of cast alone leaves the light of colours out."""
    luminance: float = 1.0
    """Of white, cd/m²: ΔE ITP asks for it."""

    def errors(self, linear: Array, wanted: Array) -> Array:
        """Differences of colours (..., n, 3) of linear light, in units of a ΔE 2000, shape (..., n)."""
        matrix = self.luminance * self.target.gamut.xyz_matrix.T
        white = self.luminance * self.target.white.xyz()
        off = self.formula.between(np.maximum(linear, 0.0) @ matrix, wanted @ matrix, white)
        return np.asarray(off / self.formula.unit)

    def score(self, linear: Array, wanted: Array) -> Array:
        """What colours (..., n, 3) come to: their weighted average ΔE and a share of the worst, shape (...)."""
        return self.scored(self.errors(linear, wanted))

    def scored(self, errors: Array) -> Array:
        """The same of their ΔE, (..., n)."""
        white = _WHITE_BEYOND * np.maximum(errors[..., -1] - self.white_may, 0.0)
        return np.asarray((self.weights * errors).mean(axis=-1) + _WORST * errors[..., :-1].max(axis=-1) + white)

    def propose(
        self, seen: Seen, belief: Belief, controls: Sequence[ControlState], free: Sequence[int] | None = None
    ) -> Move | None:
        """The move that promises most, of all controls or of those in `free`; None where none is worth it."""
        open_ = list(range(len(controls))) if free is None else list(free)
        effect = belief.best
        steps = _Search(self, seen, effect, controls, open_).steps()
        if not steps.any():
            return None
        after, likely = self._to_come(seen, belief, steps)
        if self._gained(seen, likely) < self.least_gain:
            return None
        # White, last, weighs in what is best, not in what is said of the colours.
        weights = self.weights[:-1]
        before = float(np.average(self.errors(seen.linear, seen.wanted)[:-1], weights=weights))
        come = float(np.average(likely[:-1], weights=weights))
        sure = float(np.average(self.errors(after, seen.wanted)[:-1], weights=weights))
        unit, around = self.formula.unit, _AROUND * (come - sure) + _LITTLE
        light = float((after[-1] - seen.linear[-1]) @ self.target.gamut.xyz_matrix[1] * 100.0)
        expected = Expectation(unit * before, unit * come, unit * around, light, self.formula.short)
        return replace(trip_between(controls, moved(controls, steps)), expected=expected)

    def gain(self, seen: Seen, belief: Belief, steps: Array) -> float:
        """What steps (controls,) should take off the average and the worst together, in ΔE 2000."""
        return self._gained(seen, self._to_come(seen, belief, steps)[1])

    def _gained(self, seen: Seen, likely: Array) -> float:
        return float(self.score(seen.linear, seen.wanted)) - float(self.scored(likely))

    def foretold(self, seen: Seen, belief: Belief, steps: Array) -> float:
        """The average ΔE of the colours, white left out, that is to be expected after steps (controls,)."""
        likely = self._to_come(seen, belief, steps)[1]
        return self.formula.unit * float(np.average(likely[:-1], weights=self.weights[:-1]))

    def after(self, seen: Seen, belief: Belief, steps: Array) -> Array:
        """Linear light (n, 3) after steps (controls,), as is believed."""
        return np.asarray(seen.linear + belief.change(seen.wanted, steps[None]))

    def _to_come(self, seen: Seen, belief: Belief, steps: Array) -> tuple[Array, Array]:
        """Linear light after steps, (n, 3), and the ΔE 2000 to be expected of it, (n,)."""
        after = self.after(seen, belief, steps)
        return after, self.likely(after, belief.variance(seen.wanted, steps[None]), seen.wanted)

    def likely(self, linear: Array, variance: Array, wanted: Array) -> Array:
        """The ΔE 2000 to be expected, (..., n), of colours that may come out otherwise by `variance`.

        Doubt is of figures that all colours share, so it does not average out: it makes every one of them worse.
        """
        spread = np.sqrt(variance)
        off = self.errors(np.stack([linear + spread, linear - spread]), wanted).mean(axis=0)
        return np.asarray(np.maximum(off, self.errors(linear, wanted)))


@dataclass(frozen=True)
class _Search:
    """The search for one move: least squares within the end stops, then whole steps one by one."""

    planner: ColourPlanner
    seen: Seen
    effect: ColourEffect
    controls: Sequence[ControlState]
    open: list[int]

    def steps(self) -> Array:
        low, high = self._limits()
        steps = self._least_squares(low, high)
        best = float(self._costs(steps[None])[0])
        by = np.array([sign * jump for jump in _JUMPS for sign in (1, -1)], dtype=float)
        for _ in range(_ROUNDS):
            tried = np.repeat(steps[None], len(self.open) * len(by), axis=0)
            tried[np.arange(len(tried)), np.repeat(self.open, len(by))] += np.tile(by, len(self.open))
            tried = tried[((tried >= low) & (tried <= high)).all(axis=1)]
            if not len(tried):
                break
            costs = self._costs(tried)
            at = int(costs.argmin())
            if costs[at] >= best - 1e-5:
                break
            best, steps = float(costs[at]), tried[at]
        return steps

    @cached_property
    def _reach(self) -> Reach:
        return self.effect.reach(self.seen.wanted)

    def _costs(self, steps: Array) -> Array:
        """What each of several moves (moves, controls) comes to, shape (moves,)."""
        planner, seen = self.planner, self.seen
        each = steps[:, None]
        after = seen.linear + self._reach.change(each)
        likely = planner.likely(after, self._reach.variance(each), seen.wanted)
        return np.asarray(planner.scored(likely) + _STEP_PRICE * np.abs(steps).sum(axis=-1))

    def _least_squares(self, low: Array, high: Array) -> Array:
        """Whole steps (controls,) that bring colours nearest in the eye's metric, doubt held against them."""
        metric = self._metric() * np.sqrt(self.planner.weights)[:, None, None]
        unit = np.eye(len(self.controls))[self.open][:, None]
        columns = self._reach.change(unit)
        doubts = np.sqrt(self._reach.variance(unit))
        rows = np.einsum("nij,knj->nik", metric, columns).reshape(-1, len(self.open))
        size = np.abs(metric).sum(axis=1)
        ridge = np.diag(np.sqrt(((size * doubts) ** 2).sum(axis=(1, 2))) + 1e-6)
        off = np.einsum("nij,nj->ni", metric, self.seen.wanted - self.seen.linear).ravel()
        bounds = (low[self.open] - 1e-9, high[self.open] + 1e-9)
        steps = np.zeros(len(self.controls))
        found = lsq_linear(np.vstack([rows, ridge]), np.append(off, np.zeros(len(self.open))), bounds)
        steps[self.open] = np.rint(found.x)
        return np.clip(steps, low, high)

    def _metric(self) -> Array:
        """A matrix (n, 3, 3) for each colour that turns a small miss in linear light into ΔE 2000."""
        wanted = np.maximum(self.seen.wanted, _SMALL)
        pairs = [(i, j) for i in range(3) for j in range(i, 3)]
        moves = np.array([_SMALL * (np.eye(3)[i] + (np.eye(3)[j] if j != i else 0.0)) for i, j in pairs])
        squares = (self.planner.errors(wanted + moves[:, None], wanted) / _SMALL) ** 2
        form = np.zeros((len(wanted), 3, 3))
        for (i, j), square in zip(pairs, squares, strict=True):
            if i == j:
                form[:, i, i] = square
        for (i, j), square in zip(pairs, squares, strict=True):
            if i != j:
                form[:, i, j] = form[:, j, i] = (square - form[:, i, i] - form[:, j, j]) / 2.0
        value, vector = np.linalg.eigh(form)
        return np.asarray(np.sqrt(np.maximum(value, 0.0))[..., None] * np.swapaxes(vector, -1, -2))

    def _limits(self) -> tuple[Array, Array]:
        """Steps down and up that end stops and ramps leave, 0 for controls that are to stay."""
        controls = self.controls
        low = np.array([-((c.value - c.lowest) // c.step) for c in controls], dtype=float)
        high = np.array([(c.highest - c.value) // c.step for c in controls], dtype=float)
        most = np.floor(MOST_ADDED / np.maximum(np.abs(self.effect.full).max(axis=-1), 1e-6))
        middle = np.array([(c.lowest + c.highest) / 2.0 for c in controls])
        stands = np.array([(c.value - m) / c.step for c, m in zip(controls, middle, strict=True)])
        low = np.ceil(np.maximum(low, np.minimum(-most - stands, 0.0)))
        high = np.floor(np.minimum(high, np.maximum(most - stands, 0.0)))
        closed = np.ones(len(controls), dtype=bool)
        closed[self.open] = False
        return np.where(closed, 0.0, low), np.where(closed, 0.0, high)
