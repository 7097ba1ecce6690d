"""The logbook's visits: searched by words, and one of them opened."""

from PySide6.QtCore import QObject, Signal

from aequitone.desktop.states import Act, BigLine, KeyHint, PanelState
from aequitone.desktop.worker import Desk
from aequitone.logbook import Logbook
from aequitone.logbook.records import VisitLine

ACTS = (Act.VISITS, Act.OPEN_VISIT)


class Finding(QObject):
    """Keeps what was typed and what was found; the logbook is asked at the desk."""

    changed = Signal()
    said = Signal(str)

    def __init__(self, logbook: Logbook, desk: Desk) -> None:
        super().__init__()
        self._logbook, self._desk = logbook, desk
        self.open = False
        self.words = ""
        self.lines: tuple[VisitLine, ...] = ()
        self.row = 0
        """The visit that Enter would open."""

    def toggle(self) -> None:
        """Show the visits, or leave them."""
        self.open = not self.open
        if self.open:
            self.search(self.words)
        self.changed.emit()

    def leave(self) -> None:
        self.open = False

    def search(self, words: str) -> None:
        """Look for visits; an answer that is overtaken by more typing is dropped."""
        self.words = words

        def done(lines: list[VisitLine]) -> None:
            if words == self.words:
                self.lines, self.row = tuple(lines), 0
                self.changed.emit()

        self._desk.do(lambda: self._logbook.find_visits(words), done, lambda error: self.said.emit(str(error)))

    def choose(self, row: int) -> None:
        """A row is looked at."""
        self.row = row

    @property
    def chosen(self) -> int | None:
        """The number of the visit that Enter would open."""
        return self.lines[self.row].id if 0 <= self.row < len(self.lines) else None

    def panel(self, message: str) -> PanelState:
        found = f"{len(self.lines)} visits" if len(self.lines) != 1 else "1 visit"
        told = f"{found}, newest first." if self.lines else "No visit holds all of these words."
        return PanelState(
            "Logbook",
            False,
            (BigLine("Visits"),),
            f"{message} Type any part of client, room, screen, input or memory; several words narrow it.".strip(),
            keys=(
                KeyHint("Enter", "open the visit", Act.OPEN_VISIT, main=True),
                KeyHint("Esc", "back to the station", Act.VISITS),
            ),
            outlook=told,
        )
