"""The picture of Peak: light against what is sent, white by window, and the light that it holds."""

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF

from aequitone.desktop.frame import theme
from aequitone.desktop.stations.peak.state import PeakPage
from aequitone.desktop.widgets.axis import Axis
from aequitone.desktop.widgets.chart import figures, frame
from aequitone.desktop.widgets.chart_page import ChartPage

_LEFT, _RIGHT, _BOTTOM, _TOP = 58.0, 18.0, 42.0, 34.0
_FIGURE, _FIGURE_ROW = 150.0, 46.0
# Of the height, what the windows take; and of their width, what the light that is held takes.
_LOWER, _HELD = 0.30, 0.36
_ALONG = Axis(15.0, 100.0, (20.0, 30.0, 40.0, 50.0, 60.0, 70.0, 80.0, 90.0, 100.0), 0)
_MIDDLE, _RIGHTS = Qt.AlignmentFlag.AlignHCenter, Qt.AlignmentFlag.AlignRight


class PeakView(ChartPage):
    """Draws a PeakPage."""

    def __init__(self) -> None:
        super().__init__("Peak")
        self._page = PeakPage()

    def show_page(self, page: PeakPage) -> None:
        if page != self._page:
            self._page = page
            windows = [f"{name} % window {light:.0f} cd/m²" for name, light in page.windows]
            self._told([each for each in (*windows, page.knee_words, page.peak_words) if each])

    def paintEvent(self, event: QPaintEvent) -> None:
        page = self._page
        painter, width, height = self._begun("- - what is sent   ○ what is given, cd/m²")
        across = max(1, int(width // _FIGURE))
        foot = _FIGURE_ROW * -(-len(page.figures) // across)
        lower = (height - foot - _TOP) * _LOWER
        upper = QRectF(0, _TOP, width, height - foot - lower - _TOP)
        below = QRectF(0, upper.bottom() + 6, width, lower - 12)
        if page.up is not None:
            _curve(painter, _inner(upper), page.up, page)
        else:
            theme.text(painter, upper, "Greys are read after the windows.", theme.BODY, theme.QUIET, align=_MIDDLE)
        if page.windows:
            split = width * (1.0 - _HELD)
            _windows(painter, QRectF(0, below.top(), split - 16, below.height()), page)
            if page.held:
                _held(painter, QRectF(split, below.top(), width - split, below.height()), page)
        figures(painter, QRectF(0, height - foot, width, foot), page.figures, across)


def _inner(place: QRectF) -> QRectF:
    return QRectF(place.left() + _LEFT, place.top(), place.width() - _LEFT - _RIGHT, place.height() - _BOTTOM)


def _curve(painter: QPainter, box: QRectF, up: Axis, page: PeakPage) -> None:
    """What is given over what is sent, both along PQ: a screen that follows it lies on the diagonal."""
    frame(painter, box, _ALONG, _unnamed(up), "signal, %")
    for tick, name in zip(up.ticks, up.names, strict=True):
        y = box.bottom() - float(up.share(np.array(tick))) * box.height()
        theme.text(painter, QRectF(0, y - 8, box.left() - 8, 16), name, theme.NOTE, theme.QUIET, align=_RIGHTS)

    def at(percent: float, code: float) -> QPointF:
        return QPointF(
            box.left() + float(_ALONG.share(np.array(percent))) * box.width(),
            box.bottom() - float(up.share(np.array(code))) * box.height(),
        )

    painter.save()
    painter.setClipRect(box.adjusted(-5, -5, 5, 5))
    painter.setPen(QPen(theme.QUIET, 1.2, Qt.PenStyle.DashLine))
    painter.drawLine(at(_ALONG.low, _ALONG.low / 100.0), at(100.0, 1.0))
    if page.peak is not None:
        painter.setPen(QPen(theme.TEXT, 1.2, Qt.PenStyle.DotLine))
        painter.drawLine(at(_ALONG.low, page.peak), at(100.0, page.peak))
    if page.knee is not None:
        wide = page.knee_sd / (_ALONG.high - _ALONG.low) * box.width()
        x = at(page.knee, up.low).x()
        painter.fillRect(QRectF(x - wide, box.top(), 2 * wide, box.height()), theme.RAISED)
        painter.setPen(QPen(theme.TEXT, 1.2, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()))
    points = [at(percent, code) for percent, code, _ in page.greys]
    painter.setPen(QPen(theme.BRIGHT, 1.8))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPolyline(QPolygonF(points))
    painter.setBrush(theme.GROUND)
    for point in points:
        painter.drawEllipse(point, 3.0, 3.0)
    painter.restore()
    if page.peak is not None:
        label = QRectF(box.left() + 8, at(20.0, page.peak).y() - 18, box.width() * 0.4, 16)
        theme.text(painter, label, page.peak_words, theme.BODY, theme.BRIGHT, bold=True)
    if page.knee is not None:
        x = at(page.knee, up.low).x()
        label = QRectF(x + 8, box.bottom() - 24, box.right() - x - 8, 16)
        theme.text(painter, label, page.knee_words, theme.BODY, theme.BRIGHT, bold=True)


def _unnamed(axis: Axis) -> Axis:
    """The axis without ticks: its labels are no values."""
    return Axis(axis.low, axis.high, (), axis.digits)


def _windows(painter: QPainter, place: QRectF, page: PeakPage) -> None:
    """White's light in each window, as bars from nothing."""
    theme.text(
        painter,
        QRectF(8, place.top(), place.width(), 16),
        "White in cd/m² by window, % of the picture",
        theme.NOTE,
        theme.QUIET,
    )
    box = QRectF(8, place.top() + 36, place.width() - 8, place.height() - 56)
    most = max(light for _, light in page.windows)
    each = box.width() / 8.0
    for i, (name, light) in enumerate(page.windows):
        tall = box.height() * light / most
        bar = QRectF(box.left() + i * each + 6, box.bottom() - tall, each - 12, tall)
        here = i == page.advised
        painter.fillRect(bar, theme.TEXT if here else theme.FAINT)
        above = QRectF(bar.left() - 6, bar.top() - 18, each, 16)
        theme.text(painter, above, f"{light:.0f}", theme.NOTE, theme.BRIGHT if here else theme.TEXT, align=_MIDDLE)
        below = QRectF(bar.left() - 6, box.bottom() + 3, each, 16)
        theme.text(
            painter,
            below,
            f"{name} ▲" if here else name,
            theme.NOTE,
            theme.BRIGHT if here else theme.QUIET,
            align=_MIDDLE,
        )


def _held(painter: QPainter, place: QRectF, page: PeakPage) -> None:
    """White that stands still, in % of its first light."""
    head = QRectF(place.left(), place.top(), place.width(), 16)
    theme.text(painter, head, "White that stands still, %", theme.NOTE, theme.QUIET)
    box = QRectF(place.left() + 40, place.top() + 26, place.width() - 60, place.height() - 46)
    low = min(95.0, *(light for _, light in page.held)) - 1.0
    high = max(101.0, *(light for _, light in page.held))
    up, along = Axis(low, high, (100.0,), 0), Axis(0.0, 30.0, (0.0, 10.0, 20.0, 30.0), 0)
    for tick in (100.0, low + 1.0):
        y = box.bottom() - float(up.share(np.array(tick))) * box.height()
        painter.setPen(QPen(theme.RAISED, 1.0))
        painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y))
        label = QRectF(place.left() - 8, y - 8, 40, 16)
        theme.text(painter, label, f"{tick:.0f}", theme.NOTE, theme.QUIET, align=_RIGHTS)
    for tick in along.ticks:
        x = box.left() + tick / 30.0 * box.width()
        words = f"{tick:.0f} s" if tick else "0"
        theme.text(
            painter, QRectF(x - 20, box.bottom() + 3, 40, 16), words, theme.NOTE, theme.QUIET, align=_MIDDLE
        )
    points = [
        QPointF(
            box.left() + min(seconds, 30.0) / 30.0 * box.width(),
            box.bottom() - float(up.share(np.array(light))) * box.height(),
        )
        for seconds, light in page.held
    ]
    painter.setPen(QPen(theme.BRIGHT, 1.8))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPolyline(QPolygonF(points))
    painter.setBrush(theme.GROUND)
    for point in points:
        painter.drawEllipse(point, 3.0, 3.0)
