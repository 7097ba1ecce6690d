"""The main window: puts the views together and passes keys on."""

import time
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QByteArray, QSettings, Qt, QTimer
from PySide6.QtGui import QCloseEvent, QGuiApplication, QKeySequence, QResizeEvent, QShortcut
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QMainWindow, QStackedWidget, QVBoxLayout, QWidget

from aequitone.desktop.demo.remote import Remote
from aequitone.desktop.frame.darkening import Darkened
from aequitone.desktop.frame.header import Foot, Route, Strip
from aequitone.desktop.frame.move_panel import MovePanel
from aequitone.desktop.patterns.window import PatternWindow, screen_names, screen_of, shown_picture
from aequitone.desktop.presenter import Presenter
from aequitone.desktop.states import Act, KeyHint, Station
from aequitone.desktop.stations.arrive.controller import ledger_open
from aequitone.desktop.stations.arrive.view import ArriveView
from aequitone.desktop.stations.hand_over.view import HandOverView
from aequitone.desktop.stations.levels import page as levels_page
from aequitone.desktop.stations.levels.view import SweepView
from aequitone.desktop.stations.prepare.view import ChecklistView
from aequitone.desktop.stations.tone import page as tone_page
from aequitone.desktop.stations.tone.view import ToneView
from aequitone.desktop.tools.bench.view import BenchView
from aequitone.desktop.tools.controls import page as ledger_page
from aequitone.desktop.tools.controls.view import LedgerView
from aequitone.desktop.tools.visits.view import VisitsView
from aequitone.desktop.view import View
from aequitone.desktop.widgets import moves as moves_page
from aequitone.desktop.widgets.ladder import Ladder
from aequitone.desktop.widgets.ladder_table import LadderTable, as_text
from aequitone.desktop.widgets.moves_table import MovesView
from aequitone.signal import Range

if TYPE_CHECKING:
    from aequitone.standins.screen import StandInScreen

_FRAME_MS = 33.0


