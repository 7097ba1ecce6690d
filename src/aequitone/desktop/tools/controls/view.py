"""The controls of a screen as a table, two moments side by side."""

from PySide6.QtCore import Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem

from aequitone.desktop.frame import theme
from aequitone.desktop.tools.controls.page import HEADS, cells_of
from aequitone.desktop.tools.controls.state import ControlsPage

_BEFORE, _AFTER = len(HEADS), len(HEADS) + 1
# Columns whose words are cut nowhere; the role, which the control's own word tells as well, has what is left.
_FITTED = (0, 2, 3, 4, 5, _BEFORE, _AFTER)
# Where there is little room, what the panel or Arrive tells is left out, and both moments stay.
_LEFT_OUT, _NARROW = (1, 2, 3, 5), 720


class ControlsView(QTableWidget):
    """Shows a page; tells which row is looked at."""

    chosen = Signal(int)

    def __init__(self) -> None:
        super().__init__(0, len(HEADS) + 2)
        self.verticalHeader().hide()
        self.verticalHeader().setDefaultSectionSize(26)
        self.setAccessibleName("Controls at two moments")
        self.setWordWrap(False)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        for column in _FITTED:
            self.horizontalHeader().setSectionResizeMode(column, QHeaderView.ResizeMode.ResizeToContents)
        self._page: ControlsPage | None = None
        self.currentCellChanged.connect(self._tell)

    def show_page(self, page: ControlsPage) -> None:
        """Draw the table."""
        if page == self._page:
            return
        self._page = page
        self.blockSignals(True)
        self.setHorizontalHeaderLabels((*HEADS, page.first, page.second))
        self.setRowCount(len(page.rows))
        for i, row in enumerate(page.rows):
            for j, words in enumerate(cells_of(row)):
                item = QTableWidgetItem(words)
                item.setToolTip(words)
                if row.differs and j in (0, _BEFORE, _AFTER):
                    item.setFont(theme.font(theme.BODY, bold=True))
                elif j not in (0, _BEFORE, _AFTER):
                    item.setForeground(theme.QUIET)
                self.setItem(i, j, item)
        if page.rows:
            self.setCurrentCell(page.at, 0)
        self.blockSignals(False)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        narrow = event.size().width() < _NARROW
        for column in _LEFT_OUT:
            self.setColumnHidden(column, narrow)

    def focus_first(self) -> None:
        """Take the keyboard: arrows go from row to row."""
        self.setFocus()

    def _tell(self, row: int) -> None:
        if row >= 0:
            self.chosen.emit(row)
