"""The ledger in the window: moments side by side, what differs, what a control acts on, and putting back."""

from collections.abc import Callable
from dataclasses import replace

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from aequitone.advice.roles import Role
from aequitone.advice.scopes import Copied, Reach, Signals
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.states import Act, LedgerPage, Station
from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook, VisitRecord
from aequitone.passes import load_snapshot

Open = Callable[[Logbook], MainWindow]
Drive = Callable[[MainWindow], Driver]


@pytest.fixture
def worked(logbook: Logbook, visit: VisitRecord) -> VisitRecord:
    """Two controls were turned since, one of them twice."""
    ids = {control.role: control.id for control in logbook.controls(visit.screen_id)}
    found = logbook.ledger.at(visit.id)
    logbook.ledger.note(visit.id, {ids[Role.CONTRAST]: found[Role.CONTRAST] - 4}, "by eye")
    logbook.ledger.note(visit.id, {ids[Role.CONTRAST]: found[Role.CONTRAST] - 6}, "levels")
    logbook.ledger.note(visit.id, {ids[Role.GAIN_R]: found[Role.GAIN_R] + 3}, "white balance")
    return visit


def page_of(window: MainWindow) -> LedgerPage:
    page = window.presenter.view().ledger
    assert page is not None
    return page


def test_two_moments_are_compared_by_keys_and_copied_as_text(
    logbook: Logbook, worked: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press("Ctrl+5")
    driver.press_for(Act.LEDGER)
    page = page_of(window)
    assert page.first.startswith("As found")
    assert page.second.startswith("White balance")
    assert {row.role for row in page.rows if row.differs} == {"contrast", "gain-r"}
    driver.press_for(Act.MOMENT_LATER)
    driver.press_for(Act.MOMENT_LATER)
    assert page_of(window).first.startswith("Levels")
    driver.press_for(Act.ONLY_CHANGED)
    assert [row.role for row in page_of(window).rows] == ["gain-r"]
    driver.press_for(Act.OTHER_EARLIER)
    driver.press_for(Act.OTHER_EARLIER)
    page = page_of(window)
    assert page.second.startswith("By eye")
    assert [row.role for row in page.rows] == ["contrast"]
    # Nothing can be put back but from now.
    assert not any(hint.act is Act.PUT_ALL_BACK for hint in presenter.view().panel.keys)
    driver.press_for(Act.COPY)
    head, row = QGuiApplication.clipboard().text().splitlines()
    assert head.split("\t")[0] == "Control"
    found = logbook.ledger.at(worked.id, as_found=True)[Role.CONTRAST]
    assert row.split("\t")[-2:] == [str(found - 6), str(found - 4)]
    driver.press_for(Act.LEDGER)
    assert presenter.view().ledger is None


def test_what_a_control_acts_on_is_noted_by_key_and_kept(
    logbook: Logbook, worked: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press_for(Act.LEDGER)
    while page_of(window).rows[page_of(window).at].role != Role.CONTRAST:
        QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Down)
        window.refresh()
    for act in (Act.SCOPE_REACH, Act.SCOPE_SIGNALS, Act.SCOPE_COPIED):
        before = presenter.facts
        driver.press_for(act)
        driver.wait(lambda before=before: presenter.facts is not before, "what was noted")
    scope = next(c for c in load_snapshot(logbook, worked.id).controls if c.role is Role.CONTRAST).scope
    assert (scope.reach, scope.signals, scope.copied) == (Reach.INPUT, Signals.VIDEO, Copied.YES)
    assert "It acts on the input: turning it changes other memories too." in presenter.view().panel.sentence


def test_everything_is_put_back_by_link_and_the_screen_stands_as_found(
    logbook: Logbook, worked: VisitRecord, open_on: Open, drive: Drive
) -> None:
    found = logbook.ledger.at(worked.id, as_found=True)
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    standins = presenter._benches.bench(worked.bench).standins
    assert standins is not None
    standins.screen.turn({Role.CONTRAST: found[Role.CONTRAST] - 6, Role.GAIN_R: found[Role.GAIN_R] + 3})
    driver.press_for(Act.LEDGER)
    driver.press_for(Act.PUT_ALL_BACK)
    driver.wait_for_pass()
    assert presenter.here is Station.HAND_OVER
    assert logbook.ledger.at(worked.id) == found
    left = standins.screen.settings()
    assert (left[Role.CONTRAST], left[Role.GAIN_R]) == (found[Role.CONTRAST], found[Role.GAIN_R])
    assert logbook.ledger.history(worked.id)[-1].reason == "put back"
    driver.press_for(Act.LEDGER)
    assert not any(row.differs for row in page_of(window).rows)


def test_putting_back_by_hand_asks_one_after_another_and_goes_on_after_a_stop(
    logbook: Logbook, worked: VisitRecord, open_on: Open, drive: Drive
) -> None:
    found = logbook.ledger.at(worked.id, as_found=True)
    logbook.choose_bench(worked.id, replace(worked.bench, link="by hand"))
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press_for(Act.LEDGER)
    driver.press_for(Act.PUT_ALL_BACK)
    driver.press_for(Act.TURNED)
    driver.wait(lambda: presenter.facts is not None and presenter.running, "the second question")
    driver.wait(lambda: len(logbook.ledger.history(worked.id)) == len(found) + 4, "the first on disk")
    driver.press_for(Act.LEAVE)
    driver.wait_for_pass()
    assert logbook.ledger.at(worked.id) != found
    driver.press_for(Act.GO_ON)
    driver.press_for(Act.TURNED)
    driver.wait_for_pass()
    assert logbook.ledger.at(worked.id) == found
