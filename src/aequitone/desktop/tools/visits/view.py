"""The list of visits with its search field: typing narrows it, arrows choose, Enter opens."""

from PySide6.QtCore import QEvent, QObject, Qt, Signal
from PySide6.QtGui import QKeyEvent, QKeySequence
from PySide6.QtWidgets import (
    QHeaderView,
    QLineEdit,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from aequitone.desktop.tools.visits.state import VisitsPage
from aequitone.desktop.widgets.list_table import list_table
from aequitone.logbook.records import local_time

# Two lines a row: in a small window no name is cut.
_HEADS = ("Begun", "Client, room", "Screen, input", "Memory", "State")
_ARROWS = (Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_PageUp, Qt.Key.Key_PageDown)


class VisitsView(QWidget):
    """Shows lines; tells of what is typed and which row is looked at."""

    searched = Signal(str)
    chosen = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self._search = QLineEdit()
        self._search.setAccessibleName("Search the logbook")
        self._search.setPlaceholderText("client, room, screen, input or memory")
        self._search.textEdited.connect(self.searched)
        self._search.installEventFilter(self)
        self._table = list_table(_HEADS, "Visits")
        self._table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        for whole in (0, len(_HEADS) - 2, len(_HEADS) - 1):
            self._table.horizontalHeader().setSectionResizeMode(whole, QHeaderView.ResizeMode.ResizeToContents)
        self._table.verticalHeader().setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        self._table.currentCellChanged.connect(lambda row, *_: self.chosen.emit(row))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(4, 2, 4, 4)
        layout.addWidget(self._search)
        layout.addWidget(self._table, 1)
        self._page = VisitsPage()

    def show_page(self, page: VisitsPage) -> None:
        """Draw the list."""
        lines = page.lines
        if page == self._page:
            return
        self._page = page
        self._table.setRowCount(len(lines))
        for i, line in enumerate(lines):
            cells = (
                f"{local_time(line.started):%Y-%m-%d\n%H:%M}",
                f"{line.client}\n{line.room}",
                f"{line.screen}\n{line.input}",
                line.memory,
                _in_two(page.due[i]) if page.due else "closed" if line.closed else "open",
            )
            for j, words in enumerate(cells):
                self._table.setItem(i, j, QTableWidgetItem(words))
        self._table.resizeRowsToContents()
        if lines:
            self._table.setCurrentCell(0, 0)

    def focus_first(self) -> None:
        """Put the cursor where typing should begin."""
        self._search.setFocus()
        self._search.selectAll()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        # The cursor stays in the field while arrows go through the list.
        if event.type() == QEvent.Type.KeyPress and isinstance(event, QKeyEvent) and event.key() in _ARROWS:
            self._table.keyPressEvent(event)
            return True
        # Undo is the logbook's here: what was typed into the search is seldom worth taking back.
        if (
            event.type() == QEvent.Type.ShortcutOverride
            and isinstance(event, QKeyEvent)
            and event.matches(QKeySequence.StandardKey.Undo)
        ):
            event.ignore()
            return True
        return super().eventFilter(watched, event)


def _in_two(words: str) -> str:
    """When a screen is due, on two lines: "due for", and how long."""
    first, second, *rest = words.split(" ")
    return f"{first} {second}\n{' '.join(rest)}" if rest else words
