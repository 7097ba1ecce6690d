"""The edge of black from the light of red, green and blue at a few settings of the black level.

Each channel's light is a floor and a power of how far the signal stands above nothing, from which a bias
adds or takes a little. A channel that its bias holds back begins late, one that it helps never quite ends:
neither begins at the edge, but the three have the edge in common.
"""

from functools import lru_cache

import numpy as np

from aequitone.advice.moves import ControlState
from aequitone.colorimetry.arrays import Array

# Priors: the power of the rise, how much signal the whole range of the control moves, and what a bias does.
# Presets lie between 2.0 and 2.4, and makers leave the brighter ones on.
POWER, POWER_SD = 2.1, 0.15
RANGE_SIGNAL, _RANGE_SD = 0.45, 0.6
_BIAS_SIGNAL = 0.006
# The rise is not quite a power law: leakage and what the panel does in the dark bend its foot.
MODEL_SHARE = 0.03
# A panel's first step of light, as a share of white, and what a meter's data sheet does not say of its noise.
FIRST_LIGHT, NOISE = 2e-5, 1.4
_RESOLUTION, _POWERS, _BIASES = 0.25, 5, 7
_SPREADS = 2.5


def edge_of(settings: Array, light: Array, sd: Array, control: ControlState) -> tuple[float, float]:
    """Mean and standard deviation of the setting above which the signal rises.

    `settings` (n,) rising; `light` (n, channels) as shares of each channel's own at 100 %, and `sd` of it.
    """
    reach = 0.4 * (settings[-1] - settings[0]) + 12 * control.step
    low = float(max(control.lowest, settings[0] - reach))
    key = tuple(float(value) for value in np.column_stack([settings, light, sd]).ravel())
    return _posterior(key, len(settings), low, control)


@lru_cache(maxsize=256)
def _posterior(key: tuple[float, ...], count: int, lowest: float, control: ControlState) -> tuple[float, float]:
    """Over a grid of edges, powers and biases; a channel's floor and scale are solved for in each place."""
    table = np.array(key).reshape(count, -1)
    settings, light, sd = table[:, 0], *np.split(table[:, 1:], 2, axis=1)
    edges = np.arange(lowest, settings[-1], _RESOLUTION * control.step)
    powers = np.linspace(-_SPREADS, _SPREADS, _POWERS)
    biases = np.linspace(-_SPREADS, _SPREADS, _BIASES)
    per_step = RANGE_SIGNAL / control.steps
    held = biases * _BIAS_SIGNAL / per_step
    above = np.maximum(settings - edges[:, None], 0.0) / control.step
    distance = np.maximum(above[:, None, :] - held[:, None], 0.0)
    power = POWER + POWER_SD * powers
    # (edges, biases, powers, n)
    shape = distance[:, :, None, :] ** power[:, None]
    lift = np.maximum(light - light.min(axis=0), 0.0)
    first = np.where(lift > 2.0 * sd, FIRST_LIGHT, 0.0)
    weight = 1.0 / ((NOISE * sd) ** 2 + (MODEL_SHARE * lift) ** 2 + first**2)
    log = np.zeros((len(edges), _POWERS)) - 0.5 * powers**2
    for channel in range(light.shape[1]):
        told = _fit(shape, light[:, channel], weight[:, channel], power, per_step, light.shape[1])
        told = told - 0.5 * biases[:, None] ** 2
        log = log + np.logaddexp.reduce(told, axis=1)
    chance = np.exp(log - log.max()).sum(axis=1)
    chance = chance / chance.sum()
    mean = float(chance @ edges)
    return mean, float(np.sqrt(chance @ (edges - mean) ** 2))


def _fit(shape: Array, light: Array, weight: Array, power: Array, per_step: float, channels: int) -> Array:
    """Logarithm of how well a floor and a scale, neither below nothing, explain one channel's light."""
    s, sx, sxx = weight.sum(), shape @ weight, shape**2 @ weight
    sy, sxy, syy = weight @ light, shape @ (weight * light), weight @ light**2
    determinant = s * sxx - sx**2
    safe = determinant > 1e-12 * s * np.maximum(sxx, 1e-30)
    scale = np.where(safe, (s * sxy - sx * sy) / np.where(safe, determinant, 1.0), 0.0)
    scale = np.maximum(scale, 0.0)
    floor = np.maximum((sy - scale * sx) / s, 0.0)
    scale = np.where(floor > 0.0, scale, np.maximum(sxy, 0.0) / np.maximum(sxx, 1e-30))
    left = syy - 2.0 * (floor * sy + scale * sxy) + floor**2 * s + 2.0 * floor * scale * sx + scale**2 * sxx
    # What a step moves the signal, by the light of the first one above the edge; one prior for all channels.
    signal = np.maximum(scale, 1e-12) ** (1.0 / power)
    return np.asarray(-0.5 * left - 0.5 * (np.log(signal / per_step) / _RANGE_SD) ** 2 / channels)
