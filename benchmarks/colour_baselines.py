"""Two ways to set a colour management that ours is measured against, and the best that there is, by the truth.

`hunting` turns one control at a time while it helps, six colours at full saturation, twice round, as people do.
`newton` differentiates every control by turning it, and solves for the six. Both see only readings. `best_colours`
looks on the truth, over saturations and everyday colours, with white kept.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

import numpy as np
from benchmarks.grey_baselines import turn
from scipy.optimize import lsq_linear

from aequitone.advice.moves import ControlState
from aequitone.colorimetry import delta_e_2000, lab_from_xyz
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.colour.manage_plan import ManagePlan
from aequitone.procedures.colour.samples import Sample
from aequitone.procedures.policy import policy_for, policy_for_colour
from aequitone.procedures.steps import Procedure, Purpose, Read, Show
from aequitone.reference import Target
from aequitone.signal import colour_patch, grey_patch
from aequitone.standins.bench import StandInBench

_TWICE, _STRIDE, _GOOD = 2, 3, 0.4
_PROBE_SHARE, _ITERATIONS = 0.08, 4
_SEARCH_ROUNDS, _WHITE_WEIGHT = 40, 0.4


@dataclass
class _Person:
    """Where a baseline stands."""

    plan: ManagePlan
    controls: list[ControlState]
    white: Array = field(default_factory=lambda: np.ones(3))
    seen: dict[str, Array] = field(default_factory=dict)

    @property
    def full(self) -> tuple[Sample, ...]:
        return tuple(sample for sample in self.plan.samples if sample.saturation == 100.0)

    def wanted(self, sample: Sample) -> Array:
        return np.asarray(self.plan.target.colour(np.array([sample.signal]) / 100.0, float(self.white[1]))[0])

    def read_white(self) -> Procedure[None]:
        patch = grey_patch(100.0, self.plan.format)
        yield Show(patch)
        reading = yield Read(patch, policy_for(100.0, 100.0), Purpose.ADJUST)
        self.white = np.asarray(reading.xyz)

    def read(self, sample: Sample) -> Procedure[None]:
        wanted, white = self.wanted(sample), self.plan.target.white.xyz(float(self.white[1]))
        patch = colour_patch(sample.name, sample.signal, self.plan.format)
        yield Show(patch)
        reading = yield Read(patch, policy_for_colour(wanted, white), Purpose.ADJUST)
        self.seen[sample.name] = np.asarray(reading.xyz)

    def read_full(self) -> Procedure[None]:
        yield from self.read_white()
        for sample in self.full:
            yield from self.read(sample)

    def delta(self, sample: Sample) -> float:
        white = self.plan.target.white.xyz(float(self.white[1]))
        return float(delta_e_2000(self.seen[sample.name], self.wanted(sample), white))

    def linear(self) -> Array:
        seen = np.array([self.seen[sample.name] for sample in self.full])
        return np.asarray(seen @ self.plan.target.gamut.rgb_matrix.T / self.white[1])

    def turn(self, changes: Mapping[int, int]) -> Procedure[bool]:
        return (yield from turn(self.controls, changes))


def hunting(plan: ManagePlan) -> Procedure[list[ControlState]]:
    """Six colours at full saturation, one control until it stops helping, twice round."""
    at = _Person(plan, list(plan.controls))
    yield from at.read_full()
    for _ in range(_TWICE):
        for sample in at.full:
            own = [i for i, control in enumerate(at.controls) if control.role.channel == sample.colour]
            for i in own:
                if at.delta(sample) > _GOOD:
                    yield from _hunt(at, sample, i)
        yield from at.read_full()
    return at.controls


def _hunt(at: _Person, sample: Sample, i: int) -> Procedure[None]:
    """One control up while it helps, else down; bigger strides far away, single ones near."""
    for way in (1, -1):
        stride, helped = _STRIDE if at.delta(sample) > 2.0 else 1, False
        while at.delta(sample) > _GOOD:
            before, value, seen = at.delta(sample), at.controls[i].value, at.seen[sample.name]
            turned = yield from at.turn({i: value + way * stride * at.controls[i].step})
            if not turned:
                break
            yield from at.read(sample)
            if at.delta(sample) < before:
                helped = True
                continue
            yield from at.turn({i: value})
            at.seen[sample.name] = seen
            if stride == 1:
                break
            stride = 1
        if helped:
            return


def newton(plan: ManagePlan) -> Procedure[list[ControlState]]:
    """Each control turned a little, all six colours read, one solution, whole steps; the same matrix again."""
    at = _Person(plan, list(plan.controls))
    yield from at.read_full()
    base, columns = at.linear(), []
    for i, control in enumerate(plan.controls):
        probe = max(control.step, round(_PROBE_SHARE * (control.highest - control.lowest)))
        # The control before goes back on the same trip.
        back = {i - 1: plan.controls[i - 1].value} if i else {}
        way = 1 if control.value + probe <= control.highest else -1
        yield from at.turn(back | {i: control.value + way * probe})
        for sample in at.full:
            yield from at.read(sample)
        columns.append((at.linear() - base).ravel() / ((at.controls[i].value - control.value) / control.step))
    last = len(plan.controls) - 1
    yield from at.turn({last: plan.controls[last].value})
    yield from at.read_full()
    jacobian, best = np.column_stack(columns), (_mean(at), list(at.controls))
    for _ in range(_ITERATIONS):
        wanted = np.array([at.wanted(sample) for sample in at.full])
        off = (wanted @ plan.target.gamut.rgb_matrix.T / at.white[1] - at.linear()).ravel()
        steps = np.rint(np.linalg.lstsq(jacobian, off, rcond=None)[0])
        yield from at.turn(
            {i: c.value + int(n) * c.step for i, (c, n) in enumerate(zip(at.controls, steps, strict=True))}
        )
        yield from at.read_full()
        if _mean(at) >= best[0] - 0.02:
            break
        best = _mean(at), list(at.controls)
    yield from at.turn({i: c.value for i, c in enumerate(best[1])})
    return at.controls


def _mean(at: _Person) -> float:
    return float(np.mean([at.delta(sample) for sample in at.full]))


Baseline = Callable[[ManagePlan], Procedure[list[ControlState]]]
BASELINES: dict[str, Baseline] = {"hunter": hunting, "newton": newton}


def best_colours(bench: StandInBench, target: Target, roles: tuple[str, ...], signal: Array) -> Mapping[str, int]:
    """The settings that bring the truth of colours (n, 3) of the signal nearest, white's cast counted, by search.

    Gauss-Newton in Lab within the end stops, then whole steps by ones, twos and fours as long as that is better.
    """
    parts = {part.role: part for part in bench.screen.controls()}
    low = np.array([parts[role].lowest for role in roles], dtype=float)
    high = np.array([parts[role].highest for role in roles], dtype=float)
    base = dict(bench.screen.settings())
    both = np.vstack([signal, np.ones((1, 3))])

    def lights(at: Array) -> tuple[Array, Array, Array]:
        xyz = bench.screen.light_of_signal(
            both, base | dict(zip(roles, np.rint(at).astype(int).tolist(), strict=True))
        )
        white = target.white.xyz(float(xyz[-1, 1]))
        return xyz, np.vstack([target.colour(signal, float(xyz[-1, 1])), first * xyz[-1, 1] / first[1]]), white

    def score(at: Array) -> float:
        xyz, wanted, white = lights(at)
        errors = delta_e_2000(xyz, wanted, white)
        return float(errors[:-1].mean() + 0.1 * errors[:-1].max() + _WHITE_WEIGHT * errors[-1])

    def missing(at: Array) -> Array:
        xyz, wanted, white = lights(at)
        reference = lab_from_xyz(wanted, white)
        chroma = np.hypot(reference[:, 1], reference[:, 2])
        off = (lab_from_xyz(xyz, white) - reference) / np.stack(
            [np.ones_like(chroma), *2 * [1 + 0.03 * chroma]], -1
        )
        off[-1] *= 5.0
        return np.asarray(off.ravel())

    start = np.array([base[role] for role in roles], dtype=float)
    first = bench.screen.light_of_signal(np.ones(3))
    at = start.copy()
    for _ in range(4):
        here = missing(at)
        ways = np.where(at + 4 <= high, 4.0, -4.0)
        jacobian = np.column_stack(
            [(missing(at + way * unit) - here) / way for way, unit in zip(ways, np.eye(len(at)), strict=True)]
        )
        matrix = np.vstack([jacobian, 0.02 * np.eye(len(at))])
        at = np.clip(
            at + lsq_linear(matrix, np.append(-here, np.zeros(len(at))), (low - at - 1e-9, high - at + 1e-9)).x,
            low,
            high,
        )
    at = min((np.rint(start + share * (at - start)) for share in (0.0, 0.5, 1.0)), key=score)
    value = score(at)
    for _ in range(_SEARCH_ROUNDS):
        better = False
        for unit in np.eye(len(at)):
            for by in (1, -1, 2, -2, 4, -4):
                other = np.clip(at + by * unit, low, high)
                if not np.array_equal(other, at) and (found := score(other)) < value - 1e-4:
                    at, value, better = other, found, True
        if not better:
            break
    return base | dict(zip(roles, at.astype(int).tolist(), strict=True))
