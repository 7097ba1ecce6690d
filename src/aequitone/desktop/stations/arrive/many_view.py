"""The lines at Arrive for controls that are many and alike: multi-point, and a colour management."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Generic, TypeVar

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from aequitone.advice.roles import POINT_COUNTS
from aequitone.desktop.stations.arrive.colours_form import ColoursDraft
from aequitone.desktop.stations.arrive.points_form import PointsDraft
from aequitone.desktop.widgets.forms import label_of, let_shrink

_NARROW, _LEAST_LETTERS, _LABEL = 46, 9, 128


D = TypeVar("D", PointsDraft, ColoursDraft)


class ManyLine(QWidget, Generic[D]):
    """Shows a draft of one kind and reads it back; `kinds` and `ofs`: choices and their values, by field."""

    edited = Signal()

    def __init__(
        self,
        title: str,
        draft: D,
        kinds: tuple[str, Sequence[tuple[str, object]]],
        ofs: tuple[str, Sequence[tuple[str, object]]],
    ) -> None:
        super().__init__()
        self._draft: D = draft
        self._loading = False
        self._fields = kinds[0], ofs[0]
        self._kind, self._of = QComboBox(), QComboBox()
        self._lowest, self._highest, self._found = QLineEdit(), QLineEdit(), QLineEdit()
        for combo, (_, choices) in ((self._kind, kinds), (self._of, ofs)):
            for words, value in choices:
                combo.addItem(words, value)
        rows = QVBoxLayout(self)
        rows.setContentsMargins(0, 0, 0, 0)
        rows.setSpacing(4)
        self._row, self._below = QHBoxLayout(), QHBoxLayout()
        for row in (self._row, self._below):
            row.setSpacing(6)
            row.addStretch(1)
            rows.addLayout(row)
        self._figures: list[QWidget] = []
        self._more: list[QWidget] = []
        for words, field in (
            (title, self._kind),
            ("of", self._of),
            ("from", self._lowest),
            ("to", self._highest),
            ("all at", self._found),
        ):
            label = label_of(words, field)
            field.setAccessibleName(title if field is self._kind else f"{title}, {words}")
            if isinstance(field, QComboBox):
                let_shrink(field)
                field.setMinimumContentsLength(_LEAST_LETTERS)
                field.currentIndexChanged.connect(self._tell)
            else:
                field.setFixedWidth(_NARROW)
                field.textEdited.connect(self._tell)
            for each in (label, field):
                self._row.insertWidget(self._row.count() - 1, each)
                if isinstance(field, QLineEdit):
                    self._figures.append(each)
            if field is not self._kind:
                self._more += [label, field]
            else:
                label.setMinimumWidth(_LABEL)
        self._follow()

    def arrange(self, *, narrow: bool) -> None:
        """Put the figures beside the choices, or below them where there is little room."""
        to = self._below if narrow else self._row
        if to.indexOf(self._figures[0]) < 0:
            for each in self._figures:
                to.insertWidget(to.count() - 1, each)

    def show_draft(self, draft: D, *, found_open: bool) -> None:
        """Fill the line; once controls were turned, as found stays."""
        self._loading = True
        self._draft = draft
        for combo, field in zip((self._kind, self._of), self._fields, strict=True):
            combo.setCurrentIndex(max(0, combo.findData(getattr(draft, field))))
        self._lowest.setText(draft.lowest)
        self._highest.setText(draft.highest)
        self._found.setText(draft.found)
        self._found.setReadOnly(not found_open)
        self._loading = False
        self._follow()

    def draft(self) -> D:
        """The line as it stands."""
        found, (kind, of) = self._found.text().strip(), self._fields
        # What was typed over counts for all of them.
        told = self._draft.told if found == self._draft.found else ()
        lowest, highest = self._lowest.text().strip(), self._highest.text().strip()
        now = replace(self._draft, lowest=lowest, highest=highest, found=found, told=told)
        return replace(now, **{kind: self._kind.currentData(), of: self._of.currentData()})

    def _tell(self) -> None:
        self._follow()
        if not self._loading:
            self.edited.emit()

    def _follow(self) -> None:
        for widget in self._more:
            widget.setVisible(bool(self._kind.currentData()))


def points_line() -> ManyLine[PointsDraft]:
    """Make the line of multi-point controls."""
    kinds = (("none", 0), *((f"{count} levels", count) for count in POINT_COUNTS))
    return ManyLine(
        "Multi-point", PointsDraft(), ("count", kinds), ("light", (("R G B", False), ("R G B, light", True)))
    )


def colours_line() -> ManyLine[ColoursDraft]:
    """Make the line of a colour management."""
    kinds = (
        ("none", ""),
        ("hue, sat, light", "hsl"),
        ("hue, sat", "hs"),
        ("R G B", "mix"),
    )
    ofs = (("3 primaries", False), ("6 colours", True))
    return ManyLine("Colour management", ColoursDraft(), ("kind", kinds), ("secondaries", ofs))
