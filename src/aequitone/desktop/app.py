"""Starting the window."""

import gc
import sys
from collections.abc import Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, QSettings, Qt, Signal
from PySide6.QtWidgets import QApplication

from aequitone.desktop.frame import theme
from aequitone.desktop.window import MainWindow

if TYPE_CHECKING:
    from aequitone.desktop.station import Station
    from aequitone.logbook import Logbook
    from aequitone.passes import Snapshot

# A thread that computes hands the interpreter over this often; Qt's default would cost a frame.
_SWITCH_SECONDS = 0.001


def application() -> QApplication:
    """Make the one QApplication, or find it."""
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


def window_on(logbook: "Logbook", *, pace: float, stations: "Sequence[type[Station]] | None" = None) -> MainWindow:
    """Make the main window on a logbook: its open visit, or else the newest, or an empty form."""
    window = MainWindow(_settings(logbook.path))
    _attach(window, logbook, _first_snapshot(logbook), pace, stations)
    return window


def open_window(path: Path, *, pace: float = 1.0) -> int:
    """Open the window on a logbook and run until it is closed. Raises LogbookError.

    The frame is painted first; the database and the solvers are imported meanwhile, in another thread.
    """
    app = application()
    window = MainWindow(_settings(path))
    window.show_opening()
    window.show()
    opening = _Opening(path)
    failed: list[BaseException] = []
    opened: list[Logbook] = []

    def attach(made: "tuple[Logbook, Snapshot | None] | BaseException") -> None:
        if isinstance(made, BaseException):
            failed.append(made)
            app.exit(2)
            return
        logbook, snapshot = made
        opened.append(logbook)
        _attach(window, logbook, snapshot, pace)
        window.activateWindow()
        keep_smooth()

    opening.done.connect(attach, Qt.ConnectionType.QueuedConnection)
    opening.begin()
    code = app.exec()
    opening.wait()
    for logbook in opened:
        logbook.close()
    if failed:
        window.close()
        raise failed[0]
    return code


class _Opening(QObject):
    """Opens a logbook in a thread of its own, so that the window stays responsive."""

    done = Signal(object)
    """The logbook and what is known of its visit, or what went wrong."""

    def __init__(self, path: Path) -> None:
        super().__init__()
        self._path = path
        self._pool = ThreadPoolExecutor(max_workers=1, thread_name_prefix="opening")

    def begin(self) -> None:
        self._pool.submit(self._open).add_done_callback(self._tell)

    def wait(self) -> None:
        self._pool.shutdown(wait=True)

    def _open(self) -> "tuple[Logbook, Snapshot | None]":
        # The presenter brings every station and solver with it.
        import aequitone.desktop.presenter  # noqa: F401
        from aequitone.logbook import open_logbook

        logbook = open_logbook(self._path)
        return logbook, _first_snapshot(logbook)

    def _tell(self, future: "Future[Any]") -> None:
        error = future.exception()
        self.done.emit(error if error is not None else future.result())


def _settings(logbook: Path) -> QSettings:
    return QSettings(str(logbook.with_name("window.ini")), QSettings.Format.IniFormat)


def _first_snapshot(logbook: "Logbook") -> "Snapshot | None":
    from aequitone.passes import load_snapshot

    visit = logbook.open_visit() or logbook.latest_visit()
    return load_snapshot(logbook, visit.id, advice=False) if visit else None


def _attach(
    window: MainWindow,
    logbook: "Logbook",
    snapshot: "Snapshot | None",
    pace: float,
    stations: "Sequence[type[Station]] | None" = None,
) -> None:
    from aequitone.desktop.patterns.window import PatternWindow, ScreenPatterns
    from aequitone.desktop.presenter import Presenter
    from aequitone.desktop.stations import STATIONS

    patterns = PatternWindow()
    presenter = Presenter(
        logbook, snapshot, pace=pace, patterns=ScreenPatterns(patterns), stations=stations or STATIONS
    )
    window.attach(presenter, patterns)
