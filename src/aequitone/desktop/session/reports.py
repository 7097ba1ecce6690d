"""The report of the visit in view, and other files of it: where they lie, and the making of them."""

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QObject, QUrl, Signal
from PySide6.QtGui import QDesktopServices

from aequitone.desktop.session.child import Child


class Reports(QObject):
    """Makes the report beside the logbook, and exports where a person wants them."""

    said = Signal(str)
    made = Signal()
    """A report was made."""

    def __init__(self, logbook: Path) -> None:
        super().__init__()
        self._logbook = logbook
        self._child = Child()
        self._looked: int | None = None
        self.folder: Path | None = None
        """The folder of a report that is there."""
        self.pictures: tuple[Path, Path] | None = None

    @property
    def busy(self) -> bool:
        return self._child.busy

    @property
    def pdf(self) -> Path | None:
        """The report that is there."""
        return self.folder / "report.pdf" if self.folder is not None else None

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

        def ended(well: bool, words: str) -> None:
            self._find(visit_id)
            if well:
                self.made.emit()
            self.said.emit(f"The report is in {self.folder}." if well else f"The report was not made. {words}")

        self._start("report", visit_id, self._place(visit_id), ended)

    def export(self, kind: str, visit_id: int, path: Path) -> None:
        """Begin to write a file of the visit; `said` tells how it went."""

        def ended(well: bool, words: str) -> None:
            self.said.emit(f"Written: {path}." if well else f"{path.name} was not written. {words}")

        self._start("export", visit_id, path, ended, kind)

    def _start(
        self, command: str, visit_id: int, out: Path, ended: Callable[[bool, str], None], *words: str
    ) -> None:
        where = ["--logbook", str(self._logbook), "--visit", str(visit_id), "--out", str(out)]
        if not self._child.start([command, *words, *where], ended):
            self.said.emit("Another file is being written; press again in a moment.")

    def open(self) -> None:
        """Open the PDF in whatever program this computer has for it."""
        if self.pdf is not None and not QDesktopServices.openUrl(QUrl.fromLocalFile(str(self.pdf))):
            self.said.emit(f"No program here opens a PDF. The report is {self.pdf}.")

    def wait(self, milliseconds: int) -> None:
        """Let a file that is being made be finished."""
        self._child.wait(milliseconds)

    def _place(self, visit_id: int) -> Path:
        return self._logbook.parent / "reports" / f"visit-{visit_id}"
