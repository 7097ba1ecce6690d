"""The window driven by keys: a whole visit, what stops it, and what it goes on with."""

import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication
from tests.conftest import answer_checklist
from tests.desktop.remote_hand import make_move

from aequitone.advice.roles import Role
from aequitone.advice.two_point.mover import Stop
from aequitone.desktop import commands
from aequitone.desktop.app import window_on
from aequitone.desktop.commands import Command
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.stations.arrive import commands as arrive_commands
from aequitone.desktop.stations.hand_over import commands as hand_over_commands
from aequitone.desktop.widgets.ladder_table import LadderTable
from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook, PassState, VisitRecord, open_logbook
from aequitone.logbook.records import Connection
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found, nvram_path
from aequitone.passes import AS_FOUND, PROOF, TONE, WHITE, white_state
from aequitone.reference import target_named
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import load_scenario

Open = Callable[[Logbook], MainWindow]
Drive = Callable[[MainWindow], Driver]


def has(window: MainWindow, command: Command) -> bool:
    return any(hint.command == command for hint in window.presenter.view().panel.keys)


def readings(logbook: Logbook, visit: VisitRecord) -> int:
    return sum(record.readings for record in logbook.passes(visit.id))


def begin_and_read(driver: Driver, logbook: Logbook, visit: VisitRecord, count: int) -> None:
    driver.press_for(commands.BEGIN)
    driver.wait(lambda: readings(logbook, visit) >= count, f"{count} readings")


def to_white(driver: Driver) -> None:
    """From As found past Levels."""
    driver.press_for(commands.NEXT_STATION)
    driver.wait_for_station("levels")
    driver.press_for(commands.NEXT_STATION)
    driver.wait_for_station("white")


def as_found(driver: Driver) -> None:
    driver.press_for(commands.BEGIN)
    driver.wait_for_pass()


