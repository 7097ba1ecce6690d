"""Levels by meter: light output and then contrast, and along with them black level, colour and tint."""

from dataclasses import replace
from functools import partial

import numpy as np

from aequitone.advice.levels import BlackSweep, ClippingSweep, LightSweep, Position
from aequitone.advice.levels.sweep import BLACK, WHITE
from aequitone.advice.moves import ControlState
from aequitone.advice.roles import Role
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.known_level import KnownLevel
from aequitone.procedures.levels.colours import set_colours, set_colours_off
from aequitone.procedures.levels.last_check import see_contrast, see_that_they_stand, see_the_shadows
from aequitone.procedures.levels.pictures import board, windows
from aequitone.procedures.levels.session import (
    PRECISION,
    LevelsPlan,
    LevelsSession,
    LevelsState,
    finish,
    light_shape,
    read_along,
    read_grey,
    read_position,
    read_primaries,
    read_white,
    run_sweep,
    set_off,
)
from aequitone.procedures.levels.shadows import keep_shadows, read_ends, take_black
from aequitone.procedures.levels.swept import Swept
from aequitone.procedures.levels.watching import watch
from aequitone.procedures.steps import (
    Note,
    Procedure,
    Progress,
    Reading,
)
from aequitone.reference import Target

# Light is set roughly before contrast moves it, about right after it, and to the last step once white balance has
# taken its share.
_LIGHT_ABOUT, _LIGHT_CLOSE = 0.08, 0.01
# White may be off so much from the wanted light before it is set again.
_LIGHT_OFF = 0.02
_MOST_RESERVE = 0.4
# Black that is off by less after contrast, in steps or in its own spreads, stays.
_BLACK_OFF_STEPS, _BLACK_OFF_SPREADS = 1.5, 0.5
# A link that has turned contrast by no more than this share of its range has not moved black.
_HARDLY_TURNED = 0.02
# By hand it is a slip that is looked for, and a few steps may be what contrast has done.
_SLIP_STEPS, _SLIP_SPREADS = 4.0, 1.2


def levels(plan: LevelsPlan) -> Procedure[LevelsState]:
    """Set the levels that the plan's controls allow; returns a LevelsState."""
    now = LevelsSession(plan, {control.role: control for control in plan.controls})
    now.trips.riders.by_hand = not plan.by_link
    now.trips.watch = partial(watch, now)
    yield from _first_readings(now)
    if Role.BLACK_LEVEL in now.controls:
        set_off(now, Role.BLACK_LEVEL, lambda control: _black_sweep(now, control))
    set_colours_off(now)
    yield from read_along(now)
    if Role.LIGHT_OUTPUT in now.controls:
        yield from _light(now, Role.LIGHT_OUTPUT, _LIGHT_ABOUT)
    black = yield from _black(now)
    yield from _contrast(now, black)
    yield from read_white(now)
    yield from _black_again(now, black)
    yield from _light_again(now)
    yield from set_colours(now)
    yield from _last_readings(now)
    return now.state()


def _first_readings(now: LevelsSession) -> Procedure[None]:
    yield from read_white(now)
    black: Reading = yield from read_grey(now, 0.0)
    now.take_black(black.xyz)
    now.first[BLACK] = black
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


def _light(now: LevelsSession, role: Role, close: float, highest: int | None = None) -> Procedure[None]:
    """Set the light that is wanted; white was read where the control stands."""
    assert now.white is not None and now.white_sd is not None
    control = now.controls[role]
    highest_stop = control.highest
    if highest is not None:
        control = replace(control, highest=highest)
    shape = _shape(now, control)
    here = Position(control.value, now.white[None], now.white_sd[None], (WHITE,))
    swept = yield from run_sweep(now, LightSweep(control, now.wanted, shape, close), [here])
    # The limit was this sweep's; the control keeps its own end stop.
    now.controls[role] = replace(swept.control, highest=highest_stop)
    nearest = min(swept.positions, key=lambda p: abs(p.setting - swept.control.value))
    now.white, now.white_sd = nearest.xyz[0], nearest.sd[0]
    if nearest.setting == swept.control.value:
        now.stood[WHITE] = now.stands


