"""Two ways to set grey at two points that ours is measured against, written for that purpose alone.

`hunting` turns one control at a time while it helps, as people do with a remote and a meter beside them.
`newton` differentiates all six controls by turning each, and solves. Both see only readings.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

import numpy as np

from aequitone.advice.moves import Change, ControlState, Move
from aequitone.advice.two_point.level_readings import log_light
from aequitone.advice.two_point.mover import Mover
from aequitone.colorimetry import REC709
from aequitone.procedures.policy import WANTED_DE, policy_for
from aequitone.procedures.steps import Procedure, Purpose, Read, Show, Turn
from aequitone.procedures.white.plan import WhitePlan
from aequitone.signal import grey_patch

_FIRST_STRIDE, _ROUNDS = 4, 6
_PROBE_SHARE, _ITERATIONS = 0.06, 5


def turn(controls: list[ControlState], changes: Mapping[int, int]) -> Procedure[bool]:
    """Turn controls, by number, to settings within their stops; whether anything was turned."""
    told = []
    for i, to in changes.items():
        control = controls[i]
        to = control.snapped(to)
        if to != control.value:
            told.append(Change(control.role, control.name, control.value, to))
            controls[i] = replace(control, value=to)
    if told:
        yield Turn(Move(tuple(told)))
    return bool(told)


@dataclass
class _Bench:
    """Where a baseline stands."""

    plan: WhitePlan
    controls: list[ControlState]
    xyz: dict[float, np.ndarray]

    def read(self, percent: float) -> Procedure[np.ndarray]:
        plan = self.plan
        wanted = float(plan.target.grey(percent, self.white)[1])
        patch = grey_patch(percent, plan.format)
        yield Show(patch)
        reading = yield Read(patch, policy_for(wanted, self.white, WANTED_DE), Purpose.ADJUST)
        self.xyz[percent] = np.asarray(reading.xyz)
        return self.xyz[percent]

    @property
    def white(self) -> float:
        return float(self.xyz[100.0][1]) if 100.0 in self.xyz else self.plan.white

    def delta(self, percent: float) -> float:
        mover = Mover(self.plan.target, self.plan.bright, self.plan.dark, self.plan.black)
        xyz = np.array([self.xyz[p] for p in (100.0, self.plan.bright, self.plan.dark)])
        return float(mover.errors(xyz)[1 if percent == self.plan.bright else 2])

    def worst(self) -> float:
        return max(self.delta(self.plan.bright), self.delta(self.plan.dark))

    def turn(self, changes: Mapping[int, int]) -> Procedure[bool]:
        return (yield from turn(self.controls, changes))

    def read_all(self) -> Procedure[None]:
        for percent in (100.0, self.plan.bright, self.plan.dark):
            yield from self.read(percent)


def hunting(plan: WhitePlan) -> Procedure[list[ControlState]]:
    """One control at a time while it helps, one back when it does not; bright end, dark end, bright again."""
    at = _Bench(plan, list(plan.controls), {})
    yield from at.read_all()
    for _ in range(_ROUNDS):
        before = at.worst()
        for percent, first in ((plan.bright, 0), (plan.dark, 3)):
            if at.delta(percent) > plan.stop_at:
                yield from _hunt_level(at, percent, first)
        # The ends pull on each other, and on white: all is looked at again.
        yield from at.read_all()
        if at.worst() <= plan.stop_at or at.worst() > before - 0.05:
            break
    return at.controls


def _hunt_level(at: _Bench, percent: float, first: int) -> Procedure[None]:
    """The channel that is furthest off first; bigger steps far away, single ones near."""
    tried: set[int] = set()
    while at.delta(percent) > at.plan.stop_at and len(tried) < 3:
        light = log_light(at.xyz[percent][None], REC709)
        wanted = log_light(at.plan.target.grey([percent], at.white, at.plan.black), REC709)
        off = light - wanted
        order = sorted(range(3), key=lambda channel: -abs(off[channel]))
        channel = next(channel for channel in order if channel not in tried)
        better = yield from _hunt_control(at, percent, first + channel, -1 if off[channel] > 0 else 1)
        tried = set() if better else tried | {channel}
        if better:
            tried = {channel}


def _hunt_control(at: _Bench, percent: float, control: int, way: int) -> Procedure[bool]:
    """Turn one control while ΔE falls; one back when it rises. Whether it helped."""
    start = at.delta(percent)
    stride = _FIRST_STRIDE if start > 3.0 else 2 if start > 1.5 else 1
    while True:
        before, value, seen = at.delta(percent), at.controls[control].value, dict(at.xyz)
        yield from at.turn({control: value + way * stride * at.controls[control].step})
        if at.controls[control].value == value:
            break
        yield from at.read(percent)
        if at.delta(percent) >= before:
            yield from at.turn({control: value})
            at.xyz = seen
            if stride == 1:
                break
            stride = 1
        elif at.delta(percent) <= at.plan.stop_at:
            break
    return at.delta(percent) < start - 0.02


def newton(plan: WhitePlan) -> Procedure[list[ControlState]]:
    """A difference for each of the six controls, one solution of all, whole steps; the same matrix again."""
    at = _Bench(plan, list(plan.controls), {})
    yield from at.read_all()
    base = _light(at)
    columns = []
    for i, control in enumerate(plan.controls):
        probe = max(control.step, round(_PROBE_SHARE * (control.highest - control.lowest)))
        way = 1 if control.value + probe <= control.highest else -1
        back = {i - 1: plan.controls[i - 1].value} if i else {}
        # The control before goes back on the same trip.
        yield from at.turn(back | {i: control.value + way * probe})
        steps = (at.controls[i].value - control.value) / control.step
        yield from at.read(plan.bright)
        yield from at.read(plan.dark)
        columns.append((_light(at) - base) / steps)
    jacobian = np.column_stack(columns)
    yield from at.turn({5: plan.controls[5].value})
    yield from at.read_all()
    best = at.worst(), list(at.controls)
    for _ in range(_ITERATIONS):
        if at.worst() <= plan.stop_at:
            break
        wanted = log_light(at.plan.target.grey([plan.bright, plan.dark], at.white, at.plan.black), REC709)
        steps = np.rint(np.linalg.lstsq(jacobian, wanted - _light(at), rcond=None)[0])
        if not steps.any():
            break
        yield from at.turn(
            {i: c.value + int(n) * c.step for i, (c, n) in enumerate(zip(at.controls, steps, strict=True))}
        )
        yield from at.read_all()
        if at.worst() < best[0]:
            best = at.worst(), list(at.controls)
    if at.worst() > best[0]:
        yield from at.turn({i: c.value for i, c in enumerate(best[1])})
    return at.controls


def _light(at: _Bench) -> np.ndarray:
    return log_light(np.array([at.xyz[at.plan.bright], at.xyz[at.plan.dark]]), REC709)


Baseline = Callable[[WhitePlan], Procedure[list[ControlState]]]
BASELINES: dict[str, Baseline] = {"hunter": hunting, "newton": newton}
