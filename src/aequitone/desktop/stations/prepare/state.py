"""What the checklist draws: plain values."""

from dataclasses import dataclass
from enum import Enum

from aequitone.desktop.widgets.chart_state import LineState


class Mark(Enum):
    """How a line of the checklist stands."""

    OPEN = "open"
    DONE = "done"
    LEFT = "left as it is"
    NOT_HERE = "does not apply"


@dataclass(frozen=True)
class ChecklistRow:
    """A line of the checklist."""

    title: str
    detail: str
    mark: Mark
    here: bool = False


@dataclass(frozen=True)
class ChecklistPage:
    """The checklist of a visit."""

    rows: tuple[ChecklistRow, ...] = ()
    drift: LineState | None = None
    """White while the screen warms up: minutes, and % against what it was read last."""
