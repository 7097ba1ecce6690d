"""The picture of Levels: each control on its range, and the curve of one with the place that it recommends."""

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF

from aequitone.desktop.frame import theme
from aequitone.desktop.stations.levels.state import LevelRow, LevelsPage
from aequitone.desktop.widgets.axis import Axis, axis_of
from aequitone.desktop.widgets.chart import draw_line, figures, frame, legend, pen_of
from aequitone.desktop.widgets.chart_page import ChartPage

_ROW = 40.0
# The least width that a figure with its name needs.
_FIGURE = 112.0
_LEFT, _RIGHT, _BOTTOM = 66.0, 16.0, 40.0
# Of what a curve shows, the least that its axis spans.
_LEAST_SHARE = 0.05
_RIGHTS = Qt.AlignmentFlag.AlignRight
_MIDDLE = Qt.AlignmentFlag.AlignHCenter
# Lines are told apart by their dashes where they are no channels.
_DASHES = (Qt.PenStyle.SolidLine, Qt.PenStyle.DashLine, Qt.PenStyle.DotLine)


class SweepView(ChartPage):
    """Draws a LevelsPage."""

    def __init__(self) -> None:
        super().__init__("Levels")
        self._page = LevelsPage(())

    def show_page(self, page: LevelsPage) -> None:
        if page != self._page:
            self._page = page
            self._told([f"{row.role} {row.now}, found at {row.found}" for row in page.rows])

    def paintEvent(self, event: QPaintEvent) -> None:
        page = self._page
        painter, width, height = self._begun("○ found   │ now   ▲ where the curve says")
        top = 32.0
        for row in page.rows:
            _control(painter, QRectF(0, top, width, _ROW), row)
            top += _ROW
        across = max(1, int(width // _FIGURE))
        foot = 46.0 * -(-len(page.figures) // across)
        if page.lines:
            _chart(painter, QRectF(0, top + 14.0, width, height - top - 22.0 - foot), page)
        figures(painter, QRectF(0, height - foot, width, foot), page.figures, across)


def _control(painter: QPainter, place: QRectF, row: LevelRow) -> None:
    if row.here:
        painter.fillRect(place, theme.PANEL)
    third = place.width() * 0.27
    role = QRectF(place.left() + 8, place.top() + 3, third - 12, 18)
    theme.text(painter, role, row.role, theme.BODY, bold=row.here)
    name = QRectF(place.left() + 8, place.top() + 20, third - 12, 16)
    theme.text(painter, name, row.name, theme.NOTE, theme.QUIET, elide=Qt.TextElideMode.ElideMiddle)
    track = QRectF(place.left() + third, place.center().y() - 1.5, place.width() * 0.42, 3.0)
    painter.fillRect(track, theme.LINE)
    span = max(1, row.highest - row.lowest)

    def at(value: float) -> float:
        return track.left() + (min(max(value, row.lowest), row.highest) - row.lowest) / span * track.width()

    painter.setPen(QPen(theme.QUIET, 1.4))
    painter.setBrush(theme.GROUND)
    painter.drawEllipse(QPointF(at(row.found), track.center().y()), 4.5, 4.5)
    painter.fillRect(QRectF(at(row.now) - 1.5, track.top() - 9, 3.0, 21.0), theme.BRIGHT)
    if row.exact is not None:
        x, y = at(row.exact), track.bottom() + 5.0
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.TEXT)
        painter.drawPolygon(QPolygonF([QPointF(x, y), QPointF(x - 5, y + 8), QPointF(x + 5, y + 8)]))
    right = QRectF(track.right() + 14, place.top(), place.right() - track.right() - 22, 22)
    moved = f"{row.found} → {row.now}" if row.found != row.now else f"{row.now}"
    used = theme.text(painter, right, moved, theme.BODY, theme.BRIGHT, bold=True)
    if row.exact is not None and row.sd < span:
        spread = QRectF(right.left() + used + 10, right.top(), right.width() - used - 10, 22)
        theme.text(painter, spread, f"{row.exact:.1f} ± {row.sd:.1f}", theme.NOTE, theme.QUIET)
    theme.text(painter, right.translated(0, 18), row.note, theme.NOTE, theme.QUIET)
    painter.setPen(QPen(theme.RAISED, 1.0))
    painter.drawLine(place.bottomLeft(), place.bottomRight())


def _chart(painter: QPainter, place: QRectF, page: LevelsPage) -> None:
    if place.height() < 90.0:
        return
    theme.text(painter, QRectF(8, place.top(), place.width() * 0.5, 18), page.title, theme.BODY, bold=True)
    legend(painter, QRectF(place.width() * 0.5, place.top(), place.width() * 0.5 - 8, 18), page.lines)
    box = QRectF(_LEFT, place.top() + 28, place.width() - _LEFT - _RIGHT, place.height() - 28 - _BOTTOM)
    settings = np.array([point[0] for line in page.lines for point in line.points])
    points = [point for line in page.lines for point in line.points]
    # Whiskers have room too: noise must not look like a slope.
    values = np.array([value + sign * spread for _, value, spread in points for sign in (-1.0, 1.0)])
    reach = settings if page.at is None else np.append(settings, page.at)
    # What was read at one setting alone has no course: lights that are nearly the same are to look so.
    least = max(1e-4, _LEAST_SHARE * float(np.abs(values).mean()))
    along, up = axis_of(reach, 4.0, 8), axis_of(values, least, max(2, int(box.height() // 40)))
    frame(painter, box, along, up, page.across)
    if page.at is not None:
        _place(painter, box, along, page)
    for i, line in enumerate(page.lines):
        draw_line(painter, box, along, up, line, pen_of(line, i))


def _place(painter: QPainter, box: QRectF, along: Axis, page: LevelsPage) -> None:
    """The recommended place, and how unsure it is."""
    assert page.at is not None
    x = box.left() + float(along.share(np.array(page.at))) * box.width()
    wide = page.at_sd / (along.high - along.low) * box.width()
    if wide < box.width() / 2:
        painter.fillRect(QRectF(x - wide, box.top(), 2 * wide, box.height()), theme.RAISED)
    painter.setPen(QPen(theme.TEXT, 1.2, Qt.PenStyle.DashLine))
    painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()))
    label = f"{page.setting}" if page.setting is not None else ""
    place = QRectF(x + 6 if x < box.center().x() else x - 66, box.top(), 60, 16)
    align = Qt.AlignmentFlag.AlignLeft if x < box.center().x() else _RIGHTS
    theme.text(painter, place, label, theme.BODY, theme.BRIGHT, bold=True, align=align)
