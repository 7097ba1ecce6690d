"""Colour management: read all saturations, turn what brings them nearer, leave it off where it does not pay."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from aequitone.advice.colours import ColourEffect, ColourPlanner, Seen
from aequitone.advice.moves import ControlState, Move, last_standing, moved, steps_of, trip_between
from aequitone.advice.roles import COLOUR_ORDER, is_of_colours
from aequitone.colorimetry import delta_e_2000
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.colour.colour_pass import ColourPass
from aequitone.procedures.colour.samples import Length, Sample, samples, steady_order
from aequitone.procedures.policy import policy_for, policy_for_colour, seen_black
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
)
from aequitone.procedures.uninterrupted import insist, nothing
from aequitone.reference import Target, colour_errors
from aequitone.signal import Patch, SignalFormat, colour_patch, grey_patch

# Trips by link, and by hand, where each turns one colour.
_MOST_TRIPS, _MOST_BY_HAND = 5, 10
_PATIENCE = 2
# ΔE 2000 on average that the whole block must bring to be worth that it is on.
_NO_SERVICE = 0.15
# ΔE 2000 without light that white may move, and that it is to be balanced again for; beyond its noise.
_WHITE_MAY_MOVE, _WHITE_SEEN, _SIGMAS = 1.0, 0.3, 3.0
# ΔE a minute of trips and readings, of average and worst together.
_WORTH_A_MINUTE = 0.06
_A_READING_SECONDS = 2.2
# Pale colours are where people look.
_WHITE_WEIGHT = 14.0
_WEIGHTS = {25.0: 1.15, 50.0: 1.15, 75.0: 0.95, 100.0: 0.75}


@dataclass(frozen=True)
class ManagePlan:
    """What is wanted, and the controls of the colour management as they stand."""

    target: Target
    format: SignalFormat
    controls: tuple[ControlState, ...]
    level: float = 75.0
    """The highest signal of the colours that are read, in %."""
    by_hand: bool = False
    """Whether a person turns the controls: then one colour a trip."""
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
    words: str = ""


@dataclass
class _Session:
    """The running state; private to the generator."""

    plan: ManagePlan
    planner: ColourPlanner
    effect: ColourEffect
    controls: tuple[ControlState, ...]
    told: dict[str, Reading] = field(default_factory=dict)
    white: Reading | None = None
    first_white: Reading | None = None
    black: Reading | None = None
    trips: list[ColourTrip] = field(default_factory=list)
    best: tuple[float, tuple[ControlState, ...]] | None = None
    found: tuple[float, float] = (0.0, 0.0)
    """Score and weighted average before anything was turned."""
    failed: int = 0
    wish: Interrupt | None = None
    """What a person wished while colours were read."""

    @property
    def colours(self) -> ColourPass:
        """The colours as they were read last."""
        assert self.white is not None and self.black is not None
        readings = [self.told[sample.name] for sample in self.plan.samples]
        xyz, sd = np.array([each.xyz for each in readings]), np.array([each.sd for each in readings])
        signal = np.array([each.patch.signal for each in readings])
        black = seen_black(self.black.Y, self.black.sd_Y)
        errors = colour_errors(signal, xyz, self.plan.target, white=self.white.Y, black=black, sd=sd)
        return ColourPass(self.plan.samples, xyz, sd, errors, self.white.xyz, self.white.sd, black, 0.0)

    @property
    def seen(self) -> Seen:
        """The saturations, and white last: it is to stay as it was before anything was turned."""
        colours = self.colours
        first, white = self.first_white, float(colours.white[1])
        kept = colours.white if first is None else first.xyz * (white / first.Y)
        xyz, sd = np.vstack([colours.xyz, colours.white]), np.vstack([colours.sd, colours.white_sd])
        return Seen.of(xyz, sd, np.vstack([colours.errors.target, kept]), white, self.plan.target)

    def score(self) -> float:
        """What the colours come to as read; less is better."""
        seen = self.seen
        return self.planner.score(seen.linear, seen.wanted)

    def average(self) -> float:
        """Weighted average ΔE 2000 as read."""
        return float(np.average(self.colours.errors.de2000, weights=self.planner.weights[:-1]))

    def state(self, proposed: Move | None = None, words: str = "") -> Managed:
        return Managed(self.colours, self.controls, tuple(self.trips), self.found[1], proposed, words)


def manage_colours(plan: ManagePlan) -> Procedure[Managed]:
    """Bring the saturations nearer by the colour management; returns a Managed.

    By link all controls in a trip, by hand those of one colour. Ends at the best setting as read, and at how it
    was found where that is hardly better or white has moved. Understands PutBack (undo the last move), ReadAgain
    and StopHere; while colours are read a wish waits until all of them are.
    """
    weights = np.array([*(_WEIGHTS[sample.saturation] for sample in plan.samples), _WHITE_WEIGHT])
    planner = ColourPlanner(plan.target, weights / weights.mean(), _least_gain(plan))
    session = _Session(plan, planner, ColourEffect.prior(plan.controls), plan.controls)
    yield from _first_look(session)
    pending = nothing()
    while True:
        try:
            yield from pending
            pending = nothing()
            _heed(session)
            move = _proposed(session)
            if move is None:
                break
            yield Progress(len(session.trips), len(session.trips) + 1, session.state(move))
            yield from _carried_out(session, move)
        except PutBack:
            pending = _put_back(session)
        except ReadAgain:
            pending = _look(session, list(plan.samples))
        except StopHere:
            return session.state(words=f"Stopped by you. {_stands(session)}")
    return (yield from _ended(session))


def _least_gain(plan: ManagePlan) -> float:
    readings = len(plan.samples) / (2.0 if plan.by_hand else 1.0)
    return _WORTH_A_MINUTE * (plan.trip_seconds + readings * _A_READING_SECONDS) / 60.0


def _first_look(session: _Session) -> Procedure[None]:
    """White, black and every saturation, as found; it is begun again where a person wishes anything meanwhile."""
    yield from insist(Note("All saturations are read first; nothing is turned yet."))
    session.black = yield from _read(session, grey_patch(0.0, session.plan.format))
    yield from _look(session, list(session.plan.samples))
    session.first_white = session.white
    session.found = (session.score(), session.average())
    session.best = (session.found[0], session.controls)


def _look(session: _Session, wanted: Sequence[Sample]) -> Procedure[None]:
    """Read white and some of the saturations, whatever the person wishes meanwhile."""
    plan = session.plan
    session.white = yield from _read(session, grey_patch(100.0, plan.format))
    patches = [colour_patch(sample.name, sample.signal, plan.format) for sample in wanted]
    lights = plan.target.colour(np.array([patch.signal for patch in patches]), 1.0)[:, 1]
    for row in steady_order(tuple(float(light) for light in lights)):
        session.told[wanted[row].name] = yield from _read(session, patches[row])
        if len(session.told) == len(plan.samples):
            yield Progress(len(session.trips), len(session.trips) + 1, session.state())


def _read(session: _Session, patch: Patch) -> Procedure[Reading]:
    plan = session.plan
    white = session.white.Y if session.white is not None else 100.0
    wanted = plan.target.colour(np.array([patch.signal]), white)[0]
    policy = (
        policy_for(float(wanted[1]), white)
        if patch.is_grey
        else policy_for_colour(wanted, plan.target.white.xyz() * white)
    )
    while True:
        try:
            yield Show(patch)
            reading: Reading = yield Read(patch, policy, Purpose.ADJUST)
        except Interrupt as interrupt:
            session.wish = interrupt
            continue
        return reading


def _heed(session: _Session) -> None:
    """Raise what a person wished while colours were read."""
    wish, session.wish = session.wish, None
    if wish is not None:
        raise wish


def _proposed(session: _Session) -> Move | None:
    plan = session.plan
    most = _MOST_BY_HAND if plan.by_hand else _MOST_TRIPS
    if len(session.trips) >= most or session.failed >= _PATIENCE:
        return None
    if not plan.by_hand:
        return session.planner.propose(session.seen, session.effect, session.controls)
    moves = [
        session.planner.propose(session.seen, session.effect, session.controls, rows)
        for rows in (_rows_of(session, name) for name in COLOUR_ORDER)
        if rows
    ]
    return max((move for move in moves if move is not None), key=_gain, default=None)


def _gain(move: Move) -> float:
    assert move.expected is not None
    return move.expected.de2000_before - move.expected.de2000_after


def _rows_of(session: _Session, colour: str) -> list[int]:
    return [row for row, control in enumerate(session.controls) if control.role.channel == colour]


def _carried_out(session: _Session, move: Move) -> Procedure[None]:
    """Have a move turned, read what it is felt by, and learn; back at once where it came out worse."""
    before = session.best
    yield Turn(move)
    yield from _after(session, move)
    score = session.score()
    assert before is not None
    if score < before[0]:
        session.best, session.failed = (score, session.controls), 0
    else:
        session.failed += 1


def _after(session: _Session, move: Move) -> Procedure[None]:
    """Read what a move is felt by, learn from it and remember it."""
    seen, average = session.seen, session.average()
    steps = steps_of(move, session.controls)
    session.controls = moved(session.controls, steps)
    yield from _look(session, _felt(session, move))
    now = session.seen
    session.effect = session.effect.learn(
        seen.wanted, steps, now.linear - seen.linear, now.variance + seen.variance
    )
    spread = float(session.colours.errors.de2000_sd.mean()) / 2.0
    session.trips.append(ColourTrip(move, average, session.average(), spread))


def _felt(session: _Session, move: Move) -> list[Sample]:
    """The saturations that a move may be felt by: of its colours and of those beside them."""
    turned = {COLOUR_ORDER.index(change.role.channel) for change in move.changes}
    near = {(place + by) % len(COLOUR_ORDER) for place in turned for by in (-1, 0, 1)}
    return [sample for sample in session.plan.samples if COLOUR_ORDER.index(sample.colour) in near]


def _put_back(session: _Session) -> Procedure[None]:
    """Undo the last move that has not been undone."""
    last = last_standing([trip.move for trip in session.trips])
    if last is None:
        yield Note("There is no move to put back.")
    else:
        yield from _turned_back(session, session.trips[last].move.reverse)


def _turned_back(session: _Session, move: Move) -> Procedure[None]:
    yield from insist(Turn(move))
    yield from _after(session, move)


def _back_to(session: _Session, controls: tuple[ControlState, ...]) -> Procedure[None]:
    back = replace(trip_between(session.controls, controls), undoes=True)
    if back.changes:
        yield from _turned_back(session, back)


def _ended(session: _Session) -> Procedure[Managed]:
    """Go to the best setting as read, or to how it was found, and say how it stands."""
    assert session.best is not None
    try:
        yield from _back_to(session, session.best[1])
        if session.controls == session.plan.controls:
            return session.state(words=_nothing_words(session))
        if _white_moved(session) > _WHITE_MAY_MOVE:
            yield Note("White has moved along too far, so everything goes back.")
            yield from _back_to(session, session.plan.controls)
            return session.state(words=f"White paid for it, so it is left as it was found. {_stands(session)}")
        if session.average() > session.found[1] - _NO_SERVICE:
            with_it, without = session.average(), session.found[1]
            yield Note("It brings hardly anything, so it goes back to how it was found.")
            yield from _back_to(session, session.plan.controls)
            words = f"Better left as it was found: with it ΔE {with_it:.1f}, without it {without:.1f}."
            return session.state(words=words)
    except Interrupt:
        # Nothing is left to steer.
        pass
    return session.state(words=_stands(session))


def _white_moved(session: _Session) -> float:
    """ΔE 2000 by which white has another cast than before, noise taken off."""
    assert session.white is not None and session.first_white is not None
    reference = session.plan.target.white.xyz(session.first_white.Y)
    # Light drifts over the minutes; a colour management that is at fault gives white a cast.
    moved_by = float(delta_e_2000(session.white.xyz, session.first_white.xyz, reference, light=False))
    noise = 60.0 * float(np.hypot(session.white.sd, session.first_white.sd).max()) / session.first_white.Y
    return max(0.0, moved_by - _SIGMAS * noise)


def _stands(session: _Session) -> str:
    errors: Array = session.colours.errors.de2000
    worst = int(errors.argmax())
    trips = len(session.trips)
    average = f"ΔE {session.found[1]:.2f} → {session.average():.2f} on average"
    name, plural = session.plan.samples[worst].name, "" if trips == 1 else "s"
    said = (
        f"Saturations: {average}, at worst {errors[worst]:.1f} at {name}, with {trips} trip{plural} to the menu."
    )
    white = _white_moved(session)
    return f"{said} White moved along by ΔE {white:.1f}: balance it once more." if white > _WHITE_SEEN else said


def _nothing_words(session: _Session) -> str:
    turned = "No turn" if not session.trips else "No other turn"
    return f"{turned} of the colour management is worth a trip: ΔE {session.average():.2f} on average as found."
