"""The single readings of the Bench as a table."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem

from aequitone.desktop.tools.bench.spot_readings import HEADS, SpotRow


class SpotTable(QTableWidget):
    """Shows readings, the newest in view."""

    def __init__(self) -> None:
        super().__init__(0, len(HEADS))
        self.setHorizontalHeaderLabels(HEADS)
        self.verticalHeader().hide()
        self.setAccessibleName("Single readings")
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        # Keys belong to the room, not to a table that nothing is typed in.
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        header = self.horizontalHeader()
        header.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        header.setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        self._rows: tuple[SpotRow, ...] = ()

    def show_rows(self, rows: tuple[SpotRow, ...]) -> None:
        """Show these readings."""
        if rows == self._rows:
            return
        self._rows = rows
        self.setRowCount(len(rows))
        for i, row in enumerate(rows):
            for j, words in enumerate(row.cells):
                item = QTableWidgetItem(words)
                if j:
                    item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                self.setItem(i, j, item)
        self.scrollToBottom()
