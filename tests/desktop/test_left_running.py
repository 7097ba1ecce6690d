"""A pass that something holds up when the window closes: nothing crashes, and the program ends."""

import subprocess
import sys
import threading
from collections.abc import Callable
from pathlib import Path

import pytest

from aequitone.desktop.session import running_pass
from aequitone.desktop.session.left_running import left_running
from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook, VisitRecord
from aequitone.passes import AS_FOUND, PreparedPass, begin

_ENDS_WITH_A_STUCK_THREAD = """
import sys, time
from pathlib import Path
from PySide6.QtCore import QThread, QTimer
from PySide6.QtWidgets import QApplication
from aequitone.desktop import app, starting
from aequitone.desktop.session.left_running import wait_for

class Stuck(QThread):
    def run(self):
        time.sleep(600.0)

def begin(self):
    stuck = Stuck()
    stuck.start()
    assert not wait_for(stuck, 10)
    QTimer.singleShot(0, QApplication.quit)

starting.Start.begin = begin
sys.exit(app.open_window(Path(sys.argv[1])))
"""


def test_a_pass_that_is_held_up_is_kept_until_it_ends(
    open_on: Callable[[Logbook], MainWindow],
    logbook: Logbook,
    visit: VisitRecord,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr(running_pass, "_GRACE_MS", 20)
    monkeypatch.setattr(running_pass, "_PATIENCE_MS", 20)
    window, held_up, reached = open_on(logbook), threading.Event(), threading.Event()

    def prepare() -> PreparedPass:
        reached.set()
        held_up.wait()
        return begin(logbook, visit.id, AS_FOUND)

    session = window.presenter.session
    session.run(AS_FOUND, prepare)
    assert reached.wait(10.0)
    session.running.close()
    (thread,) = left_running()
    held_up.set()
    assert thread.wait(20_000)
    assert left_running() == ()


def test_the_program_ends_though_a_thread_runs(tmp_path: Path) -> None:
    command = [sys.executable, "-c", _ENDS_WITH_A_STUCK_THREAD, str(tmp_path / "logbook.sqlite")]
    ended = subprocess.run(command, capture_output=True, text=True, timeout=60.0, check=False)
    assert (ended.returncode, ended.stderr) == (0, "")
