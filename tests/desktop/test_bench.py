"""The Bench, driven by keys: instruments added, tested, chosen, watched and corrected."""

import threading
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox, QLineEdit, QTableWidget

from aequitone.desktop import commands
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.tools.bench import commands as bench_commands
from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook, PassState, VisitRecord
from aequitone.logbook.records import Connection
from aequitone.logbook.shelf import InstrumentKind
from aequitone.passes import AS_FOUND, load_snapshot
from aequitone.reference import target_named
from aequitone.standins.bench import build_bench
from aequitone.standins.clock import PacedClock
from aequitone.standins.scenario import load_scenario
from aequitone.standins.service.server import BenchServer
from aequitone.standins.shipped import shipped_text

# A screen that settles at once in real time: the server's own clock is the one that runs fast.
BRISK = 0.02
# About the middle of As found by instruments: some six sleeps go into a reading.
STALLS_AT = 80
Open = Callable[[Logbook], MainWindow]
Drive = Callable[[MainWindow], Driver]


class StallingClock(PacedClock):
    """A clock that holds its bench in the middle of a pass: none is over before its bench has gone."""

    def __init__(self, sleeps: int) -> None:
        super().__init__(40.0)
        self._left = sleeps
        self._going = threading.Event()

    @property
    def stalled(self) -> bool:
        return self._left <= 0 and not self._going.is_set()

    def go_on(self) -> None:
        self._going.set()

    def sleep(self, seconds: float) -> None:
        super().sleep(seconds)
        self._left -= 1
        if self._left <= 0:
            self._going.wait()


@pytest.fixture
def at_bench(logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive) -> tuple[MainWindow, Driver]:
    window = open_on(logbook)
    driver = drive(window)
    driver.press_for(commands.BENCH)
    driver.wait(window.room_view("bench").isVisible, "the Bench")
    return window, driver


AtBench = tuple[MainWindow, Driver]


def combo(window: MainWindow, name: str) -> QComboBox:
    return next(box for box in window.room_view("bench").findChildren(QComboBox) if box.accessibleName() == name)


def choose(window: MainWindow, driver: Driver, name: str, data: object) -> None:
    box = combo(window, name)
    driver.wait(lambda: box.findData(data) >= 0, f"{data} to be offered")
    box.setCurrentIndex(box.findData(data))
    driver.wait(lambda: combo(window, name).currentData() == data, f"{name} to be chosen")


def sentence(window: MainWindow) -> str:
    return window.presenter.view().panel.sentence


def idle(window: MainWindow) -> bool:
    return not window.presenter.tool_of("bench").measuring.running


def test_read_once_tells_white_and_esc_goes_back(at_bench: AtBench) -> None:
    window, driver = at_bench
    driver.press_for(commands.READ)
    driver.wait(lambda: sentence(window).startswith("White: 1"), "a reading")
    assert "cd/m², x 0." in sentence(window)
    driver.press_for(commands.CLOSE_TOOL)
    driver.wait(lambda: window.presenter.tool is None, "the station")
    assert window.presenter.here == "as-found"


def read_patch(window: MainWindow, driver: Driver, words: str) -> None:
    bench = window.presenter.tool_of("bench")
    before = len(bench.page().spots)
    driver.press_for(bench_commands.CHOOSE_PATCH)
    window.refresh()
    field = combo(window, "Patch")
    assert field.hasFocus() or field.lineEdit().hasFocus()
    QTest.keyClicks(field.lineEdit(), words)
    QTest.keyClick(field.lineEdit(), Qt.Key.Key_Return)
    driver.wait(lambda: bench.page().patch == words, "the patch")
    driver.press_for(commands.READ)
    driver.wait(lambda: idle(window) and len(bench.page().spots) == before + 1, f"a reading of {words}")


