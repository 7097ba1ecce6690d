"""Colour and tint: the settings at which two lights cross.

The blue light in blue, cyan and magenta is the same where both controls are right. Colour moves blue against
the other two; tint moves cyan against magenta. White is left out of it, and where a fourth subpixel makes
white brighter than its colours, so is cyan: there magenta's blue and red light are held against those of blue
and red.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from aequitone.advice.levels.sweep import (
    BLACK,
    Ask,
    Curve,
    Finding,
    Look,
    Position,
    each_once,
    first_unread,
    in_order,
    read_already,
    share_of_range,
)
from aequitone.advice.moves import ControlState
from aequitone.colorimetry.arrays import Array

SIGNAL = 75.0
BLUE = Look("blue 75 %", (0.0, 0.0, SIGNAL))
CYAN = Look("cyan 75 %", (0.0, SIGNAL, SIGNAL))
MAGENTA = Look("magenta 75 %", (SIGNAL, 0.0, SIGNAL))
RED = Look("red 75 %", (SIGNAL, 0.0, 0.0))
PRIMARIES = (RED, Look("green 75 %", (0.0, SIGNAL, 0.0)), BLUE)
TELLING = (*PRIMARIES, BLACK)
"""What tells the channels' light apart, wherever black stands."""
_RED_FOR_COLOUR, _BLUE_FOR_TINT = 1.165, 1.0 / 3.0
_PRECISION = 0.002
# Lights that differ by no more are the same to an eye: half a hundredth of saturation, or half a degree of hue.
_ALIKE, _SURE = 0.006, 2.0
# The share of a gap by which a parabola may miss it.
_FAR = 0.03
_ENOUGH_STEPS = 0.35
_MOST, _SIGMAS = 5, 3.0
# Of the range, how far the second position lies from the first.
_JUMP = 0.08
# Red, green and blue are pure where there is too much colour rather than too little.
_MORE = 0.12
# Of the range, how far beyond what was read the next position may lie: the curves are not straight.
_REACH = 0.2
# Of the range, over which a rise of colour must be seen.
_SEEN = 0.05


def channels_of(position: Position) -> Array:
    """What turns XYZ into the light of red, green and blue, (3, 3), by a position that shows all of `TELLING`."""
    (*primaries, black), _ = position.of(*TELLING)
    return np.asarray(np.linalg.inv((np.array(primaries) - black).T), dtype=np.float64)


