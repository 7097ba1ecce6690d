"""Going back with a colour management to where it was read before: by hand it is seen that it is there."""

from dataclasses import replace

import numpy as np

from aequitone.advice.colours import Observation, stood_elsewhere
from aequitone.advice.moves import ControlState, Move, looked_at, moved, steps_of, stood_off, trip_between
from aequitone.advice.roles import COLOUR_ORDER
from aequitone.advice.two_point.guards import WAS_NOTED_WRONG
from aequitone.colorimetry import delta_e_2000
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.colour.manage_looks import felt_by, held, look, look_again, look_whole, still_as_known
from aequitone.procedures.colour.manage_plan import ColourTrip
from aequitone.procedures.colour.manage_session import Kept, ManageSession
from aequitone.procedures.colour.manage_turns import after, spread_of, turned_beside
from aequitone.procedures.steps import Note, Procedure, Progress, Turn
from aequitone.procedures.uninterrupted import insist

# ΔE 2000 of a colour from how it read at the same settings, and so many spreads of both, that is no drift.
_UNLIKE_DE, _SIGMAS = 1.0, 4.0
# The same of white's cast, which is read closely.
_WHITE_UNLIKE_DE = 0.4
# How often it is seen in the menu that all stands as listed, while something did not: who mends it may slip again.
_TIMES_SEEN = 2
# Turns to where a control stood: what it does was learnt from too long or too short a way.
_TO_WHERE_IT_STOOD = 3
# Of how far colours read from how they did, what is left at most once the right one was turned; and what they
# wander by themselves, in linear light.
_NEARER, _WANDER = 0.7, 0.003
# How far they read, as `_far`, where something stood elsewhere.
_FAR = 1.5


def unlike(session: ManageSession, kept: Kept) -> tuple[str, ...]:
    """The colours that read otherwise now than they were kept, by hue."""
    now = session.read_so
    both = np.flatnonzero((kept.read & now.read)[:-1])
    white = session.plan.target.white.xyz()
    off = delta_e_2000(now.xyz[both], kept.xyz[both], white)
    noise = delta_e_2000(kept.xyz[both] + np.hypot(kept.sd[both], now.sd[both]), kept.xyz[both], white)
    # All colours drift a little, and one reading can be off by itself: a control is felt at all its saturations.
    beyond = off - np.median(off) > np.maximum(_UNLIKE_DE, _SIGMAS * noise)
    along = off > np.maximum(_UNLIKE_DE, _SIGMAS * noise) / 2.0
    of_colour = np.array([session.plan.samples[row].colour for row in both])

    def is_named(name: str) -> bool:
        own = of_colour == name
        return bool(beyond[own].any()) and int(along[own].sum()) > 1

    return tuple(name for name in COLOUR_ORDER if is_named(name))


def white_unlike(session: ManageSession, kept: Kept) -> bool:
    """Whether white has another cast now than it was kept with: a control that stands elsewhere tints it too."""
    off, noise = session.white_from(kept.xyz[-1], kept.sd[-1])
    return off > max(_WHITE_UNLIKE_DE, _SIGMAS * noise)


def turned_back(session: ManageSession, move: Move) -> Procedure[None]:
    """Turn a move back, and read what it is felt by."""
    made: Move = yield from insist(Turn(move))
    yield from after(session, made)


def back_to(session: ManageSession, controls: tuple[ControlState, ...], kept: Kept | None) -> Procedure[None]:
    """Turn to settings that were read before; a person is asked again for what does not read as it did there.

    Where it stands as listed and still reads otherwise, a control stood elsewhere when it was read: it is turned
    there. `kept`: how it read; None where that is not known.
    """
    back = replace(trip_between(session.controls, controls), undoes=True)
    if not back.changes:
        return
    if kept is not None and not session.plan.by_hand:
        yield from _back_by_link(session, back, kept)
        return
    yield from turned_back(session, back)
    if kept is None:
        return
    yield from look_whole(session)
    for _ in range(_TIMES_SEEN):
        colours, tinted = yield from _looked_closer(session, kept)
        if not (colours or tinted):
            return
        if not (yield from _mended_in_the_menu(session, colours, tinted=tinted)):
            break
    yield from _turned_to_where_it_stood(session, controls, kept)


def _back_by_link(session: ManageSession, back: Move, kept: Kept) -> Procedure[None]:
    """Turn back to where colours were read: they are there as they were kept, and what was not read there is read.

    White and a strong red, green and blue are read too, and every colour where one of those is not as it was.
    """
    average = session.average()
    made: Move = yield from insist(Turn(back))
    session.stands_as_kept(moved(session.controls, steps_of(made, session.controls)), kept)
    if not (yield from still_as_known(session, session.stale)):
        yield from held(session, Note("Colours do not read as they did at these settings: all are read again."))
        yield from look_again(session)
    session.trips.append(ColourTrip(made, average, session.average(), spread_of(session)))


