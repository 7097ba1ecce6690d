"""A start with a logbook that cannot be opened, or not wholly: the window says what is wrong and what to do."""

import os
import sqlite3
from collections.abc import Callable, Iterator
from datetime import date, timedelta
from functools import partial
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from aequitone.desktop.app import attach, settings_of
from aequitone.desktop.starting import Start
from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook, VisitRecord
from aequitone.logbook.storage.backups import back_up, folder_of
from aequitone.logbook.storage.opening import REVISION

RUBBISH = b"SQLite format 3\0" + b"\xff" * 9000
Starts = Callable[[Path], Start]


@pytest.fixture
def start_on(qapp: QApplication) -> Iterator[Starts]:
    starts: list[Start] = []

    def make(path: Path) -> Start:
        start = Start(path, MainWindow(settings_of(path)), partial(attach, pace=1e6))
        starts.append(start)
        start.begin()
        return start

    yield make
    for start in starts:
        start.window.close()
        start.end()
        qapp.processEvents()


def said(start: Start) -> str:
    return (
        start.window._panel.findChild(type(start.window._panel._sentence)) and start.window._panel._sentence.text()
    )


def refused(start: Start, qtbot: QtBot) -> str:
    qtbot.waitUntil(lambda: "not opened" in start.window.windowTitle(), timeout=20_000)
    return said(start)


def attached(start: Start, qtbot: QtBot) -> None:
    qtbot.waitUntil(lambda: start.window._attached, timeout=20_000)


def press(start: Start, key: Qt.Key) -> None:
    start.window.activateWindow()
    QTest.keyClick(start.window, key)


def test_a_sound_logbook_is_opened_and_copied(
    logbook: Logbook, visit: VisitRecord, start_on: Starts, qtbot: QtBot
) -> None:
    logbook.close()
    start = start_on(logbook.path)
    attached(start, qtbot)
    assert start.window.presenter.snapshot is not None
    copy = folder_of(logbook.path) / f"logbook-{date.today()}.sqlite"
    qtbot.waitUntil(copy.exists)


def test_the_last_good_copy_is_offered_for_a_damaged_logbook(
    logbook: Logbook, visit: VisitRecord, start_on: Starts, qtbot: QtBot
) -> None:
    yesterday = date.today() - timedelta(days=1)
    back_up(logbook.path, yesterday)
    logbook.close()
    logbook.path.write_bytes(RUBBISH)
    start = start_on(logbook.path)
    assert str(logbook.path) in refused(start, qtbot)
    assert logbook.path.read_bytes() == RUBBISH
    press(start, Qt.Key.Key_1)
    attached(start, qtbot)
    assert start.window.presenter.snapshot is not None
    assert start.window.presenter.snapshot.visit == visit
    (aside,) = logbook.path.parent.glob("logbook.damaged-*.sqlite")
    assert aside.read_bytes() == RUBBISH


def test_without_a_copy_a_new_one_can_be_begun(tmp_path: Path, start_on: Starts, qtbot: QtBot) -> None:
    path = tmp_path / "logbook.sqlite"
    path.write_bytes(RUBBISH)
    start = start_on(path)
    refused(start, qtbot)
    press(start, Qt.Key.Key_1)
    assert path.read_bytes() == RUBBISH
    press(start, Qt.Key.Key_2)
    attached(start, qtbot)
    assert start.window.presenter.snapshot is None
    assert [each.read_bytes() for each in tmp_path.glob("logbook.damaged-*.sqlite")] == [RUBBISH]


def test_a_newer_logbook_is_only_tried_again(
    logbook: Logbook, visit: VisitRecord, start_on: Starts, qtbot: QtBot
) -> None:
    logbook.close()
    with sqlite3.connect(logbook.path) as raw:
        raw.execute("UPDATE alembic_version SET version_num = '9999'")
    raw.close()
    before = logbook.path.read_bytes()
    start = start_on(logbook.path)
    assert "written by a newer Aequitone" in refused(start, qtbot)
    for key in (Qt.Key.Key_1, Qt.Key.Key_2):
        press(start, key)
    assert logbook.path.read_bytes() == before
    with sqlite3.connect(logbook.path) as raw:
        raw.execute("UPDATE alembic_version SET version_num = ?", (REVISION,))
    raw.close()
    press(start, Qt.Key.Key_Return)
    attached(start, qtbot)


def test_a_bad_row_is_named_and_the_rest_is_shown(
    logbook: Logbook, visit: VisitRecord, start_on: Starts, qtbot: QtBot
) -> None:
    logbook.close()
    with sqlite3.connect(logbook.path) as raw:
        raw.execute("UPDATE control SET role = 'gain-q' WHERE id = 3")
    raw.close()
    start = start_on(logbook.path)
    attached(start, qtbot)
    assert start.window.presenter.snapshot is not None
    assert "left out: control 3" in start.window.presenter.session.message


def test_a_logbook_that_cannot_be_written_is_looked_at(
    logbook: Logbook, visit: VisitRecord, start_on: Starts, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    logbook.close()
    before = logbook.path.read_bytes()
    monkeypatch.setattr(os, "access", lambda *_: False)
    start = start_on(logbook.path)
    attached(start, qtbot)
    presenter = start.window.presenter
    assert presenter.snapshot is not None
    assert presenter.view().panel.heading == "Only to look at"
    assert "cannot be written" in presenter.view().panel.sentence
    with pytest.raises(Exception, match="readonly|read-only|read only"):
        presenter.session.logbook.choose_light(visit.id, 99.0)
    start.window.close()
    assert logbook.path.read_bytes() == before
    assert not folder_of(logbook.path).exists()


def test_what_is_no_logbook_at_all_is_left_alone(tmp_path: Path, start_on: Starts, qtbot: QtBot) -> None:
    path = tmp_path / "logbook.sqlite"
    path.mkdir()
    start = start_on(path)
    assert "is no file" in refused(start, qtbot)
    assert path.is_dir()
