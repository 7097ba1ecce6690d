"""What a scenario says of its screen, checked by pydantic; units are in the names (docs/scenarios.md)."""

import re
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from aequitone.advice.roles import Role, is_role, point_percents, point_role
from aequitone.signal import Container

Share = Annotated[float, Field(ge=0.0, le=1.0)]
Positive = Annotated[float, Field(gt=0.0)]
Seconds = Annotated[float, Field(ge=0.0, le=86_400.0)]
Minutes = Annotated[float, Field(ge=0.0, le=10_000.0)]
Gamma = Annotated[float, Field(gt=1.0, lt=4.0)]
Chromaticity = tuple[Annotated[float, Field(gt=0.0, lt=1.0)], Annotated[float, Field(gt=0.0, lt=1.0)]]
Technology = Literal[
    "led-lcd", "wide-lcd", "white-oled", "rgb-oled", "plasma", "crt", "dlp-wheel", "three-panel-projector"
]
SpectrumName = Literal[
    "white-led",
    "narrow-red-led",
    "quantum-dot",
    "white-oled",
    "rgb-oled",
    "plasma-phosphor",
    "tube-phosphor",
    "arc-lamp",
    "laser",
]
USUAL_SPECTRUM: dict[str, SpectrumName] = {
    "led-lcd": "white-led",
    "wide-lcd": "narrow-red-led",
    "white-oled": "white-oled",
    "rgb-oled": "rgb-oled",
    "plasma": "plasma-phosphor",
    "crt": "tube-phosphor",
    "dlp-wheel": "arc-lamp",
    "three-panel-projector": "arc-lamp",
}
# Beside the roles that the advice knows, a stand-in has controls that later stations use.
OTHER_CONTROLS = re.compile(r"cms-(red|green|blue|cyan|magenta|yellow)-(hue|saturation|lightness|r|g|b)")


class Part(BaseModel):
    """A table of a scenario file: no key that is not known, and nothing that changes."""

    model_config = ConfigDict(extra="forbid", frozen=True, use_attribute_docstrings=True)


class ControlPart(Part):
    """One control of the screen's menu, with the setting it is found at."""

    role: str
    name: str
    lowest: int = 0
    highest: int = 100
    step: Annotated[int, Field(ge=1)] = 1
    factory: int
    found: int
    found_spread: Annotated[int, Field(ge=0)] = 0
    choices: tuple[str, ...] = ()

    @model_validator(mode="after")
    def _sound(self) -> "ControlPart":
        if not is_role(self.role) and not OTHER_CONTROLS.fullmatch(self.role):
            raise ValueError(f"there is no role “{self.role}”")
        if self.lowest >= self.highest:
            raise ValueError("lowest must be below highest")
        for field in ("factory", "found"):
            value = getattr(self, field)
            if not self.lowest <= value <= self.highest or (value - self.lowest) % self.step:
                raise ValueError(
                    f"{field} = {value} is not a setting from {self.lowest} to {self.highest} by {self.step}"
                )
        if self.choices and len(self.choices) != self.highest - self.lowest + 1:
            raise ValueError(f"{len(self.choices)} choices named for {self.highest - self.lowest + 1} settings")
        return self


class EffectPart(Part):
    """What one step of a control does, before the unit's own spread."""

    gain_per_step: Share = 0.004
    bias_per_step: Share = 0.0009
    contrast_per_step: Share = 0.008
    black_level_per_step: Share = 0.004
    colour_per_step: Share = 0.02
    tint_degree_per_step: Annotated[float, Field(ge=0.0, le=10.0)] = 0.6


class FaultPart(Part):
    """The hidden fault: one channel sags in the middle of its range, and gains weaken near an end stop."""

    sag: Share = 0.0
    end_weakness: Share = 0.0


class UnitPart(Part):
    """How far units differ from their model, as standard deviations."""

    primary_xy: Share = 0.002
    gamma: Share = 0.015
    preset: Share = 0.012
    preset_bend: Share = 0.0
    """How far each colour-temperature preset wanders from bright to dark, of its drive."""
    control_effect: Share = 0.10
    contrast_ratio: Share = 0.10
    band_nm: Annotated[float, Field(ge=0.0, le=10.0)] = 0.8
    neutral_steps: Annotated[float, Field(ge=0.0, le=10.0)] = 0.0
    """How far from its factory value each of contrast, black level, colour and tint is right, in steps. What
    is found moves along with it."""


class MultiPointPart(Part):
    """White balance and luminance at many levels."""

    points: Literal[10, 11, 20, 21, 26, 42] = 20
    interpolation: Literal["linear", "smooth", "own-level-only"] = "linear"
    lowest: int = -50
    highest: int = 50
    effect_per_step: Share = 0.002
    luminance: bool = True

    @property
    def percents(self) -> tuple[int, ...]:
        """The levels that have controls, in %, dark to bright."""
        return point_percents(self.points)


