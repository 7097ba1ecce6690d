"""The u'v' diagram: the target's primaries and the screen's, and every colour as wanted and as seen."""

from math import floor

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF

from aequitone.desktop.frame import theme
from aequitone.desktop.stations.colour.state import DiagramPage, Dot
from aequitone.desktop.widgets.chart import figures
from aequitone.desktop.widgets.chart_page import ChartPage

_TOP, _FOOT, _LEFT, _BELOW, _MARGIN, _TICK = 34.0, 46.0, 46.0, 40.0, 0.03, 0.1
_MARK, _SMALL, _LEGEND = 5.0, 3.0, 340.0
_MIDDLE, _RIGHTS = Qt.AlignmentFlag.AlignHCenter, Qt.AlignmentFlag.AlignRight
Point = tuple[float, float]


class DiagramView(ChartPage):
    """Draws a DiagramPage."""

    def __init__(self) -> None:
        super().__init__("Colour in u'v'")
        self._page = DiagramPage(())

    def show_page(self, page: DiagramPage) -> None:
        """Draw a page."""
        if page != self._page:
            self._page = page
            self._told([f"{name} {figure}" for name, figure in page.figures])

    def paintEvent(self, event: QPaintEvent) -> None:
        page = self._page
        painter, width, height = self._begun(page.subtitle)
        foot = _FOOT if page.figures else 0.0
        if page.target:
            _diagram(painter, QRectF(_LEFT, _TOP, width - _LEFT - 12.0, height - _TOP - foot - _BELOW), page)
        figures(painter, QRectF(0, height - foot, width, foot), page.figures, 3)


def _diagram(painter: QPainter, place: QRectF, page: DiagramPage) -> None:
    points = [*page.target, *page.screen, *(dot.seen for dot in page.dots)]
    low = [min(point[axis] for point in points) - _MARGIN for axis in (0, 1)]
    high = [max(point[axis] for point in points) + _MARGIN for axis in (0, 1)]
    # A step is as long across as up: else distances could not be compared.
    scale = min(place.width() / (high[0] - low[0]), place.height() / (high[1] - low[1]))
    box = QRectF(place.left(), place.top(), scale * (high[0] - low[0]), scale * (high[1] - low[1]))
    box.moveLeft(place.left() + (place.width() - box.width()) / 2.0)

    def at(point: Point) -> QPointF:
        return QPointF(box.left() + (point[0] - low[0]) * scale, box.bottom() - (point[1] - low[1]) * scale)

    _axes(painter, box, low, high, scale)
    _triangle(painter, [at(point) for point in page.target], theme.QUIET, Qt.PenStyle.DashLine)
    _triangle(painter, [at(point) for point in page.screen], theme.BRIGHT, Qt.PenStyle.SolidLine)
    for dot in page.dots:
        _dot(painter, at(dot.wanted), at(dot.seen), dot)


def _axes(painter: QPainter, box: QRectF, low: list[float], high: list[float], scale: float) -> None:
    for axis, name in ((0, "u'"), (1, "v'")):
        for count in range(floor(low[axis] / _TICK) + 1, floor(high[axis] / _TICK) + 1):
            value = count * _TICK
            along = (value - low[axis]) * scale
            painter.setPen(QPen(theme.RAISED, 1.0))
            if axis == 0:
                x = box.left() + along
                painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()))
                label, align = QRectF(x - 20, box.bottom() + 3, 40, 16), _MIDDLE
            else:
                y = box.bottom() - along
                painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y))
                label, align = QRectF(box.left() - 46, y - 8, 40, 16), _RIGHTS
            theme.text(painter, label, f"{value:.1f}", theme.NOTE, theme.QUIET, align=align)
        end = (
            QRectF(box.right() - 30, box.bottom() + 3, 30, 16)
            if axis == 0
            else QRectF(box.left() - 46, box.top(), 40, 16)
        )
        theme.text(painter, end, name, theme.NOTE, theme.TEXT, align=_RIGHTS)
    # Wider than the diagram itself, which is narrow in a small window.
    legend = QRectF(box.center().x() - _LEGEND / 2.0, box.bottom() + 20, _LEGEND, 16)
    words = "Dashed: target; solid: screen; crosses: wanted"
    theme.text(painter, legend, words, theme.NOTE, theme.QUIET, align=_MIDDLE)


def _triangle(painter: QPainter, corners: list[QPointF], colour: QColor, style: Qt.PenStyle) -> None:
    if corners:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(colour, 1.4, style))
        painter.drawPolygon(QPolygonF(corners))


def _dot(painter: QPainter, wanted: QPointF, seen: QPointF, dot: Dot) -> None:
    painter.setPen(QPen(theme.QUIET, 1.0))
    painter.drawLine(wanted, seen)
    for dx, dy in ((3.0, 3.0), (3.0, -3.0)):
        painter.drawLine(QPointF(wanted.x() - dx, wanted.y() - dy), QPointF(wanted.x() + dx, wanted.y() + dy))
    if dot.is_everyday:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.TEXT)
        painter.drawEllipse(seen, _SMALL, _SMALL)
        return
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.GROUND)
    painter.drawEllipse(seen, _MARK, _MARK)
    theme.verdict_mark(painter, seen, _MARK, dot.verdict, theme.BRIGHT)
