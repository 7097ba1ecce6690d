"""The screen of a scenario: everything it says of it, and the menu that follows."""

from typing import Annotated, Literal

import numpy as np
from pydantic import Field, model_validator

from aequitone.advice.roles import BIASES, GAINS, Role, RoleKind, menu_words, point_role
from aequitone.standins.parts import (
    USUAL_SPECTRUM,
    AfterglowPart,
    AmbientPart,
    Chromaticity,
    ColourFaultPart,
    ColourManagementPart,
    ControlPart,
    DriftPart,
    EffectPart,
    FaultPart,
    FeaturePart,
    FlickerPart,
    Gamma,
    GamutPart,
    HdrPart,
    KnownTechnology,
    ModePart,
    MultiPointPart,
    NearBlackPart,
    Part,
    PathPart,
    Positive,
    PowerPart,
    Share,
    SpectrumName,
    StillPart,
    UniformityPart,
    UnitPart,
    WarmUpPart,
    WhitePixelPart,
)

# Area that three primaries must enclose in the chromaticity diagram.
_ENCLOSED = 1e-3


class ScreenPart(Part):
    """A model of screen. What is left out does nothing."""

    name: str
    maker: str = ""
    technology: KnownTechnology
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
    path: PathPart = PathPart()
    unit: UnitPart = UnitPart()
    multi_point: MultiPointPart | None = None
    colour_management: ColourManagementPart | None = None
    colour_fault: ColourFaultPart = ColourFaultPart()
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
            (Role.GAMMA.key, len(self.gammas)),
            (Role.TEMPERATURE.key, len(self.temperatures_xy)),
            (Role.GAMUT.key, len(self.gamut)),
        )
        for role, count in presets:
            if role not in roles:
                continue
            control = self.control[roles.index(role)]
            if control.lowest != 0 or control.highest != count - 1:
                raise ValueError(f"{control.name} must run from 0 to {count - 1}, one for each preset")
        return self

    @model_validator(mode="after")
    def _channels(self) -> "ScreenPart":
        roles = {control.role for control in self.control}
        for group in (GAINS, BIASES):
            missing = sorted({role.key for role in group} - roles)
            if 0 < len(missing) < len(group):
                raise ValueError(f"{' and '.join(missing)} is missing beside the others of its kind")
        return self

    @model_validator(mode="after")
    def _light(self) -> "ScreenPart":
        """Whites that the primaries cannot mix would be no light at all."""
        primaries = np.array([[*xy, 1.0 - sum(xy)] for xy in (self.red_xy, self.green_xy, self.blue_xy)])
        if abs(float(np.linalg.det(primaries))) < _ENCLOSED:
            raise ValueError("red_xy, green_xy and blue_xy enclose no colours")
        whites = {"native_white_xy": self.native_white_xy}
        whites |= {f"temperatures_xy {n}": xy for n, xy in enumerate(self.temperatures_xy, 1)}
        for name, xy in whites.items():
            mixed = np.linalg.solve(primaries.T, [*xy, 1.0 - sum(xy)])
            if mixed.min() <= 0.0:
                raise ValueError(f"{name} {xy[0]:g}, {xy[1]:g} lies outside the primaries")
        return self

    @property
    def bands(self) -> SpectrumName:
        """The kind of light behind the primaries."""
        return self.spectrum or USUAL_SPECTRUM[self.technology]

    @property
    def menu(self) -> tuple[ControlPart, ...]:
        """Every control, those that the tables above bring with them included."""
        power = ControlPart(
            role=Role.POWER.key, name="Power", highest=1, factory=1, found=1, choices=("Off", "On")
        )
        made = (*self._of_features(), *self._of_points(), *self._of_colours())
        return (*self._of_modes(), *self.control, *made, power)

    def _of_modes(self) -> list[ControlPart]:
        if len(self.mode) < 2:
            return []
        names = tuple(mode.name for mode in self.mode)
        return [
            ControlPart(
                role=Role.PICTURE_MODE.key,
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
            _signed(point_role(channel, percent).key, f"{percent} % {channel.upper()}", part.lowest, part.highest)
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
            _signed(role.key, menu_words(role), part.lowest, part.highest)
            for colour in ("red", "green", "blue", "cyan", "magenta", "yellow")
            for amount in amounts
            if not {colour, amount} & {*part.without}
            for role in (Role(RoleKind.COLOUR_MANAGEMENT, colour, amount=amount),)
        ]


def _signed(role: str, name: str, lowest: int, highest: int) -> ControlPart:
    return ControlPart(role=role, name=name, lowest=lowest, highest=highest, factory=0, found=0)
