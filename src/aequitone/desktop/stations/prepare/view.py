"""The checklist of Prepare: a row a line, its mark by shape, what was said of it."""

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from aequitone.desktop.frame import theme
from aequitone.desktop.stations.prepare.state import ChecklistPage, ChecklistRow, Mark
from aequitone.desktop.widgets.axis import axis_of
from aequitone.desktop.widgets.chart import draw_line, frame, pen_of
from aequitone.desktop.widgets.chart_state import LineState

_ROW, _HEAD = 32.0, 40.0
_TITLE_SHARE = 0.52
_BOX = 36.0
# The strip below the list, where there is so much room; its left edge; the band of a screen that has settled, %.
_STRIP, _LEAST_FOR_STRIP, _LEFT, _SETTLED = 190.0, 420.0, 66.0, 0.5


class ChecklistView(QWidget):
    """Draws rows; where they do not all fit, those around the present one."""

    chosen = Signal(int)
    ticked = Signal(int)
    """The box of a row was clicked."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Checklist")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self._rows: tuple[ChecklistRow, ...] = ()
        self._drift: LineState | None = None

    def show_page(self, page: ChecklistPage) -> None:
        """Draw the checklist."""
        rows = page.rows
        if rows == self._rows and page.drift == self._drift:
            return
        self._rows, self._drift = rows, page.drift
        here = next((row for row in rows if row.here), None)
        if here is not None:
            self.setAccessibleDescription(f"{here.title}: {here.mark.value}. {here.detail}")
        self.update()

    @property
    def _room(self) -> int:
        return max(1, int((self.height() - _HEAD - self._strip) // _ROW))

    @property
    def _strip(self) -> float:
        """The height of what is drawn below the list."""
        return _STRIP if self._drift is not None and self.height() > _LEAST_FOR_STRIP else 0.0

    @property
    def _first(self) -> int:
        here = next((i for i, row in enumerate(self._rows) if row.here), 0)
        return min(max(0, here - self._room // 2), max(0, len(self._rows) - self._room))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        row = self._first + int((event.position().y() - _HEAD) // _ROW)
        if event.position().y() >= _HEAD and 0 <= row < len(self._rows):
            (self.ticked if event.position().x() < _BOX else self.chosen).emit(row)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        width = float(self.width())
        done = sum(row.mark is not Mark.OPEN for row in self._rows)
        theme.text(painter, QRectF(4, 4, width / 2, 26), "Checklist", theme.TITLE, theme.BRIGHT, bold=True)
        told = f"{done} of {len(self._rows)} answered"
        right = Qt.AlignmentFlag.AlignRight
        theme.text(painter, QRectF(width / 2, 4, width / 2 - 8, 26), told, theme.BODY, theme.QUIET, align=right)
        first, room = self._first, self._room
        for i, row in enumerate(self._rows[first : first + room]):
            self._row(painter, QRectF(0.0, _HEAD + i * _ROW, width, _ROW), row)
        hidden = len(self._rows) - first - room
        if self._drift is not None and self._strip:
            _drift(painter, QRectF(0.0, self.height() - self._strip, width, self._strip), self._drift)
        if hidden > 0:
            # Beside the strip's title, where there is one.
            top = self.height() - (self._strip or 16.0)
            place = QRectF(0, top, width - 8, 16)
            theme.text(painter, place, f"{hidden} more below", theme.NOTE, theme.QUIET, align=right)

    @staticmethod
    def _row(painter: QPainter, place: QRectF, row: ChecklistRow) -> None:
        if row.here:
            painter.fillRect(place, theme.PANEL)
            painter.fillRect(QRectF(place.left(), place.top(), 3.0, place.height()), theme.ACCENT)
        painter.setPen(QPen(theme.LINE, 1.0))
        painter.drawLine(place.bottomLeft(), place.bottomRight())
        _mark(painter, QPointF(place.left() + 20.0, place.center().y()), row.mark)
        # A title is never cut for what was said of it.
        title = QRectF(place.left() + 38.0, place.top(), place.width() - 46.0, place.height())
        open_ = row.mark is Mark.OPEN
        used = theme.text(
            painter, title, row.title, theme.BODY, theme.BRIGHT if open_ else theme.TEXT, bold=row.here
        )
        left = max(title.left() + used + 16.0, place.left() + place.width() * _TITLE_SHARE)
        detail = QRectF(left, place.top(), place.right() - 8.0 - left, place.height())
        if detail.width() > 0.0:
            theme.text(painter, detail, row.detail, theme.NOTE, theme.QUIET)


def _drift(painter: QPainter, place: QRectF, line: LineState) -> None:
    """White over time, with the band within which it counts as settled."""
    theme.text(painter, QRectF(8, place.top(), place.width() / 2, 18), "White while warming up, %", theme.NOTE)
    box = QRectF(_LEFT, place.top() + 22.0, place.width() - _LEFT - 16.0, place.height() - 62.0)
    minutes, off = (np.array(column) for column in list(zip(*line.points, strict=True))[:2])
    along = axis_of(minutes, 1.0, max(2, int(box.width() // 90)))
    up = axis_of(np.append(off, (-_SETTLED, _SETTLED)), 2.0 * _SETTLED, max(2, int(box.height() // 34)))
    low, high = (float(box.bottom() - up.share(np.array(v)) * box.height()) for v in (-_SETTLED, _SETTLED))
    painter.fillRect(QRectF(box.left(), high, box.width(), low - high), theme.RAISED)
    frame(painter, box, along, up, "minutes")
    draw_line(painter, box, along, up, line, pen_of(line, 0))


def _mark(painter: QPainter, centre: QPointF, mark: Mark) -> None:
    """An empty square, a tick, a bar, or a dot: told apart without colour."""
    box = QRectF(centre.x() - 6.5, centre.y() - 6.5, 13.0, 13.0)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(theme.FAINT if mark is not Mark.OPEN else theme.TEXT, 1.4))
    if mark in (Mark.OPEN, Mark.DONE):
        painter.drawRect(box)
    painter.setPen(QPen(theme.BRIGHT, 2.0))
    if mark is Mark.DONE:
        painter.drawPolyline(
            [QPointF(box.left() + 2.5, centre.y()), QPointF(centre.x() - 0.5, box.bottom() - 2.5),
             QPointF(box.right() + 2.0, box.top() - 1.0)]
        )  # fmt: skip
    elif mark is Mark.LEFT:
        painter.drawLine(QPointF(box.left(), centre.y()), QPointF(box.right(), centre.y()))
    elif mark is Mark.NOT_HERE:
        painter.setBrush(theme.FAINT)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawEllipse(centre, 2.5, 2.5)
