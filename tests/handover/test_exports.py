"""Spreadsheet, calendar, card, names of files: read by others, and nobody's words are a formula or a path."""

import csv
import io
import shutil
import subprocess
from dataclasses import replace
from datetime import date, datetime
from pathlib import Path
from typing import Any

import openpyxl
import pytest
from icalendar import Calendar
from PIL import Image
from pypdf import PdfReader
from tests.handover.nasty import FORMULAS, LONG, MARKUP, PATHS, TO_THE_LEFT

from aequitone.advice.technology import TECHNOLOGIES, Technology
from aequitone.handover import words
from aequitone.handover.coming_again import come_again, due_list
from aequitone.handover.errors import NothingToReportError
from aequitone.handover.files.calendar import calendar_text
from aequitone.handover.files.exports import EXPORTS, export_named
from aequitone.handover.files.names import file_name
from aequitone.handover.files.spreadsheet import write_spreadsheet
from aequitone.handover.report import make_report
from aequitone.handover.report.document import written
from aequitone.handover.report.sheet import Sheet
from aequitone.logbook import Logbook, VisitRecord
from aequitone.logbook.letterheads import Letterhead
from aequitone.logbook.records import VisitLine
from aequitone.logbook.register import Named
from aequitone.passes import PROOF, load_snapshot


def test_the_spreadsheet_has_typed_cells_headings_that_stay_and_charts(
    logbook: Logbook,
    whole_visit: VisitRecord,
    tmp_path: Path,
) -> None:
    path = tmp_path / "visit.xlsx"
    write_spreadsheet(logbook, whole_visit.id, path)
    book = openpyxl.load_workbook(path)
    assert book.sheetnames == ["Visit", "As found", "Proof", "Settings", "Readings"]
    proof = load_snapshot(logbook, whole_visit.id).result(PROOF)
    sheet = book["Proof"]
    assert sheet.freeze_panes == "B2"
    assert [cell.value for cell in sheet["C"][1:]] == pytest.approx([float(value) for value in proof.xyz[:, 1]])
    assert all(isinstance(cell.value, float | int) for cell in sheet["F"][1:-1])
    assert sheet["F"][-1].value is None
    assert len(sheet._charts) == 2
    assert book["Readings"].max_row == 1 + sum(record.readings for record in logbook.passes(whole_visit.id))
    settings = {row[0].value: row[1].value for row in book["Settings"].iter_rows(min_row=2)}
    assert isinstance(settings["R gain"], int)
    assert settings["Colour tone"] == "Neutral"


@pytest.mark.skipif(not shutil.which("soffice"), reason="LibreOffice is not here")
def test_another_program_opens_the_spreadsheet(
    logbook: Logbook,
    whole_visit: VisitRecord,
    tmp_path: Path,
) -> None:
    path = tmp_path / "visit.xlsx"
    write_spreadsheet(logbook, whole_visit.id, path)
    command = ["soffice", f"-env:UserInstallation=file://{tmp_path}/office", "--headless", "--convert-to"]
    command.append("csv:Text - txt - csv (StarCalc):44,34,76,1")
    subprocess.run([*command, "--outdir", str(tmp_path), str(path)], check=True, capture_output=True, timeout=120)
    rows = list(csv.reader(io.StringIO((tmp_path / "visit.csv").read_text("utf-8"))))
    assert ["Client", "Fernhollow Hall"] in rows


@pytest.mark.parametrize("technology", [*TECHNOLOGIES, Technology.UNKNOWN])
def test_one_comes_again_in_half_a_year_and_a_reason_is_said(technology: Technology) -> None:
    again = come_again(datetime(2026, 8, 31, 12), technology)
    assert again.day == date(2027, 2, 28)
    assert come_again(datetime(2026, 11, 29, 12), technology).day == date(2027, 5, 28)
    assert again.why
    assert "a device is added" in again.sooner_words
    projector = "projector" in technology.words
    assert ("lamp is changed" in again.sooner_words) is projector
    counted = come_again(datetime(2026, 8, 31, 12), technology, "1,480 h").sooner_words
    assert ("counter reads about 1\N{NO-BREAK SPACE}780 hours" in counted) is projector


