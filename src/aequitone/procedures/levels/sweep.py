"""Carrying out a sweep: turn, read, ask the sweep where next, and leave the control where it should be."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace

from aequitone.advice.levels import (
    Ask,
    BlackSweep,
    Look,
    Position,
    Sweep,
    contradicted,
)
from aequitone.advice.levels.sweep import WHITE
from aequitone.procedures.known_level import KnownLevel
from aequitone.procedures.levels.believed import Believed
from aequitone.procedures.levels.riding import expected_of, position_of
from aequitone.procedures.levels.swept import Swept
from aequitone.procedures.levels.trips import Trips
from aequitone.procedures.levels.words import odd_words
from aequitone.procedures.policy import ReadPolicy
from aequitone.procedures.steps import (
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
from aequitone.procedures.uninterrupted import insist_on_turning
from aequitone.signal import SignalFormat, colour_patch


def carry_out(
    sweep: Sweep,
    format_: SignalFormat,
    tell: Callable[[Swept], object],
    trips: Trips,
    believed: Believed,
    stands: int | None = None,
    *,
    white: float = 0.0,
    by_hand: bool = False,
    given: Mapping[Look, KnownLevel] | None = None,
) -> Procedure[Swept]:
    """Run a sweep to its finding; after each position yields Progress with what `tell` makes of the Swept.

    `believed`: positions that were read already, as all else stands; `stands`: where the control stands by now,
    if it is not where it was found; `white`: its luminance as far as it is known, cd/m² (a sweep of the light
    itself knows it better); `by_hand`: a position that the others contradict is turned to and read once more;
    `given`: what was just read as all stands: as long as nothing is turned it is not read again.
    Understands PutBack (the control goes back to where it was and stays there), StopHere (what is known by now is
    enough) and ReadAgain (the position is read once more).
    """
    control = sweep.control if stands is None else replace(sweep.control, value=stands)
    left_out: set[int] = set()
    said = False
    try:
        while True:
            ask = sweep.next(believed.positions)
            if ask is None:
                odd = contradicted(sweep, believed.positions) if by_hand else None
                # Once for a setting: what is read so again is the screen's own way.
                if odd is None or believed.positions[odd].setting in left_out:
                    break
                left_out.add(believed.positions[odd].setting)
                yield Note(odd_words(control, believed.positions[odd]))
                believed = believed.without(odd)
                continue
            if ask.setting != control.value:
                stands_at = yield from trips.turn_about(control, ask.setting)
                said, given = stands_at != ask.setting, None
                control, ask = replace(control, value=stands_at), replace(ask, setting=stands_at)
            else:
                yield from trips.settle()
            try:
                position = yield from _read(sweep, ask, believed.positions, format_, white, given or {})
            except ReadAgain:
                continue
            finally:
                given = None
            fresh = WHITE in position.looks
            lit = float(position.of(WHITE)[0][0, 1]) if fresh else white
            yield from _ridden(trips, format_, lit, fresh=fresh)
            words, stood = "", None
            if by_hand:
                believed, words, stood = believed.take_by_hand(sweep, control, position, said=said)
                sweep = _found_at(sweep, believed.found_at)
            else:
                believed = believed.take(position)
            if words:
                yield Note(words)
            swept = Swept(control, believed.found_at, believed.positions, doubt=words if stood is not None else "")
            yield Progress(len(believed.positions), 0, tell(swept))
            if stood is not None:
                yield from trips.turn((replace(control, value=stood), control.value))
    except StopHere:
        pass
    except PutBack:
        return (yield from _put_back(Swept(control, believed.found_at, believed.positions), trips))
    found_at, positions = believed.found_at, believed.positions
    if not positions:
        return Swept(control, found_at, ())
    finding = sweep.found(positions)
    done = Swept(control, found_at, positions, finding)
    # What was found is told before the control is turned to it: a person turns what they understand.
    yield Progress(len(positions), 0, tell(done))
    try:
        if finding.setting != control.value:
            yield from trips.turn_later((control, finding.setting))
    except PutBack:
        return (yield from _put_back(done, trips))
    except (StopHere, ReadAgain):
        # Stopped before the last turn: it stands where it stood.
        return done
    return replace(done, control=replace(control, value=finding.setting))


def _found_at(sweep: Sweep, setting: int) -> Sweep:
    """The sweep, had its control been found at a setting: only black's level is ever told to be noted wrong."""
    if not isinstance(sweep, BlackSweep) or sweep.control.value == setting:
        return sweep
    return replace(sweep, control=replace(sweep.control, value=setting))


def _ridden(trips: Trips, format_: SignalFormat, white: float, *, fresh: bool) -> Procedure[None]:
    """Read what goes along, from the start where a person wants it read again."""
    while True:
        try:
            return (yield from trips.riders.read(format_, white, fresh=fresh))
        except ReadAgain:
            continue


def _put_back(swept: Swept, trips: Trips) -> Procedure[Swept]:
    yield from trips.settle()
    if swept.control.value != swept.found_at:
        yield from insist_on_turning(Turn(swept.control.moved_to(swept.found_at)))
    return replace(swept, control=replace(swept.control, value=swept.found_at), kept=True)


def _read(
    sweep: Sweep,
    ask: Ask,
    positions: Sequence[Position],
    format_: SignalFormat,
    white: float,
    given: Mapping[Look, KnownLevel],
) -> Procedure[Position]:
    readings: dict[Look, Reading | KnownLevel] = {}
    for look in ask.looks:
        if look in given:
            readings[look] = given[look]
            continue
        patch = colour_patch(look.name, look.percents, format_)
        yield Show(patch, together=bool(readings))
        policy = ReadPolicy(sweep.precision(look, expected_of(positions, look, white)))
        readings[look] = yield Read(patch, policy, Purpose.SWEEP)
    return position_of(ask.setting, ask.looks, readings, white)
