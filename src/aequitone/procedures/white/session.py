"""Where white balance stands: what was turned and read, and how a setting is looked at."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from aequitone.advice.moves import ControlState, Move, moved
from aequitone.advice.points.drive import drives
from aequitone.advice.roles import TWO_POINT
from aequitone.advice.two_point.explanation import explain
from aequitone.advice.two_point.guards import Judgement
from aequitone.advice.two_point.level_readings import Seen
from aequitone.advice.two_point.mover import Mover
from aequitone.advice.two_point.notes import SURE_OF_A_NOTE, wrong_note
from aequitone.advice.two_point.responses import Responses
from aequitone.advice.two_point.wiring import NAMED, WIRINGS, MoveMade, Wired, Wiring, evidence_of
from aequitone.advice.two_point.words import surprise_words
from aequitone.colorimetry import Formula
from aequitone.colorimetry.arrays import Array, Mask
from aequitone.procedures.policy import WANTED_DE, WEIGHED_DE, target_policy
from aequitone.procedures.steps import Interrupt, Procedure, Purpose, Read, Reading, Show
from aequitone.procedures.white.plan import WhitePlan
from aequitone.reference import Target
from aequitone.signal import grey_patch


@dataclass(frozen=True)
class Trip:
    """A move as made, and what came of it: ΔE as it was read."""

    move: Move
    worst_before: float
    worst_after: float
    worst_sd: float
    surprise: str = ""


@dataclass(frozen=True)
class WhiteState:
    """Where adjusting stands: for the window, after every round of readings."""

    percents: tuple[float, float, float]
    xyz: Array
    """What is believed of the three levels, from their readings and from what was expected of them, cd/m²."""
    sd: Array
    errors: tuple[float, float, float]
    """ΔE by the plan's formula."""
    clipped: tuple[bool, bool, bool]
    """Channels that no longer rise at 100 %."""
    worst: float
    worst_sd: float
    controls: tuple[ControlState, ...]
    trips: tuple[Trip, ...]
    responses: Responses
    """What the controls are believed to do by now."""
    proposed: Move | None = None
    why: str = ""
    """Why that move."""
    formula: Formula = Formula.DE2000
    black: float | None = None
    """Luminance of 0 %, cd/m², on which the target stands: biases may move it. None: of an earlier version."""


# So many slips of one hand in one sitting may be none.
_SLIPS_IN_DOUBT = 2