def _shape(now: LevelsSession, control: ControlState) -> tuple[tuple[int, float], ...]:
    """Settings of a control and the light of white there, as far as it is known by now.

    Contrast's own sweep goes where white clips; the greys that it read tell what is below.
    """
    swept = _last_swept(now, control.role)
    if control.role is not Role.CONTRAST or now.clipping is None or swept is None:
        return light_shape(now, control.role)
    settings = range(control.lowest, control.highest + 1, control.step)
    light = now.clipping.light_at(swept.positions, np.array(settings, dtype=np.float64))
    return tuple(zip(settings, map(float, light), strict=True))


def _black(now: LevelsSession) -> Procedure[Swept | None]:
    """Black level, as far as it was not set along with light output; None where there is no such control."""
    if Role.BLACK_LEVEL not in now.trips.riders.every:
        return None
    return (yield from finish(now, Role.BLACK_LEVEL))


def _contrast(now: LevelsSession, black: Swept | None) -> Procedure[None]:
    """Contrast, and light output along with its last turn."""
    if Role.CONTRAST not in now.controls or now.channels is None:
        return
    assert now.white is not None and now.white_sd is not None and now.black is not None
    control = now.controls[Role.CONTRAST]
    sweep = ClippingSweep(control, now.channels, now.black, float(now.white[1]), now.plan.from_disc)
    known = []
    if black is not None and now.trips.owes(Role.BLACK_LEVEL):
        # Black is turned with contrast's first trip; what is read before it is brought to where black will stand.
        worth = _black_sweep(now, black.control).worth(black.positions)
        here = yield from read_position(now, control.value, sweep.ramp, sweep, ())
        known = [replace(here, lift=worth * (black.positions[-1].setting - black.control.value))]
    now.lit_at = _light_at(now)
    given = {WHITE: KnownLevel(100.0, now.white, now.white_sd)} if now.is_read(WHITE) else {}
    swept = yield from run_sweep(now, sweep, known, given=given)
    if swept.positions and not swept.kept:
        now.clipping = sweep
        white = float(sweep.light_at(swept.positions, np.array([float(swept.control.value)]))[0])
        yield from _light_along(now, white)


def _black_sweep(now: LevelsSession, control: ControlState) -> BlackSweep:
    white = now.told_at if now.told_at is not None else now.white
    assert white is not None
    plan = now.plan
    return BlackSweep(
        control,
        float(white[1]),
        plan.dark_foot,
        now.shares,
        by_hand=not plan.by_link,
        from_disc=plan.from_disc,
    )


def _black_again(now: LevelsSession, black: Swept | None) -> Procedure[None]:
    """Read the dark greys once more where contrast was turned: it may have moved black.

    By hand a black level that stands elsewhere looks the same, and is likelier: it is turned once more first.
    """
    if black is None or not black.positions or black.kept or black.finding is None or not _contrast_moved(now):
        return
    control = now.controls[Role.BLACK_LEVEL]
    sweep = _black_sweep(now, control)
    for is_slip in (True, False) if not now.plan.by_link else (False,):
        position = yield from read_position(now, control.value, sweep.ramp, sweep, black.positions)
        shift, sd = sweep.shift(black.positions, replace(position, fresh=True))
        steps, spreads = (_SLIP_STEPS, _SLIP_SPREADS) if is_slip else (_BLACK_OFF_STEPS, _BLACK_OFF_SPREADS)
        if abs(shift) <= max(steps * control.step, spreads * sd):
            (dark,), (dark_sd,) = position.of(BLACK)
            take_black(now, dark, dark_sd)
            return
        stood = control.snapped(control.value - shift)
        if is_slip:
            yield Note(
                f"Dark greys read as if {control.name} stood at about {stood}, where it should stand at "
                f"{control.value}. It looks as if it stands elsewhere: see what the menu says."
            )
            yield from now.trips.turn_again(control, stood)
            yield from read_white(now)
    to = control.snapped(control.value + shift)
    words = f"Contrast has moved black by about {abs(shift):.0f}: {control.name} belongs at {to}."
    finding = replace(black.finding, setting=to, exact=black.finding.exact + shift, words=words)
    yield from now.trips.insist_on_turning((control, to))
    yield from now.end(replace(black, control=replace(control, value=to), finding=finding))
    yield from read_white(now)


