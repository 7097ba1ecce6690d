"""Colour management: read all saturations, turn what brings them nearer, leave it off where it does not pay."""

from dataclasses import replace

import numpy as np

from aequitone.advice.colours import Oddity, boosted_words
from aequitone.advice.moves import Move, last_standing, moved, steps_of, trip_between
from aequitone.advice.roles import COLOUR_ORDER
from aequitone.procedures.colour.manage_back import back_to
from aequitone.procedures.colour.manage_looks import (
    HALVES,
    felt_by,
    held,
    look_again,
    look_at_black,
    look_whole,
    still_as_known,
)
from aequitone.procedures.colour.manage_plan import Managed, ManagePlan
from aequitone.procedures.colour.manage_ramps import kept_smooth
from aequitone.procedures.colour.manage_session import ManageSession
from aequitone.procedures.colour.manage_turns import after, turned, turned_beside
from aequitone.procedures.colour.manage_worth import A_READING_SECONDS, NO_SERVICE, WORTH_A_MINUTE
from aequitone.procedures.steps import (
    Note,
    Procedure,
    Progress,
    PutBack,
    ReadAgain,
    StopHere,
)
from aequitone.procedures.uninterrupted import nothing

# Trips by link, and by hand, where a trip may turn one colour only.
_MOST_TRIPS, _MOST_BY_HAND = 5, 8
# Trips that may fail one after another: one more while nothing has helped, as each of them tells more. By hand one
# more brings 0.03 of everyday colours' ΔE on average, for nearly two minutes.
_PATIENCE, _PATIENCE_BY_HAND = 2, 1
_FEW = 3
# ΔE 2000 on average that colours do not come to read worse by at the same settings.
_READS_WORSE = 0.5
# ΔE 2000 without light that white may move, that it is to be balanced again for, and that no trip is made for;
# beyond its noise.
_WHITE_MAY_MOVE, _WHITE_SEEN, _WHITE_MAY, _SIGMAS = 1.0, 0.3, 0.1, 1.5
# ΔE 2000 by which a darker grey may be left worse.
_GREY_MAY_PAY = 0.5
# To find a control in a menu that is open and to turn it, by hand.
_CONTROL_SECONDS = 5.0


def manage_colours(plan: ManagePlan) -> Procedure[Managed]:
    """Bring the saturations nearer by the colour management; returns a Managed.

    By link all controls in a trip, by hand those of the colours that are worth it. Ends at the best setting
    as read, and at how it was found where that is hardly better or white has moved. Understands PutBack (undo the
    last move), ReadAgain and StopHere; while colours are read a wish waits until all of them are.
    """
    session = yield from _begun(plan)
    pending = nothing()
    while True:
        try:
            yield from pending
            pending = nothing()
            _heed(session)
            move = _proposed(session)
            if move is None and session.stale:
                # What was only reckoned is read before anything is called done.
                pending = look_whole(session)
                continue
            if move is None:
                break
            yield Progress(len(session.trips), len(session.trips) + 1, session.state(move))
            yield from _carried_out(session, move)
        except PutBack:
            pending = _put_back(session)
        except ReadAgain:
            pending = look_again(session)
        except StopHere:
            return session.state(words=f"Stopped by you. {_stands(session)}")
    return (yield from _ended(session))


def _begun(plan: ManagePlan) -> Procedure[ManageSession]:
    """White, black and every saturation, as found; what a person wishes meanwhile waits.

    Where the colours are known, white and the full primaries alone: all is read where one of them has changed.
    """
    session = ManageSession.begin(plan)
    if plan.known is not None and not (yield from still_as_known(session)):
        yield from held(session, Note("The colours are not as they were read before: all are read again."))
        wish, session = session.wish, ManageSession.begin(replace(plan, known=None))
        session.wish = wish
    if session.plan.known is None:
        yield from look_at_black(session)
    yield from look_whole(session)
    if plan.light is None and (missing := session.colours.missing_light):
        session.leave_light_out()
        words = f"{boosted_words(missing)} Hue and saturation count here, light is left out."
        yield from held(session, Note(words))
    session.first_white, session.first_grey = session.white, session.grey
    session.found = (session.score(), session.average())
    session.everyday_found = session.everyday() or 0.0
    session.best = (session.found[0], session.controls)
    session.keep()
    return session


