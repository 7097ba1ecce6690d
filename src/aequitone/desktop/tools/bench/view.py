"""The Bench: instruments, correction, policy and health, with what is read over time."""

from dataclasses import replace

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import (
    QComboBox,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from aequitone.desktop.frame import theme
from aequitone.desktop.tools.bench.spot_table import SpotTable
from aequitone.desktop.tools.bench.state import BenchOptions, BenchState, Option
from aequitone.desktop.tools.bench.strip_chart import StripChart
from aequitone.desktop.widgets.forms import label_of, let_shrink, place
from aequitone.figures import tied
from aequitone.instruments.opening import EXAMPLES
from aequitone.logbook import BenchChoice
from aequitone.logbook.records import Connection
from aequitone.signal import NAMED_COLOURS, Transfer

_PRECISIONS = (("quick", "quick: half as exact"), ("usual", "usual"), ("careful", "careful: four times as long"))
_ANCHORS = ((2, "every 2 levels"), (4, "every 4 levels"), (6, "every 6 levels"), (0, "at both ends only"))
_REFRESH = ((0.0, "none"), (20.0, "every 20 s"), (40.0, "every 40 s"), (60.0, "every 60 s"), (90.0, "every 90 s"))
_FOR = ((2.0, "for 2 s"), (3.0, "for 3 s"), (5.0, "for 5 s"))
_MASTERING = ((0.0, "none"), (1000.0, "1 000 cd/m²"), (4000.0, "4 000 cd/m²"), (10000.0, "10 000 cd/m²"))
_LEVEL = ((25.0, "at 25 %"), (50.0, "at 50 %"), (75.0, "at 75 %"))
_HEALTH_HEIGHT, _CHART_HEIGHT = 118, 150
_NARROW = 700
_GREYS = ("80", "50", "30", "10", "5")


class BenchView(QWidget):
    """Shows a BenchState and tells what was chosen."""

    chosen = Signal(object)
    """A BenchChoice."""
    reference_chosen = Signal(str)
    address_typed = Signal(str)
    patch_chosen = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self._loading = False
        self._state: BenchState | None = None
        self._options: BenchOptions | None = None
        names = ("meter", "mode", "correction", "reference", "source", "link", "precision", "anchors", "mastering")
        self._combos = {name: QComboBox() for name in (*names, "refresh", "for", "level")}
        self._address = QLineEdit()
        self._address.setPlaceholderText("TCPIP::127.0.0.1::5025::SOCKET  or  ASRL/dev/ttyUSB0::INSTR, then Enter")
        self._address.setToolTip("\n".join(EXAMPLES))
        self._patch = QComboBox()
        self._patch.setEditable(True)
        self._patch.setInsertPolicy(QComboBox.InsertPolicy.NoInsert)
        self._patch.addItems([*NAMED_COLOURS, *_GREYS])
        self._patch.setToolTip("A name (red, red 75), a grey (50), or red, green and blue in % (75 20 20)")
        self.chart = StripChart()
        self._spots = SpotTable()
        self._spots.hide()
        self._title = QLabel()
        self._title.setFont(theme.font(theme.TITLE, bold=True))
        self._health = QLabel()
        self._narrow: bool | None = None
        self._lay_out()
        for name, choices in (("precision", _PRECISIONS), ("anchors", _ANCHORS), ("refresh", _REFRESH)):
            _fill(self._combos[name], choices)
        _fill(self._combos["for"], _FOR)
        _fill(self._combos["level"], _LEVEL)
        _fill(self._combos["mastering"], _MASTERING)
        for name, combo in self._combos.items():
            combo.currentIndexChanged.connect(lambda _=0, name=name: self._tell(name))
        self._address.returnPressed.connect(self._tell_address)
        self._patch.textActivated.connect(self._tell_patch)
        editor = self._patch.lineEdit()
        assert editor is not None
        editor.returnPressed.connect(lambda: self._tell_patch(self._patch.currentText()))

    def show_page(self, state: BenchState) -> None:
        """Show the Bench as it is."""
        if state == self._state:
            return
        before, self._state = self._state, state
        self.chart.show_samples(state.samples)
        self._spots.show_rows(state.spots)
        self.chart.setVisible(not state.as_table)
        self._spots.setVisible(state.as_table)
        if before is not None and replace(before, samples=state.samples) == state:
            return
        self._title.setText("Single readings" if state.as_table else state.chart_title)
        if not self._patch.hasFocus():
            self._patch.setCurrentText(state.patch)
        self._patch.setEnabled(not state.locked)
        self._show_choices(state)
        self._show_health(state)

    def focus_address(self) -> None:
        """Put the cursor where an address is typed."""
        self._address.setFocus()
        self._address.selectAll()

    def focus_patch(self) -> None:
        """Put the cursor where a patch is typed."""
        self._patch.setFocus()
        editor = self._patch.lineEdit()
        assert editor is not None
        editor.selectAll()

    def _show_choices(self, state: BenchState) -> None:
        self._loading = True
        if state.options != self._options:
            self._options = state.options
            for name, options in (
                ("meter", state.options.meters),
                ("mode", state.options.modes),
                ("correction", state.options.corrections),
                ("reference", state.options.references),
                ("source", state.options.sources),
                ("link", state.options.links),
            ):
                _fill(self._combos[name], options)
        choice = state.choice
        by_hand = f"{Connection.BY_HAND.value} {choice.entry_form}"
        for name, value in (
            ("meter", _key(choice.meter, choice.meter_id) if choice.meter is not Connection.BY_HAND else by_hand),
            ("mode", choice.meter_mode),
            ("correction", str(choice.correction_id)),
            ("reference", state.reference),
            ("source", _key(choice.patterns, choice.source_id)),
            ("link", _key(choice.link, choice.link_id)),
            ("precision", choice.precision),
            ("anchors", choice.anchor_every),
            ("refresh", choice.refresh_every),
            ("for", choice.refresh_for),
            ("level", choice.refresh_percent),
            ("mastering", choice.mastering),
        ):
            combo = self._combos[name]
            combo.setCurrentIndex(max(0, combo.findData(value)))
            combo.setEnabled(not state.locked)
        # Only PQ has metadata to name it in.
        for widget in (self._mastering_label, self._combos["mastering"]):
            widget.setVisible(choice.transfer is Transfer.PQ)
        self._address.setEnabled(not state.locked)
        for name in ("for", "level"):
            self._combos[name].setEnabled(not state.locked and bool(choice.refresh_every))
        self._loading = False

    def _show_health(self, state: BenchState) -> None:
        parts = [f"●  {words}\n     {todo}" for words, todo in state.ailments]
        if not state.ailments:
            parts.append("○  No warnings for this bench.")
        parts += [f"{name}: {words}" for name, words in state.knowledge]
        self._health.setText(tied("\n".join(parts)))

    def choice(self) -> BenchChoice:
        """What is chosen now."""
        assert self._state is not None
        value = {name: combo.currentData() for name, combo in self._combos.items()}
        old = self._state.choice
        meter, meter_id = _parted(value["meter"])
        source, source_id = _parted(value["source"])
        link, link_id = _parted(value["link"])
        by_hand = meter is Connection.BY_HAND
        depth = 8 if source is Connection.SCREEN else old.depth
        return replace(
            old,
            meter=meter,
            entry_form=str(value["meter"]).rpartition(" ")[2] if by_hand else old.entry_form,
            meter_id=meter_id,
            meter_mode=value["mode"],
            correction_id=int(value["correction"]),
            patterns=source,
            source_id=source_id,
            link=link,
            link_id=link_id,
            depth=depth,
            precision=value["precision"],
            anchor_every=value["anchors"],
            refresh_every=value["refresh"],
            refresh_for=value["for"],
            refresh_percent=value["level"],
            mastering=value["mastering"],
        )

    def _tell(self, name: str) -> None:
        if self._loading or self._state is None:
            return
        if name == "reference":
            self.reference_chosen.emit(self._combos["reference"].currentData())
            return
        self.chosen.emit(self.choice())

    def _tell_address(self) -> None:
        self.address_typed.emit(self._address.text())
        # The letters are keys again; A comes back to what was typed.
        self.window().setFocus()

    def _tell_patch(self, words: str) -> None:
        self.patch_chosen.emit(words)
        self.window().setFocus()

    def _lay_out(self) -> None:
        grid = QGridLayout()
        grid.setHorizontalSpacing(10)
        grid.setVerticalSpacing(7)
        rows = (
            (("Meter", "meter"), ("Meter mode", "mode")),
            (("Correction", "correction"), ("Reference meter", "reference")),
            (("Patterns", "source"), ("Precision", "precision")),
            (("Screen link", "link"), ("Anchors", "anchors")),
        )
        for row, pair in enumerate(rows):
            for column, (words, name) in enumerate(pair):
                place(grid, row, 2 * column, words, self._combos[name])
        place(grid, 4, 0, "New address", self._address)
        self._grid, self._refresh = grid, QWidget()
        self._refresh_label = label_of("Refresh fields", self._combos["refresh"])
        fields = QGridLayout(self._refresh)
        fields.setContentsMargins(0, 0, 0, 0)
        fields.setHorizontalSpacing(4)
        for column, name in enumerate(("refresh", "for", "level")):
            self._combos[name].setAccessibleName(f"Refresh fields, {name}")
            let_shrink(self._combos[name])
            fields.addWidget(self._combos[name], 0, column)
            fields.setColumnStretch(column, 4 if column == 0 else 3)
        self._place_refresh()
        self._mastering_label = label_of("Mastering named", self._combos["mastering"])
        let_shrink(self._combos["mastering"])
        grid.addWidget(self._mastering_label, 6, 0)
        grid.addWidget(self._combos["mastering"], 6, 1)
        grid.setColumnStretch(1, 6)
        grid.setColumnStretch(3, 5)
        self._health.setWordWrap(True)
        self._health.setTextFormat(Qt.TextFormat.PlainText)
        self._health.setAlignment(Qt.AlignmentFlag.AlignTop)
        self._health.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        area = QScrollArea()
        area.setWidget(self._health)
        area.setWidgetResizable(True)
        area.setFrameShape(QFrame.Shape.NoFrame)
        area.setMaximumHeight(_HEALTH_HEIGHT)
        area.setMinimumHeight(30)
        self.chart.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.chart.setMinimumHeight(_CHART_HEIGHT)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(4, 2, 4, 4)
        layout.setSpacing(8)
        layout.addLayout(grid)
        heads = QHBoxLayout()
        heads.addWidget(self._title, 1)
        self._patch.setAccessibleName("Patch")
        heads.addWidget(label_of("Patch", self._patch))
        heads.addWidget(self._patch)
        layout.addLayout(heads)
        layout.addWidget(self.chart, 3)
        layout.addWidget(self._spots, 3)
        layout.addWidget(area, 1)

    def _place_refresh(self) -> None:
        """Beside the address where there is room, and on a line of its own where there is none."""
        narrow = self.width() < _NARROW
        if narrow is self._narrow:
            return
        self._narrow = narrow
        self._grid.addWidget(self._refresh_label, 5 if narrow else 4, 0 if narrow else 2)
        self._grid.addWidget(self._refresh, 5 if narrow else 4, 1 if narrow else 3, 1, 3 if narrow else 1)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._place_refresh()


def _fill(combo: QComboBox, options: tuple[tuple[object, str], ...] | tuple[Option, ...]) -> None:
    combo.blockSignals(True)
    combo.clear()
    for data, words in options:
        combo.addItem(words, data)
    combo.blockSignals(False)


def _key(kind: Connection, instrument_id: int) -> str:
    return str(instrument_id) if kind is Connection.INSTRUMENT else kind.value


def _parted(key: str) -> tuple[Connection, int]:
    return (
        (Connection.INSTRUMENT, int(key))
        if key.isdigit()
        else (Connection(key.removesuffix(" xyY").removesuffix(" XYZ")), 0)
    )
