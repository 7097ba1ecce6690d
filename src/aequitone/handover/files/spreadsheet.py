"""A visit as a spreadsheet: typed cells, headings that stay, charts of grey. Nobody's words are a formula."""

import math
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from aequitone.handover import words
from aequitone.handover.errors import NothingToReportError
from aequitone.handover.files.csv import HEADS, readings_rows
from aequitone.logbook import Logbook
from aequitone.logbook.records import local_time
from aequitone.passes import AS_FOUND, COLOURS_FOUND, COLOURS_LEFT, PROOF, WATCHED, Snapshot, load_as_given
from aequitone.procedures.colour.colour_pass import ColourPass
from aequitone.procedures.grey.grey_pass import GreyPass
from aequitone.reference import target_named
from aequitone.whole_file import made_beside

_GREY = ("Level %", "X", "Y cd/m²", "Z", "Light %", "ΔE 2000", "± ΔE 2000", "ΔE ITP")
_COLOUR = (
    "Colour",
    "R %",
    "G %",
    "B %",
    "X",
    "Y cd/m²",
    "Z",
    "Light %",
    "Saturation %",
    "Hue °",
    "ΔE 2000",
    "ΔE ITP",
)
_CHART = {"x_scale": 1.2, "y_scale": 1.1}
_WIDEST = 40

Cell = str | float | int | None


def write_spreadsheet(logbook: Logbook, visit_id: int, path: Path, *, glances: bool = False) -> None:
    """Write a visit as XLSX. Raises NothingToReportError where nothing was measured."""
    from xlsxwriter import Workbook

    jobs = [load_as_given(logbook, visit_id, job.id) for job in logbook.jobs.of(visit_id)]
    measured = [snapshot for snapshot in jobs if any(record.readings for record in snapshot.passes)]
    if not measured:
        raise NothingToReportError("There is nothing for a spreadsheet yet: nothing has been measured.")
    plain = {"strings_to_formulas": False, "strings_to_urls": False, "strings_to_numbers": False}
    with made_beside(path) as fresh, Workbook(str(fresh), plain) as book:
        pages = _Pages(book)
        pages.table("Visit", ("What", ""), _visit_rows(measured))
        for number, snapshot in enumerate(measured, 1):
            name = "" if len(measured) == 1 else f" {number}"
            _grey(pages, snapshot, name)
            for kind, title in ((COLOURS_FOUND, "Colours as found"), (COLOURS_LEFT, "Colours as left")):
                found = snapshot.result(kind)
                if found is not None:
                    pages.table(f"{title}{name}", _COLOUR, _colour_rows(found))
            pages.table(f"Settings{name}", ("Control", "As found", "As left"), _settings(snapshot))
        pages.table("Readings", HEADS, readings_rows(logbook, measured[0].visit, glances=glances))


class _Pages:
    """The sheets of a workbook, a table each."""

    def __init__(self, book: Any) -> None:
        self.book = book
        self._head = book.add_format({"bold": True, "bottom": 1, "text_wrap": True, "valign": "top"})

    def table(self, title: str, heads: Sequence[str], rows: Sequence[Sequence[Cell]]) -> Any:
        """A sheet with a table under headings that stay in view."""
        sheet = self.book.add_worksheet(title[:31])
        for column, head in enumerate(heads):
            sheet.write_string(0, column, head, self._head)
            longest = max((len(str(row[column])) for row in rows if column < len(row)), default=0)
            sheet.set_column(column, column, min(_WIDEST, max(9, longest + 2)))
        for at, row in enumerate(rows, 1):
            for column, cell in enumerate(row):
                if isinstance(cell, str):
                    sheet.write_string(at, column, cell)
                elif cell is not None and math.isfinite(cell):
                    sheet.write_number(at, column, cell)
        sheet.freeze_panes(1, 1)
        return sheet

    def chart(self, sheet: Any, place: str, title: str, column: int, of: Sequence[tuple[str, str, int]]) -> None:
        """A chart of one column by level: `of` names series, sheets and how many rows each has."""
        chart = self.book.add_chart({"type": "scatter", "subtype": "straight_with_markers"})
        for name, page, rows in of:
            chart.add_series(
                {"name": name, "categories": [page, 1, 0, rows, 0], "values": [page, 1, column, rows, column]}
            )
        chart.set_title({"name": title, "name_font": {"size": 11}})
        chart.set_x_axis({"name": "level, % of the signal", "min": 0, "max": 100})
        chart.set_legend({"position": "bottom"})
        sheet.insert_chart(place, chart, _CHART)


def _grey(pages: _Pages, snapshot: Snapshot, name: str) -> None:
    """The passes over grey, each with its sheet, and charts of all beside the last."""
    watched = snapshot.result(WATCHED)
    told: tuple[tuple[str, GreyPass | None], ...] = (
        ("As watched", watched.grey if watched is not None else None),
        ("As found", snapshot.result(AS_FOUND)),
        ("Proof", snapshot.result(PROOF)),
    )
    series, last = [], None
    for title, found in told:
        if found is None:
            continue
        rows = _grey_rows(found)
        last = pages.table(f"{title}{name}", _GREY, rows)
        # Black has no ΔE.
        series.append((title, f"{title}{name}", len(rows) - 1))
    if last is not None:
        pages.chart(last, "J2", "ΔE 2000 of grey", 5, series)
        pages.chart(last, "J20", "Light against the target, %", 4, series)


def _grey_rows(found: GreyPass) -> list[tuple[Cell, ...]]:
    errors = found.errors
    return [
        (
            percent,
            *(float(value) for value in found.xyz[i]),
            *(float(each[i]) for each in (errors.light, errors.de2000, errors.de2000_sd, errors.deitp)),
        )
        for i, percent in enumerate(found.percents)
    ]


def _colour_rows(found: ColourPass) -> list[tuple[Cell, ...]]:
    errors = found.errors
    told = (errors.light, errors.saturation, errors.hue, errors.de2000, errors.deitp)
    return [
        (
            sample.name,
            *sample.signal,
            *(float(value) for value in found.xyz[i]),
            *(float(each[i]) for each in told),
        )
        for i, sample in enumerate(found.samples)
    ]


def _settings(snapshot: Snapshot) -> list[tuple[Cell, ...]]:
    """Controls with their settings: whole numbers as numbers, choices in the screen's own word."""
    named = {control.name: control for control in snapshot.controls}
    rows: list[tuple[Cell, ...]] = []
    for name, found, left in words.settings_rows(snapshot):
        chosen = bool(named[name].choices)
        rows.append((name, *(each if chosen or not _is_whole(each) else int(each) for each in (found, left))))
    return rows


def _is_whole(words_: str) -> bool:
    return words_.lstrip("-").isdecimal()


def _visit_rows(measured: Sequence[Snapshot]) -> list[tuple[Cell, ...]]:
    visit = measured[0].visit
    rows: list[tuple[Cell, ...]] = [
        ("Client", visit.client),
        ("Room", visit.room),
        ("Screen", visit.screen),
        ("Technology", visit.technology.words),
        ("Begun", f"{local_time(visit.started):%Y-%m-%d %H:%M}"),
        ("Notes", visit.notes),
    ]
    for snapshot in measured:
        job = snapshot.visit
        rows += [
            ("Memory", job.name),
            ("Target", target_named(job.target).label),
            ("Measured", words.measured_words(snapshot)),
        ]
        for title, found in (("as found", snapshot.result(AS_FOUND)), ("proof", snapshot.result(PROOF))):
            if found is not None:
                rows += [(f"{found.formula}, {title}, mean", found.mean), (f"White, {title}, cd/m²", found.white)]
    return rows
