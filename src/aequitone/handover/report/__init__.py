"""The report as PDF: a page for the client, a page to keep, the measurements; with readings and pictures."""

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from aequitone.handover.errors import NothingToReportError
from aequitone.handover.files.csv import write_readings
from aequitone.handover.files.readings_out import write_cgats
from aequitone.handover.letterhead import exposure_of
from aequitone.handover.picture import before_and_after
from aequitone.handover.report.client_page import client_page
from aequitone.handover.report.document import written
from aequitone.handover.report.keep_page import keep_page
from aequitone.handover.report.part import Part, lights
from aequitone.handover.report.sheet import Sheet
from aequitone.handover.report.technical import technical_pages
from aequitone.logbook import Logbook
from aequitone.logbook.letterheads import Letterhead
from aequitone.logbook.records import local_time
from aequitone.passes import AS_FOUND, Snapshot, load_as_given
from aequitone.whole_file import write_whole


@dataclass(frozen=True)
class ReportFiles:
    """What was written."""

    pdf: Path
    csv: Path
    before: Path | None
    after: Path | None


def make_report(logbook: Logbook, visit_id: int, out: Path, *, glances: bool = False) -> ReportFiles:
    """Write the report of a visit into a folder, of all jobs that were measured, and the readings beside it.

    `glances`: the readings also hold what was read while a control was watched on its way.
    Raises NothingToReportError or LookupError with a sentence.
    """
    jobs = [load_as_given(logbook, visit_id, job.id) for job in logbook.jobs.of(visit_id)]
    measured = [snapshot for snapshot in jobs if snapshot.result(AS_FOUND) is not None]
    if not measured:
        raise NothingToReportError("There is nothing to report yet: grey as found has not been read to its end.")
    letterhead = logbook.letterheads.get()
    out.mkdir(parents=True, exist_ok=True)
    csv = out / "readings.csv"
    write_readings(logbook, measured[0].visit, csv, glances=glances)
    parts = []
    for number, snapshot in enumerate(measured, 1):
        for record in snapshot.passes:
            if record.readings:
                kind = record.kind.replace(" ", "-")
                file = out / f"pass-{record.id}-{kind}.txt"
                write_cgats(logbook, snapshot.visit, record, file, glances=glances)
        parts.append(_part(snapshot, out, "" if number == 1 else f"-{number}", letterhead))
    pdf = out / "report.pdf"
    # Written whole or not at all: a client's report is never half a file.
    write_whole(pdf, render(parts, letterhead))
    return ReportFiles(pdf, csv, parts[0].before, parts[0].after)


def _part(snapshot: Snapshot, out: Path, suffix: str, letterhead: Letterhead) -> Part:
    """A job, with its pictures of before and after written where there is a proof."""
    from PIL import Image

    first, last = lights(snapshot)
    if first is None or last is None:
        return Part(snapshot)
    before, after = out / f"before{suffix}.png", out / f"after{suffix}.png"
    pictures = before_and_after(first, last, exposure_of(letterhead))
    for path, picture in zip((before, after), pictures, strict=True):
        Image.fromarray(picture).save(path)
    return Part(snapshot, before, after)


def render(parts: Sequence[Part], letterhead: Letterhead) -> bytes:
    """Lay out the report of a visit's jobs as a PDF."""
    from reportlab.platypus import PageBreak

    visit = parts[0].snapshot.visit

    def story(sheet: Sheet) -> list[Any]:
        told = [*client_page(sheet, parts, exposure_of(letterhead)), PageBreak(), *keep_page(sheet, parts)]
        for number, part in enumerate(parts):
            told += technical_pages(sheet, part, first=number == 0)
        return told

    title = f"Calibration of {visit.screen}, {', '.join(part.snapshot.visit.memory for part in parts)}"
    foot = f"{visit.client}, {visit.screen}, {local_time(visit.started):%d %B %Y}"
    return written(title, letterhead, foot, story)
