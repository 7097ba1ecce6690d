"""Contrast: the highest setting at which every channel of white still rises."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from aequitone.advice.levels.sweep import (
    MOST_POSITIONS,
    Curve,
    Finding,
    Look,
    Position,
    first_unread,
    in_order,
    share_of_range,
)
from aequitone.advice.moves import ControlState
from aequitone.advice.roles import CHANNELS
from aequitone.colorimetry.arrays import Array

_PRECISION = 0.0012
# Contrast multiplies the signal, and light is a power of it.
_POWER, _POWER_SD = 2.25, 0.25
# A knee is believed where it fits so much better than none, as a difference of squares.
_TELLING = 16.0
_NEAR_BELOW, _NEAR_ABOVE = 3.0, 6.0
_MODEL = 0.002


@dataclass(frozen=True)
class ClippingSweep:
    """`channels`: what turns XYZ into the light of red, green and blue, (3, 3); `black`: XYZ of 0 %."""

    control: ControlState
    channels: Array
    black: Array
    white: float

    @property
    def looks(self) -> tuple[Look, ...]:
        return (Look("100 % white", (100.0, 100.0, 100.0)),)

    def precision(self, look: int, expected: float | None) -> float:  # noqa: ARG002 - one look
        return _PRECISION * (expected or self.white)

    def next(self, positions: Sequence[Position]) -> int | None:
        control = self.control
        if not positions:
            return control.value
        if len(positions) >= MOST_POSITIONS:
            return None
        jump = share_of_range(control, 0.12)
        settings, lights, spread = self._lights(positions)
        lowest, highest = int(settings[0]), int(settings[-1])
        if len(positions) == 1:
            return first_unread(control, positions, lowest - jump, highest + jump)
        if len(positions) == 2 and highest < control.highest:
            return first_unread(control, positions, highest + jump)
        if len(positions) == 2:
            return first_unread(control, positions, lowest - jump)
        knee = float(self._knees(settings, lights, spread)[0].min())
        if np.sum(settings < knee) < 2:
            return first_unread(control, positions, lowest - jump)
        if not np.isfinite(knee):
            return first_unread(control, positions, highest + jump)
        if not np.any((settings <= knee) & (settings >= knee - _NEAR_BELOW * control.step)):
            return first_unread(control, positions, _down(control, knee))
        if not np.any((settings > knee) & (settings <= knee + _NEAR_ABOVE * control.step)):
            return first_unread(control, positions, _down(control, knee) + 3 * control.step)
        return None

    def found(self, positions: Sequence[Position]) -> Finding:
        control = self.control
        settings, lights, spread = self._lights(positions)
        curves = tuple(
            Curve(name, settings, lights[:, i] / lights[:, i].max(), spread[:, i])
            for i, name in enumerate(CHANNELS)
        )
        if len(positions) < 3:
            words = "Too few settings were read to tell where a channel stops rising"
            return Finding(control.value, float(control.value), float(control.steps), f"{words}.", curves)
        knees, slope = self._knees(settings, lights, spread)
        exact = float(knees.min())
        if not np.isfinite(exact):
            top = int(settings[-1])
            words = f"No channel stops rising up to {top}; {control.name} can stand there"
            return Finding(top, float(top), float(control.step), f"{words}.", curves, top == control.highest)
        sd = float(np.median(spread[:, int(knees.argmin())])) * 2.0 / max(slope, 1e-6)
        setting = _down(control, exact)
        told = ", ".join(
            f"{CHANNELS[i]} at {knees[i]:.1f}" if np.isfinite(knees[i]) else f"{CHANNELS[i]} not at all"
            for i in np.argsort(knees)
        )
        words = f"Channels stop rising: {told}, ± {sd:.1f}. Above {setting} the brightest whites take on a tint"
        return Finding(setting, exact, sd, f"{words}.", curves, setting == control.lowest)

    def _lights(self, positions: Sequence[Position]) -> tuple[Array, Array, Array]:
        """Settings (n,), light of each channel (n, 3), and its relative spread."""
        ordered = in_order(positions)
        settings = np.array([position.setting for position in ordered], dtype=float)
        xyz = np.array([position.xyz[0] for position in ordered]) - self.black
        lights = np.maximum(xyz @ self.channels.T, 1e-9)
        noise = np.array([position.sd[0] for position in ordered])
        relative = np.sqrt(noise**2 @ (self.channels**2).T) / lights
        return settings, lights, np.hypot(relative, _MODEL)

    def _knees(self, settings: Array, lights: Array, spread: Array) -> tuple[Array, float]:
        """Where each channel stops rising, (3,), inf where it does not; and the slope of log light a setting.

        Contrast multiplies the signal and light is a power of it: how much a setting multiplies is common to the
        channels and tried out; the power is each channel's own.
        """
        logs = np.log(lights)
        best: tuple[float, Array, float] | None = None
        for gain in np.geomspace(0.2, 2.0, 13) / (self.control.highest - self.control.lowest):
            across = np.log(np.maximum(1.0 + gain * (settings - settings.mean()), 0.05))
            knees, misfit, power = np.full(3, np.inf), 0.0, 0.0
            for i in range(3):
                knee, left, own = self._knee(settings, across, logs[:, i], spread[:, i], float(gain))
                knees[i], misfit, power = knee, misfit + left, power + own / 3.0
            if best is None or misfit < best[0]:
                best = (misfit, knees, power * float(gain))
        assert best is not None
        return best[1], best[2]

    @staticmethod
    def _knee(
        settings: Array, across: Array, log: Array, spread: Array, gain: float
    ) -> tuple[float, float, float]:
        """One channel's knee, its misfit, and its power."""
        # The last candidate lies beyond all that was read: no knee.
        knees = np.append(np.arange(settings[0] + 1.0, settings[-1], 0.25), settings[-1] + 1.0)
        at_knee = np.log(np.maximum(1.0 + gain * (knees - settings.mean()), 0.05))
        x = np.minimum(across, at_knee[:, None])
        # Least squares of log = level + power · x, the power being near what it usually is.
        weight = spread**-2.0
        n, sx, sxx = weight.sum(), x @ weight, x**2 @ weight
        prior = _POWER_SD**-2.0
        determinant = n * (sxx + prior) - sx**2
        sy, sxy = weight @ log, x @ (weight * log) + prior * _POWER
        power = (n * sxy - sx * sy) / determinant
        level = (sy - power * sx) / n
        left = (log - level[:, None] - power[:, None] * x) ** 2 @ weight
        misfit = left + ((power - _POWER) / _POWER_SD) ** 2
        i = int(misfit.argmin())
        if misfit[-1] - misfit[i] < _TELLING:
            i = len(knees) - 1
        knee = float(knees[i]) if i < len(knees) - 1 else float("inf")
        return knee, float(misfit[i]), float(power[i])


def _down(control: ControlState, exact: float) -> int:
    """The setting at or just below a place on the curve."""
    return control.snapped(control.lowest + control.step * int((exact - control.lowest) // control.step))