@dataclass
class WhiteSession:
    """The running state of one adjusting; known to the generator alone."""

    plan: WhitePlan
    mover: Mover
    controls: tuple[ControlState, ...]
    prior: Responses
    """What the controls are expected to do before anything was turned."""
    wired: Wired
    """What they really are and do, as far as that is known."""
    turns: list[MoveMade] = field(default_factory=list)
    asked: tuple[ControlState, ...] = ()
    """Where the controls stand if everything was turned as it was asked for."""
    as_asked: list[MoveMade] = field(default_factory=list)
    """The turns of a person, taken to have been made as asked."""
    noted_so: bool = False
    """Whether a control was found to have been noted wrong."""
    _before_note: tuple[int, list[MoveMade], tuple[float, tuple[ControlState, ...]] | None] | None = None
    """The column of a control that the last turn showed to be noted wrong; turns and best setting before that."""
    noted_right: set[int] = field(default_factory=set)
    """Columns of controls that were taken to be noted wrong, and were not."""
    mishaps: int = 0
    """Turns that were taken for slips of a hand."""
    rewired: bool = False
    """Whether what looked like slips is taken to be the screen's own way."""
    _before_doubt: tuple[list[MoveMade], tuple[ControlState, ...]] = field(default_factory=lambda: ([], ()))
    """The turns and the controls as they were believed before that."""
    tried: list[Wiring] = field(default_factory=list)
    """What a control was suspected of and tried alone for."""
    seen: Seen | None = None
    trips: list[Trip] = field(default_factory=list)
    best: tuple[float, tuple[ControlState, ...]] | None = None
    fruitless: int = 0
    """Trips since the best setting was bettered."""
    began_again: bool = False
    """Whether it has gone on from how grey read, as the record of the controls was wrong."""
    went_on: bool = False
    """Whether it went on once, as grey was not right any more after light was set."""
    looks: int = 0
    """Rounds of readings averaged in `seen`; 0 right after a turn."""

    @classmethod
    def begin(cls, plan: WhitePlan) -> "WhiteSession":
        """Begin with what such controls usually do."""
        mover = Mover(plan.target, plan.bright, plan.dark, plan.black, plan.stop_at, plan.formula)
        driven = None
        if plan.target.tone.absolute:
            bright, dark = drives(plan.target, np.array([plan.bright, plan.dark]), plan.white)
            driven = (float(bright), float(dark))
        prior = Responses.prior(plan.controls, plan.technology, driven)
        return cls(plan, mover, plan.controls, prior, Wired(NAMED, 1.0, prior), asked=plan.controls)

    def begin_here(self) -> None:
        """Take grey as it reads now for the start, and nothing as learnt: where controls stood was noted wrong."""
        self.began_again, self.noted_so, self.rewired, self.mishaps = True, False, False, 0
        self.turns, self.as_asked, self.asked = [], [], self.controls
        self.wired, self.best, self.fruitless = Wired(NAMED, 1.0, self.prior), None, 0
        remember(self)

    @property
    def responses(self) -> Responses:
        """What a step of each control does, as learnt."""
        return self.wired.responses

    def learn(self, stood: tuple[ControlState, ...], steps: Array, change: Array, variance: Array) -> None:
        """Learn from a move of `steps` (6,) from where the controls stood; see `Responses.learn`."""
        self.turns.append(MoveMade(stood, steps, change, variance))
        self._before_note = None
        self._learn_anew()

    def _learn_anew(self) -> None:
        """Learn from all turns so far."""
        # What a person has turned is told from slips (`guards`); what a link has turned was turned.
        self.wired = Wired.learnt(self.prior, self.turns, named=self.plan.by_hand and not self.rewired)

    def note_kept(self, move: Move) -> None:
        """Note how far the screen, as read now, kept to what was foretold of a move."""
        assert self.seen is not None
        if move.expected is not None:
            surprises = self.mover.surprises.with_trip(move.expected, self.mover.worst(self.seen))
            self.mover = replace(self.mover, surprises=surprises)

    def leave_alone(self, column: int) -> None:
        """Take a control for one that does nothing: light did not follow it, asked for twice."""
        self.prior = self.prior.without(column)
        self._learn_anew()

    def note_asked(self, move: Move, change: Array, variance: Array) -> None:
        """Note a move as it was asked for, which names where a control is to stand, and what came of it."""
        stood = self.asked
        to = {each.role: each.to_value for each in move.changes}
        self.asked = tuple(replace(each, value=to.get(each.role, each.value)) for each in stood)
        steps = np.array([(a.value - b.value) / b.step for a, b in zip(self.asked, stood, strict=True)])
        if steps.any():
            self.as_asked.append(MoveMade(stood, steps, change, variance))

    def take_back(self, stood: tuple[ControlState, ...], off: Array) -> None:
        """Note that controls taken to stand at `stood` stood `off` (6,) steps elsewhere since they were turned."""
        if self._before_note is not None and off[self._before_note[0]]:
            # It was not where the last turn should have left it: that went astray, and the note was right.
            column, turns, self.best = self._before_note
            # A copy that supposes the same must not correct them twice.
            self.turns = list(turns)
            self.noted_right.add(column)
            self.noted_so, self._before_note = False, None
        for column in map(int, np.flatnonzero(off)):
            for turns in (self.turns, self.as_asked):
                _take_back(turns, column, float(off[column]))
        self.asked = _stood_elsewhere(self.asked, stood, off)
        if self.best is not None:
            self.best = self.best[0], _stood_elsewhere(self.best[1], stood, off)

    def supposing(self, off: Array) -> "WhiteSession":
        """Copy it as it would be, had the controls stood `off` (6,) steps elsewhere when grey was read last."""
        there = replace(
            self,
            turns=list(self.turns),
            as_asked=list(self.as_asked),
            noted_right=set(self.noted_right),
        )
        there.believe(off)
        return there

    def believe(self, off: Array) -> None:
        """Take the controls to have stood `off` (6,) steps elsewhere when grey was read last, as a person said."""
        stood, self.controls = self.controls, moved(self.controls, off)
        self.take_back(stood, off)
        self._learn_anew()

    def noted_wrong(self, stood: tuple[ControlState, ...], off: Array) -> None:
        """Note that controls began the last turn `off` (6,) steps from `stood`: the figure was wrong."""
        for turns, went in ((self.turns, 0.0), (self.as_asked, off)):
            if not turns:
                # A turn to where it had been asked to stand before is none, as asked.
                continue
            last = turns.pop()
            for column in map(int, np.flatnonzero(off)):
                _take_back(turns, column, float(off[column]))
            turns.append(replace(last, stood=moved(last.stood, off), steps=last.steps - went))
        if self.best is not None:
            self.best = self.best[0], _stood_elsewhere(self.best[1], stood, off)

    def doubt_a_note(self, made: MoveMade, judged: Judgement) -> str:
        """Take a control to have been noted wrong where that explains best what came; returns what to say, or "".

        `made`: the last turn as it was asked for, and `judged` what else may have gone wrong with it.
        """
        has_slipped = judged.mishap is not None
        surprise = surprise_words(self.responses, made.steps, made.change, made.variance)
        if self.noted_so or not (has_slipped or surprise):
            return ""
        turns = [*self.turns, made]
        note = wrong_note(self.prior, turns, self.plan.controls)
        others = [evidence_of(way, self.prior, self.as_asked) for way in WIRINGS if way.is_odd]
        if has_slipped:
            slipped = replace(made, steps=judged.steps, change=made.change - judged.bump)
            others.append(evidence_of(NAMED, self.prior, [*self.turns, slipped]) + float(np.log(judged.weight)))
        else:
            others.append(evidence_of(NAMED, self.prior, turns) + SURE_OF_A_NOTE)
        if note is None or note.column in self.noted_right or note.evidence < max(others):
            return ""
        # A menu that lies can look so at first; if it goes on, all is weighed again as it was asked for.
        self._before_note = note.column, turns, self.best
        self.noted_so, self.mishaps = True, self.mishaps + 1
        self.turns = note.corrected(turns)
        self.wired = Wired.learnt(self.prior, self.turns, named=True)
        if self.best is not None:
            off = np.eye(len(TWO_POINT))[note.column] * note.off
            self.best = self.best[0], _stood_elsewhere(self.best[1], self.plan.controls, off)
        return note.words(self.plan.controls)

    def hand_was_right(self, began: tuple[ControlState, ...], asked: Array, came: Array, right: Mask) -> None:
        """Note that the last turn, from `began`, left controls where it was to, though `came` (6,) was seen.

        One that was never turned before was noted wrong; of the others less is known than was believed.
        """
        untouched = np.array([not any(turn.steps[column] for turn in self.turns[:-1]) for column in range(6)])
        self.turns[-1] = replace(self.turns[-1], steps=np.where(right & ~untouched, asked, self.turns[-1].steps))
        if (right & untouched).any():
            self.noted_wrong(began, np.where(right & untouched, asked - came, 0.0))

    def suspect_the_screen(self) -> bool:
        """Whether a wiring explains all that looked like slips, every turn taken as it was asked for.

        One slip is a slip; a hand that is told to have slipped again may be right, and the menu wrong. The
        controls are then taken to stand as asked, and what they are is learnt anew.
        """
        self.mishaps += 1
        if self.rewired or self.mishaps < _SLIPS_IN_DOUBT:
            return False
        told = Wired.learnt(self.prior, self.as_asked)
        if not told.is_suspected:
            return False
        self._before_doubt = self.turns, self.controls
        self.rewired, self.turns, self.controls, self.wired = True, list(self.as_asked), self.asked, told
        # Where the best setting lies was believed wrongly.
        self.best = None
        return True

    def trust_the_menu(self, trial: MoveMade) -> None:
        """Go back to the slips: a control that was tried alone is as named, and stands where that left it."""
        turns, stood = self._before_doubt
        turned = np.flatnonzero(trial.steps)
        self.rewired, self.turns = False, list(turns)
        self.controls = tuple(self.controls[i] if i in turned else each for i, each in enumerate(stood))
        self.learn(trial.stood, trial.steps, trial.change, trial.variance)
        # What was remembered meanwhile is of other settings than it was taken for.
        self.best = None

    def state(self, proposed: Move | None = None) -> WhiteState:
        assert self.seen is not None
        white, bright, dark = (float(value) for value in self.mover.errors(self.seen.xyz))
        red, green, blue = (bool(value) for value in self.seen.clipped)
        return WhiteState(
            (100.0, self.plan.bright, self.plan.dark),
            self.seen.xyz,
            self.seen.sd,
            (white, bright, dark),
            (red, green, blue),
            self.mover.worst(self.seen),
            self.mover.doubt(self.seen),
            self.controls,
            tuple(self.trips),
            self.responses,
            proposed,
            explain(self.mover, self.seen, self.responses, self.controls, proposed) if proposed else "",
            self.plan.formula,
            self.mover.black,
        )


