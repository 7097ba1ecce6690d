"""Light output: the setting that gives the wanted light on white."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from aequitone.advice.levels.sweep import (
    MOST_POSITIONS,
    WHITE,
    Ask,
    Curve,
    Finding,
    Look,
    Position,
    luminances,
    read_already,
)
from aequitone.advice.moves import ControlState
from aequitone.colorimetry.arrays import Array

_CLOSE = 0.004
_PRECISION = 0.0012
# The share that light wanders by between one look and the next, which no reading tells.
_WANDERS = 0.0025
# The neighbour is turned to where it should be clearly nearer.
_NEARER = 0.9
# Where steps are coarse, so that light is off by this share, the neighbour is also turned to where the curve,
# whose bend between readings is in doubt by this share of a step, leaves it open which is nearer.
_COARSE, _BEND = 0.02, 0.15


@dataclass(frozen=True)
class LightSweep:
    """Finds `wanted` cd/m² of white on a control that gives more light the higher it stands."""

    control: ControlState
    wanted: float
    shape: tuple[tuple[int, float], ...] = ()
    """Setting and relative light, from an earlier round: only its shape is used."""
    close: float = _CLOSE
    """What is near enough, as a share."""

    def precision(self, look: Look, expected: float | None) -> float:  # noqa: ARG002 - one look
        return _PRECISION * (expected or self.wanted)

    def next(self, positions: Sequence[Position]) -> Ask | None:
        setting = self._next(positions)
        return Ask(setting, (WHITE,)) if setting is not None else None

    def _next(self, positions: Sequence[Position]) -> int | None:
        if not positions:
            return self.control.value
        settings, Y, _ = luminances(positions)
        if np.any(np.abs(Y / self.wanted - 1.0) < self.close) or len(positions) >= MOST_POSITIONS:
            return None
        guess = self.control.snapped(self._inverse(settings, Y))
        if not read_already(positions, guess):
            return guess
        # Read already: the neighbour on the other side of what is wanted may be nearer.
        light = float(Y[list(settings).index(guess)])
        other = self.control.snapped(guess + (self.control.step if light < self.wanted else -self.control.step))
        if read_already(positions, other):
            return None
        return other if self._is_nearer(self._forward(settings, Y, other), light) else None

    def _is_nearer(self, expected: float, light: float) -> bool:
        """Whether the light expected of a neighbour is worth turning to from the setting that gave `light`."""
        miss, doubt = abs(light - self.wanted), _BEND * abs(expected - light)
        missed_by = abs(expected - self.wanted)
        return missed_by < _NEARER * miss or (miss > _COARSE * self.wanted and missed_by - doubt < miss)

    def found(self, positions: Sequence[Position]) -> Finding:
        settings, Y, sd = luminances(positions)
        nearest = int(np.abs(Y - self.wanted).argmin())
        exact = self._inverse(settings, Y)
        slope = abs(self._forward(settings, Y, exact + 1.0) - self._forward(settings, Y, exact - 1.0)) / 2.0
        setting, light = int(settings[nearest]), float(Y[nearest])
        low = light < self.wanted * (1 - self.close) and setting == self.control.highest
        high = light > self.wanted * (1 + self.close) and setting == self.control.lowest
        told_sd = float(np.hypot(sd[nearest], _WANDERS * light))
        words = (
            f"{self.control.name} at {setting} gives {light:.1f} ± {told_sd:.1f} cd/m² "
            f"of the {self.wanted:.1f} that are wanted"
        )
        if low or high:
            words += f"; that is its end stop, and the screen gives no {'more' if low else 'less'}"
            words += ". Is energy saving, or a sensor, still on" if low else ""
        elif abs(light / self.wanted - 1.0) > self.close:
            words += f"; one step is {slope * self.control.step:.1f} cd/m²"
        words += "?" if low else "."
        curve = Curve("white", settings, Y, sd)
        spread = float(sd[nearest]) / max(slope, 1e-9)
        return Finding(setting, exact, spread, words, (curve,), at_end=low or high)

    def _inverse(self, settings: Array, Y: Array) -> float:
        """The setting that the curve so far gives the wanted light at, kept between the end stops."""
        control = self.control
        if len(Y) == 1 and len(self.shape) < 2:
            # A backlight at its lowest usually gives a sixth of its light, and goes straight up from there.
            foot = control.lowest - 0.18 * (control.highest - control.lowest)
            exact = foot + (settings[0] - foot) * self.wanted / max(Y[0], 1e-9)
        elif len(Y) == 1:
            known, light = self._shaped(settings, Y)
            exact = _along(light, known, self.wanted)
        else:
            exact = _along(Y, settings, self.wanted)
        return float(np.clip(exact, control.lowest, control.highest))

    def _shaped(self, settings: Array, Y: Array) -> tuple[Array, Array]:
        """Settings and light of the earlier round, at the light of the one reading of this one."""
        known, light = (np.array(column, dtype=float) for column in zip(*sorted(self.shape), strict=True))
        return known, light * Y[0] / _along(known, light, float(settings[0]))

    def _forward(self, settings: Array, Y: Array, setting: float) -> float:
        """The light that the curve so far gives at a setting."""
        if len(Y) == 1 and len(self.shape) < 2:
            return float(Y[0])
        if len(Y) == 1:
            return _along(*self._shaped(settings, Y), setting)
        if len(Y) == 2:
            return _along(settings, Y, setting)
        # SciPy's interpolators take a while to load: not when the program starts.
        from scipy.interpolate import PchipInterpolator

        return float(PchipInterpolator(settings, Y, extrapolate=True)(setting))


def light_at(shape: Sequence[tuple[int, float]], setting: float) -> float:
    """The light at a setting by at least two whose light is known, beyond them straight on."""
    settings, lights = (np.array(column, dtype=float) for column in zip(*sorted(shape), strict=True))
    return _along(settings, lights, setting)


def _along(x: Array, y: Array, at: float) -> float:
    """Linear between the two points that enclose `at`, or beyond the two nearest; x rising."""
    i = int(np.clip(np.searchsorted(x, at), 1, len(x) - 1))
    span = x[i] - x[i - 1]
    if span <= 0.0:
        return float(y[i])
    return float(y[i - 1] + (at - x[i - 1]) * (y[i] - y[i - 1]) / span)
