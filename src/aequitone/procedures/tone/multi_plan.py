"""Multi-point: what it is given, where it stands, and how it ends."""

from dataclasses import dataclass

import numpy as np

from aequitone.advice.moves import ControlState, Move
from aequitone.advice.points import Grid
from aequitone.colorimetry import Formula
from aequitone.colorimetry.arrays import Array
from aequitone.reference import Target, mean_error, mean_error_sd, without_noise
from aequitone.signal import SignalFormat

# ΔE 2000 by which the mean may be off for what its levels have in common: white is read closely, with each look.
_IN_COMMON = 0.04
TRIPS = 2
"""That several levels at once usually take: by link (benchmarks/zoo.py), and by hand (benchmarks/by_hand.py)."""


@dataclass(frozen=True)
class MultiPlan:
    """What is wanted, what is read, and the multi-point controls as they stand."""

    target: Target
    format: SignalFormat
    controls: tuple[ControlState, ...]
    percents: tuple[float, ...]
    """Levels that are read, from 100 % down; without 0 %."""
    white: float
    """Luminance of 100 %, cd/m², from the pass before."""
    by_hand: bool = False
    """Whether a person turns the controls."""
    trip_seconds: float = 1.0
    """What a trip to the menu costs here."""
    stop_at: float = 0.5
    """ΔE that is good enough: below half of it, a level is left alone."""
    formula: Formula = Formula.DE2000
    """Of that ΔE."""
    rounds: int = 3
    """How often all levels may be turned together; a person turns them in parts."""
    top: float = 100.0
    """The brightest level, in %, that may be turned: beyond it the screen's own roll-off rules."""
    typed: bool = False
    """Whether a person types the readings."""

    def __post_init__(self) -> None:
        if self.percents[:1] != (100.0,) or sorted(self.percents, reverse=True) != list(self.percents):
            raise ValueError("multi-point reads its levels from 100 % down")
        lacking = [f"{p} %" for p in self.grid.percents if 0 < p <= self.top and float(p) not in self.percents]
        if lacking:
            raise ValueError(f"multi-point must read the levels it adjusts, and lacks {', '.join(lacking)}")

    @property
    def adjustable(self) -> list[int]:
        """The levels, as rows of the grid, that may be turned: not black, which has its own control."""
        return [i for i, percent in enumerate(self.grid.percents) if 0 < percent <= self.top]

    @property
    def grid(self) -> Grid:
        """The controls as they stand; ValueError where a level lacks a channel."""
        return Grid.of(self.controls)


@dataclass(frozen=True)
class PointTrip:
    """A move as made, and what came of it: ΔE 2000 of its level, or the mean of the ladder."""

    move: Move
    percent: int | None
    """The level that was turned; None where several were."""
    before: float
    after: float
    sd: float
    slip: str = ""


@dataclass(frozen=True)
class MultiState:
    """Where multi-point stands: for the window, after every reading."""

    percents: tuple[float, ...]
    """Levels that were read so far."""
    xyz: Array
    """(n, 3), cd/m², as read."""
    sd: Array
    de2000: tuple[float, ...]
    controls: tuple[ControlState, ...]
    trips: tuple[PointTrip, ...]
    bend: float
    """The largest change of slope that the settings make (advice.points.BEND is the most there may be)."""
    black: float = 0.0
    proposed: Move | None = None
    why: str = ""
    round: int = 0
    began: "MultiState | None" = None
    """The ladder before anything was turned; None until it was read."""
    noise: tuple[float, ...] = ()
    """ΔE 2000 that the readings' noise alone makes, as root of the mean square; none where it is not known."""
    spread: tuple[float, ...] = ()
    """Standard deviation of ΔE 2000 from the readings' noise."""

    @property
    def mean(self) -> float:
        """Average ΔE 2000 of what was read, with what noise adds taken out."""
        return mean_error(self.de2000, self._noise) if self.de2000 else 0.0

    @property
    def worst(self) -> tuple[float, float]:
        """The level in % that is worst, and its ΔE with what noise adds taken out, once something was read."""
        told = without_noise(self.de2000, self._noise)
        at = int(told.argmax())
        return self.percents[at], float(told[at])

    @property
    def _noise(self) -> Array:
        return np.array(self.noise) if self.noise else np.zeros(len(self.de2000))

    @property
    def mean_sd(self) -> float:
        """Standard deviation of `mean`."""
        return mean_error_sd(self.spread, _IN_COMMON) if self.spread else 0.0


@dataclass(frozen=True)
class MultiResult:
    """How it ended."""

    words: str
    state: MultiState
