"""What the list of jobs draws: plain values."""

from dataclasses import dataclass


@dataclass(frozen=True)
class JobRow:
    """One job in words."""

    input: str
    memory: str
    target: str
    """Its tone, and the light of white."""
    whole_target: str
    state: str
    minutes: str
    current: bool


@dataclass(frozen=True)
class JobsPage:
    """The jobs of a visit, and the one that the arrows are at."""

    rows: tuple[JobRow, ...] = ()
    at: int = 0
