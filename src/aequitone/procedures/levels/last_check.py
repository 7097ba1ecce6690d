"""By hand, the last look at levels: whether light and black read as they did where the controls should stand."""

from collections.abc import Sequence

import numpy as np

from aequitone.advice.answers.encoding import usual_formula
from aequitone.advice.levels import setting_of_light
from aequitone.advice.levels.light import light_at
from aequitone.advice.levels.sweep import BLACK, WHITE
from aequitone.advice.moves import ControlState
from aequitone.advice.roles import Role
from aequitone.colorimetry.arrays import Array
from aequitone.figures import light_words
from aequitone.procedures.levels.session import LevelsSession, light_shape, read_grey
from aequitone.procedures.levels.shadows import read_ends
from aequitone.procedures.levels.swept import Swept
from aequitone.procedures.steps import Note, Procedure
from aequitone.reference import grey_errors

# White that is off by more, as a share, from what the sweep had read there; and black, which light moves along.
_WHITE_OFF, _BLACK_OFF = 0.04, 0.3
# White where light output was turned along, as it is known between the settings that were read.
_LIT_OFF = 0.09
# A control that seems to stand so few steps, or spreads of its finding, beside is not asked for again.
_FEW_STEPS, _SPREADS = 3, 3.0
# Less is no light to tell black by, cd/m².
_LEAST_BLACK = 0.003
# Of its light, what a dark grey keeps where black's level stands; what ΔE it is then worse by; and how many steps
# lower it is taken to stand until the menu says.
_GONE, _MUCH_WORSE, _GUESSED_STEPS = 0.6, 1.5, 10
_SHARES = np.linspace(0.0, 1.0, 101)
_OF_LIGHT = (Role.LIGHT_OUTPUT, Role.CONTRAST, Role.BLACK_LEVEL)


def see_that_they_stand(now: LevelsSession, *roles: Role) -> Procedure[None]:
    """Have controls turned once more where what was read last does not fit their own sweeps.

    White tells light output, where nothing was turned after it; black tells its own level.
    """
    for role in roles:
        found = _newest(now.done, role)
        if found is None:
            continue
        swept, later = found
        light = _read_for(now, role, later)
        known = _known(swept, now)
        expected = _expected(swept, known)
        if light is None or expected is None or not _is_off(role, light, expected):
            continue
        control = now.controls[role]
        stood = setting_of_light(known, light, control)
        assert swept.finding is not None
        if abs(stood - control.value) < max(_FEW_STEPS * control.step, _SPREADS * swept.finding.sd):
            continue
        yield Note(_words(control, light, expected, stood))
        yield from now.trips.turn_again(control, stood)
        yield from read_ends(now)


def see_contrast(now: LevelsSession) -> Procedure[None]:
    """Have contrast turned once more where a grey that never clips is not as its sweep foretells.

    White does not tell: above its knee it has the same light wherever contrast stands.
    """
    found = _newest(now.done, Role.CONTRAST)
    if found is None or now.clipping is None:
        return
    swept, later = found
    if any(each.control.role in _OF_LIGHT and each.control.value != each.found_at for each in later):
        return
    control, look, lit = now.controls[Role.CONTRAST], now.clipping.ramp[-1], _lit(now)
    reading = yield from read_grey(now, look.percents[0])
    settings = np.arange(control.lowest, control.highest + 1, control.step, dtype=np.float64)
    foretold = now.clipping.light_at(swept.positions, settings, look)
    light, expected = reading.Y / lit, float(np.interp(control.value, settings, foretold))
    stood = int(settings[np.abs(foretold - light).argmin()])
    off = _WHITE_OFF if lit == 1.0 else _LIT_OFF
    assert swept.finding is not None
    few = max(_FEW_STEPS * control.step, _SPREADS * swept.finding.sd)
    if abs(light / expected - 1.0) <= off or abs(stood - control.value) < few:
        return
    yield Note(_words(control, reading.Y, lit * expected, stood))
    yield from now.trips.turn_again(control, stood)
    yield from read_ends(now)


