"""Scenario files: TOML, units in the names, checked by pydantic (docs/scenarios.md)."""

import tomllib
from pathlib import Path
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from aequitone.advice.roles import Role
from aequitone.reference import TARGETS
from aequitone.signal import Range, SignalFormat
from aequitone.standins.shipped import ScenarioError, shipped_scenarios, shipped_text

Share = Annotated[float, Field(ge=0.0, le=1.0)]
Positive = Annotated[float, Field(gt=0.0)]
Chromaticity = tuple[Annotated[float, Field(gt=0.0, lt=1.0)], Annotated[float, Field(gt=0.0, lt=1.0)]]


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class ControlPart(_Part):
    """One control of the screen's menu, with the setting it is found at."""

    role: Role
    name: str
    lowest: int = 0
    highest: int = 100
    step: Annotated[int, Field(ge=1)] = 1
    factory: int
    found: int
    found_spread: Annotated[int, Field(ge=0)] = 0
    choices: tuple[str, ...] = ()

    @model_validator(mode="after")
    def _inside(self) -> "ControlPart":
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


class EffectPart(_Part):
    """What one step of a control does, before the unit's own spread."""

    gain_per_step: Share = 0.004
    bias_per_step: Share = 0.0009
    contrast_per_step: Share = 0.008
    black_level_per_step: Share = 0.004


class FaultPart(_Part):
    """The hidden fault: one channel sags in the middle of its range, and gains weaken near an end stop."""

    sag: Share = 0.0
    end_weakness: Share = 0.0


class UnitPart(_Part):
    """How far units differ from their model, as standard deviations."""

    primary_xy: Share = 0.002
    gamma: Share = 0.015
    preset: Share = 0.012
    control_effect: Share = 0.10
    contrast_ratio: Share = 0.10


class ScreenPart(_Part):
    name: str
    technology: Literal["led-lcd"]
    peak_cd_m2: Positive
    contrast_ratio: Annotated[float, Field(gt=10.0)]
    leakage_xy: Chromaticity = (0.270, 0.265)
    red_xy: Chromaticity = (0.640, 0.332)
    green_xy: Chromaticity = (0.304, 0.602)
    blue_xy: Chromaticity = (0.151, 0.058)
    native_white_xy: Chromaticity = (0.285, 0.293)
    native_gamma: Annotated[float, Field(gt=1.0, lt=4.0)] = 2.2
    gammas: tuple[Annotated[float, Field(gt=1.0, lt=4.0)], ...]
    temperatures_xy: tuple[Chromaticity, ...]
    crosstalk: Share = 0.0
    effect: EffectPart = EffectPart()
    fault: FaultPart = FaultPart()
    unit: UnitPart = UnitPart()
    control: tuple[ControlPart, ...]

    @model_validator(mode="after")
    def _controls(self) -> "ScreenPart":
        roles = [control.role for control in self.control]
        twice = {role.value for role in roles if roles.count(role) > 1}
        if twice:
            raise ValueError(f"more than one control has the role {', '.join(sorted(twice))}")
        missing = [role.value for role in Role if role not in roles]
        if missing:
            raise ValueError(f"no control has the role {', '.join(missing)}")
        for role, presets in ((Role.GAMMA, self.gammas), (Role.TEMPERATURE, self.temperatures_xy)):
            control = self.control[roles.index(role)]
            if control.lowest != 0 or control.highest != len(presets) - 1:
                raise ValueError(f"{control.name} must run from 0 to {len(presets) - 1}, one for each preset")
        return self


class MeterPart(_Part):
    name: str = "Stand-in colorimeter"
    shot_noise: Annotated[float, Field(ge=0.0, le=1.0)] = 0.010
    floor_noise_cd_m2: Annotated[float, Field(ge=0.0, le=1.0)] = 0.002
    overhead_seconds: Annotated[float, Field(ge=0.0, le=60.0)] = 0.3
    timeout_share: Share = 0.0
    rubbish_share: Share = 0.0
    silent_after_readings: Annotated[int, Field(ge=0)] | None = None


class SourcePart(_Part):
    name: str = "Stand-in pattern source"
    latency_seconds: Annotated[float, Field(ge=0.0, le=60.0)] = 0.2
    settle_seconds: Annotated[float, Field(ge=0.0, le=60.0)] = 0.6
    depth_bit: Literal[8, 10, 12] = 10
    range: Range = Range.LIMITED
    window_share: Annotated[float, Field(gt=0.0, le=1.0)] = 0.10

    @property
    def format(self) -> SignalFormat:
        return SignalFormat(self.depth_bit, self.range, self.window_share)


class HandPart(_Part):
    """How fast the simulated person is at the menu."""

    trip_seconds: Annotated[float, Field(ge=0.0, le=600.0)] = 9.0
    step_seconds: Annotated[float, Field(ge=0.0, le=60.0)] = 0.4


class VisitPart(_Part):
    """The words of a made-up visit, for the demo logbook."""

    client: str = "Stand-in client"
    room: str = "Room"
    input: str = "HDMI 1"
    memory: str = "Film"
    target: str = "rec709-2.2"
    levels: Literal[11, 21] = 11

    @model_validator(mode="after")
    def _known_target(self) -> "VisitPart":
        if self.target not in TARGETS:
            raise ValueError(f"there is no target “{self.target}”; the targets are {', '.join(TARGETS)}")
        return self


class Scenario(_Part):
    title: str
    screen: ScreenPart
    meter: MeterPart = MeterPart()
    source: SourcePart = SourcePart()
    hand: HandPart = HandPart()
    visit: VisitPart = VisitPart()


def load_scenario(name_or_path: str) -> Scenario:
    """A shipped scenario by name, or one from a file. Raises ScenarioError with a sentence."""
    if name_or_path in shipped_scenarios():
        return parse_scenario(shipped_text(name_or_path), name_or_path)
    path = Path(name_or_path)
    if not path.is_file():
        raise ScenarioError(
            f"There is no scenario “{name_or_path}”: "
            f"it is neither a file nor one of {', '.join(shipped_scenarios())}."
        )
    try:
        text = path.read_text("utf-8")
    except (OSError, UnicodeDecodeError) as error:
        raise ScenarioError(f"The scenario {path} cannot be read: {error}.") from error
    return parse_scenario(text, str(path))


def parse_scenario(text: str, where: str) -> Scenario:
    """A scenario from TOML text; `where` names it in errors."""
    try:
        return Scenario.model_validate(tomllib.loads(text))
    except tomllib.TOMLDecodeError as error:
        raise ScenarioError(f"The scenario {where} is not TOML: {error}.") from error
    except ValidationError as error:
        faults = "; ".join(_sentence(dict(item)) for item in error.errors())
        raise ScenarioError(f"The scenario {where} was not used: {faults}.") from error


def _sentence(fault: dict[str, Any]) -> str:
    place = ".".join(str(part) for part in fault["loc"]) or "the file"
    if fault["type"] == "extra_forbidden":
        return f"{place} is not a key that scenarios have"
    if fault["type"] == "missing":
        return f"{place} is missing"
    message = str(fault["msg"])
    if fault["type"] == "value_error":
        # Written by us, and may begin with a name.
        message = message.removeprefix("Value error, ")
    else:
        message = message[:1].lower() + message[1:]
    if isinstance(fault["input"], str | int | float):
        return f"{place} = {fault['input']!r}: {message}"
    return f"{place}: {message}"
