"""A person with the stand-in's remote, for tests: turns what the panel asks for with the arrow keys."""

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from aequitone.desktop import commands
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.demo.remote import Remote
from aequitone.desktop.session.operator import AskMove


def turn_with_the_remote(app: QApplication, remote: Remote, asked: AskMove) -> None:
    """Turn one move, as a person would."""
    rows = [control.role for control in remote.source.controls()]
    for change in asked.move.changes:
        while remote._row != rows.index(change.role.key):
            QTest.keyClick(remote, Qt.Key.Key_Down)
        key = Qt.Key.Key_Right if change.by > 0 else Qt.Key.Key_Left
        for _ in range(abs(change.by) // 5):
            QTest.keyClick(remote, key, Qt.KeyboardModifier.ShiftModifier)
        for _ in range(abs(change.by) % 5):
            QTest.keyClick(remote, key)
    app.processEvents()


def follow(app: QApplication, driver: Driver, remote: Remote, most_trips: int = 16) -> int:
    """Follow a pass that asks for moves to its end; returns how many were made."""
    presenter, trips = driver._window.presenter, 0
    while presenter.running and trips < most_trips:
        driver.wait(lambda: not presenter.running or presenter.session.asked is not None, "a move or the end")
        if presenter.session.asked is None:
            continue
        make_move(app, driver, remote)
        trips += 1
    return trips


def make_move(app: QApplication, driver: Driver, remote: Remote) -> None:
    """Make the move that is asked for, say so, and wait until it was read."""
    session = driver._window.presenter.session
    assert session.asked is not None
    question = session.asked.question
    assert isinstance(question, AskMove)
    turn_with_the_remote(app, remote, question)
    driver.press_for(commands.TURNED)
    driver.wait(lambda: session.asked is None or session.asked.question is not question, "its readings")
