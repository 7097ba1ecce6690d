"""The moves so far as a table."""

from PySide6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem

from aequitone.desktop.widgets.moves import HEADS, MovesPage, cells_of

_MOVE, _SAID = 1, len(HEADS) - 1


class MovesTable(QTableWidget):
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
        self._page: MovesPage | None = None

    def show_page(self, page: MovesPage) -> None:
        """Draw the moves."""
        if page == self._page:
            return
        self._page = page
        self.setRowCount(len(page.rows))
        for i, row in enumerate(page.rows):
            for j, words in enumerate(cells_of(row)):
                item = QTableWidgetItem(words)
                item.setToolTip(words)
                self.setItem(i, j, item)
        self.resizeRowsToContents()
        self.scrollToBottom()
