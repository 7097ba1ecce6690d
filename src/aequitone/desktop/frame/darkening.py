"""The whole window darkened to a few big figures."""

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from aequitone.desktop.frame import theme
from aequitone.desktop.frame.move_panel import MIDDLE, figure_words
from aequitone.desktop.frame.panel_state import PanelState

_BLACK = QColor(8, 8, 8)
_DIM = QColor(132, 132, 132)


class Darkened(QWidget):
    """Covers the window; shows the move, the reading and ΔE, and the way back."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self._state: PanelState | None = None
        self.setAccessibleName("Darkened window")
        self.hide()

    def show_state(self, state: PanelState) -> None:
        if state != self._state:
            self._state = state
            if self.isVisible():
                self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), _BLACK)
        state = self._state
        if state is None:
            return
        width, height = float(self.width()), float(self.height())
        margin = width * 0.08
        lines = state.lines[:6]
        top = height * 0.08
        theme.text(
            painter,
            QRectF(margin, top, width - 2 * margin, 30),
            state.heading,
            theme.TITLE,
            theme.ACCENT if state.yours else _DIM,
        )
        pitch = min(64.0, height * 0.5 / max(1, len(lines)))
        size = int(pitch * 0.68)
        for i, line in enumerate(lines):
            place = QRectF(margin, top + 40 + i * pitch, width - 2 * margin, pitch)
            used = theme.text(
                painter, place, line.amount, size, theme.TEXT, bold=True, align=Qt.AlignmentFlag.AlignRight
            )
            theme.text(painter, place.adjusted(0, 0, -used - 20, 0), line.label, size, theme.TEXT, elide=MIDDLE)
        foot = height * 0.66
        if state.reading is not None:
            theme.text(
                painter,
                QRectF(margin, foot, width / 2, 90),
                f"{figure_words(state.reading.luminance)} cd/m²",
                60,
                _DIM,
            )
        if state.delta is not None:
            theme.text(
                painter,
                QRectF(width / 2, foot, width / 2 - margin, 90),
                f"ΔE {state.delta.value:.1f}",
                60,
                _DIM,
                align=Qt.AlignmentFlag.AlignRight,
            )
        main = next((f"{hint.key}: {hint.words}.   " for hint in state.keys if hint.main), "")
        theme.text(
            painter,
            QRectF(margin, height - 60, width - 2 * margin, 30),
            f"{main}D: light the window again.",
            theme.BODY,
            _DIM,
        )
