"""Levels by meter: light output, black level, contrast, a second round, colour and tint, and the contrast left."""

from dataclasses import dataclass, field, replace

import numpy as np

from aequitone.advice.levels import BlackSweep, ClippingSweep, ColourSweep, LightSweep, Sweep, TintSweep
from aequitone.advice.levels.crossing import PRIMARIES
from aequitone.advice.levels.sweep import Look, share_of_range
from aequitone.advice.moves import ControlState
from aequitone.advice.roles import Role
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.levels.sweep import Swept, carry_out
from aequitone.procedures.policy import ReadPolicy, seen_black
from aequitone.procedures.steps import (
    Note,
    Procedure,
    Progress,
    Purpose,
    PutBack,
    ReadAgain,
    Reading,
    StopHere,
    Turn,
)
from aequitone.procedures.uninterrupted import insist_on_reading, insist_on_turning
from aequitone.reference import Target
from aequitone.signal import SignalFormat, board_patch, colour_patch, grey_patch

LEVEL_ROLES = (Role.LIGHT_OUTPUT, Role.BLACK_LEVEL, Role.CONTRAST, Role.COLOUR, Role.TINT)
WINDOWS = (0.02, 0.05, 0.10, 0.18, 0.35, 0.60, 1.0)
# Light that differs by less between two windows is not limited.
_SAME_LIGHT = 0.02
# White may be off so much from the wanted light before it is set again.
_LIGHT_OFF = 0.006
_MOST_RESERVE = 0.4
# Tint that was turned by more steps has moved the crossing of colour.
_TINT_FAR = 3
_PRECISION = 0.002
_UNKNOWN_LIGHT = 50.0


@dataclass(frozen=True)
class LevelsPlan:
    """What is to be set, and the controls there are, as they stand."""

    target: Target
    format: SignalFormat
    controls: tuple[ControlState, ...]
    light: float
    """Luminance of white that the school wants in the end, cd/m²."""
    windows: bool = False
    """Whether white is read at several window sizes."""
    fourth: bool = False
    """Whether the screen has a fourth, white light: a subpixel, or a clear segment of its wheel."""
    board: bool = False
    """Whether a checkerboard is read: black beside white."""
    dark_foot: float = 0.0
    """Share of the signal above black that the panel usually gives no light for."""

    def __post_init__(self) -> None:
        if self.light <= 0.0:
            raise ValueError(f"the wanted light must be above 0 cd/m², got {self.light:g}")
        strange = [control.name for control in self.controls if control.role not in LEVEL_ROLES]
        if strange:
            raise ValueError(f"levels are not set with {', '.join(strange)}")


@dataclass(frozen=True)
class LevelsState:
    """Where the levels stand; the last of `sweeps` may still be under way."""

    sweeps: tuple[Swept, ...] = ()
    white: Array | None = None
    """XYZ of 100 %, cd/m², (3,)."""
    black: Array | None = None
    reserve: float = 0.0
    """Share of the light that white balance will cost."""
    wanted: float = 0.0
    """Light to set now, the reserve included, cd/m²."""
    windows: tuple[tuple[float, float], ...] = ()
    """Window's share of the area, and luminance of white in it."""
    board: tuple[float, float] | None = None
    """Luminance of white and of black in a checkerboard, cd/m²."""

    @property
    def board_contrast(self) -> float | None:
        """White over black in a checkerboard; None where it was not read, or black was too dark to read."""
        if self.board is None or self.board[1] <= 0.0:
            return None
        return self.board[0] / self.board[1]

    @property
    def contrast(self) -> float | None:
        """White over black; None where black was too dark to read."""
        if self.white is None or self.black is None or self.black[1] <= 0.0:
            return None
        return float(self.white[1] / self.black[1])

    @property
    def window(self) -> float | None:
        """The largest window that the power limit leaves alone; None where it was not looked for."""
        return best_window(self.windows) if self.windows else None


@dataclass
class _Levels:
    """The running state; private to the generator."""

    plan: LevelsPlan
    controls: dict[Role, ControlState]
    done: list[Swept] = field(default_factory=list)
    white: Array | None = None
    black: Array | None = None
    channels: Array | None = None
    reserve: float = 0.0
    wanted: float = 0.0
    windows: tuple[tuple[float, float], ...] = ()
    board: tuple[float, float] | None = None

    def state(self, under_way: Swept | None = None) -> LevelsState:
        sweeps = (*self.done, under_way) if under_way is not None else tuple(self.done)
        return LevelsState(sweeps, self.white, self.black, self.reserve, self.wanted, self.windows, self.board)


def levels(plan: LevelsPlan) -> Procedure[LevelsState]:
    """Set the levels that the plan's controls allow; returns a LevelsState."""
    now = _Levels(plan, {control.role: control for control in plan.controls})
    yield from _first_readings(now)
    if Role.LIGHT_OUTPUT in now.controls:
        yield from _light(now, Role.LIGHT_OUTPUT)
    yield from _black_and_contrast(now)
    yield from _light_again(now)
    yield from _colours(now)
    yield from _last_readings(now)
    return now.state()


