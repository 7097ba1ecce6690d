"""The ledger in the window: moments side by side, what differs, what a control acts on, and putting back."""

from collections.abc import Callable
from dataclasses import replace

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication
from tests.desktop.hints import shows

from aequitone.advice.roles import Role, role_of
from aequitone.advice.scopes import Copied, Reach, Signals
from aequitone.desktop import commands
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.tools.controls import commands as controls_commands
from aequitone.desktop.tools.controls.state import ControlsPage
from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook, VisitRecord
from aequitone.logbook.records import Connection
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


def page_of(window: MainWindow) -> ControlsPage:
    page = window.presenter.view().page
    assert page is not None
    return page


def test_two_moments_are_compared_by_keys_and_copied_as_text(
    logbook: Logbook, worked: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press("Ctrl+5")
    driver.press_for(commands.CONTROLS)
    page = page_of(window)
    assert page.first.startswith("As found")
    assert page.second.startswith("White balance")
    assert {row.role for row in page.rows if row.differs} == {"contrast", "gain-r"}
    driver.press_for(controls_commands.LATER)
    driver.press_for(controls_commands.LATER)
    assert page_of(window).first.startswith("Levels")
    driver.press_for(controls_commands.ONLY_CHANGED)
    assert [row.role for row in page_of(window).rows] == ["gain-r"]
    driver.press_for(controls_commands.OTHER_EARLIER)
    driver.press_for(controls_commands.OTHER_EARLIER)
    page = page_of(window)
    assert page.second.startswith("By eye")
    assert [row.role for row in page.rows] == ["contrast"]
    # Nothing can be put back but from now.
    assert not any(hint.command == controls_commands.PUT_BACK_ALL for hint in presenter.view().panel.keys)
    driver.press_for(commands.COPY)
    head, row = QGuiApplication.clipboard().text().splitlines()
    assert head.split("\t")[0] == "Control"
    found = logbook.ledger.at(worked.id, as_found=True)[Role.CONTRAST]
    assert row.split("\t")[-2:] == [str(found - 6), str(found - 4)]
    driver.press_for(commands.CLOSE_TOOL)
    assert presenter.tool is None


def test_what_a_control_acts_on_is_noted_by_key_and_kept(
    logbook: Logbook, worked: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press_for(commands.CONTROLS)
    while page_of(window).rows[page_of(window).at].role != Role.CONTRAST.key:
        QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Down)
        window.refresh()
    for act in (controls_commands.REACH, controls_commands.SIGNALS, controls_commands.COPIED):
        before = presenter.snapshot
        driver.press_for(act)
        driver.wait(lambda before=before: presenter.snapshot is not before, "what was noted")
    scope = next(c for c in load_snapshot(logbook, worked.id).controls if c.role == Role.CONTRAST).scope
    assert (scope.reach, scope.signals, scope.copied) == (Reach.INPUT, Signals.VIDEO, Copied.YES)
    assert "It acts on the input: turning it changes other memories too." in presenter.view().panel.sentence


def test_everything_is_put_back_by_link_and_the_screen_stands_as_found(
    logbook: Logbook, worked: VisitRecord, open_on: Open, drive: Drive
) -> None:
    found = logbook.ledger.at(worked.id, as_found=True)
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    standins = presenter.session.instruments.bench(worked.bench).standins
    assert standins is not None
    standins.screen.turn({Role.CONTRAST.key: found[Role.CONTRAST] - 6, Role.GAIN_R.key: found[Role.GAIN_R] + 3})
    driver.press_for(commands.CONTROLS)
    driver.press_for(controls_commands.PUT_BACK_ALL)
    driver.wait_for_pass()
    assert presenter.here == "hand-over"
    assert logbook.ledger.at(worked.id) == found
    left = standins.screen.settings()
    assert (left[Role.CONTRAST.key], left[Role.GAIN_R.key]) == (found[Role.CONTRAST], found[Role.GAIN_R])
    assert logbook.ledger.history(worked.id)[-1].reason == "put back"
    driver.press_for(commands.CONTROLS)
    assert not any(row.differs for row in page_of(window).rows)


def test_putting_back_by_hand_asks_one_after_another_and_goes_on_after_a_stop(
    logbook: Logbook, worked: VisitRecord, open_on: Open, drive: Drive
) -> None:
    found = logbook.ledger.at(worked.id, as_found=True)
    logbook.choose_bench(worked.id, replace(worked.bench, link=Connection.BY_HAND))
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press_for(commands.CONTROLS)
    driver.press_for(controls_commands.PUT_BACK_ALL)
    driver.press_for(commands.TURNED)
    driver.wait(lambda: presenter.snapshot is not None and presenter.running, "the second question")
    driver.wait(lambda: len(logbook.ledger.history(worked.id)) == len(found) + 4, "the first on disk")
    driver.press_for(commands.LEAVE)
    driver.wait_for_pass()
    assert logbook.ledger.at(worked.id) != found
    driver.press_for(commands.GO_ON)
    driver.press_for(commands.TURNED)
    driver.wait_for_pass()
    assert logbook.ledger.at(worked.id) == found


def test_one_control_goes_back_alone_and_after_closing_the_rest_can(
    logbook: Logbook, worked: VisitRecord, open_on: Open, drive: Drive
) -> None:
    found, stood = logbook.ledger.at(worked.id, as_found=True), logbook.ledger.at(worked.id)
    logbook.close_visit(worked.id)
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    assert presenter.here == "hand-over"
    assert shows(window, commands.VISITS)
    driver.press_for(commands.CONTROLS)
    rows = page_of(window).rows
    at = next(i for i, row in enumerate(rows) if row.differs)
    presenter.tool_of("controls").choose(at)
    window.refresh()
    driver.press_for(controls_commands.PUT_BACK_ONE)
    driver.wait_for_pass()
    alone = role_of(rows[at].role)
    assert logbook.ledger.at(worked.id) == stood | {alone: found[alone]}
    assert f"{rows[at].name} is back to how it stood" in presenter.view().panel.sentence
    assert logbook.visit(worked.id).closed is not None
    driver.press_for(commands.CONTROLS)
    driver.press_for(controls_commands.PUT_BACK_ALL)
    driver.wait_for_pass()
    assert logbook.ledger.at(worked.id) == found
    assert "Everything is back to how it stood" in presenter.view().panel.sentence