def see_the_shadows(now: LevelsSession) -> Procedure[None]:
    """Have black's level turned once more where a dark grey has gone: black itself tells none that is too low.

    The level that is watched was right enough as found; where it has most of its light no more, and nothing that
    was found asks for that, the control was left lower than it should stand.
    """
    control = now.controls.get(Role.BLACK_LEVEL)
    if now.plan.watched is None or control is None or now.white is None or now.black is None:
        return
    percent, found = now.plan.watched
    reading = yield from read_grey(now, percent)
    white, black = float(now.white[1]), float(now.black[1])
    grey = now.plan.target.grey(percent, white, black)
    wanted = float(grey[1])

    def off(xyz: Array) -> Array:
        errors = grey_errors([percent] * len(xyz), xyz, now.plan.target, white=white, black=black)
        return errors.by(usual_formula(now.plan.target))[0]

    # Of its light it may have had no more as found than its error then allows.
    had = float(_SHARES[off(_SHARES[:, None] * grey) <= found].min(initial=1.0))
    if _GONE * had * wanted < reading.Y or off(reading.xyz[None])[0] < found + _MUCH_WORSE:
        return
    yield Note(
        f"{percent:g} % gives {_told(reading.Y)} where {_told(wanted)} are wanted, and was right enough as found: "
        f"it looks as if {control.name} stands lower than {control.value}. See what the menu says."
    )
    lower = max(control.lowest, control.value - _GUESSED_STEPS * control.step)
    yield from now.trips.turn_again(control, lower)
    yield from read_ends(now)


def _newest(done: Sequence[Swept], role: Role) -> tuple[Swept, Sequence[Swept]] | None:
    """The newest sweep of a control that was left where it found, and those that came after it."""
    at = max((i for i, swept in enumerate(done) if swept.control.role is role), default=None)
    if at is None or done[at].kept or done[at].finding is None or len(done[at].positions) < 2 or done[at].along:
        return None
    return done[at], done[at + 1 :]


def _lit(now: LevelsSession) -> float:
    """What light output, turned along with contrast, has made of the light since then, as a factor."""
    control, shape = now.controls.get(Role.LIGHT_OUTPUT), light_shape(now, Role.LIGHT_OUTPUT)
    if control is None or now.lit_at is None or len(shape) < 2 or control.value == now.lit_at:
        return 1.0
    return light_at(shape, control.value) / light_at(shape, now.lit_at)


def _read_for(now: LevelsSession, role: Role, later: Sequence[Swept]) -> float | None:
    """The light, in cd/m², that tells where a control stands; None where another has moved it since."""
    if role is Role.BLACK_LEVEL:
        return float(now.black[1]) if now.black is not None else None
    moved = any(each.control.role in _OF_LIGHT and each.control.value != each.found_at for each in later)
    return None if moved or now.white is None else float(now.white[1])


def _expected(swept: Swept, known: Sequence[tuple[int, float]]) -> float | None:
    """Light that the sweep had read where the control should stand; None beyond what it has read."""
    settings = [setting for setting, _ in known]
    if len(set(settings)) < 2 or not settings[0] <= swept.control.value <= settings[-1]:
        return None
    return float(np.interp(swept.control.value, settings, [light for _, light in known]))


def _known(swept: Swept, now: LevelsSession) -> list[tuple[int, float]]:
    """The light of white, or of black for its own level, by the settings at which it was read, rising.

    Black goes along with light output and is told as it is at the present light; contrast leaves it where it was.
    """
    if swept.control.role is not Role.BLACK_LEVEL:
        return sorted((p.setting, float(p.of(WHITE)[0][0, 1])) for p in swept.positions if WHITE in p.looks)
    assert now.white is not None
    white = float(now.white[1]) if Role.LIGHT_OUTPUT in now.controls else 0.0
    return sorted(
        (p.setting, float(p.of(BLACK)[0][0, 1]) * (white / p.white if white and p.white else 1.0))
        for p in swept.positions
        if BLACK in p.looks
    )


def _is_off(role: Role, light: float, expected: float) -> bool:
    """Whether light is another than was expected; of black only one that is lifted can be told."""
    if role is Role.BLACK_LEVEL:
        return light > (1.0 + _BLACK_OFF) * max(expected, 0.0) + _LEAST_BLACK
    return abs(light / max(expected, 1e-6) - 1.0) > _WHITE_OFF


def _told(light: float) -> str:
    return f"{max(light, 0.0):.3f} cd/m²" if light < 1.0 else light_words(light)


def _words(control: ControlState, light: float, expected: float, stood: int) -> str:
    return (
        f"{control.name} should stand at {control.value}, where {_told(expected)} was read; now it is "
        f"{_told(light)}, as at about {stood}. It looks as if it stands elsewhere: see what the menu says."
    )
