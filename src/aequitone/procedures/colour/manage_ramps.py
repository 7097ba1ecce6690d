"""Fine ramps through colours that a colour management pulls hard: where one shows a step, less is turned."""

from collections.abc import Collection, Sequence
from dataclasses import replace

import numpy as np

from aequitone.advice.colours.ramp import RAMP, Step, largest_step
from aequitone.advice.moves import ControlState, moved, steps_of, trip_between
from aequitone.advice.roles import COLOUR_ORDER
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.colour.manage_looks import held, look_whole, read_patch, with_neighbours
from aequitone.procedures.colour.manage_plan import Ramp
from aequitone.procedures.colour.manage_session import ManageSession
from aequitone.procedures.colour.manage_turns import turned_beside
from aequitone.procedures.steps import Note, Procedure, Progress
from aequitone.signal import colour_patch

# Linear light that a colour must have been pulled by for a ramp through it to be read; and once one had a step.
_PULLED, _WHERE_COARSE = 0.05, 0.02
# XYZ of a colour as read, and its deviation, (3,) each, in cd/m².
_Told = tuple[Array, Array]


def kept_smooth(session: ManageSession) -> Procedure[None]:
    """Read a ramp through the colour that is pulled furthest; take back half or all of what makes a step.

    A screen that is coarse is so beyond some steps of its controls: where the furthest is smooth, all are. Where
    it is not, all that were turned are read.
    """
    if pulled(session, _PULLED):
        read: set[str] = set()
        while left := [colour for colour in pulled(session, _WHERE_COARSE) if colour not in read]:
            read.add(left[0])
            if not (yield from _smoothed(session, left[0])) and len(read) == 1:
                break
    session.ramp = None
    yield from look_whole(session)


def pulled(session: ManageSession, least: float) -> list[str]:
    """The colours whose own controls add `least` of linear light from how they were found, the furthest first."""
    turned = steps_of(trip_between(session.plan.controls, session.controls), session.plan.controls)
    added = turned[:, None] * session.belief.best.full
    far: dict[str, float] = {}
    for colour in COLOUR_ORDER:
        own = [i for i, control in enumerate(session.controls) if control.role.channel == colour]
        # What its controls do together: one may take back what another adds.
        if own and float(np.abs(added[own].sum(axis=0)).max()) > least:
            far[colour] = float(np.abs(turned[own]).max())
    return sorted(far, key=lambda colour: -far[colour])


def _smoothed(session: ManageSession, colour: str) -> Procedure[bool]:
    """Read a ramp, and turn less of what makes a step in it; returns whether it had one."""
    step = yield from _ramp(session, colour)
    if not step.is_seen:
        return False
    as_set = session.controls
    ways = (
        ({colour}, 0.5, "half of what was turned goes back"),
        ({colour}, 0.0, "all of it goes back"),
        (with_neighbours({colour}), 0.0, "that of the colours beside it goes back too"),
    )
    for colours, share, way in ways:
        words = f"The ramp through {colour} has a step of ΔE {step.size:.1f} above {step.above:.0f} %: {way}."
        to = _towards_found(session, colours, share)
        if to == session.controls:
            continue
        yield from held(session, Note(words))
        yield from turned_beside(session, trip_between(session.controls, to))
        step = yield from _ramp(session, colour)
        if not step.is_seen:
            return True
    # It is there without the controls too: they are not to blame.
    words = f"The step in {colour} is the screen's own: its controls stay as they were set."
    yield from held(session, Note(words))
    if as_set != session.controls:
        yield from turned_beside(session, trip_between(session.controls, as_set))
    return True


def _towards_found(session: ManageSession, colours: Collection[str], share: float) -> tuple[ControlState, ...]:
    """The controls with those of some colours at a share of the way from how they were found."""
    found = session.plan.controls
    steps = steps_of(trip_between(session.controls, found), session.controls)
    own = np.array([control.role.channel in colours for control in session.controls])
    back = np.where(own, np.rint(steps * (1.0 - share)), 0.0)
    return moved(session.controls, back)


def _ramp(session: ManageSession, colour: str) -> Procedure[Step]:
    """Read a ramp, and show it with each reading; where a step may be noise, the two beside it are read again."""
    told: list[_Told] = []
    session.ramp = Ramp(colour, ())
    for at in RAMP:
        known = session.read_as_it_is(session.plan.six_signal(colour, at))
        told.append(known or (yield from _read(session, at)))
        yield from _shown(session, told)
    step = _step(session, told)
    if step.is_doubtful:
        for place in (RAMP.index(step.above), RAMP.index(step.above) + 1):
            told[place] = _together(told[place], (yield from _read(session, RAMP[place])))
            yield from _shown(session, told)
        step = _step(session, told)
    session.ramp = replace(session.ramp, step=step.size, is_seen=step.is_seen)
    session.ramps = (*(ramp for ramp in session.ramps if ramp.colour != colour), session.ramp)
    return step


def _read(session: ManageSession, at: float) -> Procedure[_Told]:
    """Read a colour of the ramp under test, at a saturation in %."""
    assert session.ramp is not None
    colour, plan = session.ramp.colour, session.plan
    patch = colour_patch(f"{colour} {at:g} %", plan.six_signal(colour, at), plan.format)
    reading = yield from read_patch(session, patch)
    return reading.xyz, reading.sd


def _together(one: _Told, other: _Told) -> _Told:
    """The mean of two readings."""
    return (one[0] + other[0]) / 2.0, np.hypot(one[1], other[1]) / 2.0


def _wanted(session: ManageSession, amount: int) -> Array:
    """XYZ wanted of the first colours of the ramp under test, (n, 3)."""
    assert session.ramp is not None and session.white is not None
    signals = [session.plan.six_signal(session.ramp.colour, at) for at in RAMP[:amount]]
    return session.plan.wanted(signals, session.white.Y, session.black)


def _shown(session: ManageSession, told: Sequence[_Told]) -> Procedure[None]:
    """Show the ramp under test as far as it was read."""
    assert session.ramp is not None and session.white is not None
    both = np.stack([_wanted(session, len(told)), [xyz for xyz, _ in told]], axis=1)
    shares = both / session.plan.held_to(session.white.Y)
    pairs = tuple((tuple(asked), tuple(came)) for asked, came in shares.tolist())
    session.ramp = replace(session.ramp, pairs=pairs)
    yield from held(session, Progress(len(session.trips), len(session.trips) + 1, session.state()))


def _step(session: ManageSession, told: Sequence[_Told]) -> Step:
    """The largest step of the ramp under test."""
    assert session.white is not None
    xyz, sd = (np.array(each) for each in zip(*told, strict=True))
    white = session.plan.target.white.xyz(session.plan.held_to(session.white.Y))
    return largest_step(xyz, _wanted(session, len(told)), sd, white)