def look(session: WhiteSession, *, rough: bool = False) -> Procedure[None]:
    """Read 100 %, bright and dark; average with earlier looks at the same setting; remember the best."""
    plan = session.plan
    white = plan.white if session.seen is None else float(session.seen.xyz[0, 1])
    # The first look only says which way to go; every later one may be the last.
    close = session.seen is not None and not rough
    readings: list[Reading] = []
    for percent in (100.0, plan.bright, plan.dark):
        patch = grey_patch(percent, plan.format)
        wanted = float(plan.target.grey(percent, white)[1])
        wanted_de = WEIGHED_DE if close and percent < 100.0 else WANTED_DE
        policy = target_policy(plan.target, wanted, white, wanted_de)
        yield Show(patch, together=bool(readings))
        readings.append((yield Read(patch, policy, Purpose.ADJUST)))
    fresh = seen_of(readings, plan.target)
    if session.seen is not None:
        fresh = replace(fresh, known=session.seen.clips_at, proven=session.seen.reached)
    session.seen = _averaged(session.seen, fresh) if session.seen and session.looks else fresh
    session.looks += 1
    remember(session)


def remember(session: WhiteSession) -> None:
    """Keep the best setting, as it is seen now."""
    assert session.seen is not None
    score = session.mover.score(session.seen)
    if session.best is None or session.best[1] == session.controls or score < session.best[0]:
        session.best, session.fruitless = (score, session.controls), 0


