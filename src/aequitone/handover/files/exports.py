"""What of a visit can be put where a person wants: one list, for the window and for the command."""

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from aequitone.handover.files.archive import write_archive
from aequitone.handover.files.calendar import write_calendar
from aequitone.handover.files.card import write_card
from aequitone.handover.files.csv import write_readings
from aequitone.handover.files.names import file_name
from aequitone.handover.files.spreadsheet import write_spreadsheet
from aequitone.handover.files.visit_file import visit_text
from aequitone.logbook import Logbook
from aequitone.logbook.records import local_time
from aequitone.whole_file import write_whole


@dataclass(frozen=True)
class Export:
    """One kind of file."""

    key: str
    """What the command calls it."""
    title: str
    suffix: str
    write: Callable[[Logbook, int, Path], None]
    """Writes it. Raises NothingToReportError with a sentence where there is nothing yet."""

    def name(self, logbook: Logbook, visit_id: int) -> str:
        """The name that is proposed for the file."""
        visit = logbook.visit(visit_id)
        what = () if self.key == "archive" else (self.key,)
        return file_name((visit.client, visit.screen, f"{local_time(visit.started):%Y-%m-%d}", *what), self.suffix)


def _readings(logbook: Logbook, visit_id: int, path: Path) -> None:
    write_readings(logbook, logbook.visit(visit_id), path)


def _calendar(logbook: Logbook, visit_id: int, path: Path) -> None:
    write_calendar(logbook.visit(visit_id), path)


def _json(logbook: Logbook, visit_id: int, path: Path) -> None:
    write_whole(path, visit_text(logbook.carrying.rows(visit_id)))


EXPORTS = (
    Export("spreadsheet", "Spreadsheet", ".xlsx", write_spreadsheet),
    Export("archive", "The whole visit, for another Aequitone", ".zip", write_archive),
    Export("calendar", "The next visit, for a calendar", ".ics", _calendar),
    Export("card", "A card of the settings, for a phone", ".png", write_card),
    Export("readings", "Every reading, as CSV", ".csv", _readings),
    Export("json", "The whole visit, as JSON", ".json", _json),
)


def export_named(key: str) -> Export:
    """The kind of file by its key; ValueError with the keys there are."""
    found = next((export for export in EXPORTS if export.key == key), None)
    if found is None:
        raise ValueError(f"there is no export “{key}”; there is {', '.join(each.key for each in EXPORTS)}")
    return found