def test_the_screen_that_waits_longest_is_due_first_and_each_stands_once() -> None:
    def line(number: int, screen: str, left: datetime) -> VisitLine:
        return VisitLine(number, "Client", "Room", screen, "HDMI 1", "Film", Technology.LED_LCD, left, left)

    newest_first = [
        line(4, "A", datetime(2026, 11, 1, 12)),
        line(3, "B", datetime(2026, 5, 20, 12)),
        line(2, "A", datetime(2025, 1, 1, 12)),
        line(1, "C", datetime(2025, 12, 1, 12)),
    ]
    due = due_list(newest_first)
    assert [each.line.id for each in due] == [1, 3, 4]
    assert [each.words(date(2026, 11, 29)) for each in due] == ["due for 6 months", "due now", "due in 5 months"]
    assert due[0].words(date(2026, 5, 1)) == "due in 4 weeks"


def test_the_next_visit_is_an_entry_that_calendars_read(
    logbook: Logbook,
    whole_visit: VisitRecord,
) -> None:
    calendar = Calendar.from_ical(calendar_text(logbook.visit(whole_visit.id)))
    (event,) = calendar.walk("VEVENT")
    assert event["SUMMARY"] == "Look at Norvane K55 again: Fernhollow Hall"
    assert event["DTSTART"].dt == come_again(whole_visit.started, whole_visit.technology).day
    assert "Sooner when" in event["DESCRIPTION"]
    again = Calendar.from_ical(calendar_text(logbook.visit(whole_visit.id)))
    assert again.walk("VEVENT")[0]["UID"] == event["UID"]


def test_before_anything_was_measured_there_is_nothing_to_export(
    logbook: Logbook, visit: VisitRecord, tmp_path: Path
) -> None:
    with pytest.raises(NothingToReportError, match="nothing for a spreadsheet yet"):
        export_named("spreadsheet").write(logbook, visit.id, tmp_path / "x.xlsx")
    assert list(tmp_path.glob("x*")) == []
    with pytest.raises(ValueError, match="there is no export “guess”"):
        export_named("guess")


def test_the_card_names_every_setting_and_grows_with_them(
    logbook: Logbook,
    whole_visit: VisitRecord,
    tmp_path: Path,
) -> None:
    export_named("card").write(logbook, whole_visit.id, tmp_path / "card.png")
    with Image.open(tmp_path / "card.png") as image:
        assert image.width == 1080
        rows = len(words.settings_rows(load_snapshot(logbook, whole_visit.id)))
        assert 45 * rows < image.height < 80 * rows + 600
        colours = image.convert("RGB").getcolors(1 << 20)
        assert colours is not None
        assert len(colours) > 20


@pytest.mark.parametrize("nasty", PATHS)
def test_a_name_never_leads_out_of_a_folder(nasty: str, tmp_path: Path) -> None:
    name = file_name((nasty, "Norvane K55"), ".zip")
    path = tmp_path / name
    path.write_bytes(b"")
    assert path.resolve().parent == tmp_path.resolve()
    assert not name.startswith((".", "-"))
    assert name.endswith("Norvane-K55.zip") or len(nasty) > 90
    alone = file_name((nasty,), ".zip")
    assert alone not in (".zip", "..zip")
    assert not set(alone) & set('\\/:*?"<>|\n\t\x00\u202e')


def renamed(logbook: Logbook, visit: VisitRecord, name: str) -> None:
    """Give client, memory and notes a nasty name."""
    logbook.register.rename(visit.id, Named.CLIENT, name)
    logbook.register.rename(visit.id, Named.MEMORY, name)
    logbook.letterheads.keep_notes(visit.id, name)


def test_fifty_formulas_are_words_in_every_table(
    logbook: Logbook,
    whole_visit: VisitRecord,
    tmp_path: Path,
) -> None:
    assert len(FORMULAS) == 50
    # As the names of fifty controls, and one as everything else.
    controls = logbook.controls(whole_visit.screen_id)
    named = [replace(control, name=nasty) for control, nasty in zip(controls, FORMULAS, strict=False)]
    visit = logbook.visit(whole_visit.id)
    logbook.change_visit(visit.id, target=visit.target, levels=visit.levels, bench=visit.bench, controls=named)
    logbook.ledger.note(visit.id, {control.id: control.lowest for control in controls}, "a test")
    renamed(logbook, whole_visit, FORMULAS[1])
    write_spreadsheet(logbook, whole_visit.id, tmp_path / "x.xlsx")
    book = openpyxl.load_workbook(tmp_path / "x.xlsx")
    assert (book["Visit"]["B2"].value, book["Visit"]["B2"].data_type) == (FORMULAS[1], "s")
    assert {cell.value for cell in book["Settings"]["A"]} >= {nasty.strip() for nasty in FORMULAS}
    assert all(cell.data_type != "f" for sheet in book for row in sheet.iter_rows() for cell in row)
    for nasty in FORMULAS[::5]:
        renamed(logbook, whole_visit, nasty)
        export_named("readings").write(logbook, whole_visit.id, tmp_path / "x.csv")
        with (tmp_path / "x.csv").open(encoding="utf-8") as file:
            assert {row["memory"] for row in csv.DictReader(file)} == {f"'{nasty.strip()}"}


