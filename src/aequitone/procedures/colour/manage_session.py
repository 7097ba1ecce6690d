"""Where a colour management stands: what was turned and read, and what is believed of every colour."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property, partial

import numpy as np

from aequitone.advice.colours import (
    Asked,
    Belief,
    ColourPlanner,
    Observation,
    Oddity,
    Seen,
    explain,
    judge_turning,
    stood_so,
)
from aequitone.advice.moves import ControlState, Move, moved
from aequitone.advice.two_point.guards import Judgement
from aequitone.advice.two_point.guards import words as guard_words
from aequitone.colorimetry import delta_e_2000
from aequitone.colorimetry.arrays import Array, Mask
from aequitone.procedures.colour.colour_pass import ColourPass
from aequitone.procedures.colour.manage_plan import ColourTrip, Managed, ManagePlan, Ramp
from aequitone.procedures.colour.manage_worth import least_gain, weights_of
from aequitone.procedures.steps import Interrupt, Reading

# ΔE 2000 that white's cast may move without weighing on what is best, if its readings tell as little.
_WHITE_MAY, _SIGMAS = 0.1, 1.5
# How far X and Z of white wander by themselves between two looks, against its luminance.
_WANDER = 0.0004
# ΔE 2000 that a darker grey may come out worse by, and how many times more than that counts.
_GREY_MAY, _GREY_COUNTS = 0.3, 3.0
# Odds above which a control is tried alone, and above which the trial has proven what it does.
_SUSPECTED, _PROVEN = 20.0, 200.0
# What was seen lies so far from what was expected that a control may be odd; about 1 is usual.
_SURPRISING = 1.2


@dataclass(frozen=True)
class Kept:
    """How the samples and white, the last, read at certain settings, and which of them were read there."""

    xyz: Array
    sd: Array
    read: Mask
    since: Array
    """Steps of each control since each was read, (n, controls)."""
    told: int = 0
    """How many observations there were by then."""


@dataclass
class ManageSession:
    """The running state of one adjusting; known to the generator alone."""

    plan: ManagePlan
    planner: ColourPlanner
    belief: Belief
    controls: tuple[ControlState, ...]
    xyz: Array
    """Of the samples as they were read, against the luminance of white or of diffuse white, and of white, the
    last, against its own, (n, 3)."""
    sd: Array
    since: Array
    """Steps of each control since each was read, (n, controls)."""
    white: Reading | None = None
    first_white: Reading | None = None
    grey: Reading | None = None
    first_grey: Reading | None = None
    """A darker grey, now and before anything was turned."""
    black: float = 0.0
    """Luminance of 0 %, cd/m²; 0 where the meter cannot tell it from nothing."""
    trips: list[ColourTrip] = field(default_factory=list)
    best: tuple[float, tuple[ControlState, ...]] | None = None
    kept: dict[tuple[ControlState, ...], Kept] = field(default_factory=dict)
    """How it read at settings that may be gone back to."""
    found: tuple[float, float] = (0.0, 0.0)
    """Score and weighted average before anything was turned."""
    everyday_found: float = 0.0
    failed: int = 0
    tried: list[Oddity] = field(default_factory=list)
    """What a control was suspected of and tried alone for."""
    doubted: set[int] = field(default_factory=set)
    """Places of controls that a slip was once suspected of, and that stood as asked."""
    slipped: Asked | None = None
    """The last move as it was asked for, and by how many steps it went elsewhere."""
    wish: Interrupt | None = None
    """What a person wished while colours were read."""
    ramps: tuple[Ramp, ...] = ()
    ramp: Ramp | None = None
    """Ramps that were read, and the one that is being read."""
    _reckoned: tuple[Array, Array] | None = None

    @classmethod
    def begin(cls, plan: ManagePlan) -> "ManageSession":
        weights = weights_of(plan)
        planner = ColourPlanner(
            plan.target, weights, least_gain(plan), formula=plan.formula, luminance=plan.held_to(1.0)
        )
        xyz, sd, since = *np.zeros((2, len(weights), 3)), np.zeros((len(weights), len(plan.controls)))
        session = cls(plan, planner, Belief.prior(plan.controls), plan.controls, xyz, sd, since)
        if plan.known is not None:
            session.black = plan.known.black
            rows = {sample.signal: row for row, sample in enumerate(plan.samples)}
            for signal, each, its_sd in zip(plan.known.signals, plan.known.xyz, plan.known.sd, strict=True):
                if signal in rows:
                    xyz[rows[signal]], sd[rows[signal]] = each, its_sd
        return session

    def leave_light_out(self) -> None:
        """Judge colours by hue and saturation alone from now on."""
        self.plan = replace(self.plan, light=False)
        self.planner = replace(self.planner, formula=self.plan.formula)

    @property
    def stale(self) -> list[int]:
        """Rows of samples that were not read after the last move that they may have felt, or not yet."""
        return [row for row in self.plan.read if self.since[row].any() or not self.sd[row].any()]

    def felt(self, rows: list[int], steps: Array) -> None:
        """Note that colours by row, and white, have felt `steps` (controls,) since they were read."""
        self.since[[*rows, -1]] += steps
        self._reckoned = None

    @property
    def read_so(self) -> Kept:
        """What was read at the settings as they are."""
        read = np.asarray(~self.since.any(axis=1) & self.sd.any(axis=1))
        return Kept(self.xyz.copy(), self.sd.copy(), read, self.since.copy(), len(self.belief.told))

    def keep(self) -> None:
        """Remember how it reads here, to see on the way back that it is the same."""
        self.kept[self.controls] = self.read_so

    def stands_as_kept(self, controls: tuple[ControlState, ...], kept: Kept) -> None:
        """Note that controls stand again where colours were read, as they were kept."""
        self.controls = controls
        self.xyz, self.sd, self.since = kept.xyz.copy(), kept.sd.copy(), kept.since.copy()
        self._reckoned = None

    def read_as_it_is(self, signal: tuple[float, float, float]) -> tuple[Array, Array] | None:
        """XYZ and deviation of a colour by its signals, in cd/m²; None where it was not read since it moved."""
        rows = [row for row in self.plan.read if self.plan.samples[row].signal == signal]
        if not rows or rows[0] in self.stale or self.white is None:
            return None
        held = self.plan.held_to(self.white.Y)
        return self.xyz[rows[0]] * held, self.sd[rows[0]] * held

    @property
    def colours(self) -> ColourPass:
        """The saturations as they are by now, as far as they were read."""
        assert self.white is not None
        white, plan = self.white.Y, self.plan
        rows = [row for row in plan.read if self.sd[row].any()]
        told = tuple(plan.samples[row] for row in rows)
        xyz, sd = (each[rows] * plan.held_to(white) for each in self._by_now())
        errors = plan.errors([sample.signal for sample in told], xyz, white, self.black, sd)
        return ColourPass(told, xyz, sd, errors, self.white.xyz, self.white.sd, self.black, 0.0, plan.leading)

    def _by_now(self) -> tuple[Array, Array]:
        """XYZ of the samples and of white with standard deviations: as read, or as they should be after moves."""
        if not self.since.any():
            return self.xyz, self.sd
        if self._reckoned is None:
            to_xyz, at = self.plan.target.gamut.xyz_matrix.T, self.wanted
            xyz = self.xyz + self.belief.change(at, self.since) @ to_xyz
            variance = self.belief.variance(at, self.since) @ to_xyz**2
            self._reckoned = xyz, np.sqrt(self.sd**2 + variance)
        return self._reckoned

    @property
    def doubts(self) -> Array:
        """How far the samples and white may be off from what they are reckoned to be, in ΔE 2000, (n,)."""
        xyz, sd = self._by_now()
        off = delta_e_2000(xyz + np.eye(3)[:, None] * sd, xyz, self.plan.target.white.xyz())
        return np.asarray(np.linalg.norm(off, axis=0))

    @cached_property
    def lights(self) -> Array:
        """Luminance of the samples and of white against white's, (n,)."""
        return np.asarray(self.wanted @ self.plan.target.gamut.xyz_matrix[1])

    @cached_property
    def wanted(self) -> Array:
        """Linear light of the samples and of white that the signal asks for, (n, 3)."""
        white = 3 * (self.plan.white_patch.percent,)
        return self.plan.linear([*(sample.signal for sample in self.plan.samples), white])

    @property
    def seen(self) -> Seen:
        """The colours, and white last: it is to stay as it was before anything was turned."""
        assert self.white is not None
        plan, held = self.plan, self.plan.held_to(self.white.Y)
        first = self.white if self.first_white is None else self.first_white
        colours = plan.wanted([sample.signal for sample in plan.samples], self.white.Y, self.black)
        wanted = np.vstack([colours, first.xyz * (held / first.Y)])
        xyz = np.vstack([self._by_now()[0][:-1], self.xyz[-1]]) * held
        return Seen.of(xyz, wanted, held, plan.target)

    def read(self, told: Mapping[int, Reading], asked: Asked | None = None) -> str:
        """Note what samples and white, by row, were read as, and learn what was turned since they were read.

        `asked`: the move before, where a person made it. Returns what to say of a slip, or nothing.
        """
        assert self.white is not None
        rows = sorted(told)
        # White, the last, is held against itself: its cast counts.
        held = np.full((len(rows), 1), self.plan.held_to(self.white.Y))
        if reads_white := rows[-1] == len(self.xyz) - 1:
            held[-1] = self.white.Y
        xyz, sd = (np.array([each(told[row]) for row in rows]) / held for each in (_xyz, _sd))
        felt = [at for at, row in enumerate(rows) if self.since[row].any()]
        slip = ""
        if felt:
            back, turned = self.plan.target.gamut.rgb_matrix.T, [rows[at] for at in felt]
            change = (xyz[felt] - self.xyz[turned]) @ back
            variance = (sd[felt] ** 2 + self.sd[turned] ** 2) @ back**2
            seen = Observation(self.wanted[turned], self.since[turned], change, variance)
            if asked is not None:
                slip = self._turned_by_hand(asked, seen)
                seen = replace(seen, steps=self.since[turned])
            before, self.belief = self.belief, self.belief.learn(seen)
            if reads_white:
                xyz[-1], sd[-1] = self._white_believed(before, xyz[-1], sd[-1])
        self.xyz[rows], self.sd[rows], self.since[rows] = xyz, sd, 0.0
        self._reckoned = None
        if self.first_white is not None:
            self.planner = replace(self.planner, white_may=max(_WHITE_MAY, _SIGMAS * self.white_noise))
        return slip

    def _turned_by_hand(self, asked: Asked, seen: Observation) -> str:
        """Note where the controls really stood before a move, and stand now; returns what to say of a slip."""
        steps = asked.steps
        if asked.off.any():
            off = stood_so(self.belief.best, asked, seen)
            self._take_back(steps, off)
            seen = replace(seen, steps=np.where(seen.steps == steps, seen.steps - off, seen.steps))
            steps = steps - off
        if not asked.slips:
            if self.slipped is not None and asked.right.any():
                self._hand_was_right(self.slipped, asked.right)
            self.slipped = None
            return ""
        stood = moved(self.controls, -steps)
        judged = judge_turning(self.belief.best, stood, steps, seen, self.plan.controls)
        if {judged.control, judged.instead} & self.doubted:
            judged = Judgement(None, steps, np.zeros(0))
        off = np.zeros(len(steps)) + judged.off
        self._take_back(steps, off)
        self._slipped(off + judged.steps - steps)
        self.slipped = replace(asked, steps=steps, off=steps - judged.steps - off)
        return guard_words(judged, stood, steps)

    def _hand_was_right(self, slipped: Asked, right: Mask) -> None:
        """Note that controls stand as asked, though another turn was seen.

        One that was never turned before was noted wrong: what came tells from where it went. Of the others less is
        known than was believed, and no slip of them is spoken of again.
        """
        before = [control.value for control in moved(self.controls, -slipped.steps)]
        untouched = np.array([was == each.value for was, each in zip(before, self.plan.controls, strict=True)])
        self._take_back(slipped.steps, np.where(right & untouched, slipped.off, 0.0))
        self.doubted.update(map(int, np.flatnonzero(right & ~untouched)))

    def _take_back(self, steps: Array, off: Array) -> None:
        """Note that the controls stood `off` (controls,) steps elsewhere before they last went `steps`."""
        self.since = np.where(self.since == steps, self.since - off, self.since)
        self.stood_elsewhere(moved(self.controls, -steps), off)
        self._reckoned = None

    def stood_elsewhere(self, noted: tuple[ControlState, ...], off: Array) -> None:
        """Note that controls stood `off` steps (controls,) elsewhere than `noted` when read, or found."""
        corrected = partial(_corrected, noted=[control.value for control in noted], off=off)
        self.kept = {corrected(controls): kept for controls, kept in self.kept.items()}
        self.plan = replace(self.plan, controls=corrected(self.plan.controls))
        if self.best is not None:
            self.best = self.best[0], corrected(self.best[1])

    def _slipped(self, off: Array) -> None:
        """Note that controls stand by so many steps (controls,) otherwise than asked."""
        if off.any():
            self.controls = moved(self.controls, off)
            self.since += off
            self._reckoned = None

    @property
    def suspected(self) -> Oddity | None:
        """What a control seems to be, where it should be tried alone; None by hand, where a slip is likelier."""
        if self.plan.by_hand or self.belief.odd is not None or self.belief.surprise < _SURPRISING:
            return None
        odd, odds = self.belief.suspected()
        return odd if odds > _SUSPECTED and odd not in self.tried else None

    def proven(self, odd: Oddity) -> bool:
        """Whether a control, tried alone, was seen to be as suspected; it is taken to be so from now on."""
        found, odds = self.belief.suspected()
        if found != odd or odds < _PROVEN:
            return False
        self.belief, self._reckoned = self.belief.under(odd), None
        return True

    def _white_believed(self, belief: Belief, xyz: Array, sd: Array) -> tuple[Array, Array]:
        """White as read, weighed with what was expected of it: XYZ against its luminance and spread, (3,)."""
        to_xyz, at, steps = self.plan.target.gamut.xyz_matrix.T, self.wanted[-1:], self.since[-1:]
        expected = self.xyz[-1] + (belief.change(at, steps) @ to_xyz)[0]
        expected = expected / expected[1]
        doubt = self.sd[-1] ** 2 + (belief.variance(at, steps) @ to_xyz**2)[0] + _WANDER**2
        share = doubt / (doubt + sd**2)
        return expected + share * (xyz - expected), sd * np.sqrt(share)

    def white_from(self, xyz: Array, sd: Array) -> tuple[float, float]:
        """ΔE 2000 between the cast of white now and XYZ (3,) with its spreads, and what noise makes of that."""
        told = np.vstack([self.xyz[-1], xyz + np.diag(np.hypot(sd, self.sd[-1]))])
        off, *noise = delta_e_2000(told, xyz, self.plan.target.white.xyz(), light=False)
        return float(off), float(np.linalg.norm(noise))

    @property
    def white_moved(self) -> float:
        """ΔE 2000 between the cast of white now and before anything was turned."""
        return self._from_first[0]

    @property
    def white_noise(self) -> float:
        """What noise makes of that, ΔE 2000, as a standard deviation."""
        return self._from_first[1]

    @property
    def _from_first(self) -> tuple[float, float]:
        assert self.first_white is not None
        return self.white_from(self.first_white.xyz / self.first_white.Y, self.first_white.sd / self.first_white.Y)

    @property
    def grey_worse(self) -> float:
        """ΔE 2000 by which the cast of a darker grey is worse than before anything was turned, noise taken off.

        It need not follow white: multi-point may have sent it to the colour management with a cast of its own.
        """
        if self.grey is None or self.first_grey is None or self.white is None:
            return 0.0
        target = self.plan.target.white.xyz()

        def cast(reading: Reading, xyz: Array) -> float:
            at = xyz / self.plan.held_to(self.white.Y if self.white is not None else reading.Y)
            return float(delta_e_2000(at, target * at[1], target, light=False))

        now, first = (cast(each, each.xyz) for each in (self.grey, self.first_grey))
        noise = [
            cast(each, each.xyz + axis) - told
            for each, told in ((self.grey, now), (self.first_grey, first))
            for axis in np.diag(each.sd)
        ]
        return max(0.0, now - first - _SIGMAS * float(np.linalg.norm(noise)))

    def score(self) -> float:
        """What the colours come to; less is better. A grey that pays for them counts."""
        seen = self.seen
        paid = max(0.0, self.grey_worse - _GREY_MAY)
        return float(self.planner.score(seen.linear, seen.wanted)) + _GREY_COUNTS * paid

    def average(self) -> float:
        """Weighted average ΔE of the colours."""
        return self.plan.formula.unit * float(np.average(self.errors, weights=self.planner.weights[:-1]))

    def everyday(self) -> float | None:
        """Average ΔE of the everyday colours, as they are reckoned to be; None where none is known."""
        rows = [row for row, sample in enumerate(self.plan.samples) if sample.is_everyday]
        return self.plan.formula.unit * float(self.errors[rows].mean()) if rows else None

    @property
    def errors(self) -> Array:
        """ΔE of each colour that counts, by what counts of it, in units of a ΔE 2000, (n,)."""
        seen = self.seen
        return np.asarray(self.planner.errors(seen.linear, seen.wanted)[:-1])

    def state(self, proposed: Move | None = None, words: str = "") -> Managed:
        why = self._why(proposed) if proposed is not None and proposed.expected is not None else ""
        everyday = self.everyday()
        both = None if everyday is None else (self.everyday_found, everyday)
        trips, found = tuple(self.trips), self.found[1]
        managed = Managed(self.colours, self.controls, trips, found, proposed, why, words, both)
        return replace(
            managed, ramps=self.ramps, ramp=self.ramp, average=self.average(), formula=self.plan.formula
        )

    def _why(self, move: Move) -> str:
        names = [sample.name for sample in self.plan.samples]
        return explain(self.planner, self.seen, self.belief, self.controls, move, names)


def _corrected(controls: tuple[ControlState, ...], noted: list[int], off: Array) -> tuple[ControlState, ...]:
    """The controls, `off` steps elsewhere where they were held to stand as noted."""
    same = [control.value == value for control, value in zip(controls, noted, strict=True)]
    return moved(controls, np.where(same, off, 0.0))


def _xyz(reading: Reading) -> Array:
    return reading.xyz


def _sd(reading: Reading) -> Array:
    return reading.sd
