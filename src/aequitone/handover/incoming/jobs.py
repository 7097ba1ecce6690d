"""A list of jobs from a TOML file (docs/formats.md)."""

from pathlib import Path
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, field_validator, model_validator

from aequitone.errors import AequitoneError
from aequitone.handover.incoming.toml import read_toml
from aequitone.reference import target_named
from aequitone.signal import Range

_Name = Annotated[str, Field(min_length=1, max_length=200)]


class JobsFileError(AequitoneError):
    """A list of jobs that cannot be used; the message says what is wrong and where."""


class JobWish(BaseModel):
    """One job as it is asked for."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    input: _Name
    memory: _Name
    target: str
    light_cd_m2: Annotated[float, Field(ge=0.0, le=10_000.0)] = 0.0
    """White in the end; 0 for what is usual for the screen."""
    depth_bit: Literal[8, 10, 12] | None = None
    """Bits of its signal; those of the source where nothing is said."""
    range: Range | None = None

    @field_validator("target")
    @classmethod
    def _named(cls, name: str) -> str:
        return target_named(name).name


class _Jobs(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)

    job: Annotated[tuple[JobWish, ...], Field(min_length=1, max_length=50)]

    @model_validator(mode="after")
    def _each_once(self) -> "_Jobs":
        places = [(wish.input, wish.memory) for wish in self.job]
        twice = next((place for place in places if places.count(place) > 1), None)
        if twice is not None:
            raise ValueError(f"{twice[0]}, {twice[1]} has more than one job")
        return self


def read_jobs(path: Path) -> tuple[JobWish, ...]:
    """The jobs of a file, in their order. Raises JobsFileError."""
    return read_toml(path, _Jobs, "The list of jobs", JobsFileError, "job").job
