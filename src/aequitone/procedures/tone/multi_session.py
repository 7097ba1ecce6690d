"""Multi-point's running state, and how one level is read into it."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

import numpy as np

from aequitone.advice.moves import Move
from aequitone.advice.points import Grid, PointEffect, PointPlanner, Tracked, log_variance, most_bent
from aequitone.advice.points.displaced import Felt, acting_scale
from aequitone.advice.points.drive import drives
from aequitone.advice.points.near_black import SHOULDER
from aequitone.advice.two_point.guards import Judgement
from aequitone.advice.two_point.level_readings import log_light
from aequitone.colorimetry import Gamut
from aequitone.colorimetry.arrays import Array, Mask
from aequitone.procedures.known_level import KnownLevel
from aequitone.procedures.policy import CLOSER_DE, ReadPolicy, seen_black, target_policy
from aequitone.procedures.steps import (
    Interrupt,
    Note,
    Procedure,
    Progress,
    Purpose,
    PutBack,
    Read,
    ReadAgain,
    Reading,
    Show,
)
from aequitone.procedures.tone.multi_judging import BestLadder
from aequitone.procedures.tone.multi_plan import MultiPlan, MultiState, PointTrip
from aequitone.procedures.tone.near_black import NearBlack
from aequitone.procedures.uninterrupted import insist_on_reading
from aequitone.reference import Target
from aequitone.signal import grey_patch

_MOST_SECONDS = 5.0
# Black that rises by so many spreads, and by this share of the darkest level's light, has come up with it.
_SIGMAS, _BLACK_SHARE = 4.0, 0.02
# Log light that 50 % may move by when biases are turned before all that is brighter is read again.
_MOVED_BY_BIASES = 0.006
# A level that was changed from its neighbours by more than this, in log light, is read again.
_MOVED = 0.004
_BESIDE = 5.0


@dataclass(frozen=True)
class Unmended:
    """Slips of the last trip that were said and are not mended yet: the next trip does it by the way."""

    stood: Grid
    was: Tracked
    """From where the trip went, and how the ladder was tracked there."""
    slips: Mapping[int, Judgement]
    """By level, as a row of the grid."""
    mend: Move


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
    known: dict[float, KnownLevel] = field(default_factory=dict)
    """What was read just before, as all stands, by its level in %: that much of the first ladder is not read."""
    black_known: float | None = None
    """Luminance of black where that was read just before."""
    black_after: tuple[KnownLevel, Grid] | None = None
    """Black as it was read after a trip, and where the controls stood."""
    trips: list[PointTrip] = field(default_factory=list)
    round: int = 0
    open: list[int] = field(default_factory=list)
    tries: dict[int, int] = field(default_factory=dict)
    """How often each level was turned by itself."""
    undone: int = 0
    """Trips in a row that came out worse and were undone."""
    turned: set[int] = field(default_factory=set)
    """Levels that were turned and read again: what their steps do is known."""
    doubted: set[int] = field(default_factory=set)
    """Levels that were taken for a slip once: what they do again is the screen's own way."""
    unmended: Unmended | None = None
    felt: list[Felt] = field(default_factory=list)
    """What each trip has moved."""
    scale: float = 1.0
    """Which share of the signal seems to reach multi-point: its levels act elsewhere than at their names."""
    took: list[float] = field(default_factory=list)
    """Seconds of each reading."""
    last: int = 0
    """The level, as a row of the ladder, that was read last."""
    began: MultiState | None = None
    found: BestLadder | None = None
    """The ladder before a level was turned."""
    best: BestLadder | None = None
    """The best ladder as read, with how the controls stood; the first one until another is better."""
    ladders: list[BestLadder] = field(default_factory=list)
    """Every ladder that was read as a whole after a trip."""
    why: str = ""

    def begin_again(self) -> None:
        """Take the controls to stand as at first; what was learnt of them stays."""
        self.grid, self.round, self.tries, self.undone = self.found_grid, 0, {}, 0
        self.open, self.ladders = self.adjustable, []

    def begin_here(self) -> None:
        """Take the ladder as it reads now for the one that was found, and nothing as learnt."""
        self.effect = _unknown(self.plan)
        self.found = self.best = self.ladder
        self.round, self.turned, self.doubted, self.ladders, self.unmended = 0, set(), set(), [], None

    def feel(self, was: Tracked, rows: Mask) -> None:
        """Take in what a trip has moved of the ladder, tracked as `was` before it; `rows` (L,): those read."""
        change, variance = change_from(was.xyz[rows], self.xyz[rows], self.sd[rows], self.planner.gamut)
        by = self.offsets[rows] - was.offsets[rows]
        self.felt.append(Felt(np.array(self.percents)[rows] / 100.0, by, change, variance))
        self.scale = acting_scale(_unknown(self.plan), self.felt)

    @property
    def found_grid(self) -> Grid:
        """Where the controls were found: as noted, but for what is known by now to have stood elsewhere."""
        return self.plan.grid if self.found is None else self.found.grid

    def back_of(self, move: Move) -> Move:
        """The move that undoes one, to where its controls really stood."""
        noted, found = ({c.role: c.value for c in grid.controls} for grid in (self.plan.grid, self.found_grid))
        changes = tuple(
            replace(change, to_value=found[change.role]) if change.to_value == noted[change.role] else change
            for change in move.reverse.changes
        )
        return Move(tuple(change for change in changes if change.by), undoes=True)

    def take_near_black(self, foot: NearBlack) -> None:
        """Track what was read near black too, where the ladder has no level: the darkest must not spoil it."""
        ladder = slice(0, len(self.percents) - self.foot)
        near = [i for i, percent in enumerate(foot.percents) if percent not in self.percents[ladder]]
        self.percents = (*self.percents[ladder], *(foot.percents[i] for i in near))
        self.xyz = np.vstack([self.xyz[ladder], foot.xyz[near]])
        self.sd = np.vstack([self.sd[ladder], foot.sd[near]])
        fresh = np.repeat(self.grid.offsets[None], len(near), axis=0)
        self.offsets = np.concatenate([self.offsets[ladder], fresh])
        self.foot, self.black = len(near), foot.black
        for percent, xyz, sd in zip(SHOULDER, foot.shoulder_xyz, foot.shoulder_xyz_sd, strict=False):
            if percent in self.percents[ladder]:
                row = self.percents.index(percent)
                self.xyz[row], self.sd[row], self.offsets[row] = xyz, sd, self.grid.offsets

    @property
    def fresh(self) -> tuple[KnownLevel, ...]:
        """What was read of the ladder and is, as far as the effect of a level is known, not moved since."""
        moved = set(_moved_rows(self)) - ({0} if (self.offsets[0] == self.grid.offsets).all() else set())
        rows = [row for row in range(len(self.percents) - self.foot) if row not in moved]
        levels = [KnownLevel(self.percents[row], self.xyz[row], self.sd[row]) for row in rows]
        if self.black_after is not None and self.black_after[1] == self.grid:
            levels.append(self.black_after[0])
        return tuple(levels)

    def take(self, row: int, level: KnownLevel) -> None:
        """Take a level of the ladder as it reads with the controls as they stand."""
        self.xyz[row], self.sd[row], self.offsets[row] = level.xyz, level.sd, self.grid.offsets
        self.last = row

    @property
    def tracked(self) -> Tracked:
        # Copies: what was known at one moment must not change with the next reading.
        return Tracked(
            np.array(self.percents), self.xyz.copy(), self.sd.copy(), self.offsets.copy(), self.black, self.foot
        )

    @property
    def adjustable(self) -> list[int]:
        """The levels, as rows of the grid, that may be turned."""
        return self.plan.adjustable

    @property
    def ladder(self) -> BestLadder:
        """The ladder as it was read last, with how the controls stand."""
        return BestLadder.of(self.planner, self.tracked, self.grid)

    def row(self, level: int) -> int:
        """The row of the ladder that a level of the grid is; the nearest, where beyond the knee none is read."""
        return int(np.abs(np.array(self.percents) - self.grid.percents[level]).argmin())

    def state(self, proposed: Move | None = None) -> MultiState:
        n = self.read
        tracked = self.tracked
        unit = self.planner.unit
        de = unit * self.planner.delta(tracked, self.xyz)[:n]
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
            tuple(unit * float(value) for value in self.planner.noise(tracked)[:n]),
            tuple(unit * float(value) for value in self.planner.spreads(tracked)[:n]),
        )


