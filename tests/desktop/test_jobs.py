"""Visits of several jobs, driven by keys: added, worked on, stopped, gone on with, left out, handed over."""

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import pytest
from pypdf import PdfReader
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication
from tests.conftest import answer_checklist
from tests.desktop.remote_hand import follow

from aequitone.advice.checklist import CHOICE, checklist
from aequitone.advice.roles import TWO_POINT, Role
from aequitone.advice.scopes import Reach
from aequitone.colorimetry import Formula
from aequitone.colorimetry.transfer import pq_light
from aequitone.desktop import commands
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.stations.arrive import commands as arrive_commands
from aequitone.desktop.stations.prepare.panel import chosen_elsewhere
from aequitone.desktop.tools.controls import commands as controls_commands
from aequitone.desktop.tools.jobs import commands as jobs_commands
from aequitone.desktop.window import MainWindow
from aequitone.handover.report import make_report
from aequitone.logbook import Logbook, VisitRecord, open_logbook
from aequitone.logbook.records import Connection
from aequitone.logbook.settings.ledger import FOUND_REASON, OpenDebtsError
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.passes import (
    AS_FOUND,
    COPIED,
    LEVELS,
    PEAK,
    PROOF,
    PUT_BACK,
    WHITE,
    NotReadyError,
    PassType,
    begin,
    carry_out,
    load_snapshot,
)
from aequitone.procedures.runner import NobodyThere
from aequitone.reference import target_named
from aequitone.signal import Container, Transfer
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


def stop_in_the_middle(window: MainWindow, driver: Driver, kind: PassType) -> None:
    """The program ends while a pass is under way."""
    presenter = window.presenter
    driver.press_for(commands.BEGIN)
    driver.wait(lambda: presenter.running and presenter.session.running.live is not None, f"{kind.title} to begin")
    window.close()


def test_three_jobs_by_keys_stopped_twice_and_gone_on_with(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive, tmp_path: Path
) -> None:
    logbook.change_visit(
        visit.id, target="rec709-2.4/added", levels=11, bench=visit.bench, controls=(), technology=visit.technology
    )
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    assert "job" not in presenter.view().strip.what
    run(driver, "as-found", AS_FOUND)
    add(window, driver, jobs_commands.ADD_DAY, f"{visit.input}, Day")
    assert "job 2 of 2, F6" in presenter.view().strip.what
    assert (presenter.snapshot.visit.target, presenter.snapshot.visit.light) == ("rec709-2.2/added", 150.0)
    assert presenter.snapshot.result(AS_FOUND) is None
    note_menu(window, driver)
    answer_checklist(logbook, presenter.snapshot.visit)
    # Switched off in the day memory alone: owed there and nowhere else.
    saving = next(c for c in presenter.snapshot.controls if c.role == Role.ENERGY_SAVING)
    logbook.note_scope(saving.id, replace(saving.scope, reach=Reach.MEMORY))
    logbook.ledger.switch_off(visit.id, saving.id, 1, 0)
    presenter.open_visit(visit.id)
    driver.wait(lambda: presenter.snapshot.settings and presenter.snapshot.debts, "the settings")
    presenter.go_to("as-found")
    stop_in_the_middle(window, driver, AS_FOUND)
    window = open_on(open_logbook(logbook.path))
    driver, presenter = drive(window), window.presenter
    assert presenter.snapshot.visit.memory == "Day"
    assert presenter.snapshot.interrupted is not None
    driver.press_for(commands.GO_ON)
    driver.wait_for_pass()
    run(driver, "white", WHITE)
    day = presenter.snapshot.settings
    run(driver, "proof", PROOF)
    add(window, driver, jobs_commands.ADD_INPUT, "HDMI 3, Film night")
    assert presenter.snapshot.visit.target == "rec709-2.2/added"
    note_menu(window, driver)
    answer_checklist(logbook, presenter.snapshot.visit)
    presenter.open_visit(visit.id)
    driver.wait(lambda: presenter.snapshot.settings, "the settings")
    run(driver, "as-found", AS_FOUND)
    presenter.go_to("proof")
    stop_in_the_middle(window, driver, PROOF)
    window = open_on(open_logbook(logbook.path))
    driver, presenter = drive(window), window.presenter
    assert presenter.snapshot.visit.input == "HDMI 3"
    driver.press_for(commands.GO_ON)
    driver.wait_for_pass()
    # The first again: what was done for the others has not touched it.
    presenter.do(commands.NEXT_JOB)
    driver.wait(lambda: presenter.snapshot.visit.job_id == presenter.snapshot.jobs[0].id, "the first job")
    assert presenter.snapshot.settings == presenter.snapshot.found_settings
    standins = presenter.session.instruments.bench(presenter.snapshot.visit.bench).standins
    assert standins is not None
    assert standins.screen.memory == (visit.input, visit.memory)
    run(driver, "white", WHITE)
    assert presenter.snapshot.settings != presenter.snapshot.found_settings
    put_back(window, driver)
    assert presenter.snapshot.settings == presenter.snapshot.found_settings
    assert load_snapshot(logbook, visit.id, job_id=presenter.snapshot.jobs[1].id).settings == day
    run(driver, "proof", PROOF)
    assert [row.state for row in presenter.tool_of("jobs").page().rows] == ["done", "done", "done"]
    # What the day memory owes keeps the visit open, wherever one looks from.
    (debt,) = logbook.ledger.debts(visit.id, presenter.snapshot.jobs[1].id)
    assert (debt.name, debt.memory, debt.answer) == (saving.name, "Day", None)
    assert all(d.memory == "Day" for d in presenter.snapshot.debts)
    with pytest.raises(OpenDebtsError, match="Day"):
        presenter.session.logbook.close_visit(visit.id)
    report = make_report(presenter.session.logbook, visit.id, tmp_path / "report")
    pages = [page.extract_text() for page in PdfReader(report.pdf).pages]
    text = "\n".join(pages)
    for words in (f"Settings: {visit.memory}, {visit.input}", "Settings: Day", "HDMI 3", "gamma 2.4", "gamma 2.2"):
        assert words in text


