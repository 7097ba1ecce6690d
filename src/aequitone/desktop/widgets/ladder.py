"""The grey ladder: a row a level, bright above dark."""

from math import ceil

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from aequitone.desktop.frame import theme
from aequitone.desktop.frame.tips import PlaceTips
from aequitone.desktop.widgets.ladder_state import LadderRow, LadderState, measured_light, short_light
from aequitone.desktop.widgets.ladder_text import row_words
from aequitone.figures import signed
from aequitone.reference import Verdict

_TOP, _HEAD = 30.0, 30.0
_FLOOR_ROOM = 22.0
_DIAL_SCALE = 0.012
_ROOM_FOR_BRACKETS = 600.0
_ROOM_FOR_WORDS = 560.0
_TICK_ROOM, _ROOM_FOR_LIGHT = 15.0, 36.0
RIGHT, CENTRE = Qt.AlignmentFlag.AlignRight, Qt.AlignmentFlag.AlignHCenter


class Ladder(QWidget):
    """Draws a LadderState, as large as it is given room."""

    def __init__(self) -> None:
        super().__init__()
        self._state = LadderState("", "", ())
        self.setMinimumSize(420, 260)
        PlaceTips(self, self._tip_at)

    def show_page(self, state: LadderState) -> None:
        if state == self._state:
            return
        before, self._state = self._state, state
        self.setAccessibleName(f"{state.title}, {state.subtitle}")
        read = [row for row in state.rows if row.delta is not None]
        self.setAccessibleDescription(
            "; ".join(f"{row.percent:g} %: ΔE {row.delta:.1f}, {row.word}" for row in read)
        )
        if _frame(before) != _frame(state):
            self.update()
            return
        for i, (old, new) in enumerate(zip(before.rows, state.rows, strict=True)):
            if old != new:
                self.update(self._row_place(i).toAlignedRect())

    def _tip_at(self, place: QPointF) -> str:
        state = self._state
        return next(
            (row_words(state, row) for i, row in enumerate(state.rows) if self._row_place(i).contains(place)), ""
        )

    def _row_place(self, i: int) -> QRectF:
        top = _TOP + _HEAD
        height = (self.height() - top - _FLOOR_ROOM) / len(self._state.rows)
        return QRectF(0, top + i * height, self.width(), height)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        columns = _Columns(float(self.width()), bool(self._state.brackets))
        dirty = QRectF(event.rect())
        if dirty.top() < _TOP + _HEAD:
            self._heads(painter, columns)
        rows = self._state.rows
        if not rows:
            return
        reach, axis = _light_reach(rows), _axis_end(rows)
        for i, row in enumerate(rows):
            place = self._row_place(i)
            # One row changes at a time while a pass runs; the others are left as they are.
            if place.intersects(dirty):
                self._row(painter, columns, row, place, reach, axis)
        last = self._row_place(len(rows) - 1)
        if dirty.bottom() > last.bottom():
            self._axis(painter, columns, last.bottom(), axis)
        self._brackets(painter, columns, _TOP + _HEAD, last.height())

    def _heads(self, painter: QPainter, columns: "_Columns") -> None:
        width = theme.text(
            painter, QRectF(4, 0, 200, _TOP), self._state.title, theme.TITLE, theme.BRIGHT, bold=True
        )
        legend_room = 330.0 if self.width() > 760 else 0.0
        theme.text(
            painter,
            QRectF(4 + width + 16, 2, self.width() - width - legend_room - 24, _TOP - 2),
            self._state.subtitle,
            theme.BODY,
            theme.QUIET,
        )
        if legend_room:
            x = self.width() - legend_room
            for verdict, room in ((Verdict.NOT_VISIBLE, 92), (Verdict.SIDE_BY_SIDE, 138), (Verdict.VISIBLE, 90)):
                theme.verdict_mark(painter, QPointF(x + 6, _TOP / 2 + 1), 5.0, verdict, theme.QUIET)
                theme.text(painter, QRectF(x + 16, 2, room - 16, _TOP - 2), verdict.value, theme.NOTE, theme.QUIET)
                x += room
        for words, place, align in (
            ("Level", columns.level, RIGHT),
            ("Target | seen", columns.swatch, Qt.AlignmentFlag.AlignLeft),
            ("Light, % off", columns.light, CENTRE),
            ("Cast", columns.cast, Qt.AlignmentFlag.AlignLeft),
            (self._state.formula.value, columns.delta, Qt.AlignmentFlag.AlignLeft),
        ):
            box = QRectF(place[0], _TOP, place[1], _HEAD - 4)
            theme.text(painter, box, words, theme.NOTE, theme.QUIET, align=align)
        if columns.bracket[1] > 0:
            theme.text(
                painter,
                QRectF(columns.bracket[0] - 34, _TOP, columns.bracket[1] + 28, _HEAD - 4),
                "Reached by",
                theme.NOTE,
                theme.QUIET,
                align=RIGHT,
            )

    def _row(
        self, painter: QPainter, columns: "_Columns", row: LadderRow, place: QRectF, reach: float, axis: float
    ) -> None:
        if row.here:
            painter.fillRect(place.adjusted(0, 1, 0, -1), theme.RAISED)
            painter.fillRect(QRectF(0, place.top() + 1, 3, place.height() - 2), theme.BRIGHT)
        middle = place.center().y()
        told = row.meant is not None and place.height() >= _ROOM_FOR_LIGHT
        level = QRectF(columns.level[0], place.top(), columns.level[1], place.height())
        if row.meant is not None and told:
            light = QRectF(0.0, middle, columns.level[1], 16)
            theme.text(painter, light, short_light(row.meant), theme.NOTE, theme.QUIET, align=RIGHT)
        theme.text(
            painter,
            level.adjusted(0, 0, 0, -16) if told else level,
            f"{row.percent:g}",
            theme.BODY,
            theme.BRIGHT if row.here else theme.TEXT,
            bold=True,
            align=RIGHT,
        )
        tall = min(place.height() - 6.0, 34.0)
        swatch = QRectF(columns.swatch[0], middle - tall / 2, columns.swatch[1] / 2, tall)
        painter.fillRect(swatch, QColor(*row.target_rgb))
        other = swatch.translated(swatch.width(), 0)
        if row.seen_rgb is not None:
            painter.fillRect(other, QColor(*row.seen_rgb))
        elif row.ghost_rgb is not None:
            # As found, hollow: not what is seen now.
            painter.setPen(QPen(QColor(*row.ghost_rgb), 5.0))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(other.adjusted(4.5, 2.5, -2.5, -2.5))
        else:
            painter.setPen(QPen(theme.LINE, 1.0, Qt.PenStyle.DotLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(other.adjusted(0.5, 0.5, -0.5, -0.5))
        self._light(painter, columns, row, middle, reach)
        if row.cast is not None:
            self._cast(painter, columns, row, middle, min(14.0, place.height() / 2 - 3))
        self._delta(painter, columns, row, middle, axis)

    @staticmethod
    def _light(painter: QPainter, columns: "_Columns", row: LadderRow, middle: float, reach: float) -> None:
        zero = columns.light[0] + columns.light[1] / 2
        if row.luminance is not None and row.light is None:
            theme.text(
                painter,
                QRectF(columns.light[0] - 20, middle - 9, columns.light[1] + 40, 18),
                measured_light(row.luminance),
                theme.NOTE,
                theme.QUIET,
                align=CENTRE,
            )
            return
        painter.setPen(QPen(theme.LINE, 1.0))
        painter.drawLine(QPointF(zero, middle - 12), QPointF(zero, middle + 12))
        if row.light is None:
            return
        room = max(6.0, columns.light[1] / 2 - 44)
        length = room * min(1.0, abs(row.light) / reach)
        bar = QRectF(zero if row.light > 0 else zero - length, middle - 4, max(length, 1.0), 8)
        painter.fillRect(bar, theme.QUIET)
        words = signed(row.light)
        if row.light >= 0:
            theme.text(painter, QRectF(bar.right() + 5, middle - 9, 60, 18), words, theme.NOTE)
        else:
            theme.text(painter, QRectF(bar.left() - 65, middle - 9, 60, 18), words, theme.NOTE, align=RIGHT)

    @staticmethod
    def _cast(painter: QPainter, columns: "_Columns", row: LadderRow, middle: float, radius: float) -> None:
        assert row.cast is not None
        centre = QPointF(columns.cast[0] + 15, middle)
        painter.setPen(QPen(theme.LINE, 1.0))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(centre, radius, radius)
        warm, green = (max(-1.0, min(1.0, value / _DIAL_SCALE)) for value in row.cast)
        tip = QPointF(centre.x() + warm * radius, centre.y() - green * radius)
        painter.setPen(QPen(theme.TEXT, 1.4))
        painter.drawLine(centre, tip)
        painter.setBrush(theme.TEXT)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawEllipse(tip, 2.6, 2.6)
        theme.text(
            painter,
            QRectF(columns.cast[0] + 36, middle - 9, columns.cast[1] - 36, 18),
            row.word,
            theme.NOTE,
            theme.QUIET,
        )

    @staticmethod
    def _delta(painter: QPainter, columns: "_Columns", row: LadderRow, middle: float, axis: float) -> None:
        left, width = columns.delta
        if row.percent == 0.0:
            return
        if row.beyond:
            words = QRectF(left, middle - 9, width, 18)
            theme.text(painter, words, "beyond the screen", theme.NOTE, theme.QUIET)
            return
        painter.setPen(QPen(theme.LINE, 1.0))
        painter.drawLine(QPointF(left, middle), QPointF(left + width, middle))
        for tick in (1.0, 3.0):
            x = left + width * tick / axis
            painter.drawLine(QPointF(x, middle - 4), QPointF(x, middle + 4))
        if row.ghost is not None:
            painter.setPen(QPen(theme.FAINT, 1.8))
            painter.setBrush(theme.GROUND)
            painter.drawEllipse(QPointF(left + width * min(1.0, row.ghost / axis), middle), 4.5, 4.5)
        if row.delta is None:
            return
        x = left + width * min(1.0, row.delta / axis)
        reach = width * row.sd / axis
        painter.setPen(QPen(theme.TEXT, 1.6))
        painter.drawLine(QPointF(max(left, x - reach), middle), QPointF(min(left + width, x + reach), middle))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.BRIGHT)
        painter.drawEllipse(QPointF(x, middle), 4.5, 4.5)
        theme.text(
            painter, QRectF(left + width + 6, middle - 9, 32, 18), f"{row.delta:.1f}", theme.NOTE, align=RIGHT
        )
        if row.verdict is not None:
            theme.verdict_mark(painter, QPointF(left + width + 54, middle), 6.5, row.verdict)

    @staticmethod
    def _axis(painter: QPainter, columns: "_Columns", top: float, axis: float) -> None:
        left, width = columns.delta
        ticks = sorted({0.0, 1.0, 3.0, axis} | ({axis / 2} if axis > 6 else set()))
        drawn = -_TICK_ROOM
        for tick in ticks:
            if width * tick / axis - drawn < _TICK_ROOM:
                continue
            drawn = width * tick / axis
            box = QRectF(left + width * tick / axis - 20, top, 40, _FLOOR_ROOM - 4)
            theme.text(painter, box, f"{tick:g}", theme.NOTE, theme.QUIET, align=CENTRE)

    def _brackets(self, painter: QPainter, columns: "_Columns", top: float, height: float) -> None:
        percents = [row.percent for row in self._state.rows]
        for i, (name, high, low) in enumerate(self._state.brackets if columns.bracket[1] > 0 else ()):
            inside = [j for j, percent in enumerate(percents) if low <= percent <= high]
            if not inside:
                continue
            active = self._state.active in (name, "both")
            colour = theme.ACCENT if active else theme.FAINT
            x = columns.bracket[0] + 8 + i * 26
            a, b = top + inside[0] * height + 4, top + (inside[-1] + 1) * height - 4
            painter.setPen(QPen(colour, 1.6))
            painter.drawLine(QPointF(x, a), QPointF(x, b))
            painter.drawLine(QPointF(x - 6, a), QPointF(x, a))
            painter.drawLine(QPointF(x - 6, b), QPointF(x, b))
            painter.save()
            painter.translate(x + 12, (a + b) / 2)
            painter.rotate(90)
            theme.text(
                painter, QRectF(-40, -9, 80, 18), name, theme.NOTE, colour if active else theme.QUIET, align=CENTRE
            )
            painter.restore()


def _frame(state: LadderState) -> tuple[object, ...]:
    """What every row is drawn by: when it changes, all of them do."""
    rows = state.rows
    return (
        state.title,
        state.subtitle,
        state.brackets,
        state.active,
        state.formula,
        len(rows),
        _light_reach(rows),
        _axis_end(rows),
    )


class _Columns:
    """Left edge and width of each column for a width of the ladder."""

    def __init__(self, width: float, brackets: bool) -> None:
        # In a narrow window the figures come first.
        room = 62.0 if brackets and width > _ROOM_FOR_BRACKETS else 0.0
        free = width - 44 - 16 - room
        self.level = (0.0, 40.0)
        self.swatch = (56.0, free * 0.17)
        self.light = (self.swatch[0] + self.swatch[1] + 12, free * 0.25)
        # In a narrow window the cast keeps its dial and gives up its word.
        cast = max(112.0, free * 0.17) if width > _ROOM_FOR_WORDS else 40.0
        self.cast = (self.light[0] + self.light[1] + 12, cast)
        left = self.cast[0] + self.cast[1] + 8
        self.delta = (left, max(60.0, width - room - 76 - left))
        self.bracket = (width - room + 6, room)


def _light_reach(rows: tuple[LadderRow, ...]) -> float:
    """The light error, in %, that fills half the column."""
    return max(5.0, *(abs(row.light) for row in rows if row.light is not None), 0.0)


def _axis_end(rows: tuple[LadderRow, ...]) -> float:
    """The ΔE at the right end of the axis."""
    largest = max((v for row in rows for v in (row.delta, row.ghost) if v is not None), default=0.0)
    return float(max(5, ceil(largest)))