def begin(plan: MultiPlan) -> MultiPointSession:
    """Begin a session; nothing of it was read yet."""
    grid, effect = plan.grid, _unknown(plan)
    levels = len(plan.percents)
    return MultiPointSession(
        plan,
        grid,
        PointPlanner(plan.target, 0.0, plan.stop_at / plan.formula.unit / 2.0, formula=plan.formula),
        effect,
        plan.percents,
        plan.target.grey(plan.percents, plan.white),
        np.full((levels, 3), 1e-6),
        np.repeat(grid.offsets[None], levels, axis=0),
        effect.step,
        open=plan.adjustable,
    )


def _unknown(plan: MultiPlan) -> PointEffect:
    """What the controls are taken to do before anything is learnt of the screen."""
    grid = plan.grid
    drive = drives(plan.target, np.array(grid.percents), plan.white)
    return PointEffect.prior(grid.signal, grid.controls[0].steps / 2.0, drive)


def read_black(session: MultiPointSession) -> Procedure[Reading]:
    """Read black, whatever the person wishes meanwhile; returns the reading, in cd/m²."""
    white = float(session.xyz[0, 1])
    patch = grey_patch(0.0, session.plan.format)
    return (yield from insist_on_reading(patch, target_policy(session.plan.target, 0.0, white), Purpose.ADJUST))


