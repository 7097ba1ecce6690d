"""What comes before grey, by keys: from nothing to levels done, by meter, and what is owed."""

from collections.abc import Callable

import pytest
from benchmarks.levels import true_contrast
from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QComboBox, QLineEdit
from tests.conftest import answer_checklist
from tests.desktop.hints import shows

from aequitone.advice.roles import Role
from aequitone.advice.scopes import Reach
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.states import Act, Mark, Station
from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook, PassState, VisitRecord, open_logbook
from aequitone.logbook.ledger import Answer
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.passes import AS_FOUND, LEVELS, MODE, UNIFORMITY, begin, carry_out, levels_state
from aequitone.procedures.runner import NobodyThere
from aequitone.standins.bench import build_bench
from aequitone.standins.scenario import load_scenario

Open = Callable[[Logbook], MainWindow]
Drive = Callable[[MainWindow], Driver]


def tab_to(name: str) -> QLineEdit | QComboBox:
    """Press Tab until the field of that name has the keys."""
    for _ in range(60):
        focus = QApplication.focusWidget()
        if focus is not None and focus.accessibleName() == name:
            assert isinstance(focus, QLineEdit | QComboBox)
            return focus
        QTest.keyClick(QApplication.activePopupWidget() or focus, Qt.Key.Key_Tab)
        QApplication.processEvents()
    raise AssertionError(f"Tab never came to {name}")


def type_into(name: str, words: str) -> None:
    QTest.keyClicks(tab_to(name), words)


