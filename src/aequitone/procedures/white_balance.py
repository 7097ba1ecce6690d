"""Two-point white balance: read, propose a move, have it turned, read again, learn, until it is right."""

from dataclasses import dataclass, field, replace

import numpy as np

from aequitone.advice.explaining import explain
from aequitone.advice.guards import Mishap, judge
from aequitone.advice.guards import words as guard_words
from aequitone.advice.mover import Mover, Stop
from aequitone.advice.moves import Change, ControlState, Move
from aequitone.advice.oddities import odd
from aequitone.advice.responses import Responses
from aequitone.advice.roles import TWO_POINT, Role
from aequitone.advice.seen import Seen
from aequitone.advice.words import stop_words, surprise_words
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.insisting import insist, nothing
from aequitone.procedures.policy import CLOSER_DE, WANTED_DE, policy_for
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
    StopHere,
    Turn,
    Watch,
)
from aequitone.procedures.watching import Watching, watch
from aequitone.reference import Target
from aequitone.signal import SignalFormat, grey_patch

MOST_TRIPS = 12
# Trips that may fail to better the best setting before it is called the best there is.
_PATIENCE = 4
_UNKNOWN = 1e6


@dataclass(frozen=True)
class WhitePlan:
    """The two levels, what is wanted there, and the six controls as they stand."""

    target: Target
    format: SignalFormat
    controls: tuple[ControlState, ...]
    white: float
    """Luminance of 100 %, cd/m², from the pass before."""
    black: float
    """Luminance of 0 %, cd/m²."""
    bright: float = 80.0
    dark: float = 30.0
    stop_at: float = 0.5
    looks: int = 3
    """Looks at one setting, averaged, before the meter is said to tell no more. A person who types
    readings would type the same again: 1 for a meter by hand."""
    technology: str = ""
    """Of the screen: what its controls are expected to do before the first move."""
    by_hand: bool = False
    """Whether a person turns the controls, and may turn another one or the other way."""

    def __post_init__(self) -> None:
        roles = tuple(control.role for control in self.controls)
        if roles != TWO_POINT:
            raise ValueError(f"white balance needs the controls {', '.join(TWO_POINT)}, in this order")
        if not 0.0 < self.dark < self.bright <= 100.0:
            raise ValueError(f"the dark level {self.dark:g} % must lie below the bright one, {self.bright:g} %")


@dataclass(frozen=True)
class Trip:
    """A move as made, and what came of it."""

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
    sd: Array
    de2000: tuple[float, float, float]
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


@dataclass(frozen=True)
class WhiteResult:
    """How it ended."""

    stop: Stop
    words: str
    state: WhiteState


@dataclass
class _Session:
    """The running state of one adjusting; private to the generator."""

    plan: WhitePlan
    mover: Mover
    controls: tuple[ControlState, ...]
    responses: Responses
    seen: Seen | None = None
    trips: list[Trip] = field(default_factory=list)
    best: tuple[float, tuple[ControlState, ...]] | None = None
    fruitless: int = 0
    """Trips since the best setting was bettered."""
    looks: int = 0
    """Rounds of readings averaged in `seen`; 0 right after a turn."""

    def state(self, proposed: Move | None = None) -> WhiteState:
        assert self.seen is not None
        white, bright, dark = (float(value) for value in self.mover.de2000(self.seen.xyz))
        red, green, blue = (bool(value) for value in self.seen.clipped)
        return WhiteState(
            (100.0, self.plan.bright, self.plan.dark),
            self.seen.xyz,
            self.seen.sd,
            (white, bright, dark),
            (red, green, blue),
            self.mover.worst(self.seen),
            self.mover.worst_sd(self.seen),
            self.controls,
            tuple(self.trips),
            self.responses,
            proposed,
            explain(self.mover, self.seen, self.responses, self.controls, proposed) if proposed else "",
        )