def put_back(window: MainWindow, driver: Driver) -> None:
    """Everything of this memory as it was found, from Controls."""
    presenter = window.presenter
    presenter.do(commands.CONTROLS)
    window.refresh()
    driver.press_for(controls_commands.PUT_BACK_ALL)
    driver.wait(lambda: presenter.snapshot.done(PUT_BACK), "the put back")
    driver.wait_for_pass()


def test_a_job_left_out_is_passed_over(logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive) -> None:
    for memory in ("Day", "Game"):
        logbook.jobs.add(visit.id, input_=visit.input, memory=memory, target="rec709-2.2/added")
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    presenter.do(commands.JOBS)
    window.refresh()
    driver.press_for(commands.SKIP)
    driver.wait(lambda: presenter.snapshot.jobs[2].left_out, "the job to be left out")
    presenter.do(commands.CLOSE_TOOL)
    first, second, _ = (job.id for job in presenter.snapshot.jobs)
    for job in (first, second, first):
        presenter.do(commands.NEXT_JOB)
        driver.wait(lambda job=job: presenter.snapshot.visit.job_id == job, "the next job")


def test_an_hdr_job_sends_hdr_and_is_measured(
    logbook: Logbook, open_on: Open, drive: Drive, tmp_path: Path
) -> None:
    scenario = load_scenario("rgb-oled")
    visit = begin_standin_visit(logbook, scenario, "rgb-oled", 4)
    note_as_found(logbook, visit, build_bench(scenario, 4).link.values())
    answer_checklist(logbook, visit)
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    add(window, driver, jobs_commands.ADD_HDR, f"{visit.input}, HDR film")
    seen = presenter.snapshot.visit
    assert (seen.target, seen.bench.depth) == ("p3in2020-pq/added", 10)
    assert "10-bit limited, PQ, Rec.2020" in presenter.view().foot.patterns
    note_menu(window, driver)
    answer_checklist(logbook, presenter.snapshot.visit)
    presenter.open_visit(visit.id)
    driver.wait(lambda: presenter.snapshot.settings, "the settings")
    run(driver, "as-found", AS_FOUND)
    readings = logbook.readings(presenter.snapshot.passes[-1].id)
    assert {(r.patch.format.transfer, r.patch.format.container) for r in readings} == {
        (Transfer.PQ, Container.REC2020)
    }
    found = presenter.snapshot.result(AS_FOUND)
    assert found.errors.target[5, 1] == pytest.approx(float(pq_light(0.5)) + found.black, rel=0.02)
    assert "gamma" not in presenter.view().panel.sentence
    assert presenter.snapshot.leading is Formula.ITP
    assert presenter.view().panel.delta.label == "ΔE ITP on average"
    route = [stop.station for stop in presenter.view().route.stops]
    assert route == ["arrive", "prepare", "as-found", "peak", "white", "tone", "colour", "proof", "hand-over"]
    driver.press_for(commands.NEXT_STATION)
    assert presenter.here == "peak"
    presenter.go_to("levels")
    assert "sets SDR only" in presenter.view().panel.sentence
    with pytest.raises(NotReadyError, match="sets SDR only"):
        begin(logbook, visit.id, LEVELS)
    presenter.do(commands.NEXT_JOB)
    driver.wait(lambda: presenter.snapshot.visit.job_id == presenter.snapshot.jobs[0].id, "the first job")
    assert presenter.snapshot.visit.bench.transfer is Transfer.GAMMA
    assert "peak" not in [stop.station for stop in presenter.view().route.stops]
    with pytest.raises(NotReadyError, match="Peak is for PQ"):
        begin(logbook, visit.id, PEAK)
    assert "PQ" not in presenter.view().foot.patterns