def test_any_colour_is_read_tabled_and_copied(at_bench: AtBench, visit: VisitRecord) -> None:
    window, driver = at_bench
    bench = window.presenter.tool_of("bench")
    for words in ("red", "white", "75 20 20", "50"):
        read_patch(window, driver, words)
    rows = {row.name: row for row in bench.page().spots}
    assert list(rows) == ["red", "100 % grey", "R 75, G 20, B 20 %", "50 % grey"]
    # The red was read before white, and is held to it all the same.
    wanted = target_named(visit.target).colour([1.0, 0.0, 0.0], rows["100 % grey"].Y)
    assert rows["red"].wanted == pytest.approx(float(wanted[1]), rel=1e-6)
    assert rows["red"].x > 0.55
    assert rows["red"].de2000 is not None
    assert rows["50 % grey"].de2000 is not None
    driver.press_for(commands.TABLE)
    window.refresh()
    table = next(t for t in window.room_view("bench").findChildren(QTableWidget))
    assert table.isVisible()
    assert table.rowCount() == 4
    assert not window.room_view("bench").chart.isVisible()
    lines = bench.as_text().splitlines()
    assert "\t".join(rows["red"].cells) in lines
    # A red is no white to bring a screen to.
    read_patch(window, driver, "red")
    assert bench_commands.MATCH_WHITE not in [key.command for key in window.presenter.view().panel.keys]
    bench.choose_patch("mauve 12 12")
    driver.press_for(commands.READ)
    driver.wait(lambda: "no patch" in sentence(window), "the objection")
    assert len(bench.page().spots) == 5


def test_live_reading_fills_the_chart_until_it_is_stopped(
    at_bench: AtBench, logbook: Logbook, visit: VisitRecord
) -> None:
    window, driver = at_bench
    driver.press_for(commands.WATCH)
    driver.wait(lambda: len(window.presenter.tool_of("bench").page().samples) > 8, "eight glances")
    state = window.presenter.tool_of("bench").page()
    assert state.locked
    assert all(100.0 < sample.light < 200.0 for sample in state.samples)
    assert state.samples[-1].seconds > state.samples[0].seconds
    driver.press_for(commands.STOP)
    driver.wait(lambda: idle(window), "the end")
    assert logbook.passes(visit.id) == []


def test_the_warm_up_is_watched_until_it_settles(at_bench: AtBench) -> None:
    window, driver = at_bench
    driver.press_for(bench_commands.WATCH_WARM_UP)
    driver.wait(lambda: idle(window), "the screen to settle")
    assert "over the last five minutes: settled." in sentence(window)


def test_the_delay_is_measured_and_kept(at_bench: AtBench, logbook: Logbook, visit: VisitRecord) -> None:
    window, driver = at_bench
    driver.press_for(bench_commands.MEASURE_DELAY)
    driver.wait(lambda: logbook.visit(visit.id).bench.settle_seconds is not None, "a measured delay")
    assert 0.0 <= (logbook.visit(visit.id).bench.settle_seconds or 9.0) < 0.6
    driver.wait(lambda: "readings wait" in sentence(window), "what was measured")


def test_what_is_chosen_is_kept_with_the_visit(at_bench: AtBench, logbook: Logbook, visit: VisitRecord) -> None:
    window, driver = at_bench
    choose(window, driver, "Precision", "careful")
    choose(window, driver, "Anchors", 2)
    choose(window, driver, "Refresh fields, refresh", 40.0)
    driver.wait(lambda: logbook.visit(visit.id).bench.refresh_every == 40.0, "the refresh fields")
    choose(window, driver, "Refresh fields, level", 75.0)
    driver.wait(lambda: logbook.visit(visit.id).bench.refresh_percent == 75.0, "their level")
    bench = logbook.visit(visit.id).bench
    assert (bench.precision, bench.anchor_every, bench.scenario) == ("careful", 2, "demo")
    assert bench.care.noise_allowed == 0.5
    assert window.presenter.view().foot.patterns.endswith("refreshed every 40 s")


def test_a_wrong_mode_is_warned_of_with_what_to_do(at_bench: AtBench) -> None:
    window, driver = at_bench
    choose(window, driver, "Meter mode", "plasma")
    driver.wait(lambda: bool(window.presenter.tool_of("bench").page().ailments), "a warning")
    ((words, todo),) = window.presenter.tool_of("bench").page().ailments
    assert words == "The meter is set to plasma, but the screen is noted as a LED-LCD."
    assert todo.startswith("Choose the screen's technology in the meter")
    assert words in sentence(window)


