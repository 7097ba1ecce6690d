"""Levels by meter: light output, black level, contrast, a second round, colour and tint, and the contrast left."""

from dataclasses import replace

import numpy as np

from aequitone.advice.levels import BlackSweep, ClippingSweep, LightSweep
from aequitone.advice.levels.sweep import Position
from aequitone.advice.moves import ControlState
from aequitone.advice.roles import Role
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.levels.colours import set_colours
from aequitone.procedures.levels.last_check import see_that_they_stand, see_the_shadows
from aequitone.procedures.levels.pictures import board, windows
from aequitone.procedures.levels.session import (
    LevelsPlan,
    LevelsSession,
    LevelsState,
    read_grey,
    read_primaries,
    read_white,
    run_sweep,
)
from aequitone.procedures.levels.shadows import keep_shadows, read_ends
from aequitone.procedures.levels.sweep import Swept
from aequitone.procedures.steps import (
    Note,
    Procedure,
    Progress,
    PutBack,
    ReadAgain,
    Reading,
    StopHere,
)
from aequitone.reference import Target

# Light is set about right here, and to the last step once white balance has taken its share.
_LIGHT_CLOSE = 0.01
# White may be off so much from the wanted light before it is set again.
_LIGHT_OFF = 0.02
_MOST_RESERVE = 0.4
# Of its range: contrast that moves by less is taken by hand to leave black where it is.
_MUCH = 0.12


def levels(plan: LevelsPlan) -> Procedure[LevelsState]:
    """Set the levels that the plan's controls allow; returns a LevelsState."""
    now = LevelsSession(plan, {control.role: control for control in plan.controls})
    yield from _first_readings(now)
    if Role.LIGHT_OUTPUT in now.controls:
        yield from _light(now, Role.LIGHT_OUTPUT)
    yield from _black_and_contrast(now)
    yield from _light_again(now)
    yield from set_colours(now)
    yield from _last_readings(now)
    return now.state()


def _first_readings(now: LevelsSession) -> Procedure[None]:
    yield from read_white(now)
    black: Reading = yield from read_grey(now, 0.0)
    now.black = np.maximum(black.xyz, 0.0)
    assert now.white is not None
    if {Role.CONTRAST, Role.COLOUR, Role.TINT, Role.LIGHT_OUTPUT} & set(now.controls):
        yield from read_primaries(now)
    now.reserve = reserve_of(now.channels, now.white, plan_white(now.plan.target))
    now.wanted = now.plan.light * (1.0 + now.reserve)
    if now.reserve > 0.005:
        yield Note(
            f"White balance will cost about {now.reserve * 100:.0f} % of the light, so {now.wanted:.0f} cd/m² is "
            f"set now for the {now.plan.light:.0f} that are wanted in the end."
        )
    yield Progress(0, 0, now.state())


def plan_white(target: Target) -> Array:
    """XYZ of the target's white at 1 cd/m², (3,)."""
    return np.asarray(target.white.xyz())


def reserve_of(channels: Array | None, white: Array, wanted: Array) -> float:
    """Share of the light that is lost when the channels are taken down to the wanted white.

    `channels` (3, 3) turns XYZ into the light of red, green and blue; `white` and `wanted` are XYZ, (3,).
    """
    if channels is None:
        return 0.0
    has, needs = channels @ white, channels @ wanted
    if np.any(needs <= 0.0) or np.any(has <= 0.0):
        return 0.0
    left = float((has / needs).min())
    return float(np.clip(white[1] / left - 1.0, 0.0, _MOST_RESERVE))


def _light(now: LevelsSession, role: Role, highest: int | None = None) -> Procedure[None]:
    """Set the light that is wanted; white was read where the control stands."""
    assert now.white is not None and now.white_sd is not None
    control = now.controls[role]
    highest_stop = control.highest
    if highest is not None:
        control = replace(control, highest=highest)
    earlier = next((s for s in now.done if s.control.role == role and len(s.positions) > 1), None)
    shape = tuple((p.setting, float(p.xyz[0, 1])) for p in earlier.positions) if earlier else ()
    here = Position(control.value, now.white[None], now.white_sd[None])
    swept = yield from run_sweep(now, LightSweep(control, now.wanted, shape, _LIGHT_CLOSE), [here])
    # The limit was this sweep's; the control keeps its own end stop.
    now.controls[role] = replace(swept.control, highest=highest_stop)
    nearest = min(swept.positions, key=lambda p: abs(p.setting - swept.control.value))
    now.white, now.white_sd = nearest.xyz[0], nearest.sd[0]