def white_balance(plan: WhitePlan) -> Procedure[WhiteResult]:
    """Bring the two levels to the target; returns a WhiteResult."""
    mover = Mover(plan.target, plan.bright, plan.dark, plan.black, plan.stop_at)
    session = _Session(plan, mover, plan.controls, Responses.prior(plan.controls, plan.technology))
    pending: Procedure[None] = _look(session)
    while True:
        try:
            yield from pending
            pending = nothing()
            if session.looks == 0:
                # A wish came before the setting was ever read.
                yield from _look(session)
            proposal = _propose(session)
            if proposal is Stop.CANNOT_TELL and session.looks < plan.looks:
                pending = _look(session)
                continue
            yield Progress(len(session.trips), len(session.trips) + 1, session.state(_move_of(proposal)))
            if isinstance(proposal, Stop):
                back = _way_back(session)
                if back is not None:
                    yield Note("An earlier setting was better than this one, so the controls go back to it.")
                    yield from _carry_out(session, back)
                return _ended(session, proposal)
            yield from _carry_out(session, proposal)
        except PutBack:
            pending = _put_back(session)
        except ReadAgain:
            pending = _look(session)
        except StopHere:
            if session.seen is not None:
                return _ended(session, Stop.WISHED)
            pending = _look(session)


def _propose(session: _Session) -> Move | Stop:
    assert session.seen is not None
    proposal = session.mover.propose(session.seen, session.responses, session.controls)
    if isinstance(proposal, Move):
        if len(session.trips) >= MOST_TRIPS:
            return Stop.LONG_ENOUGH
        if session.fruitless >= _PATIENCE:
            return Stop.CANNOT_REACH
    return proposal


def _move_of(proposal: Move | Stop) -> Move | None:
    return proposal if isinstance(proposal, Move) else None


def _look(session: _Session) -> Procedure[None]:
    """Read 100 %, bright and dark; average with earlier looks at the same setting; remember the best."""
    plan = session.plan
    white = plan.white if session.seen is None else float(session.seen.xyz[0, 1])
    # The first look only says which way to go; every later one may be the last.
    close = session.seen is not None
    readings: list[Reading] = []
    for percent in (100.0, plan.bright, plan.dark):
        patch = grey_patch(percent, plan.format)
        wanted = float(plan.target.grey(percent, white)[1])
        policy = policy_for(wanted, white, CLOSER_DE if close else WANTED_DE)
        yield Show(patch, together=bool(readings))
        readings.append((yield Read(patch, policy, Purpose.ADJUST)))
    fresh = Seen(np.array([r.xyz for r in readings]), np.array([r.sd for r in readings]))
    if session.seen is not None:
        fresh = replace(fresh, known=session.seen.clips_at, proven=session.seen.reached)
    session.seen = _averaged(session.seen, fresh) if session.seen and session.looks else fresh
    session.looks += 1
    score = session.mover.score(session.seen)
    if session.best is None or session.best[1] == session.controls or score < session.best[0]:
        session.best, session.fruitless = (score, session.controls), 0


def _averaged(before: Seen, fresh: Seen) -> Seen:
    """Two looks at the same setting, each weighted by its precision."""
    first, second = before.sd**-2.0, fresh.sd**-2.0
    return Seen(
        (before.xyz * first + fresh.xyz * second) / (first + second),
        (first + second) ** -0.5,
        fresh.known,
        fresh.proven,
    )


def _carry_out(session: _Session, move: Move) -> Procedure[None]:
    """Have a move turned, read, learn from it and say so when it came out otherwise than expected."""
    assert session.seen is not None
    before, worst_before, stood = session.seen, session.mover.worst(session.seen), session.controls
    yield from _turned(session, move)
    to = {change.role: change.to_value for change in move.changes}
    steps = np.array([(to.get(c.role, c.value) - c.value) / c.step for c in session.controls])
    session.controls = tuple(replace(c, value=to.get(c.role, c.value)) for c in session.controls)
    session.looks = 0
    session.fruitless += 1
    # Once the controls are turned, a wish must not lose the round of readings that goes with them.
    wish: PutBack | StopHere | None = None
    while True:
        try:
            yield from _look(session)
            break
        except ReadAgain:
            continue
        except (PutBack, StopHere) as interrupt:
            wish = interrupt
    surprise = yield from _understood(session, before, stood, steps, repair=wish is None)
    worst, sd = session.mover.worst(session.seen), session.mover.worst_sd(session.seen)
    session.trips.append(Trip(move, worst_before, worst, sd, surprise))
    if wish is not None:
        raise wish


