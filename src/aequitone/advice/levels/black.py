"""Black level: the setting above which black begins to rise.

Black's own light is read at a few settings. Above the edge it rises as a power of the distance, so that the
edge is found by going back along the curve from where the meter sees well to where it sees nothing.
What is known of the edge from those readings is worked out by `edge`.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from aequitone.advice.levels.edge import FIRST_LIGHT, MODEL_SHARE, NOISE, POWER, POWER_SD, RANGE_SIGNAL, edge_of
from aequitone.advice.levels.sweep import (
    MOST_POSITIONS,
    Curve,
    Finding,
    Look,
    Position,
    first_unread,
    in_order,
    luminances,
    read_already,
    share_of_range,
)
from aequitone.advice.moves import ControlState
from aequitone.colorimetry.arrays import Array

_ENOUGH_STEPS = 0.35
# A setting as found that is so near is left as it is, however much more exactly the edge were known.
_NEARLY_STEPS, _NEAR, _BY_HAND = 0.8, 0.7, 1.0
_DARKEST_SD = 8e-6
_FAR_STEPS = 24
# Spreads of the edge within which a setting as found is left alone, as it is within a step.
_LEFT_ALONE = 2.0


@dataclass(frozen=True)
class BlackSweep:
    """Finds the edge of black from XYZ; `channels` tells red, green and blue apart where they were read."""

    control: ControlState
    white: float
    """Luminance of 100 %, cd/m²."""
    foot: float = 0.0
    """Share of the signal that such a panel gives no light for."""
    channels: Array | None = None
    """Turns XYZ into the light of red, green and blue, each 1 at 100 %, (3, 3)."""
    by_hand: bool = False
    """Whether a person walks to the menu for every position: then what stands about right is left as found."""

    @property
    def looks(self) -> tuple[Look, ...]:
        return (Look("0 % black", (0.0, 0.0, 0.0)),)

    def precision(self, look: int, expected: float | None) -> float:  # noqa: ARG002 - one look
        return max(0.0007, _DARKEST_SD * self.white, 0.015 * (expected or 0.0))

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
        if edge_sd <= _ENOUGH_STEPS * control.step or self._is_right(edge, edge_sd):
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
        edge = self._wanted(edge)
        setting = control.snapped(edge)
        told = f"Black begins to rise at {edge:.1f} ± {edge_sd:.1f}."
        allowed = max(_LEFT_ALONE * edge_sd, float(control.step))
        if setting != control.value and abs(control.value - edge) <= allowed:
            # What may be right is not turned: a step of black is a tenth of the light in the shadows.
            words = f"{told} {control.name} at {control.value}, as found, is right as far as that can be told"
            return Finding(control.value, edge, edge_sd, f"{words}.", (curve,))
        words = (
            f"{told} {control.name} at {setting} keeps black at {max(0.0, float(Y[0])):.3f} cd/m² and swallows "
            "nothing above it"
        )
        return Finding(setting, edge, edge_sd, f"{words}.", (curve,), setting in (control.lowest, control.highest))

    def _wanted(self, edge: float) -> float:
        """Where black belongs: what is read begins at the panel's first light, and nothing below is swallowed."""
        return edge - self.foot / RANGE_SIGNAL * (self.control.highest - self.control.lowest)

    def _is_right(self, edge: float, edge_sd: float) -> bool:
        """Whether the setting as found would be left alone, however much more exactly the edge were known."""
        off, step = abs(self.control.value - self._wanted(edge)), self.control.step
        if self.by_hand:
            return edge_sd <= _BY_HAND * step and off <= _BY_HAND * step
        return edge_sd <= _NEARLY_STEPS * step and off <= _NEAR * step

    def _edge(self, positions: Sequence[Position]) -> tuple[float, float]:
        settings, Y, sd = luminances(positions)
        if self.channels is None:
            return edge_of(settings, Y[:, None] / self.white, sd[:, None] / self.white, self.control)
        ordered = in_order(positions)
        light = np.array([self.channels @ position.xyz[0] for position in ordered])
        spread = np.array([np.sqrt(self.channels**2 @ position.sd[0] ** 2) for position in ordered])
        return edge_of(settings, light, spread, self.control)

    def _telling(self, positions: Sequence[Position], edge: float) -> int | None:
        """The setting that would make the edge surest: not so near that there is no light, nor far away."""
        control = self.control
        settings, Y, sd = luminances(positions)
        power, scale = POWER, self._scale(settings, Y, edge)
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
            noise = np.sqrt((NOISE * noise) ** 2 + (MODEL_SHARE * light) ** 2 + self._first_light(light) ** 2)
            slope = -scale * power * np.maximum(distance, 1e-9) ** (power - 1.0) * (distance > 0)
            bend = light * np.log(np.maximum(distance, 1e-9)) * (distance > 0)
            rows = np.stack([np.ones_like(light), light / scale, slope, bend]) / noise
            information = rows @ rows.T + np.diag([0.0, 0.0, 0.0, POWER_SD**-2.0])
            return float(np.linalg.pinv(information)[2, 2])

        return min(fresh, key=spread)

    def _first_light(self, light: Array) -> Array:
        return np.where(light > 0.0, FIRST_LIGHT * self.white, 0.0)

    def _scale(self, settings: Array, Y: Array, edge: float) -> float:
        """Light of one step above the edge."""
        far = float(settings[-1] - edge) / self.control.step
        return float(max(Y[-1] - Y[0], 1e-6) / max(far, 0.5) ** POWER)
