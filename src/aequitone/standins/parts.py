"""What a scenario says of its screen, checked by pydantic; units are in the names (docs/scenarios.md)."""

import re
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from aequitone.advice.roles import is_role, point_percents
from aequitone.advice.technology import Technology
from aequitone.signal import Container

Share = Annotated[float, Field(ge=0.0, le=1.0)]
Positive = Annotated[float, Field(gt=0.0)]
Seconds = Annotated[float, Field(ge=0.0, le=86_400.0)]
Minutes = Annotated[float, Field(ge=0.0, le=10_000.0)]
Gamma = Annotated[float, Field(gt=1.0, lt=4.0)]
Chromaticity = tuple[Annotated[float, Field(gt=0.0, lt=1.0)], Annotated[float, Field(gt=0.0, lt=1.0)]]
KnownTechnology = Literal[
    Technology.LED_LCD,
    Technology.WIDE_LCD,
    Technology.WHITE_OLED,
    Technology.RGB_OLED,
    Technology.PLASMA,
    Technology.TUBE,
    Technology.DLP_WHEEL,
    Technology.THREE_PANEL_PROJECTOR,
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
USUAL_SPECTRUM: dict[Technology, SpectrumName] = {
    Technology.LED_LCD: "white-led",
    Technology.WIDE_LCD: "narrow-red-led",
    Technology.WHITE_OLED: "white-oled",
    Technology.RGB_OLED: "rgb-oled",
    Technology.PLASMA: "plasma-phosphor",
    Technology.TUBE: "tube-phosphor",
    Technology.DLP_WHEEL: "arc-lamp",
    Technology.THREE_PANEL_PROJECTOR: "arc-lamp",
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
    found_spread: Annotated[int, Field(ge=0, le=1_000_000)] = 0
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


class PathPart(Part):
    """Where gains and biases act and how, the shape of the tone, and controls that do not do what they say."""

    gains_on: Literal["signal", "drive", "light"] = "drive"
    """Before the tone, after it, or on light itself."""
    biases: Literal["lift", "add", "multiply"] = "lift"
    """Most at black and none at white; the same everywhere; or a share of what is there, most in the shadows."""
    dead_zone_steps: Annotated[int, Field(ge=0, le=1000)] = 0
    """Steps from the factory's value that do nothing yet."""
    dead: tuple[str, ...] = ()
    """Roles of controls that do nothing."""
    swapped: tuple[()] | tuple[str, str] = ()
    """Roles of two controls that do what the other is called."""
    tone: Literal["power", "s-curve", "srgb", "shoulder"] = "power"
    tone_share: Share = 0.0
    """How strong the shape is: of the signal at most, for an S-curve and a shoulder."""
    clips_share: tuple[Share, Share, Share] = (1.0, 1.0, 1.0)
    """Drive of red, green and blue above which nothing more comes."""


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
    off_share: Annotated[float, Field(ge=0.0, le=0.05)] = 0.0
    """How far from its name a level acts, at most, in signal; each unit and level has its own."""
    leak_share: Annotated[float, Field(ge=0.0, le=0.4)] = 0.0
    """Of a level's setting, what acts at each of its neighbours instead."""
    joined_in: Literal["code", "light"] = "code"
    """Along what the screen goes from one level to the next."""
    dark_boost: Annotated[float, Field(ge=0.0, le=4.0)] = 0.0
    """How much more a step does at the dark end: at 0 % by this share."""

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
    without: tuple[str, ...] = ()
    """Colours, or amounts, that this one has no controls for: "cyan", "lightness"."""
    place: Literal["after-gains", "before-gains"] = "after-gains"
    """After the gains white is not grey to it where they are unequal: its controls move white too."""
    leak_share: Share = 0.0
    """Of what a control does, what the colours beside its own get too."""
    weakens_share: Share = 0.0
    """How much less a control does near its end stop than around the middle."""
    hue_ends_at: Annotated[int, Field(ge=0)] = 0
    """Steps beyond which hue does nothing more; 0 for none."""
    lightness_on: Literal["light", "signal"] = "light"
    bands_from: Annotated[int, Field(ge=0)] = 0
    """Steps beyond which a control corrects its colour in a few coarse steps of saturation; 0 for none."""
    dead: tuple[str, ...] = ()
    """Roles of controls that do nothing."""
    swapped: tuple[str, str] | None = None
    """Roles of two controls that do each other's work."""


class ColourFaultPart(Part):
    """What a unit does to colours by itself, drawn from its seed: what a colour management is there to correct."""

    spread: Share = 0.0
    """Linear light, of each primary and secondary in each channel, as a standard deviation."""
    pale_spread: Share = 0.0
    """The same where colours are half saturated, and none at full ones: an edge that hides a bent middle."""


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

    curve: Literal["own", "spline", "clip"] = "own"
    """How it comes to its peak: above the knee by a power of its own, by the roll-off of BT.2390, or by a cut."""
    knee_share: Share = 0.6
    """Of the peak: above it a roll-off of its own begins; 1 clips."""
    maps_from_cd_m2: Positive = 4000.0
    """The light that the roll-off brings down to the peak."""
    shares_white: bool = False
    """Whether gains and biases that are turned in one memory, of whatever signal, act in every other too."""
    heeds_metadata: bool = False
    """Whether it maps from the mastering peak that the source names, where it names one."""
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
        "dynamic-contrast",
        "energy-saving",
        "ambient-sensor",
        "zone-dimming",
        "dynamic-iris",
        "black-stretch",
        "tone-mapping",
    ]
    """The last moves HDR's roll-off with the picture: in a dark one it maps from less, by `strength`."""
    name: str
    found_on: bool = False
    strength: Share = 0.3
    follows: Literal["peak", "average"] = "peak"
    """Of dynamic contrast: what it goes by, the brightest part of the picture or its average."""
    steps: Annotated[int, Field(ge=0, le=100)] = 0
    """In so many steps; 0 for smoothly."""
    seconds: Seconds = 0.0
    """How long it takes to follow a new picture; 0 for at once."""
