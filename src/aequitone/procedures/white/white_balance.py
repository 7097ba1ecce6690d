"""Two-point white balance: read, propose a move, have it turned, read again, learn, until it is right."""

from dataclasses import dataclass, replace

import numpy as np

from aequitone.advice.by_hand.stood import stood_before
from aequitone.advice.moves import (
    ControlState,
    Move,
    last_standing,
    moved,
    stands_as_asked,
    steps_of,
    stood_off,
    trip_between,
)
from aequitone.advice.two_point.guards import Mishap, judge
from aequitone.advice.two_point.guards import words as guard_words
from aequitone.advice.two_point.level_readings import Seen, believed
from aequitone.advice.two_point.mover import Stop, doubt_of
from aequitone.advice.two_point.wiring import PROVEN, MoveMade, dead, evidence_for
from aequitone.advice.two_point.words import stop_words, surprise_words
from aequitone.colorimetry.arrays import Array, Mask
from aequitone.procedures.steps import (
    Note,
    Procedure,
    Progress,
    PutBack,
    ReadAgain,
    StopHere,
    Turn,
)
from aequitone.procedures.uninterrupted import insist, nothing
from aequitone.procedures.white.last_light import set_light
from aequitone.procedures.white.plan import WhitePlan
from aequitone.procedures.white.planned_anew import turned_by_what_stands
from aequitone.procedures.white.session import (
    Trip,
    WhiteSession,
    WhiteState,
    look,
    looked_whatever_comes,
    remember,
)
from aequitone.procedures.white.shadows import contrast_words, keep_shadows

MOST_TRIPS = 12
# Of a control's range, how far one that is suspected of not doing its work is turned alone.
_TRIAL = 0.12
# Trips that may fail to better the best setting before it is called the best there is.
_PATIENCE = 4
_UNKNOWN = 1e6
# A score that is worse than it was at the same setting by so much, and by so many spreads, is of another setting.
_UNLIKE, _UNLIKE_SPREADS = 0.8, 4.0
_NOTED_WRONG = (
    "It does not read as it did there, so a setting was noted wrong: it goes on from how grey reads now, and "
    "learns the controls anew."
)
_TWICE_UNMOVED = (
    "was asked for twice, and light did not follow: it does nothing here, or it was not turned. It is left alone "
    "from now on."
)


@dataclass(frozen=True)
class WhiteResult:
    """How it ended."""

    stop: Stop | None
    """None where only the record of another version tells of it."""
    words: str
    state: WhiteState


def white_balance(plan: WhitePlan) -> Procedure[WhiteResult]:
    """Bring grey to the white point at a bright and a dark level, by gains and biases.

    Understands PutBack (undo the last move), ReadAgain and StopHere at any time; after a trip the readings
    that go with it are taken first. Ends with the best setting as read: where the last one is worse by more than
    the meter's noise, the controls go back to it.

    Returns
    -------
    How it ended and in which words, and the state: XYZ of the three levels in cd/m², ΔE by the plan's formula, the
    controls as they stand, every trip with what was expected and what came, and what the controls do, as learnt.
    """
    session = WhiteSession.begin(plan)
    pending: Procedure[None] = look(session)
    while True:
        try:
            yield from pending
            pending = nothing()
            if session.looks == 0:
                # A wish came before the setting was ever read.
                yield from look(session)
            proposal = _propose(session)
            if proposal is Stop.CANNOT_TELL and session.looks < plan.looks:
                pending = look(session)
                continue
            yield Progress(len(session.trips), len(session.trips) + 1, session.state(_move_of(proposal)))
            if isinstance(proposal, Stop):
                ended = yield from _finished(session, proposal)
                if ended is None:
                    continue
                return _ended(session, ended)
            yield from _carry_out(session, proposal)
        except PutBack:
            pending = _put_back(session)
        except ReadAgain:
            pending = look(session)
        except StopHere:
            if session.seen is not None:
                return _ended(session, Stop.WISHED)
            pending = look(session)


def _finished(session: WhiteSession, stop: Stop) -> Procedure[Stop | None]:
    """Go to the best setting, keep the shadows and set light; returns why it ends, None where it goes on."""
    back = _way_back(session)
    if back is not None:
        assert session.best is not None
        promised = session.best[0]
        yield Note("An earlier setting was better than this one, so the controls go back to it.")
        yield from _carry_out(session, back)
        if _reads_otherwise(session, promised):
            yield Note(_NOTED_WRONG)
            session.begin_here()
            return None
    assert session.seen is not None
    stood, before = session.controls, session.mover.score(session.seen)
    yield from keep_shadows(session)
    if session.plan.light is not None:
        yield from set_light(session, session.plan.light)
    if session.controls != stood and session.mover.score(session.seen) > session.plan.stop_at:
        return Stop.CANNOT_REACH
    if session.controls == stood and (yield from _reads_worse(session, max(session.plan.stop_at, before))):
        if session.went_on:
            return Stop.CANNOT_REACH
        session.went_on = True
        return None
    return stop


