"""A station is one folder and one line: a throw-away one appears on the route, has keys, and outlives a kill."""

import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtWidgets import QApplication

import aequitone.passes as passes
from aequitone.desktop import commands
from aequitone.desktop.app import window_on
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.stations import STATIONS
from aequitone.desktop.stations.measured import MeasuredStation
from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook, PassState, VisitRecord
from aequitone.passes import load_snapshot

from . import throwaway


@pytest.fixture
def open_window(
    qapp: QApplication, monkeypatch: pytest.MonkeyPatch
) -> Callable[[Logbook], tuple[MainWindow, Driver]]:
    """Open the window with the throw-away station; it is forgotten after the test."""
    monkeypatch.setattr(passes, "PASSES", passes.PASSES)
    opened: list[MainWindow] = []

    def make(logbook: Logbook) -> tuple[MainWindow, Driver]:
        window = window_on(logbook, pace=400.0, stations=throwaway.register())
        window.show()
        opened.append(window)
        driver = Driver(qapp, window)
        driver.come_forward()
        return window, driver

    yield make
    for window in opened:
        window.close()


def test_it_is_on_the_route_with_its_key_its_minutes_and_its_own_commands(
    logbook: Logbook, visit: VisitRecord, open_window: Callable[[Logbook], tuple[MainWindow, Driver]]
) -> None:
    window, driver = open_window(logbook)
    stop = window.presenter.view().route.stops[8]
    assert (stop.title, stop.key, stop.done) == ("Count", "Ctrl 9", False)
    assert stop.minutes.startswith("about ")
    driver.press("Ctrl+9")
    assert window.presenter.here == "count"
    driver.press("Ctrl+U")
    assert window.presenter.station("count").resets == 1
    driver.press_for(commands.BEGIN)
    driver.wait_for_pass()
    assert window.room_view("count").text() == "Counted to 40."
    assert window.presenter.view().route.stops[8].done
    assert window.presenter.next_station() == "Hand over"


def test_its_pass_is_gone_on_with_after_a_kill(
    logbook: Logbook, visit: VisitRecord, open_window: Callable[[Logbook], tuple[MainWindow, Driver]]
) -> None:
    killed = subprocess.run(
        [sys.executable, "-m", "tests.desktop.throwaway", str(logbook.path)],
        cwd=Path(__file__).parents[2],
        timeout=60,
        check=False,
    )
    assert killed.returncode == -9
    (record,) = logbook.passes(visit.id)
    assert (record.kind, record.state) == ("count", PassState.RUNNING)
    kept = logbook.readings(record.id)
    assert 7 <= len(kept) < 40
    window, driver = open_window(logbook)
    assert window.presenter.here == "count"
    assert "Count was interrupted" in window.presenter.view().panel.sentence
    driver.press_for(commands.GO_ON)
    driver.wait_for_pass()
    readings = logbook.readings(record.id)
    assert list(readings[: len(kept)]) == list(kept)
    assert len(readings) == 40
    assert load_snapshot(logbook, visit.id).result(throwaway.COUNT) == throwaway.Count(40)


def test_with_more_than_nine_stations_the_list_reaches_them_all(
    logbook: Logbook, visit: VisitRecord, qapp: QApplication
) -> None:
    more = tuple(
        type(f"Station{n}", (throwaway.CountStation,), {"id": f"count-{n}", "title": f"Count {n}"})
        for n in range(4)
    )
    assert all(issubclass(station, MeasuredStation) for station in more)
    window = window_on(logbook, pace=1.0, stations=(*STATIONS, *more))
    try:
        window.show()
        stops = window.presenter.view().route.stops
        assert [stop.key for stop in stops[8:]] == ["Ctrl 9", "", "", "", ""]
        driver = Driver(qapp, window)
        driver.come_forward()
        driver.press("Ctrl+0")
        menu = QApplication.activePopupWidget()
        assert [action.text() for action in menu.actions()] == [stop.title for stop in stops]
        menu.actions()[-1].trigger()
        assert window.presenter.here == "count-3"
        menu.close()
    finally:
        window.close()


def test_a_station_touches_nothing_outside_its_folder_but_two_tuples(capsys: pytest.CaptureFixture[str]) -> None:
    """Whoever knows a station by name would have to be changed for another one: only the tuple may."""
    source = Path(throwaway.__file__).parents[2] / "src" / "aequitone"
    folder = source / "desktop" / "stations"
    outside = [path for path in source.rglob("*.py") if folder not in path.parents or path.parent == folder]
    naming = {
        str(path.relative_to(source))
        for path in outside
        for station in ("tone", "white", "proof")
        # The driver plays the demo's stations by name: it is the demo's, and no part of the house.
        if f"stations.{station}" in path.read_text() and path.name != "driver.py"
    }
    with capsys.disabled():
        sys.stdout.write(f"\noutside its folder a station touches {sorted(naming)} and passes/__init__.py\n")
    assert naming == {"desktop/stations/__init__.py"}
