"""How a screen has kept to what was foretold of it: one that has surprised before will do so again."""

from dataclasses import dataclass
from math import sqrt

from aequitone.advice.moves import Expectation

# What is known of screens before the first trip counts like so many trips that came as foretold.
_KNOWN = 2.0


@dataclass(frozen=True)
class Surprises:
    """The trips that were made, and how far they came out beside what was foretold."""

    trips: int = 0
    squares: float = 0.0
    """Sum of the squares of how far they were off, in spreads as they were foretold at first, before `factor`."""

    @property
    def factor(self) -> float:
        """How many times wider the next spread is to be told, 1 at least: few trips do not prove a screen tame."""
        return max(1.0, sqrt((_KNOWN + self.squares) / (_KNOWN + self.trips)))

    def with_trip(self, expected: Expectation, came: float) -> "Surprises":
        """These, and one more trip: what was foretold with `factor` in its spread, and the ΔE that came."""
        off = (came - expected.de2000_after) / (expected.de2000_sd / self.factor)
        return Surprises(self.trips + 1, self.squares + off**2)
