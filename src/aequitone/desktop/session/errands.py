"""What is done with files for the person: readings taken from one, the log opened, a bug report saved."""

from pathlib import Path
from typing import Any

from PySide6.QtCore import QUrl
from PySide6.QtGui import QDesktopServices

from aequitone.desktop.session.session import Session
from aequitone.diagnosis import log_path
from aequitone.passes import PassType, Snapshot, load_snapshot


def import_pass_from(session: Session, kind: PassType[Any, Any], path: Path) -> None:
    """Enter the readings of a file as a pass of the visit in view."""
    visit = session.visit.visit

    def work() -> Snapshot:
        # Imported here: a start without files does without them.
        from aequitone.handover.incoming.passes import import_pass
        from aequitone.handover.incoming.readings import read_file

        import_pass(session.logbook, visit, kind, read_file(path), path.name)
        return load_snapshot(session.logbook, visit.id)

    def done(fresh: Snapshot) -> None:
        session.take(fresh)
        session.say(f"The pass was imported from {path.name}. It was not measured here, and the record says so.")

    session.desk.do(work, done, lambda error: session.say(str(error)))


def open_log(session: Session) -> None:
    """Open the log in the desktop's own program."""
    path = log_path()
    if not QDesktopServices.openUrl(QUrl.fromLocalFile(str(path))):
        session.say(f"No program here opens the log. It is {path}.")


def save_bug_report(session: Session) -> None:
    """Write a bug report without names beside the logbook."""
    logbook = session.logbook
    path = logbook.path.with_name("bug-report.txt")

    def work() -> None:
        from aequitone.logbook.diagnosis import bug_report_of

        path.write_text(bug_report_of(logbook), "utf-8")

    session.desk.do(
        work,
        lambda _: session.say(f"The bug report is {path}. It names no client, room or screen."),
        lambda error: session.say(f"The bug report could not be written: {error}."),
    )