def _reads_worse(session: WhiteSession, limit: float) -> Procedure[bool]:
    """Whether grey reads worse than `limit` once light was set; one look can be off by itself."""
    while True:
        assert session.seen is not None
        over, sd = session.mover.score(session.seen) - limit, session.mover.worst_sd(session.seen)
        if over <= sd or session.looks >= session.plan.looks:
            return over > 2.0 * sd
        yield from looked_whatever_comes(session, anew=False)


def _propose(session: WhiteSession) -> Move | Stop:
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


def _carry_out(session: WhiteSession, move: Move) -> Procedure[None]:
    """Have a move turned, read, learn from it and say so when it came out otherwise than expected."""
    assert session.seen is not None
    before, worst_before, stood = session.seen, session.mover.worst(session.seen), session.controls
    made = yield from turned_by_what_stands(session, move)
    session.controls = moved(stood, steps_of(made, stood))
    session.looks = 0
    session.fruitless += 1
    # Once the controls are turned, a wish must not lose the round of readings that goes with them.
    wish: PutBack | StopHere | None = None
    expected = made.expected
    rough = expected is not None and expected.de2000_after - 2.0 * expected.de2000_sd > session.plan.stop_at
    while True:
        try:
            yield from look(session, rough=rough)
            break
        except ReadAgain:
            continue
        except (PutBack, StopHere) as interrupt:
            wish = interrupt
    # What came of the move is what was read; what is believed of it afterwards is wiser.
    worst, sd = session.mover.worst(session.seen), session.mover.worst_sd(session.seen)
    surprise = yield from _understood(session, before, stood, made, repair=wish is None and not move.undoes)
    session.trips.append(Trip(made, worst_before, worst, sd, surprise))
    if wish is not None:
        raise wish


def _understood(
    session: WhiteSession, before: Seen, stood: tuple[ControlState, ...], move: Move, *, repair: bool
) -> Procedure[str]:
    """Learn from what a move did, and say what went wrong with it; a slip of the hand is mended at once."""
    assert session.seen is not None
    change, variance = _between(before, session.seen)
    stood, steps = _from_where(session, stood, move, change, variance)
    session.note_asked(move, change, variance)
    # On a screen whose menu lies a slip looks like one more lie: what is turned there is taken as it was asked.
    told = (
        judge(session.responses, stood, steps, change, variance)
        if session.plan.by_hand and not session.rewired
        else None
    )
    if told is not None:
        note = session.doubt_a_note(MoveMade(stood, steps, change, variance), told)
        if note:
            yield Note(note)
            return note
    if told is None or told.mishap is None:
        session.note_kept(move)
        words = surprise_words(session.responses, steps, change, variance)
        if not words:
            expected = before.log_light + session.responses.predict(steps)
            session.seen = believed(session.seen, expected, before.variance + doubt_of(session.responses, steps))
            remember(session)
        session.learn(stood, steps, change, variance)
        wired = session.wired
        if repair and wired.is_suspected and wired.wiring not in session.tried:
            return (yield from _tried_alone(session, steps))
        # What is known of a control by now explains what came.
        if words and not (session.tried and wired.is_proven):
            yield Note(words)
        return words
    if session.suspect_the_screen():
        return (yield from _tried_by_hand(session))
    words = guard_words(told, stood, steps)
    yield Note(words)
    session.learn(stood, told.steps, change - told.bump, variance)
    if told.mishap is not Mishap.BUMP:
        session.controls = moved(stood, told.steps)
        if repair:
            yield from _mended(session, stood, steps, told.steps)
    return words


def _from_where(
    session: WhiteSession,
    stood: tuple[ControlState, ...],
    move: Move,
    change: Array,
    variance: Array,
    known: Mask | bool = False,
) -> tuple[tuple[ControlState, ...], Array]:
    """Where the controls stood before a move, and the steps (6,) made from there.

    They were noted to stand at `stood`; what a person said of it is believed as far as the light agrees. `known`:
    of which (6,) it is known already what that means for what was read before.
    """
    off = stood_off(move, stood)
    if off.any():
        off = stood_before(session.responses, steps_of(move, stood), off, change, variance)
        session.take_back(stood, np.where(known, 0.0, off))
    return moved(stood, off), steps_of(move, stood) - off


def _tried_alone(session: WhiteSession, steps: Array) -> Procedure[str]:
    """Turn a suspected control back by itself; it is said of it only if it does the same again.

    `steps` (6,): of the move that raised the suspicion.
    """
    assert session.seen is not None
    suspected, stood = session.wired.wiring, session.controls
    session.tried.append(suspected)
    column = max(suspected.odd, key=lambda each: abs(steps[each]))
    if not steps[column]:
        return ""
    name, alone = stood[column].name, np.zeros(len(steps))
    alone[column] = -steps[column]
    yield Note(f"{name} did not do what was expected of it: it is turned alone, to see.")
    yield from _turned_to(session, moved(stood, alone))
    if session.wired.wiring == suspected and session.wired.is_proven:
        words = suspected.words(session.controls)
    elif session.wired.wiring.is_odd:
        words = f"What {name} does is not clear yet; the program goes on from what it sees."
    else:
        words = f"{name}, turned alone, does what its name says; something else came in between."
    yield Note(words)
    return words


