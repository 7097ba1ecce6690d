"""How a bench is used: what is settable about patience, guards and refresh fields."""

from dataclasses import dataclass

# Patterns change at most three times a second; a refresh field stands far longer than that.
_SHORTEST_FIELD = 1.0


@dataclass(frozen=True)
class RefreshFields:
    """A brighter full field, slipped in on time, against panels that dim under a still picture."""

    every_seconds: float = 40.0
    for_seconds: float = 2.0
    percent: float = 50.0

    def __post_init__(self) -> None:
        if self.for_seconds < _SHORTEST_FIELD:
            raise ValueError(f"a refresh field stands for {_SHORTEST_FIELD:g} s or more, got {self.for_seconds:g}")
        if self.every_seconds <= self.for_seconds:
            raise ValueError(
                f"refresh fields come every {self.every_seconds:g} s but stand for {self.for_seconds:g} s: "
                "leave time between them"
            )
        if not 0.0 < self.percent <= 100.0:
            raise ValueError(f"a refresh field has a level above 0 and up to 100 %, got {self.percent:g}")


@dataclass(frozen=True)
class Care:
    """Everything that the runner does around a procedure's own steps."""

    settle_seconds: float | None = None
    """Delay after a patch where it was measured; None for what the source says."""
    noise_allowed: float = 1.0
    """Factor on every wanted standard deviation: 0.5 is twice as exact, and takes four times as long."""
    refresh: RefreshFields | None = None
    doubt: bool = True
    """Re-read answers that do not belong, and patches that came late."""


CARE = Care()