def _first_readings(now: _Levels) -> Procedure[None]:
    white: Reading = yield from _grey(now, 100.0)
    black: Reading = yield from _grey(now, 0.0)
    now.white, now.black = white.xyz, np.maximum(black.xyz, 0.0)
    yield from _primaries(now)
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


def _grey(now: _Levels, percent: float, format_: SignalFormat | None = None) -> Procedure[Reading]:
    patch = grey_patch(percent, format_ or now.plan.format)
    light = now.white[1] if now.white is not None else _UNKNOWN_LIGHT
    sd = _PRECISION * light if percent else max(0.0008, 1e-5 * light)
    policy = ReadPolicy(sd, light if percent else None)
    return (yield from insist_on_reading(patch, policy, Purpose.SWEEP))


def _primaries(now: _Levels) -> Procedure[None]:
    """Read red, green and blue: what a channel's light is told from."""
    assert now.black is not None and now.white is not None
    if not {Role.CONTRAST, Role.COLOUR, Role.TINT, Role.LIGHT_OUTPUT} & set(now.controls):
        return
    columns = []
    for look in PRIMARIES:
        reading: Reading = yield from _colour(look, now)
        columns.append(reading.xyz - now.black)
    matrix = np.column_stack(columns)
    if np.linalg.cond(matrix) > 1e4:
        yield Note("Red, green and blue read nearly alike: is colour turned down, or is the meter elsewhere?")
        return
    now.channels = np.asarray(np.linalg.inv(matrix), dtype=np.float64)


def _colour(look: Look, now: _Levels) -> Procedure[Reading]:
    patch = colour_patch(look.name, look.percents, now.plan.format)
    assert now.white is not None
    sd = max(0.001, 0.0005 * float(now.white[1]))
    return (yield from insist_on_reading(patch, ReadPolicy(sd), Purpose.SWEEP))


def _run(now: _Levels, sweep: Sweep) -> Procedure[Swept]:
    """Carry out a sweep, telling where all levels stand after each position."""

    def tell(swept: Swept) -> LevelsState:
        now.controls[swept.control.role] = swept.control
        return now.state(swept)

    swept = yield from carry_out(sweep, now.plan.format, tell)
    now.done.append(swept)
    now.controls[swept.control.role] = swept.control
    if swept.kept:
        yield Note(f"{swept.control.name} was put back to {swept.found_at} and stays there.")
    elif swept.finding is not None:
        yield Note(swept.finding.words)
    yield Progress(0, 0, now.state())
    return swept


def _light(now: _Levels, role: Role, highest: int | None = None) -> Procedure[None]:
    control = now.controls[role]
    highest_stop = control.highest
    if highest is not None:
        control = replace(control, highest=highest)
    earlier = next((s for s in now.done if s.control.role == role and len(s.positions) > 1), None)
    shape = tuple((p.setting, float(p.xyz[0, 1])) for p in earlier.positions) if earlier else ()
    swept = yield from _run(now, LightSweep(control, now.wanted, shape))
    # The limit was this sweep's; the control keeps its own end stop.
    now.controls[role] = replace(swept.control, highest=highest_stop)
    if swept.positions:
        nearest = min(swept.positions, key=lambda p: abs(p.setting - swept.control.value))
        now.white = nearest.xyz[0]


def _black_and_contrast(now: _Levels) -> Procedure[None]:
    """Black level, contrast, and black level once more where contrast has moved it."""
    assert now.white is not None and now.black is not None
    first: Swept | None = None
    if Role.BLACK_LEVEL in now.controls:
        first = yield from _run(now, _black_sweep(now))
        if first.positions:
            now.black = _lowest(first)
    if Role.CONTRAST not in now.controls or now.channels is None:
        return
    control = now.controls[Role.CONTRAST]
    sweep = ClippingSweep(control, now.channels, now.black, float(now.white[1]))
    swept = yield from _run(now, sweep)
    moved = swept.control.value != swept.found_at
    if first is not None and first.positions and not first.kept and moved:
        yield from _second_round(now, first)


def _black_sweep(now: _Levels) -> BlackSweep:
    assert now.white is not None
    return BlackSweep(now.controls[Role.BLACK_LEVEL], float(now.white[1]), now.plan.dark_foot, now.channels)


def _lowest(swept: Swept) -> Array:
    darkest = min(swept.positions, key=lambda position: float(position.xyz[0, 1]))
    return np.asarray(np.maximum(darkest.xyz[0], 0.0))


def _second_round(now: _Levels, first: Swept) -> Procedure[None]:
    """Read the rising part of black's curve once more; a whole sweep only where contrast has moved it."""
    control = now.controls[Role.BLACK_LEVEL]
    lifted = max(first.positions, key=lambda position: float(position.xyz[0, 1]))
    try:
        if lifted.setting != control.value:
            yield Turn(control.moved_to(lifted.setting))
            now.controls[Role.BLACK_LEVEL] = replace(control, value=lifted.setting)
        reading: Reading = yield from _grey(now, 0.0)
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
    swept = yield from _run(now, _black_sweep(now))
    if swept.positions:
        now.black = _lowest(swept)