def black_came_up(session: MultiPointSession) -> Procedure[bool]:
    """Read black: whether it came up with the darkest level, and is to count for more from now on."""
    reading = yield from read_black(session)
    session.black_after = KnownLevel.of(reading), session.grid
    darkest = float(session.xyz[session.row(session.adjustable[-1]), 1])
    if reading.Y - session.black <= max(_SIGMAS * reading.sd_Y, _BLACK_SHARE * darkest):
        return False
    yield Note(f"Black came up to {reading.Y:.4f} cd/m² with the darkest level, so that is put back.")
    session.planner = replace(session.planner, floor=True)
    return True


def read_again(session: MultiPointSession, *, was: Array | None = None) -> Procedure[None]:
    """Read the ladder again, whatever the person wishes meanwhile: a bias may be felt at any level.

    `was`: XYZ (L, 3) before the biases were turned, where near black has read SHOULDER since: those are not read
    once more, and what is brighter only where the brightest of them has moved.
    """
    percents = session.plan.percents
    rows = list(range(len(percents)))
    if was is not None:
        brightest = percents.index(SHOULDER[0]) if SHOULDER[0] in percents else 0
        change = float(np.log(session.xyz[brightest, 1] / was[brightest, 1]))
        still = brightest > 0 and abs(change) < _MOVED_BY_BIASES
        rows = [row for row in rows if percents[row] not in SHOULDER and not (still and 0 < row < brightest)]
    for row in rows:
        yield from read_whatever_comes(session, row)
        yield Progress(len(session.trips), len(session.trips), session.state())


def read_level(session: MultiPointSession, row: int) -> Procedure[None]:
    """Read a level of the ladder, and remember how the controls stood."""
    session.take(row, KnownLevel.of((yield from read(session, session.percents[row]))))


def read(session: MultiPointSession, percent: float) -> Procedure[Reading]:
    """Read a grey at `percent` of the signal, as exactly as an eye sees it; returns the reading, in cd/m²."""
    plan = session.plan
    white = float(session.xyz[0, 1]) if session.read else plan.white
    patch = grey_patch(percent, plan.format)
    yield Show(patch)
    expected = float(plan.target.grey(percent, white, session.black)[1])
    policy = (
        exactly(plan.target, expected, white) if session.began else target_policy(plan.target, expected, white)
    )
    reading: Reading = yield Read(patch, policy, Purpose.ADJUST)
    session.took.append(reading.took)
    return reading


def exactly(target: Target, expected: float, white: float) -> ReadPolicy:
    """What settles a setting is read more exactly; but dark levels are many, and must not take for ever."""
    return replace(target_policy(target, expected, white, CLOSER_DE), most_seconds=_MOST_SECONDS)


