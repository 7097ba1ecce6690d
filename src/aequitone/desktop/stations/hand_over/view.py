"""The Hand over station: what was found and done in words, settings as left, the picture before and after."""

from pathlib import Path

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QImage, QPainter, QPaintEvent
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from aequitone.desktop.frame import theme
from aequitone.desktop.stations.hand_over.state import HandOverPage
from aequitone.figures import tied


class HandOverView(QWidget):
    """Shows paragraphs, a list of settings, and the two pictures once the report is made."""

    def __init__(self) -> None:
        super().__init__()
        self._words = QVBoxLayout()
        self._words.setSpacing(8)
        self._words.setAlignment(Qt.AlignmentFlag.AlignTop)
        inside = QWidget()
        inside.setLayout(self._words)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setWidget(inside)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._pictures = _Pictures()
        layout = QHBoxLayout(self)
        layout.setContentsMargins(4, 0, 4, 4)
        layout.addWidget(area, 3)
        layout.addWidget(self._pictures, 2)
        self._shown: HandOverPage | None = None

    def show_page(self, page: HandOverPage) -> None:
        """Draw the words and the pictures."""
        if self._shown == page:
            return
        self._shown = page
        while (item := self._words.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                # Hidden at once: what is to be deleted later is drawn until then.
                widget.hide()
                widget.deleteLater()
        for heading, words in page.paragraphs:
            self._words.addWidget(_label(heading, theme.TITLE, bold=True))
            self._words.addWidget(_table(words) if "\t" in words else _label(words, theme.BODY))
        self._pictures.show_pictures(page.pictures)


def _table(words: str) -> QWidget:
    """Tab-separated lines in columns."""
    table = QWidget()
    grid = QGridLayout(table)
    grid.setContentsMargins(0, 0, 0, 0)
    grid.setHorizontalSpacing(18)
    grid.setVerticalSpacing(3)
    for i, line in enumerate(words.splitlines()):
        for j, cell in enumerate(line.split("\t")):
            label = _label(cell, theme.BODY)
            label.setWordWrap(False)
            grid.addWidget(label, i, j)
    grid.setColumnStretch(3, 1)
    return table


def _label(words: str, size: int, *, bold: bool = False) -> QLabel:
    label = QLabel(tied(words))
    label.setFont(theme.font(size, bold=bold))
    label.setWordWrap(True)
    label.setTextFormat(Qt.TextFormat.PlainText)
    label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
    return label


class _Pictures(QWidget):
    def __init__(self) -> None:
        super().__init__()
        self._images: list[tuple[str, QImage]] = []
        self.setMinimumWidth(180)

    def show_pictures(self, paths: tuple[Path, Path] | None) -> None:
        names = ("Before", "After")
        self._images = [(n, QImage(str(p))) for n, p in zip(names, paths, strict=True)] if paths else []
        self.setAccessibleName("A made-up picture as this screen showed it before, and shows it after")
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        if not self._images:
            theme.text(
                painter,
                QRectF(0, 0, self.width(), 26),
                "The pictures come with the report.",
                theme.BODY,
                theme.QUIET,
            )
            return
        width = float(self.width())
        top = 0.0
        for name, image in self._images:
            theme.text(painter, QRectF(0, top, width, 22), name, theme.BODY, theme.QUIET)
            if image.isNull():
                continue
            height = min(width * image.height() / image.width(), self.height() / 2 - 34)
            wide = height * image.width() / image.height()
            painter.drawImage(QRectF(0, top + 24, wide, height), image)
            top += height + 34