class MainWindow(QMainWindow):
    """Strip, route, move panel, the station's picture, instruments line."""

    def __init__(self, presenter: Presenter, patterns: PatternWindow, settings: QSettings) -> None:
        super().__init__()
        self.presenter, self.patterns, self._settings = presenter, patterns, settings
        self._remote: Remote | None = None
        self._view: View | None = None
        self._drawn_at = 0.0
        self._moves_listed = False
        self._tabled = settings.value("table", False, type=bool)
        presenter.passing.hearing.on = bool(settings.value("sound", False, type=bool))
        self._shortcuts: dict[str, tuple[QShortcut, Act]] = {}
        self.setWindowTitle("Aequitone")
        self.setMinimumSize(900, 600)
        self._build()
        self._route_keys()
        presenter.changed.connect(self._refresh_soon)
        presenter.arriving.form_changed.connect(self._fill_form)
        presenter.arriving.remote_wanted.connect(self._show_remote)
        presenter.patterns_wanted.connect(self._show_patterns)
        presenter.picture_wanted.connect(self._show_picture)
        presenter.file_wanted.connect(self._choose_file)
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.timeout.connect(self.refresh)
        self._fill_form()
        self._restore()
        self.refresh()

    def _build(self) -> None:
        self._strip, self._route, self._foot = Strip(), Route(), Foot()
        self._panel = MovePanel()
        self._ladder, self._table = Ladder(), LadderTable()
        self._arrive, self._handover = ArriveView(screen_names()), HandOverView()
        self._bench = BenchView()
        self._checklist, self._sweeps, self._visits = ChecklistView(), SweepView(), VisitsView()
        self._ledger, self._tone, self._moves = LedgerView(), ToneView(), MovesView()
        self._stack = QStackedWidget()
        pages = (
            self._arrive,
            self._ladder,
            self._table,
            self._handover,
            self._bench,
            self._checklist,
            self._sweeps,
            self._visits,
            self._ledger,
            self._tone,
            self._moves,
        )
        for widget in pages:
            self._stack.addWidget(widget)
        middle = QHBoxLayout()
        middle.setContentsMargins(20, 4, 20, 8)
        middle.setSpacing(18)
        middle.addWidget(self._panel)
        middle.addWidget(self._stack, 1)
        layout = QVBoxLayout()
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self._strip)
        layout.addWidget(self._route)
        layout.addLayout(middle, 1)
        layout.addWidget(self._foot)
        centre = QWidget()
        centre.setLayout(layout)
        self.setCentralWidget(centre)
        self._darkened = Darkened(self)
        self._panel.act.connect(self._act)
        self._panel.typed.connect(self.presenter.typed)
        self._route.chosen.connect(self.presenter.go_to)
        self._arrive.edited.connect(lambda: self.presenter.edited(self._arrive.draft()))
        self._arrive.screen_named.connect(self._look_up_screen)
        self._checklist.chosen.connect(self.presenter.preparing.go_to)
        self._visits.searched.connect(self.presenter.finding.search)
        self._visits.chosen.connect(self.presenter.finding.choose)
        self._ledger.chosen.connect(self.presenter.ledger.choose)
        self._bench.chosen.connect(self.presenter.bench.choose)
        self._bench.reference_chosen.connect(self.presenter.bench.choose_reference)
        self._bench.address_typed.connect(self.presenter.bench.add)

    def _route_keys(self) -> None:
        for number, station in enumerate(Station, 1):
            shortcut = QShortcut(QKeySequence(f"Ctrl+{number}"), self)
            shortcut.activated.connect(lambda station=station: self.presenter.go_to(station))
        QShortcut(QKeySequence("Ctrl+Q"), self).activated.connect(self.close)

    # Showing

    def _refresh_soon(self) -> None:
        # Several changes in one frame are drawn once: eyes want no more than thirty pictures a second.
        if not self._soon.isActive():
            drawn_ago = (time.monotonic() - self._drawn_at) * 1000.0
            self._soon.start(max(0, round(_FRAME_MS - drawn_ago)))

    def refresh(self) -> None:
        """Bring every view up to the present moment."""
        self._drawn_at = time.monotonic()
        view = self.presenter.view()
        before, self._view = self._view, view
        self._strip.show_state(view.strip)
        self._route.show_state(view.route)
        self._panel.show_state(view.panel)
        self._foot.show_state(view.foot)
        self._darkened.show_state(view.panel)
        if view.ladder is not None and self._tabled:
            self._table.show_state(view.ladder)
        elif view.ladder is not None:
            self._ladder.show_state(view.ladder)
        if view.here is Station.HAND_OVER:
            self._handover.show_state(view.paragraphs, view.pictures)
        page: QWidget = self._table if self._tabled else self._ladder
        if view.here is Station.ARRIVE:
            page = self._arrive
        elif view.here is Station.HAND_OVER:
            page = self._handover
        elif view.here is Station.PREPARE:
            page = self._checklist
            self._checklist.show_rows(view.checklist)
        elif view.levels is not None:
            page = self._sweeps
            self._sweeps.show_page(view.levels)
        elif view.tone is not None:
            page = self._tone
            self._tone.show_page(view.tone)
        if view.moves is not None and self._moves_listed:
            page = self._moves
            self._moves.show_rows(view.moves)
        if view.bench is not None:
            page = self._bench
            self._bench.show_state(view.bench)
        if view.visits is not None:
            page = self._visits
            self._visits.show_lines(view.visits)
        if view.ledger is not None:
            page = self._ledger
            self._ledger.show_page(view.ledger)
        self._stack.setCurrentWidget(page)
        self._bind(view.panel.keys)
        if view.visits is not None:
            if before is None or before.visits is None:
                self._visits.focus_search()
        elif view.ledger is not None and (before is None or before.ledger is None):
            self._ledger.setFocus()
        elif before is not None and (
            before.visits is not None
            or (before.ledger is None) is not (view.ledger is None)
            or (before.bench is None) is not (view.bench is None)
        ):
            self.setFocus()
            if view.here is Station.ARRIVE and view.bench is None:
                self._arrive.focus_first()
        elif before is None or before.here is not view.here:
            if view.here is Station.ARRIVE:
                self._arrive.focus_first()
            elif view.panel.entry is None:
                self.setFocus()
        elif before.panel.entry is not None and view.panel.entry is None:
            self.setFocus()

    def _bind(self, hints: tuple[KeyHint, ...]) -> None:
        """Make exactly the keys that are shown work."""
        wanted = {hint.key: hint.act for hint in hints}
        for key, (shortcut, _) in self._shortcuts.items():
            shortcut.setEnabled(key in wanted)
        for key, act in wanted.items():
            if key in self._shortcuts:
                self._shortcuts[key] = (self._shortcuts[key][0], act)
                continue
            shortcut = QShortcut(self)
            # Both Enter keys are Enter to a person.
            names = [key.replace("Enter", "Return"), key] if "Enter" in key else [key]
            shortcut.setKeys([QKeySequence(name) for name in names])
            shortcut.activated.connect(lambda key=key: self._pressed(key))
            self._shortcuts[key] = (shortcut, act)

    def _pressed(self, key: str) -> None:
        self._act(self._shortcuts[key][1])

    def _act(self, act: Act) -> None:
        match act:
            case Act.DARKEN:
                self._darken(not self._darkened.isVisible())
            case Act.TABLE:
                self._tabled = not self._tabled
                self.refresh()
            case Act.MOVES:
                self._moves_listed = not self._moves_listed
                self.refresh()
            case Act.COPY:
                if self._view is not None and self._view.ledger is not None:
                    QGuiApplication.clipboard().setText(ledger_page.as_text(self._view.ledger))
                elif self._view is not None and self._view.moves is not None and self._moves_listed:
                    QGuiApplication.clipboard().setText(moves_page.as_text(self._view.moves))
                elif self._view is not None and self._view.levels is not None:
                    QGuiApplication.clipboard().setText(levels_page.as_text(self._view.levels))
                elif self._view is not None and self._view.tone is not None:
                    QGuiApplication.clipboard().setText(tone_page.as_text(self._view.tone))
                elif self._view is not None and self._view.ladder is not None:
                    QGuiApplication.clipboard().setText(as_text(self._view.ladder))
            case Act.KEEP_READING:
                self._panel.send_entry()
            case Act.ADD_INSTRUMENT:
                self._bench.focus_address()
            case _:
                self.presenter.act(act)

    def _darken(self, dark: bool) -> None:
        self._darkened.setGeometry(self.rect())
        self._darkened.setVisible(dark)
        self._darkened.raise_()

    def _look_up_screen(self) -> None:
        if self.presenter.facts is None:
            self.presenter.arriving.look_up_screen()

    def _fill_form(self) -> None:
        presenter = self.presenter
        self._arrive.show_draft(
            presenter.draft, begun=presenter.facts is not None, ledger_open=ledger_open(presenter.facts)
        )
        presenter.desk.do(presenter.logbook.known_names, self._arrive.suggest, lambda _error: None)

    # Other windows

    def _show_remote(self, screen: "StandInScreen | None") -> None:
        if screen is None:
            return
        if self._remote is None or self._remote.source is not screen:
            self._remote = Remote(screen)
        self._remote.show()
        self._remote.raise_()
        self._remote.activateWindow()

    def _show_patterns(self) -> None:
        facts = self.presenter.facts
        name = facts.visit.bench.display if facts else ""
        screen = screen_of(name)
        self.patterns.put_on(screen, whole=screen is not self.screen())

    def _show_picture(self, key: str) -> None:
        """Make a test picture for the pattern window's size, away from this thread, and show it."""
        if not key:
            return
        self._show_patterns()
        facts = self.presenter.facts
        range_ = facts.visit.bench.format.range if facts else Range.LIMITED
        width, height = self.patterns.pixels
        self.presenter.desk.do(
            lambda: shown_picture(key, width, height, range_), self.patterns.show_picture, lambda _error: None
        )
        self.activateWindow()

    def _choose_file(self) -> None:
        """Ask for a file of readings without stopping the window."""
        dialog = QFileDialog(self, "Readings from a file", str(self._settings.value("folder", "")))
        dialog.setNameFilters(["Readings (*.txt *.csv *.cgats *.tsv)", "All files (*)"])
        dialog.setFileMode(QFileDialog.FileMode.ExistingFile)
        dialog.setOption(QFileDialog.Option.DontUseNativeDialog)
        dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        dialog.fileSelected.connect(self._take_file)
        dialog.open()

    def _take_file(self, name: str) -> None:
        path = Path(name)
        self._settings.setValue("folder", str(path.parent))
        self.presenter.import_file(path)

    # State of the window

    def _restore(self) -> None:
        geometry = self._settings.value("geometry")
        if not (isinstance(geometry, QByteArray) and self.restoreGeometry(geometry)):
            self.resize(1280, 800)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._darkened.setGeometry(self.rect())

    def closeEvent(self, event: QCloseEvent) -> None:
        self._settings.setValue("geometry", self.saveGeometry())
        self._settings.setValue("table", self._tabled)
        self._settings.setValue("sound", self.presenter.passing.hearing.on)
        self.hide()
        if self._remote is not None:
            self._remote.close()
        self.patterns.close()
        self.presenter.close()
        super().closeEvent(event)