@pytest.mark.parametrize(
    ("scenario", "technology", "light"),
    [("wide-lcd", "wide", 100.0), ("lamp-projector", "three", 48.0), ("family-tube", "tube", 80.0)],
)
def test_from_nothing_to_levels_done_by_keys_alone(
    logbook: Logbook, open_on: Open, drive: Drive, scenario: str, technology: str, light: float
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    assert presenter.here is Station.ARRIVE
    for name, words in (
        ("Client", "Harbour Lodge"),
        ("Room", "Lounge"),
        ("Screen", "The screen"),
        ("Input", "HDMI 1"),
        ("Picture memory", "Film"),
    ):
        type_into(name, words)
    type_into("Size", "65 in")
    type_into("Serial number", "K-0042")
    type_into("Meter", "stand-in")
    type_into("Meter, more", scenario)
    type_into("Patterns", "stand-in")
    type_into("Link, kind", "stand-in")
    driver.press_for(Act.READ_CONTROLS)
    driver.wait(lambda: any(row.found for row in presenter.draft.controls), "the menu")
    driver.press_for(Act.SAVE_ARRIVAL)
    driver.wait_for_station(Station.PREPARE)
    assert presenter.facts is not None
    plate = logbook.visit(presenter.facts.visit.id).plate
    assert (plate.size, plate.serial, plate.firmware) == ("65 in", "K-0042", "")
    assert technology in presenter.facts.visit.technology or scenario == "family-tube"
    cautions = presenter.view().panel.sentence
    assert ("lens" in cautions) is (scenario == "lamp-projector")
    assert ("dangerous voltage" in cautions) is (scenario == "family-tube")
    driver.prepare()
    driver.wait_for_station(Station.AS_FOUND)
    marks = {row.title: row.mark for row in _checklist(window)}
    # Going on from what is there is the answer of someone who only presses Enter.
    assert {title for title, mark in marks.items() if mark is not Mark.DONE} == {
        "Reset to factory, if your school says so"
    }
    driver.press_for(Act.BEGIN)
    driver.wait_for_pass()
    driver.press_for(Act.NEXT_STATION)
    driver.wait_for_station(Station.LEVELS)
    driver.press_for(Act.BEGIN)
    driver.wait_for_pass()
    facts = presenter.facts
    assert facts.done(LEVELS), presenter.view().panel.sentence
    assert levels_state(facts) is not None
    assert levels_state(facts).white is not None
    standins = presenter._benches.bench(facts.visit.bench).standins
    assert standins is not None
    left = standins.screen.settings()
    assert {role: left[role] for role in facts.settings} == {role: facts.settings[role] for role in facts.settings}
    neutral = standins.screen.unit.neutral
    for role in (Role.BLACK_LEVEL, Role.COLOUR, Role.TINT):
        control = next(c for c in standins.screen.controls() if c.role == role)
        assert abs(left[role] - control.factory - neutral[role]) <= 1
    assert left[Role.CONTRAST] <= true_contrast(standins) + 2
    # The light is set with the reserve that white will cost, as far as the screen's steps allow.
    assert levels_state(facts).wanted >= light
    assert levels_state(facts).white[1] == pytest.approx(levels_state(facts).wanted, rel=0.06)
    page = presenter.view().levels
    assert page is not None
    assert all(row.exact is not None for row in page.rows)
    assert shows(window, Act.NEXT_STATION)


def _checklist(window: MainWindow) -> tuple:
    window.presenter.go_to(Station.PREPARE)
    rows = window.presenter.view().checklist
    window.presenter.go_to(Station.AS_FOUND)
    return rows


def test_what_is_switched_off_is_owed_and_answered_by_keys(
    logbook: Logbook, owing: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    assert presenter.here is Station.PREPARE
    driver.prepare()
    assert presenter.facts is not None
    assert {debt.role for debt in presenter.facts.debts} == {Role.ZONE_DIMMING, Role.DYNAMIC_CONTRAST}
    assert presenter.facts.settings[Role.ZONE_DIMMING] == 0
    driver.press_for(Act.BEGIN)
    driver.wait_for_pass()
    driver.press("Ctrl+8")
    # Closing is not offered while something is owed, and nothing but an answer is.
    assert not shows(window, Act.CLOSE_VISIT)
    assert "cannot be closed" in presenter.view().panel.sentence
    driver.press_for(Act.DEBT_ON_AGAIN)
    driver.wait(lambda: len(_owed(window)) == 1, "the first answer")
    driver.press_for(Act.DEBT_UNDO)
    driver.wait(lambda: len(_owed(window)) == 2, "the answer taken back")
    driver.press_for(Act.DEBT_ON_AGAIN)
    driver.wait(lambda: len(_owed(window)) == 1, "the first answer again")
    driver.press_for(Act.DEBT_CLIENT)
    driver.wait(lambda: not _owed(window), "the second answer")
    first, second = presenter.facts.debts
    assert (first.answer, second.answer) == (Answer.ON_AGAIN, Answer.CLIENT)
    standins = presenter._benches.bench(owing.bench).standins
    assert standins is not None
    left = standins.screen.settings()
    assert (left[first.role], left[second.role]) == (1, 0)
    driver.press_for(Act.CLOSE_VISIT)
    driver.wait(lambda: logbook.open_visit() is None, "the closed visit")


def _owed(window: MainWindow) -> list:
    facts = window.presenter.facts
    assert facts is not None
    return [debt for debt in facts.debts if debt.answer is None]


def test_a_reset_is_no_accident_and_can_be_put_back(
    logbook: Logbook, owing: VisitRecord, open_on: Open, drive: Drive
) -> None:
    found = logbook.ledger.at(owing.id)
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press("Ctrl+2")
    assert presenter.facts is not None
    while (
        presenter.preparing.lines(presenter.facts)[presenter.preparing.here(presenter.facts)].line.key != "reset"
    ):
        driver.press_for(Act.LINE_DOWN)
    assert next(hint for hint in presenter.view().panel.keys if hint.main).act is Act.LINE_LEFT
    driver.press_for(Act.LINE_DONE)
    driver.wait(lambda: "reset" in presenter.facts.checks, "the reset")
    factory = {c.role: c.factory for c in presenter.facts.controls if c.scope.reach is Reach.MEMORY}
    assert {role: presenter.facts.settings[role] for role in factory} == factory
    standins = presenter._benches.bench(owing.bench).standins
    assert standins is not None
    assert {role: standins.screen.settings()[role] for role in factory} == factory
    driver.press("Ctrl+8")
    driver.press_for(Act.LEDGER)
    driver.press_for(Act.PUT_ALL_BACK)
    driver.wait_for_pass()
    assert logbook.ledger.at(owing.id) == found


def test_lines_are_left_passed_over_and_taken_back(
    logbook: Logbook, owing: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    for act, mark in ((Act.LINE_NOT_HERE, Mark.NOT_HERE), (Act.LINE_LEFT, Mark.LEFT)):
        here = next(i for i, row in enumerate(presenter.view().checklist) if row.here)
        driver.press_for(act)
        driver.wait(lambda i=here, m=mark: presenter.view().checklist[i].mark is m, "the answer")
    driver.press_for(Act.LINE_UP)
    driver.press_for(Act.LINE_UNDO)
    driver.wait(lambda: presenter.view().checklist[1].mark is Mark.OPEN, "the line open again")
    # What was answered is there after the window was closed and opened again.
    window.close()
    again = open_on(open_logbook(logbook.path))
    assert again.presenter.here is Station.PREPARE
    assert [row.mark for row in again.presenter.view().checklist[:2]] == [Mark.NOT_HERE, Mark.OPEN]


@pytest.mark.parametrize("key", ["warm-up", "choice"])
def test_a_line_that_was_being_measured_is_gone_on_with(
    logbook: Logbook, owing: VisitRecord, open_on: Open, drive: Drive, key: str
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    assert presenter.facts is not None
    lines = presenter.preparing.lines(presenter.facts)
    presenter.preparing.go_to(next(i for i, standing in enumerate(lines) if standing.line.key == key))
    driver.press_for(Act.BEGIN)
    driver.wait(lambda: sum(p.readings for p in logbook.passes(owing.id)) >= 2, "two readings")
    window.close()
    kept = logbook.readings(logbook.passes(owing.id)[0].id)
    assert kept
    again = open_on(open_logbook(logbook.path))
    assert again.presenter.here is Station.PREPARE
    facts = again.presenter.facts
    assert facts is not None
    lines = again.presenter.preparing.lines(facts)
    again.presenter.preparing.go_to(next(i for i, standing in enumerate(lines) if standing.line.key == key))
    second = drive(again)
    second.press_for(Act.GO_ON)
    second.wait_for_pass()
    assert logbook.readings(logbook.passes(owing.id)[0].id)[: len(kept)] == kept
    assert logbook.passes(owing.id)[0].state is PassState.DONE


def test_levels_that_were_interrupted_are_gone_on_with(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver = drive(window)
    driver.press("Ctrl+4")
    driver.press_for(Act.BEGIN)
    driver.wait(lambda: sum(p.readings for p in logbook.passes(visit.id)) >= 9, "nine readings")
    window.close()
    kept = logbook.readings(logbook.passes(visit.id)[0].id)
    again = open_on(open_logbook(logbook.path))
    assert again.presenter.here is Station.LEVELS
    # The curve so far is there, from its readings.
    page = again.presenter.view().levels
    assert page is not None
    assert page.lines
    second = drive(again)
    second.press_for(Act.GO_ON)
    second.wait_for_pass()
    assert logbook.readings(logbook.passes(visit.id)[0].id)[: len(kept)] == kept
    assert logbook.passes(visit.id)[0].state is PassState.DONE


def test_visits_are_found_by_words_and_opened_by_keys(
    logbook: Logbook, visit: VisitRecord, owing: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    assert presenter.facts is not None
    assert presenter.facts.visit.id == owing.id
    driver.press("Ctrl+1")
    driver.press_for(Act.VISITS)
    driver.wait(lambda: len(presenter.finding.lines) == 2, "both visits")
    search = QApplication.focusWidget()
    assert search is not None
    QTest.keyClicks(search, "fernhollow film")
    driver.wait(lambda: len(presenter.finding.lines) == 1, "the one")
    driver.press_for(Act.OPEN_VISIT)
    driver.wait(lambda: presenter.facts.visit.id == visit.id, "the other visit")
    assert presenter.here is Station.AS_FOUND
    assert not presenter.finding.open
    driver.press("Ctrl+1")
    driver.press_for(Act.VISITS)
    driver.wait(
        lambda: QApplication.focusWidget().accessibleName() == "Search the logbook", "the cursor in the search"
    )
    QTest.keyClicks(QApplication.focusWidget(), "nowhere")
    driver.wait(lambda: presenter.finding.lines == (), "nothing")
    assert "No visit holds all" in presenter.view().panel.outlook
    driver.press_for(Act.VISITS)
    assert presenter.view().visits is None


def test_uniformity_is_read_by_key_and_told_in_figures(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    bench = build_bench(load_scenario("demo"), 4).bench()
    for kind in (AS_FOUND, LEVELS):
        carry_out(logbook, begin(logbook, visit.id, kind), bench, NobodyThere())
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press("Ctrl+4")
    driver.press_for(Act.EVENNESS)
    driver.wait_for_pass()
    assert presenter.facts is not None
    assert presenter.facts.result(UNIFORMITY) is not None
    page = presenter.view().levels
    assert page is not None
    told = dict(page.facts)
    top, middle = told["Light, top, %"].split(), told["Light, middle, %"].split()
    assert len(top) == len(middle) == 3
    assert float(top[0]) < float(middle[0]) < float(middle[1]) == 0.0
    assert "Checkerboard" in told
    assert presenter.facts.done(LEVELS)


def test_the_light_wanted_is_chosen_and_levels_are_copied_as_text(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press("Ctrl+4")
    assert "White of 100 cd/m²" in presenter.view().panel.sentence
    driver.press_for(Act.LIGHT)
    driver.wait(lambda: logbook.visit(visit.id).light == 120.0, "the other light")
    driver.wait(lambda: "White of 120 cd/m²" in presenter.view().panel.sentence, "it said")
    driver.press_for(Act.BEGIN)
    driver.wait_for_pass()
    assert presenter.facts is not None
    assert levels_state(presenter.facts) is not None
    assert levels_state(presenter.facts).wanted >= 120.0
    driver.press_for(Act.COPY)
    lines = QGuiApplication.clipboard().text().splitlines()
    assert lines[0].split("\t") == ["Control", "Name", "Found", "Now", "Curve says", "±"]
    rows = {line.split("\t")[0]: line.split("\t") for line in lines if line}
    assert int(rows["Black level"][3]) == presenter.facts.settings[Role.BLACK_LEVEL]
    assert rows["Wanted at the end"][1] == "120 cd/m²"


def test_levels_by_hand_ask_for_every_turn_and_notice_one_that_was_not_made(
    qapp: QApplication, logbook: Logbook, open_on: Open, drive: Drive
) -> None:
    scenario = load_scenario("demo")
    begun = begin_standin_visit(logbook, scenario, "demo", 4, link="by hand")
    note_as_found(logbook, begun, build_bench(scenario, 4).link.values())
    answer_checklist(logbook, begun)
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press("Ctrl+4")
    driver.press_for(Act.BEGIN)
    standins, missed = None, False
    for _ in range(60):
        driver.wait(lambda: not presenter.running or presenter._asked is not None, "a move or the end")
        if presenter._asked is None:
            break
        standins = presenter._benches.bench(begun.bench).standins
        question = presenter._asked.question
        (change,) = question.move.changes
        panel = presenter.view().panel
        assert panel.lines[0].label == change.name
        assert panel.lines[0].amount == f"to {change.to_value}"
        if change.role is Role.BLACK_LEVEL:
            # The remote was pointed past the screen: nothing moves, and the person does not see it.
            missed = True
        else:
            standins.screen.turn({change.role: change.to_value})
        driver.press_for(Act.TURNED)
        driver.wait(lambda q=question: presenter._asked is None or presenter._asked.question is not q, "the next")
    assert presenter.facts is not None
    assert presenter.facts.done(LEVELS)
    assert missed
    assert "Brightness was not turned, or it is not the black level" in presenter.view().panel.sentence
    assert presenter.facts.settings[Role.BLACK_LEVEL] == presenter.facts.found_settings[Role.BLACK_LEVEL]
    assert standins is not None
    left = standins.screen.settings()
    assert all(left[role] == presenter.facts.settings[role] for role in (Role.CONTRAST, Role.LIGHT_OUTPUT))


def test_a_mode_whose_controls_are_greyed_out_is_passed_over(
    logbook: Logbook, owing: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    presenter.go_to(Station.PREPARE)
    driver.wait(lambda: bool(presenter.view().checklist), "the checklist")
    while "picture mode" not in next(row.title for row in presenter.view().checklist if row.here):
        driver.press_for(Act.LINE_DOWN)
    driver.press_for(Act.BEGIN)
    driver.wait(
        lambda: shows(window, Act.PASS_OVER) and "Best so far" in presenter.view().panel.sentence, "a mode"
    )
    control = next(c for c in presenter.facts.controls if c.role is Role.PICTURE_MODE)
    # Whoever passes a mode over must see which one is on.
    assert presenter.view().panel.lines[0].label in {control.shown(value) for value in range(control.highest + 1)}
    driver.press_for(Act.PASS_OVER)
    driver.wait_for_pass()
    facts = presenter.facts
    assert facts is not None
    assert facts.result(MODE) is not None
    assert "Passed over, as greyed out:" in facts.result(MODE).words
    assert facts.result(MODE).words[:40] in presenter.view().panel.sentence
    assert len(facts.result(MODE).order) == len(range(control.lowest, control.highest + 1)) - 1
