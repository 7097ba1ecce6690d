"""The main window: the frame, the view of the room that is looked at, and its keys."""

import time
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, cast

from PySide6.QtCore import QByteArray, QSettings, Qt, QTimer
from PySide6.QtGui import QCloseEvent, QContextMenuEvent, QGuiApplication, QKeySequence, QResizeEvent, QShortcut
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QMainWindow, QMenu, QStackedWidget, QVBoxLayout, QWidget

from aequitone.desktop import commands
from aequitone.desktop.commands import Command, KeyHint
from aequitone.desktop.frame.darkening import Darkened
from aequitone.desktop.frame.header import Route, StatusLine, Strip
from aequitone.desktop.frame.menus import Doers, fill_bar, fill_context
from aequitone.desktop.frame.move_panel import MovePanel
from aequitone.desktop.frame.panel_state import BigLine, PanelState
from aequitone.desktop.frame.state import MOST_KEYS, StripState, View

# Whoever starts sees this window before the logbook and the solvers are imported: none of them is imported here.
if TYPE_CHECKING:
    from aequitone.desktop.demo.remote import Remote
    from aequitone.desktop.patterns.window import PatternWindow, Shown
    from aequitone.desktop.presenter import Presenter
    from aequitone.desktop.session.session import Session
    from aequitone.desktop.station import RoomView
    from aequitone.parts import Part
    from aequitone.standins.screen import StandInScreen

_FRAME_MS = 33.0
_WIDTH, _HEIGHT = 1280, 800
_LEAST_WIDTH, _LEAST_HEIGHT = 900, 600
_ROOM_FOR_MENUS = 700


