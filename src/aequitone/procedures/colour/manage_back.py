"""Going back with a colour management to where it was read before: by hand it is seen that it is there."""

from dataclasses import replace

import numpy as np

from aequitone.advice.moves import ControlState, Move, trip_between
from aequitone.advice.roles import COLOUR_ORDER
from aequitone.colorimetry import delta_e_2000
from aequitone.procedures.colour.manage_looks import felt_by, held, look, look_whole
from aequitone.procedures.colour.manage_session import Kept, ManageSession
from aequitone.procedures.colour.manage_turns import after
from aequitone.procedures.steps import Note, Procedure, Turn
from aequitone.procedures.uninterrupted import insist

# ΔE 2000 of a colour from how it read at the same settings, and so many spreads of both, that is no drift.
_UNLIKE_DE, _SIGMAS = 1.0, 4.0
# The same of white's cast, which is read closely.
_WHITE_UNLIKE_DE = 0.4


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

    `kept`: how it read there; None where that is not known.
    """
    back = replace(trip_between(session.controls, controls), undoes=True)
    if not back.changes:
        return
    yield from turned_back(session, back)
    if kept is None or not session.plan.by_hand:
        return
    yield from look_whole(session)
    colours = unlike(session, kept)
    if colours or white_unlike(session, kept):
        # Another look costs no walk.
        yield from look(session, [row for row in session.plan.read if session.plan.samples[row].colour in colours])
        colours = unlike(session, kept)
    tinted = white_unlike(session, kept)
    again = back
    if not tinted:
        again = replace(back, changes=tuple(change for change in back.changes if change.role.channel in colours))
    if again.changes:
        yield from held(session, Note(_unlike_words(("white", *colours) if tinted else colours)))
        yield from insist(Turn(again))
        yield from look(session, felt_by(session, again))


def _unlike_words(colours: tuple[str, ...]) -> str:
    named = " and ".join((", ".join(colours[:-1]), colours[-1])) if len(colours) > 1 else colours[0]
    reads = "do not read as they did" if len(colours) > 1 else "does not read as it did"
    return f"{named.capitalize()} {reads} at these settings: see in the menu that every control stands as listed."
