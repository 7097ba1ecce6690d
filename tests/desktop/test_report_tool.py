"""Report and files by keys: the letterhead kept, the pages shown, files put where the person wants."""

import io
from collections.abc import Callable
from pathlib import Path

import pytest
from PIL import Image
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog, QLineEdit, QPlainTextEdit

from aequitone.desktop import commands
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.stations.hand_over.commands import EXPORT
from aequitone.desktop.tools.report.commands import KEEP, NEXT_PAGE, NO_PICTURE, PAGE_BEFORE, REPORT
from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook, VisitRecord
from aequitone.passes import AS_FOUND, PROOF, begin, carry_out
from aequitone.procedures.runner import NobodyThere
from aequitone.standins.bench import build_bench
from aequitone.standins.scenario import load_scenario

Open = Callable[[Logbook], MainWindow]
Drive = Callable[[MainWindow], Driver]


@pytest.fixture
def proven(logbook: Logbook, visit: VisitRecord) -> VisitRecord:
    bench = build_bench(load_scenario("demo"), 4).bench()
    for kind in (AS_FOUND, PROOF):
        carry_out(logbook, begin(logbook, visit.id, kind), bench, NobodyThere())
    return visit


def field(name: str, kind: type) -> QLineEdit | QPlainTextEdit:
    found = [each for each in QApplication.allWidgets() if isinstance(each, kind) and each.isVisible()]
    (one,) = [each for each in found if each.accessibleName() == name]
    return one


def test_the_letterhead_is_typed_kept_and_on_the_page_that_is_shown(
    logbook: Logbook, proven: VisitRecord, open_on: Open, drive: Drive, tmp_path: Path
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    presenter.go_to("hand-over")
    window.refresh()
    driver.press_for(REPORT)
    tool = presenter.tool_of("report")
    driver.wait(lambda: tool.page().revision > 0, "the form")
    assert "come with the report" in tool.page().instead
    QTest.keyClicks(field("Name", QLineEdit), "Lantern & Loft")
    QTest.keyClicks(field("Notes of this visit, for the client", QPlainTextEdit), "Ring twice.")
    picture = tmp_path / "logo.png"
    buffer = io.BytesIO()
    Image.new("RGB", (40, 20), (10, 20, 30)).save(buffer, "PNG")
    picture.write_bytes(buffer.getvalue())
    tool._take(picture)
    driver.wait(lambda: tool.draft.head.image is not None, "the picture")
    assert tool.draft.head.name == "Lantern & Loft"
    driver.press_for(KEEP)
    driver.wait(lambda: tool.page().image is not None, "the first page")
    kept = logbook.letterheads.get()
    assert (kept.name, kept.image) == ("Lantern & Loft", buffer.getvalue())
    assert logbook.visit(proven.id).notes == "Ring twice."
    count = tool.page().image.count
    assert count >= 3
    driver.press_for(NEXT_PAGE)
    driver.wait(lambda: tool.page().image.number == 2, "the second page")
    driver.press_for(PAGE_BEFORE)
    driver.wait(lambda: tool.page().image.number == 1, "the first page again")
    image = tool.page().image
    assert len(set(image.rgb[: 3 * image.width * 200])) > 20
    driver.press_for(NO_PICTURE)
    assert tool.draft.head.image is None
    # What is not kept is gone with the tool.
    driver.press_for(commands.CLOSE_TOOL)
    assert logbook.letterheads.get().image is not None


def test_a_colour_that_cannot_be_read_is_refused_and_nothing_is_kept(
    logbook: Logbook, proven: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    presenter.go_to("hand-over")
    window.refresh()
    driver.press_for(REPORT)
    tool = presenter.tool_of("report")
    driver.wait(lambda: tool.page().revision > 0, "the form")
    QTest.keyClicks(field("Colour", QLineEdit), "#ffee88")
    driver.press_for(KEEP)
    driver.wait(lambda: "too pale" in presenter.view().panel.sentence, "the refusal")
    assert presenter.view().panel.sentence.endswith("The letterhead before is kept.")
    assert logbook.letterheads.get().colour == ""


def test_a_file_is_put_where_the_person_wants_and_the_place_is_remembered(
    logbook: Logbook, proven: VisitRecord, open_on: Open, drive: Drive, tmp_path: Path
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    presenter.go_to("hand-over")
    window.refresh()
    driver.press_for(EXPORT[2])
    driver.wait(lambda: window.findChild(QFileDialog) is not None, "the dialog")
    dialog = window.findChild(QFileDialog)
    assert dialog.selectedFiles()[0].endswith("-calendar.ics")
    assert dialog.testOption(QFileDialog.Option.ReadOnly)
    place = tmp_path / "usb" / "next.ics"
    place.parent.mkdir()
    dialog.fileSelected.emit(str(place))
    dialog.reject()
    driver.wait(lambda: "Written:" in presenter.view().panel.sentence, "the file")
    assert b"BEGIN:VEVENT" in place.read_bytes()
    assert window._settings.value("folder") == str(place.parent)


def test_a_file_that_cannot_be_written_is_told(
    logbook: Logbook, proven: VisitRecord, open_on: Open, drive: Drive, tmp_path: Path
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    presenter.go_to("hand-over")
    window.refresh()
    presenter.session.reports.export("spreadsheet", proven.id, tmp_path / "none" / "x.xlsx")
    driver.wait(lambda: "x.xlsx was not written" in presenter.view().panel.sentence, "the reason")