@dataclass(frozen=True)
class _CrossingSweep:
    """`channels`: what turns XYZ into the light of red, green and blue, (3, 3); `black`: XYZ of 0 %."""

    control: ControlState
    channels: Array
    black: Array
    fourth: bool = False
    """Whether a fourth, white light helps where all three are lit."""
    white: float = 0.0
    """Luminance of white when that black was read, cd/m²; 0 where it is not known."""

    @property
    def looks(self) -> tuple[Look, ...]:
        raise NotImplementedError

    def precision(self, look: Look, expected: float | None) -> float:
        return max(0.001, _PRECISION * (expected or self._usual(look)))

    def _usual(self, look: Look) -> float:
        """About the luminance of a look that was not read yet, from those of red, green and blue, cd/m²."""
        lit = np.array(look.percents) / SIGNAL
        return float(np.linalg.inv(self.channels)[1] @ lit)

    def next(self, positions: Sequence[Position]) -> Ask | None:
        setting = self._next(positions)
        return Ask(setting, self.looks) if setting is not None else None

    def _next(self, positions: Sequence[Position]) -> int | None:
        control = self.control
        if not positions:
            return control.value
        if len(positions) >= _MOST:
            return None
        settings, gaps, sd = self._told(positions)
        if len(settings) == 1:
            if self._are_alike(positions):
                return None
            jump = share_of_range(control, _JUMP)
            away, at = (-jump if gaps[0] > 0.0 else jump), settings[0]
            return first_unread(control, positions, at + away, at - away)
        exact, spread = self._crossing(settings, gaps, sd)
        reach = _REACH * (control.highest - control.lowest)
        setting = control.snapped(float(np.clip(exact, settings[0] - reach, settings[-1] + reach)))
        if read_already(positions, setting):
            return None
        bracketed = gaps.min() < 0.0 < gaps.max()
        near = np.abs(settings - exact).min() <= 4 * control.step
        if bracketed and near and spread <= _ENOUGH_STEPS * control.step:
            return None
        return setting

    def found(self, positions: Sequence[Position]) -> Finding:
        control = self.control
        settings, gaps, sd = self._told(positions)
        curves = self._curves(positions)
        names = " and ".join(f"“{curve.name}”" for curve in curves)
        if len(settings) == 1:
            words = "Only one was read."
            if self._are_alike(positions):
                apart = 100.0 * abs(float(gaps[0]))
                stands = f"{control.name} is right at {control.value}"
                words = f"{stands}: the lights that it makes equal differ by {apart:.1f} %."
            return Finding(control.value, float(control.value), float(control.steps), words, curves)
        exact, spread = self._crossing(settings, gaps, sd)
        setting = control.snapped(exact)
        at_end = not control.lowest <= exact <= control.highest
        if at_end:
            words = f"{control.name}: the lights {names} do not cross before the end stop at {setting}"
        else:
            words = f"{control.name}: the lights {names} cross at {exact:.1f} ± {spread:.1f}"
        return Finding(setting, exact, spread, f"{words}.", curves, at_end)

    def _are_alike(self, positions: Sequence[Position]) -> bool:
        """Whether the two lights, read once where the control was found, cross there as far as is seen."""
        settings, gaps, sd = self._told(positions)
        read = len(settings) == 1 and settings[0] == self.control.value
        return bool(read and abs(gaps[0]) <= _ALIKE and _SURE * sd[0] <= _ALIKE)

    def _told(self, positions: Sequence[Position]) -> tuple[Array, Array, Array]:
        """Settings, gaps and their spreads of the positions that tell of the crossing."""
        return each_once(*self._gaps(positions))

    def _lights(self, positions: Sequence[Position]) -> tuple[Array, Array, Array]:
        """Settings (n,), logarithms of the two lights that cross (2, n), and the spread of their gap (n,)."""
        ordered = in_order(positions)
        settings = np.array([position.setting for position in ordered], dtype=float)
        read = [position.of(*self.looks) for position in ordered]
        # Black goes along with light output, as far as it is the panel's.
        lit = np.array([each.white / self.white if each.white and self.white else 1.0 for each in ordered])
        xyz = np.array([each for each, _ in read]) - lit[:, None, None] * self.black
        channels = self._channels(positions)
        light = np.maximum(xyz @ channels.T, 1e-6)
        noise = np.array([sd for _, sd in read])
        relative = np.sqrt(noise**2 @ (channels**2).T) / light
        logs = np.log(light)
        two = np.stack(self._two(logs[..., 2], logs[..., 0]))
        # Of the channel that each look is read for; the weak ones are not used.
        return settings, two, np.sqrt((relative.min(axis=-1) ** 2).sum(axis=-1))

    def _channels(self, positions: Sequence[Position]) -> Array:
        """What turns XYZ into the light of red, green and blue: as told, or by a position that shows it better."""
        told = next((p for p in reversed(positions) if all(look in p.looks for look in TELLING)), None)
        return self.channels if told is None else channels_of(told)

    def off(self, positions: Sequence[Position], newest: Position) -> float:
        """By how many settings a control is off where it stands now, by the slope that its sweep has seen."""
        settings, gaps, _ = self._told(positions)
        if len(settings) < 2:
            return 0.0
        at = float(self._gaps([newest])[1][0])
        # The nearest two that stand apart.
        near = np.argsort(np.abs(gaps))
        other = next((i for i in near if settings[i] != settings[near[0]]), None)
        if other is None or gaps[other] == gaps[near[0]]:
            return 0.0
        return -at * float((settings[other] - settings[near[0]]) / (gaps[other] - gaps[near[0]]))

    def _gaps(self, positions: Sequence[Position]) -> tuple[Array, Array, Array]:
        """Settings, gap of the two lights in logarithms, and its spread, each (n,)."""
        settings, two, spread = self._lights(positions)
        return settings, two[0] - two[1], spread

    def _two(self, blue: Array, red: Array) -> tuple[Array, Array]:
        """The two lights that cross, each (n,), from logarithms of blue and red light, each (n, looks)."""
        raise NotImplementedError

    @property
    def _names(self) -> tuple[str, str]:
        raise NotImplementedError

    def _curves(self, positions: Sequence[Position]) -> tuple[Curve, ...]:
        settings, two, spread = self._lights(positions)
        lights = np.exp(two - two.mean())
        return tuple(
            Curve(name, settings, light, light * spread) for name, light in zip(self._names, lights, strict=True)
        )

    @staticmethod
    def _crossing(settings: Array, gaps: Array, sd: Array) -> tuple[float, float]:
        """Where the gap is nothing, and how unsure that is, in settings."""
        near = np.argsort(np.abs(gaps))[:3]
        x, y = settings[near], gaps[near]
        slope = float((y[1] - y[0]) / (x[1] - x[0])) if x[1] != x[0] else 0.0
        if slope == 0.0:
            return float(x[0]), float(np.ptp(settings))
        exact = float(x[0] - y[0] / slope)
        if len(settings) >= 3:
            # A parabola through all: the curves are not quite straight, and what is far says less of the crossing.
            bend = np.polyfit(gaps, settings, 2, w=1.0 / np.hypot(sd, _FAR * gaps))
            if abs(float(bend[2]) - exact) < float(np.ptp(x)):
                exact = float(bend[2])
        return exact, float(np.mean(sd[near[:2]])) / abs(slope)


