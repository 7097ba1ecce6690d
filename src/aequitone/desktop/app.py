"""Starting the window."""

import gc
import sys
from collections.abc import Sequence
from pathlib import Path

from PySide6.QtCore import QSettings
from PySide6.QtWidgets import QApplication

from aequitone.desktop.frame import theme
from aequitone.desktop.patterns.window import PatternWindow, ScreenPatterns
from aequitone.desktop.presenter import Presenter
from aequitone.desktop.station import Station
from aequitone.desktop.stations import STATIONS
from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook, open_logbook
from aequitone.passes import load_snapshot

# A thread that computes hands the interpreter over this often; Qt's default would cost a frame.
_SWITCH_SECONDS = 0.001


def application() -> QApplication:
    """The one QApplication, dressed."""
    running = QApplication.instance()
    if isinstance(running, QApplication):
        return running
    made = QApplication(sys.argv[:1])
    made.setApplicationName("aequitone")
    made.setApplicationDisplayName("Aequitone")
    made.setDesktopFileName("aequitone")
    theme.dress(made)
    sys.setswitchinterval(_SWITCH_SECONDS)
    return made


def keep_smooth() -> None:
    """Let the collector pass over what is there at the start: looking through it would stop the window."""
    gc.freeze()
    gc.enable()


def window_on(logbook: Logbook, *, pace: float, stations: Sequence[type[Station]] = STATIONS) -> MainWindow:
    """Make the main window on a logbook: its open visit, or else the newest, or an empty form."""
    patterns = PatternWindow()
    source = ScreenPatterns(patterns)
    visit = logbook.open_visit() or logbook.latest_visit()
    snapshot = load_snapshot(logbook, visit.id, advice=False) if visit else None

    settings = QSettings(str(logbook.path.with_name("window.ini")), QSettings.Format.IniFormat)
    presenter = Presenter(logbook, snapshot, pace=pace, patterns=source, stations=stations)
    return MainWindow(presenter, patterns, settings)


def open_window(path: Path, *, pace: float = 1.0) -> int:
    """Open the window on a logbook and run until it is closed. Raises LogbookError."""
    logbook = open_logbook(path)
    app = application()
    window = window_on(logbook, pace=pace)
    window.show()
    keep_smooth()
    code = app.exec()
    logbook.close()
    return code
