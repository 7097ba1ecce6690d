"""What makes one unit of a screen differ from its model: drawn once from the seed."""

import numpy as np

from aequitone.advice.roles import Role
from aequitone.colorimetry import Gamut, White, xyz_from_xyY
from aequitone.colorimetry.arrays import Array
from aequitone.standins.screen_part import ScreenPart

CENTRED: tuple[str, ...] = (Role.CONTRAST.key, Role.BLACK_LEVEL.key, Role.COLOUR.key, Role.TINT.key)


class Unit:
    """A unit's primaries, gamma, presets, control effects, black and hidden fault."""

    def __init__(self, part: ScreenPart, rng: np.random.Generator) -> None:
        spread = part.unit

        def near(xy: tuple[float, float]) -> tuple[float, float]:
            x, y = np.asarray(xy) + rng.normal(0.0, spread.primary_xy, 2)
            return float(x), float(y)

        red, green, blue = near(part.red_xy), near(part.green_xy), near(part.blue_xy)
        self.gamut = Gamut(part.name, red, green, blue, White("native", *near(part.native_white_xy)))
        self.gamma = part.native_gamma + rng.normal(0.0, spread.gamma, 3)
        presets = [self._preset(part, xy) * (1 + rng.normal(0.0, spread.preset, 3)) for xy in part.temperatures_xy]
        self.presets = [np.minimum(preset, 1.0) for preset in presets]
        self.gain_effect = np.exp(rng.normal(0.0, spread.control_effect, 3))
        self.bias_effect = np.exp(rng.normal(0.0, spread.control_effect, 3))
        self.leakage = np.zeros(3)
        """XYZ of black, white being Y = 1."""
        luck = float(np.exp(rng.normal(0.0, spread.contrast_ratio)))
        if part.contrast_ratio is not None:
            self.leakage = xyz_from_xyY([*part.leakage_xy, 1.0 / (part.contrast_ratio * luck)])
        self.sag = np.zeros(3)
        self.sag[int(rng.integers(3))] = part.fault.sag
        self.band_shifts = rng.normal(0.0, spread.band_nm, 3)
        """Where its bands of light lie, in nm from the model's."""
        self.white_pixel = White("white pixel", *part.white_pixel.xy).xyz()
        # A stream of its own: what was drawn before stays what it was.
        (apart,) = rng.spawn(1)
        self.neutral = {
            role: round(float(np.clip(apart.normal(0.0, 1.0), -2.5, 2.5)) * spread.neutral_steps)
            for role in CENTRED
        }
        """Where the controls that have a right position have it, in steps from the factory's."""
        self.preset_bends = [apart.normal(0.0, spread.preset_bend, 3) for _ in part.temperatures_xy]
        """What a preset adds to the drive of R, G, B in the middle, as a share."""
        self.level_errors = apart.uniform(-1.0, 1.0, len(part.multi_point.percents) if part.multi_point else 0)
        """How far each level of multi-point acts from its name, as a share of the most."""
        (colours,) = rng.spawn(1)
        fault = part.colour_fault
        self.colour_fault = colours.normal(0.0, 1.0, (6, 3)) * fault.spread
        """What is added to each full primary and secondary, linear light."""
        self.pale_fault = colours.normal(0.0, 1.0, (6, 3)) * fault.pale_spread
        """The same at half of the way from grey."""
        self.luminance = self.gamut.xyz_matrix[1]
        """Share of R, G, B in the luminance of their white."""

    def _preset(self, part: ScreenPart, xy: tuple[float, float]) -> Array:
        """Drive of each channel that brings the native white to `xy`, the largest being 1."""
        linear = self.gamut.rgb(xyz_from_xyY([*xy, 1.0]))
        return np.asarray((linear / linear.max()) ** (1.0 / part.native_gamma))