def _heed(session: ManageSession) -> None:
    """Raise what a person wished while colours were read."""
    wish, session.wish = session.wish, None
    if wish is not None:
        raise wish


def _proposed(session: ManageSession) -> Move | None:
    plan = session.plan
    most = _MOST_BY_HAND if plan.by_hand else _MOST_TRIPS
    patience = _PATIENCE_BY_HAND if plan.by_hand else _PATIENCE
    has_helped = session.best is not None and session.best[0] < session.found[0]
    if len(session.trips) >= most or session.failed >= patience + (not has_helped):
        return None
    planner, seen, belief, controls = session.planner, session.seen, session.belief, session.controls
    every = planner.propose(seen, belief, controls)
    # By hand a later trip may be of one colour, in HDR the later ones are needed, and white is brought back.
    may_be_small = bool(session.trips) and (plan.by_hand or plan.diffuse is not None or _white_paid(session))
    if every is not None and not may_be_small and not _is_service(session, every):
        return None
    if not plan.by_hand:
        return every

    def gain(move: Move) -> float:
        return planner.gain(seen, belief, steps_of(move, controls))

    names = [name for name in COLOUR_ORDER if _rows_of(session, name)]
    alone = {name: planner.propose(seen, belief, controls, _rows_of(session, name)) for name in names}
    gains = {name: gain(move) if move else 0.0 for name, move in alone.items()}
    order = sorted(gains, key=lambda name: -gains[name])
    # One colour, or the few that promise most, or all.
    rows = [row for name in order[:_FEW] for row in _rows_of(session, name)]
    several = (planner.propose(seen, belief, controls, rows), every)
    told = [(move, gains[name]) for name, move in alone.items()] + [(m, gain(m) if m else 0.0) for m in several]
    net = [(move, gained - WORTH_A_MINUTE * _minutes(session, move)) for move, gained in told if move is not None]
    return max(net, key=lambda each: each[1])[0] if net else None


def _white_paid(session: ManageSession) -> bool:
    """Whether the cast of white has changed by more than is allowed."""
    return _white_moved(session) > _WHITE_MAY


def _is_service(session: ManageSession, move: Move) -> bool:
    """Whether a move of all colours promises on average what the whole is kept for."""
    told = move.expected
    return told is not None and told.de2000_before - told.de2000_after > NO_SERVICE * session.plan.formula.unit


def _minutes(session: ManageSession, move: Move) -> float:
    """What a move and the look after it take by hand."""
    readings = len(felt_by(session, move)) / len(HALVES) + 1
    turning = session.plan.trip_seconds + _CONTROL_SECONDS * len(move.changes)
    return (turning + readings * A_READING_SECONDS) / 60.0


def _rows_of(session: ManageSession, colour: str) -> list[int]:
    return [row for row, control in enumerate(session.controls) if control.role.channel == colour]


def _carried_out(session: ManageSession, move: Move) -> Procedure[None]:
    """Have a move turned, read what it is felt by, and learn."""
    before = session.best
    made = yield from turned(session, move)
    yield from after(session, made)
    score = session.score()
    assert before is not None
    if score < before[0]:
        session.best, session.failed = (score, session.controls), 0
        session.keep()
    else:
        session.failed += 1
    suspected = session.suspected
    if suspected is not None:
        yield from _tried_alone(session, suspected, move)