def _kept(now: _Levels, role: Role) -> bool:
    """Whether the person has put a control back: then it is not touched again."""
    return any(swept.kept for swept in now.done if swept.control.role == role)


def _turned(now: _Levels, control: ControlState, to: int) -> Procedure[None]:
    """Turn one control; a wish in between does not leave it half way."""
    yield from insist_on_turning(Turn(control.moved_to(to)))
    now.controls[control.role] = replace(control, value=to)


def _light_again(now: _Levels) -> Procedure[None]:
    """Contrast has moved white: set the light once more, by contrast itself where there is no other control."""
    white: Reading = yield from _grey(now, 100.0)
    now.white = white.xyz
    off = float(white.Y / now.wanted - 1.0)
    if Role.LIGHT_OUTPUT in now.controls:
        at_end = any(s.finding and s.finding.at_end for s in now.done if s.control.role == Role.LIGHT_OUTPUT)
        if abs(off) > _LIGHT_OFF and not (at_end and off < 0.0) and not _kept(now, Role.LIGHT_OUTPUT):
            yield from _light(now, Role.LIGHT_OUTPUT)
    elif Role.CONTRAST in now.controls and off > _LIGHT_OFF and not _kept(now, Role.CONTRAST):
        # Above its present place a channel clips, so the light is looked for below it.
        yield from _light(now, Role.CONTRAST, highest=now.controls[Role.CONTRAST].value)


def _colours(now: _Levels) -> Procedure[None]:
    """Colour and tint, and colour again where tint went far."""
    if not {Role.COLOUR, Role.TINT} & set(now.controls) or now.channels is None:
        return
    if Role.COLOUR in now.controls:
        # Red, green and blue are pure where there is too much colour rather than too little.
        control = now.controls[Role.COLOUR]
        high = control.snapped(control.value + share_of_range(control, 0.12))
        yield from _turned(now, control, high)
        yield from _primaries(now)
        assert now.channels is not None and now.black is not None
        yield from _turned(now, now.controls[Role.COLOUR], control.value)
        yield from _run(now, ColourSweep(now.controls[Role.COLOUR], now.channels, now.black, now.plan.fourth))
    if Role.TINT in now.controls:
        assert now.black is not None
        tint = yield from _run(now, TintSweep(now.controls[Role.TINT], now.channels, now.black, now.plan.fourth))
        far = abs(tint.control.value - tint.found_at) > _TINT_FAR * tint.control.step
        if Role.COLOUR in now.controls and far and not tint.kept and not _kept(now, Role.COLOUR):
            yield from _run(now, ColourSweep(now.controls[Role.COLOUR], now.channels, now.black, now.plan.fourth))


def _last_readings(now: _Levels) -> Procedure[None]:
    white: Reading = yield from _grey(now, 100.0)
    black: Reading = yield from _grey(now, 0.0)
    now.white = white.xyz
    now.black = np.maximum(black.xyz, 0.0) if seen_black(black.Y, black.sd_Y) else np.zeros(3)
    yield Progress(0, 0, now.state())
    if now.plan.board:
        yield from _board(now)
    if not now.plan.windows:
        return
    lights: list[tuple[float, float]] = []
    for window in WINDOWS:
        reading: Reading = yield from _grey(now, 100.0, replace(now.plan.format, window=window))
        lights.append((window, reading.Y))
        now.windows = tuple(lights)
        yield Progress(0, 0, now.state())
    best = best_window(now.windows)
    full, small = lights[-1][1], max(light for _, light in lights)
    if full < small * (1.0 - _SAME_LIGHT):
        yield Note(
            f"A full white field has {full / small * 100:.0f} % of a small window's light. Windows up to "
            f"{best * 100:.0f} % of the area are not limited: measure with one of those."
        )
    else:
        yield Note("White has the same light in every window: nothing limits it.")


def _board(now: _Levels) -> Procedure[None]:
    """White and black in the middle of a checkerboard: what the eye has in a picture, glare included."""
    assert now.white is not None
    lights = []
    for white in (True, False):
        patch = board_patch(now.plan.format, white=white)
        sd = _PRECISION * float(now.white[1]) if white else 1e-5 * float(now.white[1])
        reading = yield from insist_on_reading(patch, ReadPolicy(max(sd, 0.0008)), Purpose.SWEEP)
        lights.append(max(0.0, reading.Y))
    now.board = (lights[0], lights[1])
    yield Progress(0, 0, now.state())


def best_window(lights: tuple[tuple[float, float], ...]) -> float:
    """The largest window whose light is that of the smaller ones."""
    best, most = lights[0][0], lights[0][1]
    for window, light in lights[1:]:
        if light < most * (1.0 - _SAME_LIGHT):
            break
        best, most = window, max(most, light)
    return best
