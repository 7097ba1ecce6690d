"""A command of the program in a process of its own: laying out pages would hold up the window."""

import sys
from collections.abc import Callable, Sequence

from PySide6.QtCore import QObject, QProcess

Ended = Callable[[bool, str], None]
"""Called with whether it went well, and what was printed, or else what went wrong as a sentence."""


class Child(QObject):
    """One command at a time."""

    def __init__(self) -> None:
        super().__init__()
        self._process: QProcess | None = None

    @property
    def busy(self) -> bool:
        return self._process is not None

    def start(self, words: Sequence[str], ended: Ended) -> bool:
        """Begin a command, such as ["report", …]; False where one is under way."""
        if self._process is not None:
            return False
        process = QProcess(self)
        process.finished.connect(lambda code, _status: self._ended(process, code, ended))
        process.errorOccurred.connect(lambda _error: self._ended(process, -1, ended))
        self._process = process
        process.start(sys.executable, ["-P", "-m", "aequitone.cli", *words])
        return True

    def wait(self, milliseconds: int) -> None:
        """Let what is under way be finished."""
        if self._process is not None:
            self._process.waitForFinished(milliseconds)

    def _ended(self, process: QProcess, code: int, ended: Ended) -> None:
        if self._process is not process:
            return
        self._process = None
        well = code == 0
        told = process.readAllStandardOutput() if well else process.readAllStandardError()
        words = bytes(told.data()).decode(errors="replace").strip()
        ended(well, words if well else words.removeprefix("aequitone: "))
