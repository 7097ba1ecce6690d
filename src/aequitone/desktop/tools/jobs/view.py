"""The list of jobs: a table that keys go through."""

from PySide6.QtGui import QFont
from PySide6.QtWidgets import QTableWidgetItem, QVBoxLayout, QWidget

from aequitone.desktop.tools.jobs.state import JobsPage
from aequitone.desktop.widgets.list_table import list_table

_HEADS = ("Memory", "Target", "State", "Minutes")


class JobsView(QWidget):
    """Shows the jobs; the one that is worked on stands out."""

    def __init__(self) -> None:
        super().__init__()
        self._table = list_table(_HEADS, "Jobs of this visit")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(4, 2, 4, 4)
        layout.addWidget(self._table, 1)
        self._page = JobsPage()

    def show_page(self, page: JobsPage) -> None:
        """Draw the list."""
        if page == self._page:
            return
        self._page = page
        self._table.setRowCount(len(page.rows))
        for i, row in enumerate(page.rows):
            for j, words in enumerate((f"{row.memory}, {row.input}", row.target, row.state, row.minutes)):
                item = QTableWidgetItem(words)
                item.setToolTip(row.whole_target if _HEADS[j] == "Target" else words)
                font = QFont(item.font())
                font.setBold(row.current)
                item.setFont(font)
                self._table.setItem(i, j, item)
        self._table.setCurrentCell(page.at, 0)

    def focus_first(self) -> None:
        """Keys are the window's: nothing is typed here."""
