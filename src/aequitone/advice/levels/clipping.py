"""Contrast: the highest setting at which every channel of white still rises.

Contrast multiplies the signal. A ramp of bright greys at one setting therefore shows what white does at lower
ones, and a ramp at a second setting how much a step multiplies: few settings tell the whole curve.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from aequitone.advice.levels.knee import USUAL_POWER, Knees, knees_of, to_setting
from aequitone.advice.levels.sweep import (
    WHITE,
    Ask,
    Curve,
    Finding,
    Look,
    Position,
    first_unread,
    grey_look,
    greys,
    share_of_range,
)
from aequitone.advice.moves import ControlState
from aequitone.advice.roles import CHANNELS
from aequitone.colorimetry.arrays import Array

RAMP = (WHITE, *(grey_look(percent) for percent in (96.0, 91.0, 82.0)))
DISC_RAMP = (WHITE, *(grey_look(percent) for percent in (95.0, 90.0, 80.0)))
"""White first; the last is so dark that it clips nowhere near. What a disc has are fives."""
_FIVE = 5.0
_PRECISION = 0.0012
_JUMP = 0.12
_MOST_SETTINGS = 5
# Steps around a knee within which something must have been read, and what is read there if nothing was.
_NEAR_BELOW, _NEAR_ABOVE, _BESIDE = 3.0, 6.0, 1.5
_SAME_PERCENT, _LEAST_PERCENT = 0.4, 70.0
_MODEL = 0.002


@dataclass(frozen=True)
class ClippingSweep:
    """`channels`: what turns XYZ into the light of red, green and blue, (3, 3); `black`: XYZ of 0 %."""

    control: ControlState
    channels: Array
    black: Array
    white: float
    from_disc: bool = False
    """Whether only greys can be shown that discs have."""

    @property
    def ramp(self) -> tuple[Look, ...]:
        """The greys that are read at a setting."""
        return DISC_RAMP if self.from_disc else RAMP

    def precision(self, look: Look, expected: float | None) -> float:  # noqa: ARG002 - all alike
        return _PRECISION * (expected or self.white)

    def next(self, positions: Sequence[Position]) -> Ask | None:
        control = self.control
        if not positions:
            return Ask(control.value, self.ramp)
        settings = sorted({position.setting for position in positions})
        knees, jump = self._knees(positions), share_of_range(control, _JUMP)
        if len(settings) >= _MOST_SETTINGS:
            return None
        lowest, highest = settings[0], settings[-1]
        if not np.isfinite(knees.lowest):
            return self._asked(first_unread(control, positions, highest + jump))
        if len(settings) == 1:
            # White is cut off as it stands: how far to go down is not known before a step is.
            return self._asked(first_unread(control, positions, lowest - jump, highest + jump))
        return self._beside(positions, knees) or self._below(positions, knees, jump)

    def _beside(self, positions: Sequence[Position], knees: Knees) -> Ask | None:
        """What is not read yet on either side of the knee, at a setting that stands there already or nearly."""
        control, at = self.control, positions[-1].setting
        exact = to_setting(knees, knees.lowest)
        seen = self._across(positions, knees)
        wanted = []
        if not np.any((seen <= exact) & (seen >= exact - _NEAR_BELOW * control.step)):
            wanted.append(exact - _BESIDE * control.step)
        if not np.any((seen > exact) & (seen <= exact + _NEAR_ABOVE * control.step)):
            wanted.append(exact + 2.0 * _BESIDE * control.step)
        looks = []
        for setting in wanted:
            exactly = 100.0 * knees.signal(setting) / knees.signal(at)
            percent = _FIVE * round(exactly / _FIVE) if self.from_disc else round(exactly, 1)
            if _LEAST_PERCENT <= percent <= 100.0 and not _read(positions, at, percent):
                looks.append(grey_look(percent))
        if looks or not wanted:
            return Ask(at, tuple(looks)) if looks else None
        return self._asked(first_unread(control, positions, exact))

    def _below(self, positions: Sequence[Position], knees: Knees, jump: int) -> Ask | None:
        """A lower setting, where nothing that was read lies below the knee."""
        exact = to_setting(knees, knees.lowest)
        if np.sum(self._across(positions, knees) < exact) >= 2:
            return None
        down = min(position.setting for position in positions) - jump
        return self._asked(first_unread(self.control, positions, min(down, exact)))

    def _asked(self, setting: int | None) -> Ask | None:
        return Ask(setting, self.ramp) if setting is not None else None

    def found(self, positions: Sequence[Position]) -> Finding:
        control = self.control
        knees = self._knees(positions)
        curves = self._curves(positions, knees)
        settings = sorted({position.setting for position in positions})
        if len(settings) < 2 and (np.isfinite(knees.lowest) or settings[-1] < control.highest):
            words = "Too few settings were read to tell where a channel stops rising"
            return Finding(control.value, float(control.value), float(control.steps), f"{words}.", curves)
        if not np.isfinite(knees.lowest):
            top = settings[-1]
            words = f"No channel stops rising up to {top}; {control.name} can stand there"
            return Finding(top, float(top), float(control.step), f"{words}.", curves, top == control.highest)
        exact = to_setting(knees, knees.lowest)
        sd = knees.sd / max(knees.gain, 1e-9)
        setting = _down(control, exact)
        told = ", ".join(
            f"{CHANNELS[i]} at {to_setting(knees, knees.at[i]):.1f}"
            if np.isfinite(knees.at[i])
            else f"{CHANNELS[i]} not at all"
            for i in np.argsort(knees.at)
        )
        words = f"Channels stop rising: {told}, ± {sd:.1f}. Above {setting} the brightest whites take on a tint"
        return Finding(setting, exact, sd, f"{words}.", curves, setting == control.lowest)

    def light_at(self, positions: Sequence[Position], settings: Array, look: Look = WHITE) -> Array:
        """The luminance that a grey has at settings, (n,), by the greys that were read, cd/m².

        Below the darkest of them it is a power of the signal.
        """
        read_at, signals, xyz, _ = greys(positions)
        knees = self._knees(positions)
        known = signals * [knees.signal(float(setting)) for setting in read_at]
        wanted = look.percents[0] / 100.0 * np.array([knees.signal(float(setting)) for setting in settings])
        order = np.argsort(known)
        light = np.interp(wanted, known[order], xyz[order, 1])
        return np.asarray(light * np.minimum(wanted / known[order[0]], 1.0) ** USUAL_POWER)

    def _knees(self, positions: Sequence[Position]) -> Knees:
        settings, signals, lights, spread = self._lights(positions)
        return knees_of(settings, signals, np.log(lights), spread, self.control)

    def _lights(self, positions: Sequence[Position]) -> tuple[Array, Array, Array, Array]:
        """Settings and signals, each (n,), light of each channel, (n, 3), and its relative spread."""
        settings, signals, xyz, sd = greys(positions)
        lights = np.maximum((xyz - self.black) @ self.channels.T, 1e-9)
        relative = np.sqrt(sd**2 @ (self.channels**2).T) / lights
        return settings, signals, lights, np.hypot(relative, _MODEL)

    def _across(self, positions: Sequence[Position], knees: Knees) -> Array:
        """The setting at which white would have the light of each grey that was read, (n,)."""
        settings, signals, _, _ = greys(positions)
        return np.asarray([to_setting(knees, s * knees.signal(x)) for x, s in zip(settings, signals, strict=True)])

    def _curves(self, positions: Sequence[Position], knees: Knees) -> tuple[Curve, ...]:
        """Light of each channel against the setting at which white would have it."""
        _, _, lights, spread = self._lights(positions)
        across = self._across(positions, knees)
        order = np.argsort(across)
        return tuple(
            Curve(name, across[order], lights[order, i] / lights[:, i].max(), spread[order, i])
            for i, name in enumerate(CHANNELS)
        )


def _read(positions: Sequence[Position], setting: int, percent: float) -> bool:
    """Whether about this grey was read at a setting."""
    return any(
        position.setting == setting and abs(look.percents[0] - percent) < _SAME_PERCENT
        for position in positions
        for look in position.looks
    )


def _down(control: ControlState, exact: float) -> int:
    """The setting at or just below a place on the curve."""
    return control.snapped(control.lowest + control.step * int((exact - control.lowest) // control.step))