def test_the_settings_of_one_job_are_a_start_for_another(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    controls = {each.role: each for each in logbook.controls(visit.screen_id)}
    changed = {controls[role].id: logbook.ledger.at(visit.id)[role] + 3 for role in TWO_POINT[:2]}
    logbook.ledger.note(visit.id, changed, "white balance")
    logbook.jobs.add(visit.id, input_=visit.input, memory="Day", target="rec709-2.2/added")
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    presenter.do(commands.JOBS)
    presenter.do(commands.UP)
    window.refresh()
    driver.press_for(jobs_commands.COPY_SETTINGS)
    driver.wait(lambda: "Note at Arrive how Day was found" in presenter.session.message, "the objection")
    note_menu(window, driver)
    presenter.do(commands.JOBS)
    presenter.do(commands.UP)
    window.refresh()
    driver.press_for(jobs_commands.COPY_SETTINGS)
    driver.wait(lambda: presenter.snapshot.done(COPIED), "the copy")
    driver.wait_for_pass()
    stands = presenter.session.instruments.bench(presenter.snapshot.visit.bench).standins.screen.settings()
    first = load_snapshot(logbook, visit.id, job_id=presenter.snapshot.jobs[0].id)
    assert {**presenter.snapshot.settings, Role.PICTURE_MODE: 0} == {**first.settings, Role.PICTURE_MODE: 0}
    assert all(stands[role.key] == changed[controls[role].id] for role in TWO_POINT[:2])
    assert presenter.snapshot.history[-1].reason == "copied from another job"
    assert f"settings copied from {visit.memory}, {visit.input}, as a start." in presenter.snapshot.words(COPIED)


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


def test_the_clients_own_picture_stands_beside_the_reference(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    presenter.do(commands.JOBS)
    window.refresh()
    driver.press_for(jobs_commands.ADD_OWN)
    presenter.typed(f"{visit.input}, Ours")
    assert "how far from the reference" in presenter.view().panel.entry.objection
    presenter.typed(f"{visit.input}, Ours, +30 %, +1000 K")
    driver.wait(lambda: len(presenter.snapshot.jobs) == 2, "the job")
    reference, own = presenter.snapshot.jobs
    assert own.light == pytest.approx(1.3 * 100.0, abs=1.0)
    assert target_named(own.target).white.x < target_named(reference.target).white.x
    assert target_named(own.target).tone == target_named(reference.target).tone