class MainWindow(QMainWindow):
    """Strip, route, move panel, the room's own view, instruments line."""

    presenter: "Presenter"
    patterns: "PatternWindow"
    _session: "Session"

    def __init__(self, settings: QSettings) -> None:
        super().__init__()
        self._settings = settings
        self._attached = False
        self._refused: Callable[[Command], None] | None = None
        """Receives the keys while there is no logbook."""
        self._pictured = ""
        """The key of the test picture that is wanted last; "" for none."""
        self._remote: Remote | None = None
        self._view: View | None = None
        self._drawn_at = 0.0
        self._views: dict[str, QWidget] = {}
        self._shortcuts: dict[str, tuple[QShortcut, Command]] = {}
        self.setWindowTitle("Aequitone")
        self._build()
        QShortcut(QKeySequence("Ctrl+Q"), self).activated.connect(self.close)
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.timeout.connect(self.refresh)
        self._restore()

    def show_opening(self) -> None:
        """Show the frame while the logbook is being opened."""
        self.setWindowTitle("Opening the logbook")
        self._strip.show_state(StripState("Opening the logbook", "", "", ""))
        self._panel.show_state(PanelState("Starting", False, (BigLine("Opening"), BigLine("the logbook"))))

    def show_refusal(self, panel: PanelState, answer: Callable[[Command], None]) -> None:
        """Show why the logbook cannot be opened; `answer` receives the command that is chosen."""
        self._refused = answer
        self.setWindowTitle("Aequitone: the logbook is not opened")
        self._strip.show_state(StripState("The logbook is not opened", "", "", ""))
        self._panel.show_state(panel)
        self._bind(panel.keys)

    def attach(self, presenter: "Presenter", patterns: "PatternWindow") -> None:
        """Show a presenter's stations and tools, and send it the keys."""
        self.presenter, self.patterns, self._session = presenter, patterns, presenter.session
        self._session.tabled = bool(self._settings.value("table", False, type=bool))
        self._session.audio.on = bool(self._settings.value("sound", False, type=bool))
        self._attached, self._refused = True, None
        self.setWindowTitle("Aequitone")
        self._doers = Doers(self._do, self._able, presenter.go_to, self._close_soon)
        fill_bar(self.menuBar(), lambda: self._view, self._doers)
        self._show_menus()
        self._route_keys()
        self._connect()
        self.refresh()

    def _build(self) -> None:
        self._strip, self._route, self._foot = Strip(), Route(), StatusLine()
        self._panel, self._stack = MovePanel(), QStackedWidget()
        self._panel.command.connect(self._do)
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

    def _connect(self) -> None:
        self._panel.typed.connect(self.presenter.typed)
        self._route.chosen.connect(self.presenter.go_to)
        session = self._session
        session.changed.connect(self._refresh_soon)
        session.remote_wanted.connect(self._show_remote)
        session.pattern_window_wanted.connect(self._show_patterns)
        session.picture_wanted.connect(self._show_picture)
        session.file_wanted.connect(self._choose_file)
        session.place_wanted.connect(self._choose_place)
        session.other_file_wanted.connect(self._choose_other_file)
        self.patterns.told.connect(session.say)

    def _route_keys(self) -> None:
        for number in range(1, MOST_KEYS + 1):
            shortcut = QShortcut(QKeySequence(f"Ctrl+{number}"), self)
            shortcut.activated.connect(lambda number=number: self._go_to_number(number))
        QShortcut(QKeySequence("Ctrl+0"), self).activated.connect(self._list_stations)
        for command in commands.ALWAYS:
            shortcut = QShortcut(QKeySequence(command.keys[0]), self)
            shortcut.activated.connect(lambda command=command: self._do(command))

    def _go_to_number(self, number: int) -> None:
        """Go to a station by its place on the route, from 1; nothing where there is none."""
        for station in self.presenter.on_route[number - 1 : number]:
            self.presenter.go_to(station.id)

    def _list_stations(self) -> None:
        """Every station in a list: also those that have no key of their own."""
        menu = QMenu("Stations", self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        for station in self.presenter.on_route:
            action = menu.addAction(station.title)
            action.triggered.connect(lambda _=False, station=station: self.presenter.go_to(station.id))
            if station.id == self.presenter.here:
                menu.setActiveAction(action)
        menu.popup(self._route.mapToGlobal(self._route.rect().bottomLeft()))

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
        page = self.room_view(view.room)
        cast("RoomView", page).show_page(view.page)
        self._stack.setCurrentWidget(page)
        self._bind(view.panel.keys)
        self._focus(before, view, page)

    def room_view(self, room: str) -> QWidget:
        """The view of a station or tool, made when it is first looked at."""
        if room not in self._views:
            made = cast(QWidget, self.presenter.room.make_view())
            self._views[room] = made
            self._stack.addWidget(made)
        return self._views[room]

    def _focus(self, before: View | None, view: View, page: QWidget) -> None:
        """The keyboard goes to where typing begins in another room, and back to the window's keys otherwise."""
        entry_closed = before is not None and before.panel.entry is not None and view.panel.entry is None
        if before is not None and before.room == view.room:
            if entry_closed:
                self.setFocus()
            return
        first = getattr(page, "focus_first", None)
        if first is not None:
            first()
        elif view.panel.entry is None:
            self.setFocus()

    def _bind(self, hints: tuple[KeyHint, ...]) -> None:
        """Make exactly the keys that are shown work."""
        always = [key for command in commands.ALWAYS for key in command.keys]
        wanted = {hint.key: hint.command for hint in hints if hint.key not in always}
        for key, (shortcut, _) in self._shortcuts.items():
            shortcut.setEnabled(key in wanted)
        for key, command in wanted.items():
            if key in self._shortcuts:
                self._shortcuts[key] = (self._shortcuts[key][0], command)
                continue
            shortcut = QShortcut(self)
            # Both Enter keys are Enter to a person.
            names = [key.replace("Enter", "Return"), key] if "Enter" in key else [key]
            shortcut.setKeys([QKeySequence(name) for name in names])
            shortcut.activated.connect(lambda key=key: self._pressed(key))
            self._shortcuts[key] = (shortcut, command)

    def _pressed(self, key: str) -> None:
        self._do(self._shortcuts[key][1])

    def _do(self, command: Command) -> None:
        if self._refused is not None:
            self._refused(command)
        elif command == commands.DARKEN:
            self._darken(not self._darkened.isVisible())
        elif command == commands.COPY:
            QGuiApplication.clipboard().setText(self.presenter.room.as_text())
        elif command == commands.KEEP_ENTRY:
            self._panel.send_entry()
        elif command == commands.ABOUT:
            self._show_about()
        elif command == commands.MENU_BAR:
            self._settings.setValue("menus", self.menuBar().isHidden())
            self._show_menus()
        else:
            self.presenter.do(command)

    def _show_menus(self) -> None:
        """Show or hide the menu bar as chosen; without a choice it is hidden in a small window."""
        chosen = self._settings.value("menus", self.height() >= _ROOM_FOR_MENUS, type=bool)
        self.menuBar().setVisible(bool(chosen))

    def _able(self, command: Command) -> bool:
        """Whether a command can be done now: some wait for a pass, and a visit of another program is looked at."""
        waits = self.presenter.running and not command.while_running
        return not waits and (command.looks or not self._session.held_by)

    def _close_soon(self) -> None:
        # Not from within the menu, which goes with the window.
        QTimer.singleShot(0, self.close)

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        if self._view is None:
            return
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        fill_context(menu, self._view, self._doers, bar_shown=not self.menuBar().isHidden())
        menu.popup(event.globalPos())

    def _darken(self, dark: bool) -> None:
        self._darkened.setGeometry(self.rect())
        self._darkened.setVisible(dark)
        self._darkened.raise_()

    # Other windows

    def _show_remote(self, screen: "StandInScreen | None") -> None:
        if screen is None:
            return
        from aequitone.desktop.demo.remote import Remote

        if self._remote is None or self._remote.source is not screen:
            self._remote = Remote(screen)
        self._remote.show()
        self._remote.raise_()
        self._remote.activateWindow()

    def _show_about(self) -> None:
        # Imported here: a start does without it.
        from aequitone.desktop.frame.about import About
        from aequitone.parts import parts

        def show(found: "tuple[Part, ...]") -> None:
            about = About(self, found)
            about.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
            about.show()

        session = self._session
        # What is installed is read from dozens of files.
        session.desk.do(parts, show, lambda error: session.say(f"The parts cannot be listed: {error}."))

    def _show_patterns(self) -> None:
        from aequitone.desktop.patterns.window import screen_of

        screen = screen_of(self._session.bench.display)
        self.patterns.put_on(screen, whole=screen is not self.screen())

    def _show_picture(self, key: str) -> None:
        """Show a test picture that fits the pattern window, made in another thread; an empty `key` hides it."""
        self._pictured = key
        if not key:
            self.patterns.put_picture_away()
            return
        from aequitone.desktop.patterns.window import shown_picture

        self._show_patterns()
        range_ = self._session.bench.format.range
        width, height = self.patterns.pixels

        def made(shown: "Shown") -> None:
            # It takes a moment, and the person may have gone on.
            if self._pictured == key:
                self.patterns.show_picture(shown)

        self._session.desk.do(lambda: shown_picture(key, width, height, range_), made, lambda _error: None)
        self.activateWindow()

    def _choose_file(self) -> None:
        """Ask for a file of readings without stopping the window; nothing can be changed on disk from there."""
        dialog = self._dialog("Import readings", "Readings (*.txt *.csv *.cgats *.tsv)")
        dialog.setFileMode(QFileDialog.FileMode.ExistingFile)
        dialog.fileSelected.connect(self._take_file)
        dialog.open()

    def _choose_other_file(self, title: str, kinds: str, then: "Callable[[Path], None]") -> None:
        """Ask for a file that is only read."""
        dialog = self._dialog(title, kinds)
        dialog.setFileMode(QFileDialog.FileMode.ExistingFile)
        dialog.fileSelected.connect(lambda name: then(self._remembered(Path(name))))
        dialog.open()

    def _choose_place(self, name: str, then: "Callable[[Path], None]") -> None:
        """Ask where a file is to be put; the place of the last one is offered again."""
        dialog = self._dialog("Put it where", f"*{Path(name).suffix}")
        dialog.setAcceptMode(QFileDialog.AcceptMode.AcceptSave)
        dialog.setDefaultSuffix(Path(name).suffix)
        dialog.selectFile(name)
        dialog.fileSelected.connect(lambda chosen: then(self._remembered(Path(chosen))))
        dialog.open()

    def _dialog(self, title: str, kinds: str) -> QFileDialog:
        dialog = QFileDialog(self, title, str(self._settings.value("folder", "")))
        dialog.setNameFilters([kinds, "All files (*)"])
        # The desktop's own dialog where there is one; Qt's own could delete and rename.
        dialog.setOption(QFileDialog.Option.ReadOnly)
        dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        return dialog

    def _remembered(self, path: Path) -> Path:
        """The path; its folder is where the next dialog begins."""
        self._settings.setValue("folder", str(path.parent))
        return path

    def _take_file(self, name: str) -> None:
        self.presenter.import_file(self._remembered(Path(name)))

    # State of the window

    def _restore(self) -> None:
        """Come up where the window was left, and never larger than the screen."""
        room = self.screen().availableGeometry().size()
        self.setMinimumSize(min(_LEAST_WIDTH, room.width()), min(_LEAST_HEIGHT, room.height()))
        geometry = self._settings.value("geometry")
        if not (isinstance(geometry, QByteArray) and self.restoreGeometry(geometry)):
            self.resize(min(_WIDTH, room.width()), min(_HEIGHT, room.height()))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._darkened.setGeometry(self.rect())
        if self._attached:
            self._show_menus()

    def closeEvent(self, event: QCloseEvent) -> None:
        self._settings.setValue("geometry", self.saveGeometry())
        if not self._attached:
            super().closeEvent(event)
            return
        self._settings.setValue("table", self._session.tabled)
        self._settings.setValue("sound", self._session.audio.on)
        # Where a thread is held up the program ends without Qt's own last write.
        self._settings.sync()
        self.hide()
        if self._remote is not None:
            self._remote.close()
        self.patterns.close()
        self.presenter.close()
        super().closeEvent(event)
