"""The strip on top, the route under it, and the instruments line at the foot."""

import itertools

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from aequitone.desktop.frame import theme
from aequitone.desktop.frame.state import FootState, RouteState, RouteStop, StripState
from aequitone.desktop.frame.tips import PlaceTips

_MARGIN = 20.0
# Half a stop's width from which on its key stands beside its minutes.
_ROOM_FOR_KEY = 66.0
RIGHT = Qt.AlignmentFlag.AlignRight
CENTRE = Qt.AlignmentFlag.AlignHCenter


class Strip(QWidget):
    """Who, where, which screen, input, memory and target; time; whether all is saved."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(34)
        self._state = StripState("", "", "", "")

    def show_state(self, state: StripState) -> None:
        if state != self._state:
            self._state = state
            self.setAccessibleName(f"{state.who}. {state.what}. {state.time}. {state.saved}")
            # Whole, where the line is cut.
            self.setToolTip("\n".join(part for part in (state.who, state.what, state.time, state.saved) if part))
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        width, height = float(self.width()), float(self.height())
        right = "   ·   ".join(part for part in (self._state.time, self._state.saved) if part)
        right_width = min(width * 0.34, 330.0)
        theme.text(
            painter,
            QRectF(width - right_width - _MARGIN, 0, right_width, height),
            right,
            theme.BODY,
            theme.QUIET,
            align=RIGHT,
        )
        who = theme.text(
            painter, QRectF(_MARGIN, 0, width * 0.30, height), self._state.who, theme.BODY, theme.BRIGHT, bold=True
        )
        left = _MARGIN + who + 36.0
        theme.text(
            painter,
            QRectF(left, 0, width - right_width - _MARGIN * 2 - left, height),
            self._state.what,
            theme.BODY,
            theme.QUIET,
        )


class Route(QWidget):
    """The stations of the visit on one line, each with its minutes."""

    chosen = Signal(str)
    """The id of a station."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(68)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self._state = RouteState((), "")
        PlaceTips(self, self._tip_at)

    def show_state(self, state: RouteState) -> None:
        if state != self._state:
            self._state = state
            self.setAccessibleName(
                "Route: " + ", ".join(f"{stop.title}{' done' if stop.done else ''}" for stop in state.stops)
            )
            self.update()

    def _places(self) -> list[tuple[RouteStop, float]]:
        stops = self._state.stops
        if not stops:
            return []
        step = (self.width() - 2 * _MARGIN) / len(stops)
        return [(stop, _MARGIN + step * (i + 0.5)) for i, stop in enumerate(stops)]

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        places = self._places()
        for (stop, x), (_, next_x) in itertools.pairwise(places):
            painter.setPen(QPen(theme.TEXT if stop.done else theme.LINE, 2.0))
            painter.drawLine(QPointF(x + 10, 14), QPointF(next_x - 10, 14))
        half = (self.width() - 2 * _MARGIN) / max(1, len(places)) / 2
        for stop, x in places:
            here = stop.station == self._state.here
            self._dot(painter, QPointF(x, 14), stop, here)
            colour = theme.BRIGHT if here else theme.TEXT if stop.reachable else theme.QUIET
            theme.text(
                painter,
                QRectF(x - half, 28, 2 * half, 20),
                stop.title,
                theme.BODY,
                colour,
                bold=here,
                align=CENTRE,
            )
            # Where there is little room the key goes without saying: they are counted from the left.
            key = stop.key if half >= _ROOM_FOR_KEY else ""
            below = "   ".join(part for part in (stop.minutes, key) if part)
            theme.text(painter, QRectF(x - half, 48, 2 * half, 18), below, theme.NOTE, theme.QUIET, align=CENTRE)

    @staticmethod
    def _dot(painter: QPainter, centre: QPointF, stop: RouteStop, here: bool) -> None:
        painter.setPen(QPen(theme.TEXT if stop.done or here else theme.FAINT, 1.6))
        painter.setBrush(theme.TEXT if stop.done else theme.GROUND)
        painter.drawEllipse(centre, 6.0, 6.0)
        if here:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.BRIGHT, 1.6))
            painter.drawEllipse(centre, 10.0, 10.0)

    def _stop_at(self, place: QPointF) -> RouteStop | None:
        nearest = min(self._places(), key=lambda each: abs(each[1] - place.x()), default=None)
        return nearest[0] if nearest is not None else None

    def _tip_at(self, place: QPointF) -> str:
        stop = self._stop_at(place)
        if stop is None:
            return ""
        title = f"{stop.title} ({stop.key})" if stop.key else stop.title
        state = "Done." if stop.done else "" if stop.reachable else "Enter the visit first."
        return "\n".join(part for part in (title, stop.minutes, state) if part)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        stop = self._stop_at(event.position())
        if stop is not None and stop.reachable and event.button() == Qt.MouseButton.LeftButton:
            self.chosen.emit(stop.station)


class StatusLine(QWidget):
    """The instruments in one line."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(30)
        self._state = FootState("", "", "")

    def show_state(self, state: FootState) -> None:
        if state != self._state:
            self._state = state
            self.setAccessibleName(f"{state.meter}. {state.patterns}. {state.link}")
            self.setToolTip("\n".join(part for part in (state.meter, state.patterns, state.link) if part))
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        width, height = float(self.width()), float(self.height())
        painter.setPen(QPen(theme.LINE, 1.0))
        painter.drawLine(QPointF(_MARGIN, 1), QPointF(width - _MARGIN, 1))
        third = (width - 2 * _MARGIN) / 3
        parts = (
            (self._state.meter, Qt.AlignmentFlag.AlignLeft),
            (self._state.patterns, CENTRE),
            (self._state.link, RIGHT),
        )
        for i, (words, align) in enumerate(parts):
            place = QRectF(_MARGIN + i * third, 2, third - 8, height - 2)
            theme.text(painter, place, words, theme.NOTE, theme.QUIET, align=align)
