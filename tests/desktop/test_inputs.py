"""A television with three inputs by keys: what copying forgets is on the sheet, what is wrong is found."""

from collections.abc import Callable
from pathlib import Path

import pytest
from pypdf import PdfReader
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit

from aequitone.advice.roles import TWO_POINT, Role
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.tools.inputs.commands import ADD, APPLIED, INPUTS, LOOK, OTHER_INPUT, REMOVE, TICK
from aequitone.desktop.window import MainWindow
from aequitone.handover.open_points import open_points
from aequitone.handover.report import make_report
from aequitone.logbook import Logbook, VisitRecord
from aequitone.logbook.standin_visit import nvram_path
from aequitone.passes import AS_FOUND, COLOURS_LEFT, PROOF, VERIFY, begin, carry_out
from aequitone.procedures.runner import NobodyThere
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import load_scenario

Open = Callable[[Logbook], MainWindow]
Drive = Callable[[MainWindow], Driver]


@pytest.fixture
def proven(logbook: Logbook, visit: VisitRecord) -> VisitRecord:
    """A memory that was set a little and proven, colours too, on the unit that the window has."""
    bench = build_bench(load_scenario("demo"), 4, nvram=nvram_path(logbook.path, "demo", 4))
    bench.screen.quieten()
    for kind in (AS_FOUND, COLOURS_LEFT, PROOF):
        carry_out(logbook, begin(logbook, visit.id, kind), bench.bench(), NobodyThere(), care=visit.bench.care)
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
    # "Apply to all" takes white balance along and forgets the rest, as screens do.
    for input_ in ("HDMI 1", "HDMI 3"):
        screen.choose_memory(input_, "Film night")
        screen.turn({role.key: left[role] for role in TWO_POINT})
    # What acts by itself is the whole screen's.
    screen.quieten()
    screen.choose_memory(*here)
    driver.press_for(APPLIED)
    driver.wait(lambda: tool.sheets[0].copy.applied, "it to be noted")
    by_role = {line.role: line for line in tool.sheets[0].lines}
    assert by_role[Role.GAIN_R].carried.value == "copied, look"
    look(driver, window)
    assert tool.sheets[0].wrong
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
    pages = [
        " ".join(page.extract_text().split())
        for page in PdfReader(make_report(logbook, proven.id, tmp_path).pdf).pages
    ]
    assert "Film night, HDMI 1 disc player everything the same" in pages[1]
    assert "not the same" in pages[1]
    driver.press_for(REMOVE)
    driver.wait(lambda: len(tool.sheets) == 1, "it to be gone")
    source._part = whole


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
