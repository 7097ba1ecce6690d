"""Levels of multi-point that act elsewhere than at their names, where the signal is changed before it gets there.

A contrast that stands low, ahead of multi-point, sends it 47 % where 60 % is shown: its 60 % is then felt at 77 %.
What trips have moved tells by how much, where many levels agree (Bayes' rule over a list of scales).
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from aequitone.advice.points.effect import PointEffect
from aequitone.colorimetry.arrays import Array

# Shares of the signal that may reach multi-point, and how much more or less than usual a step may do.
_SCALES = np.exp(np.linspace(np.log(0.6), np.log(1.4), 69))
_AMOUNTS = np.concatenate([[0.0], np.exp(np.linspace(np.log(0.2), np.log(4.0), 19))])
# A level by itself may do so much more or less than the others; light wanders; and some rows tell nothing true.
_UNEVEN, _WANDER, _ASTRAY, _ASTRAY_SD = 0.35, 0.003, 0.1, 0.15
# Names that are off by less are the screen's own; and how sure it must be, as a logarithm of odds.
_OFF, _SURE = 0.06, 12.0
_FEW = 3


@dataclass(frozen=True)
class Felt:
    """What a trip has moved: `change` (n, 3) of log light at `signal` (n,) after `steps` (n, P, 3) of the levels.

    `variance` (n, 3): of the noise in `change`.
    """

    signal: Array
    steps: Array
    change: Array
    variance: Array


def acting_scale(effect: PointEffect, trips: Sequence[Felt]) -> float:
    """Tell which share of the signal reaches multi-point; 1 where it seems to be what is shown.

    `effect`: what is usual, before anything was learnt of the screen.
    """
    turned = [each for each in trips if each.steps.any()]
    if not turned:
        return 1.0
    steps, change, variance = (np.concatenate(each) for each in zip(*map(_parts, turned), strict=True))
    signal = np.concatenate([each.signal for each in turned])
    if steps.any(axis=(0, 2)).sum() < _FEW:
        return 1.0

    def evidence(scale: float) -> float:
        usual = np.einsum("np,npc->nc", effect.weights(signal * scale), steps)
        told = _AMOUNTS[:, None, None] * usual
        spread = variance + _WANDER**2 + (_UNEVEN * told) ** 2
        fits = -0.5 * ((change - told) ** 2 / spread + np.log(spread)).sum(axis=-1)
        astray = variance + _ASTRAY_SD**2
        not_so = -0.5 * (change**2 / astray + np.log(astray)).sum(axis=-1)
        rows = np.logaddexp(np.log1p(-_ASTRAY) + fits, np.log(_ASTRAY) + not_so)
        return float(np.logaddexp.reduce(rows.sum(axis=-1)) - np.log(len(_AMOUNTS)))

    logs = np.array([evidence(float(scale)) for scale in _SCALES])
    best = int(logs.argmax())
    near = float(logs[np.abs(_SCALES - 1.0) < _OFF].max())
    return float(_SCALES[best]) if logs[best] - near > _SURE else 1.0


def _parts(felt: Felt) -> tuple[Array, Array, Array]:
    return felt.steps, felt.change, felt.variance