def _turned_to(session: WhiteSession, to: tuple[ControlState, ...]) -> Procedure[MoveMade]:
    """Have the controls turned there, whatever is wished meanwhile, read, and learn; returns the move as made."""
    assert session.seen is not None
    before, stood = session.seen, session.controls
    trip = trip_between(stood, to)
    yield Progress(len(session.trips) + 1, len(session.trips) + 2, session.state(trip))
    turned_so: Move = yield from insist(Turn(trip))
    session.controls = to
    yield from looked_whatever_comes(session)
    change, variance = _between(before, session.seen)
    stood, steps = _from_where(session, stood, turned_so, change, variance)
    session.note_asked(trip, change, variance)
    made = MoveMade(stood, steps, change, variance)
    session.learn(*vars(made).values())
    return made


def _tried_by_hand(session: WhiteSession) -> Procedure[str]:
    """Have a suspected control turned to where it surely stands, and from there; only the second turn tells.

    Where the hand has slipped, nobody knows how far the first one goes.
    """
    suspected, stood = session.wired.wiring, session.controls
    session.tried.append(suspected)
    column = suspected.odd[0]
    control, by = stood[column], np.zeros(len(stood))
    down = control.value - control.lowest >= control.highest - control.value
    by[column] = (-1.0 if down else 1.0) * max(1.0, np.floor(_TRIAL * control.steps))
    yield Note(f"{control.name} did not do what was expected of it: it is turned alone, there and back, to see.")
    yield from _turned_to(session, moved(stood, by))
    made = yield from _turned_to(session, stood)
    if evidence_for(suspected, session.prior, made) > PROVEN:
        words = suspected.words(session.controls)
    else:
        words = f"{control.name}, turned alone, does what its name says: it was a slip after all."
        session.trust_the_menu(made)
        remember(session)
    yield Note(words)
    return words


def _mended(session: WhiteSession, began: tuple[ControlState, ...], asked: Array, came: Array) -> Procedure[None]:
    """Have the controls turned to where they were to be.

    `began`: where they stood before the turn that went wrong; `asked` and `came` (6,): its steps.
    """
    assert session.seen is not None
    before, to = session.seen, moved(began, asked)
    back = trip_between(session.controls, to)
    yield Progress(len(session.trips) + 1, len(session.trips) + 2, session.state(back))
    made: Move = yield from insist(Turn(back))
    stood, session.controls = session.controls, to
    yield from looked_whatever_comes(session)
    change, variance = _between(before, session.seen)
    right = stands_as_asked(made, stood)
    if right.any():
        session.hand_was_right(began, asked, came, right)
    stood, steps = _from_where(session, stood, made, change, variance, known=right)
    session.note_asked(back, change, variance)
    again = MoveMade(stood, steps, change, variance)
    session.learn(*vars(again).values())
    unmoved = np.flatnonzero((steps != 0.0) & (came == 0.0))
    if len(unmoved) == np.count_nonzero(steps) == 1:
        column = int(unmoved[0])
        if evidence_for(dead(column), session.prior, again) > PROVEN:
            session.leave_alone(column)
            yield Note(f"{stood[column].name} {_TWICE_UNMOVED}")


def _between(before: Seen, after: Seen) -> tuple[Array, Array]:
    """The change of log light (9,) and the variance of its noise."""
    # What a channel does at 100 % while it clips says nothing of its control.
    silent = np.concatenate([before.clipped | after.clipped, np.zeros(6, dtype=bool)])
    return after.log_light - before.log_light, np.where(silent, _UNKNOWN, after.variance + before.variance)


def _put_back(session: WhiteSession) -> Procedure[None]:
    """Undo the last move that has not been undone."""
    last = last_standing([trip.move for trip in session.trips])
    if last is None:
        yield Note("There is no move to put back.")
    else:
        yield from _carry_out(session, session.trips[last].move.reverse)


def _way_back(session: WhiteSession) -> Move | None:
    """The move to the best state seen, where the present one is worse by more than the noise."""
    assert session.best is not None and session.seen is not None
    best, controls = session.best
    if session.mover.score(session.seen) - best <= 2.0 * session.mover.worst_sd(session.seen):
        return None
    back = replace(trip_between(session.controls, controls), undoes=True)
    return back if back.changes else None


def _reads_otherwise(session: WhiteSession, promised: float) -> bool:
    """Whether the best setting, gone back to by hand, reads much worse than the score it was kept for."""
    assert session.seen is not None
    if not session.plan.by_hand or session.began_again:
        return False
    doubt = max(_UNLIKE, _UNLIKE_SPREADS * session.mover.worst_sd(session.seen))
    return session.mover.score(session.seen) - promised > doubt


def _ended(session: WhiteSession, stop: Stop) -> WhiteResult:
    state = session.state()
    words = stop_words(stop, state.errors, state.worst_sd, session.plan.stop_at, session.plan.formula)
    return WhiteResult(stop, f"{words} {contrast_words(session)}".strip(), state)
