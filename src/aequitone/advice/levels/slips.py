"""Where a control really stood when what was read contradicts the positions before: a slip of the hand."""

from collections.abc import Sequence

import numpy as np

from aequitone.advice.levels.black import BlackSweep
from aequitone.advice.levels.clipping import ClippingSweep
from aequitone.advice.levels.edge import POWER, RANGE_SIGNAL
from aequitone.advice.levels.light import LightSweep
from aequitone.advice.levels.sweep import WHITE, Look, Position, Sweep
from aequitone.advice.moves import ControlState
from aequitone.colorimetry.arrays import Array

# Light that is out of order by less, as a share, may be the screen's own wandering; and by so many spreads, noise.
_WANDERS, _SIGMAS = 0.02, 5.0
# Two lights are the same within this share, or so many spreads, and a turn must be expected to bring more.
_SAME, _SAME_SIGMAS, _FELT = 0.004, 3.0, 0.04
# Beyond a line through its neighbours light may lie by this share of what lies between them: the rise is no line.
_BOWED = 0.25
# The least that a control's range does, as a share of what is usual; contrast by what it multiplies.
_LEAST_BLACK, _LEAST_CONTRAST = 0.4, 0.45
# A hand that is off by fewer steps is not spoken of.
_FEW_STEPS = 2
# Dark greys that have moved by less, as a share, may not have moved at all.
_CLEAR = 0.1
# A step of black's level is worth so many times what is usual, at most, and so many spreads beyond that.
_MOST_WORTH, _WORTH_SIGMAS = 2.4, 1.0
# Spreads by which a dark grey must stand above black to feel a step.
_LIT = 8.0
# Positions from which one can be told to be odd; how bent all are then, how smooth the others, and by how much.
_TO_TELL, _ODD, _SMOOTH, _APART = 5, 0.05, 0.02, 4.0

# Dark light, against white's, that is so far apart in logarithm is of two settings; and less is none.
_UNLIKE, _DARK = 0.5, 1e-5


def unlike_as_found(sweep: Sweep, positions: Sequence[Position], newest: Position) -> bool:
    """Whether dark greys read quite otherwise, back where a black level was found, than they did as found."""
    if not isinstance(sweep, BlackSweep) or len(positions) < 2 or positions[0].setting != newest.setting:
        return False
    first, look = positions[0], positions[0].looks[-1]
    if look not in newest.looks:
        return False
    then, now = (_light(each, look) / (each.white or 1.0) for each in (first, newest))
    return abs(float(np.log(max(now, _DARK) / max(then, _DARK)))) > _UNLIKE


def slipped(sweep: Sweep, positions: Sequence[Position]) -> int | None:
    """The setting that the newest position was really read at, by the others; None where it fits among them.

    The light of white, of the brightest dark grey and of a grey that clips nowhere rises smoothly with light
    output, black level and contrast: a position that lies outside its neighbours, or far from the line between
    them, was read elsewhere, and one that has not moved is a control that was not turned.
    """
    look = WHITE if isinstance(sweep, LightSweep) else _ramp(sweep)[-1] if _ramp(sweep) else None
    told = [each for each in positions if look in each.looks] if look is not None else []
    if look is None or len(told) < 2 or told[-1] is not positions[-1]:
        return None
    *before, newest = told
    settings = [each.setting for each in before]
    # Dark greys may have been read while light output stood elsewhere.
    white = newest.white if isinstance(sweep, BlackSweep) else 0.0
    lights = [_light(each, look, white) for each in before]
    light, sd = _light(newest, look), float(newest.of(look)[1][0, 1])
    if newest.setting in settings:
        return None
    # Dark greys that give no light feel no step of black's level.
    lit = not isinstance(sweep, BlackSweep) or _is_lit(before[-1], sweep)
    if isinstance(sweep, BlackSweep) and not lit and not _is_lit(newest, sweep):
        # Black alone is no measure: what leaks follows light output as it likes.
        return None
    if isinstance(sweep, BlackSweep) and lit and (far := _further(sweep, before, newest)) is not None:
        return far
    if _not_turned(sweep, settings, lights, newest.setting, light, sd, lit=lit):
        return settings[-1]
    below = [i for i, setting in enumerate(settings) if setting < newest.setting]
    above = [i for i, setting in enumerate(settings) if setting > newest.setting]
    doubt = max(_WANDERS * light, _SIGMAS * sd)
    low = max((lights[i] for i in below), default=-np.inf)
    high = min((lights[i] for i in above), default=np.inf)
    if low - doubt <= light <= high + doubt:
        if isinstance(sweep, LightSweep) or not below or not above:
            return None
        one = max(below, key=lambda i: settings[i])
        other = min(above, key=lambda i: settings[i])
        along = (newest.setting - settings[one]) / (settings[other] - settings[one])
        span = lights[other] - lights[one]
        if abs(light - lights[one] - along * span) <= _BOWED * abs(span) + doubt:
            return None
    stood = setting_of_light(list(zip(settings, lights, strict=True)), light, sweep.control)
    return stood if abs(stood - newest.setting) >= _FEW_STEPS * sweep.control.step else None