def test_a_reading_that_was_stopped_leaves_no_order_for_the_next_question(at_bench: AtBench) -> None:
    window, driver = at_bench
    driver.press_for(commands.WATCH)
    driver.wait(lambda: len(window.presenter.tool_of("bench").page().samples) > 2, "glances")
    driver.press_for(commands.STOP)
    driver.wait(lambda: idle(window), "the end")
    driver.press_for(bench_commands.CORRECT)
    driver.wait(lambda: sentence(window).startswith("Place "), "the reference to be asked for")
    driver.press_for(commands.STOP)
    driver.wait(lambda: idle(window), "the end of the correction")
    before = window.presenter.tool_of("bench").page().samples
    driver.press_for(bench_commands.MEASURE_DELAY)
    driver.wait(lambda: "readings wait" in sentence(window), "the delay")
    # Black and white in turn are nothing for the chart.
    assert window.presenter.tool_of("bench").page().samples == before
    driver.press_for(bench_commands.FIND_REFRESH)
    driver.wait(lambda: "cannot measure a refresh rate" in sentence(window), "the refusal")


def test_a_wrong_range_stops_the_pass_and_its_cause_stays_until_it_is_mended(
    tmp_path: Path, logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    wrong = tmp_path / "wrong.toml"
    text = shipped_text("demo").replace("crosstalk = 0.004", 'crosstalk = 0.004\nexpects_range = "full"')
    wrong.write_text(text, "utf-8")
    logbook.choose_bench(visit.id, replace(visit.bench, scenario=str(wrong)))
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press_for(commands.BEGIN)
    driver.wait(lambda: "a few greys and muted colours" in sentence(window), "the first look")
    driver.wait_for_pass()
    (record,) = logbook.passes(visit.id)
    assert record.state is PassState.SET_ASIDE
    for _ in range(2):
        assert presenter.view().panel.lines[0].label == "Correct the signal,"
        assert "limited codes are taken as full ones. Likely" in sentence(window)
        driver.press_for(commands.TABLE)
    logbook.choose_bench(visit.id, visit.bench)
    presenter.session.take(load_snapshot(logbook, visit.id))
    driver.press_for(commands.BEGIN)
    driver.wait_for_pass()
    assert [each.state for each in logbook.passes(visit.id)] == [PassState.SET_ASIDE, PassState.DONE]
    assert "Grey leans" in sentence(window)


def test_the_meters_mode_is_checked_by_the_primaries(at_bench: AtBench) -> None:
    window, driver = at_bench
    driver.press_for(bench_commands.CHECK_MODE)
    driver.wait(lambda: "as usual for this kind of screen" in sentence(window), "the verdict")
    assert idle(window)


def test_a_meter_is_corrected_by_a_second_one(at_bench: AtBench, logbook: Logbook, visit: VisitRecord) -> None:
    window, driver = at_bench
    choose(window, driver, "Meter mode", "plasma")
    driver.wait(lambda: logbook.visit(visit.id).bench.meter_mode == "plasma", "the mode")
    choose(window, driver, "Reference meter", "stand-in")
    driver.press_for(bench_commands.CORRECT)
    for place in ("Place Stand-in spectroradiometer", "Place Stand-in colorimeter"):
        driver.wait(lambda place=place: sentence(window).startswith(place), place)
        driver.press_for(commands.TURNED)
    driver.wait(lambda: idle(window) and logbook.visit(visit.id).bench.correction_id > 0, "the correction")
    (kept,) = logbook.shelf.corrections()
    assert kept.fit_uv < 0.001
    assert (kept.reference, kept.technology, kept.screen) == (
        "Stand-in spectroradiometer",
        "led-lcd",
        visit.screen,
    )
    assert kept.meter == "Stand-in colorimeter, set to plasma"
    driver.wait(lambda: window.presenter.tool_of("bench").page().ailments == (), "nothing to be said any more")
    assert abs(kept.matrix - kept.matrix.diagonal() * [[1, 0, 0], [0, 1, 0], [0, 0, 1]]).max() > 0.0
    driver.wait(lambda: "corrected" in window.presenter.view().foot.meter, "the foot to say so")


def test_instruments_are_added_by_address_and_a_pass_is_measured_with_them(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver = drive(window)
    standins = build_bench(load_scenario("demo"), visit.bench.seed, clock=PacedClock(200.0))
    with BenchServer(standins) as server:
        driver.press_for(commands.BENCH)
        for address in server.addresses:
            driver.press_for(bench_commands.ADD_INSTRUMENT)
            field = window.room_view("bench").findChild(QLineEdit)
            QTest.keyClicks(field, address)
            QTest.keyClick(field, Qt.Key.Key_Return)
            driver.wait(
                lambda address=address: address in str(logbook.shelf.instruments()), f"{address} to be kept"
            )
            driver.wait(lambda: "is remembered and chosen" in sentence(window), "what answered")
        driver.wait(lambda: logbook.visit(visit.id).bench.link == "instrument", "the choice")
        bench = logbook.visit(visit.id).bench
        assert (bench.meter, bench.patterns, bench.link) == ("instrument",) * 3
        logbook.choose_bench(visit.id, replace(bench, settle_seconds=BRISK))
        presenter = window.presenter
        presenter.open_visit(visit.id)
        driver.wait(lambda: presenter.snapshot.visit.bench.settle_seconds == BRISK, "the brisk screen")
        driver.press_for(commands.BEGIN)
        driver.wait_for_pass()
    (record,) = logbook.passes(visit.id)
    assert (record.kind, record.state) == (AS_FOUND.key, PassState.DONE)
    assert record.bench["meter"] == "instrument"


def test_a_bench_that_goes_away_in_a_pass_and_comes_back(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    clock = StallingClock(STALLS_AT)
    standins = build_bench(load_scenario("demo"), visit.bench.seed, clock=clock)
    server = BenchServer(standins)
    ports = tuple(int(address.split("::")[2]) for address in server.addresses)
    kinds = (InstrumentKind.METER, InstrumentKind.SOURCE)
    meter, source = (
        logbook.shelf.remember(kind, address, "Stand-in", "1")
        for kind, address in zip(kinds, server.addresses[:2], strict=True)
    )
    line = replace(
        visit.bench,
        meter=Connection.INSTRUMENT,
        meter_id=meter.id,
        patterns=Connection.INSTRUMENT,
        source_id=source.id,
        settle_seconds=BRISK,
    )
    logbook.choose_bench(visit.id, line)
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press_for(commands.BEGIN)
    driver.wait(lambda: clock.stalled, "the middle of the pass")
    assert 4 < logbook.passes(visit.id)[0].readings < 25
    server.close()
    clock.go_on()
    driver.wait(
        lambda: any(hint.command == commands.TRY_AGAIN for hint in presenter.view().panel.keys), "the trouble"
    )
    assert "Every reading so far is kept" in sentence(window)
    kept = logbook.readings(logbook.passes(visit.id)[0].id)
    with BenchServer(standins, (ports[0], ports[1], ports[2])):

        def ended() -> bool:
            """A person who presses Enter whenever they are asked to try again."""
            if any(hint.command == commands.TRY_AGAIN for hint in presenter.view().panel.keys):
                presenter.do(commands.TRY_AGAIN)
            return not presenter.running

        driver.wait(ended, "the end of the pass")
    (record,) = logbook.passes(visit.id)
    readings = logbook.readings(record.id)
    assert record.state is PassState.DONE
    assert list(readings[: len(kept)]) == list(kept)
    assert len(readings) == 30


@pytest.mark.parametrize(
    ("address", "told"),
    [
        ("TCPIP::127.0.0.1::9::SOCKET", "nothing answers at"),
        ("my meter", "nothing answers at"),
        ("", "Type an address"),
    ],
)
def test_an_address_where_nobody_is_keeps_what_was_chosen(
    at_bench: AtBench, logbook: Logbook, visit: VisitRecord, address: str, told: str
) -> None:
    window, driver = at_bench
    window.presenter.tool_of("bench").measuring.add(address)
    driver.wait(lambda: told in sentence(window), told)
    assert logbook.shelf.instruments() == ()
    assert logbook.visit(visit.id).bench == visit.bench


def test_an_instrument_that_went_away_is_one_sentence_and_the_pass_can_begin_again(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    gone = logbook.shelf.remember(InstrumentKind.METER, "TCPIP::127.0.0.1::9::SOCKET", "Gone", "1")
    logbook.choose_bench(visit.id, replace(visit.bench, meter=Connection.INSTRUMENT, meter_id=gone.id))
    window = open_on(logbook)
    driver = drive(window)
    driver.press_for(commands.BEGIN)
    driver.wait(lambda: "nothing answers at" in sentence(window), "the sentence")
    assert not window.presenter.running


def test_patterns_by_hand_ask_for_each_patch_and_readings_are_typed_as_XYZ(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    by_hand = replace(
        visit.bench, meter=Connection.BY_HAND, patterns=Connection.BY_HAND, entry_form="XYZ", depth=8
    )
    logbook.choose_bench(visit.id, by_hand)
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press_for(commands.BEGIN)
    driver.wait(lambda: presenter.view().panel.lines[0].label == "Show the patch", "the patch to be asked for")
    assert presenter.view().panel.lines[1].label == "100 % grey"
    assert "codes 235 235 235" in sentence(window)
    driver.press_for(commands.TURNED)
    driver.wait(lambda: presenter.view().panel.entry is not None, "the entry")
    QTest.keyClicks(window._panel._entry, "95.2 100.1 108.6")
    driver.press_for(commands.KEEP_ENTRY)
    driver.wait(lambda: presenter.view().panel.lines[-1].label == "0 % grey", "the next patch")
    (record,) = logbook.passes(visit.id)
    (reading,) = logbook.readings(record.id)
    assert reading.xyz == pytest.approx([95.2, 100.1, 108.6])
    driver.press_for(commands.LEAVE)
    driver.wait_for_pass()


def test_a_pass_is_taken_from_a_file(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive, tmp_path: Path
) -> None:
    window = open_on(logbook)
    driver = drive(window)
    lines = [f"{p},{0.95 * y},{y},{1.2 * y}" for p in range(0, 101, 10) for y in [120 * (p / 100) ** 2.2 + 0.05]]
    file = tmp_path / "there.csv"
    file.write_text("\n".join(["percent,X,Y,Z", *lines]), "utf-8")
    window.presenter.import_file(tmp_path / "nowhere.csv")
    driver.wait(lambda: "nowhere.csv cannot be read" in sentence(window), "the refusal")
    window.presenter.import_file(file)
    driver.wait(lambda: "imported from there.csv" in sentence(window), "the pass")
    assert [record.state for record in logbook.passes(visit.id)] == [PassState.DONE]


def test_the_white_that_was_read_can_be_the_one_that_is_wanted(at_bench: AtBench, logbook: Logbook) -> None:
    window, driver = at_bench
    presenter = window.presenter
    hints = {hint.command for hint in presenter.view().panel.keys}
    assert bench_commands.MATCH_WHITE not in hints
    driver.press_for(commands.READ)
    driver.wait(lambda: "x 0." in sentence(window) and idle(window), "the reading")
    reading = presenter.tool_of("bench").measuring.reading
    assert reading is not None
    driver.press_for(bench_commands.MATCH_WHITE)
    driver.wait(lambda: "The target white is x 0." in sentence(window), "the sentence")
    white = target_named(logbook.visit(presenter.snapshot.visit.id).target).white
    assert (white.x, white.y) == pytest.approx(reading.xyz[:2] / reading.xyz.sum(), abs=1e-4)
    assert presenter.snapshot.visit.target.startswith("rec709-2.2/added@")
    # A light that is a colour is no white.
    presenter.tool_of("bench").measuring.reading = replace(reading, X=40.0, Z=1.0)
    presenter.do(bench_commands.MATCH_WHITE)
    assert "is a colour" in sentence(window)
    assert target_named(presenter.snapshot.visit.target).white == white
