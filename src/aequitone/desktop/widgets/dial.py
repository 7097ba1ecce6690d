"""The cast dial: where a grey leans, with its trail."""

import itertools

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from aequitone.colorimetry import cast_word
from aequitone.desktop.frame import theme
from aequitone.desktop.frame.panel_state import DialState

HEIGHT = 152
_RINGS = 3
# u'v' at the rim, chosen from these so that the cast fits.
_SCALES = (0.006, 0.012, 0.024, 0.048)


class Dial(QWidget):
    """Rings around the target; warm to the right, green on top."""

    def __init__(self) -> None:
        super().__init__()
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        self.setFixedHeight(HEIGHT)
        self.setMinimumWidth(150)
        self._state = DialState(())

    def show_state(self, state: DialState) -> None:
        if state != self._state:
            self._state = state
            if state.trail:
                self.setAccessibleName(f"Cast: {cast_word(*state.trail[-1])}")
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        radius = min(self.width(), self.height() - 40) / 2.0 - 2
        centre = QPointF(self.width() / 2.0, 18 + radius)
        trail = self._state.trail
        largest = max((abs(value) for point in trail for value in point), default=0.0)
        scale = next((s for s in _SCALES if largest <= s), _SCALES[-1])
        painter.setPen(QPen(theme.LINE, 1.0))
        for ring in range(1, _RINGS + 1):
            painter.drawEllipse(centre, radius * ring / _RINGS, radius * ring / _RINGS)
        painter.drawLine(QPointF(centre.x() - radius, centre.y()), QPointF(centre.x() + radius, centre.y()))
        painter.drawLine(QPointF(centre.x(), centre.y() - radius), QPointF(centre.x(), centre.y() + radius))
        self._labels(painter, centre, radius, scale)
        points = [
            QPointF(
                centre.x() + max(-1.0, min(1.0, warm / scale)) * radius,
                centre.y() - max(-1.0, min(1.0, green / scale)) * radius,
            )
            for warm, green in trail
        ]
        painter.setPen(QPen(theme.FAINT, 1.4))
        for a, b in itertools.pairwise(points):
            painter.drawLine(a, b)
        painter.setPen(Qt.PenStyle.NoPen)
        for i, point in enumerate(points):
            last = i == len(points) - 1
            painter.setBrush(theme.BRIGHT if last else theme.FAINT)
            painter.drawEllipse(point, 5.0 if last else 3.0, 5.0 if last else 3.0)

    def _labels(self, painter: QPainter, centre: QPointF, radius: float, scale: float) -> None:
        middle = Qt.AlignmentFlag.AlignHCenter
        box = QRectF(centre.x() - 40, 0, 80, 16)
        theme.text(painter, box, "green", theme.NOTE, theme.QUIET, align=middle)
        bottom = centre.y() + radius + 2
        theme.text(
            painter, QRectF(centre.x() - 40, bottom, 80, 16), "magenta", theme.NOTE, theme.QUIET, align=middle
        )
        theme.text(painter, QRectF(0, bottom, 60, 16), "cool", theme.NOTE, theme.QUIET)
        theme.text(
            painter,
            QRectF(self.width() - 60.0, bottom, 60, 16),
            "warm",
            theme.NOTE,
            theme.QUIET,
            align=Qt.AlignmentFlag.AlignRight,
        )
        theme.text(
            painter,
            QRectF(0, 0, 46, 16),
            f"{scale:g}",
            theme.NOTE,
            theme.QUIET,
        )


class Sliders(QWidget):
    """The controls on their ranges: a bar where each stands, a ring where it is to go."""

    def __init__(self) -> None:
        super().__init__()
        self._state: tuple = ()
        self.setMinimumWidth(120)
        self.setFixedHeight(HEIGHT)

    def show_state(self, state: tuple) -> None:
        if state != self._state:
            self._state = state
            self.setAccessibleName("; ".join(f"{s.name} {s.value}" for s in state))
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if not self._state:
            return
        row = self.height() / len(self._state)
        width = float(self.width())
        for i, slider in enumerate(self._state):
            top = i * row
            colour = theme.CHANNEL.get(slider.channel, theme.TEXT)
            theme.text(
                painter,
                QRectF(0, top, width - 70, 17),
                slider.name,
                theme.NOTE,
                colour,
                bold=True,
                elide=Qt.TextElideMode.ElideMiddle,
            )
            value = f"{slider.value}" if slider.to is None else f"{slider.value} → {slider.to}"
            theme.text(
                painter,
                QRectF(width - 74, top, 74, 17),
                value,
                theme.BODY,
                theme.TEXT,
                align=Qt.AlignmentFlag.AlignRight,
            )
            y = top + 21
            painter.setPen(QPen(theme.LINE, 2.4))
            painter.drawLine(QPointF(2, y), QPointF(width - 2, y))
            span = max(1, slider.highest - slider.lowest)

            def x_of(value: int, low: int = slider.lowest, span: int = span) -> float:
                return 2 + (width - 4) * (value - low) / span

            painter.setPen(QPen(colour, 2.4))
            x = x_of(slider.value)
            painter.drawLine(QPointF(x, y - 4), QPointF(x, y + 4))
            if slider.to is not None:
                painter.setPen(QPen(theme.ACCENT, 1.6))
                painter.setBrush(theme.PANEL)
                painter.drawEllipse(QPointF(x_of(slider.to), y), 4.0, 4.0)
