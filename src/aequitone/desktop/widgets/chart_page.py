"""A widget that draws a page, and draws it anew only when it is another one."""

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QSizePolicy, QWidget

from aequitone.desktop.frame import theme

_RIGHTS = Qt.AlignmentFlag.AlignRight
_TITLE_SHARE = 0.3


class ChartPage(QWidget):
    """What Levels and Tone have in common."""

    def __init__(self, title: str) -> None:
        super().__init__()
        self._title = title
        self.setAccessibleName(title)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def _told(self, sentences: list[str]) -> None:
        """The page has changed; `sentences` are for those who do not see it."""
        self.setAccessibleDescription(". ".join(sentences))
        self.update()

    def _begun(self, hint: str) -> tuple[QPainter, float, float]:
        """A painter with the title drawn and a hint beside it; width and height."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        width = float(self.width())
        left = QRectF(4, 2, width * _TITLE_SHARE, 24)
        theme.text(painter, left, self._title, theme.TITLE, theme.BRIGHT, bold=True)
        right = QRectF(left.right(), 2, width - left.right() - 8, 24)
        theme.text(painter, right, hint, theme.NOTE, theme.QUIET, align=_RIGHTS)
        return painter, width, float(self.height())
