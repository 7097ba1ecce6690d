"""Plays a visit through the real window by keys, as a person would, and takes pictures on the way."""

import shutil
import time
from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from aequitone.desktop import commands
from aequitone.desktop.commands import Command
from aequitone.desktop.stations.arrive import commands as arrive_commands
from aequitone.desktop.stations.arrive.form import missing_for_white
from aequitone.desktop.stations.hand_over import commands as hand_over_commands
from aequitone.desktop.stations.levels import commands as levels_commands
from aequitone.desktop.stations.levels.state import LevelsPage
from aequitone.desktop.widgets.ladder_state import LadderState
from aequitone.desktop.window import MainWindow
from aequitone.diagnosis import PROGRAM_ERROR

_PATIENCE_SECONDS = 30.0
_MODIFIERS = {"Ctrl": Qt.KeyboardModifier.ControlModifier, "Shift": Qt.KeyboardModifier.ShiftModifier}
_KEYS = {
    "Enter": Qt.Key.Key_Return,
    "PgDown": Qt.Key.Key_PageDown,
    "PgUp": Qt.Key.Key_PageUp,
    "Space": Qt.Key.Key_Space,
    "Esc": Qt.Key.Key_Escape,
    "Up": Qt.Key.Key_Up,
    "Down": Qt.Key.Key_Down,
    "Left": Qt.Key.Key_Left,
    "Right": Qt.Key.Key_Right,
}


class StuckError(Exception):
    """The window did not come to what was waited for."""


class Driver:
    """A pair of hands on the keys, and a camera."""

    def __init__(self, app: QApplication, window: MainWindow, folder: Path | None = None) -> None:
        self._app, self._window, self._folder = app, window, folder
        self.pictures: list[Path] = []

    def come_forward(self) -> None:
        """Bring the window to the front: keys go to the active window alone."""
        self._window.activateWindow()
        self.wait(self._window.isActiveWindow, "the window to become active")

    def press(self, key: str) -> None:
        """Press a key by the name it is shown with, such as "Ctrl+Enter"."""
        # A person presses what they see: whatever has changed is drawn first.
        self._window.refresh()
        *modifiers, name = key.split("+")
        code = _KEYS.get(name) or getattr(Qt.Key, f"Key_{name.upper()}")
        target = QApplication.focusWidget() or self._window
        held = Qt.KeyboardModifier.NoModifier
        for modifier in modifiers:
            held |= _MODIFIERS[modifier]
        QTest.keyClick(target, code, held)
        self._app.processEvents()

    def press_for(self, command: Command) -> None:
        """Press the key that the panel shows for a command."""
        self.wait(lambda: any(hint.command == command for hint in self._keys()), f"a key for “{command.name}”")
        self.press(next(hint.key for hint in self._keys() if hint.command == command))

    def wait(self, until: Callable[[], bool], what: str) -> None:
        """Let the window live until something holds."""
        end = time.monotonic() + _PATIENCE_SECONDS
        while not until():
            if time.monotonic() > end:
                panel = self._window.presenter.view().panel
                raise StuckError(f"waited in vain for {what}; the panel says “{panel.heading}: {panel.sentence}”")
            self._app.processEvents()
            time.sleep(0.004)
        # Whoever waits for something acts on what they see of it.
        self._window.refresh()
        self._app.processEvents()

    def prepare(self, then: str = "") -> None:
        """Answer the whole checklist by its keys, and go on; `then`: a picture of it first."""
        presenter = self._window.presenter
        while presenter.here == "prepare":
            main = next(hint.command for hint in self._keys() if hint.main)
            if main is commands.NEXT_STATION and then:
                self.picture(then)
            self._answer_line(main)

    def _answer_line(self, main: Command) -> None:
        presenter = self._window.presenter
        before, asked = presenter.snapshot, presenter.view().panel.lines
        self.press_for(main)
        if main is commands.NEXT_STATION:
            return
        # What is known can be worked out anew meanwhile; it is the next line that says that this one is answered.
        fresh = _fresh(self._window, before)
        self.wait(lambda: fresh() and presenter.view().panel.lines != asked, "the line to be answered")

    def wait_for_station(self, station: str) -> None:
        """Until a station is in view, by its id."""
        self.wait(lambda: self._window.presenter.here == station, f"the station {station}")

    def wait_for_pass(self) -> None:
        """Until the pass that was begun has ended. Raises RuntimeError where an error of the program ended it."""
        self.wait(lambda: not self._window.presenter.running, "the end of the pass")
        said = self._window.presenter.view().panel.sentence
        if PROGRAM_ERROR in said:
            raise RuntimeError(said)

    def picture(self, name: str) -> None:
        """Take a picture of the window."""
        if self._folder is None:
            return
        self._folder.mkdir(parents=True, exist_ok=True)
        self._window.refresh()
        self._app.processEvents()
        path = self._folder / f"{name}.png"
        self._window.grab().save(str(path))
        self.pictures.append(path)

    def _keys(self) -> tuple:
        return self._window.presenter.view().panel.keys


