"""The Arrive station: who, which screen and memory, target, instruments, and the controls as found."""

from dataclasses import replace
from functools import partial

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import (
    QComboBox,
    QCompleter,
    QHeaderView,
    QLabel,
    QLineEdit,
    QScrollArea,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from aequitone.advice.roles import ROLE_WORDS, Role
from aequitone.advice.technology import TECHNOLOGY_WORDS, Technology, technology_of
from aequitone.advice.templates import kind_of
from aequitone.desktop.frame import theme
from aequitone.desktop.stations.arrive.controls_table import CHOICES, ControlsTable
from aequitone.desktop.stations.arrive.fields_grid import FieldsGrid, Line
from aequitone.desktop.stations.arrive.form import ControlDraft, Draft
from aequitone.desktop.stations.arrive.many_view import colours_line, points_line
from aequitone.desktop.stations.arrive.state import ArrivePage
from aequitone.desktop.stations.arrive.target_fields import TargetFields
from aequitone.desktop.widgets.forms import beside, let_shrink
from aequitone.logbook import BenchChoice
from aequitone.logbook.records import Connection, Plate
from aequitone.signal import Range
from aequitone.standins.shipped import shipped_scenarios

_HEADS = ("Role", "Screen's word", "Lowest", "Highest", "Step", "Factory", "As found")
_WINDOWS = (0.02, 0.04, 0.10, 0.18, 1.0)
_PLATE = {
    "size": "size",
    "hours": "hours",
    "firmware": "firmware",
    "serial": "serial number",
    "throw": "throw",
    "gain": "gain",
}
# Patterns that are no screen of this computer: they may be sent deeper than 8 bit.
_NO_SCREEN = (Connection.STANDIN, Connection.INSTRUMENT, Connection.BY_HAND)
_FOUND = 6
# Widths of the columns that do not stretch, where there is room and where there is little.
_WIDE, _TIGHT = {0: 206, 2: 64, 3: 68, 4: 52}, {0: 104, 2: 54, 3: 58, 4: 42}
_NARROW, _TABLE_HEIGHT = 640, 240
_LEAST_LETTERS, _TONE_LETTERS = 3, 9


class ArriveView(QWidget):
    """The form. It knows how to show a Draft and to read one back, and nothing else."""

    edited = Signal()
    screen_named = Signal()
    """Client, room and screen are all there, and one of them was just typed."""

    def __init__(self, screens: list[str]) -> None:
        super().__init__()
        self._loading = False
        self._page: ArrivePage | None = None
        self._screens = screens
        self._names = {key: QLineEdit() for key in ("client", "room", "screen", "input", "memory")}
        self._device = QLineEdit()
        self._plate = {key: QLineEdit() for key in _PLATE}
        self._target, self._levels = TargetFields(), QComboBox()
        self._meter, self._patterns, self._link = QComboBox(), QComboBox(), QComboBox()
        self._scenario, self._depth, self._range, self._window = QComboBox(), QComboBox(), QComboBox(), QComboBox()
        self._technology = QComboBox()
        self._seed = 0
        self._bench = BenchChoice()
        self._points, self._colours = points_line(), colours_line()
        self._fill_choices()
        self._table = ControlsTable(len(_HEADS))
        self._roles: tuple[Role, ...] = ()
        self._set_up_table()
        self._lay_out()
        for edit in (*self._names.values(), self._device, *self._plate.values()):
            edit.textEdited.connect(self._tell)
        for key in ("client", "room", "screen"):
            self._names[key].editingFinished.connect(self._tell_screen)
        for combo in self._combos():
            combo.currentIndexChanged.connect(self._tell)
        self._target.white.editTextChanged.connect(self._tell)
        for line in (self._points, self._colours):
            line.edited.connect(self._tell)
        self._table.itemChanged.connect(self._tell)

    def show_page(self, page: ArrivePage) -> None:
        """Fill the form where it is another one than it was filled with, and offer the names that are known."""
        before, self._page = self._page, page
        if before is None or before.names != page.names:
            self._suggest(dict(page.names))
        if before is None or (before.revision, before.begun, before.found_open) != (
            page.revision,
            page.begun,
            page.found_open,
        ):
            self._show_draft(page.draft, begun=page.begun, found_open=page.found_open)
        if before is not None and before.refused != page.refused and self._unnamed():
            self.focus_first()

    def _suggest(self, names: dict[str, tuple[str, ...]]) -> None:
        """Offer the names that the logbook knows, while typing."""
        for key, edit in self._names.items():
            completer = QCompleter(list(names.get(key, ())), self)
            completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
            edit.setCompleter(completer)

    def _tell_screen(self) -> None:
        if not self._loading and all(self._names[key].text().strip() for key in ("client", "room", "screen")):
            self.screen_named.emit()

    def _show_draft(self, draft: Draft, *, begun: bool, found_open: bool) -> None:
        """Fill the form. Once begun, who and where stay; once white was adjusted, so does as found."""
        self._loading = True
        for key, edit in self._names.items():
            edit.setText(getattr(draft, key))
            edit.setReadOnly(begun)
            edit.setCursorPosition(0)
        self._device.setText(draft.device)
        for key, edit in self._plate.items():
            edit.setText(getattr(draft.plate, key))
        bench = self._bench = draft.bench
        self._target.show_target(draft.target)
        _choose(self._levels, draft.levels)
        _choose(self._technology, draft.technology)
        _choose(self._meter, bench.meter)
        own = bench.display or self._screens[-1]
        _choose(self._patterns, own if bench.patterns is Connection.SCREEN else bench.patterns)
        _choose(self._link, bench.link)
        if bench.scenario:
            _choose(self._scenario, bench.scenario)
        self._seed = bench.seed
        _choose(self._depth, bench.depth)
        _choose(self._range, bench.range)
        _choose(self._window, bench.window)
        self._points.show_draft(draft.points, found_open=found_open)
        self._colours.show_draft(draft.colours, found_open=found_open)
        self._roles = tuple(row.role for row in draft.controls)
        self._table.setRowCount(len(self._roles))
        for i, row in enumerate(draft.controls):
            self._show_row(i, row, found_open)
        self._loading = False
        self._follow()

    def draft(self) -> Draft:
        """The form as it stands."""
        patterns = self._patterns.currentData()
        meter, link = Connection(self._meter.currentData()), Connection(self._link.currentData())
        simulated = Connection.STANDIN in (meter, patterns, link)
        own = patterns not in _NO_SCREEN
        bench = replace(
            self._bench,
            meter=meter,
            patterns=Connection.SCREEN if own else Connection(patterns),
            link=link,
            scenario=self._scenario.currentData() if simulated else "",
            seed=self._seed,
            depth=self._depth.currentData(),
            range=self._range.currentData(),
            window=self._window.currentData(),
            display=patterns if own else "",
        )
        names = {key: edit.text().strip() for key, edit in self._names.items()}
        return Draft(
            **names,
            target=self._target.name(),
            levels=self._levels.currentData(),
            bench=bench,
            technology=Technology(self._technology.currentData()),
            plate=Plate(**{key: edit.text().strip() for key, edit in self._plate.items()}),
            device=self._device.text().strip(),
            controls=tuple(self._row(i, role) for i, role in enumerate(self._roles)),
            points=self._points.draft(),
            colours=self._colours.draft(),
        )

    def _unnamed(self) -> list[QLineEdit]:
        return [edit for edit in self._names.values() if not edit.isReadOnly() and not edit.text().strip()]

    def focus_first(self) -> None:
        """Put the cursor where typing should begin."""
        for edit in self._unnamed():
            edit.setFocus()
            return
        self._table.setFocus()
        self._table.setCurrentCell(0, _FOUND)
        # Only once everything is in its place.
        QTimer.singleShot(0, partial(self._area.ensureWidgetVisible, self._table))

    def _fill_choices(self) -> None:
        for levels in (11, 21):
            self._levels.addItem(f"{levels} levels", levels)
        self._meter.addItem("by hand: type x, y, Y", Connection.BY_HAND)
        self._meter.addItem("stand-in", Connection.STANDIN)
        for name in self._screens:
            self._patterns.addItem(name, name)
        self._patterns.addItem("by hand: disc, stick or app", Connection.BY_HAND)
        self._patterns.addItem("stand-in", Connection.STANDIN)
        self._link.addItem("by hand: you turn", Connection.BY_HAND)
        self._link.addItem("stand-in, by link", Connection.STANDIN)
        self._technology.addItem("kind of screen", Technology.UNKNOWN)
        for technology, words in TECHNOLOGY_WORDS.items():
            self._technology.addItem(words, technology)
        for name in shipped_scenarios():
            self._scenario.addItem(name, name)
        for depth in (8, 10, 12):
            self._depth.addItem(f"{depth} bit", depth)
        for range_ in Range:
            self._range.addItem(f"{range_.value} range", range_.value)
        for window in _WINDOWS:
            self._window.addItem("full field" if window == 1.0 else f"{window * 100:g} % window", window)

    def _combos(self) -> tuple[QComboBox, ...]:
        return (
            *self._target.all,
            self._levels,
            self._meter,
            self._patterns,
            self._link,
            self._scenario,
            self._depth,
            self._range,
            self._window,
            self._technology,
        )

    def _set_up_table(self) -> None:
        table = self._table
        table.setHorizontalHeaderLabels(_HEADS)
        table.verticalHeader().hide()
        table.setAccessibleName("Controls as found")
        head = table.horizontalHeader()
        head.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        head.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft)
        for column in _WIDE:
            head.setSectionResizeMode(column, QHeaderView.ResizeMode.Fixed)
        table.verticalHeader().setDefaultSectionSize(26)

    def _lay_out(self) -> None:
        self._fields = FieldsGrid(self._name_lines(), self._bench_lines())
        title = QLabel("Controls as found")
        title.setFont(theme.font(theme.TITLE, bold=True))
        body = QWidget()
        inner = QVBoxLayout(body)
        inner.setContentsMargins(4, 2, 4, 4)
        inner.setSpacing(10)
        inner.addWidget(self._fields)
        inner.addWidget(title)
        lines = QVBoxLayout()
        lines.setSpacing(4)
        for line in (self._points, self._colours):
            lines.addWidget(line)
        inner.addLayout(lines)
        inner.addWidget(self._table, 1)
        area = self._area = QScrollArea()
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        area.setWidget(body)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(area)

    def _name_lines(self) -> list[Line]:
        """Who and where, and what stands on the screen's plate."""
        labels = {"client": "Client", "room": "Room", "screen": "Screen", "input": "Input", "memory": "Memory"}
        for key, label in labels.items():
            self._names[key].setAccessibleName(label)
        self._device.setPlaceholderText("device")
        self._device.setAccessibleName("Device on the input")
        for key, label in _PLATE.items():
            self._plate[key].setPlaceholderText(label)
            self._plate[key].setAccessibleName(label.capitalize())
        lines = [
            Line(label, beside(self._names[key], self._device) if key == "input" else self._names[key])
            for key, label in labels.items()
        ]
        sizes = [self._plate[key] for key in ("size", "throw", "gain", "hours")]
        return [*lines, Line("Size, hours", beside(*sizes), buddy=sizes[0])]

    def _bench_lines(self) -> list[Line]:
        """Target and instruments, and what else stands on the plate."""
        told = (
            ("Target", self._target.tone, self._target.gamut),
            ("White", self._target.white, self._levels),
            ("Meter", self._meter, self._scenario),
            ("Patterns", self._patterns, self._window),
            ("Signal", self._depth, self._range),
            ("Link", self._link, self._technology),
        )
        for label, first, second in told:
            first.setAccessibleName(label)
            second.setAccessibleName("Kind of screen" if second is self._technology else f"{label}, more")
            for each in (first, second):
                let_shrink(each)
                each.setMinimumContentsLength(_LEAST_LETTERS)
        # The tone has the longest words.
        self._target.tone.setMinimumContentsLength(_TONE_LETTERS)
        self._target.gamut.setAccessibleName("Target, gamut")
        self._target.white.setAccessibleName("Target, white")
        lines = [Line(label, first, second) for label, first, second in told]
        return [*lines, Line("Firmware", self._plate["firmware"], self._plate["serial"])]

    def _show_row(self, i: int, row: ControlDraft, found_open: bool) -> None:
        cells = (ROLE_WORDS[row.role], row.name, row.lowest, row.highest, row.step, row.factory, row.found)
        for j, words in enumerate(cells):
            item = QTableWidgetItem(words)
            fixed = j == 0 or (j == _FOUND and not found_open and bool(row.found))
            if fixed:
                item.setFlags(item.flags() & ~Qt.ItemFlag.ItemIsEditable)
                item.setForeground(theme.QUIET)
            item.setData(Qt.ItemDataRole.UserRole, row.choices if j == 0 else None)
            if row.choices and j == _FOUND:
                item.setData(CHOICES, list(row.choices))
                item.setToolTip("One of: " + ", ".join(row.choices))
            self._table.setItem(i, j, item)

    def _row(self, i: int, role: Role) -> ControlDraft:
        def words(j: int) -> str:
            item = self._table.item(i, j)
            return item.text() if item else ""

        first = self._table.item(i, 0)
        choices = tuple(first.data(Qt.ItemDataRole.UserRole) or ()) if first else ()
        return ControlDraft(role, words(1), words(2), words(3), words(4), words(5), words(6), choices)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        narrow = self.width() < _NARROW
        for column, width in (_TIGHT if narrow else _WIDE).items():
            self._table.setColumnWidth(column, width)
        self._fields.arrange(narrow=narrow)
        for line in (self._points, self._colours):
            line.arrange(narrow=narrow)
        self._table.setMinimumHeight(_TABLE_HEIGHT if narrow else 0)

    def _tell(self) -> None:
        if not self._loading:
            self._follow()
            self.edited.emit()

    def _follow(self) -> None:
        """Show the choices that go with others only where they matter."""
        simulated = Connection.STANDIN in (c.currentData() for c in (self._meter, self._patterns, self._link))
        self._scenario.setVisible(simulated)
        for key in ("throw", "gain"):
            self._plate[key].setVisible(
                kind_of(technology_of(self._technology.currentData() or "")) == "projector"
            )
        eight = self._patterns.currentData() not in _NO_SCREEN
        if eight and self._depth.currentData() != 8:
            self._loading = True
            _choose(self._depth, 8)
            self._loading = False
        self._depth.setEnabled(not eight)


def _choose(combo: QComboBox, data: object) -> None:
    index = combo.findData(data)
    if index < 0 and data not in (None, ""):
        combo.addItem("an instrument, see the Bench" if data == Connection.INSTRUMENT else str(data), data)
        index = combo.count() - 1
    combo.setCurrentIndex(max(0, index))
