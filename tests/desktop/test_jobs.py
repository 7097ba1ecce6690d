"""A visit of three jobs, driven by keys: added, worked on, killed, gone on with, left out, handed over."""

from collections.abc import Callable
from pathlib import Path

from pypdf import PdfReader
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication
from tests.conftest import answer_checklist
from tests.desktop.remote_hand import follow

from aequitone.advice.checklist import CHOICE, checklist
from aequitone.advice.roles import TWO_POINT, Role
from aequitone.desktop import commands
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.stations.arrive import commands as arrive_commands
from aequitone.desktop.stations.prepare.panel import chosen_elsewhere
from aequitone.desktop.tools.jobs import commands as jobs_commands
from aequitone.desktop.window import MainWindow
from aequitone.handover.report import make_report
from aequitone.logbook import Logbook, VisitRecord, open_logbook
from aequitone.logbook.ledger import FOUND_REASON
from aequitone.logbook.records import Connection
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.passes import AS_FOUND, PROOF, WHITE, PassType, begin, carry_out, load_snapshot
from aequitone.procedures.runner import NobodyThere
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import load_scenario

Open = Callable[[Logbook], MainWindow]
Drive = Callable[[MainWindow], Driver]


def run(driver: Driver, station: str, kind: PassType) -> None:
    presenter = driver._window.presenter
    presenter.go_to(station)
    driver.press_for(commands.BEGIN)
    driver.wait_for_pass()
    assert presenter.snapshot is not None
    assert presenter.snapshot.done(kind), presenter.view().panel.sentence


def add(window: MainWindow, driver: Driver, command: commands.Command, words: str) -> None:
    presenter = window.presenter
    before = len(presenter.snapshot.jobs)
    if presenter.tool is None:
        presenter.do(commands.JOBS)
        window.refresh()
    driver.press_for(command)
    driver.wait(lambda: presenter.view().panel.entry is not None, "the line to type in")
    window.refresh()
    field = window._panel._entry
    field.selectAll()
    QTest.keyClicks(field, words)
    driver.press_for(commands.KEEP_ENTRY)
    driver.wait(lambda: len(presenter.snapshot.jobs) == before + 1, "the job")


def note_menu(window: MainWindow, driver: Driver) -> None:
    """The settings of the memory, read from the simulated screen at Arrive."""
    presenter = window.presenter
    presenter.go_to("arrive")
    driver.press_for(arrive_commands.FILL)
    driver.wait(lambda: not presenter.station("arrive").filling, "the menu")
    driver.press_for(arrive_commands.SAVE)
    driver.wait(lambda: presenter.here != "arrive", "the visit to be saved")