def _tried_alone(session: ManageSession, odd: Oddity, move: Move) -> Procedure[None]:
    """Turn a suspected control back by itself; it is said of it only if it does the same again."""
    session.tried.append(odd)
    steps = steps_of(move, session.controls)
    place = max(odd.controls, key=lambda each: abs(float(steps[each])))
    if not steps[place]:
        return
    alone = np.zeros(len(steps))
    alone[place] = -steps[place]
    name = session.controls[place].name
    yield from held(session, Note(f"{name} did not do what was expected of it: it is turned alone, to see."))
    yield from turned_beside(session, trip_between(session.controls, moved(session.controls, alone)))
    words = f"What {name} does is not clear yet; the program goes on from what it sees."
    if session.proven(odd):
        session.failed, words = 0, odd.words(session.controls)
    yield from held(session, Note(words))


def _put_back(session: ManageSession) -> Procedure[None]:
    """Undo the last move that has not been undone."""
    last = last_standing([trip.move for trip in session.trips])
    if last is None:
        yield from held(session, Note("There is no move to put back."))
    else:
        back = session.trips[last].move.reverse
        stood = moved(session.controls, steps_of(back, session.controls))
        yield from back_to(session, stood, session.kept.get(stood))


def _ended(session: ManageSession) -> Procedure[Managed]:
    """Go to the best setting as read, or to how it was found, and say how it stands."""
    assert session.best is not None
    yield from back_to(session, session.best[1], session.kept.get(session.best[1]))
    yield from look_whole(session)
    yield from kept_smooth(session)
    if session.controls == session.plan.controls:
        return session.state(words=_nothing_words(session))
    if _white_moved(session) > _WHITE_MAY_MOVE:
        yield from _given_up(session, "White has moved along too far, so everything goes back.")
        return session.state(words=f"White paid for it, so it is left as it was found. {_stands(session)}")
    if session.grey_worse > _GREY_MAY_PAY:
        yield from _given_up(session, "Darker greys have taken on a cast, so everything goes back.")
        return session.state(words=f"Grey paid for it, so it is left as it was found. {_stands(session)}")
    with_it, without = session.average(), session.found[1]
    if with_it > without - NO_SERVICE * session.plan.formula.unit:
        yield from _given_up(session, "It brings hardly anything, so it goes back to how it was found.")
        told = f"with it {session.plan.formula.short} {with_it:.1f}, without it {without:.1f}"
        return session.state(words=f"Better left as it was found: {told}.")
    return session.state(words=_stands(session))


def _given_up(session: ManageSession, why: str) -> Procedure[None]:
    """Go back to how it was found, and read that."""
    yield from held(session, Note(why))
    found = session.plan.controls
    yield from back_to(session, found, session.kept.get(found))
    yield from look_whole(session)


def _white_moved(session: ManageSession) -> float:
    """ΔE 2000 by which white has another cast than before, noise taken off."""
    return max(0.0, session.white_moved - _SIGMAS * session.white_noise)


def _stands(session: ManageSession) -> str:
    errors = session.plan.formula.unit * session.errors
    worst = int(errors.argmax())
    trips = len(session.trips)
    average = f"{session.plan.formula.short} {session.found[1]:.2f} → {session.average():.2f} on average"
    name, plural = session.plan.samples[worst].name, "" if trips == 1 else "s"
    about, everyday = "Saturations", session.everyday()
    if everyday is not None:
        about = "Saturations and everyday colours"
        average += f" (everyday ones, as reckoned, {session.everyday_found:.2f} → {everyday:.2f})"
    if session.plan.light is False:
        about += ", light left out"
    said = f"{about}: {average}, at worst {errors[worst]:.1f} at {name}, with {trips} trip{plural} to the menu."
    white = _white_moved(session)
    return f"{said} White moved along by ΔE {white:.1f}: balance it once more." if white > _WHITE_SEEN else said


def _nothing_words(session: ManageSession) -> str:
    short, unit = session.plan.formula.short, session.plan.formula.unit
    if session.average() > session.found[1] + _READS_WORSE * unit:
        reads = f"{short} {session.average():.2f} on average, {session.found[1]:.2f} as found"
        return f"Colours read {reads}, at the same settings: see in the menu that all stand as listed."
    which = "No turn" if not session.trips else "No other turn"
    average = f"{short} {session.average():.2f} on average as it stands"
    return f"{which} of the colour management is worth a trip: {average}."
