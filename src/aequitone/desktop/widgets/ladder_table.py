"""The ladder as a table of figures, one key away; it copies as text."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem

from aequitone.desktop.states import LadderRow, LadderState

HEADS = ("Level %", "X", "Y cd/m²", "Z", "Light %", "Cast", "u'v' off", "ΔE 2000", "±", "Found ΔE", "Left out")


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

    def show_state(self, state: LadderState) -> None:
        cells = [cells_of(row) for row in state.rows]
        if cells == self._cells:
            return
        self._cells = cells
        self.setRowCount(len(cells))
        for i, row in enumerate(cells):
            for j, words in enumerate(row):
                item = QTableWidgetItem(words)
                item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                self.setItem(i, j, item)


def cells_of(row: LadderRow) -> tuple[str, ...]:
    """A row's figures as text, "" where there is none."""
    X, Y, Z = (f"{value:.4g}" for value in row.xyz) if row.xyz else ("", "", "")
    size = f"{(row.cast[0] ** 2 + row.cast[1] ** 2) ** 0.5:.4f}" if row.cast else ""
    return (
        f"{row.percent:g}",
        X,
        Y,
        Z,
        "" if row.light is None else f"{row.light:+.1f}",
        row.word,
        size,
        "" if row.delta is None else f"{row.delta:.2f}",
        "" if row.delta is None else f"{row.sd:.2f}",
        "" if row.ghost is None else f"{row.ghost:.2f}",
        str(row.left_out) if row.left_out else "",
    )


def as_text(state: LadderState) -> str:
    """The table as tab-separated text, for a spreadsheet or a message."""
    rows = [HEADS, *(cells_of(row) for row in state.rows)]
    return "\n".join("\t".join(row) for row in rows) + "\n"
