"""The picture of Colour: spokes and beads around white, everyday colours in pairs, and the figures as a table."""

from math import ceil

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen

from aequitone.desktop.frame import theme
from aequitone.desktop.stations.colour.diagram_view import DiagramView
from aequitone.desktop.stations.colour.ramp_strip import ramp_strip
from aequitone.desktop.stations.colour.settings_list import settings
from aequitone.desktop.stations.colour.state import (
    HEADS,
    Bead,
    ColourPage,
    ColourTable,
    DiagramPage,
    Pair,
    Spoke,
)
from aequitone.desktop.widgets.chart import figures
from aequitone.desktop.widgets.chart_page import ChartPage
from aequitone.desktop.widgets.figures_table import FiguresTable
from aequitone.desktop.widgets.moves import MovesPage
from aequitone.desktop.widgets.moves_table import MovesTable
from aequitone.desktop.widgets.page_stack import PageStack

_TOP, _FOOT, _FIGURE = 34.0, 46.0, 190.0
# Room beside and above the full colours, for their names; those to the left and right stand above theirs.
_BESIDE, _ABOVE, _SIDEWAYS = 16.0, 30.0, 0.8
_MARK, _SMALL, _EDGE = 5.0, 3.4, 6.0
_DIAGONAL = 0.7071
_RINGS = (0.25, 0.5, 0.75, 1.0)
# The stroke beside a bead is so many pixels for a per cent of light, and no longer than this.
_LIGHT_SCALE, _LIGHT_MOST = 0.9, 16.0
_LABEL, _ACROSS = 16.0, 7
_MIDDLE, _LEFTS = Qt.AlignmentFlag.AlignHCenter, Qt.AlignmentFlag.AlignLeft
_RIGHTS = Qt.AlignmentFlag.AlignRight


def colour_view() -> PageStack:
    """Make the view of the station."""
    views = {ColourPage: ColourView(), DiagramPage: DiagramView(), ColourTable: ColourFigures()}
    return PageStack({**views, MovesPage: MovesTable()})


class ColourFigures(FiguresTable):
    """The colours as a table."""

    def __init__(self) -> None:
        super().__init__(HEADS, "Colours as a table", wide=(0, 2))

    def show_page(self, page: ColourTable) -> None:
        """Draw a page."""
        self.show_cells(page.rows)


