"""The Inputs tool: the list of memories, and the sheet of the one that is looked at."""

from collections.abc import Sequence

from PySide6.QtCore import Signal
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QLabel, QTableWidget, QTableWidgetItem, QVBoxLayout, QWidget

from aequitone.desktop.frame import theme
from aequitone.desktop.tools.inputs.page import HEADS
from aequitone.desktop.tools.inputs.state import InputsPage
from aequitone.desktop.widgets.list_table import list_table

_ROW, _MOST_ROWS = 30, 6
_DONE = {True: "✓", False: "—", None: ""}


class InputsView(QWidget):
    """Draws an InputsPage."""

    chosen = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self._page = InputsPage(at=-1)
        self._others = list_table(("Memory", "State"), "Memories of other inputs")
        self._title, self._looked = QLabel(), QLabel()
        self._title.setFont(theme.font(theme.TITLE, bold=True))
        self._looked.setFont(theme.font(theme.BODY))
        for label in (self._title, self._looked):
            label.setWordWrap(True)
        self._sheet = list_table(HEADS, "What is to be entered")
        self._sheet.cellClicked.connect(lambda row, _column: self.chosen.emit(row))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(4, 2, 4, 4)
        layout.addWidget(self._others)
        layout.addWidget(self._title)
        layout.addWidget(self._looked)
        layout.addWidget(self._sheet, 1)

    def show_page(self, page: InputsPage) -> None:
        """Draw the list and the sheet."""
        if page == self._page:
            return
        self._page = page
        for widget in (self._others, self._sheet):
            widget.setVisible(bool(page.others))
        _fill(self._others, [(name, state) for name, state, _ in page.others])
        here = next((i for i, other in enumerate(page.others) if other[2]), 0)
        self._others.setCurrentCell(here, 0)
        self._others.setFixedHeight(_ROW * (1 + min(_MOST_ROWS, max(1, len(page.others)))) + 4)
        self._title.setText(page.title)
        self._looked.setText(page.looked)
        self._looked.setVisible(bool(page.looked))
        rows = [(row.name, row.setting, row.how, _DONE[row.done]) for row in page.rows]
        _fill(self._sheet, rows, {i for i, row in enumerate(page.rows) if row.done is False})
        self._sheet.setCurrentCell(page.at, 0)

    def focus_first(self) -> None:
        """Keys are the window's: nothing is typed here."""


def _fill(table: QTableWidget, rows: Sequence[tuple[str, ...]], strong: set[int] | None = None) -> None:
    """Show rows; those in `strong` stand out."""
    table.setRowCount(len(rows))
    for i, row in enumerate(rows):
        for j, words in enumerate(row):
            item = QTableWidgetItem(words)
            item.setToolTip(words)
            font = QFont(item.font())
            font.setBold(strong is not None and i in strong)
            item.setFont(font)
            table.setItem(i, j, item)
