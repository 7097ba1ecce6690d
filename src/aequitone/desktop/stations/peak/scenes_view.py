"""Draws the scenes: each as its curve wants it, left of a line, and as the screen gives it, right of it."""

from PySide6.QtCore import QRectF
from PySide6.QtGui import QImage, QPainter, QPaintEvent

from aequitone.desktop.frame import theme
from aequitone.desktop.stations.peak.scenes import ScenesPage
from aequitone.desktop.widgets.chart_page import ChartPage

_TOP, _WORDS, _GAP = 62.0, 58.0, 16.0


class ScenesView(ChartPage):
    """Draws a ScenesPage."""

    def __init__(self) -> None:
        super().__init__("Scenes")
        self._page: ScenesPage | None = None
        self._images: list[QImage] = []

    def show_page(self, page: ScenesPage) -> None:
        """Draw other scenes, where they are others."""
        if page == self._page:
            return
        self._page = page
        self._images = [
            # A copy: Qt would go on reading bytes that are not its own.
            QImage(cell.rgb, cell.width, cell.height, 3 * cell.width, QImage.Format.Format_RGB888).copy()
            for cell in page.cells
        ]
        self._told([f"{cell.name}. {'. '.join(cell.words)}" for cell in page.cells])

    def paintEvent(self, event: QPaintEvent) -> None:
        page = self._page
        painter, width, height = self._begun("left: as wanted   right: as the screen gives it")
        if page is None:
            return
        told = f"Wanted: {page.curve}." + ("" if page.measured else " Greys of the screen were not read yet.")
        theme.text(painter, QRectF(8, 32, width - 16, 20), told, theme.BODY, theme.QUIET)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        each, tall = (width - _GAP) / 2.0, (height - _TOP - _GAP) / 2.0
        for i, (cell, image) in enumerate(zip(page.cells, self._images, strict=True)):
            left, top = (i % 2) * (each + _GAP), _TOP + (i // 2) * (tall + _GAP)
            room = tall - _WORDS
            wide = min(each, room * cell.width / cell.height)
            picture = QRectF(left, top, wide, wide * cell.height / cell.width)
            painter.drawImage(picture, image)
            lines = (cell.name, *cell.words)
            for line, words in enumerate(lines):
                place = QRectF(left, picture.bottom() + 4 + line * 17, each, 16)
                colour = theme.BRIGHT if line == 0 else theme.QUIET
                theme.text(painter, place, words, theme.NOTE, colour, bold=line == 0)
