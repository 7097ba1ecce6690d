"""The stand-in LED-LCD screen: a signal path with controls, a panel, and a hidden truth.

Signal path, in order (docs/architecture.md): contrast and black level, tone preset, temperature
preset, two-point gains and biases, panel. The controls work in the panel's drive, so a gain reaches
down to the dark greys and a bias leaks up to the bright ones, as in real screens.
"""

import numpy as np

from aequitone.advice.roles import BIASES, GAINS, Role
from aequitone.colorimetry import Gamut, White, xyz_from_xyY
from aequitone.colorimetry.arrays import Array
from aequitone.signal import Patch
from aequitone.standins.nvram import Nvram
from aequitone.standins.scenario import ControlPart, Scenario, ScreenPart


class StandInScreen:
    """One unit of the scenario's screen; the seed makes it differ from its model."""

    def __init__(self, scenario: Scenario, seed: int, nvram: Nvram | None = None) -> None:
        self.part = scenario.screen
        self._controls = {control.role: control for control in self.part.control}
        self._nvram = nvram or Nvram(None)
        rng = np.random.default_rng([seed, 1])
        self._unit = _Unit(self.part, rng)
        found = {control.role: self._found(control, rng) for control in self.part.control}
        self.found_settings = dict(found)
        self._settings = found
        for role, value in self._nvram.load().items():
            if role in self._controls and self._is_setting(self._controls[Role(role)], value):
                self._settings[Role(role)] = value

    def controls(self) -> tuple[ControlPart, ...]:
        """The menu, in the screen's own words."""
        return self.part.control

    def settings(self) -> dict[Role, int]:
        return dict(self._settings)

    def turn(self, settings: dict[Role, int]) -> None:
        """Set controls; a value beyond an end stop stays at the stop, as a real menu does."""
        for role, value in settings.items():
            control = self._controls[role]
            clipped = min(max(value, control.lowest), control.highest)
            steps = round((clipped - control.lowest) / control.step)
            self._settings[role] = control.lowest + steps * control.step
        self._nvram.save({role.value: value for role, value in self._settings.items()})

    def light(self, patch: Patch) -> Array:
        """XYZ in cd/m², shape (3,), that the screen truly gives for a patch."""
        return self.light_of_signal(np.asarray(patch.signal))

    def light_of_signal(self, signal: Array, settings: dict[Role, int] | None = None) -> Array:
        """XYZ in cd/m², shape (..., 3), for RGB signals (0 black, 1 white) of shape (..., 3)."""
        at = self._settings if settings is None else settings
        part, unit, effect = self.part, self._unit, self.part.effect

        contrast = 1.0 + effect.contrast_per_step * (at[Role.CONTRAST] - self._controls[Role.CONTRAST].factory)
        lift = effect.black_level_per_step * (at[Role.BLACK_LEVEL] - self._controls[Role.BLACK_LEVEL].factory)
        v = np.clip(signal * contrast + lift, 0.0, 1.0)
        drive = v ** (part.gammas[at[Role.GAMMA]] / part.native_gamma)
        drive = drive * unit.presets[at[Role.TEMPERATURE]]
        gains = 1.0 + effect.gain_per_step * unit.gain_effect * self._steps(GAINS, at)
        biases = effect.bias_per_step * unit.bias_effect * self._steps(BIASES, at)
        drive = np.clip(drive * gains + biases * (1.0 - drive), 0.0, 1.0)
        drive = drive * (1.0 - unit.sag * 4.0 * drive * (1.0 - drive))
        linear = drive**unit.gamma
        linear = linear * (1.0 - part.crosstalk) + part.crosstalk * linear.mean(axis=-1, keepdims=True)
        light_output = self._controls[Role.LIGHT_OUTPUT]
        share = (at[Role.LIGHT_OUTPUT] - light_output.lowest) / (light_output.highest - light_output.lowest)
        backlight = part.peak_cd_m2 * (0.15 + 0.85 * share)
        return np.asarray((unit.gamut.xyz(linear) + unit.leakage) * backlight)

    def _steps(self, roles: tuple[Role, Role, Role], at: dict[Role, int]) -> Array:
        weakness = self.part.fault.end_weakness
        steps = []
        for role in roles:
            control = self._controls[role]
            span = (control.highest - control.lowest) / 2.0
            offset = at[role] - control.factory
            # A control that weakens towards its stop: the hidden nonlinearity that a fixed step size misses.
            steps.append(offset * (1.0 - weakness * (abs(offset) / span) ** 2))
        return np.array(steps)

    def _found(self, control: ControlPart, rng: np.random.Generator) -> int:
        wander = int(rng.integers(-control.found_spread, control.found_spread + 1)) * control.step
        return min(max(control.found + wander, control.lowest), control.highest)

    @staticmethod
    def _is_setting(control: ControlPart, value: int) -> bool:
        return control.lowest <= value <= control.highest and (value - control.lowest) % control.step == 0


class _Unit:
    """What makes this unit differ from its model: drawn once from the seed."""

    def __init__(self, part: ScreenPart, rng: np.random.Generator) -> None:
        spread = part.unit

        def near(xy: tuple[float, float]) -> tuple[float, float]:
            x, y = np.asarray(xy) + rng.normal(0.0, spread.primary_xy, 2)
            return float(x), float(y)

        red, green, blue = near(part.red_xy), near(part.green_xy), near(part.blue_xy)
        self.gamut = Gamut(part.name, red, green, blue, White("native", *near(part.native_white_xy)))
        self.gamma = part.native_gamma + rng.normal(0.0, spread.gamma, 3)
        self.presets = [
            self._preset(part, xy) * (1 + rng.normal(0.0, spread.preset, 3)) for xy in part.temperatures_xy
        ]
        self.presets = [np.minimum(preset, 1.0) for preset in self.presets]
        self.gain_effect = np.exp(rng.normal(0.0, spread.control_effect, 3))
        self.bias_effect = np.exp(rng.normal(0.0, spread.control_effect, 3))
        ratio = part.contrast_ratio * float(np.exp(rng.normal(0.0, spread.contrast_ratio)))
        self.leakage = xyz_from_xyY([*part.leakage_xy, 1.0 / ratio])
        self.sag = np.zeros(3)
        self.sag[int(rng.integers(3))] = part.fault.sag

    def _preset(self, part: ScreenPart, xy: tuple[float, float]) -> Array:
        """Drive of each channel that brings the native white to `xy`, the largest being 1."""
        linear = self.gamut.rgb(xyz_from_xyY([*xy, 1.0]))
        return np.asarray((linear / linear.max()) ** (1.0 / part.native_gamma))