def drive_demo(app: QApplication, window: MainWindow, folder: Path) -> list[Path]:
    """The demo visit from Arrive to Hand over; returns what was left in `folder`."""
    driver = Driver(app, window, folder)
    driver.come_forward()
    _arrive_and_prepare(driver, window)
    _watch_at_bench(driver, window)
    _measure_as_found(driver, window)
    _set_levels(driver, window)
    _set_white_and_tone(driver, window)
    _prove(driver)
    report = _hand_over(driver, window)
    window.close()
    handed = [Path(shutil.copy2(file, folder / file.name)) for file in sorted(report.iterdir())] if report else []
    return [*driver.pictures, *handed]


def _arrive_and_prepare(driver: Driver, window: MainWindow) -> None:
    presenter = window.presenter
    driver.wait_for_station("arrive")
    driver.press_for(arrive_commands.FILL)
    driver.wait(lambda: not missing_for_white(presenter.station("arrive").draft), "the controls")
    driver.picture("arrive")
    driver.press_for(arrive_commands.SAVE)
    driver.wait_for_station("prepare")
    driver.prepare(then="prepare")


def _watch_at_bench(driver: Driver, window: MainWindow) -> None:
    presenter = window.presenter
    driver.wait_for_station("as-found")
    driver.press_for(commands.BENCH)
    driver.press_for(commands.WATCH)
    driver.wait(lambda: len(presenter.tool_of("bench").page().samples) > 40, "forty glances")
    driver.picture("bench")
    driver.press_for(commands.STOP)
    driver.wait(lambda: not presenter.tool_of("bench").measuring.running, "the end of the reading")
    driver.press_for(commands.CLOSE_TOOL)


def _measure_as_found(driver: Driver, window: MainWindow) -> None:
    driver.press_for(commands.BEGIN)
    driver.wait(lambda: len([r for r in _rows(window) if r.delta is not None]) > 5, "six levels")
    driver.picture("as-found")
    driver.wait_for_pass()
    driver.press_for(commands.COLOURS)
    driver.wait_for_pass()
    driver.press("Ctrl+4")


def _set_levels(driver: Driver, window: MainWindow) -> None:
    driver.wait_for_station("levels")
    driver.press_for(commands.BEGIN)
    driver.wait(lambda: _clipping_found(window), "where a channel clips")
    driver.picture("levels")
    driver.wait_for_pass()
    driver.press_for(levels_commands.BY_EYE)
    driver.press_for(commands.CHOICES[0])
    driver.picture("by-eye")
    driver.press_for(levels_commands.LEAVE_EYE)


def _set_white_and_tone(driver: Driver, window: MainWindow) -> None:
    driver.press_for(commands.NEXT_STATION)
    driver.press_for(commands.BEGIN)
    driver.wait(lambda: window.presenter.view().panel.heading == "Turning", "a move")
    driver.picture("white")
    driver.press_for(commands.DARKEN)
    driver.picture("darkened")
    driver.press_for(commands.DARKEN)
    driver.wait_for_pass()
    driver.press_for(commands.NEXT_STATION)
    driver.press_for(commands.BEGIN)
    driver.wait_for_pass()
    driver.picture("tone")


def _prove(driver: Driver) -> None:
    driver.press_for(commands.NEXT_STATION)
    driver.press_for(commands.BEGIN)
    driver.wait_for_pass()
    driver.picture("colour")
    driver.press_for(commands.NEXT_STATION)
    driver.press_for(commands.BEGIN)
    driver.wait_for_pass()
    driver.picture("proof")
    driver.press_for(commands.TABLE)
    driver.picture("table")
    driver.press_for(commands.TABLE)


def _hand_over(driver: Driver, window: MainWindow) -> Path | None:
    """Settle what is owed, make the report and close the visit; returns the folder of the report."""
    presenter = window.presenter
    driver.press_for(commands.NEXT_STATION)
    while (before := presenter.snapshot) is not None and any(debt.answer is None for debt in before.debts):
        driver.press_for(hand_over_commands.LEAVE_OFF)
        driver.wait(_fresh(window, before), "the answer")
    driver.press_for(hand_over_commands.MAKE_REPORT)
    driver.wait(
        lambda: any(hint.command is hand_over_commands.OPEN_REPORT for hint in presenter.view().panel.keys),
        "the report",
    )
    driver.picture("hand-over")
    driver.press_for(commands.CONTROLS)
    driver.picture("ledger")
    driver.press_for(commands.CLOSE_TOOL)
    report: Path | None = presenter.station("hand-over").reports.folder
    driver.press_for(hand_over_commands.CLOSE_VISIT)
    if presenter.session.message:
        # What is open was said first.
        driver.press_for(hand_over_commands.CLOSE_VISIT)
    driver.wait(
        lambda: presenter.snapshot is not None and presenter.snapshot.visit.closed is not None, "a closed visit"
    )
    return report


def _fresh(window: MainWindow, before: object) -> Callable[[], bool]:
    return lambda: window.presenter.snapshot is not before


def _clipping_found(window: MainWindow) -> bool:
    page = window.presenter.view().page
    return isinstance(page, LevelsPage) and any(row.here and row.exact is not None for row in page.rows[2:])


def _rows(window: MainWindow) -> tuple:
    page = window.presenter.view().page
    return page.rows if isinstance(page, LadderState) else ()