def _contrast_moved(now: LevelsSession) -> bool:
    """Whether contrast stands elsewhere than it was found; by link, so far that black may have moved with it."""
    swept = [each for each in now.done if each.control.role is Role.CONTRAST]
    if not swept:
        return False
    control, by_link = swept[-1].control, now.plan.by_link
    still = _HARDLY_TURNED * (control.highest - control.lowest) if by_link else 0.0
    return any(abs(each.control.value - each.found_at) > still for each in swept)


def _light_along(now: LevelsSession, white: float) -> Procedure[None]:
    """Have light turned with contrast, by what white will be then: it is read and set exactly afterwards."""
    control, earlier = now.controls.get(Role.LIGHT_OUTPUT), light_shape(now, Role.LIGHT_OUTPUT)
    if control is None or len(earlier) < 2 or _kept(now, Role.LIGHT_OUTPUT):
        return
    here = Position(control.value, np.full((1, 3), white), np.full((1, 3), PRECISION * white), (WHITE,))
    ask = LightSweep(control, now.wanted, earlier, _LIGHT_CLOSE).next([here])
    if ask is None:
        return
    # Beyond what was read a hand that slips could not be told from a lamp that is not straight.
    known = [setting for setting, _ in earlier]
    if now.plan.by_link or min(known) <= ask.setting <= max(known):
        yield from now.trips.turn_later((control, ask.setting))
        now.controls[Role.LIGHT_OUTPUT] = replace(control, value=ask.setting)


def _light_at(now: LevelsSession) -> int | None:
    control = now.controls.get(Role.LIGHT_OUTPUT)
    return control.value if control is not None else None


def _kept(now: LevelsSession, role: Role) -> bool:
    """Whether the person has put a control back: then it is not touched again."""
    return any(swept.kept for swept in now.done if swept.control.role == role)


def _light_again(now: LevelsSession) -> Procedure[None]:
    """Contrast has moved white: set the light once more, by contrast itself where there is no other control."""
    if not now.plan.by_link:
        # Before light is brought to what a slip has made of it.
        yield from see_contrast(now)
    assert now.white is not None
    off = float(now.white[1] / now.wanted - 1.0)
    if Role.LIGHT_OUTPUT in now.controls:
        at_end = any(s.finding and s.finding.at_end for s in now.done if s.control.role == Role.LIGHT_OUTPUT)
        if abs(off) > _LIGHT_OFF and not (at_end and off < 0.0) and not _kept(now, Role.LIGHT_OUTPUT):
            yield from _light(now, Role.LIGHT_OUTPUT, _LIGHT_CLOSE)
        else:
            yield from _light_told(now)
    elif Role.CONTRAST in now.controls and off > _LIGHT_OFF and not _kept(now, Role.CONTRAST):
        # Above its present place a channel clips, so the light is looked for below it.
        yield from _light(now, Role.CONTRAST, _LIGHT_CLOSE, now.controls[Role.CONTRAST].value)


def _light_told(now: LevelsSession) -> Procedure[None]:
    """Say what light gives where it was turned along with contrast and is right there."""
    control, last = now.controls[Role.LIGHT_OUTPUT], _last_swept(now, Role.LIGHT_OUTPUT)
    if last is None or last.finding is None or last.kept or control.value == last.control.value:
        return
    assert now.white is not None
    words = (
        f"{control.name} at {control.value}, turned along with contrast, gives {float(now.white[1]):.1f} cd/m² of "
        f"the {now.wanted:.1f} that are wanted."
    )
    finding = replace(last.finding, setting=control.value, words=words)
    yield from now.end(replace(last, control=control, finding=finding, along=True))


def _last_swept(now: LevelsSession, role: Role) -> Swept | None:
    return next((swept for swept in reversed(now.done) if swept.control.role is role), None)


def _last_readings(now: LevelsSession) -> Procedure[None]:
    """White, black, and what a checkerboard and other windows make of them, with all levels as they stay."""
    yield from read_ends(now)
    if not now.plan.by_link:
        yield from see_that_they_stand(now, Role.BLACK_LEVEL, Role.LIGHT_OUTPUT)
        yield from see_the_shadows(now)
    yield from keep_shadows(now)
    yield Progress(0, 0, now.state())
    if now.plan.board:
        yield from board(now)
    if now.plan.windows:
        yield from windows(now)
