"""The shadows after levels: what a black level that was found beside where it stood has done to them."""

from dataclasses import replace

import numpy as np

from aequitone.advice.levels import Finding
from aequitone.advice.levels.sweep import BLACK, WHITE
from aequitone.advice.roles import Role
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.grey.one_level import read_error
from aequitone.procedures.levels.session import LevelsSession, read_grey, read_white
from aequitone.procedures.levels.swept import Swept
from aequitone.procedures.policy import LAB_SLOPE_BLACK, seen_black
from aequitone.procedures.steps import Procedure, Reading

# ΔE 2000 that the shadows may be worse than as found, and that going back must bring.
_WORSE, _BETTER = 0.3, 0.15
# Steps, or spreads of the edge, beyond which black as found was wrong whatever the shadows look like.
_FAR_STEPS, _FAR_SPREADS = 6, 3.0
# L* that black may be brighter by for the sake of what lies above it.
_BLACK_MAY_RISE = 0.3


def keep_shadows(now: LevelsSession) -> Procedure[None]:
    """Read the level that is watched where black was moved a little, and take it back where that was better.

    The edge of black is worked out from a power law. On a tone that ends in a straight line, or a panel with a
    first step of light, it comes out a step or two beside; what stood there as found may then be better.
    """
    swept = next((each for each in reversed(now.done) if each.control.role is Role.BLACK_LEVEL), None)
    if now.plan.watched is None or swept is None:
        return
    # Where it was before any of its sweeps.
    first = next(each for each in now.done if each.control.role is Role.BLACK_LEVEL)
    swept = replace(swept, found_at=first.found_at)
    if swept.kept or not _is_near(swept):
        return
    percent, found = now.plan.watched
    assert swept.finding is not None
    moved = yield from _error(now, percent)
    if moved <= found + _WORSE:
        return
    control = swept.control
    assert now.white is not None and now.black is not None
    black = float(now.black[1])
    yield from _turned(now, swept, swept.found_at)
    rise = LAB_SLOPE_BLACK * (float(now.black[1]) - black) / float(now.white[1])
    back = yield from _error(now, percent)
    if back > moved - _BETTER or rise > _BLACK_MAY_RISE:
        yield from _turned(now, swept, control.value)
        return
    words = (
        f"{swept.finding.words} But with it {percent:g} % came out at ΔE {moved:.1f}, and at {back:.1f} with "
        f"{control.name} as found: it stays at {swept.found_at}."
    )
    finding = Finding(swept.found_at, swept.finding.exact, swept.finding.sd, words, swept.finding.curves)
    yield from now.end(replace(swept, control=now.controls[Role.BLACK_LEVEL], finding=finding))


def _is_near(swept: Swept) -> bool:
    """Whether black was moved, but no further than its edge may be off."""
    if swept.finding is None:
        return False
    by = abs(swept.control.value - swept.found_at)
    return 0 < by <= max(_FAR_STEPS * swept.control.step, _FAR_SPREADS * swept.finding.sd)


def _turned(now: LevelsSession, swept: Swept, to: int) -> Procedure[None]:
    """Turn black's level, and read white and black again."""
    control = now.controls[swept.control.role]
    yield from now.trips.insist_on_turning((control, to))
    now.controls[control.role] = replace(control, value=to)
    yield from read_ends(now)


def read_ends(now: LevelsSession) -> Procedure[None]:
    """Read white and black, with all levels as they stand, as far as that was not done."""
    if not now.is_read(WHITE):
        yield from read_white(now)
    if not now.is_read(BLACK):
        black: Reading = yield from read_grey(now, 0.0)
        take_black(now, black.xyz, black.sd)


def take_black(now: LevelsSession, xyz: Array, sd: Array) -> None:
    """Take in black as all stands, XYZ (3,) in cd/m²; what the meter cannot tell from nothing is none."""
    now.take_black(xyz if seen_black(float(xyz[1]), float(sd[1])) else np.zeros(3))
    now.stood[BLACK] = now.stands


def _error(now: LevelsSession, percent: float) -> Procedure[float]:
    assert now.white is not None
    assert now.black is not None
    white, black = float(now.white[1]), float(now.black[1])
    return (yield from read_error(percent, now.plan.target, now.plan.format, white, black))
