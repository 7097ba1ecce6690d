"""The picture as it has been watched, by keys: measured before anything is changed, and the before of all."""

from collections.abc import Callable
from pathlib import Path

from pypdf import PdfReader

from aequitone.advice import checklist as lines_of
from aequitone.desktop import commands
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.stations.arrive.commands import SAVE_AND_WATCH
from aequitone.desktop.stations.prepare import commands as prepare_commands
from aequitone.desktop.stations.prepare.state import Mark
from aequitone.desktop.window import MainWindow
from aequitone.handover.report import make_report
from aequitone.logbook import Logbook, VisitRecord
from aequitone.passes import AS_FOUND, PROOF, WATCHED, begin, carry_out, load_snapshot
from aequitone.procedures.runner import NobodyThere
from aequitone.standins.bench import StandInBench

Open = Callable[[Logbook], MainWindow]
Drive = Callable[[MainWindow], Driver]


def test_from_arrive_one_key_saves_and_measures_and_turns_nothing(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    logbook.ledger.uncheck(visit.id, lines_of.WATCHED)
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    presenter.go_to("arrive")
    window.refresh()
    before = presenter.session.instruments.bench(visit.bench).standins.screen.settings()
    driver.press_for(SAVE_AND_WATCH)
    driver.wait(lambda: presenter.snapshot.done(WATCHED), "the picture as watched")
    driver.wait_for_pass()
    assert presenter.session.instruments.bench(visit.bench).standins.screen.settings() == before
    assert presenter.here == "prepare"
    line = presenter.station("prepare").lines[1]
    assert (line.line.key, line.mark) == (lines_of.WATCHED, Mark.DONE)
    assert "on average" in line.detail
    presenter.go_to("arrive")
    assert SAVE_AND_WATCH not in [hint.command for hint in presenter.view().panel.keys]


def test_what_was_changed_cannot_be_watched_any_more(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    logbook.ledger.uncheck(visit.id, lines_of.WATCHED)
    logbook.ledger.uncheck(visit.id, "off-feature-energy-saving")
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    presenter.go_to("prepare")
    station = presenter.station("prepare")
    assert station.lines[1].mark is Mark.OPEN
    station.go_to(next(i for i, each in enumerate(station.lines) if each.line.role is not None))
    window.refresh()
    driver.press_for(prepare_commands.DONE)
    driver.wait(lambda: station.lines[1].mark is Mark.NOT_HERE, "it to be given up")
    presenter.go_to("arrive")
    assert SAVE_AND_WATCH not in [hint.command for hint in presenter.view().panel.keys]
    presenter.go_to("prepare")
    station.go_to(1)
    window.refresh()
    presenter.do(commands.BEGIN)
    driver.wait(lambda: "the before then" in presenter.view().panel.sentence, "the reason")
    assert not presenter.snapshot.done(WATCHED)


def test_the_report_begins_with_what_was_watched(
    logbook: Logbook, visit: VisitRecord, bench: Callable[[int], StandInBench], tmp_path: Path
) -> None:
    stand_in = bench(4)
    for kind in (WATCHED, AS_FOUND, PROOF):
        carry_out(logbook, begin(logbook, visit.id, kind), stand_in.bench(), NobodyThere())
    watched = load_snapshot(logbook, visit.id).result(WATCHED)
    assert watched is not None
    pdf = make_report(logbook, visit.id, tmp_path).pdf
    client = " ".join(PdfReader(pdf).pages[0].extract_text().split())
    assert f"As it had been watched, grey leaned cool: an error of {watched.grey.mean:.1f}" in client
    assert "as it had been watched (left)" in client