def change_at(session: MultiPointSession, row: int, before: Array) -> tuple[Array, Array]:
    """The change (3,) of log light at a row since `before`, XYZ (3,), and the variance of its noise."""
    return change_from(before, session.xyz[row], session.sd[row], session.planner.gamut)


def change_from(before: Array, xyz: Array, sd: Array, gamut: Gamut) -> tuple[Array, Array]:
    """The change of log light from XYZ to XYZ, shape (..., 3) each, and the variance of its noise."""
    change = log_light(xyz[..., None, :], gamut) - log_light(before[..., None, :], gamut)
    return change.reshape(xyz.shape), 2.0 * log_variance(xyz, sd, gamut)


def read_whatever_comes(session: MultiPointSession, row: int) -> Procedure[None]:
    """Read a level that was turned: its reading is not given up for a wish."""
    while True:
        try:
            yield from read_level(session, row)
            return
        except Interrupt:
            continue


def read_ladder(session: MultiPointSession) -> Procedure[None]:
    """Black, and the whole ladder from the bright end; what was read before a wish is not read again."""
    while session.read < len(session.plan.percents):
        try:
            # Once: wished for again, it is read.
            known = session.known.pop(session.percents[session.read], None)
            if known is not None:
                session.take(session.read, known)
            else:
                yield from read_level(session, session.read)
            if session.read == 0:
                yield from _black_of_the_ladder(session)
            session.read += 1
            yield Progress(session.read, len(session.plan.percents), session.state())
        except (PutBack, ReadAgain):
            session.read = max(0, session.read - 1)


def _black_of_the_ladder(session: MultiPointSession) -> Procedure[None]:
    """Take black where it is known, once, and read it otherwise."""
    known, session.black_known = session.black_known, None
    if known is None:
        black = yield from read_black(session)
        known = seen_black(black.Y, black.sd_Y)
    session.black = known


def read_moved(session: MultiPointSession, *, whatever_comes: bool = False) -> Procedure[Interrupt | None]:
    """Read again what of the ladder has moved since it was read, and white, which all is relative to.

    With `whatever_comes` a wish waits until all was read, and is returned: a ladder that is half of now and half
    of before says nothing.
    """
    wish: Interrupt | None = None
    pending = _moved_rows(session)
    while pending:
        try:
            yield from read_level(session, pending[0])
            pending = pending[1:]
            yield Progress(len(session.trips), len(session.trips) + 1, session.state())
        except ReadAgain:
            continue
        except Interrupt as interrupt:
            if not whatever_comes:
                raise
            wish = interrupt
    return wish


def _moved_rows(session: MultiPointSession) -> list[int]:
    turned = session.grid.offsets - session.offsets
    percents = np.array(session.percents)
    weights = session.effect.weights(percents / 100.0)
    moved = np.abs(np.einsum("lp,lpc->lc", weights, turned)).max(axis=1) > _MOVED
    # A level may act beside its name, or leak: what stands next to one that was turned is not taken on trust.
    beside = np.abs(percents[:, None] - np.array(session.grid.percents)) <= _BESIDE
    moved |= (np.abs(turned).max(axis=2) * beside).max(axis=1) > 0.0
    # What was read near black is slow to read, and is looked at again when all levels are done.
    ladder = moved[1 : len(moved) - session.foot]
    return [0, *(int(row) for row in np.flatnonzero(ladder) + 1)]


def remember(session: MultiPointSession, level: int, move: Move, before: Array, slip: str = "") -> None:
    """Enter a move into the history; `before`: XYZ (3,) of its level as it was to be expected without it."""
    row, tracked = session.row(level), session.tracked
    was = tracked.xyz.copy()
    was[row] = before
    planner, percent = session.planner, session.grid.percents[level]
    de_before, de_after = (planner.unit * float(planner.delta(tracked, xyz)[row]) for xyz in (was, tracked.xyz))
    spread = planner.unit * planner.spread(tracked, row)
    session.trips.append(PointTrip(move, percent, de_before, de_after, spread, slip))
