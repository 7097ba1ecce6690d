"""A table that is read, not typed into: one row is chosen at a time."""

from PySide6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget


def list_table(heads: tuple[str, ...], name: str) -> QTableWidget:
    """An empty table with these headings, and its name for a screen reader; the first column takes the room."""
    table = QTableWidget(0, len(heads))
    table.setHorizontalHeaderLabels(heads)
    table.verticalHeader().hide()
    table.setAccessibleName(name)
    table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
    table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
    table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
    header = table.horizontalHeader()
    header.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
    header.setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
    return table