class ColourManagementPart(Part):
    """Per primary and secondary: hue, saturation, lightness, or the red, green and blue mixed in."""

    kind: Literal["hue-saturation-lightness", "mix"] = "hue-saturation-lightness"
    lowest: int = -50
    highest: int = 50
    effect_per_step: Share = 0.006


class GamutPart(Part):
    """One gamut preset of the menu."""

    name: str
    shows: Literal["native", "rec709", "p3", "rec2020"] = "native"


class ModePart(Part):
    """A picture mode of the menu: what it is set to by itself, where that is not the controls' factory value."""

    name: str
    settings: dict[str, int] = {}


class HdrPart(Part):
    """What the screen does with PQ and HLG."""

    knee_share: Share = 0.6
    """Of the peak: above it the roll-off begins; 1 clips."""
    maps_from_cd_m2: Positive = 4000.0
    """The light that the roll-off brings down to the peak."""
    container: Container = Container.REC2020


class WarmUpPart(Part):
    """From cold: light that is missing and a white that is off, gone by a time constant."""

    missing_share: Annotated[float, Field(ge=-0.5, le=0.5)] = 0.06
    cast_share: tuple[float, float, float] = (0.0, 0.0, 0.015)
    """What R, G, B have too much of when cold."""
    minutes: Positive = 9.0
    already_minutes: Minutes = 60.0
    """How long the screen has been on when the clock starts."""


class DriftPart(Part):
    """A slow drift that goes on and on."""

    light_share_per_hour: Annotated[float, Field(ge=-10.0, le=10.0)] = 0.0
    cast_share_per_hour: tuple[float, float, float] = (0.0, 0.0, 0.0)


class PowerPart(Part):
    """Light falls as the average level of the picture rises."""

    full_field_share: Share = 1.0
    """Light of a full white field as a share of a small window's; the budget that sets the limit."""
    sag_share: Share = 0.0
    """Regulation sag of a tube: share of the light lost at a full white field, in proportion."""
    floating_black_cd_m2: Annotated[float, Field(ge=0.0, le=10.0)] = 0.0
    """Black under a full white field, above black under a dark one."""


class StillPart(Part):
    """Dimming under a picture that stands still, until a brighter or changing field comes."""

    share: Share = 0.0
    after_seconds: Seconds = 60.0
    fade_seconds: Positive = 45.0
    refreshed_by_level: Share = 0.2
    """Average level of a field that ends it, when shown for a second and a half or more."""


class AfterglowPart(Part):
    """Dimming for a while after bright fields."""

    share: Share = 0.0
    recovers_seconds: Positive = 20.0


class NearBlackPart(Part):
    """What the darkest drives do: nothing below a step, and a tint that fades out."""

    step_share: Share = 0.0
    tint: tuple[float, float, float] = (0.0, 0.0, 0.0)
    fades_share: Positive = 0.03


class WhitePixelPart(Part):
    """A fourth, white subpixel (or the clear segment of a wheel) that helps where all three are lit."""

    boost: Annotated[float, Field(ge=0.0, le=3.0)] = 0.0
    """White light beyond R+G+B, as a share of it."""
    xy: Chromaticity = (0.315, 0.330)


class FlickerPart(Part):
    """Light that pulses."""

    hz: Positive = 60.0
    depth: Share = 0.0


class UniformityPart(Part):
    """How the corners differ from the middle."""

    corner_light_share: Annotated[float, Field(ge=-0.9, le=0.5)] = 0.0
    corner_cast_share: tuple[float, float, float] = (0.0, 0.0, 0.0)
    off_axis_share_per_degree: Annotated[float, Field(ge=0.0, le=0.05)] = 0.0
    glare_share: Annotated[float, Field(ge=0.0, le=0.1)] = 0.0
    """Of the light of the rest of the picture, what glass, lens and room throw onto the middle."""


class AmbientPart(Part):
    """Light of the room that the screen reflects."""

    cd_m2: Annotated[float, Field(ge=0.0, le=1000.0)] = 0.0
    xy: Chromaticity = (0.42, 0.40)


class FeaturePart(Part):
    """Something automatic that spoils a measurement while it is on."""

    kind: Literal[
        "dynamic-contrast", "energy-saving", "ambient-sensor", "zone-dimming", "dynamic-iris", "black-stretch"
    ]
    name: str
    found_on: bool = False
    strength: Share = 0.3