def _black_and_contrast(now: LevelsSession) -> Procedure[None]:
    """Black level, contrast, and black level once more where contrast has moved it."""
    assert now.white is not None and now.black is not None
    first: Swept | None = None
    if Role.BLACK_LEVEL in now.controls:
        first = yield from run_sweep(now, _black_sweep(now))
        if first.positions:
            now.black = _lowest(first)
    if Role.CONTRAST not in now.controls or now.channels is None:
        return
    control = now.controls[Role.CONTRAST]
    assert now.white_sd is not None
    sweep = ClippingSweep(control, now.channels, now.black, float(now.white[1]))
    # Where black was moved, white has moved along.
    still = first is None or first.control.value == first.found_at
    known = [Position(control.value, now.white[None], now.white_sd[None])] if still else []
    swept = yield from run_sweep(now, sweep, known)
    share = abs(swept.control.value - swept.found_at) / (control.highest - control.lowest)
    # A walk for nothing: a little contrast does not move black.
    moved = share > (0.0 if now.plan.by_link else _MUCH)
    if first is not None and first.positions and not first.kept and moved:
        yield from _second_round(now, first)


def _black_sweep(now: LevelsSession) -> BlackSweep:
    assert now.white is not None
    return BlackSweep(
        now.controls[Role.BLACK_LEVEL],
        float(now.white[1]),
        now.plan.dark_foot,
        now.channels,
        by_hand=not now.plan.by_link,
    )


def _lowest(swept: Swept) -> Array:
    darkest = min(swept.positions, key=lambda position: float(position.xyz[0, 1]))
    return np.asarray(np.maximum(darkest.xyz[0], 0.0))


def _second_round(now: LevelsSession, first: Swept) -> Procedure[None]:
    """Read the rising part of black's curve once more; a whole sweep only where contrast has moved it."""
    control = now.controls[Role.BLACK_LEVEL]
    lifted = max(first.positions, key=lambda position: float(position.xyz[0, 1]))
    try:
        if lifted.setting != control.value:
            yield from now.trips.turn((control, lifted.setting))
            now.controls[Role.BLACK_LEVEL] = replace(control, value=lifted.setting)
        reading: Reading = yield from read_grey(now, 0.0)
    except (PutBack, StopHere, ReadAgain):
        return
    before = lifted.xyz[0, 1]
    same = abs(reading.Y - before) <= 0.04 * before + 4.0 * float(np.hypot(reading.sd_Y, lifted.sd[0, 1]))
    at = now.controls[Role.BLACK_LEVEL]
    if same:
        yield Note("The second round: contrast has not moved black, so its level stands.")
        yield from _turned(now, at, control.value)
        return
    yield Note("The second round: contrast has moved black, so its level is looked for again.")
    # From where it stood: put back, it must not stay lifted.
    yield from _turned(now, at, control.value)
    swept = yield from run_sweep(now, _black_sweep(now))
    if swept.positions:
        now.black = _lowest(swept)


def _kept(now: LevelsSession, role: Role) -> bool:
    """Whether the person has put a control back: then it is not touched again."""
    return any(swept.kept for swept in now.done if swept.control.role == role)


def _turned(now: LevelsSession, control: ControlState, to: int) -> Procedure[None]:
    """Turn one control; a wish in between does not leave it half way."""
    yield from now.trips.insist_on_turning((control, to))
    now.controls[control.role] = replace(control, value=to)


def _light_again(now: LevelsSession) -> Procedure[None]:
    """Contrast has moved white: set the light once more, by contrast itself where there is no other control."""
    yield from read_white(now)
    if not now.plan.by_link:
        # Before light is brought to what a slip has made of it.
        yield from see_that_they_stand(now, Role.CONTRAST)
    assert now.white is not None
    off = float(now.white[1] / now.wanted - 1.0)
    if Role.LIGHT_OUTPUT in now.controls:
        at_end = any(s.finding and s.finding.at_end for s in now.done if s.control.role == Role.LIGHT_OUTPUT)
        if abs(off) > _LIGHT_OFF and not (at_end and off < 0.0) and not _kept(now, Role.LIGHT_OUTPUT):
            yield from _light(now, Role.LIGHT_OUTPUT)
    elif Role.CONTRAST in now.controls and off > _LIGHT_OFF and not _kept(now, Role.CONTRAST):
        # Above its present place a channel clips, so the light is looked for below it.
        yield from _light(now, Role.CONTRAST, highest=now.controls[Role.CONTRAST].value)


def _last_readings(now: LevelsSession) -> Procedure[None]:
    """White, black, and what a checkerboard and other windows make of them, with all levels as they stay."""
    yield from read_ends(now)
    if not now.plan.by_link:
        yield from see_that_they_stand(now, Role.BLACK_LEVEL, Role.CONTRAST, Role.LIGHT_OUTPUT)
        yield from see_the_shadows(now)
    yield from keep_shadows(now)
    yield Progress(0, 0, now.state())
    if now.plan.board:
        yield from board(now)
    if now.plan.windows:
        yield from windows(now)
