"""The moves so far as a table."""

from PySide6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem

from aequitone.desktop.states import MoveRow
from aequitone.desktop.widgets.moves import HEADS, cells_of

_MOVE, _SAID = 1, len(HEADS) - 1


class MovesView(QTableWidget):
    """Shows rows; the newest is in view."""

    def __init__(self) -> None:
        super().__init__(0, len(HEADS))
        self.setHorizontalHeaderLabels(HEADS)
        self.verticalHeader().hide()
        self.setAccessibleName("Moves so far")
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setWordWrap(True)
        head = self.horizontalHeader()
        head.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        for column in (_MOVE, _SAID):
            head.setSectionResizeMode(column, QHeaderView.ResizeMode.Stretch)
        self._rows: tuple[MoveRow, ...] = ()

    def show_rows(self, rows: tuple[MoveRow, ...]) -> None:
        if rows == self._rows and self.rowCount() == len(rows):
            return
        self._rows = rows
        self.setRowCount(len(rows))
        for i, row in enumerate(rows):
            for j, words in enumerate(cells_of(row)):
                item = QTableWidgetItem(words)
                item.setToolTip(words)
                self.setItem(i, j, item)
        self.resizeRowsToContents()
        self.scrollToBottom()
