"""The picture of Tone: how far light is off at each level, and what is set there. The dark end is stretched."""

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF

from aequitone.colorimetry.arrays import Array
from aequitone.desktop.frame import theme
from aequitone.desktop.stations.tone.state import TonePage, TonePoint
from aequitone.desktop.widgets.axis import Axis, axis_of
from aequitone.desktop.widgets.chart import draw_line, figures, frame, legend, pen_of
from aequitone.desktop.widgets.chart_page import ChartPage
from aequitone.desktop.widgets.chart_state import LineState
from aequitone.figures import signed

_FIGURE = 128.0
_LEFT, _RIGHT, _BOTTOM, _TITLE = 66.0, 16.0, 40.0, 28.0
_TICKS = (1.0, 2.0, 5.0, 10.0, 20.0, 30.0, 50.0, 70.0, 100.0)
# Light that is further off than this, in %, is drawn at the edge.
_MOST_OFF, _LEAST_OFF, _LEAST_STEPS = 40.0, 6.0, 6.0
_MARK = 4.6


class ToneView(ChartPage):
    """Draws a TonePage."""

    def __init__(self) -> None:
        super().__init__("Tone")
        self._page = TonePage(())

    def show_page(self, page: TonePage) -> None:
        if page != self._page:
            self._page = page
            self._told([f"{point.percent:g} % light {signed(point.light)} %" for point in page.points])

    def paintEvent(self, event: QPaintEvent) -> None:
        page = self._page
        painter, width, height = self._begun(page.subtitle)
        across = max(1, int(width // _FIGURE))
        foot = 46.0 * -(-len(page.figures) // across)
        below = (height - 34.0 - foot) * (0.36 if page.corrections else 0.0)
        _light(painter, QRectF(0, 34.0, width, height - 34.0 - foot - below), page)
        if page.corrections:
            _settings(painter, QRectF(0, height - foot - below, width, below), page.corrections)
        figures(painter, QRectF(0, height - foot, width, foot), page.figures, across)


def _along() -> Axis:
    """Levels along a root, so that the dark ones do not crowd."""
    ticks = tuple(float(_place(tick)) for tick in _TICKS)
    return Axis(0.06, 1.02, ticks, 0, tuple(f"{tick:g}" for tick in _TICKS))


def _place(percent: float) -> float:
    return float(np.sqrt(percent / 100.0))


def _box(place: QRectF) -> QRectF:
    return QRectF(_LEFT, place.top() + _TITLE, place.width() - _LEFT - _RIGHT, place.height() - _TITLE - _BOTTOM)


def _title(painter: QPainter, place: QRectF, words: str) -> None:
    theme.text(painter, QRectF(8, place.top(), place.width() * 0.6, 18), words, theme.BODY, bold=True)


def _light(painter: QPainter, place: QRectF, page: TonePage) -> None:
    if place.height() < 110.0:
        return
    theme.text(
        painter,
        QRectF(8, place.top(), place.width() * 0.6, 18),
        "Light off the target, in %",
        theme.BODY,
        bold=True,
    )
    if page.presets:
        legend(painter, QRectF(place.width() * 0.5, place.top(), place.width() * 0.5 - 8, 18), page.presets)
    box, along = _box(place), _along()
    shown = [*page.points, *page.ghosts]
    ends = [p.light + sign * p.sd for p in shown for sign in (-1.0, 1.0)]
    ends += [off for line in page.presets for _, off, _ in line.points]
    up = axis_of(np.clip([*ends, 0.0], -_MOST_OFF, _MOST_OFF), 2.0 * _LEAST_OFF, max(2, int(box.height() // 36)))
    painter.save()
    painter.setClipRect(box)
    _band(painter, box, along, up, page)
    painter.restore()
    frame(painter, box, along, up, "level in %, the dark end stretched")
    zero = _y(box, up, 0.0)
    painter.setPen(QPen(theme.TEXT, 1.2))
    painter.drawLine(QPointF(box.left(), zero), QPointF(box.right(), zero))
    for i, line in enumerate(page.presets):
        points = tuple((_place(p), float(np.clip(n, up.low, up.high)), sd) for p, n, sd in line.points)
        draw_line(painter, box, along, up, LineState(line.name, points), pen_of(line, i))
    _ghosts(painter, box, along, up, page.ghosts)
    for point in page.points:
        _point(painter, box, along, up, point)


def _band(painter: QPainter, box: QRectF, along: Axis, up: Axis, page: TonePage) -> None:
    """Where an error of light alone cannot be seen."""
    if not page.band:
        return
    levels, low, high = (np.array(column) for column in zip(*page.band, strict=True))
    xs = box.left() + along.share(np.sqrt(levels / 100.0)) * box.width()
    edges = [(xs, np.clip(low, up.low, up.high)), (xs[::-1], np.clip(high, up.low, up.high)[::-1])]
    corners = [
        QPointF(x, _y(box, up, value))
        for across, values in edges
        for x, value in zip(across.tolist(), values.tolist(), strict=True)
    ]
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.PANEL)
    painter.drawPolygon(QPolygonF(corners))


def _ghosts(painter: QPainter, box: QRectF, along: Axis, up: Axis, ghosts: tuple[TonePoint, ...]) -> None:
    painter.setPen(QPen(theme.FAINT, 1.2))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for ghost in ghosts:
        painter.drawEllipse(_at(box, along, up, ghost), _MARK, _MARK)


def _point(painter: QPainter, box: QRectF, along: Axis, up: Axis, point: TonePoint) -> None:
    centre = _at(box, along, up, point)
    size = point.sd / (up.high - up.low) * box.height()
    if size > _MARK:
        painter.setPen(QPen(theme.QUIET, 1.0))
        top, bottom = max(centre.y() - size, box.top()), min(centre.y() + size, box.bottom())
        painter.drawLine(QPointF(centre.x(), top), QPointF(centre.x(), bottom))
    if point.here:
        painter.setPen(QPen(theme.LINE, 1.0, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(centre.x(), box.top()), QPointF(centre.x(), box.bottom()))
    if point.verdict is None:
        # Near black light is judged by itself: a bar, not a verdict.
        painter.fillRect(QRectF(centre.x() - _MARK, centre.y() - 1.5, 2 * _MARK, 3.0), theme.TEXT)
        return
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.GROUND)
    painter.drawEllipse(centre, _MARK, _MARK)
    theme.verdict_mark(painter, centre, _MARK, point.verdict, theme.BRIGHT)


def _settings(painter: QPainter, place: QRectF, lines: tuple[LineState, ...]) -> None:
    if place.height() < 90.0:
        return
    theme.text(
        painter,
        QRectF(8, place.top(), place.width() * 0.6, 18),
        "Set at each level, in steps",
        theme.BODY,
        bold=True,
    )
    legend(painter, QRectF(place.width() * 0.5, place.top(), place.width() * 0.5 - 8, 18), lines)
    box, along = _box(place), _along()
    values: Array = np.array([n for line in lines for _, n, _ in line.points])
    up = axis_of(values, _LEAST_STEPS, max(2, int(box.height() // 30)))
    frame(painter, box, along, up, "level in %")
    for i, line in enumerate(lines):
        points = tuple((_place(p), n, 0.0) for p, n, _ in line.points if p > 0)
        draw_line(painter, box, along, up, LineState(line.name, points, line.channel), pen_of(line, i))


def _at(box: QRectF, along: Axis, up: Axis, point: TonePoint) -> QPointF:
    x = box.left() + float(along.share(np.array(_place(point.percent)))) * box.width()
    return QPointF(x, _y(box, up, min(max(point.light, up.low), up.high)))


def _y(box: QRectF, up: Axis, value: float) -> float:
    return float(box.bottom() - up.share(np.array(value)) * box.height())
