"""The logbook's list by keys: renaming with undo, clients put away, and a screen visited again."""

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit

from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.states import Act, Station
from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook, VisitRecord
from aequitone.logbook.register import Named

Open = Callable[[Logbook], MainWindow]
Drive = Callable[[MainWindow], Driver]


def listed(window: MainWindow, driver: Driver) -> None:
    driver.press("Ctrl+1")
    driver.press_for(Act.VISITS)
    driver.wait(lambda: len(window.presenter.finding.lines) > 0, "the visits")


def test_a_name_is_changed_refused_and_taken_back_by_keys(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    listed(window, driver)
    driver.press("F2")
    driver.wait(lambda: presenter.finding.renaming is Named.CLIENT, "the client's name")
    field = QApplication.focusWidget()
    assert isinstance(field, QLineEdit)
    assert field.text() == visit.client
    field.clear()
    driver.press_for(Act.KEEP_READING)
    driver.wait(lambda: "needs a name" in presenter.view().panel.entry.objection, "the refusal")
    driver.press("F2")
    driver.wait(lambda: presenter.finding.renaming is Named.ROOM, "the room's name")
    QTest.keyClicks(QApplication.focusWidget(), "Attic")
    driver.press_for(Act.KEEP_READING)
    driver.wait(lambda: presenter.finding.lines[0].room == "Attic", "the new name")
    driver.press_for(Act.REGISTER_UNDO)
    driver.wait(lambda: presenter.finding.lines[0].room == visit.room, "the old name")
    driver.press("F2")
    driver.wait(lambda: presenter.finding.renaming is not None, "the question")
    QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Escape)
    assert presenter.finding.open
    assert presenter.finding.renaming is None
    assert logbook.visit(visit.id).client == visit.client


def test_a_client_is_put_away_and_taken_in_again(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    listed(window, driver)
    driver.press_for(Act.PUT_AWAY)
    driver.wait(lambda: presenter.finding.lines == (), "an empty list")
    driver.press_for(Act.SHOW_AWAY)
    driver.wait(lambda: len(presenter.finding.lines) == 1, "those who are away")
    driver.press_for(Act.PUT_AWAY)
    driver.wait(lambda: presenter.finding.lines == (), "nobody away")
    driver.press_for(Act.SHOW_AWAY)
    driver.wait(lambda: len(presenter.finding.lines) == 1, "the client back")


def test_a_screen_is_visited_again_with_all_but_its_settings(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    logbook.register.rename(visit.id, Named.DEVICE, "disc player")
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    listed(window, driver)
    driver.press_for(Act.VISIT_AGAIN)
    driver.wait(lambda: presenter.facts is None and presenter.draft.screen == visit.screen, "the form")
    assert presenter.here is Station.ARRIVE
    assert presenter.facts is None
    assert presenter.draft.device == "disc player"
    assert any(row.name for row in presenter.draft.controls)
    assert not any(row.found for row in presenter.draft.controls)
    driver.press_for(Act.SAVE_ARRIVAL)
    driver.wait(lambda: presenter.facts is not None, "the visit")
    assert presenter.facts.visit.id != visit.id
    assert presenter.facts.visit.screen_id == visit.screen_id
    assert presenter.facts.visit.device == "disc player"
