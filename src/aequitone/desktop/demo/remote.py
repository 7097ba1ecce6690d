"""The stand-in remote: the simulated screen's own menu, turned by hand as at a client's."""

from typing import TYPE_CHECKING

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PySide6.QtWidgets import QWidget

from aequitone.desktop.frame import theme

if TYPE_CHECKING:
    from aequitone.standins.screen import StandInScreen

_ROW = 30
_MOST_ROWS = 18
_HEAD, _FOOT = 44, 54


class Remote(QWidget):
    """Arrow keys choose and turn; the program sees nothing of it but what the meter reads."""

    def __init__(self, screen: "StandInScreen") -> None:
        super().__init__(None, Qt.WindowType.Window)
        self.source = screen
        self._controls = screen.controls()
        self._row = 0
        self.setWindowTitle(f"{screen.part.name}: menu (stand-in)")
        self.setAccessibleName("Stand-in remote")
        self._rows = min(len(self._controls), _MOST_ROWS)
        self.setFixedSize(430, _HEAD + _FOOT + _ROW * self._rows)

    @property
    def _first(self) -> int:
        """The row on top: a long menu is shown around the one that is chosen."""
        return min(max(0, self._row - self._rows // 2), len(self._controls) - self._rows)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        many = 5 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
        match event.key():
            case Qt.Key.Key_Up:
                self._row = (self._row - 1) % len(self._controls)
            case Qt.Key.Key_Down:
                self._row = (self._row + 1) % len(self._controls)
            case Qt.Key.Key_Left:
                self._turn(-many)
            case Qt.Key.Key_Right:
                self._turn(many)
            case Qt.Key.Key_Escape:
                self.close()
            case _:
                event.ignore()
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        row = int((event.position().y() - _HEAD) // _ROW)
        if 0 <= row < self._rows:
            self._row = self._first + row
            self.update()

    def wheelEvent(self, event: QWheelEvent) -> None:
        self._turn(1 if event.angleDelta().y() > 0 else -1)
        self.update()

    def _turn(self, steps: int) -> None:
        control = self._controls[self._row]
        value = self.source.settings()[control.role] + steps * control.step
        self.source.turn({control.role: value})

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.GROUND)
        width = float(self.width())
        theme.text(painter, QRectF(16, 6, width - 32, 32), "Picture menu", theme.TITLE, theme.BRIGHT, bold=True)
        settings = self.source.settings()
        first = self._first
        for i, control in enumerate(self._controls[first : first + self._rows]):
            place = QRectF(8, _HEAD + i * _ROW, width - 16, _ROW)
            chosen = first + i == self._row
            if chosen:
                painter.fillRect(place, theme.RAISED)
                painter.setPen(QPen(theme.TEXT, 1.4))
                painter.drawRect(place.adjusted(0.5, 0.5, -0.5, -0.5))
            value = settings[control.role]
            words = control.choices[value - control.lowest] if control.choices else str(value)
            theme.text(painter, place.adjusted(12, 0, -190, 0), control.name, theme.BODY)
            track = QRectF(width - 190, place.center().y() - 1.5, 110, 3)
            painter.fillRect(track, theme.LINE)
            share = (value - control.lowest) / (control.highest - control.lowest)
            painter.fillRect(QRectF(track.left() + share * track.width() - 2, track.top() - 4, 4, 11), theme.TEXT)
            theme.text(
                painter,
                QRectF(width - 76, place.top(), 60, _ROW),
                words,
                theme.BODY,
                theme.BRIGHT,
                align=Qt.AlignmentFlag.AlignRight,
            )
        foot = QRectF(16, self.height() - _FOOT + 6, width - 32, 20)
        theme.text(
            painter,
            foot,
            "↑ ↓ or click: choose   ← → or wheel: turn   Shift: five   Esc: close",
            theme.NOTE,
            theme.QUIET,
        )
        theme.text(
            painter,
            foot.translated(0, 20),
            "Simulated screen. The main window sees only the meter.",
            theme.NOTE,
            theme.QUIET,
        )
