"""What the list of visits draws: plain values."""

from dataclasses import dataclass

from aequitone.logbook.records import VisitLine


@dataclass(frozen=True)
class VisitsPage:
    """The visits that hold the words that were typed."""

    lines: tuple[VisitLine, ...] = ()
    due: tuple[str, ...] = ()
    """When to come again, for each line, where that is what is listed."""
    why: tuple[str, ...] = ()
    """The reasons, for each."""
