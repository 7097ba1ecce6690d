"""A television with three inputs by keys: what copying forgets is on the sheet, what is wrong is found."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from pypdf import PdfReader
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit

from aequitone.advice.roles import Role, is_of_colours
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.stations.hand_over.commands import CLOSE_VISIT, LEAVE_OFF
from aequitone.desktop.tools.inputs.commands import ADD, APPLIED, INPUTS, LOOK, OTHER_INPUT, REMOVE, TICK
from aequitone.desktop.window import MainWindow
from aequitone.handover.open_points import open_points
from aequitone.handover.report import make_report
from aequitone.logbook import Logbook, VisitRecord
from aequitone.logbook.standin_visit import note_as_found, nvram_path
from aequitone.passes import AS_FOUND, COLOURS_FOUND, COLOURS_LEFT, PROOF, VERIFY, PassType, begin, carry_out
from aequitone.procedures.runner import NobodyThere
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import load_scenario

Open = Callable[[Logbook], MainWindow]
Drive = Callable[[MainWindow], Driver]


COLOURS = {"cms-red-saturation": 9, "cms-green-hue": -8, "cms-blue-saturation": -9, "cms-yellow-hue": 7}
OTHERS = (("Day", "rec709-2.2/added"), ("Game", "rec709-2.2/added"), ("Late", "rec709-2.4/added"))


@pytest.fixture
def proven(logbook: Logbook, visit: VisitRecord) -> VisitRecord:
    """Four memories, proven on the unit that the window has; the first with its colour management set."""
    bench = build_bench(load_scenario("demo"), 4, nvram=nvram_path(logbook.path, "demo", 4))
    ids = {control.role.key: control.id for control in logbook.controls(visit.screen_id)}

    def measure(*kinds: PassType[Any, Any]) -> None:
        for kind in kinds:
            carry_out(logbook, begin(logbook, visit.id, kind), bench.bench(), NobodyThere(), care=visit.bench.care)

    logbook.ledger.switch_off(visit.id, ids["feature-energy-saving"], 1, 0)
    bench.screen.quieten()
    measure(AS_FOUND, COLOURS_FOUND)
    bench.screen.turn(COLOURS)
    logbook.ledger.note(visit.id, {ids[role]: value for role, value in COLOURS.items()}, "colour management")
    measure(COLOURS_LEFT, PROOF)
    first = logbook.visit(visit.id).job_id
    for memory, target in OTHERS:
        logbook.jobs.add(visit.id, input_=visit.input, memory=memory, target=target)
        bench.screen.choose_memory(visit.input, memory)
        bench.screen.quieten()
        note_as_found(logbook, logbook.visit(visit.id), bench.link.values() | {"feature-energy-saving": 0})
        measure(AS_FOUND, PROOF)
    logbook.jobs.choose(visit.id, first)
    bench.screen.choose_memory(visit.input, visit.memory)
    return visit


def add(driver: Driver, window: MainWindow, words: str) -> None:
    tool = window.presenter.tool_of("inputs")
    before = len(tool.sheets)
    driver.press_for(ADD)
    driver.wait(lambda: isinstance(QApplication.focusWidget(), QLineEdit), "the line to type in")
    QTest.keyClicks(QApplication.focusWidget(), words)
    driver.press("Enter")
    driver.wait(lambda: len(tool.sheets) > before, "the input")


def look(driver: Driver, window: MainWindow) -> None:
    """Look at the input in view, and come back to the sheet."""
    presenter = window.presenter
    before = sum(record.kind == VERIFY.key for record in presenter.snapshot.passes)
    driver.press_for(LOOK)
    driver.wait(
        lambda: (
            not presenter.running
            and sum(record.kind == VERIFY.key for record in presenter.snapshot.passes) > before
        ),
        "the look",
    )
    driver.press_for(INPUTS)


def standins(window: MainWindow) -> StandInBench:
    found = window.presenter.session.instruments.bench(window.presenter.snapshot.visit.bench).standins
    assert found is not None
    return found


def test_every_fault_of_three_inputs_is_found_and_the_report_tells(
    logbook: Logbook, proven: VisitRecord, open_on: Open, drive: Drive, tmp_path: Path
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    presenter.go_to("hand-over")
    window.refresh()
    driver.press_for(INPUTS)
    tool = presenter.tool_of("inputs")
    add(driver, window, "HDMI 1, Film night, disc player")
    add(driver, window, "HDMI 3, Film night, games console")
    driver.press("Left")
    left = dict(presenter.snapshot.settings)
    screen = standins(window).screen
    here = screen.memory
    # "Apply to all" takes all but colour management along, as screens do.
    for input_ in ("HDMI 1", "HDMI 3"):
        screen.choose_memory(input_, "Film night")
        screen.turn({r.key: v for r, v in left.items() if r != Role.PICTURE_MODE and not is_of_colours(r)})
    # What acts by itself is the whole screen's.
    screen.quieten()
    screen.choose_memory(*here)
    driver.press_for(APPLIED)
    driver.wait(lambda: tool.sheets[0].copy.applied, "it to be noted")
    by_role = {line.role: line for line in tool.sheets[0].lines}
    assert by_role[Role.GAIN_R].carried.value == "copied, look"
    look(driver, window)
    assert tool.sheets[0].wrong
    assert "colour management" in tool.sheets[0].looked
    forgotten = {line.role.key: line.setting for line in tool.sheets[0].left if is_of_colours(line.role)}
    assert forgotten == {role: str(value) for role, value in COLOURS.items()}
    # The person enters what stands on the sheet, line by line.
    screen.choose_memory("HDMI 1", "Film night")
    while tool.sheets[0].left:
        line = tool.sheets[0].lines[tool.page().at]
        screen.turn({line.role.key: left[line.role]})
        count = tool.sheets[0].done
        driver.press_for(TICK)
        driver.wait(lambda count=count: tool.sheets[0].done > count, "the tick")
    entered = {
        role.key: value for role, value in left.items() if role != Role.PICTURE_MODE and not role.is_feature
    }
    assert {role: screen.settings()[role] for role in entered} == entered
    look(driver, window)
    assert tool.sheets[0].looked.endswith(f"the same as {proven.memory}, {proven.input}.")
    # The console on the other input sends another range, and then enhances.
    driver.press_for(OTHER_INPUT)
    screen.choose_memory("HDMI 3", "Film night")
    screen.turn(entered)
    source = standins(window).source
    whole = source._part
    for change, cause in (
        ({"sends_range": "full"}, "codes arrive where limited ones are expected"),
        ({"contrast_share": 0.3}, "picture settings of the player"),
    ):
        source._part = whole.model_copy(update=change)
        look(driver, window)
        driver.press_for(OTHER_INPUT) if not tool.page().others[1][2] else None
        assert cause in tool.sheets[1].looked
    told = open_points(presenter.snapshot)
    assert any(words.startswith("Not entered for Film night, HDMI 3") for words in told)
    assert any("HDMI 3, games console: not the same" in words for words in told)
    assert not any("HDMI 1" in words for words in told)
    pdf = make_report(logbook, proven.id, tmp_path).pdf
    whole = " ".join(" ".join(page.extract_text().split()) for page in PdfReader(pdf).pages)
    assert "Film night, HDMI 1 disc player everything the same" in whole
    assert "not the same" in whole
    driver.press_for(REMOVE)
    driver.wait(lambda: len(tool.sheets) == 1, "it to be gone")
    source._part = whole
    # The debt of all four memories is one, and is answered once; then the visit can be closed.
    driver.press("Esc")
    driver.press_for(LEAVE_OFF)
    driver.wait(lambda: all(debt.answer is not None for debt in presenter.snapshot.debts), "the answer")
    driver.press_for(CLOSE_VISIT)
    driver.press_for(CLOSE_VISIT)
    driver.wait(lambda: presenter.snapshot.visit.closed is not None, "the end of the visit")
    assert len(presenter.snapshot.jobs) == 4


def test_what_cannot_be_an_input_is_said(
    logbook: Logbook, proven: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    presenter.go_to("hand-over")
    window.refresh()
    driver.press_for(INPUTS)
    driver.press_for(ADD)
    for words, why in (
        ("HDMI 1", "with a comma between"),
        (f"{proven.input}, {proven.memory}", "a job of its own"),
    ):
        presenter.typed(words)
        driver.wait(lambda why=why: why in presenter.view().panel.entry.objection, "the objection")
    driver.press("Esc")
    assert presenter.tool is not None
    assert presenter.tool.sheets == ()
