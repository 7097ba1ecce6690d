"""The move panel: one thing to do now, the live reading, what to expect, and the keys."""

from PySide6.QtCore import QEvent, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from aequitone.desktop.frame import theme
from aequitone.desktop.frame.key_chips import KeyGrid
from aequitone.desktop.frame.panel_state import BigLine, DeltaFigure, DialState, PanelState, ReadingFigure
from aequitone.desktop.widgets.dial import Dial, Sliders
from aequitone.figures import signed, tied

WIDTH = 376
# Names of controls that are too long differ at their ends as often as at their beginnings.
MIDDLE = Qt.TextElideMode.ElideMiddle
_DETAIL_ROOM = 52.0
_MARGIN, _GAP = 18, 10
# Below this height the pictures give way, so that the move and the keys stay whole.
_ROOM_FOR_PICTURES = 560
_FEW_KEYS, _LONG_MOVE = 9, 5
# Of the letters of a move, the largest first.
_SIZES = (theme.MOVE, 23, 19, 16)
_RIGHT = Qt.AlignmentFlag.AlignRight


class MovePanel(QFrame):
    """Draws a PanelState; tells of keys clicked and readings typed."""

    command = Signal(object)
    """The Command of a key that was clicked."""
    typed = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setFixedWidth(WIDTH)
        self.setObjectName("panel")
        self.setStyleSheet(f"#panel {{ background: {theme.PANEL.name()}; border-radius: 4px; }}")
        self._state: PanelState | None = None
        self._heading = _label(theme.BODY, bold=True)
        self._lines = _BigLines()
        self._sentence = _label(theme.BODY)
        self._sentence.setWordWrap(True)
        self._reading = _Reading()
        self._dial, self._sliders = Dial(), Sliders()
        self._entry = ReadingEntry()
        self._prompt = _label(theme.NOTE)
        self._objection = _label(theme.BODY)
        self._objection.setWordWrap(True)
        self._progress = _Progress()
        self._keys = KeyGrid(self.command)
        self._outlook = _label(theme.NOTE)
        self._outlook.setWordWrap(True)

        layout = QVBoxLayout(self)
        layout.setContentsMargins(_MARGIN, 10, _MARGIN, 8)
        layout.setSpacing(6)
        top: tuple[QWidget, ...] = (
            self._heading,
            self._lines,
            self._sentence,
            self._progress,
            _Rule(),
            self._reading,
        )
        for widget in top:
            layout.addWidget(widget)
        self._pictures = QHBoxLayout()
        self._pictures.addWidget(self._dial, 4)
        self._pictures.addWidget(self._sliders, 5)
        layout.addLayout(self._pictures)
        layout.addWidget(self._prompt)
        layout.addWidget(self._entry)
        layout.addWidget(self._objection)
        layout.addStretch(1)
        layout.addWidget(_Rule())
        layout.addWidget(self._keys)
        layout.addWidget(self._outlook)

    def show_state(self, state: PanelState) -> None:
        if state == self._state:
            return
        before, self._state = self._state, state
        colour = theme.ACCENT if state.yours else theme.QUIET
        self._heading.setText(state.heading)
        self._heading.setStyleSheet(f"color: {colour.name()};")
        self._lines.show_state(state.lines)
        _set(self._sentence, state.sentence)
        self._progress.show_state(state.progress)
        self._dial.show_state(state.dial or DialState(()))
        self._sliders.show_state(state.sliders)
        roomy = self._show_figures(state)
        self._show_entry(state, before)
        self._keys.show_state(state.keys)
        # In the smallest window many keys below a figure need the last line.
        bare = state.delta is None and state.reading is None and len(state.lines) < _LONG_MOVE
        _set(self._outlook, state.outlook if roomy or bare or len(state.keys) <= _FEW_KEYS else "")
        self._make_room()

    def _show_figures(self, state: PanelState) -> bool:
        """Show figure and pictures as far as the window's height lets them; returns whether it does."""
        roomy = self.height() >= _ROOM_FOR_PICTURES
        # In a small window a long move needs the room of its figure, which its sentence has too.
        self._reading.show_state(state.reading, state.delta if roomy or len(state.lines) < _LONG_MOVE else None)
        self._dial.setVisible(roomy and state.dial is not None)
        self._sliders.setVisible(roomy and bool(state.sliders))
        return roomy

    def _make_room(self) -> None:
        """Give up the pictures, and then the figure, where the words and keys of a long move need their room."""
        layout, state = self.layout(), self._state
        assert layout is not None and state is not None

        def is_cut() -> bool:
            # What was hidden just now still has its room in a layout that is not told.
            self._pictures.invalidate()
            layout.invalidate()
            return layout.minimumHeightForWidth(self.width()) > self.height()

        if not (self._dial.isHidden() and self._sliders.isHidden()) and is_cut():
            self._dial.hide()
            self._sliders.hide()
        if state.reading is None and state.delta is not None and state.sentence and is_cut():
            self._reading.show_state(None, None)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        if self._state is not None:
            self._show_figures(self._state)
            self._make_room()

    def send_entry(self) -> None:
        """Hand over what is typed."""
        self.typed.emit(self._entry.text())

    def _show_entry(self, state: PanelState, before: PanelState | None) -> None:
        entry = state.entry
        _set(self._prompt, entry.prompt if entry else "")
        _set(self._objection, entry.objection if entry else "")
        self._entry.setVisible(entry is not None)
        if entry is None:
            self._entry.clear()
            return
        self._entry.setAccessibleName(entry.prompt)
        self._entry.letters = entry.letters
        self._entry.setPlaceholderText("" if entry.letters else "x  y  Y")
        if before is None or before.entry is None or before.entry.prompt != entry.prompt:
            self._entry.setText(entry.text)
            self._entry.selectAll()
        self._entry.setFocus()


