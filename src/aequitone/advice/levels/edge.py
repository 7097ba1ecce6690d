"""The edge of black from the light of dark greys at one or a few settings of the black level.

Black's level adds to the signal: a grey that is read is worth as much as black that is lifted by so much. Each
channel's light is a floor and a power of how far the signal stands above nothing, from which a bias adds or
takes a little. A channel that its bias holds back begins late, one that it helps never quite ends: neither begins
at the edge, but the three have the edge in common.
"""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from aequitone.advice.moves import ControlState
from aequitone.colorimetry.arrays import Array

# Priors: the power of the rise, how white's light compares with it, how much signal the whole range of the
# control moves, and what a bias does.
# Presets lie between 2.0 and 2.4, and makers leave the brighter ones on.
POWER, _POWER_SD = 2.1, 0.15
_SIGNAL_SD = 0.15
RANGE_SIGNAL, _RANGE_SD = 0.45, 0.6
_BIAS_SIGNAL = 0.006
# The rise is not quite a power law: leakage and what the panel does in the dark bend its foot.
_MODEL_SHARE = 0.03
# A panel's first step of light, as a share of white, and what a meter's data sheet does not say of its noise.
_FIRST_LIGHT, _NOISE = 2e-5, 1.4
# Signals at the edge that are tried, and how many powers, biases and steps of the control.
_EDGES = np.arange(-0.16, 0.12, 0.001)
_POWERS, _BIASES, _STEPS = 5, 7, 17
_SPREADS = 2.5


@dataclass(frozen=True)
class Edge:
    """Where black begins to rise, and how unsure that is."""

    signal: float
    """Of the patch that begins to give light at the setting that stands now, 0 to 1; below 0 black is lifted."""
    signal_sd: float
    setting: float
    """At which 0 % begins to."""
    setting_sd: float
    per_setting: float
    """Signal that a setting adds."""


def edge_of(
    settings: Array, signals: Array, light: Array, sd: Array, control: ControlState, stands: float, lifts: Array
) -> Edge:
    """Find the edge; `stands`: the setting that its signal counts at.

    `settings` and `signals` (n,); `light` (n, channels) as shares of each channel's own at 100 %, and `sd` of it;
    `lifts` (n,): whether that white stood above nothing by as much as the grey, black's level lifting both.
    """
    table = np.column_stack([settings - stands, signals, lifts, light, sd])
    key = tuple(float(value) for value in table.ravel())
    return _posterior(key, len(settings), control, stands)


@lru_cache(maxsize=256)
def _posterior(key: tuple[float, ...], count: int, control: ControlState, stands: float) -> Edge:
    """Over a grid of edges, steps, powers and biases; a channel's floor and scale are solved for in each place."""
    table = np.array(key).reshape(count, -1)
    away, signals, lifts = table[:, :3].T
    light, sd = np.split(table[:, 3:], 2, axis=1)
    whole = float(control.highest - control.lowest)
    spreads = np.linspace(-2.0, 2.0, _STEPS)
    per = RANGE_SIGNAL / whole * np.exp(_RANGE_SD * spreads)
    # Read at one setting alone, what a setting adds is not known any better than before.
    tried = per if np.ptp(away) > 0.0 else per[:1]
    logs = np.array([_chances(signals + each * away, *_alike(each * away * lifts, light, sd)) for each in tried])
    logs = logs - 0.5 * spreads[:, None] ** 2
    chance = np.exp(logs - logs.max())
    chance = chance / chance.sum()
    setting = np.clip(_EDGES / per[:, None], -whole, whole)
    signal, by = float((chance * _EDGES).sum()), float((chance * setting).sum())
    return Edge(
        signal,
        float(np.sqrt((chance * (_EDGES - signal) ** 2).sum())),
        stands + by,
        float(np.sqrt((chance * (setting - by) ** 2).sum())),
        float(np.exp((chance * np.log(per[:, None])).sum())),
    )


def _alike(lift: Array, light: Array, sd: Array) -> tuple[Array, Array]:
    """Shares of a white that was lifted by so much signal, (n,), as shares of one that was not."""
    factor = np.maximum(1.0 + lift, 0.1)[:, None] ** POWER
    return light * factor, sd * factor


def _chances(signals: Array, light: Array, sd: Array) -> Array:
    """Logarithm of the chance of each edge, (edges,), by signals (n,) and what they gave, (n, channels)."""
    powers = np.linspace(-_SPREADS, _SPREADS, _POWERS)
    biases = np.linspace(-_SPREADS, _SPREADS, _BIASES)
    above = signals - _EDGES[:, None]
    distance = np.maximum(above[:, None, :] - _BIAS_SIGNAL * biases[:, None], 0.0)
    power = POWER + _POWER_SD * powers
    # (edges, biases, powers, n).
    shape = distance[:, :, None, :] ** power[:, None]
    lift = np.maximum(light - light.min(axis=0), 0.0)
    first = np.where(lift > 2.0 * sd, _FIRST_LIGHT, 0.0)
    weight = 1.0 / ((_NOISE * sd) ** 2 + (_MODEL_SHARE * lift) ** 2 + first**2)
    log = np.zeros((len(_EDGES), _POWERS)) - 0.5 * powers**2
    for channel in range(light.shape[1]):
        told = _fit(shape, power, light[:, channel], weight[:, channel])
        log = log + np.logaddexp.reduce(told - 0.5 * biases[:, None] ** 2, axis=1)
    return np.asarray(np.logaddexp.reduce(log, axis=1))


def _fit(shape: Array, power: Array, light: Array, weight: Array) -> Array:
    """Logarithm of how well a floor, not below nothing, and a scale of about 1 explain one channel's light."""
    usual = (power * _SIGNAL_SD) ** -2.0
    s, sx, sxx = weight.sum(), shape @ weight, shape**2 @ weight + usual
    sy, sxy, syy = weight @ light, shape @ (weight * light) + usual, weight @ light**2 + usual
    scale = np.maximum((s * sxy - sx * sy) / (s * sxx - sx**2), 0.0)
    floor = np.maximum((sy - scale * sx) / s, 0.0)
    scale = np.where(floor > 0.0, scale, np.maximum(sxy, 0.0) / sxx)
    left = syy - 2.0 * (floor * sy + scale * sxy) + floor**2 * s + 2.0 * floor * scale * sx + scale**2 * sxx
    return np.asarray(-0.5 * left)
