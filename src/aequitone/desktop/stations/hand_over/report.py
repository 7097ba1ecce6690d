"""The report of a visit, made by a process of its own."""

import sys
from pathlib import Path

from PySide6.QtCore import QObject, QProcess, QUrl, Signal
from PySide6.QtGui import QDesktopServices


class ReportMaker(QObject):
    """Where the report of the visit in view lies, and the making of it.

    A process, not a thread: laying out pages would hold the interpreter from the window.
    """

    said = Signal(str)

    def __init__(self, logbook: Path) -> None:
        super().__init__()
        self._logbook = logbook
        self._process: QProcess | None = None
        self._looked: int | None = None
        self.folder: Path | None = None
        """The folder of a report that is there."""
        self.pictures: tuple[Path, Path] | None = None

    @property
    def busy(self) -> bool:
        return self._process is not None

    def look(self, visit_id: int) -> None:
        """Find the report of a visit, made now or at an earlier start; the disk is asked once for each visit."""
        if visit_id != self._looked:
            self._find(visit_id)

    def _find(self, visit_id: int) -> None:
        self._looked, folder = visit_id, self._place(visit_id)
        self.folder = folder if (folder / "report.pdf").exists() else None
        both = (self.folder / "before.png", self.folder / "after.png") if self.folder else None
        self.pictures = both if both and all(path.exists() for path in both) else None

    def make(self, visit_id: int) -> None:
        """Begin to make the report; `said` tells how it went."""
        if self._process is not None:
            return
        process = QProcess(self)
        process.finished.connect(lambda code, _status: self._ended(process, visit_id, code))
        process.errorOccurred.connect(lambda _error: self._ended(process, visit_id, -1))
        self._process = process
        words = ["report", "--logbook", str(self._logbook), "--visit", str(visit_id)]
        process.start(sys.executable, ["-P", "-m", "aequitone.cli", *words, "--out", str(self._place(visit_id))])

    def open(self) -> None:
        """Open the PDF in whatever program this computer has for it."""
        if self.folder is not None:
            pdf = self.folder / "report.pdf"
            if not QDesktopServices.openUrl(QUrl.fromLocalFile(str(pdf))):
                self.said.emit(f"No program here opens a PDF. The report is {pdf}.")

    def wait(self, milliseconds: int) -> None:
        """Let a report that is being made be finished."""
        if self._process is not None:
            self._process.waitForFinished(milliseconds)

    def _ended(self, process: QProcess, visit_id: int, code: int) -> None:
        if self._process is not process:
            return
        self._process = None
        told = bytes(process.readAllStandardError().data()).decode(errors="replace").strip()
        self._find(visit_id)
        if code == 0:
            self.said.emit(f"The report is in {self.folder}.")
        else:
            self.said.emit(f"The report was not made. {told.removeprefix('aequitone: ')}")

    def _place(self, visit_id: int) -> Path:
        return self._logbook.parent / "reports" / f"visit-{visit_id}"
