"""The fields of Arrive, in two columns where there is room and in one where there is not."""

from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtWidgets import QGridLayout, QWidget

from aequitone.desktop.widgets.forms import label_of

# Stretch of the grid's columns: label, field, label, field, further field; and in one column.
_TWO, _ONE = {1: 7, 2: 0, 3: 6, 4: 4}, {1: 6, 2: 4, 3: 0, 4: 0}


@dataclass(frozen=True)
class Line:
    """A label with its field, and a further field beside it."""

    words: str
    field: QWidget
    more: QWidget | None = None
    buddy: QWidget | None = None
    """What the label's key goes to, where the field holds several."""


class FieldsGrid(QWidget):
    """Lines on the left and on the right, or those of the right below."""

    def __init__(self, left: Sequence[Line], right: Sequence[Line]) -> None:
        super().__init__()
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(10)
        self._grid.setVerticalSpacing(7)
        self._left, self._right = left, right
        self._labels = {id(line): label_of(line.words, line.buddy or line.field) for line in (*left, *right)}
        self._narrow: bool | None = None
        self.arrange(narrow=False)

    def arrange(self, *, narrow: bool) -> None:
        """Put everything in its place; nothing is done where it is there."""
        if narrow is self._narrow:
            return
        self._narrow = narrow
        for row, line in enumerate(self._left):
            self._put(line, row, 0, 2 if narrow and line.more is None else 1)
        first = len(self._left) if narrow else 0
        for row, line in enumerate(self._right, start=first):
            self._put(line, row, 0 if narrow else 2, 1)
        for column, stretch in (_ONE if narrow else _TWO).items():
            self._grid.setColumnStretch(column, stretch)

    def _put(self, line: Line, row: int, column: int, span: int) -> None:
        self._grid.addWidget(self._labels[id(line)], row, column)
        self._grid.addWidget(line.field, row, column + 1, 1, span)
        if line.more is not None:
            self._grid.addWidget(line.more, row, column + 2)
