"""Light and cast over time, as two strips one above the other."""

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from aequitone.colorimetry.arrays import Array
from aequitone.desktop.frame import theme
from aequitone.desktop.tools.bench.state import Sample
from aequitone.desktop.widgets.axis import Axis, axis_of

_LEFT, _RIGHT, _BOTTOM, _BETWEEN, _TOP = 66.0, 8.0, 34.0, 22.0, 20.0
# A span that noise does not fill: of light, as a share of it, and of cast in u'v'.
_LEAST_LIGHT, _LEAST_CAST = 0.01, 0.002
_RIGHTS = Qt.AlignmentFlag.AlignRight
# Lines are thinned to a point for so many pixels across: more can hardly be seen, and costs a frame.
_PIXELS_A_POINT = 2.0


class StripChart(QWidget):
    """Draws samples: luminance above, the two parts of the cast below, minutes along."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Light and cast over time")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self._samples: tuple[Sample, ...] = ()

    def show_samples(self, samples: tuple[Sample, ...]) -> None:
        """Draw these from now on."""
        if samples == self._samples:
            return
        self._samples = samples
        if samples:
            last = samples[-1]
            self.setAccessibleDescription(
                f"{last.light:.4g} cd/m², warm {last.warm:+.4f}, green {last.green:+.4f}"
            )
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        whole = QRectF(self.rect())
        if not self._samples:
            theme.text(
                painter, whole, "Nothing read yet", theme.BODY, theme.QUIET, align=Qt.AlignmentFlag.AlignHCenter
            )
            return
        height = (whole.height() - _TOP - _BETWEEN - _BOTTOM) / 2.0
        wide = whole.width() - _LEFT - _RIGHT
        upper = QRectF(_LEFT, _TOP, wide, height)
        lower = QRectF(_LEFT, _TOP + height + _BETWEEN, wide, height)
        minutes = np.array([sample.seconds for sample in self._samples]) / 60.0
        light = np.array([sample.light for sample in self._samples])
        warm = np.array([sample.warm for sample in self._samples])
        green = np.array([sample.green for sample in self._samples])
        along = axis_of(minutes, 0.2, max(2, int(wide / 90.0)), above=0.02)
        rows = max(2, int(height / 26.0))
        bright = axis_of(light, _LEAST_LIGHT * max(float(light.max()), 0.1), rows)
        casts = axis_of(np.concatenate([warm, green]), _LEAST_CAST, rows)
        _frame(painter, upper, bright, "cd/m²")
        _frame(painter, lower, casts, "u'v'")
        self._legend(painter, QRectF(_LEFT, lower.top() - _BETWEEN, wide, _BETWEEN - 4.0))
        for tick in along.ticks:
            x = float(lower.left() + along.share(np.array(tick)) * wide)
            place = QRectF(x - 30.0, lower.bottom() + 2.0, 60.0, 15.0)
            words = f"{tick:.{along.digits}f}"
            theme.text(painter, place, words, theme.NOTE, theme.QUIET, align=Qt.AlignmentFlag.AlignHCenter)
        below = QRectF(_LEFT, lower.bottom() + 17.0, wide, 15.0)
        theme.text(painter, below, "minutes", theme.NOTE, theme.QUIET, align=Qt.AlignmentFlag.AlignHCenter)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        _line(painter, upper, along.share(minutes), bright.share(light), theme.BRIGHT)
        _line(painter, lower, along.share(minutes), casts.share(warm), theme.BRIGHT)
        _line(painter, lower, along.share(minutes), casts.share(green), theme.QUIET, Qt.PenStyle.DashLine)

    @staticmethod
    def _legend(painter: QPainter, place: QRectF) -> None:
        """What the two lines of the lower strip are, to the right above it."""
        x = place.right() - 268.0
        for words, colour, style in (
            ("warm +, cool −", theme.BRIGHT, Qt.PenStyle.SolidLine),
            ("green +, magenta −", theme.QUIET, Qt.PenStyle.DashLine),
        ):
            painter.setPen(QPen(colour, 1.6, style))
            painter.drawLine(QPointF(x, place.center().y()), QPointF(x + 26.0, place.center().y()))
            theme.text(
                painter, QRectF(x + 32.0, place.top(), 110.0, place.height()), words, theme.NOTE, theme.TEXT
            )
            x += 134.0


def _frame(painter: QPainter, place: QRectF, axis: Axis, unit: str) -> None:
    # Above the highest tick, which may lie at the very top.
    theme.text(painter, QRectF(0.0, place.top() - 20.0, 40.0, 15.0), unit, theme.NOTE, theme.QUIET)
    for tick in axis.ticks:
        y = float(place.bottom() - axis.share(np.array(tick)) * place.height())
        painter.setPen(QPen(theme.RAISED, 1.0))
        painter.drawLine(QPointF(place.left(), y), QPointF(place.right(), y))
        label = QRectF(0.0, y - 8.0, place.left() - 8.0, 16.0)
        theme.text(painter, label, f"{tick:.{axis.digits}f}", theme.NOTE, theme.QUIET, align=_RIGHTS)
    painter.setPen(QPen(theme.LINE, 1.0))
    painter.drawLine(place.topLeft(), place.bottomLeft())
    painter.drawLine(place.bottomLeft(), place.bottomRight())


def _line(
    painter: QPainter,
    place: QRectF,
    across: Array,
    up: Array,
    colour: QColor,
    style: Qt.PenStyle = Qt.PenStyle.SolidLine,
) -> None:
    stride = max(1, round(len(across) * _PIXELS_A_POINT / max(_PIXELS_A_POINT, place.width())))
    # Counted from the end, so that the newest point is always there.
    xs = place.left() + across[::-1][::stride] * place.width()
    ys = place.bottom() - up[::-1][::stride] * place.height()
    # A line of one pixel is drawn without the outlines of a wider one, five times as fast.
    painter.setPen(QPen(colour, 1.0, style))
    painter.drawPolyline(QPolygonF([QPointF(x, y) for x, y in zip(xs.tolist(), ys.tolist(), strict=True)]))
