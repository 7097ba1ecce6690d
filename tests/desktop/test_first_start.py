"""The first start: an empty logbook, a window that fits its screen, a frame before anything is read."""

import os
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QSettings, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from aequitone.desktop import commands
from aequitone.desktop.stations.arrive import commands as arrive_commands
from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook

Open = Callable[[Logbook], MainWindow]


def test_an_empty_logbook_offers_a_simulated_visit(logbook: Logbook, open_on: Open, drive) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    assert presenter.snapshot is None
    driver.press_for(commands.DEMO)
    driver.wait(lambda: presenter.snapshot is not None, "the visit")
    assert presenter.here == "arrive"
    driver.press_for(arrive_commands.FILL)
    driver.wait(lambda: all(row.found for row in presenter.station("arrive").draft.controls), "the controls")
    driver.press_for(arrive_commands.SAVE)
    driver.wait_for_station("prepare")
    # Not offered again once there is something in the logbook.
    driver.press("Ctrl+1")
    assert commands.DEMO not in {hint.command for hint in presenter.view().panel.keys}


def test_what_is_missing_has_the_cursor_and_no_controls_are_asked_about(
    logbook: Logbook, open_on: Open, drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    for words in ("Client", "", "Screen", "HDMI 2", "Disc player", "Film"):
        QTest.keyClicks(QApplication.focusWidget(), words)
        QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Tab)
    driver.press_for(arrive_commands.SAVE)
    driver.wait(lambda: "Say which room." in presenter.view().panel.sentence, "the sentence")
    window.refresh()
    QTest.keyClicks(QApplication.focusWidget(), "Lounge")
    assert presenter.station("arrive").draft.room == "Lounge"
    # No control at all is asked about once, and then meant.
    driver.press_for(arrive_commands.SAVE)
    driver.wait(lambda: "No control is noted" in presenter.view().panel.sentence, "the question")
    assert presenter.snapshot is None
    driver.press_for(arrive_commands.SAVE)
    driver.wait_for_station("prepare")
    # What cannot be set takes no time.
    minutes = {stop.station: stop.minutes for stop in presenter.view().route.stops}
    assert [minutes[station] for station in ("levels", "white", "tone")] == ["", "", ""]
    assert minutes["as-found"]
    assert minutes["proof"]
    driver.press("Ctrl+4")
    assert presenter.view().panel.outlook == ""


def test_the_window_is_never_larger_than_its_screen(tmp_path: Path, qapp: QApplication) -> None:
    fresh = MainWindow(QSettings(str(tmp_path / "window.ini"), QSettings.Format.IniFormat))
    room = fresh.screen().availableGeometry()
    assert fresh.width() <= room.width()
    assert fresh.height() <= room.height()
    assert fresh.minimumWidth() <= room.width()
    fresh.close()


def test_the_frame_needs_neither_database_nor_solvers() -> None:
    """What is imported before the first paint."""
    code = "import sys, aequitone.desktop.app; print(*sorted(m for m in sys.modules if m.count('.') < 2))"
    told = subprocess.run(
        [sys.executable, "-c", code], capture_output=True, text=True, check=True, env=os.environ, timeout=60
    ).stdout.split()
    assert "aequitone.desktop" in told
    late = {
        "sqlalchemy",
        "scipy",
        "alembic",
        "pydantic",
        "colour",
        "pyvisa",
        "aequitone.logbook",
        "aequitone.passes",
    }
    assert not late & set(told)
