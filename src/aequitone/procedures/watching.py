"""Reading on and on while a person turns what a move asks for, until they say that it is done."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace

from aequitone.advice.by_hand.standing import as_far, as_noted
from aequitone.advice.by_hand.watching import Watched
from aequitone.advice.moves import Change, ControlState, Move
from aequitone.advice.roles import Role
from aequitone.procedures.policy import ReadPolicy
from aequitone.procedures.steps import (
    Done,
    Interrupt,
    Note,
    Procedure,
    Progress,
    Purpose,
    Read,
    Reading,
    Show,
    Turn,
    Watch,
)
from aequitone.procedures.uninterrupted import insist, insist_on_reading
from aequitone.signal import SignalFormat, grey_patch

# Of the light that is read: exact enough to tell half a step, quick enough to follow a hand.
_EXACT = 0.003


@dataclass(frozen=True)
class Sight:
    """A level to look at, and what a glance at it tells."""

    percent: float
    light: float
    """Luminance that is expected there, cd/m²."""
    tell: Callable[[Reading], Watched]


def turned(move: Move, format_: SignalFormat, sights: Sequence[Sight], *, heeds: bool = False) -> Procedure[Move]:
    """Have a move made; a person may want to watch its light meanwhile, at one sight after the other.

    What was watched and has not moved is asked for once more before it is noted as turned. Returns the move with
    what the person said of where its controls stood; `heeds`: where one stands off its way, nothing is turned.
    """
    asked, made = move, False
    stood: dict[Role, int | None] = {}
    while True:
        try:
            last: Move = yield Turn(asked, made, heeds=heeds and asked is move and not made)
            if last.is_untouched and asked.changes:
                return last
            stood |= {change.role: change.stood for change in last.changes}
            return replace(move, changes=tuple(replace(c, stood=stood.get(c.role)) for c in move.changes))
        except Watch:
            left = yield from watch(replace(move, changes=asked.changes), sights, format_)
            seen = tuple(change for change in asked.changes if change not in left)
            if not left:
                made = True
                continue
            if seen:
                part: Move = yield from insist(Turn(replace(asked, changes=seen), made=True))
                stood |= {change.role: change.stood for change in part.changes}
            names = ", ".join(change.name for change in left)
            words = f"Watched, and not seen to move: {names}. Turn what is left, or say where it stands."
            yield from insist(Note(words))
            asked = replace(asked, changes=left)


def turned_as_far(
    move: Move, controls: Iterable[ControlState], turn: Callable[[Move, bool], Procedure[Move]]
) -> Procedure[Move]:
    """Have a move made; where a control stands off its way, each goes as far from there, in the same walk.

    `turn` has a move made, and heeds what a person says of where controls stand where its second argument is true.
    Returns the move from where the controls were held to stand, with what was said of that.
    """
    known = tuple(controls)
    untouched = yield from turn(move, True)
    if not untouched.is_untouched:
        return untouched
    yield from insist(Note("From where the controls stand, each goes as far as it was to go."))
    made = rest = as_far(move, untouched, known)
    if rest.changes:
        made = yield from turn(rest, False)
    return as_noted(made, untouched, known)


def watch(move: Move, sights: Sequence[Sight], format_: SignalFormat) -> Procedure[tuple[Change, ...]]:
    """Tell after every glance how far each control still has to go; ends with Done, and with nothing else.

    Once all that is felt at one sight is there, the next is looked at. Returns the changes of the move that were
    not seen to move, with a last glance at each sight.
    """
    at, shown = 0, -1
    while True:
        try:
            sight = sights[at]
            patch = grey_patch(sight.percent, format_)
            if shown != at:
                yield Show(patch)
                shown = at
            policy = ReadPolicy(_EXACT * sight.light, sight.light)
            reading: Reading = yield Read(patch, policy, Purpose.WATCH, once=True)
            told = sight.tell(reading)
            yield Progress(0, 0, told)
            if told.there and at + 1 < len(sights):
                at += 1
        except Done:
            return (yield from _unmoved(move, sights, format_))
        except Interrupt:
            # Half of a move may be made: there is nothing to put back or to stop at before it is whole.
            continue


def _unmoved(move: Move, sights: Sequence[Sight], format_: SignalFormat) -> Procedure[tuple[Change, ...]]:
    """Glance at every sight once more, whatever is wished: the last turn may be younger than the last glance."""
    stood: dict[str, bool] = {}
    for sight in sights:
        patch = grey_patch(sight.percent, format_)
        policy = ReadPolicy(_EXACT * sight.light, sight.light)
        told = sight.tell((yield from insist_on_reading(patch, policy, Purpose.WATCH)))
        stood |= {each.name: each.unmoved for each in told.left}
    return tuple(change for change in move.changes if stood.get(change.name))