def _turned(session: _Session, move: Move) -> Procedure[None]:
    """Have a move made; a person may want to watch its light meanwhile."""
    assert session.seen is not None
    made = False
    while True:
        try:
            yield Turn(move, made)
            return
        except Watch:
            to = {change.role: change.to_value for change in move.changes}
            steps = [(to.get(c.role, c.value) - c.value) // c.step for c in session.controls]
            yield from watch(
                Watching(session.mover, session.responses, session.seen, move, steps, session.plan.format)
            )
            made = True


def _understood(
    session: _Session, before: Seen, stood: tuple[ControlState, ...], steps: Array, *, repair: bool
) -> Procedure[str]:
    """Learn from what a move did, and say what went wrong with it; a slip of the hand is mended at once."""
    assert session.seen is not None
    change, variance = _between(before, session.seen)
    told = judge(session.responses, stood, steps, change, variance) if session.plan.by_hand else None
    if told is None or told.mishap is None:
        found = None if told is not None else odd(session.responses, stood, steps, change, variance)
        if found is not None:
            session.responses = found.responses
        words = found.words if found is not None else surprise_words(session.responses, steps, change, variance)
        session.responses = session.responses.learn(steps, change, variance)
        if words:
            yield Note(words)
        return words
    words = guard_words(told, stood, steps)
    yield Note(words)
    session.responses = session.responses.learn(told.steps, change - told.bump, variance)
    if told.mishap is not Mishap.BUMP:
        to = session.controls
        session.controls = tuple(
            replace(control, value=control.value + int(n) * control.step)
            for control, n in zip(to, told.steps - steps, strict=True)
        )
        if repair:
            yield from _mended(session, to, told.steps - steps)
    return words


def _mended(session: _Session, to: tuple[ControlState, ...], off: Array) -> Procedure[None]:
    """Have the controls turned to where they were to be; `off` (6,): by how many steps they stand wrong."""
    assert session.seen is not None
    before = session.seen
    back = Move(
        tuple(
            _change(now, control.value)
            for now, control in zip(session.controls, to, strict=True)
            if now != control
        )
    )
    yield Progress(len(session.trips) + 1, len(session.trips) + 2, session.state(back))
    yield from insist(Turn(back))
    session.controls = to
    session.looks = 0
    while session.looks == 0:
        try:
            yield from _look(session)
        except Interrupt:
            # The round of readings that goes with a turn is not given up.
            continue
    session.responses = session.responses.learn(-off, *_between(before, session.seen))


def _between(before: Seen, after: Seen) -> tuple[Array, Array]:
    """The change of log light (9,) and the variance of its noise."""
    # What a channel does at 100 % while it clips says nothing of its control.
    silent = np.concatenate([before.clipped | after.clipped, np.zeros(6, dtype=bool)])
    return after.log_light - before.log_light, np.where(silent, _UNKNOWN, after.variance + before.variance)


def _put_back(session: _Session) -> Procedure[None]:
    """Undo the last move that has not been undone."""
    undone = 0
    for trip in reversed(session.trips):
        if trip.move.undoes:
            undone += 1
        elif undone:
            undone -= 1
        else:
            yield from _carry_out(session, trip.move.reverse)
            return
    yield Note("There is no move to put back.")


def _way_back(session: _Session) -> Move | None:
    """The move to the best state seen, where the present one is worse by more than the noise."""
    assert session.best is not None and session.seen is not None
    best, controls = session.best
    if session.mover.score(session.seen) - best <= 2.0 * session.mover.worst_sd(session.seen):
        return None
    values: dict[Role, int] = {control.role: control.value for control in controls}
    changes = tuple(
        change for control in session.controls for change in (_change(control, values[control.role]),) if change.by
    )
    return Move(changes) if changes else None


def _change(control: ControlState, to: int) -> Change:
    return Change(control.role, control.name, control.value, to)


def _ended(session: _Session, stop: Stop) -> WhiteResult:
    state = session.state()
    return WhiteResult(stop, stop_words(stop, state.de2000, state.worst_sd, session.plan.stop_at), state)
