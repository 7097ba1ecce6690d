"""What the window does with files of others: it reads them, and changes nothing."""

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import Qt, QTimer
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog, QLineEdit, QListView, QMessageBox
from pytestqt.qtbot import QtBot

from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook

Open = Callable[[Logbook], MainWindow]


def say_yes() -> None:
    for window in QApplication.topLevelWidgets():
        if isinstance(window, QMessageBox):
            window.button(QMessageBox.StandardButton.Yes).click()


def test_no_key_in_the_import_dialog_changes_anything_on_disk(
    logbook: Logbook, open_on: Open, tmp_path: Path, qtbot: QtBot
) -> None:
    folder = tmp_path / "theirs"
    (folder / "kept").mkdir(parents=True)
    (folder / "kept" / "pass.csv").write_text("percent,X,Y,Z\n")
    (folder / "readings.csv").write_text("percent,X,Y,Z\n")
    there = sorted(folder.rglob("*"))
    window = open_on(logbook)
    window._settings.setValue("folder", str(folder))
    window._choose_file()
    dialog = window.findChild(QFileDialog)
    assert dialog is not None
    rows = dialog.findChild(QListView, "listView")
    assert rows is not None
    qtbot.waitUntil(lambda: rows.model().rowCount(rows.rootIndex()) == 2)
    # Whatever it asks is answered with yes.
    yes = QTimer()
    yes.timeout.connect(say_yes)
    yes.start(20)
    for key in (Qt.Key.Key_Delete, Qt.Key.Key_F2):
        for row in range(2):
            rows.setFocus()
            rows.setCurrentIndex(rows.model().index(row, 0, rows.rootIndex()))
            QTest.keyClick(rows, key)
            qtbot.wait(100)
            for field in rows.findChildren(QLineEdit):
                QTest.keyClicks(field, "renamed")
                QTest.keyClick(field, Qt.Key.Key_Return)
            qtbot.wait(50)
    assert sorted(folder.rglob("*")) == there
    dialog.reject()