def _averaged(before: Seen, fresh: Seen) -> Seen:
    """Two looks at the same setting, each weighted by its precision."""
    first, second = before.sd**-2.0, fresh.sd**-2.0
    xyz = (before.xyz * first + fresh.xyz * second) / (first + second)
    return replace(fresh, xyz=xyz, sd=(first + second) ** -0.5)


def seen_of(readings: Sequence[Reading], target: Target) -> Seen:
    """What readings of 100 %, the bright and the dark level say."""
    xyz, sd = np.array([each.xyz for each in readings]), np.array([each.sd for each in readings])
    return Seen(xyz, sd, gamut=target.container)


def _take_back(turns: list[MoveMade], column: int, off: float) -> None:
    """Correct the last turn of a control, which went `off` steps elsewhere, and where it stood at later ones."""
    by = np.eye(len(TWO_POINT))[column] * off
    for at in range(len(turns) - 1, -1, -1):
        turn = turns[at]
        if turn.steps[column]:
            turns[at] = replace(turn, steps=turn.steps + by)
            return
        turns[at] = replace(turn, stood=moved(turn.stood, by))


def _stood_elsewhere(
    controls: tuple[ControlState, ...], stood: tuple[ControlState, ...], off: Array
) -> tuple[ControlState, ...]:
    """Controls as they were noted, corrected by `off` (6,) steps where they were noted as at `stood`."""
    same = [each.value == was.value for each, was in zip(controls, stood, strict=True)]
    return moved(controls, np.where(same, off, 0.0))


def looked_whatever_comes(session: WhiteSession, *, anew: bool = True) -> Procedure[None]:
    """Read the levels, after a turn (`anew`) or once more: its round of readings is not given up for a wish."""
    session.looks = 0 if anew else session.looks
    before = session.looks
    while session.looks == before:
        try:
            yield from look(session)
        except Interrupt:
            continue
