"""A table of figures that is only looked at, and copies as text."""

from collections.abc import Sequence

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem


class FiguresTable(QTableWidget):
    """Rows of figures under their heads."""

    def __init__(self, heads: Sequence[str], name: str, wide: Sequence[int] = ()) -> None:
        """`wide`: the columns that are as wide as what stands in them; the others share what is left."""
        super().__init__(0, len(heads))
        self.setHorizontalHeaderLabels(list(heads))
        self.verticalHeader().hide()
        self.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        for column in wide:
            self.horizontalHeader().setSectionResizeMode(column, QHeaderView.ResizeMode.ResizeToContents)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setAlternatingRowColors(True)
        self.setAccessibleName(name)
        self._cells: list[tuple[str, ...]] = []

    def show_cells(self, cells: Sequence[tuple[str, ...]]) -> None:
        """Show these rows; nothing happens where they are the same."""
        if list(cells) == self._cells:
            return
        self._cells = list(cells)
        self.setRowCount(len(self._cells))
        for i, row in enumerate(self._cells):
            for j, words in enumerate(row):
                item = QTableWidgetItem(words)
                item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                self.setItem(i, j, item)
