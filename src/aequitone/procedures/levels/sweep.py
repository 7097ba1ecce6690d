"""Carrying out a sweep: turn, read, ask the sweep where next, and leave the control where it should be."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from aequitone.advice.levels import Finding, Position, Sweep, contradicted, slipped
from aequitone.advice.moves import ControlState
from aequitone.figures import light_words
from aequitone.procedures.levels.trips import Trips
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


@dataclass(frozen=True)
class Swept:
    """A sweep so far, or as it ended."""

    control: ControlState
    """As it stands now."""
    found_at: int
    positions: tuple[Position, ...]
    finding: Finding | None = None
    kept: bool = False
    """The person had it put back where it was."""
    doubt: str = ""
    """Why the newest position is not believed, while it is turned to once more."""

    @property
    def readings(self) -> int:
        return sum(len(position.xyz) for position in self.positions)


def carry_out(
    sweep: Sweep,
    format_: SignalFormat,
    tell: Callable[[Swept], object],
    trips: Trips,
    known: Sequence[Position] = (),
    found_at: int | None = None,
    *,
    by_hand: bool = False,
) -> Procedure[Swept]:
    """Run a sweep to its finding; after each position yields Progress with what `tell` makes of the Swept.

    `known`: positions that were read already, as all else stands; `found_at`: where the control was found, if it
    stands elsewhere by now; `by_hand`: a position that the others contradict is turned to and read once more.
    Understands PutBack (the control goes back to where it was and stays there), StopHere (what is known by now is
    enough) and ReadAgain (the position is read once more).
    """
    control, positions, doubted = sweep.control, list(known), False
    left_out: set[int] = set()
    found_at = control.value if found_at is None else found_at
    try:
        while True:
            setting = sweep.next(positions)
            if setting is None:
                odd = contradicted(sweep, positions) if by_hand else None
                # Once for a setting: what is read so again is the screen's own way.
                if odd is None or positions[odd].setting in left_out:
                    break
                left_out.add(positions[odd].setting)
                yield Note(_odd_words(control, positions.pop(odd)))
                continue
            if setting != control.value:
                yield from trips.turn((control, setting))
                control = replace(control, value=setting)
            else:
                yield from trips.settle()
            try:
                position = yield from _read(sweep, setting, positions, format_)
            except ReadAgain:
                continue
            positions.append(position)
            stood = slipped(sweep, positions) if by_hand and not doubted else None
            doubted = stood is not None
            if stood is not None:
                # Once: what is read so again is the screen's own way.
                positions.pop()
                words = _slip_words(control, position, stood)
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


def _slip_words(control: ControlState, position: Position, stood: int) -> str:
    light = light_words(float(position.xyz[0, 1]))
    return (
        f"{control.name} at {control.value} gave {light}, which does not fit what was read before: it looks as if "
        f"it stood at {stood}. It is turned to {control.value} and read once more."
    )


def _odd_words(control: ControlState, position: Position) -> str:
    light = light_words(float(position.xyz[0, 1]))
    return (
        f"{control.name} at {position.setting} gave {light}, which the other readings contradict: it seems to "
        "have stood elsewhere, and is left out."
    )


def _put_back(swept: Swept, trips: Trips) -> Procedure[Swept]:
    yield from trips.settle()
    if swept.control.value != swept.found_at:
        yield from insist_on_turning(Turn(swept.control.moved_to(swept.found_at)))
    return replace(swept, control=replace(swept.control, value=swept.found_at), kept=True)


def _read(sweep: Sweep, setting: int, positions: list[Position], format_: SignalFormat) -> Procedure[Position]:
    readings: list[Reading] = []
    for i, look in enumerate(sweep.looks):
        before = float(positions[-1].xyz[i, 1]) if positions else None
        patch = colour_patch(look.name, look.percents, format_)
        yield Show(patch, together=i > 0)
        readings.append((yield Read(patch, ReadPolicy(sweep.precision(i, before)), Purpose.SWEEP)))
    return Position(setting, np.array([r.xyz for r in readings]), np.array([r.sd for r in readings]))
