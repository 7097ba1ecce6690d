"""Black level: the setting above which black begins to rise.

Black's own light is read at a few settings. Above the edge it rises as a power of the distance, so that the
edge is found by going back along the curve from where the meter sees well to where it sees nothing.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from aequitone.advice.levels.sweep import (
    MOST_POSITIONS,
    Curve,
    Finding,
    Look,
    Position,
    first_unread,
    luminances,
    read_already,
    share_of_range,
)
from aequitone.advice.moves import ControlState
from aequitone.colorimetry.arrays import Array

_ENOUGH_STEPS = 0.35
# Priors: the power of the rise, and how much signal the whole range of the control moves.
_POWER, _POWER_SD = 2.25, 0.15
_RANGE_SIGNAL, _RANGE_SD = 0.45, 0.6
# The rise is not quite a power law: biases and leakage bend its foot.
_MODEL_SHARE = 0.03
# What they do to the edge itself, in signal.
_FOOT_SIGNAL = 0.0015
_RESOLUTION, _POWERS = 0.1, 17
_DARKEST_SD = 8e-6
# A panel's first step of light, and what a meter's data sheet does not say of its noise.
_FIRST_LIGHT, _NOISE = 2e-5, 1.4
_FAR_STEPS = 24


@dataclass(frozen=True)
class BlackSweep:
    """`white`: luminance of 100 %, cd/m². `foot`: share of the signal that such a panel gives no light for."""

    control: ControlState
    white: float
    foot: float = 0.0

    @property
    def looks(self) -> tuple[Look, ...]:
        return (Look("0 % black", (0.0, 0.0, 0.0)),)

    def precision(self, look: int, expected: float | None) -> float:  # noqa: ARG002 - one look
        return max(0.0007, _DARKEST_SD * self.white, 0.01 * (expected or 0.0))

    def next(self, positions: Sequence[Position]) -> int | None:
        control = self.control
        if not positions:
            return control.value
        if len(positions) >= MOST_POSITIONS:
            return None
        settings, Y, sd = luminances(positions)
        jump = share_of_range(control, 0.15)
        lowest, highest = int(settings[0]), int(settings[-1])
        if len(positions) == 1:
            lifted = Y[0] > 0.003 * self.white
            return first_unread(control, positions, lowest - jump if lifted else highest + jump)
        rise = float(Y[-1] - Y[0])
        if rise < 8.0 * float(np.hypot(sd[0], sd[-1])) and rise < 0.001 * self.white:
            return first_unread(control, positions, highest + 2 * jump)
        edge, edge_sd = self._edge(positions)
        if lowest > edge - control.step and lowest > control.lowest:
            # Nothing read yet that is surely black.
            return first_unread(control, positions, min(lowest - control.step, round(edge) - 3 * control.step))
        if edge_sd / control.step <= _ENOUGH_STEPS:
            return None
        return self._telling(positions, edge)

    def found(self, positions: Sequence[Position]) -> Finding:
        control = self.control
        settings, Y, sd = luminances(positions)
        curve = Curve("black", settings, Y, sd)
        rise = float(Y[-1] - Y[0])
        if rise < 4.0 * float(np.hypot(sd[0], sd[-1])):
            words = (
                f"Black did not rise from {settings[0]:.0f} to {settings[-1]:.0f}: either {control.name} was not "
                "turned, or it is not the black level. It goes back to where it was; set it by eye"
            )
            return Finding(control.value, float(control.value), float(control.steps), f"{words}.", (curve,), True)
        edge, edge_sd = self._edge(positions)
        range_ = control.highest - control.lowest
        # What is read begins at the panel's first light; what must not be swallowed begins below it.
        edge -= self.foot / _RANGE_SIGNAL * range_
        edge_sd = float(np.hypot(edge_sd, _FOOT_SIGNAL / _RANGE_SIGNAL * range_))
        setting = control.snapped(edge)
        words = (
            f"Black begins to rise at {edge:.1f} ± {edge_sd:.1f}. {control.name} at {setting} keeps black "
            f"at {max(0.0, float(Y[0])):.3f} cd/m² and swallows nothing above it"
        )
        return Finding(setting, edge, edge_sd, f"{words}.", (curve,), setting in (control.lowest, control.highest))

    def _edge(self, positions: Sequence[Position]) -> tuple[float, float]:
        settings, Y, sd = luminances(positions)
        low = float(max(self.control.lowest, settings[0] - 0.4 * (settings[-1] - settings[0]) - 12))
        edges = np.arange(low, settings[-1], _RESOLUTION * self.control.step)
        key = tuple(float(value) for column in (settings, Y, sd) for value in column)
        return _posterior(key, len(settings), float(edges[0]), len(edges), self.control, self.white)

    def _telling(self, positions: Sequence[Position], edge: float) -> int | None:
        """The setting that would make the edge surest: not so near that there is no light, nor far away."""
        control = self.control
        settings, Y, sd = luminances(positions)
        power, scale = _POWER, self._scale(settings, Y, edge)
        steps = np.arange(control.snapped(edge) + control.step, edge + _FAR_STEPS * control.step, control.step)
        steps = steps[steps <= control.highest]
        fresh = [int(step) for step in steps if not read_already(positions, int(step))]
        if not fresh:
            return None
        darkest = float(sd.min())

        def spread(candidate: int) -> float:
            at = np.append(settings, candidate)
            distance = np.maximum(at - edge, 0.0) / control.step
            light = scale * distance**power
            noise = np.append(sd, max(darkest, 0.01 * light[-1]))
            noise = np.sqrt((_NOISE * noise) ** 2 + (_MODEL_SHARE * light) ** 2 + self._first_light(light) ** 2)
            slope = -scale * power * np.maximum(distance, 1e-9) ** (power - 1.0) * (distance > 0)
            bend = light * np.log(np.maximum(distance, 1e-9)) * (distance > 0)
            rows = np.stack([np.ones_like(light), light / scale, slope, bend]) / noise
            information = rows @ rows.T + np.diag([0.0, 0.0, 0.0, _POWER_SD**-2.0])
            return float(np.linalg.pinv(information)[2, 2])

        return min(fresh, key=spread)

    def _first_light(self, light: Array) -> Array:
        return np.where(light > 0.0, _FIRST_LIGHT * self.white, 0.0)

    def _scale(self, settings: Array, Y: Array, edge: float) -> float:
        """Light of one step above the edge."""
        far = float(settings[-1] - edge) / self.control.step
        return float(max(Y[-1] - Y[0], 1e-6) / max(far, 0.5) ** _POWER)


@lru_cache(maxsize=256)
def _posterior(
    key: tuple[float, ...], count: int, lowest: float, edges: int, control: ControlState, white: float
) -> tuple[float, float]:
    """Mean and standard deviation of the edge, over a grid of edges and powers.

    For each pair the floor and the scale are solved for, by weighted least squares.
    """
    settings, Y, sd = np.array(key).reshape(3, count)
    step = control.step
    edge = lowest + _RESOLUTION * step * np.arange(edges)
    powers = np.linspace(_POWER - 2.5 * _POWER_SD, _POWER + 2.5 * _POWER_SD, _POWERS)
    distance = np.maximum(settings - edge[:, None], 0.0) / step
    shape = distance[:, None, :] ** powers[:, None]
    floor = Y.min()
    lift = np.maximum(Y - floor, 0.0)
    first = np.where(lift > 2.0 * sd, _FIRST_LIGHT * white, 0.0)
    weight = 1.0 / ((_NOISE * sd) ** 2 + (_MODEL_SHARE * lift) ** 2 + first**2)
    # Sums over the readings: of 1, shape, shape², Y, Y·shape, Y².
    s, sx, sxx = weight.sum(), shape @ weight, shape**2 @ weight
    sy, sxy = weight @ Y, shape @ (weight * Y)
    determinant = s * sxx - sx**2
    safe = determinant > 1e-12 * s * np.maximum(sxx, 1e-30)
    scale = np.where(safe, (s * sxy - sx * sy) / np.where(safe, determinant, 1.0), 0.0)
    scale = np.maximum(scale, 0.0)
    base = np.maximum((sy - scale * sx) / s, 0.0)
    left = Y - base[..., None] - scale[..., None] * shape
    log = -0.5 * (left**2 @ weight) - 0.5 * ((powers - _POWER) / _POWER_SD) ** 2
    # What a step moves the signal, by the light of the first one above the edge.
    signal = np.maximum(scale / white, 1e-12) ** (1.0 / powers)
    expected = _RANGE_SIGNAL / control.steps
    log = log - 0.5 * (np.log(signal / expected) / _RANGE_SD) ** 2
    chance = np.exp(log - log.max()).sum(axis=1)
    chance = chance / chance.sum()
    mean = float(chance @ edge)
    variance = float(chance @ (edge - mean) ** 2)
    return mean, float(np.sqrt(variance))
