"""Carrying out a sweep: turn, read, ask the sweep where next, and leave the control where it should be."""

from collections.abc import Callable, Sequence
from dataclasses import replace

from aequitone.advice.levels import (
    Ask,
    BlackSweep,
    Look,
    Position,
    Sweep,
    contradicted,
    seems_noted_wrong,
    slipped,
)
from aequitone.advice.levels.sweep import WHITE
from aequitone.procedures.levels.riding import expected_of, position_of
from aequitone.procedures.levels.swept import Swept
from aequitone.procedures.levels.trips import Trips
from aequitone.procedures.levels.words import noted_wrong_words, odd_words, slip_words
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
    known: Sequence[Position] = (),
    stands: int | None = None,
    *,
    white: float = 0.0,
    by_hand: bool = False,
    doubted: bool = False,
) -> Procedure[Swept]:
    """Run a sweep to its finding; after each position yields Progress with what `tell` makes of the Swept.

    `known`: positions that were read already, as all else stands; `stands`: where the control stands by now, if it
    is not where it was found; `white`: its luminance as far as it is known, cd/m² (a sweep of the light itself
    knows it better); `by_hand`: a position that the others contradict is turned to and read once more;
    `doubted`: one was, before this.
    Understands PutBack (the control goes back to where it was and stays there), StopHere (what is known by now is
    enough) and ReadAgain (the position is read once more).
    """
    positions, found_at = list(known), sweep.control.value
    control = sweep.control if stands is None else replace(sweep.control, value=stands)
    left_out: set[int] = set()
    said = False
    try:
        while True:
            ask = sweep.next(positions)
            if ask is None:
                odd = contradicted(sweep, positions) if by_hand else None
                # Once for a setting: what is read so again is the screen's own way.
                if odd is None or positions[odd].setting in left_out:
                    break
                left_out.add(positions[odd].setting)
                yield Note(odd_words(control, positions.pop(odd)))
                continue
            if ask.setting != control.value:
                stands_at = yield from trips.turn_about(control, ask.setting)
                said = stands_at != ask.setting
                control, ask = replace(control, value=stands_at), replace(ask, setting=stands_at)
            else:
                yield from trips.settle()
            try:
                position = yield from _read(sweep, ask, positions, format_, white)
            except ReadAgain:
                continue
            positions.append(position)
            fresh = WHITE in position.looks
            lit = float(position.of(WHITE)[0][0, 1]) if fresh else white
            yield from _ridden(trips, format_, lit, fresh=fresh)
            stood = slipped(sweep, positions) if by_hand and not doubted else None
            if doubted and isinstance(sweep, BlackSweep) and seems_noted_wrong(sweep, positions, said=said):
                yield Note(noted_wrong_words(control.name, found_at, position.setting))
                positions, found_at = [position], position.setting
                sweep = replace(sweep, control=replace(sweep.control, value=found_at))
            doubted = stood is not None
            if stood is not None:
                # Once: what is read so again is the screen's own way.
                positions.pop()
                words = slip_words(control, position, stood)
                yield Note(words)
                swept = Swept(control, found_at, tuple(positions), doubt=words)
                yield Progress(len(positions), 0, tell(swept))
                yield from trips.turn((replace(control, value=stood), control.value))
                continue
            yield Progress(len(positions), 0, tell(Swept(control, found_at, tuple(positions))))
    except StopHere:
        pass
    except PutBack:
        return (yield from _put_back(Swept(control, found_at, tuple(positions)), trips))
    if not positions:
        return Swept(control, found_at, ())
    finding = sweep.found(positions)
    done = Swept(control, found_at, tuple(positions), finding)
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
    sweep: Sweep, ask: Ask, positions: list[Position], format_: SignalFormat, white: float
) -> Procedure[Position]:
    readings: dict[Look, Reading] = {}
    for look in ask.looks:
        patch = colour_patch(look.name, look.percents, format_)
        yield Show(patch, together=bool(readings))
        policy = ReadPolicy(sweep.precision(look, expected_of(positions, look, white)))
        readings[look] = yield Read(patch, policy, Purpose.SWEEP)
    return position_of(ask.setting, ask.looks, readings, white)