def test_three_jobs_by_keys_killed_and_gone_on_with(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive, tmp_path: Path
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    assert "job" not in presenter.view().strip.what
    run(driver, "as-found", AS_FOUND)
    add(window, driver, jobs_commands.ADD_DAY, f"{visit.input}, Day")
    assert "job 2 of 2, F6" in presenter.view().strip.what
    assert presenter.snapshot.visit.target == "rec709-2.2/added"
    assert presenter.snapshot.visit.light == 150.0
    assert presenter.snapshot.result(AS_FOUND) is None
    note_menu(window, driver)
    answer_checklist(logbook, presenter.snapshot.visit)
    driver.wait(lambda: presenter.snapshot.settings, "the settings")
    run(driver, "as-found", AS_FOUND)
    run(driver, "white", WHITE)
    day = presenter.snapshot.settings
    # Killed: another window on the same file goes on with the job that was worked on.
    window.close()
    window = open_on(open_logbook(logbook.path))
    driver, presenter = drive(window), window.presenter
    assert presenter.snapshot.visit.memory == "Day"
    assert presenter.snapshot.settings == day
    run(driver, "proof", PROOF)
    add(window, driver, jobs_commands.ADD_INPUT, "HDMI 3, Film night")
    assert presenter.snapshot.visit.target == "rec709-2.2/added"
    presenter.do(commands.JOBS)
    window.refresh()
    driver.press_for(commands.SKIP)
    driver.wait(lambda: presenter.snapshot.jobs[2].left_out, "the job to be left out")
    presenter.do(commands.CLOSE_TOOL)
    # F6 passes over what is left out.
    first, second, _ = (job.id for job in presenter.snapshot.jobs)
    for job in (first, second, first):
        presenter.do(commands.NEXT_JOB)
        driver.wait(lambda job=job: presenter.snapshot.visit.job_id == job, "the next job")
    standins = presenter.session.instruments.bench(presenter.snapshot.visit.bench).standins
    assert standins is not None
    assert standins.screen.memory == (visit.input, visit.memory)
    run(driver, "white", WHITE)
    run(driver, "proof", PROOF)
    states = [row.state for row in presenter.tool_of("jobs").page().rows]
    assert states == ["done", "done", "left out"]
    report = make_report(presenter.session.logbook, visit.id, tmp_path / "report")
    text = "\n".join(page.extract_text() for page in PdfReader(report.pdf).pages)
    assert len(PdfReader(report.pdf).pages) == 4
    assert f"picture memory “{visit.memory}”" in text
    assert "picture memory “Day”" in text
    assert "HDMI 3" not in text


def test_what_cannot_be_added_is_said(logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    presenter.do(commands.JOBS)
    window.refresh()
    driver.press_for(jobs_commands.ADD_NIGHT)
    tool = presenter.tool_of("jobs")
    for words, objection in (("Night", "with a comma"), (f"{visit.input}, {visit.memory}", "has a job on this")):
        tool.typed(words)
        driver.wait(
            lambda objection=objection: objection in presenter.view().panel.entry.objection, "the objection"
        )
    presenter.do(commands.CLOSE_TOOL)
    assert presenter.view().panel.entry is None
    assert len(presenter.snapshot.jobs) == 1
    presenter.do(commands.CLOSE_TOOL)
    presenter.do(commands.NEXT_JOB)
    assert "one job on this visit" in presenter.session.message


def test_what_one_job_was_left_at_is_told_to_the_next(
    logbook: Logbook, visit: VisitRecord, bench: Callable[[int], StandInBench]
) -> None:
    stand_ins = bench(4)
    line = next(each for each in checklist(visit.technology, [Role.TEMPERATURE]) if each.key == CHOICE)
    assert chosen_elsewhere(load_snapshot(logbook, visit.id), line) == ""
    for kind in (AS_FOUND, PROOF):
        carry_out(logbook, begin(logbook, visit.id, kind), stand_ins.bench(), NobodyThere())
    tone = next(each for each in logbook.controls(visit.screen_id) if each.role == Role.TEMPERATURE)
    logbook.ledger.note(visit.id, {tone.id: 1}, "choice of preset")
    assert chosen_elsewhere(load_snapshot(logbook, visit.id), line) == ""
    logbook.jobs.add(visit.id, input_=visit.input, memory="Day", target="rec709-2.2/added")
    assert chosen_elsewhere(load_snapshot(logbook, visit.id), line) == f"{visit.memory} was left at Neutral."


def test_two_memories_by_hand_with_the_remote(
    qapp: QApplication, logbook: Logbook, open_on: Open, drive: Drive
) -> None:
    scenario = load_scenario("demo")
    visit = begin_standin_visit(logbook, scenario, "demo", 4, link=Connection.BY_HAND)
    note_as_found(logbook, visit, build_bench(scenario, 4).link.values())
    answer_checklist(logbook, visit)
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    presenter.do(commands.REMOTE)
    driver.wait(lambda: window._remote is not None and window._remote.isVisible(), "the remote")
    remote, left = window._remote, []
    assert remote is not None
    window.activateWindow()
    for memory in (visit.memory, "Day"):
        if memory == "Day":
            add(window, driver, jobs_commands.ADD_DAY, f"{visit.input}, Day")
            assert "Switch the screen to HDMI 2, Day" in presenter.session.message
            ids = {each.role.key: each.id for each in logbook.controls(visit.screen_id)}
            found = {ids[key]: value for key, value in remote.source.settings().items() if key in ids}
            logbook.ledger.note(visit.id, found, FOUND_REASON)
            answer_checklist(logbook, logbook.visit(visit.id))
            presenter.open_visit(visit.id)
            driver.wait(lambda: presenter.snapshot.settings, "the settings")
        run(driver, "as-found", AS_FOUND)
        presenter.go_to("white")
        driver.press_for(commands.BEGIN)
        assert follow(qapp, driver, remote) >= 1
        assert presenter.snapshot.done(WHITE)
        stands, noted = remote.source.settings(), presenter.snapshot.settings
        assert all(noted[role] == stands[role.key] for role in TWO_POINT)
        run(driver, "proof", PROOF)
        left.append(noted)
    presenter.do(commands.NEXT_JOB)
    driver.wait(lambda: presenter.snapshot.visit.memory == visit.memory, "the first job")
    assert presenter.snapshot.settings == left[0]
    assert left[0] != left[1]
    # The simulated screen kept both, and stands in the memory of the job that is worked on.
    assert all(remote.source.settings()[role.key] == left[0][role] for role in TWO_POINT)