def seems_noted_wrong(sweep: Sweep, positions: Sequence[Position], *, said: bool) -> bool:
    """Whether a black level did not stand where it was noted as found, by what was read twice at another setting.

    Whoever is asked twice has looked at the menu: it stands as asked, and what it reads still does not fit.
    `said`: whether they have named the setting themselves.
    """
    if not isinstance(sweep, BlackSweep) or slipped(sweep, positions) is None:
        return False
    first, newest = positions[0], positions[-1]
    look = sweep.ramp[-1]
    then, now = _light(first, look, newest.white), _light(newest, look)
    # Greys that have not moved tell of a control that was not turned, twice.
    moved = abs(now - then) > max(_CLEAR * max(now, then), _SIGMAS * float(newest.of(look)[1][0, 1]))
    return (moved or said) and all(each.setting == first.setting for each in positions[:-1])


def _further(sweep: BlackSweep, before: Sequence[Position], newest: Position) -> int | None:
    """The setting that dark greys read as if they were at, where they moved much further than any screen does.

    Told by the first turn alone: by a second one it is known what a setting is worth here.
    """
    first = before[-1]
    if len({each.setting for each in before}) > 1 or newest.setting == first.setting:
        return None
    far, sd = sweep.moved_as_if(first, newest)
    by = newest.setting - first.setting
    if far * by <= 0.0 or abs(far) - _MOST_WORTH * abs(by) < _WORTH_SIGMAS * sd:
        return None
    return sweep.control.snapped(first.setting + far)


def _ramp(sweep: Sweep) -> tuple[Look, ...]:
    """The greys of a sweep, of which the last feels every step; none where it reads colours."""
    return sweep.ramp if isinstance(sweep, BlackSweep | ClippingSweep) else ()


def _light(position: Position, look: Look, white: float = 0.0) -> float:
    """The light of a patch; as it would be at so much light of `white`, where both are known."""
    scale = white / position.white if white and position.white else 1.0
    return scale * float(position.of(look)[0][0, 1])


def _is_lit(position: Position, sweep: BlackSweep) -> bool:
    """Whether the brightest dark grey stands clearly above black."""
    (first, *_, last), sd = position.of(*sweep.ramp)
    return bool(last[1] - first[1] > _LIT * float(np.hypot(sd[0, 1], sd[-1, 1])))


def _not_turned(
    sweep: Sweep,
    settings: Sequence[int],
    lights: Sequence[float],
    setting: int,
    light: float,
    sd: float,
    *,
    lit: bool,
) -> bool:
    """Whether the newest light is that of the position before, where a turn would have been felt."""
    last = lights[-1]
    if (
        not lit
        or abs(settings[-1] - setting) < _FEW_STEPS * sweep.control.step
        or abs(light - last) > max(_SAME * last, _SAME_SIGMAS * sd)
    ):
        return False
    by = abs(setting - settings[-1])
    if len(set(settings)) > 1:
        order = np.argsort(settings)
        slope = (lights[order[-1]] - lights[order[0]]) / (settings[order[-1]] - settings[order[0]])
        return bool(abs(slope * by) > max(_FELT * light, 2.0 * _SAME_SIGMAS * sd))
    whole = sweep.control.highest - sweep.control.lowest
    match sweep:
        case BlackSweep():
            least = _LEAST_BLACK * RANGE_SIGNAL * POWER / (sweep.ramp[-1].percents[0] / 100.0) / whole
        case ClippingSweep():
            least = _LEAST_CONTRAST / whole
        case _:
            # A line through nothing well below the lowest setting: a tenth of the way is felt.
            least = 1.0 / max(abs(settings[-1]), 1)
    return bool(by * least > max(_FELT, 2.0 * _SAME_SIGMAS * sd / max(light, 1e-9)))


def contradicted(sweep: Sweep, positions: Sequence[Position]) -> int | None:
    """The place of an earlier position that all others together contradict; None where they agree.

    A slip between its neighbours is not out of order, but makes a bend of a light that has none: without it the
    others lie on a smooth line.
    """
    if not isinstance(sweep, LightSweep) or len(positions) < _TO_TELL:
        return None
    settings = np.array([each.setting for each in positions], dtype=float)
    light = np.array([float(each.xyz[0, 1]) for each in positions])
    if _bent(settings, light) < _ODD:
        return None
    left = [_bent(np.delete(settings, at), np.delete(light, at)) for at in range(len(positions))]
    best = int(np.argmin(left))
    others = np.delete(left, best)
    return best if left[best] < _SMOOTH and float(others.min()) > _APART * left[best] else None


def _bent(settings: Array, light: Array) -> float:
    """How far lights lie from a smooth line, as a share, root mean square."""
    line = np.polyfit(settings, light, 2)
    rest = np.polyval(line, settings) / light - 1.0
    return float(np.sqrt((rest**2).sum() / max(len(light) - 3, 1)))


def setting_of_light(known: Sequence[tuple[int, float]], light: float, control: ControlState) -> int:
    """The setting that gives this light, by settings whose light is known."""
    ordered = sorted(known)
    settings = np.array([setting for setting, _ in ordered], dtype=float)
    lights = np.maximum.accumulate([each for _, each in ordered])
    if len(ordered) < 2 or light <= lights[0]:
        return control.snapped(settings[0])
    if light < lights[-1]:
        return control.snapped(float(np.interp(light, lights, settings)))
    slope = (settings[-1] - settings[-2]) / max(float(lights[-1] - lights[-2]), 1e-9)
    return control.snapped(float(settings[-1] + slope * (light - lights[-1])))
