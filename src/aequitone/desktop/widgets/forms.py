"""A line of a form: a quiet label and its field."""

from PySide6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QLabel, QWidget

from aequitone.desktop.frame import theme

_LEAST_LETTERS = 8


def place(grid: QGridLayout, row: int, column: int, words: str, field: QWidget) -> None:
    """Put a label, and the field beside it, on a grid."""
    field.setAccessibleName(words)
    if isinstance(field, QComboBox):
        let_shrink(field)
        field.setMinimumContentsLength(_LEAST_LETTERS)
    grid.addWidget(label_of(words, field), row, column)
    grid.addWidget(field, row, column + 1)


def label_of(words: str, field: QWidget) -> QLabel:
    """The label that goes with a field."""
    label = QLabel(words)
    label.setStyleSheet(f"color: {theme.QUIET.name()};")
    label.setBuddy(field)
    return label


def let_shrink(combo: QComboBox) -> None:
    """Let a choice be narrower than its longest words."""
    combo.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)


def beside(*edits: QWidget) -> QWidget:
    """Hold fields that belong together in one row."""
    held = QWidget()
    row = QHBoxLayout(held)
    row.setContentsMargins(0, 0, 0, 0)
    for edit in edits:
        row.addWidget(edit)
    return held
