"""What a visit from the command line is to do, from a TOML file (docs/formats.md)."""

from pathlib import Path
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, field_validator, model_validator

from aequitone.advice.roles import Role, in_ledger, is_role, role_of
from aequitone.advice.technology import Technology
from aequitone.errors import AequitoneError
from aequitone.handover.incoming.toml import read_toml
from aequitone.logbook.records import PRECISIONS, ControlRecord
from aequitone.passes import COPIED, PASSES, PUT_BACK
from aequitone.reference import target_named
from aequitone.signal import Range

_Name = Annotated[str, Field(min_length=1, max_length=120)]
_Value = Annotated[int, Field(ge=-1_000_000, le=1_000_000)]
KINDS = {kind.key: kind for kind in PASSES if kind not in (PUT_BACK, COPIED)}
"""Passes that a plan can name, in the order of the route."""
_USUAL = ("as found", "levels", "white", "tone", "proof")


class PlanFileError(AequitoneError):
    """A plan that cannot be used; the message says what is wrong and where."""


class PlannedControl(BaseModel):
    """A control of the screen's menu, and where it stands."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    role: str
    name: _Name
    found: _Value
    lowest: _Value = 0
    highest: _Value = 100
    step: Annotated[int, Field(ge=1, le=1_000_000)] = 1
    factory: _Value | None = None
    choices: tuple[_Name, ...] = ()

    @field_validator("role")
    @classmethod
    def _known(cls, key: str) -> str:
        if not (is_role(key) and in_ledger(role_of(key))):
            raise ValueError(f"there is no role “{key}”")
        return key

    @model_validator(mode="after")
    def _within(self) -> "PlannedControl":
        if not self.lowest <= self.found <= self.highest or (self.found - self.lowest) % self.step:
            raise ValueError(f"{self.name}: {self.found} is not a setting from {self.lowest} to {self.highest}")
        return self

    @property
    def record(self) -> ControlRecord:
        """As the logbook keeps it."""
        factory = self.found if self.factory is None else self.factory
        return ControlRecord(
            0, role_of(self.role), self.name, self.lowest, self.highest, self.step, factory, self.choices
        )


class VisitPlan(BaseModel):
    """Where a visit is, what is wanted, and which passes it makes."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    client: _Name
    room: _Name
    screen: _Name
    input: _Name
    memory: _Name
    technology: Technology
    target: str = "rec709-2.2/added"
    levels: Literal[11, 21] = 11
    light_cd_m2: Annotated[float, Field(ge=0.0, le=10_000.0)] = 0.0
    """White in the end; 0 for what is usual for the screen."""
    depth_bit: Literal[8, 10, 12] = 8
    range: Range = Range.LIMITED
    window_share: Annotated[float, Field(gt=0.0, le=1.0)] = 0.10
    precision: str = "usual"
    passes: tuple[str, ...] = _USUAL
    control: tuple[PlannedControl, ...] = ()
    """By hand, all that is to be turned; by link the screen tells."""

    @field_validator("target")
    @classmethod
    def _named(cls, name: str) -> str:
        return target_named(name).name

    @field_validator("precision")
    @classmethod
    def _precise(cls, name: str) -> str:
        if name not in PRECISIONS:
            raise ValueError(f"there is no precision “{name}”; there are {', '.join(PRECISIONS)}")
        return name

    @field_validator("passes")
    @classmethod
    def _known(cls, names: tuple[str, ...]) -> tuple[str, ...]:
        unknown = next((name for name in names if name not in KINDS), None)
        if unknown is not None:
            raise ValueError(f"there is no pass “{unknown}”; there are {', '.join(KINDS)}")
        if not names or len(set(names)) != len(names):
            raise ValueError("name each pass once, and one at least")
        return names

    @model_validator(mode="after")
    def _each_once(self) -> "VisitPlan":
        roles = [control.role for control in self.control]
        twice = next((role for role in roles if roles.count(role) > 1), None)
        if twice is not None:
            raise ValueError(f"more than one control has the role {twice}")
        return self

    @property
    def found(self) -> dict[Role, int]:
        """Settings as found, by role."""
        return {role_of(control.role): control.found for control in self.control}


def read_plan(path: Path) -> VisitPlan:
    """The plan of a file. Raises PlanFileError."""
    return read_toml(path, VisitPlan, "The plan", PlanFileError, "the plan")
