"""The ladder as a table of figures, one key away; it copies as text."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem

from aequitone.desktop.widgets.ladder_state import LadderTablePage
from aequitone.desktop.widgets.ladder_text import HEADS, cells_of


class LadderTable(QTableWidget):
    """The same rows as the ladder, as figures."""

    def __init__(self) -> None:
        super().__init__(0, len(HEADS))
        self.setHorizontalHeaderLabels(HEADS)
        self.verticalHeader().hide()
        self.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self.horizontalHeader().setSectionResizeMode(5, QHeaderView.ResizeMode.ResizeToContents)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setAlternatingRowColors(True)
        self.setAccessibleName("Grey ladder as a table")
        self._cells: list[tuple[str, ...]] = []

    def show_page(self, page: LadderTablePage) -> None:
        """Draw the ladder's figures."""
        cells = [cells_of(row) for row in page.ladder.rows]
        if cells == self._cells:
            return
        self._cells = cells
        self.setRowCount(len(cells))
        for i, row in enumerate(cells):
            for j, words in enumerate(row):
                item = QTableWidgetItem(words)
                item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                self.setItem(i, j, item)