def _mended_in_the_menu(session: ManageSession, colours: tuple[str, ...], *, tinted: bool) -> Procedure[bool]:
    """Have it seen in the menu that controls stand as listed; returns whether one did not, and was turned."""
    # One of a colour's other controls may have been turned instead.
    listed = COLOUR_ORDER if tinted else colours
    again = looked_at(control for control in session.controls if control.role.channel in listed)
    yield from held(session, Note(_unlike_words(("white", *colours) if tinted else colours)))
    yield from held(session, Progress(len(session.trips), len(session.trips) + 1, session.state(again)))
    made: Move = yield from insist(Turn(again))
    yield from look(session, felt_by(session, again))
    return bool(stood_off(made, session.controls).any())


def _looked_closer(session: ManageSession, kept: Kept) -> Procedure[tuple[tuple[str, ...], bool]]:
    """Tell which colours read otherwise than they were kept, and whether white does; by two looks, if any does."""
    colours = unlike(session, kept)
    if colours or white_unlike(session, kept):
        # Another look costs no walk.
        yield from look(session, [row for row in session.plan.read if session.plan.samples[row].colour in colours])
        colours = unlike(session, kept)
    return colours, white_unlike(session, kept)


def _turned_to_where_it_stood(
    session: ManageSession, noted: tuple[ControlState, ...], kept: Kept
) -> Procedure[None]:
    """Have the control turned that stood elsewhere than `noted` when it was read, while it reads otherwise."""
    gone = np.zeros(len(noted))
    first = _since(session, kept, gone)
    for _ in range(_TO_WHERE_IT_STOOD):
        colours, tinted = yield from _looked_closer(session, kept)
        if not (colours or tinted) and (gone.any() or _far(first) < _FAR):
            break
        stood = stood_elsewhere(session.belief, noted, kept.told, _since(session, kept, gone))
        if stood is None or np.array_equal(stood, gone):
            break
        yield from _turned_by(session, stood - gone, _stood_words(session, noted, stood))
        gone = stood
    if gone.any() and _far(_since(session, kept, gone)) > _NEARER * _far(first):
        yield from _turned_by(session, -gone, "That was not it: all goes back to where it was listed.")
        if _NEARER * _far(_since(session, kept, np.zeros(len(noted)))) > _far(first):
            # A hand has slipped on one of these walks.
            colours, tinted = yield from _looked_closer(session, kept)
            yield from _mended_in_the_menu(session, colours or COLOUR_ORDER, tinted=tinted)
        return
    session.stood_elsewhere(noted, gone)


def _turned_by(session: ManageSession, steps: Array, words: str) -> Procedure[None]:
    yield from held(session, Note(words))
    yield from turned_beside(session, trip_between(session.controls, moved(session.controls, steps)))
    yield from look_whole(session)


def _stood_words(session: ManageSession, noted: tuple[ControlState, ...], stood: Array) -> str:
    """What to say of a control that seems to have stood some steps, the only ones of `stood`, from where noted."""
    place = int(np.abs(stood).argmax())
    control, found = noted[place], session.plan.controls[place]
    how = f"a figure of {control.role.channel} {WAS_NOTED_WRONG}"
    if control.value != found.value:
        how = f"a control of {control.role.channel} stood elsewhere"
    at = control.value + int(stood[place]) * control.step
    as_if = f"colours read as if {control.name} had stood at about {at}, not at {control.value}"
    return f"It seems that {how}: {as_if}. It is turned there, to see."


def _since(session: ManageSession, kept: Kept, gone: Array) -> Observation:
    """How colours and white have changed since they were kept; `gone` (controls,): steps turned from there."""
    now, back = session.read_so, session.plan.target.gamut.rgb_matrix.T
    both = np.flatnonzero(kept.read & now.read)
    variance = (kept.sd[both] ** 2 + now.sd[both] ** 2) @ back**2 + _WANDER**2
    return Observation(session.wanted[both], gone[None], (now.xyz[both] - kept.xyz[both]) @ back, variance)


def _far(told: Observation) -> float:
    """How far colours read from how they did: a mean of squares of which each is about one by noise alone."""
    return float((told.seen**2 / told.variance).mean())


def _unlike_words(colours: tuple[str, ...]) -> str:
    named = " and ".join((", ".join(colours[:-1]), colours[-1])) if len(colours) > 1 else colours[0]
    reads = "do not read as they did" if len(colours) > 1 else "does not read as it did"
    return f"{named.capitalize()} {reads} at these settings: see in the menu that every control stands as listed."
