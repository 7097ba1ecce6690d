"""Multi-point's running state, and how one level is read into it."""

from dataclasses import dataclass, field, replace

import numpy as np

from aequitone.advice.moves import Move
from aequitone.advice.points import Grid, PointEffect, PointPlanner, Tracked, log_variance, most_bent
from aequitone.advice.two_point.level_readings import log_light
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.policy import CLOSER_DE, ReadPolicy, policy_for
from aequitone.procedures.steps import Interrupt, Procedure, Purpose, Read, Reading, Show
from aequitone.procedures.tone.multi_judging import BestLadder
from aequitone.procedures.tone.multi_plan import MultiPlan, MultiState, PointTrip
from aequitone.procedures.tone.near_black import NearBlack
from aequitone.procedures.uninterrupted import insist_on_reading
from aequitone.signal import grey_patch

_MOST_SECONDS = 3.0


@dataclass
class MultiPointSession:
    """The running state; private to the generator of `multi_point`."""

    plan: MultiPlan
    grid: Grid
    planner: PointPlanner
    effect: PointEffect
    percents: tuple[float, ...]
    xyz: Array
    sd: Array
    offsets: Array
    usual: Array
    """Log light (P,) that a step does at each level of such a screen, before this one was known."""
    foot: int = 0
    """How many levels at the end are not of the ladder, but were read near black."""
    black: float = 0.0
    read: int = 0
    """How many of the levels, from the bright end, were read."""
    trips: list[PointTrip] = field(default_factory=list)
    round: int = 0
    open: list[int] = field(default_factory=list)
    tries: dict[int, int] = field(default_factory=dict)
    """Of this round: how often each level was turned."""
    undone: int = 0
    """Trips in a row that came out worse and were undone."""
    silent: set[int] = field(default_factory=set)
    """Levels that did not answer at their name: they are not turned again."""
    took: list[float] = field(default_factory=list)
    """Seconds of each reading."""
    last: int = 0
    """The level, as a row of the ladder, that was read last."""
    began: MultiState | None = None
    best: BestLadder | None = None
    """The best ladder as read, with how the controls stood; the first one until another is better."""
    why: str = ""

    @property
    def tracked(self) -> Tracked:
        # Copies: what was known at one moment must not change with the next reading.
        return Tracked(
            np.array(self.percents), self.xyz.copy(), self.sd.copy(), self.offsets.copy(), self.black, self.foot
        )

    @property
    def ladder(self) -> BestLadder:
        """The ladder as it was read last, with how the controls stand."""
        return BestLadder.of(self.planner, self.tracked, self.grid)

    def row(self, level: int) -> int:
        """The row of the ladder that a level of the grid is."""
        return self.percents.index(float(self.grid.percents[level]))

    def state(self, proposed: Move | None = None) -> MultiState:
        n = self.read
        de = self.planner.de2000(self.tracked, self.xyz)[:n]
        return MultiState(
            self.percents[:n],
            self.xyz[:n].copy(),
            self.sd[:n].copy(),
            tuple(float(value) for value in de),
            self.grid.controls,
            tuple(self.trips),
            most_bent(self.effect, self.grid),
            self.black,
            proposed,
            self.why if proposed else "",
            self.round,
            self.began,
        )


def begin(plan: MultiPlan, foot: NearBlack | None) -> MultiPointSession:
    """Begin a session; `foot`: what was read near black, whose levels stand at the end of the ladder."""
    grid = plan.grid
    near = [i for i, p in enumerate(foot.percents) if p not in plan.percents] if foot else []
    percents = (*plan.percents, *(foot.percents[i] for i in near)) if foot else plan.percents
    xyz, sd = plan.target.grey(percents, plan.white), np.full((len(percents), 3), 1e-6)
    if foot is not None and near:
        xyz[-len(near) :], sd[-len(near) :] = foot.xyz[near], foot.sd[near]
    effect = PointEffect.prior(grid.signal, grid.controls[0].steps / 2.0)
    return MultiPointSession(
        plan,
        grid,
        PointPlanner(plan.target, 0.0, plan.stop_at / 2.0),
        effect,
        percents,
        xyz,
        sd,
        np.repeat(grid.offsets[None], len(percents), axis=0),
        effect.step,
        foot=len(near),
        open=adjustable(grid),
    )


def adjustable(grid: Grid) -> list[int]:
    """The levels that are turned: all but black, which has its own control."""
    return [i for i, percent in enumerate(grid.percents) if percent > 0]


def read_black(session: MultiPointSession) -> Procedure[Reading]:
    """Read black, whatever the person wishes meanwhile; returns the reading, in cd/m²."""
    white = float(session.xyz[0, 1])
    patch = grey_patch(0.0, session.plan.format)
    return (yield from insist_on_reading(patch, policy_for(0.0, white), Purpose.ADJUST))


def read_level(session: MultiPointSession, row: int) -> Procedure[None]:
    """Read a level of the ladder, and remember how the controls stood."""
    percent = session.percents[row]
    reading = yield from read(session, percent)
    session.xyz[row], session.sd[row], session.offsets[row] = reading.xyz, reading.sd, session.grid.offsets
    session.last = row


def read(session: MultiPointSession, percent: float) -> Procedure[Reading]:
    """Read a grey at `percent` of the signal, as exactly as an eye sees it; returns the reading, in cd/m²."""
    plan = session.plan
    white = float(session.xyz[0, 1]) if session.read else plan.white
    patch = grey_patch(percent, plan.format)
    yield Show(patch)
    expected = float(plan.target.grey(percent, white, session.black)[1])
    policy = exactly(expected, white) if session.began else policy_for(expected, white)
    reading: Reading = yield Read(patch, policy, Purpose.ADJUST)
    session.took.append(reading.took)
    return reading


def exactly(expected: float, white: float) -> ReadPolicy:
    """What settles a setting is read more exactly; but dark levels are many, and must not take for ever."""
    return replace(policy_for(expected, white, CLOSER_DE), most_seconds=_MOST_SECONDS)


def change_at(session: MultiPointSession, row: int, before: Array) -> tuple[Array, Array]:
    """The change (3,) of log light at a row since `before`, XYZ (3,), and the variance of its noise."""
    return change_from(before, session.xyz[row], session.sd[row])


def change_from(before: Array, xyz: Array, sd: Array) -> tuple[Array, Array]:
    """The change (3,) of log light from one XYZ (3,) to another, and the variance of its noise."""
    change = (log_light(xyz[None]) - log_light(before[None])).reshape(3)
    return change, 2.0 * log_variance(xyz, sd)


def read_whatever_comes(session: MultiPointSession, row: int) -> Procedure[None]:
    """Read a level that was turned: its reading is not given up for a wish."""
    while True:
        try:
            yield from read_level(session, row)
            return
        except Interrupt:
            continue