def test_fifty_pieces_of_markup_are_words_on_every_page(
    logbook: Logbook,
    whole_visit: VisitRecord,
    tmp_path: Path,
) -> None:
    assert len(MARKUP) == 50

    def story(sheet: Sheet) -> list[Any]:
        rows = [(nasty, nasty, nasty) for nasty in MARKUP]
        told = [part for nasty in MARKUP for part in (sheet.heading(nasty), sheet.words(nasty))]
        return [*told, sheet.table([("a", "b", "c"), *rows], (0.4, 0.3, 0.3))]

    (tmp_path / "all.pdf").write_bytes(written("<b>title", Letterhead(name="<i>x"), "foot & <x>", story))
    pages = PdfReader(tmp_path / "all.pdf").pages
    whole = "".join("".join(page.extract_text().split()) for page in pages)
    for nasty in MARKUP:
        assert whole.count("".join(nasty.split())) >= 5, nasty
    for nasty in MARKUP[::7]:
        renamed(logbook, whole_visit, nasty)
        first = "".join(
            PdfReader(make_report(logbook, whole_visit.id, tmp_path).pdf).pages[0].extract_text().split()
        )
        assert "".join(nasty.split()) in first, nasty
    for nasty in MARKUP:
        renamed(logbook, whole_visit, nasty)
        calendar = Calendar.from_ical(calendar_text(logbook.visit(whole_visit.id)))
        assert calendar.walk("VEVENT")[0]["SUMMARY"].endswith(nasty)


def test_fifty_names_from_right_to_left_and_fifty_long_ones_are_kept_whole(
    logbook: Logbook,
    whole_visit: VisitRecord,
    tmp_path: Path,
) -> None:
    assert (len(TO_THE_LEFT), len(LONG)) == (50, 50)
    for nasty in (*TO_THE_LEFT, *LONG):
        name = file_name((nasty, "Norvane K55"), ".zip")
        assert (tmp_path / name).resolve().parent == tmp_path.resolve()
        assert len(name) <= 104
        assert not set(name) & set("/\\\u200f\u202b\u2067\u202e")
        renamed(logbook, whole_visit, nasty)
        kept = logbook.register.name(whole_visit.id, Named.CLIENT)
        calendar = Calendar.from_ical(calendar_text(logbook.visit(whole_visit.id)))
        assert calendar.walk("VEVENT")[0]["SUMMARY"].endswith(kept)

    def story(sheet: Sheet) -> list[Any]:
        rows = [(nasty, "1", "2") for nasty in (*TO_THE_LEFT, *LONG)]
        return [*(sheet.words(nasty) for nasty in LONG), sheet.columns(("a", "b", "c"), rows)]

    (tmp_path / "all.pdf").write_bytes(written("x", Letterhead(name=LONG[9]), TO_THE_LEFT[0], story))
    pages = PdfReader(tmp_path / "all.pdf").pages
    whole = "".join("".join(page.extract_text().split()) for page in pages)
    assert all("".join(nasty.split()) in whole for nasty in LONG)
    for nasty in (TO_THE_LEFT[3], TO_THE_LEFT[49], LONG[9], LONG[19]):
        renamed(logbook, whole_visit, nasty)
        for export in EXPORTS:
            export.write(logbook, whole_visit.id, tmp_path / export.name(logbook, whole_visit.id))
        book = openpyxl.load_workbook(next(tmp_path.glob("*.xlsx")))
        assert book["Visit"]["B2"].value
        for path in tmp_path.glob("*.xlsx"):
            path.unlink()


def test_every_export_has_a_telling_name_and_is_written(
    logbook: Logbook,
    whole_visit: VisitRecord,
    tmp_path: Path,
) -> None:
    for export in EXPORTS:
        name = export.name(logbook, whole_visit.id)
        assert name.startswith(f"Fernhollow-Hall-Norvane-K55-{whole_visit.started:%Y-%m-}")
        export.write(logbook, whole_visit.id, tmp_path / name)
        assert (tmp_path / name).stat().st_size > 200
    assert len({export.suffix for export in EXPORTS}) == len(EXPORTS)
    assert not list(tmp_path.glob("*.new"))
