"""Colour and tint: where their lights cross, read in the trips of the other levels as far as those go."""

from collections.abc import Callable
from dataclasses import replace

from aequitone.advice.levels import ColourSweep, TintSweep
from aequitone.advice.levels.crossing import TELLING
from aequitone.advice.moves import ControlState
from aequitone.advice.roles import Role
from aequitone.procedures.levels.session import LevelsSession, finish, read_position, run_sweep, set_off
from aequitone.procedures.levels.swept import Swept
from aequitone.procedures.steps import Note, Procedure

# Where both stand, colour and tint may be off by so much.
_OFF_STEPS = 1.0
# Colour that is off by no more steps lets tint be told, and from so many positions it is known.
_NEAR_STEPS, _TO_TELL = 4, 2
# What was turned by more steps has moved what the other is told by.
_FAR_STEPS = 3


def set_colours_off(now: LevelsSession) -> None:
    """Let colour and tint go along with the trips of light, black and contrast."""
    if now.channels is None:
        return
    if Role.COLOUR in now.controls:
        set_off(now, Role.COLOUR, _maker(now, Role.COLOUR))
    if Role.TINT in now.controls:
        set_off(now, Role.TINT, _maker(now, Role.TINT), lambda: _is_about_right(now))


def _is_about_right(now: LevelsSession) -> bool:
    """Whether colour stands about where it belongs: with too little of it mixtures tell nothing of tint."""
    rider = now.trips.riders.every.get(Role.COLOUR)
    if rider is None:
        return True
    if not rider.positions:
        return False
    if rider.sweep.next(rider.positions) is None:
        return True
    if len(rider.positions) < _TO_TELL:
        return False
    off = abs(rider.sweep.found(rider.positions).setting - rider.control.value)
    return off <= _NEAR_STEPS * rider.control.step


def set_colours(now: LevelsSession) -> Procedure[None]:
    """Bring colour and tint to where they belong, and see that both are right together."""
    ended: list[Swept] = []
    for role in (Role.COLOUR, Role.TINT):
        if role in now.trips.riders.every:
            swept = yield from finish(now, role)
            ended.append(swept)
    told = [each for each in ended if each.positions and not each.kept]
    if any(len(each.positions) > 1 for each in told):
        yield from _see_both(now, told)


def _maker(now: LevelsSession, role: Role) -> Callable[[ControlState], ColourSweep | TintSweep]:
    kind = ColourSweep if role is Role.COLOUR else TintSweep

    def make(control: ControlState) -> ColourSweep | TintSweep:
        assert now.channels is not None and now.black is not None
        return kind(control, now.channels, now.black, now.plan.fourth, now.black_at)

    return make


def _see_both(now: LevelsSession, ended: list[Swept]) -> Procedure[None]:
    """Read their mixtures where both stand; one that is off is looked for once more."""
    yield from now.trips.settle()
    makers = {swept.control.role: _maker(now, swept.control.role) for swept in ended}
    sweeps = [makers[swept.control.role](now.controls[swept.control.role]) for swept in ended]
    looks = dict.fromkeys(look for sweep in sweeps for look in sweep.looks)
    # One that was stopped after one look was not found right by it, and is left as it is.
    by_one_look = [
        swept.control.role
        for swept, sweep in zip(ended, sweeps, strict=True)
        if len(swept.positions) == 1 and sweep.next(swept.positions) is None
    ]
    if any(abs(s.control.value - s.found_at) > _FAR_STEPS * s.control.step for s in ended):
        # Red, green and blue that were told while tint was far off were not pure.
        looks |= dict.fromkeys(TELLING)
    here = yield from read_position(now, 0, tuple(looks), sweeps[0], ())
    now.hear(here)
    for swept in ended:
        control = now.controls[swept.control.role]
        sweep, position = makers[control.role](control), replace(here, setting=control.value)
        off = sweep.off(swept.positions, position)
        if abs(off) > _OFF_STEPS * control.step:
            yield Note(f"{control.name} is off by about {off:+.0f} where it stands now, and is looked for again.")
            yield from run_sweep(now, sweep, [position])
        elif control.role in by_one_look and sweep.next([position]) is not None:
            # It was right beside a control that was not.
            yield Note(f"{control.name} is no longer right where it stands, and is looked for.")
            yield from run_sweep(now, sweep, [position])
