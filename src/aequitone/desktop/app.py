"""Starting the window."""

import gc
import os
import sys
from collections.abc import Sequence
from functools import partial
from importlib import resources
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QSettings
from PySide6.QtGui import QIcon, QPixmap
from PySide6.QtWidgets import QApplication

from aequitone.desktop.frame import theme
from aequitone.desktop.session.left_running import left_running
from aequitone.desktop.window import MainWindow

if TYPE_CHECKING:
    from aequitone.desktop.station import Station
    from aequitone.logbook import Logbook
    from aequitone.passes import Snapshot

# A thread that computes hands the interpreter over this often; Qt's default would cost a frame.
_SWITCH_SECONDS = 0.001
_ICON_SIZES = (16, 32, 48, 128)


def application() -> QApplication:
    """Make the one QApplication, or find it."""
    running = QApplication.instance()
    if isinstance(running, QApplication):
        return running
    made = QApplication(sys.argv[:1])
    made.setApplicationName("aequitone")
    made.setApplicationDisplayName("Aequitone")
    # The name of the desktop entry: by it a desktop groups the windows, and finds the icon.
    made.setDesktopFileName("org.aequitone.Aequitone")
    made.setWindowIcon(window_icon())
    theme.dress(made)
    sys.setswitchinterval(_SWITCH_SECONDS)
    return made


def window_icon() -> QIcon:
    """The program's icon in the sizes that it was drawn in."""
    icon, folder = QIcon(), resources.files("aequitone") / "assets" / "icons"
    for size in _ICON_SIZES:
        pixmap = QPixmap()
        pixmap.loadFromData((folder / f"aequitone-{size}.png").read_bytes())
        icon.addPixmap(pixmap)
    return icon


def keep_smooth() -> None:
    """Let the collector pass over what is there at the start: looking through it would stop the window."""
    gc.freeze()
    gc.enable()


def window_on(logbook: "Logbook", *, pace: float, stations: "Sequence[type[Station]] | None" = None) -> MainWindow:
    """Make the main window on a logbook: its open visit, or else the newest, or an empty form."""
    from aequitone.desktop.starting import newest_snapshot

    window = MainWindow(settings_of(logbook.path))
    attach(window, logbook, newest_snapshot(logbook)[0], pace=pace, stations=stations)
    return window


def open_window(path: Path, *, pace: float = 1.0) -> int:
    """Open the window on a logbook and run until it is closed."""
    from aequitone.desktop.starting import Start

    app = application()
    start = Start(path, MainWindow(settings_of(path)), partial(attach, pace=pace))
    start.begin()
    code = app.exec()
    start.end()
    if left_running():
        # What was read is on disk; Python would wait for such a thread, and Qt would crash over it.
        sys.stdout.flush()
        os._exit(code)
    return code


def settings_of(logbook: Path) -> QSettings:
    """Where the state of the window is remembered."""
    return QSettings(str(logbook.with_name("window.ini")), QSettings.Format.IniFormat)


def attach(
    window: MainWindow,
    logbook: "Logbook",
    snapshot: "Snapshot | None",
    *,
    pace: float,
    stations: "Sequence[type[Station]] | None" = None,
) -> None:
    """Put a presenter on a logbook into the window."""
    from aequitone.desktop.patterns.window import PatternWindow, ScreenPatterns
    from aequitone.desktop.presenter import Presenter
    from aequitone.desktop.stations import STATIONS

    patterns = PatternWindow()
    presenter = Presenter(
        logbook, snapshot, pace=pace, patterns=ScreenPatterns(patterns), stations=stations or STATIONS
    )
    window.attach(presenter, patterns)
