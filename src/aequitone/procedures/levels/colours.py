"""Colour and tint: where their lights cross, from as few readings as tell it."""

from dataclasses import replace

import numpy as np

from aequitone.advice.levels import ColourSweep, Position, TintSweep
from aequitone.advice.levels.crossing import PRIMARIES
from aequitone.advice.levels.sweep import Look, share_of_range
from aequitone.advice.roles import Role
from aequitone.procedures.levels.session import LevelsSession, read_colour, run_sweep
from aequitone.procedures.levels.sweep import Swept
from aequitone.procedures.steps import Note, Procedure, Reading
from aequitone.procedures.uninterrupted import insist

# Red, green and blue are pure where there is too much colour rather than too little.
_MORE = 0.12
# Tint that was turned by more steps has moved the crossing of colour.
_TINT_FAR = 3


def set_colours(now: LevelsSession) -> Procedure[None]:
    """Find where colour and tint belong and turn them there; colour again where tint went far."""
    if now.channels is None:
        return
    colour = (yield from _colour(now)) if Role.COLOUR in now.controls else None
    if Role.TINT not in now.controls:
        return
    assert now.channels is not None and now.black is not None
    sweep = TintSweep(now.controls[Role.TINT], now.channels, now.black, now.plan.fourth)
    tint = yield from run_sweep(now, sweep, _known_of_tint(sweep, _sweep(now), colour) if colour else ())
    far = abs(tint.control.value - tint.found_at) > _TINT_FAR * tint.control.step
    if colour is not None and far and not tint.kept and not colour.kept:
        yield from run_sweep(now, _sweep(now))


def _known_of_tint(sweep: TintSweep, of_colour: ColourSweep, colour: Swept) -> list[Position]:
    """What the sweep of colour has read at its own end says of tint as it stands."""
    own = [of_colour.looks.index(look) for look in sweep.looks]
    last = [each for each in colour.positions if each.setting == colour.control.value]
    return [Position(sweep.control.value, last[-1].xyz[own], last[-1].sd[own])] if last else []


def _sweep(now: LevelsSession) -> ColourSweep:
    assert now.channels is not None and now.black is not None
    return ColourSweep(now.controls[Role.COLOUR], now.channels, now.black, now.plan.fourth)


def _colour(now: LevelsSession) -> Procedure[Swept]:
    """Sweep colour; its second position, with more colour than as found, shows the primaries too."""
    found = now.controls[Role.COLOUR]
    first = yield from _position(now, found.value)
    more = found.snapped(found.value + share_of_range(found, _MORE))
    if more == found.value:
        return (yield from run_sweep(now, _sweep(now), [first]))
    yield from now.trips.insist_on_turning((found, more))
    now.controls[Role.COLOUR] = replace(found, value=more)
    second = yield from _position(now, more, primaries=True)
    return (yield from run_sweep(now, _sweep(now), [first, second], found.value))


def _position(now: LevelsSession, setting: int, *, primaries: bool = False) -> Procedure[Position]:
    """Read what tells of colour where it stands, and red, green and blue along with it."""
    own = _sweep(now).looks
    looks: dict[str, Look] = {look.name: look for look in (*own, *(PRIMARIES if primaries else ()))}
    readings: dict[str, Reading] = {}
    for name, look in looks.items():
        readings[name] = yield from read_colour(look, now)
    if primaries:
        words = now.tell_channels(np.column_stack([readings[look.name].xyz for look in PRIMARIES]))
        if words:
            yield from insist(Note(words))
    told = [readings[look.name] for look in own]
    return Position(setting, np.array([r.xyz for r in told]), np.array([r.sd for r in told]))
