"""About: which version this is, and the parts that ship with it under which licences."""

from collections.abc import Sequence

from PySide6.QtWidgets import QDialog, QDialogButtonBox, QLabel, QPlainTextEdit, QVBoxLayout, QWidget

from aequitone import __version__
from aequitone.parts import Part

_WIDTH, _HEIGHT = 560, 420


class About(QDialog):
    """A window of its own that stops nothing."""

    def __init__(self, parent: QWidget, parts: Sequence[Part]) -> None:
        super().__init__(parent)
        self.setWindowTitle("About Aequitone")
        listed = QPlainTextEdit("\n".join(part.line for part in parts))
        listed.setReadOnly(True)
        listed.setAccessibleName("Parts and their licences")
        close = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        close.rejected.connect(self.close)
        layout = QVBoxLayout(self)
        layout.addWidget(QLabel(f"Aequitone {__version__}: measure a screen, say what to turn, prove it."))
        layout.addWidget(QLabel("It ships with these parts, under their own licences:"))
        layout.addWidget(listed, 1)
        layout.addWidget(close)
        self.resize(_WIDTH, _HEIGHT)