class ReadingEntry(QLineEdit):
    """Takes figures only, so that the letters stay free for the keys of the panel, unless words are asked for."""

    def __init__(self) -> None:
        super().__init__()
        self.letters = False
        self.setFont(theme.font(20))

    def event(self, event: QEvent) -> bool:
        # A line edit claims every letter for itself before the window's keys are asked; this one does not.
        if (
            event.type() == QEvent.Type.ShortcutOverride
            and isinstance(event, QKeyEvent)
            and event.text().isalpha()
            and not self.letters
        ):
            event.ignore()
            return False
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.text().isalpha() and not self.letters:
            event.ignore()
            return
        super().keyPressEvent(event)


class _BigLines(QWidget):
    def __init__(self) -> None:
        super().__init__()
        self._lines: tuple[BigLine, ...] = ()

    def show_state(self, lines: tuple[BigLine, ...]) -> None:
        shown = _below_one_another(lines)
        if shown == self._lines:
            return
        self._lines = shown
        self.setAccessibleName(", ".join(f"{line.label} {line.amount}".strip() for line in lines))
        # Whole, where a name is cut.
        self.setToolTip("\n".join(f"{line.label}  {line.amount}  {line.detail}".strip() for line in lines))
        self.setVisible(bool(shown))
        self.setFixedHeight(round(self._pitch * len(shown)))
        self.update()

    @property
    def _size(self) -> int:
        most = theme.MOVE if len(self._lines) < 3 else 23 if len(self._lines) < 5 else 19
        # Smaller rather than cut: names of a colour's controls differ in their last letters.
        sizes = [size for size in _SIZES if size <= most]
        return next((size for size in sizes if all(_fits(line, size) for line in self._lines)), sizes[-1])

    @property
    def _pitch(self) -> float:
        # Five controls and all the keys must fit below one another.
        return self._size * (1.32 if len(self._lines) < 5 else 1.14)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        for i, line in enumerate(self._lines):
            place = QRectF(0, i * self._pitch, self.width(), self._pitch)
            if line.detail:
                theme.text(painter, place, line.detail, theme.BODY, theme.QUIET, align=_RIGHT)
                place = place.adjusted(0, 0, -_DETAIL_ROOM, 0)
            amount = theme.text(painter, place, line.amount, self._size, theme.BRIGHT, bold=True, align=_RIGHT)
            room = place.adjusted(0, 0, -amount - _GAP if amount else 0, 0)
            theme.text(painter, room, line.label, self._size, elide=MIDDLE)


def _below_one_another(lines: tuple[BigLine, ...]) -> tuple[BigLine, ...]:
    """One line as two, where its name and where to turn it do not fit beside one another."""
    if len(lines) != 1 or not lines[0].amount:
        return lines
    (line,) = lines
    if _fits(line, theme.MOVE):
        return lines
    return BigLine(line.label), BigLine("", line.amount, line.detail)


