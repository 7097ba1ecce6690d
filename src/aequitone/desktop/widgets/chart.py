"""Curves with whiskers in a frame, their legend, and a row of named figures: shared by Levels and Tone."""

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF

from aequitone.desktop.frame import theme
from aequitone.desktop.widgets.axis import Axis
from aequitone.desktop.widgets.chart_state import LineState

_RIGHTS = Qt.AlignmentFlag.AlignRight
_MIDDLE = Qt.AlignmentFlag.AlignHCenter
# Lines are told apart by their dashes where they are no channels.
_DASHES = (Qt.PenStyle.SolidLine, Qt.PenStyle.DashLine, Qt.PenStyle.DotLine)


def frame(painter: QPainter, box: QRectF, along: Axis, up: Axis, across: str) -> None:
    """Axes with their ticks; `across`: what lies along."""
    for tick in up.ticks:
        y = float(box.bottom() - up.share(np.array(tick)) * box.height())
        painter.setPen(QPen(theme.RAISED, 1.0))
        painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y))
        label = QRectF(0.0, y - 8.0, box.left() - 8.0, 16.0)
        theme.text(painter, label, f"{tick:.{up.digits}f}", theme.NOTE, theme.QUIET, align=_RIGHTS)
    names = along.names or tuple(f"{tick:.{along.digits}f}" for tick in along.ticks)
    for tick, name in zip(along.ticks, names, strict=True):
        x = float(box.left() + along.share(np.array(tick)) * box.width())
        label = QRectF(x - 30, box.bottom() + 3, 60, 16)
        theme.text(painter, label, name, theme.NOTE, theme.QUIET, align=_MIDDLE)
    painter.setPen(QPen(theme.LINE, 1.0))
    painter.drawLine(box.topLeft(), box.bottomLeft())
    painter.drawLine(box.bottomLeft(), box.bottomRight())
    below = QRectF(box.left(), box.bottom() + 20, box.width(), 16)
    theme.text(painter, below, across, theme.NOTE, theme.QUIET, align=_MIDDLE)


def pen_of(line: LineState, index: int) -> QPen:
    """The pen of a line: its channel's colour, or dashes by its place."""
    if line.channel:
        return QPen(theme.CHANNEL[line.channel], 1.8)
    return QPen(theme.BRIGHT if index == 0 else theme.TEXT, 1.8, _DASHES[index % len(_DASHES)])


def draw_line(painter: QPainter, box: QRectF, along: Axis, up: Axis, line: LineState, pen: QPen) -> None:
    settings, values, spreads = (np.array(column) for column in zip(*line.points, strict=True))
    xs = box.left() + along.share(settings) * box.width()
    ys = box.bottom() - up.share(values) * box.height()
    painter.setPen(pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    points = [QPointF(x, y) for x, y in zip(xs.tolist(), ys.tolist(), strict=True)]
    painter.drawPolyline(QPolygonF(points))
    whisker = spreads / (up.high - up.low) * box.height()
    colour: QColor = pen.color()
    for point, size in zip(points, whisker.tolist(), strict=True):
        painter.setPen(QPen(colour, 1.0))
        if size > 3.0:
            painter.drawLine(QPointF(point.x(), point.y() - size), QPointF(point.x(), point.y() + size))
        painter.setBrush(theme.GROUND)
        painter.drawEllipse(point, 3.2, 3.2)


def legend(painter: QPainter, place: QRectF, lines: tuple[LineState, ...]) -> None:
    x = place.right()
    for i, line in reversed(list(enumerate(lines))):
        words = f"{line.channel}" if line.channel else line.name
        wide = 26.0 + 7.0 * len(words)
        x -= wide
        painter.setPen(pen_of(line, i))
        painter.drawLine(QPointF(x, place.center().y()), QPointF(x + 18.0, place.center().y()))
        theme.text(painter, QRectF(x + 23.0, place.top(), wide - 22.0, place.height()), words, theme.NOTE)
        x -= 12.0


def figures(painter: QPainter, place: QRectF, rows: tuple[tuple[str, str], ...], across: int) -> None:
    each = place.width() / min(across, len(rows) or 1)
    for i, (name, figure) in enumerate(rows):
        left, top = place.left() + i % across * each + 4.0, place.top() + i // across * 46.0
        theme.text(painter, QRectF(left, top, each - 8, 18), name, theme.NOTE, theme.QUIET)
        below = QRectF(left, top + 18, each - 8, 22)
        theme.text(painter, below, figure, theme.BODY, theme.BRIGHT, bold=True)
