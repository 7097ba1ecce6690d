"""Everything the window shows at one moment."""

from dataclasses import dataclass
from pathlib import Path

from aequitone.desktop.states import (
    ChecklistRow,
    FootState,
    LadderState,
    LedgerPage,
    LevelsPage,
    MoveRow,
    PanelState,
    RouteState,
    Station,
    StripState,
    TonePage,
)
from aequitone.desktop.tools.bench.state import BenchState
from aequitone.logbook.records import VisitLine

Still = tuple[StripState, RouteState, FootState, LadderState | None]
"""What changes only with the facts and the station."""


@dataclass(frozen=True)
class View:
    """Everything the window shows at one moment."""

    strip: StripState
    route: RouteState
    panel: PanelState
    ladder: LadderState | None
    foot: FootState
    here: Station
    bench: BenchState | None = None
    paragraphs: tuple[tuple[str, str], ...] = ()
    pictures: tuple[Path, Path] | None = None
    checklist: tuple[ChecklistRow, ...] = ()
    levels: LevelsPage | None = None
    visits: tuple[VisitLine, ...] | None = None
    """The list of visits, where it is open."""
    ledger: LedgerPage | None = None
    tone: TonePage | None = None
    moves: tuple[MoveRow, ...] | None = None
    """Of this station, where it has any."""
