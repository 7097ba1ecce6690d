"""Levels by hand, driven: several controls in a walk, watched with V, and read where a hand has left them."""

from collections.abc import Callable

import pytest
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit
from tests.desktop.by_hand import asked, screen_of, window_by_hand
from tests.desktop.mouse_hand import MouseDriver, turn_with_the_mouse

from aequitone.advice.moves import Move
from aequitone.desktop import commands
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.presenter import Presenter
from aequitone.desktop.session.operator import AskMove
from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook, VisitRecord
from aequitone.passes import LEVELS
from aequitone.procedures.levels.session import LEVEL_ROLES

Open = Callable[[Logbook], MainWindow]
Drive = Callable[[MainWindow], Driver]


@pytest.fixture
def asking(logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive) -> tuple[Presenter, Driver, Move]:
    """Levels, at the first walk that is asked for."""
    window = window_by_hand(logbook, visit, open_on)
    driver, presenter = drive(window), window.presenter
    driver.press("Ctrl+4")
    driver.press_for(commands.BEGIN)
    driver.wait(lambda: asked(presenter) is not None, "a move")
    move = asked(presenter)
    assert move is not None
    return presenter, driver, move


def test_the_keys_say_which_control_they_are_about(asking: tuple[Presenter, Driver, Move]) -> None:
    presenter, _, move = asking
    panel = presenter.view().panel
    assert [line.label for line in panel.lines] == [change.name for change in move.changes]
    assert len(move.changes) > 1
    words = {hint.command: hint.words for hint in panel.keys}
    first = move.changes[0].name
    assert words[commands.STOP_HERE] == f"finish {first}"
    assert words[commands.UNDO] == f"put {first} back"
    assert "say where it stands" in panel.sentence


def test_a_walk_is_watched_and_what_did_not_move_is_said(asking: tuple[Presenter, Driver, Move]) -> None:
    presenter, driver, move = asking
    for turns in (False, True):
        driver.press_for(commands.WATCH)
        driver.wait(
            lambda: any(hint.command == commands.WATCHED for hint in presenter.view().panel.keys), "a glance"
        )
        assert "100 % white: " in presenter.view().panel.sentence
        assert "are wanted" in presenter.view().panel.sentence
        if turns:
            before = presenter.view().panel.sentence
            screen_of(presenter).turn({change.role.key: change.to_value for change in move.changes})
            driver.wait(
                lambda before=before: presenter.view().panel.sentence != before, "the hand's work to be seen"
            )
        driver.press_for(commands.WATCHED)
        if not turns:
            driver.wait(lambda: asked(presenter) is not None, "to be asked once more")
            assert "not seen to move" in presenter.view().panel.sentence
    driver.wait(lambda: asked(presenter) not in (None, move) or not presenter.running, "the next walk")


def test_a_control_that_was_left_elsewhere_is_read_there(
    asking: tuple[Presenter, Driver, Move], logbook: Logbook, visit: VisitRecord
) -> None:
    presenter, driver, move = asking
    stands = {change.role: change.to_value + 2 for change in move.changes}
    screen_of(presenter).turn({role.key: value for role, value in stands.items()})
    driver.press_for(commands.STANDS_AT)
    driver.wait(lambda: isinstance(QApplication.focusWidget(), QLineEdit), "the line to type in")
    QTest.keyClicks(QApplication.focusWidget(), ", ".join(str(value) for value in stands.values()))
    driver.press("Enter")
    driver.wait(lambda: asked(presenter) not in (None, move) or not presenter.running, "the next walk")
    noted = logbook.ledger.at(visit.id)
    assert {role: noted[role] for role in stands} == stands
    following = asked(presenter)
    assert following is not None
    assert all(change.from_value == stands.get(change.role, change.from_value) for change in following.changes)


def test_levels_are_set_by_mouse_alone(
    qapp: QApplication, logbook: Logbook, visit: VisitRecord, open_on: Open
) -> None:
    window = window_by_hand(logbook, visit, open_on)
    presenter, driver = window.presenter, MouseDriver(qapp, window)
    presenter.go_to("levels")
    driver.press_for(commands.REMOTE)
    driver.wait(lambda: window._remote is not None and window._remote.isVisible(), "the remote")
    driver.press_for(commands.BEGIN)
    walks = 0
    while presenter.running:
        driver.wait(lambda: not presenter.running or presenter.session.asked is not None, "a move or the end")
        if presenter.session.asked is None:
            continue
        question = presenter.session.asked.question
        assert isinstance(question, AskMove)
        turn_with_the_mouse(qapp, window._remote, question)
        driver.press_for(commands.TURNED)
        driver.wait(
            lambda q=question: presenter.session.asked is None or presenter.session.asked.question is not q, "more"
        )
        walks += 1
    assert 0 < walks <= 8
    assert presenter.snapshot.done(LEVELS)
    stands, noted = screen_of(presenter).settings(), logbook.ledger.at(visit.id)
    assert all(stands[role.key] == noted[role] for role in LEVEL_ROLES if role in noted)
