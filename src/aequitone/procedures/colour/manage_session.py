"""Where a colour management stands: its plan, what was turned and read, what is believed of every saturation."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from aequitone.advice.colours import Belief, ColourPlanner, Observation, Oddity, Seen, explain, judge_turning
from aequitone.advice.moves import ControlState, Move, moved
from aequitone.advice.roles import is_of_colours
from aequitone.advice.two_point.guards import Judgement
from aequitone.colorimetry import delta_e_2000
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.colour.colour_pass import ColourPass
from aequitone.procedures.colour.samples import Length, Sample, samples
from aequitone.procedures.policy import seen_black
from aequitone.procedures.steps import Interrupt, Reading
from aequitone.reference import Target, colour_errors
from aequitone.signal import SignalFormat

# ΔE 2000 that white's cast may move without weighing on what is best, if its readings tell as little.
_WHITE_MAY, _SIGMAS = 0.1, 1.5
# How far X and Z of white wander by themselves between two looks, against its luminance.
_WANDER = 0.0004
# White, and pale colours, are where people look.
_WHITE_WEIGHT = 14.0
_WEIGHTS = {25.0: 1.15, 50.0: 1.15, 75.0: 0.95, 100.0: 0.75}
# ΔE a minute of trips and readings, of average and worst together.
WORTH_A_MINUTE = 0.09
A_READING_SECONDS = 2.2
# Odds above which a control is tried alone, and above which the trial has proven what it does.
_SUSPECTED, _PROVEN = 20.0, 200.0
# What was seen lies so far from what was expected that a control may be odd; about 1 is usual.
_SURPRISING = 1.2


@dataclass(frozen=True)
class ManagePlan:
    """What is wanted, and the controls of the colour management as they stand."""

    target: Target
    format: SignalFormat
    controls: tuple[ControlState, ...]
    level: float = 75.0
    """The highest signal of the colours that are read, in %."""
    by_hand: bool = False
    """Whether a person turns the controls: then as few colours a trip as are worth the way."""
    trip_seconds: float = 1.0

    def __post_init__(self) -> None:
        if not self.controls or not all(is_of_colours(control.role) for control in self.controls):
            raise ValueError("a colour management has controls of its own and no others")

    @property
    def samples(self) -> tuple[Sample, ...]:
        """The colours that are read: four saturations of each of the six."""
        return tuple(
            each for each in samples(Length.USUAL, self.level, self.target.container) if not each.is_everyday
        )


@dataclass(frozen=True)
class ColourTrip:
    """A move as made, and what came of it: weighted average ΔE 2000 of the saturations."""

    move: Move
    before: float
    after: float
    sd: float
    surprise: str = ""


@dataclass(frozen=True)
class Managed:
    """Where it stands, or how it ended."""

    colours: ColourPass
    """The saturations as they were read last."""
    controls: tuple[ControlState, ...]
    trips: tuple[ColourTrip, ...] = ()
    found: float = 0.0
    """Average ΔE 2000 before anything was turned."""
    proposed: Move | None = None
    why: str = ""
    """Why that move."""
    words: str = ""


@dataclass
class ManageSession:
    """The running state of one adjusting; known to the generator alone."""

    plan: ManagePlan
    planner: ColourPlanner
    belief: Belief
    controls: tuple[ControlState, ...]
    xyz: Array
    """Of the samples and of white, the last, as they were read, against white's luminance, (n, 3)."""
    sd: Array
    since: Array
    """Steps of each control since each was read, (n, controls)."""
    white: Reading | None = None
    first_white: Reading | None = None
    black: Reading | None = None
    trips: list[ColourTrip] = field(default_factory=list)
    best: tuple[float, tuple[ControlState, ...]] | None = None
    found: tuple[float, float] = (0.0, 0.0)
    """Score and weighted average before anything was turned."""
    failed: int = 0
    tried: list[Oddity] = field(default_factory=list)
    """What a control was suspected of and tried alone for."""
    wish: Interrupt | None = None
    """What a person wished while colours were read."""

    @classmethod
    def begin(cls, plan: ManagePlan) -> "ManageSession":
        weights = np.array([*(_WEIGHTS[sample.saturation] for sample in plan.samples), _WHITE_WEIGHT])
        planner = ColourPlanner(plan.target, weights / weights.mean(), _least_gain(plan))
        xyz, since = np.zeros((2, len(weights), 3)), np.zeros((len(weights), len(plan.controls)))
        return cls(plan, planner, Belief.prior(plan.controls), plan.controls, xyz[0], xyz[1], since)

    @property
    def stale(self) -> list[int]:
        """Rows of samples that were not read after the last move that they may have felt, or not yet."""
        return [row for row in range(len(self.plan.samples)) if self.since[row].any() or not self.sd[row].any()]

    @property
    def colours(self) -> ColourPass:
        """The colours as they are by now."""
        assert self.white is not None and self.black is not None
        white, plan = self.white.Y, self.plan
        signal = np.array([sample.signal for sample in plan.samples]) / 100.0
        black = seen_black(self.black.Y, self.black.sd_Y)
        xyz, sd = (each[:-1] * white for each in self._by_now())
        errors = colour_errors(signal, xyz, plan.target, white=white, black=black, sd=sd)
        return ColourPass(plan.samples, xyz, sd, errors, self.white.xyz, self.white.sd, black, 0.0)

    def _by_now(self) -> tuple[Array, Array]:
        """XYZ of the samples and of white with standard deviations: as read, or as they should be after moves."""
        if not self.since.any():
            return self.xyz, self.sd
        to_xyz, at = self.plan.target.gamut.xyz_matrix.T, self.wanted
        xyz = self.xyz + self.belief.change(at, self.since) @ to_xyz
        return xyz, np.sqrt(self.sd**2 + self.belief.variance(at, self.since) @ to_xyz**2)

    @cached_property
    def lights(self) -> Array:
        """Luminance of the samples and of white against white's, (n,)."""
        return np.asarray(self.wanted @ self.plan.target.gamut.xyz_matrix[1])

    @cached_property
    def wanted(self) -> Array:
        """Linear light of the samples and of white that the signal asks for, (n, 3)."""
        target = self.plan.target
        signal = np.array([*(sample.signal for sample in self.plan.samples), (100.0, 100.0, 100.0)]) / 100.0
        return np.asarray(target.colour(signal, 1.0) @ target.gamut.rgb_matrix.T)

    @property
    def seen(self) -> Seen:
        """The saturations, and white last: it is to stay as it was before anything was turned."""
        colours = self.colours
        first, white = self.first_white, float(colours.white[1])
        kept = colours.white if first is None else first.xyz * (white / first.Y)
        xyz = np.vstack([colours.xyz, self.xyz[-1] * white])
        return Seen.of(xyz, np.vstack([colours.errors.target, kept]), white, self.plan.target)

    def read(self, told: Mapping[int, Reading], asked: Array | None = None) -> Judgement | None:
        """Note what samples and white, by row, were read as, and learn what was turned since they were read.

        `asked` (controls,): steps of the move before, where a person made it; what is believed of it is returned.
        """
        assert self.white is not None
        rows = sorted(told)
        xyz, sd = (np.array([each(told[row]) for row in rows]) / self.white.Y for each in (_xyz, _sd))
        felt = [at for at, row in enumerate(rows) if self.since[row].any()]
        judged = None
        if felt:
            back, turned = self.plan.target.gamut.rgb_matrix.T, [rows[at] for at in felt]
            change = (xyz[felt] - self.xyz[turned]) @ back
            variance = (sd[felt] ** 2 + self.sd[turned] ** 2) @ back**2
            seen = Observation(self.wanted[turned], self.since[turned], change, variance)
            if asked is not None:
                stood = moved(self.controls, -asked)
                judged = judge_turning(self.belief.best, stood, asked, seen)
                self._slipped(judged.steps - asked)
                seen = replace(seen, steps=self.since[turned])
            before, self.belief = self.belief, self.belief.learn(seen)
            xyz[-1], sd[-1] = self._white_believed(before, xyz[-1], sd[-1])
        self.xyz[rows], self.sd[rows], self.since[rows] = xyz, sd, 0.0
        if self.first_white is not None:
            self.planner = replace(self.planner, white_may=max(_WHITE_MAY, _SIGMAS * self.white_noise))
        return judged

    def _slipped(self, off: Array) -> None:
        """Note that controls stand by so many steps (controls,) otherwise than asked."""
        if off.any():
            self.controls = moved(self.controls, off)
            self.since += off

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
        self.belief = self.belief.under(odd)
        return True

    def _white_believed(self, belief: Belief, xyz: Array, sd: Array) -> tuple[Array, Array]:
        """White as read, weighed with what was expected of it: XYZ against its luminance and spread, (3,)."""
        to_xyz, at, steps = self.plan.target.gamut.xyz_matrix.T, self.wanted[-1:], self.since[-1:]
        expected = self.xyz[-1] + (belief.change(at, steps) @ to_xyz)[0]
        expected = expected / expected[1]
        doubt = self.sd[-1] ** 2 + (belief.variance(at, steps) @ to_xyz**2)[0] + _WANDER**2
        share = doubt / (doubt + sd**2)
        return expected + share * (xyz - expected), sd * np.sqrt(share)

    @property
    def white_moved(self) -> float:
        """ΔE 2000 between the cast of white now and before anything was turned."""
        now, first = self.xyz[-1], self._white_first
        return float(delta_e_2000(now, first, self.plan.target.white.xyz(), light=False))

    @property
    def white_noise(self) -> float:
        """What noise makes of that, ΔE 2000, as a standard deviation."""
        assert self.first_white is not None
        first, sd = self._white_first, np.hypot(self.first_white.sd / self.first_white.Y, self.sd[-1])
        each = delta_e_2000(first + np.diag(sd), first, self.plan.target.white.xyz(), light=False)
        return float(np.sqrt((each**2).sum()))

    @property
    def _white_first(self) -> Array:
        assert self.first_white is not None
        return self.first_white.xyz / self.first_white.Y

    def score(self) -> float:
        """What the colours come to; less is better."""
        seen = self.seen
        return float(self.planner.score(seen.linear, seen.wanted))

    def average(self) -> float:
        """Weighted average ΔE 2000."""
        return float(np.average(self.colours.errors.de2000, weights=self.planner.weights[:-1]))

    def state(self, proposed: Move | None = None, words: str = "") -> Managed:
        why = self._why(proposed) if proposed is not None and proposed.expected is not None else ""
        return Managed(self.colours, self.controls, tuple(self.trips), self.found[1], proposed, why, words)

    def _why(self, move: Move) -> str:
        names = [sample.name for sample in self.plan.samples]
        return explain(self.planner, self.seen, self.belief, self.controls, move, names)


def _least_gain(plan: ManagePlan) -> float:
    """ΔE, of average and worst together, that a trip must promise."""
    readings = len(plan.samples) / 2.0
    return WORTH_A_MINUTE * (plan.trip_seconds + readings * A_READING_SECONDS) / 60.0


def _xyz(reading: Reading) -> Array:
    return reading.xyz


def _sd(reading: Reading) -> Array:
    return reading.sd
