"""The window off screen, on a logbook of its own."""

from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PySide6.QtWidgets import QApplication

from aequitone.desktop.app import application, window_on
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.session.left_running import left_running
from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook, VisitRecord
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found, nvram_path
from aequitone.passes import AS_FOUND, WHITE, begin, carry_out
from aequitone.procedures.runner import NobodyThere
from aequitone.standins.bench import build_bench
from aequitone.standins.scenario import load_scenario

PACE = 400.0


@pytest.fixture(scope="session", autouse=True)
def qapp() -> QApplication:
    """The application, for every test here: fonts cannot be measured without one, and Qt then ends the process."""
    return application()


@pytest.fixture
def open_on(qapp: QApplication) -> Iterator[Callable[[Logbook], MainWindow]]:
    """Open the window on a logbook; it is closed after the test."""
    windows: list[MainWindow] = []

    def make(logbook: Logbook) -> MainWindow:
        window = window_on(logbook, pace=PACE)
        window.resize(1280, 800)
        window.show()
        window.activateWindow()
        qapp.processEvents()
        windows.append(window)
        return window

    yield make
    for window in windows:
        window.close()
        qapp.processEvents()
    for thread in left_running():
        thread.wait()


@pytest.fixture
def drive(qapp: QApplication) -> Callable[[MainWindow], Driver]:
    return lambda window: Driver(qapp, window)


@pytest.fixture
def reports(logbook: Logbook) -> Path:
    return logbook.path.parent / "reports"


@pytest.fixture
def owing(logbook: Logbook) -> VisitRecord:
    """A visit whose screen was found with two features on; everything else as for the television."""
    scenario = load_scenario("wide-lcd")
    begun = begin_standin_visit(logbook, scenario, "wide-lcd", 1)
    values = build_bench(scenario, 1).link.values()
    note_as_found(logbook, begun, values | {"feature-zone-dimming": 1, "feature-dynamic-contrast": 1})
    return begun


@pytest.fixture
def white_done(logbook: Logbook, visit: VisitRecord) -> VisitRecord:
    """The demo's visit with grey found and White done, by link, on the unit that the window has."""
    nvram = nvram_path(logbook.path, "demo", 4)
    ports = build_bench(load_scenario("demo"), 4, nvram=nvram).bench()
    for kind in (AS_FOUND, WHITE):
        carry_out(logbook, begin(logbook, visit.id, kind), ports, NobodyThere(), care=visit.bench.care)
    return visit
