"""What is missing at each level of a ladder in log light, and what that weighs as ΔE."""

import numpy as np

from aequitone.advice.points.goal import PointGoal, Tracked
from aequitone.advice.points.near_black import miss, shadow_weights, wanted_light
from aequitone.advice.two_point.level_readings import log_light
from aequitone.colorimetry import ITP_SCALE, Formula, ictcp_from_xyz, lab_from_xyz
from aequitone.colorimetry.arrays import Array

# Near black ΔE says little of light that is wrong: a tenth more or less counts like half of one there.
_FOOT_COST = (0.5 / 0.1) ** 2
# How far log light is nudged to see what it weighs.
_NUDGE = 0.01


def missing_light(goal: PointGoal, tracked: Tracked, here: Array) -> tuple[Array, Array]:
    """Log light that is missing at each level (L, 3), and what it weighs in ΔE squared (L, 3, 3).

    `here`: XYZ (L, 3) in cd/m², as it is now.
    """
    gamut, white = goal.gamut, max(float(here[0, 1]), 1e-6)
    black = min(tracked.black, white * 0.5)
    aim = goal.target.grey(tracked.percents, white, black)
    errors = log_light(aim, gamut).reshape(-1, 3) - log_light(here, gamut).reshape(-1, 3)
    beyond = ~goal.held(tracked)
    # What the screen cannot give is left at the light that it has; it is held there, as 100 % is.
    aim[beyond] *= here[beyond, 1:2] / aim[beyond, 1:2]
    errors[beyond] = log_light(aim, gamut).reshape(-1, 3)[beyond] - log_light(here, gamut).reshape(-1, 3)[beyond]
    nudged = aim[:, None, :] + _NUDGE * gamut.rgb(aim)[:, :, None] * gamut.xyz(np.eye(3))
    told = _itp(goal, aim, nudged) if goal.formula is Formula.ITP else _lab(goal, white, aim, nudged)
    away = told / _NUDGE
    # The light of 100 % is what all others are relative to: it is held as it is, though not at all costs.
    away[beyond | (np.arange(len(aim)) == 0), :, 0] *= 0.3
    metrics = away @ away.transpose(0, 2, 1)
    if tracked.foot:
        near = tracked.percents[-tracked.foot :]
        wanted = wanted_light(goal.target, near, white, black)
        missed = miss(wanted, here[-tracked.foot :, 1])
        # Of light alone: a channel that gives none yet has no logarithm that means anything.
        errors[-tracked.foot :] = -missed[:, None]
        weights = _FOOT_COST * shadow_weights(missed, tracked.sd[-tracked.foot :, 1] / wanted)
        metrics[-tracked.foot :] = weights[:, None, None] * np.outer(gamut.xyz_matrix[1], gamut.xyz_matrix[1])
    return errors, np.asarray(metrics)


def _lab(goal: PointGoal, white: float, aim: Array, nudged: Array) -> Array:
    """How far `nudged` (L, 3, 3) lies from `aim` (L, 3), as CIEDE2000 counts it beside a neutral."""
    reference = goal.target.white.xyz(float(goal.target.white_luminance(white)))
    lab = lab_from_xyz(nudged, reference) - lab_from_xyz(aim, reference)[:, None, :]
    lightness = lab_from_xyz(aim, reference)[:, 0]
    # S_L of the lightness, a* stretched by half, S_C = S_H = 1.
    away = (lightness - 50.0) ** 2
    light = 1.0 / (1.0 + 0.015 * away / np.sqrt(20.0 + away))
    return np.asarray(lab * np.stack([light, np.full(len(aim), 1.5), np.ones(len(aim))], axis=-1)[:, None, :])


def _itp(goal: PointGoal, aim: Array, nudged: Array) -> Array:
    """The same as ΔE ITP counts it (ITU-R BT.2124): 720 times I, half of T, and P."""
    return np.asarray(ITP_SCALE / goal.unit * (ictcp_from_xyz(nudged) - ictcp_from_xyz(aim)[:, None, :]))