def test_a_whole_visit_by_link(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive, reports: Path
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    assert presenter.here == "as-found"
    as_found(driver)
    to_white(driver)
    assert presenter.here == "white"
    as_found(driver)
    assert presenter.snapshot is not None
    assert presenter.snapshot.result(WHITE) is not None
    assert presenter.snapshot.result(WHITE).stop in (Stop.MET, Stop.CANNOT_REACH, Stop.CANNOT_TELL)
    driver.press_for(commands.NEXT_STATION)
    driver.wait_for_station("tone")
    as_found(driver)
    assert presenter.snapshot.state(TONE) is not None
    assert presenter.snapshot.state(TONE).words in presenter.view().panel.sentence
    driver.press_for(commands.NEXT_STATION)
    driver.press_for(commands.NEXT_STATION)
    driver.wait_for_station("proof")
    as_found(driver)
    assert presenter.snapshot.result(PROOF) is not None
    assert (
        presenter.snapshot.result(PROOF).errors.de2000[:-1].mean()
        < 1.0
        < presenter.snapshot.result(AS_FOUND).errors.de2000[:-1].mean()
    )
    driver.press_for(commands.NEXT_STATION)
    driver.press_for(hand_over_commands.MAKE_REPORT)
    driver.wait(lambda: has(window, hand_over_commands.OPEN_REPORT), "the report")
    assert sorted(p.name for p in (reports / f"visit-{visit.id}").iterdir()) == [
        "after.png", "before.png", "pass-1-as-found.txt", "pass-2-white.txt", "pass-3-tone.txt",
        "pass-4-proof.txt", "readings.csv", "report.pdf",
    ]  # fmt: skip
    assert "Not done: Levels." in dict(presenter.view().page.paragraphs)["What is open"]
    driver.press_for(hand_over_commands.CLOSE_VISIT)
    assert "Close it with what is open?" in presenter.view().panel.sentence
    driver.press_for(hand_over_commands.CLOSE_VISIT)
    driver.wait(lambda: logbook.open_visit() is None, "the closed visit")
    driver.press_for(commands.NEW_VISIT)
    assert presenter.here == "arrive"
    assert presenter.snapshot is None


def test_the_keys_shown_are_the_keys_that_work(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver = drive(window)
    shown = {hint.key for hint in window.presenter.view().panel.keys}
    enabled = {key for key, (shortcut, _) in window._shortcuts.items() if shortcut.isEnabled()}
    assert enabled == shown
    driver.press("Space")
    driver.press("Z")
    assert not window.presenter.running
    assert all(hint.words and hint.key for hint in window.presenter.view().panel.keys)


def test_pause_holds_the_pass_and_leaving_keeps_it(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press_for(commands.BEGIN)
    driver.wait(lambda: presenter.view().panel.progress is not None, "progress")
    driver.press_for(commands.PAUSE)
    driver.wait(lambda: presenter.view().panel.heading == "Paused", "the pause")
    count = logbook.passes(visit.id)[0].readings
    QTest.qWait(150)
    assert logbook.passes(visit.id)[0].readings == count
    driver.press_for(commands.LEAVE)
    driver.wait_for_pass()
    assert "was interrupted" in presenter.view().panel.sentence
    driver.press_for(commands.GO_ON)
    driver.wait_for_pass()
    assert [p.state for p in logbook.passes(visit.id)] == [PassState.DONE]
    assert len(logbook.readings(logbook.passes(visit.id)[0].id)) == 30


def test_closing_in_the_middle_offers_to_go_on_at_the_next_start(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver = drive(window)
    begin_and_read(driver, logbook, visit, 3)
    window.close()
    kept = logbook.readings(logbook.passes(visit.id)[0].id)
    again = open_on(open_logbook(logbook.path))
    assert has(again, commands.GO_ON)
    assert f"{len(kept)} readings kept" in again.presenter.view().panel.sentence
    second = drive(again)
    second.press_for(commands.GO_ON)
    second.wait_for_pass()
    assert logbook.readings(logbook.passes(visit.id)[0].id)[: len(kept)] == kept
    assert logbook.passes(visit.id)[0].state is PassState.DONE


def test_closing_waits_for_nothing_that_is_only_simulated(
    qapp: QApplication, logbook: Logbook, visit: VisitRecord, drive: Drive
) -> None:
    window = window_on(logbook, pace=0.2)
    window.show()
    window.activateWindow()
    driver = drive(window)
    driver.press_for(commands.BEGIN)
    QTest.qWait(200)
    began = time.monotonic()
    window.close()
    assert time.monotonic() - began < 3.0
    assert not window.presenter.session.running._thread or window.presenter.session.running._thread.isFinished()
    assert logbook.passes(visit.id)[0].state is PassState.RUNNING


def test_an_interrupted_pass_can_be_set_aside(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver = drive(window)
    begin_and_read(driver, logbook, visit, 2)
    driver.press_for(commands.LEAVE)
    driver.wait_for_pass()
    driver.press_for(commands.SET_ASIDE)
    driver.wait(lambda: has(window, commands.BEGIN), "a fresh start")
    assert logbook.passes(visit.id)[0].state is PassState.SET_ASIDE
    assert logbook.passes(visit.id)[0].readings >= 2


def test_put_back_by_key(logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    as_found(driver)
    to_white(driver)
    driver.press_for(commands.BEGIN)
    driver.press_for(commands.UNDO)
    driver.wait_for_pass()
    assert presenter.snapshot is not None
    assert white_state(presenter.snapshot) is not None
    assert any(trip.move.undoes for trip in white_state(presenter.snapshot).trips)


@pytest.fixture
def by_hand(logbook: Logbook) -> tuple[VisitRecord, StandInBench]:
    scenario = load_scenario("demo")
    begun = begin_standin_visit(logbook, scenario, "demo", 4, link=Connection.BY_HAND)
    hidden = build_bench(scenario, 4)
    note_as_found(logbook, begun, hidden.link.values())
    answer_checklist(logbook, begun)
    return begun, hidden


def test_a_visit_by_hand_with_the_standin_remote(
    qapp: QApplication, logbook: Logbook, by_hand: tuple[VisitRecord, StandInBench], open_on: Open, drive: Drive
) -> None:
    visit, hidden = by_hand
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    as_found(driver)
    to_white(driver)
    driver.press_for(commands.REMOTE)
    driver.wait(lambda: window._remote is not None and window._remote.isVisible(), "the remote")
    remote = window._remote
    assert remote is not None
    window.activateWindow()
    driver.press_for(commands.BEGIN)
    trips, put_back = 0, False
    while presenter.running and trips < 16:
        driver.wait(lambda: not presenter.running or presenter.session.asked is not None, "a move or the end")
        if presenter.session.asked is None:
            continue
        panel = presenter.view().panel
        assert panel.yours
        assert panel.lines
        assert has(window, commands.TURNED)
        if trips == 1 and not put_back:
            put_back = True
            asked = presenter.session.asked
            driver.press_for(commands.UNDO)
            driver.wait(
                lambda asked=asked: presenter.session.asked is not None and presenter.session.asked != asked,
                "the way back",
            )
            assert "undoes the last move" in presenter.view().panel.sentence
        make_move(qapp, driver, remote)
        trips += 1
    assert presenter.snapshot is not None
    state = white_state(presenter.snapshot)
    assert state is not None
    assert put_back
    assert any(trip.move.undoes for trip in state.trips)
    left = remote.source.settings()
    assert {c.role.key: c.value for c in state.controls}.items() <= left.items()
    assert max(hidden.true_de2000((80.0, 30.0), target_named(visit.target), left)) < 1.0
    # The remote's screen is the one the meter looks at, and it is remembered as a real one's settings are.
    assert nvram_path(logbook.path, "demo", 4).exists()


def test_trouble_with_an_instrument_is_said_and_the_window_stays(
    logbook: Logbook, open_on: Open, drive: Drive, tmp_path: Path
) -> None:
    from importlib import resources

    demo = (resources.files("aequitone.standins") / "scenarios" / "demo.toml").read_text("utf-8")
    path = tmp_path / "silent.toml"
    path.write_text(demo.replace("[screen]\n", "[meter]\nsilent_after_readings = 12\n\n[screen]\n", 1), "utf-8")
    scenario = load_scenario(str(path))
    visit = begin_standin_visit(logbook, scenario, str(path), 4)
    note_as_found(logbook, visit, build_bench(scenario, 4).link.values())
    answer_checklist(logbook, visit)
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press_for(commands.BEGIN)
    driver.wait(lambda: has(window, commands.TRY_AGAIN), "the trouble")
    assert "does not answer" in presenter.view().panel.sentence
    kept = logbook.passes(visit.id)[0].readings
    assert kept > 0
    driver.press_for(commands.TRY_AGAIN)
    driver.wait(lambda: has(window, commands.TRY_AGAIN), "the same trouble")
    driver.press_for(commands.LEAVE)
    driver.wait_for_pass()
    assert has(window, commands.GO_ON)
    assert logbook.passes(visit.id)[0].readings == kept
    # A scenario that is gone is said when the pass is to go on, and nothing is lost by it.
    path.unlink()
    window.close()
    fresh = open_on(open_logbook(logbook.path))
    drive(fresh).press_for(commands.GO_ON)
    drive(fresh).wait(lambda: "no scenario" in fresh.presenter.view().panel.sentence, "the sentence")
    assert has(fresh, commands.GO_ON)
    assert logbook.passes(visit.id)[0].readings == kept


def test_looking_at_another_station_while_a_pass_runs(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press_for(commands.BEGIN)
    driver.press("Ctrl+8")
    assert presenter.here == "proof"
    assert "Ctrl+3 goes back" in presenter.view().panel.sentence
    driver.press("Ctrl+3")
    driver.wait_for_pass()
    assert presenter.here == "as-found"


def test_table_copy_and_darken(logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive) -> None:
    window = open_on(logbook)
    driver = drive(window)
    as_found(driver)
    driver.press_for(commands.TABLE)
    window.refresh()
    shown = window.room_view("as-found").currentWidget()
    assert isinstance(shown, LadderTable)
    assert shown.rowCount() == 11
    driver.press_for(commands.COPY)
    lines = QGuiApplication.clipboard().text().splitlines()
    assert lines[0].startswith("Level %\tX\tY cd/m²")
    assert len(lines) == 12
    snapshot = window.presenter.snapshot
    assert snapshot is not None
    assert float(lines[1].split("\t")[2]) == pytest.approx(snapshot.result(AS_FOUND).white, rel=1e-3)
    driver.press_for(commands.DARKEN)
    assert window._darkened.isVisible()
    assert window._darkened.geometry() == window.rect()
    driver.press_for(commands.DARKEN)
    assert not window._darkened.isVisible()


def test_the_window_remembers_its_place_and_its_table(
    logbook: Logbook, visit: VisitRecord, qapp: QApplication
) -> None:
    def opened(on: Logbook) -> MainWindow:
        window = window_on(on, pace=1.0)
        window.show()
        qapp.processEvents()
        return window

    window = opened(logbook)
    assert not window.presenter.session.tabled
    Driver(qapp, window).press_for(commands.TABLE)
    window.resize(800, 640)
    qapp.processEvents()
    left = window.size()
    window.close()
    again = opened(open_logbook(logbook.path))
    try:
        assert again.presenter.session.tabled
        assert again.size() == left
    finally:
        again.close()


def test_white_needs_the_controls_noted(logbook: Logbook, open_on: Open, drive: Drive) -> None:
    visit = begin_standin_visit(logbook, load_scenario("demo"), "demo", 4)
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    assert presenter.here == "arrive"
    driver.press("Ctrl+3")
    as_found(driver)
    to_white(driver)
    driver.wait(lambda: "enter them at Arrive" in presenter.view().panel.sentence, "the sentence")
    assert not has(window, commands.BEGIN)
    # The first key leads to where it is mended, and back to where the visit goes on.
    driver.press_for(commands.TO_ARRIVE)
    driver.wait_for_station("arrive")
    # Something was switched off meanwhile: what was never noted can be noted all the same.
    saving = next(c for c in logbook.controls(visit.screen_id) if c.role == Role.ENERGY_SAVING)
    logbook.ledger.switch_off(visit.id, saving.id, 1, 0)
    presenter.open_visit(visit.id)
    driver.wait(lambda: bool(presenter.snapshot.debts), "the debt")
    presenter.go_to("arrive")
    driver.press_for(arrive_commands.FILL)
    driver.wait(lambda: not presenter.station("arrive").filling, "the menu")
    driver.press_for(arrive_commands.SAVE)
    driver.wait(lambda: Role.GAIN_R in presenter.snapshot.settings, "the settings")
    assert presenter.here != "arrive"
    assert presenter.snapshot.settings[Role.ENERGY_SAVING] == 0
    presenter.go_to("white")
    window.refresh()
    assert has(window, commands.BEGIN)
    assert [p.kind for p in logbook.passes(visit.id)] == [AS_FOUND.key]


def test_another_target_is_chosen_between_passes(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press("Ctrl+1")
    presenter.station("arrive").edit(replace(presenter.station("arrive").draft, target="rec709-2.4"))
    driver.press_for(arrive_commands.SAVE)
    driver.wait(lambda: "gamma 2.4" in window.presenter.view().strip.what, "the other target")
    assert logbook.visit(visit.id).target == "rec709-2.4"


def test_a_screen_that_was_visited_before_brings_its_menu(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    logbook.close_visit(visit.id)
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press_for(commands.NEW_VISIT)
    driver.wait(lambda: presenter.snapshot is None, "the empty form")
    for key, words in (("client", visit.client), ("room", visit.room), ("screen", visit.screen)):
        field = window.room_view("arrive")._names[key]
        field.setFocus()
        QTest.keyClicks(field, words)
        # The list of known names is up by now; it gets the key first, as it does from a keyboard.
        QTest.keyClick(QApplication.activePopupWidget() or field, Qt.Key.Key_Tab)
    driver.wait(lambda: any(row.name for row in presenter.station("arrive").draft.controls), "the menu")
    assert "visited before" in presenter.view().panel.sentence
    assert [row.name for row in presenter.station("arrive").draft.controls][:3] == ["R gain", "G gain", "B gain"]
    assert all(row.found == "" for row in presenter.station("arrive").draft.controls)
    assert window.room_view("arrive").draft().controls == presenter.station("arrive").draft.controls


def test_what_stands_elsewhere_than_it_was_left_is_told(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    ids = {control.role: control for control in logbook.controls(visit.screen_id)}
    gain, bias = ids[Role.GAIN_R], ids[Role.BIAS_R]
    stood = logbook.ledger.at(visit.id)
    logbook.ledger.note(visit.id, {gain.id: stood[Role.GAIN_R] + 3}, "white balance")
    logbook.close_visit(visit.id)
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    presenter.visit_again(visit.id)
    driver.wait(lambda: presenter.snapshot is None, "the form")
    station = presenter.station("arrive")
    found = {role: str(value) for role, value in stood.items()} | {Role.BIAS_R: str(stood[Role.BIAS_R] + 1)}
    rows = tuple(
        replace(row, found=row.choices[int(found[row.role])] if row.choices else found[row.role])
        for row in station.draft.controls
        if row.role in found
    )
    station.edit(replace(station.draft, controls=rows))
    driver.press_for(arrive_commands.SAVE)
    driver.wait(lambda: presenter.snapshot is not None, "the visit")
    told = (
        f"Since the last visit: {gain.name} left at {stood[Role.GAIN_R] + 3}, found at {stood[Role.GAIN_R]}, "
        f"{bias.name} left at {stood[Role.BIAS_R]}, found at {stood[Role.BIAS_R] + 1}."
    )
    assert told in presenter.view().panel.sentence
    # It can be read again at Arrive, as long as the visit lasts.
    presenter.go_to("arrive")
    driver.wait(lambda: told in presenter.view().panel.sentence, "what stands elsewhere")


def test_impossible_settings_never_reach_the_ledger(logbook: Logbook, open_on: Open, drive: Drive) -> None:
    visit = begin_standin_visit(logbook, load_scenario("demo"), "demo", 4)
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    assert presenter.here == "arrive"
    window.room_view("arrive")._table.item(0, 6).setText("140")
    driver.press_for(arrive_commands.SAVE)
    assert "R gain goes from 0 to 100; 140 cannot be." in presenter.view().panel.sentence
    assert presenter.here == "arrive"
    assert logbook.ledger.at(visit.id) == {}
    window.room_view("arrive")._table.item(0, 6).setText("52")
    # What is blank is said before it is saved so.
    driver.press_for(arrive_commands.SAVE)
    assert "66 more have no setting as found" in presenter.view().panel.sentence
    assert logbook.ledger.at(visit.id) == {}
    driver.press_for(arrive_commands.SAVE)
    driver.wait_for_station("prepare")
    assert list(logbook.ledger.at(visit.id).values()) == [52]


def test_both_enter_keys_are_enter(logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive) -> None:
    window = open_on(logbook)
    QTest.keyClick(window, Qt.Key.Key_Enter)
    drive(window).wait(lambda: window.presenter.running, "the pass")
    drive(window).wait_for_pass()
    assert logbook.passes(visit.id)[0].state is PassState.DONE
