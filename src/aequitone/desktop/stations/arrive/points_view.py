"""The line at Arrive for multi-point controls."""

from dataclasses import replace

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QWidget

from aequitone.advice.roles import POINT_COUNTS
from aequitone.desktop.stations.arrive.points_form import PointsDraft
from aequitone.desktop.widgets.forms import label_of, let_shrink

_NARROW, _LEAST_LETTERS = 52, 6


class PointsLine(QWidget):
    """Shows a PointsDraft and reads one back."""

    edited = Signal()

    def __init__(self) -> None:
        super().__init__()
        self._draft = PointsDraft()
        self._loading = False
        self._count, self._light = QComboBox(), QComboBox()
        self._lowest, self._highest, self._found = QLineEdit(), QLineEdit(), QLineEdit()
        self._count.addItem("none", 0)
        for count in POINT_COUNTS:
            self._count.addItem(f"{count} levels", count)
        self._light.addItem("R G B", False)
        self._light.addItem("R G B, light", True)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(6)
        self._more: list[QWidget] = []
        for words, field in (
            ("Multi-point", self._count),
            ("of", self._light),
            ("from", self._lowest),
            ("to", self._highest),
            ("all at", self._found),
        ):
            label = label_of(words, field)
            field.setAccessibleName("Multi-point" if field is self._count else f"Multi-point, {words}")
            if isinstance(field, QComboBox):
                let_shrink(field)
                field.setMinimumContentsLength(_LEAST_LETTERS)
                field.currentIndexChanged.connect(self._tell)
            else:
                field.setFixedWidth(_NARROW)
                field.textEdited.connect(self._tell)
            row.addWidget(label)
            row.addWidget(field)
            if field is not self._count:
                self._more += [label, field]
        self._follow()

    def show_draft(self, draft: PointsDraft, *, found_open: bool) -> None:
        """Fill the line; once controls were turned, as found stays."""
        self._loading = True
        self._draft = draft
        self._count.setCurrentIndex(max(0, self._count.findData(draft.count)))
        self._light.setCurrentIndex(int(draft.light))
        self._lowest.setText(draft.lowest)
        self._highest.setText(draft.highest)
        self._found.setText(draft.found)
        self._found.setReadOnly(not found_open)
        self._loading = False
        self._follow()

    def draft(self) -> PointsDraft:
        """The line as it stands."""
        found = self._found.text().strip()
        return replace(
            self._draft,
            count=self._count.currentData(),
            lowest=self._lowest.text().strip(),
            highest=self._highest.text().strip(),
            light=self._light.currentData(),
            found=found,
            # What was typed over counts for all of them.
            told=self._draft.told if found == self._draft.found else (),
        )

    def _tell(self) -> None:
        self._follow()
        if not self._loading:
            self.edited.emit()

    def _follow(self) -> None:
        for widget in self._more:
            widget.setVisible(bool(self._count.currentData()))
