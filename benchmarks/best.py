"""The best ladder that a screen's own controls can give, looked for on the truth: what a solver may be held to."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.optimize import lsq_linear

from aequitone.advice.points import BEND
from aequitone.advice.roles import TWO_POINT
from aequitone.advice.two_point.level_readings import log_light
from aequitone.colorimetry import REC709
from aequitone.colorimetry.arrays import Array
from aequitone.reference import Target
from aequitone.standins.bench import StandInBench

LADDER = tuple(float(percent) for percent in range(100, 0, -10))
_ROUNDS, _SHARE_TURNED = 5, 0.06
_WHITE = 100.0
# A worst level counts a little, so that none is given up for the mean.
_WORST = 0.1
# A ramp that bends by a tenth more than it may is no answer.
_BENT = 20.0
# Better than this nobody can see.
_GOOD = 0.12


@dataclass(frozen=True)
class Judged:
    """What a ladder is judged by: its levels in %, and the true ΔE and light of a screen with certain settings."""

    levels: tuple[float, ...]
    errors: Callable[[Mapping[str, int]], Array]
    """ΔE of the levels, (n,)."""
    light: Callable[[Array, Mapping[str, int]], Array]
    """XYZ of signals (n, 3)."""
    unit: float = 1.0
    """What a ΔE 2000 of 1 comes to in it."""
    spoilt: Callable[[Mapping[str, int]], float] = lambda _settings: 0.0
    """What certain settings spoil elsewhere, in ΔE on average: it counts against them."""


def best_ladder(bench: StandInBench, target: Target, *, points: bool) -> tuple[float, float]:
    """Mean and worst true ΔE 2000 that gains, biases and (where asked) multi-point allow, with a smooth ramp."""

    def errors(settings: Mapping[str, int]) -> Array:
        return np.array(bench.true_de2000(LADDER, target, settings))

    return best_grey(bench, target, Judged(LADDER, errors, bench.screen.light_of_signal), points=points)


def best_grey(bench: StandInBench, target: Target, judged: Judged, *, points: bool) -> tuple[float, float]:
    """Mean and worst true ΔE that gains, biases and (where asked) multi-point allow, with a smooth ramp.

    Gauss-Newton within the end stops, then whole steps by ones and twos, alone and all of a kind together, as long
    as that is better.
    """
    controls = {c.role: c for c in bench.screen.controls()}
    roles = [role.key for role in TWO_POINT if role.key in controls]
    roles += [role for role in controls if points and role.startswith("multi-")]
    low = np.array([controls[role].lowest for role in roles], dtype=float)
    high = np.array([controls[role].highest for role in roles], dtype=float)
    base = dict(bench.screen.settings())

    def settings(at: Array) -> Mapping[str, int]:
        return base | {role: int(value) for role, value in zip(roles, at, strict=True)}

    def score(at: Array) -> float:
        errors = judged.errors(settings(at)) / judged.unit
        too_bent = max(0.0, bent(bench, settings(at)) - BEND) if points else 0.0
        return (
            float(np.mean(errors)) + _WORST * float(max(errors)) + _BENT * too_bent + judged.spoilt(settings(at))
        )

    start = np.array([base[role] for role in roles], dtype=float)
    newton = _newton(judged, target, start, low, high, settings)
    # Where the whole way bends the ramp too much, a part of it may not.
    tries = [np.rint(start + share * (newton - start)) for share in (0.0, 0.25, 0.5, 0.75, 1.0)]
    at = _by_steps(min(tries, key=score), low, high, _moves(roles), score)
    errors = judged.errors(settings(at))
    return float(np.mean(errors)), float(max(errors))


def bent(bench: StandInBench, at: Mapping[str, int]) -> float:
    """The largest change of slope that the settings make in a channel's signal, from one side to the other.

    By the truth of what a step does: second differences of the settings, in signal, over the spacing.
    """
    part = bench.screen.part.multi_point
    if part is None:
        return 0.0
    v = np.array(part.percents) / 100.0
    own = part.interpolation == "own-level-only"
    most = 0.0
    for channel in "rgb":
        steps = [at[f"multi-{channel}-{p}"] + at.get(f"multi-y-{p}", 0) for p in part.percents]
        moved = part.effect_per_step * (1.0 + part.dark_boost * (1.0 - v)) * np.array(steps)
        if own:
            # Up and down again; of the bump at 100 % only the way up is there.
            bends = np.where(v < 1.0, 2.0, 1.0) * moved / (np.diff(v).min() / 2.0)
        else:
            # Below the darkest level the screen goes on as at it; above the brightest there is nothing.
            bends = np.diff(np.concatenate([[0.0], np.diff(moved) / np.diff(v)]))
        most = max(most, float(np.abs(bends).max()))
    return most


def _newton(
    judged: Judged,
    target: Target,
    start: Array,
    low: Array,
    high: Array,
    settings: Callable[[Array], Mapping[str, int]],
) -> Array:
    """Whole steps whose light is near the target's on all levels: light weighs as in CIEDE2000, cast thrice."""
    top = max(judged.levels)
    signal = np.repeat(np.array([*judged.levels, 0.0])[:, None] / 100.0, 3, axis=1)
    white = np.full((1, 3), 1.0)

    def missing(at: Array) -> Array:
        light = judged.light(signal, settings(np.rint(at)))
        peak = light[0] if top == _WHITE else judged.light(white, settings(np.rint(at)))[0]
        aim = target.grey(judged.levels, float(peak[1]), float(min(light[-1, 1], peak[1] / 2.0)))
        gap = (log_light(light[:-1], REC709) - log_light(aim, REC709)).reshape(-1, 3)
        middle = gap.mean(axis=1, keepdims=True)
        return np.asarray(np.hstack([3.0 * (gap - middle), middle]).ravel())

    at = start.copy()
    for _ in range(_ROUNDS):
        here, columns = missing(at), []
        for i in range(len(at)):
            by = max(1.0, round(_SHARE_TURNED * (high[i] - low[i])))
            by = by if at[i] + by <= high[i] else -by
            moved = at.copy()
            moved[i] += by
            columns.append((missing(moved) - here) / by)
        matrix = np.vstack([np.column_stack(columns), 1e-4 * np.eye(len(at))])
        wanted = np.append(-here, np.zeros(len(at)))
        bounds = (low - at - 1e-9, high - at + 1e-9)
        at = np.clip(at + lsq_linear(matrix, wanted, bounds).x, low, high)
    return np.rint(at)


def _moves(roles: Sequence[str]) -> Array:
    """Each control by one and two, and all gains, all biases and the channels of each level together."""
    rows = [n * unit for unit in np.eye(len(roles)) for n in (-2.0, -1.0, 1.0, 2.0)]
    together = [role.split("-")[-1] if role.startswith("multi-") else role.split("-")[0] for role in roles]
    for kind in sorted(set(together)):
        mask = np.array(
            [float(one == kind and "-y-" not in role) for one, role in zip(together, roles, strict=True)]
        )
        rows += [-mask, mask]
    return np.array(rows)


def _by_steps(at: Array, low: Array, high: Array, moves: Array, score: Callable[[Array], float]) -> Array:
    value, better = score(at), True
    while better and value > _GOOD:
        better = False
        for move in moves:
            around = np.clip(at + move, low, high)
            if not np.array_equal(around, at) and (found := score(around)) < value - 1e-4:
                at, value, better = around, found, True
    return at
