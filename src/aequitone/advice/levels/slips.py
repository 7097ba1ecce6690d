"""Where a control really stood when what was read contradicts the positions before: a slip of the hand."""

from collections.abc import Sequence

import numpy as np

from aequitone.advice.levels.black import BlackSweep
from aequitone.advice.levels.clipping import ClippingSweep
from aequitone.advice.levels.light import LightSweep
from aequitone.advice.levels.sweep import Position, Sweep, in_order
from aequitone.advice.moves import ControlState
from aequitone.colorimetry.arrays import Array

# What is read first in these rises with the control, or stays.
_RISING = (LightSweep, BlackSweep, ClippingSweep)
# Light that is out of order by less, as a share, may be the screen's own wandering; and by so many spreads, noise.
_WANDERS, _SIGMAS = 0.02, 5.0
# Two lights are the same within this share, and a turn must be expected to bring more.
_SAME, _FELT = 0.004, 0.04
# Beyond a line through its neighbours light may lie by this share of what lies between them: the rise is no line.
_BOWED = 0.25
# Positions from which one can be told to be odd; how bent all are then, how smooth the others, and by how much.
_TO_TELL, _ODD, _SMOOTH, _APART = 5, 0.05, 0.02, 4.0


def slipped(sweep: Sweep, positions: Sequence[Position]) -> int | None:
    """The setting that the newest position was really read at, by the others; None where it fits among them.

    Light rises, or stays, with light output, black level and contrast: a position that lies outside its
    neighbours, or on the wrong side of the line between them, was read elsewhere. On light output, which is felt
    at every step, one that has not moved is a control that was not turned.
    """
    *before, newest = positions
    if not before or not isinstance(sweep, _RISING):
        return None
    control, light = sweep.control, _light(newest)
    if isinstance(sweep, LightSweep) and _not_turned(before, newest):
        return before[-1].setting
    below = [each for each in before if each.setting < newest.setting]
    above = [each for each in before if each.setting > newest.setting]
    doubt = max(_WANDERS * light, _SIGMAS * float(newest.sd[0, 1]))
    low = max((_light(each) for each in below), default=-np.inf)
    high = min((_light(each) for each in above), default=np.inf)
    if low - doubt <= light <= high + doubt and not _out_of_shape(sweep, below, newest, above):
        return None
    stood = setting_of_light(before, light, control)
    return stood if stood != newest.setting else None


def _out_of_shape(sweep: Sweep, below: Sequence[Position], newest: Position, above: Sequence[Position]) -> bool:
    """Whether a position lies on the wrong side of a line through its neighbours.

    White rises with contrast until it clips, and so lies above the line; black lies flat, then rises, and lies
    below.
    """
    if not below or not above or isinstance(sweep, LightSweep):
        return False
    one, other = max(below, key=lambda each: each.setting), min(above, key=lambda each: each.setting)
    along = (newest.setting - one.setting) / (other.setting - one.setting)
    line, light = _light(one) + along * (_light(other) - _light(one)), _light(newest)
    doubt = _BOWED * abs(_light(other) - _light(one)) + _SIGMAS * float(newest.sd[0, 1])
    return light < line - doubt if isinstance(sweep, ClippingSweep) else light > line + doubt


def contradicted(sweep: Sweep, positions: Sequence[Position]) -> int | None:
    """The place of an earlier position that all others together contradict; None where they agree.

    A slip between its neighbours is not out of order, but makes a bend of a light that has none: without it the
    others lie on a smooth line.
    """
    if not isinstance(sweep, LightSweep) or len(positions) < _TO_TELL:
        return None
    settings = np.array([each.setting for each in positions], dtype=float)
    light = np.array([_light(each) for each in positions])
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


def _light(position: Position) -> float:
    return float(position.xyz[0, 1])


def _not_turned(before: Sequence[Position], newest: Position) -> bool:
    last, light = before[-1], _light(newest)
    if last.setting == newest.setting or abs(light / _light(last) - 1.0) > _SAME:
        return False
    if len(before) < 2:
        # A line through nothing well below the lowest setting: a tenth of the way is felt.
        return abs(newest.setting - last.setting) > _FELT * max(abs(last.setting), 1)
    ordered = in_order(before)
    settings, lights = [each.setting for each in ordered], [_light(each) for each in ordered]
    slope = (lights[-1] - lights[0]) / max(settings[-1] - settings[0], 1)
    return abs(slope * (newest.setting - last.setting)) > _FELT * light


def setting_of_light(before: Sequence[Position], light: float, control: ControlState) -> int:
    """The setting that gives this light by the positions before."""
    ordered = in_order(before)
    settings = np.array([each.setting for each in ordered], dtype=float)
    lights = np.maximum.accumulate([_light(each) for each in ordered])
    if len(ordered) < 2 or light <= lights[0]:
        return control.snapped(settings[0])
    if light < lights[-1]:
        return control.snapped(float(np.interp(light, lights, settings)))
    slope = (settings[-1] - settings[-2]) / max(float(lights[-1] - lights[-2]), 1e-9)
    return control.snapped(float(settings[-1] + slope * (light - lights[-1])))