class ScreenPart(Part):
    """A model of screen. What is left out does nothing."""

    name: str
    maker: str = ""
    technology: Technology
    spectrum: SpectrumName | None = None
    peak_cd_m2: Positive
    contrast_ratio: Annotated[float, Field(gt=10.0)] | None = None
    """None for a black that gives no light."""
    leakage_xy: Chromaticity = (0.270, 0.265)
    red_xy: Chromaticity = (0.640, 0.332)
    green_xy: Chromaticity = (0.304, 0.602)
    blue_xy: Chromaticity = (0.151, 0.058)
    native_white_xy: Chromaticity = (0.285, 0.293)
    native_gamma: Gamma = 2.2
    gammas: tuple[Gamma, ...]
    temperatures_xy: tuple[Chromaticity, ...]
    headroom_share: Annotated[float, Field(ge=0.0, le=0.5)] = 0.0
    """How far the signal may rise above white, after contrast, before all channels are cut off at once."""
    lowest_light_share: Share = 0.15
    """Of the peak, at the lowest setting of light output."""
    crosstalk: Share = 0.0
    panel_bit: Annotated[int, Field(ge=6, le=16)] = 14
    dither_share: Share = 0.0
    """Noise of a dithered dark grey in one second, of its light."""
    gun_offset: tuple[float, float, float] = (0.0, 0.0, 0.0)
    """Bias of a tube's guns in drive."""
    expects_range: Literal["as sent", "limited", "full"] = "as sent"
    soft_surface: bool = False
    effect: EffectPart = EffectPart()
    fault: FaultPart = FaultPart()
    unit: UnitPart = UnitPart()
    multi_point: MultiPointPart | None = None
    colour_management: ColourManagementPart | None = None
    gamut: tuple[GamutPart, ...] = ()
    hdr: HdrPart | None = None
    warm_up: WarmUpPart = WarmUpPart()
    drift: DriftPart = DriftPart()
    power: PowerPart = PowerPart()
    still: StillPart = StillPart()
    afterglow: AfterglowPart = AfterglowPart()
    near_black: NearBlackPart = NearBlackPart()
    white_pixel: WhitePixelPart = WhitePixelPart()
    flicker: FlickerPart = FlickerPart()
    uniformity: UniformityPart = UniformityPart()
    ambient: AmbientPart = AmbientPart()
    feature: tuple[FeaturePart, ...] = ()
    mode: tuple[ModePart, ...] = ()
    table_1d_size: Annotated[int, Field(ge=0, le=4096)] = 0
    """0 where the screen takes no table."""
    table_3d_size: Annotated[int, Field(ge=0, le=65)] = 0
    control: tuple[ControlPart, ...]

    @model_validator(mode="after")
    def _controls(self) -> "ScreenPart":
        roles = [control.role for control in self.control]
        twice = {role for role in roles if roles.count(role) > 1}
        if twice:
            raise ValueError(f"more than one control has the role {', '.join(sorted(twice))}")
        limits = {control.role: control for control in self.menu}
        for mode in self.mode:
            for role, value in mode.settings.items():
                if role not in limits or not limits[role].lowest <= value <= limits[role].highest:
                    raise ValueError(f"the mode {mode.name} sets {role} to {value}, which cannot be")
        presets = (
            (Role.GAMMA, len(self.gammas)),
            (Role.TEMPERATURE, len(self.temperatures_xy)),
            (Role.GAMUT, len(self.gamut)),
        )
        for role, count in presets:
            if role not in roles:
                continue
            control = self.control[roles.index(role)]
            if control.lowest != 0 or control.highest != count - 1:
                raise ValueError(f"{control.name} must run from 0 to {count - 1}, one for each preset")
        return self

    @property
    def bands(self) -> SpectrumName:
        """The kind of light behind the primaries."""
        return self.spectrum or USUAL_SPECTRUM[self.technology]

    @property
    def menu(self) -> tuple[ControlPart, ...]:
        """Every control, those that the tables above bring with them included."""
        power = ControlPart(role=Role.POWER, name="Power", highest=1, factory=1, found=1, choices=("Off", "On"))
        made = (*self._of_features(), *self._of_points(), *self._of_colours())
        return (*self._of_modes(), *self.control, *made, power)

    def _of_modes(self) -> list[ControlPart]:
        if len(self.mode) < 2:
            return []
        names = tuple(mode.name for mode in self.mode)
        return [
            ControlPart(
                role=Role.PICTURE_MODE,
                name="Picture mode",
                highest=len(names) - 1,
                factory=0,
                found=0,
                choices=names,
            )
        ]

    def _of_features(self) -> list[ControlPart]:
        return [
            ControlPart(
                role=f"feature-{part.kind}",
                name=part.name,
                lowest=0,
                highest=1,
                factory=1,
                found=int(part.found_on),
                choices=("Off", "On"),
            )
            for part in self.feature
        ]

    def _of_points(self) -> list[ControlPart]:
        part = self.multi_point
        if part is None:
            return []
        channels = "rgby" if part.luminance else "rgb"
        return [
            _signed(point_role(channel, percent), f"{percent} % {channel.upper()}", part.lowest, part.highest)
            for percent in part.percents
            for channel in channels
        ]

    def _of_colours(self) -> list[ControlPart]:
        part = self.colour_management
        if part is None:
            return []
        mixes = part.kind == "mix"
        amounts = ("r", "g", "b") if mixes else ("hue", "saturation", "lightness")
        return [
            _signed(f"cms-{colour}-{amount}", f"{colour.capitalize()} {amount}", part.lowest, part.highest)
            for colour in ("red", "green", "blue", "cyan", "magenta", "yellow")
            for amount in amounts
        ]


def _signed(role: str, name: str, lowest: int, highest: int) -> ControlPart:
    return ControlPart(role=role, name=name, lowest=lowest, highest=highest, factory=0, found=0)