@dataclass(frozen=True)
class ColourSweep(_CrossingSweep):
    """The control of saturation; its second position, with more colour than as found, shows the primaries too."""

    @property
    def looks(self) -> tuple[Look, ...]:
        return (BLUE, MAGENTA, RED) if self.fourth else (BLUE, CYAN, MAGENTA)

    def next(self, positions: Sequence[Position]) -> Ask | None:
        control = self.control
        more = control.snapped(control.value + share_of_range(control, _MORE))
        if (
            len(positions) == 1
            and positions[0].setting == control.value != more
            and not self._are_alike(positions)
        ):
            return Ask(more, (*self.looks, *(look for look in TELLING if look not in self.looks)))
        return super().next(positions)

    def _told(self, positions: Sequence[Position]) -> tuple[Array, Array, Array]:
        """Without positions of so much colour that blue is cut off: it must rise faster than the others."""
        settings, gaps, sd = each_once(*self._gaps(positions))
        # Over a few steps noise may hide a rise; over more it must be seen.
        wide = np.diff(settings) > _SEEN * (self.control.highest - self.control.lowest)
        rising = np.diff(gaps) > np.where(wide, 1.0, -1.0) * _SIGMAS * np.hypot(sd[1:], sd[:-1])
        told = 1 + (len(rising) if rising.all() else int(rising.argmin()))
        return settings[:told], gaps[:told], sd[:told]

    def _two(self, blue: Array, red: Array) -> tuple[Array, Array]:
        if self.fourth:
            # Weighted so that tint moves both alike (colour differences of ITU-R BT.709-6).
            return blue[:, 0] + _RED_FOR_COLOUR * red[:, 2], blue[:, 1] + _RED_FOR_COLOUR * red[:, 1]
        return blue[:, 0], blue[:, 1:].mean(axis=1)

    @property
    def _names(self) -> tuple[str, str]:
        if self.fourth:
            return "light of blue and red", "light of magenta"
        return "blue in blue", "blue in cyan and magenta"


@dataclass(frozen=True)
class TintSweep(_CrossingSweep):
    """The control of hue."""

    @property
    def looks(self) -> tuple[Look, ...]:
        return (BLUE, MAGENTA, RED) if self.fourth else (CYAN, MAGENTA)

    def _two(self, blue: Array, red: Array) -> tuple[Array, Array]:
        if self.fourth:
            # Weighted so that colour moves both alike.
            return red[:, 2] + _BLUE_FOR_TINT * blue[:, 1], red[:, 1] + _BLUE_FOR_TINT * blue[:, 0]
        return blue[:, 0], blue[:, 1]

    @property
    def _names(self) -> tuple[str, str]:
        if self.fourth:
            return "red against magenta", "magenta against blue"
        return "blue in cyan", "blue in magenta"
