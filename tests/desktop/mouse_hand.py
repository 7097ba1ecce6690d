"""A person with a mouse alone, for tests: clicks the keys that the panel shows, and the stand-in's menu."""

from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from aequitone.desktop.commands import Command
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.demo.remote import _HEAD, _ROW, Remote
from aequitone.desktop.frame.key_chips import KeyChip
from aequitone.desktop.session.operator import AskMove

_NOTCH = 120


class MouseDriver(Driver):
    """A hand on the mouse: what is a key for others is clicked where the panel shows it."""

    def press(self, key: str) -> None:
        """Click what the panel shows under a key."""
        self._window.refresh()
        self._click(next(chip for chip in self._chips() if chip.hint.key == key))

    def press_for(self, command: Command) -> None:
        """Click what the panel shows for a command."""
        self.wait(lambda: any(hint.command == command for hint in self._keys()), f"a key for “{command.name}”")
        self._window.refresh()
        self._click(next(chip for chip in self._chips() if chip.hint.command == command))

    def _chips(self) -> list[KeyChip]:
        return [chip for chip in self._window.findChildren(KeyChip) if chip.isVisible()]

    def _click(self, chip: KeyChip) -> None:
        QTest.mouseClick(chip, Qt.MouseButton.LeftButton)
        self._app.processEvents()


def turn_with_the_mouse(app: QApplication, remote: Remote, asked: AskMove) -> None:
    """Turn one move: each control clicked in the menu, and turned by the wheel."""
    rows = [control.role for control in remote.source.controls()]
    steps = {control.role: control.step for control in remote.source.controls()}
    for change in asked.move.changes:
        wanted = rows.index(change.role.key)
        while remote._row != wanted:
            # A long menu is shown around the row that is chosen: its end is clicked until the row is in sight.
            at = min(max(wanted - remote._first, 0), remote._rows - 1)
            QTest.mouseClick(remote, Qt.MouseButton.LeftButton, pos=QPoint(60, int(_HEAD + (at + 0.5) * _ROW)))
        by = change.to_value - remote.source.settings()[change.role.key]
        for _ in range(abs(by) // steps[change.role.key]):
            _wheel(app, remote, up=by > 0)
    app.processEvents()


def _wheel(app: QApplication, remote: Remote, *, up: bool) -> None:
    at = QPointF(60, _HEAD + _ROW / 2)
    turned = QPoint(0, _NOTCH if up else -_NOTCH)
    event = QWheelEvent(
        at,
        QPointF(remote.mapToGlobal(at.toPoint())),
        QPoint(),
        turned,
        Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    app.sendEvent(remote, event)
