"""How far to turn a colour management: whole steps that bring all saturations nearer, none of them pushed hard."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from aequitone.advice.colours.effect import ColourEffect
from aequitone.advice.moves import ControlState, Expectation, Move, moved, trip_between
from aequitone.colorimetry import delta_e_2000
from aequitone.colorimetry.arrays import Array
from aequitone.reference import Target

# The worst colour counts beside the average by this share.
_WORST = 0.2
# Linear light that a control may add to its own full colour: further apart than that, neighbours on a ramp part.
_MOST_ADDED = 0.22
# ΔE that a step must be worth, so that nothing is turned for nothing; doubt counts by this share of its spread.
_STEP_PRICE, _DOUBT = 0.0006, 0.5
_ROUNDS, _JUMPS = 12, (1, 2, 4)


@dataclass(frozen=True)
class Seen:
    """Colours as read: linear light in the target's primaries against white, and what is wanted, (n, 3) each."""

    linear: Array
    variance: Array
    wanted: Array

    @classmethod
    def of(cls, xyz: Array, sd: Array, wanted: Array, white: float, target: Target) -> "Seen":
        """From XYZ (n, 3) in cd/m² with standard deviations, what is wanted, and the luminance of white."""
        to_linear = target.gamut.rgb_matrix / white
        variance = (sd**2) @ (to_linear**2).T
        return cls(xyz @ to_linear.T, variance, wanted @ to_linear.T)


@dataclass(frozen=True)
class ColourPlanner:
    """Proposes moves of a colour management; `weights` (n,) of the colours, their mean 1."""

    target: Target
    weights: Array
    least_gain: float = 0.1
    """ΔE, of average and worst together, that a trip must promise."""

    def errors(self, linear: Array, wanted: Array) -> Array:
        """ΔE 2000 of colours (..., n, 3) of linear light, shape (..., n)."""
        matrix, white = self.target.gamut.xyz_matrix.T, self.target.white.xyz()
        return delta_e_2000(np.maximum(linear, 0.0) @ matrix, wanted @ matrix, white)

    def score(self, linear: Array, wanted: Array) -> float:
        """What colours come to: their weighted average ΔE, and a share of the worst."""
        errors = self.errors(linear, wanted)
        return float((self.weights * errors).mean() + _WORST * errors.max())

    def propose(
        self, seen: Seen, effect: ColourEffect, controls: Sequence[ControlState], free: Sequence[int] | None = None
    ) -> Move | None:
        """The move that promises most, of all controls or of those in `free`; None where none is worth it."""
        open_ = list(range(len(controls))) if free is None else list(free)
        steps = self._searched(seen, effect, controls, open_)
        before = self.score(seen.linear, seen.wanted)
        after, sd = self._foretold(seen, effect, steps)
        if not steps.any() or before - after < self.least_gain:
            return None
        light = float((effect.change(np.ones((1, 3)), steps) @ self.target.gamut.xyz_matrix[1])[0] * 100.0)
        mean_before = float((self.weights * self.errors(seen.linear, seen.wanted)).mean())
        mean_after = float((self.weights * self.errors(self._after(seen, effect, steps), seen.wanted)).mean())
        move = trip_between(controls, moved(controls, steps))
        return replace(move, expected=Expectation(mean_before, mean_after, sd, light))

    def _after(self, seen: Seen, effect: ColourEffect, steps: Array) -> Array:
        return np.asarray(seen.linear + effect.change(seen.wanted, steps))

    def _foretold(self, seen: Seen, effect: ColourEffect, steps: Array) -> tuple[float, float]:
        """The score after steps, and how unsure the average is, in ΔE."""
        after = self._after(seen, effect, steps)
        spread = np.sqrt(effect.variance(seen.wanted, steps))
        # Doubt is of figures that all colours share, so it does not average out.
        off = self.errors(after + spread, seen.wanted) + self.errors(after - spread, seen.wanted)
        errors = self.errors(after, seen.wanted)
        sd = float((self.weights * np.maximum(off / 2.0 - errors, 0.0)).mean()) + 0.05
        return self.score(after, seen.wanted), sd

    def _searched(
        self, seen: Seen, effect: ColourEffect, controls: Sequence[ControlState], open_: list[int]
    ) -> Array:
        """Whole steps that are best by coordinates, from the least squares of light between the end stops."""
        low, high = self._limits(effect, controls)
        steps = np.zeros(len(controls))
        steps[open_] = self._least_squares(seen, effect, len(controls))[open_]
        steps = np.clip(np.rint(steps), low, high)
        best = self._cost(seen, effect, steps)
        for _ in range(_ROUNDS):
            tried = best
            for i in open_:
                for by in (sign * jump for jump in _JUMPS for sign in (1, -1)):
                    other = steps.copy()
                    other[i] += by
                    if not low[i] <= other[i] <= high[i]:
                        continue
                    cost = self._cost(seen, effect, other)
                    if cost < best - 1e-6:
                        best, steps = cost, other
            if tried - best < 1e-5:
                break
        return steps

    def _least_squares(self, seen: Seen, effect: ColourEffect, count: int) -> Array:
        """Steps (count,) that bring light nearest, each unit of it weighed by what the eye sees there."""
        unit = np.eye(count)
        columns = np.stack([effect.change(seen.wanted, each) for each in unit], axis=-1)
        # A cube root of light is about as the eye has it; white is left out of no colour.
        weight = 1.0 / np.maximum(seen.wanted.max(axis=-1), 0.05) ** (2.0 / 3.0)
        rows = (columns * weight[:, None, None]).reshape(-1, count)
        off = ((seen.wanted - seen.linear) * weight[:, None]).ravel()
        damp = 1e-3 * np.eye(count) * float((rows**2).sum()) / max(count, 1)
        return np.asarray(np.linalg.solve(rows.T @ rows + damp, rows.T @ off))

    def _limits(self, effect: ColourEffect, controls: Sequence[ControlState]) -> tuple[Array, Array]:
        low = np.array([-((c.value - c.lowest) // c.step) for c in controls], dtype=float)
        high = np.array([(c.highest - c.value) // c.step for c in controls], dtype=float)
        most = _MOST_ADDED / np.maximum(np.abs(effect.full).max(axis=-1), 1e-6)
        middle = np.array([(c.lowest + c.highest) / 2.0 for c in controls])
        stands = np.array([(c.value - m) / c.step for c, m in zip(controls, middle, strict=True)])
        return np.maximum(low, np.minimum(-most - stands, 0.0)), np.minimum(high, np.maximum(most - stands, 0.0))

    def _cost(self, seen: Seen, effect: ColourEffect, steps: Array) -> float:
        score, sd = self._foretold(seen, effect, steps)
        return score + _DOUBT * sd + _STEP_PRICE * float(np.abs(steps).sum())
