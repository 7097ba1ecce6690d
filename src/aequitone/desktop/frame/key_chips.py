"""The keys at the foot of the move panel, which can be clicked too."""

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QAbstractButton, QGridLayout, QWidget

from aequitone.desktop import commands
from aequitone.desktop.commands import KeyHint
from aequitone.desktop.frame import theme

_VIEW_COMMANDS = (commands.DARKEN, commands.TABLE, commands.COPY)
_CHOICE_GAP = 11.0
# Seven rows of them must fit below six controls, dial and sliders in a window of 800 pixels.
_HEIGHT = 25


class KeyChip(QAbstractButton):
    """A key and what it does; it can be clicked too."""

    def __init__(self, hint: KeyHint) -> None:
        super().__init__()
        self.hint = hint
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        of = f", {hint.choices[hint.chosen]} of {', '.join(hint.choices)}" if hint.choices else ""
        self.setAccessibleName(f"{hint.words}{of}, key {hint.key}")
        self.setToolTip(tip_of(hint))
        self.setFixedHeight(_HEIGHT)

    def sizeHint(self) -> QSize:
        return QSize(160, _HEIGHT)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        face = theme.font(theme.NOTE, bold=True)
        painter.setFont(face)
        cap = QRectF(1, 2, max(24.0, painter.fontMetrics().horizontalAdvance(self.hint.key) + 14.0), 21)
        painter.setPen(QPen(theme.ACCENT if self.hint.main else theme.FAINT, 1.2))
        painter.setBrush(theme.RAISED if self.isDown() or self.underMouse() else theme.PANEL)
        painter.drawRoundedRect(cap, 3, 3)
        theme.text(
            painter, cap, self.hint.key, theme.NOTE, theme.BRIGHT, bold=True, align=Qt.AlignmentFlag.AlignHCenter
        )
        words = theme.text(
            painter,
            QRectF(cap.right() + 7, 2, self.width() - cap.right() - 8, 21),
            self.hint.words,
            theme.NOTE,
            theme.TEXT if self.hint.main else theme.QUIET,
        )
        self._draw_choices(painter, cap.right() + 7 + words)

    def _draw_choices(self, painter: QPainter, left: float) -> None:
        """What the key goes through, side by side; the one that is chosen is bright and underlined."""
        x = left + _CHOICE_GAP
        for i, choice in enumerate(self.hint.choices):
            chosen = i == self.hint.chosen
            colour = theme.BRIGHT if chosen else theme.QUIET
            room = QRectF(x, 2, self.width() - x, 21)
            used = theme.text(painter, room, choice, theme.NOTE, colour, bold=chosen)
            if chosen:
                painter.setPen(QPen(theme.TEXT, 1.2))
                painter.drawLine(QPointF(x, 21), QPointF(x + used, 21))
            x += used + _CHOICE_GAP


class KeyGrid(QWidget):
    """The keys that work now; those of the view in a row of their own."""

    def __init__(self, command: object) -> None:
        super().__init__()
        self._command = command
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 2, 0, 0)
        self._grid.setHorizontalSpacing(8)
        self._grid.setVerticalSpacing(1)
        self._hints: tuple[KeyHint, ...] = ()

    def show_state(self, hints: tuple[KeyHint, ...]) -> None:
        if hints == self._hints:
            return
        self._hints = hints
        while (item := self._grid.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        view_last = sorted(hints, key=lambda hint: hint.command in _VIEW_COMMANDS)
        for hint, place in zip(view_last, places(hints), strict=True):
            chip = KeyChip(hint)
            chip.clicked.connect(lambda _=False, command=hint.command: self._command.emit(command))  # type: ignore[attr-defined]
            self._grid.addWidget(chip, *place)
            # At once, and not with the next event: the panel asks how much room the keys need.
            chip.show()


def tip_of(hint: KeyHint) -> str:
    """What a key says when the mouse rests on it: its words, whole, what it goes through, and what it does."""
    words = f"{hint.words[:1].upper()}{hint.words[1:]} ({hint.key})"
    choices = "  ·  ".join(f"[{one}]" if i == hint.chosen else one for i, one in enumerate(hint.choices))
    return "\n".join(part for part in (words, choices, hint.command.tip) if part)


def places(hints: tuple[KeyHint, ...]) -> list[tuple[int, int, int, int]]:
    """Row, column, rows and columns of each key on a grid of six: two in a row, those of the view three."""
    places, row, column = [], 0, 0
    moves = [hint for hint in hints if hint.command not in _VIEW_COMMANDS]
    for hint in moves:
        if hint.wide and column:
            row, column = row + 1, 0
        places.append((row, column, 1, 6 if hint.wide else 3))
        column += 6 if hint.wide else 3
        if column >= 6:
            row, column = row + 1, 0
    first = row + 1 if column else row
    return places + [(first, i * 2, 1, 2) for i in range(len(hints) - len(moves))]