def _fits(line: BigLine, size: int) -> bool:
    """Whether a line's name is whole beside where to turn it, in letters of a size."""
    room = WIDTH - 2 * _MARGIN - (_DETAIL_ROOM if line.detail else 0.0)
    amount = _GAP + theme.advance(line.amount, size, bold=True) if line.amount else 0.0
    return theme.advance(line.label, size) + amount <= room


class _Reading(QWidget):
    """The live figure, its target, and ΔE with its verdict."""

    def __init__(self) -> None:
        super().__init__()
        self._reading: ReadingFigure | None = None
        self._delta: DeltaFigure | None = None
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)

    def show_state(self, reading: ReadingFigure | None, delta: DeltaFigure | None) -> None:
        if (reading, delta) == (self._reading, self._delta):
            return
        self._reading, self._delta = reading, delta
        self.setVisible(reading is not None or delta is not None)
        self.setFixedHeight((88 if reading else 0) + (54 if delta else 0))
        parts = []
        if reading:
            parts.append(f"{reading.label}: {reading.luminance:.4g} cd/m²")
        if delta:
            parts.append(f"{delta.label}: {delta.value:.2f} plus or minus {delta.sd:.2f}, {delta.verdict.value}")
        self.setAccessibleName(". ".join(parts))
        self.setToolTip("\n".join(parts))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        width, top = float(self.width()), 0.0
        if self._reading is not None:
            reading = self._reading
            theme.text(painter, QRectF(0, 0, width, 20), reading.label, theme.BODY, theme.QUIET)
            figure = figure_words(reading.luminance)
            used = theme.text(painter, QRectF(0, 22, width - 84, 62), figure, theme.FIGURE, theme.BRIGHT)
            theme.text(painter, QRectF(used + 12, 44, 70, 24), "cd/m²", theme.BODY, theme.QUIET)
            if reading.target is not None:
                theme.text(
                    painter,
                    QRectF(width - 130, 20, 130, 18),
                    f"target {figure_words(reading.target)}",
                    theme.BODY,
                    theme.QUIET,
                    align=_RIGHT,
                )
                if reading.target > 0:
                    off = (reading.luminance / reading.target - 1) * 100
                    theme.text(
                        painter,
                        QRectF(width - 130, 38, 130, 18),
                        f"{signed(off)} %",
                        theme.BODY,
                        bold=True,
                        align=_RIGHT,
                    )
            top = 88.0
        if self._delta is not None:
            delta = self._delta
            used = theme.text(painter, QRectF(0, top, 130, 52), f"{delta.value:.1f}", 40, theme.BRIGHT)
            theme.text(
                painter,
                QRectF(used + 12, top + 18, width - used - 60, 24),
                f"{delta.label}  ± {spread_words(delta.sd)}" if delta.sd > 0.0 else delta.label,
                theme.BODY,
                theme.QUIET,
            )
            theme.verdict_mark(painter, QPointF(width - 14, top + 29), 9.0, delta.verdict)


def figure_words(luminance: float) -> str:
    """A luminance to the digits that a meter deserves."""
    if luminance >= 100:
        return f"{luminance:.0f}" if luminance >= 1000 else f"{luminance:.1f}"
    if luminance >= 1:
        return f"{luminance:.2f}" if luminance < 10 else f"{luminance:.1f}"
    return f"{max(0.0, luminance):.3f}"


def spread_words(sd: float) -> str:
    """A standard deviation to the digits it deserves."""
    return f"{sd:.1f}" if sd >= 0.1 else f"{sd:.2f}"


class _Progress(QWidget):
    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(4)
        self._share: float | None = None
        self.hide()

    def show_state(self, share: float | None) -> None:
        if share != self._share:
            self._share = share
            self.setVisible(share is not None)
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.LINE)
        if self._share is not None:
            painter.fillRect(QRectF(0, 0, self.width() * min(1.0, self._share), self.height()), theme.TEXT)


class _Rule(QWidget):
    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(1)

    def paintEvent(self, event: QPaintEvent) -> None:
        QPainter(self).fillRect(self.rect(), theme.LINE)


def _label(size: int, *, bold: bool = False) -> QLabel:
    label = QLabel()
    label.setFont(theme.font(size, bold=bold))
    label.setTextFormat(Qt.TextFormat.PlainText)
    return label


def _set(label: QLabel, words: str) -> None:
    # A label breaks at a stroke too.
    label.setText(tied(words).replace("cd/m²", "cd/\N{WORD JOINER}m²"))
    label.setVisible(bool(words))
