"""What the Bench view draws: plain values."""

from dataclasses import dataclass

from aequitone.desktop.tools.bench.spot_readings import SpotRow
from aequitone.logbook import BenchChoice

Option = tuple[str, str]
"""A choice's key, and its words."""


@dataclass(frozen=True)
class Sample:
    """One point of the strip chart."""

    seconds: float
    light: float
    warm: float
    green: float


@dataclass(frozen=True)
class BenchOptions:
    """What can be chosen, each as (key, words)."""

    meters: tuple[Option, ...] = ()
    modes: tuple[Option, ...] = ()
    corrections: tuple[Option, ...] = ()
    references: tuple[Option, ...] = ()
    sources: tuple[Option, ...] = ()
    links: tuple[Option, ...] = ()


@dataclass(frozen=True)
class BenchState:
    """The Bench at one moment."""

    choice: BenchChoice
    reference: str
    options: BenchOptions
    samples: tuple[Sample, ...]
    chart_title: str
    ailments: tuple[tuple[str, str], ...]
    """What is not as it should be, and what to do."""
    knowledge: tuple[tuple[str, str], ...]
    """What is known of pace, noise and delay: a name and words."""
    locked: bool
    """A pass or a run at the Bench uses the instruments: nothing can be chosen now."""
    patch: str = "white"
    """What is read once or continuously, as it was typed."""
    spots: tuple[SpotRow, ...] = ()
    """Single readings, oldest first."""
    as_table: bool = False
    """Whether the single readings are shown in the place of the chart."""