class ColourView(ChartPage):
    """Draws a ColourPage."""

    def __init__(self) -> None:
        super().__init__("Colour")
        self._page = ColourPage()

    def show_page(self, page: ColourPage) -> None:
        """Draw a page."""
        if page != self._page:
            self._page = page
            pairs = [pair for _, kind in page.kinds for pair in kind if pair.seen is not None]
            self._told([f"{pair.name} ΔE {pair.de2000:.1f}" for pair in pairs])

    def paintEvent(self, event: QPaintEvent) -> None:
        page = self._page
        painter, width, height = self._begun(page.subtitle)
        across = max(1, int(width // _FIGURE))
        foot = _FOOT * ceil(len(page.figures) / across)
        room = height - _TOP - foot
        left = min(width * 0.54, max(width * 0.4, room))
        _spokes(painter, QRectF(0, _TOP, left, room), page)
        right = QRectF(left + 14, _TOP, width - left - 14, room)
        if page.ramp is not None:
            ramp_strip(painter, right, page.ramp)
        elif page.settings:
            settings(painter, right, page)
        else:
            _pairs(painter, right, page)
        figures(painter, QRectF(0, height - foot, width, foot), page.figures, across)


def _spokes(painter: QPainter, place: QRectF, page: ColourPage) -> None:
    note = "Stroke: light" + (f"; distances × {page.times:g}" if page.times > 1.0 else "")
    theme.text(painter, QRectF(8, place.top(), place.width() - 8, 16), note, theme.NOTE, theme.QUIET)
    inner = place.adjusted(0, 18, 0, 0)
    radius = min(inner.width() / 2.0 - _BESIDE, inner.height() / 2.0 - _ABOVE)
    if radius < 40.0:
        return
    middle = inner.center()
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for ring in _RINGS:
        painter.setPen(QPen(theme.RAISED, 1.0))
        painter.drawEllipse(middle, ring * radius, ring * radius)
        # Between yellow and red, where no spoke is.
        out = ring * radius * _DIAGONAL
        label = QRectF(middle.x() + out - 26, middle.y() - out - 7, 24, 14)
        theme.text(painter, label, f"{ring * 100:g}", theme.NOTE, theme.QUIET, align=_RIGHTS)
    drawn = [_ends(inner, middle, radius, bead)[1] for bead in (*page.beads, *page.ghosts)]
    for spoke in page.spokes:
        painter.setPen(QPen(theme.LINE, 1.0))
        painter.drawLine(middle, _at(middle, radius, spoke.towards))
        _named(painter, middle, radius, spoke, drawn)
    painter.save()
    # What is too far off to be drawn stands at the edge of the picture, whole.
    painter.setClipRect(inner)
    for ghost in page.ghosts:
        wanted, seen = _ends(inner, middle, radius, ghost)
        painter.setPen(QPen(theme.FAINT, 1.2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawLine(wanted, seen)
        painter.drawEllipse(seen, _SMALL, _SMALL)
    for bead in page.beads:
        _bead(painter, bead, *_ends(inner, middle, radius, bead))
    painter.restore()
    painter.setPen(QPen(theme.TEXT, 1.4))
    for dx, dy in ((4.0, 0.0), (0.0, 4.0)):
        painter.drawLine(QPointF(middle.x() - dx, middle.y() - dy), QPointF(middle.x() + dx, middle.y() + dy))


def _named(painter: QPainter, middle: QPointF, radius: float, spoke: Spoke, drawn: list[QPointF]) -> None:
    """The name of a spoke at its end, where nothing is `drawn`."""
    across, align = spoke.towards[0], _MIDDLE
    end = _at(middle, radius + 20.0, spoke.towards)
    place = QRectF(end.x() - 45, end.y() - 9, 90, 18)
    if abs(across) > _SIDEWAYS:
        end = _at(middle, radius, spoke.towards)
        left = end.x() - 80 if across > 0.0 else end.x() - 10
        above, below = (QRectF(left, end.y() + away, 90, 18) for away in (-27, 9))
        place = below if any(above.contains(point) for point in drawn) else above
        align = _RIGHTS if across > 0.0 else _LEFTS
    theme.text(painter, place, spoke.name, theme.BODY, align=align)


def _at(middle: QPointF, radius: float, place: tuple[float, float]) -> QPointF:
    return QPointF(middle.x() + place[0] * radius, middle.y() - place[1] * radius)


def _ends(place: QRectF, middle: QPointF, radius: float, bead: Bead) -> tuple[QPointF, QPointF]:
    """Where a bead is wanted and where it is drawn: as seen, or on the way there at the edge of the picture."""
    wanted, seen = _at(middle, radius, bead.wanted), _at(middle, radius, bead.seen)
    room, by, share = place.adjusted(_EDGE, _EDGE, -_EDGE, -_EDGE), seen - wanted, 1.0
    sides = ((wanted.x(), by.x(), room.left(), room.right()), (wanted.y(), by.y(), room.top(), room.bottom()))
    for at, step, low, high in sides:
        if step:
            share = min(share, max(((high if step > 0.0 else low) - at) / step, 0.0))
    return wanted, wanted + by * share


def _bead(painter: QPainter, bead: Bead, wanted: QPointF, seen: QPointF) -> None:
    if bead.here:
        painter.setPen(QPen(theme.LINE, 1.0, Qt.PenStyle.DashLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(wanted, 13.0, 13.0)
    painter.setPen(QPen(theme.QUIET, 1.2))
    painter.drawLine(wanted, seen)
    # What is wanted: a small cross, so that a bead upon it is still seen.
    painter.setPen(QPen(theme.QUIET, 1.0))
    for dx, dy in ((3.0, 3.0), (3.0, -3.0)):
        painter.drawLine(QPointF(wanted.x() - dx, wanted.y() - dy), QPointF(wanted.x() + dx, wanted.y() + dy))
    length = max(-_LIGHT_MOST, min(_LIGHT_MOST, bead.light * _LIGHT_SCALE))
    painter.setPen(QPen(theme.TEXT, 2.0))
    beside = seen.x() + _MARK + 4.0
    if abs(length) >= 1.0:
        painter.drawLine(QPointF(beside, seen.y()), QPointF(beside, seen.y() - length))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.GROUND)
    painter.drawEllipse(seen, _MARK, _MARK)
    theme.verdict_mark(painter, seen, _MARK, bead.verdict, theme.BRIGHT)


def _pairs(painter: QPainter, place: QRectF, page: ColourPage) -> None:
    note = "Everyday: wanted left, shown right"
    theme.text(painter, QRectF(place.left(), place.top(), place.width(), 16), note, theme.NOTE, theme.QUIET)
    if not page.kinds:
        return
    inner = place.adjusted(0, 20, 0, 0)
    tall, wide = inner.height() / len(page.kinds), inner.width() / _ACROSS
    if tall < 34.0 or wide < 24.0:
        return
    for i, (kind, pairs) in enumerate(page.kinds):
        top = inner.top() + i * tall
        theme.text(painter, QRectF(inner.left(), top, inner.width(), _LABEL), kind, theme.NOTE, theme.QUIET)
        for j, pair in enumerate(pairs):
            _pair(painter, QRectF(inner.left() + j * wide, top + _LABEL, wide - 6.0, tall - _LABEL - 4.0), pair)


def _pair(painter: QPainter, place: QRectF, pair: Pair) -> None:
    figure = 15.0 if place.height() > 30.0 else 0.0
    box = QRectF(place.left(), place.top(), place.width(), place.height() - figure)
    half = box.width() / 2.0
    painter.fillRect(QRectF(box.left(), box.top(), half, box.height()), QColor(*pair.wanted))
    right = QRectF(box.left() + half, box.top(), half, box.height())
    if pair.seen is not None:
        painter.fillRect(right, QColor(*pair.seen))
    else:
        painter.setPen(QPen(theme.LINE, 1.0))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(right.adjusted(0.5, 0.5, -0.5, -0.5))
    if pair.here:
        painter.setPen(QPen(theme.BRIGHT, 1.4, Qt.PenStyle.DashLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(box.adjusted(-2.0, -2.0, 2.0, 2.0))
    if figure and pair.verdict is not None:
        theme.verdict_mark(painter, QPointF(box.left() + 5.0, box.bottom() + 8.5), 3.6, pair.verdict, theme.TEXT)
        below = QRectF(box.left() + 13.0, box.bottom() + 1.0, box.width() - 13.0, 15.0)
        theme.text(painter, below, f"{pair.de2000:.1f}", theme.NOTE, theme.TEXT, align=_LEFTS)
