"""What comes before grey, by keys: from nothing to levels done, by meter, and what is owed."""

from collections.abc import Callable
from dataclasses import replace

import numpy as np
import pytest
from benchmarks.levels import true_contrast
from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QComboBox, QLineEdit
from tests.conftest import answer_checklist
from tests.desktop.hints import shows

from aequitone.advice import checklist
from aequitone.advice.roles import Role
from aequitone.advice.scopes import Reach
from aequitone.desktop import commands
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.stations.arrive import commands as arrive_commands
from aequitone.desktop.stations.hand_over import commands as hand_over_commands
from aequitone.desktop.stations.levels import commands as levels_commands
from aequitone.desktop.stations.prepare import commands as prepare_commands
from aequitone.desktop.stations.prepare.checklist import drift
from aequitone.desktop.stations.prepare.state import Mark
from aequitone.desktop.tools.controls import commands as controls_commands
from aequitone.desktop.tools.visits import commands as visits_commands
from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook, PassState, VisitRecord, open_logbook
from aequitone.logbook.records import Connection
from aequitone.logbook.settings.ledger import CheckState, DebtAnswer
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.passes import AS_FOUND, LEVELS, MODE, UNIFORMITY, begin, carry_out
from aequitone.procedures.preparation.warm_up import Warmth
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
    assert presenter.here == "arrive"
    for name, words in (
        ("Client", "Harbour Lodge"),
        ("Room", "Lounge"),
        ("Screen", "The screen"),
        ("Input", "HDMI 1"),
        ("Memory", "Film"),
    ):
        type_into(name, words)
    type_into("Size", "65 in")
    type_into("Serial number", "K-0042")
    type_into("Meter", "stand-in")
    type_into("Meter, more", scenario)
    type_into("Patterns", "stand-in")
    type_into("Link", "stand-in")
    driver.press_for(arrive_commands.FILL)
    driver.wait(lambda: any(row.found for row in presenter.station("arrive").draft.controls), "the menu")
    driver.press_for(arrive_commands.SAVE)
    driver.wait_for_station("prepare")
    assert presenter.snapshot is not None
    plate = logbook.visit(presenter.snapshot.visit.id).plate
    assert (plate.size, plate.serial, plate.firmware) == ("65 in", "K-0042", "")
    assert technology in presenter.snapshot.visit.technology or scenario == "family-tube"
    cautions = presenter.view().panel.sentence
    assert ("lens" in cautions) is (scenario == "lamp-projector")
    assert ("dangerous voltage" in cautions) is (scenario == "family-tube")
    driver.prepare()
    driver.wait_for_station("as-found")
    marks = {row.title: row.mark for row in _checklist(window)}
    # Going on from what is there is the answer of someone who only presses Enter.
    assert {title for title, mark in marks.items() if mark is not Mark.DONE} == {
        "Reset to factory, if your school says so"
    }
    driver.press_for(commands.BEGIN)
    driver.wait_for_pass()
    driver.press_for(commands.NEXT_STATION)
    driver.wait_for_station("levels")
    driver.press_for(commands.BEGIN)
    driver.wait_for_pass()
    snapshot = presenter.snapshot
    assert snapshot.done(LEVELS), presenter.view().panel.sentence
    assert snapshot.state(LEVELS) is not None
    assert snapshot.state(LEVELS).white is not None
    standins = presenter.session.instruments.bench(snapshot.visit.bench).standins
    assert standins is not None
    left = standins.screen.settings()
    assert {role: left[role.key] for role in snapshot.settings} == {
        role: snapshot.settings[role] for role in snapshot.settings
    }
    neutral = standins.screen.unit.neutral
    for role in (Role.BLACK_LEVEL, Role.COLOUR, Role.TINT):
        control = next(c for c in standins.screen.controls() if c.role == role.key)
        assert abs(left[role.key] - control.factory - neutral[role.key]) <= 1
    assert left[Role.CONTRAST.key] <= true_contrast(standins) + 2
    # The light is set with the reserve that white will cost, as far as the screen's steps allow.
    assert snapshot.state(LEVELS).wanted >= light
    assert snapshot.state(LEVELS).white[1] == pytest.approx(snapshot.state(LEVELS).wanted, rel=0.06)
    page = presenter.view().page
    assert page is not None
    assert all(row.exact is not None for row in page.rows)
    assert shows(window, commands.NEXT_STATION)


def _checklist(window: MainWindow) -> tuple:
    window.presenter.go_to("prepare")
    rows = window.presenter.view().page.rows
    window.presenter.go_to("as-found")
    return rows


def test_what_is_switched_off_is_owed_and_answered_by_keys(
    logbook: Logbook, owing: VisitRecord, open_on: Open, drive: Drive
) -> None:
    # Another mode has features of its own, and which is best can hang on how long the screen is warm.
    logbook.ledger.check(owing.id, checklist.MODE, CheckState.LEFT)
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    assert presenter.here == "prepare"
    driver.prepare()
    assert presenter.snapshot is not None
    assert {debt.role for debt in presenter.snapshot.debts} == {Role.ZONE_DIMMING, Role.DYNAMIC_CONTRAST}
    assert presenter.snapshot.settings[Role.ZONE_DIMMING] == 0
    driver.press_for(commands.BEGIN)
    driver.wait_for_pass()
    driver.press("Ctrl+9")
    # Closing is not offered while something is owed, and nothing but an answer is.
    assert not shows(window, hand_over_commands.CLOSE_VISIT)
    assert "cannot be closed" in presenter.view().panel.sentence
    driver.press_for(hand_over_commands.ON_AGAIN)
    driver.wait(lambda: len(_owed(window)) == 1, "the first answer")
    driver.press_for(commands.UNDO)
    driver.wait(lambda: len(_owed(window)) == 2, "the answer taken back")
    driver.press_for(hand_over_commands.ON_AGAIN)
    driver.wait(lambda: len(_owed(window)) == 1, "the first answer again")
    driver.press_for(hand_over_commands.CLIENT_CHOICE)
    driver.wait(lambda: not _owed(window), "the second answer")
    first, second = presenter.snapshot.debts
    assert (first.answer, second.answer) == (DebtAnswer.ON_AGAIN, DebtAnswer.CLIENT)
    standins = presenter.session.instruments.bench(owing.bench).standins
    assert standins is not None
    left = standins.screen.settings()
    assert (left[first.role.key], left[second.role.key]) == (1, 0)
    # What is open is said once, and whoever presses again means it.
    driver.press_for(hand_over_commands.CLOSE_VISIT)
    assert "Close it with what is open?" in presenter.view().panel.sentence
    assert "Not done: Levels, White, Tone, Proof." in dict(presenter.view().page.paragraphs)["What is open"]
    assert logbook.open_visit() is not None
    driver.press_for(hand_over_commands.CLOSE_VISIT)
    driver.wait(lambda: logbook.open_visit() is None, "the closed visit")


def _owed(window: MainWindow) -> list:
    snapshot = window.presenter.snapshot
    assert snapshot is not None
    return [debt for debt in snapshot.debts if debt.answer is None]


def test_a_reset_is_no_accident_and_can_be_put_back(
    logbook: Logbook, owing: VisitRecord, open_on: Open, drive: Drive
) -> None:
    found = logbook.ledger.at(owing.id)
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press("Ctrl+2")
    assert presenter.snapshot is not None
    while presenter.station("prepare").lines[presenter.station("prepare").here].line.key != "reset":
        driver.press_for(commands.DOWN)
    assert next(hint for hint in presenter.view().panel.keys if hint.main).command == prepare_commands.LEAVE_AS_IS
    driver.press_for(prepare_commands.DONE)
    driver.wait(lambda: "reset" in presenter.snapshot.checks, "the reset")
    factory = {c.role: c.factory for c in presenter.snapshot.controls if c.scope.reach is Reach.MEMORY}
    assert {role: presenter.snapshot.settings[role] for role in factory} == factory
    standins = presenter.session.instruments.bench(owing.bench).standins
    assert standins is not None
    assert {role: standins.screen.settings()[role.key] for role in factory} == factory
    driver.press("Ctrl+9")
    driver.press_for(commands.CONTROLS)
    driver.press_for(controls_commands.PUT_BACK_ALL)
    driver.wait_for_pass()
    assert logbook.ledger.at(owing.id) == found


def test_lines_are_left_passed_over_and_taken_back(
    logbook: Logbook, owing: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    for act, mark in ((commands.SKIP, Mark.NOT_HERE), (prepare_commands.LEAVE_AS_IS, Mark.LEFT)):
        here = next(i for i, row in enumerate(presenter.view().page.rows) if row.here)
        driver.press_for(act)
        driver.wait(lambda i=here, m=mark: presenter.view().page.rows[i].mark is m, "the answer")
    driver.press_for(commands.UP)
    driver.press_for(commands.UNDO)
    driver.wait(lambda: presenter.view().page.rows[1].mark is Mark.OPEN, "the line open again")
    # What was answered is there after the window was closed and opened again.
    window.close()
    again = open_on(open_logbook(logbook.path))
    assert again.presenter.here == "prepare"
    assert [row.mark for row in again.presenter.view().page.rows[:2]] == [Mark.NOT_HERE, Mark.OPEN]


@pytest.mark.parametrize("key", ["warm-up", "choice"])
def test_a_line_that_was_being_measured_is_gone_on_with(
    logbook: Logbook, owing: VisitRecord, open_on: Open, drive: Drive, key: str
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    assert presenter.snapshot is not None
    lines = presenter.station("prepare").lines
    presenter.station("prepare").go_to(next(i for i, standing in enumerate(lines) if standing.line.key == key))
    driver.press_for(commands.BEGIN)
    driver.wait(lambda: sum(p.readings for p in logbook.passes(owing.id)) >= 2, "two readings")
    window.close()
    kept = logbook.readings(logbook.passes(owing.id)[0].id)
    assert kept
    again = open_on(open_logbook(logbook.path))
    assert again.presenter.here == "prepare"
    snapshot = again.presenter.snapshot
    assert snapshot is not None
    lines = again.presenter.station("prepare").lines
    again.presenter.station("prepare").go_to(
        next(i for i, standing in enumerate(lines) if standing.line.key == key)
    )
    second = drive(again)
    second.press_for(commands.GO_ON)
    second.wait_for_pass()
    assert logbook.readings(logbook.passes(owing.id)[0].id)[: len(kept)] == kept
    assert logbook.passes(owing.id)[0].state is PassState.DONE


def test_levels_that_were_interrupted_are_gone_on_with(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver = drive(window)
    driver.press("Ctrl+4")
    driver.press_for(commands.BEGIN)
    driver.wait(lambda: sum(p.readings for p in logbook.passes(visit.id)) >= 14, "the readings of two settings")
    window.close()
    kept = logbook.readings(logbook.passes(visit.id)[0].id)
    again = open_on(open_logbook(logbook.path))
    assert again.presenter.here == "levels"
    # The curve so far is there, from its readings.
    second = drive(again)
    second.wait(lambda: bool(again.presenter.view().page.lines), "the curve so far")
    second.press_for(commands.GO_ON)
    second.wait_for_pass()
    assert logbook.readings(logbook.passes(visit.id)[0].id)[: len(kept)] == kept
    assert logbook.passes(visit.id)[0].state is PassState.DONE


def test_visits_are_found_by_words_and_opened_by_keys(
    logbook: Logbook, visit: VisitRecord, owing: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    assert presenter.snapshot is not None
    assert presenter.snapshot.visit.id == owing.id
    driver.press("Ctrl+1")
    driver.press_for(commands.VISITS)
    driver.wait(lambda: len(presenter.tool_of("visits").lines) == 2, "both visits")
    search = QApplication.focusWidget()
    assert search is not None
    QTest.keyClicks(search, "fernhollow film")
    driver.wait(lambda: len(presenter.tool_of("visits").lines) == 1, "the one")
    driver.press_for(visits_commands.OPEN)
    driver.wait(lambda: presenter.snapshot.visit.id == visit.id, "the other visit")
    assert presenter.here == "as-found"
    assert presenter.tool is None
    driver.press("Ctrl+1")
    driver.press_for(commands.VISITS)
    driver.wait(
        lambda: QApplication.focusWidget().accessibleName() == "Search the logbook", "the cursor in the search"
    )
    QTest.keyClicks(QApplication.focusWidget(), "nowhere")
    driver.wait(lambda: presenter.tool_of("visits").lines == (), "nothing")
    assert "No visit has all" in presenter.view().panel.outlook
    driver.press_for(commands.CLOSE_TOOL)
    assert presenter.tool is None


def test_uniformity_is_read_by_key_and_told_in_figures(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    bench = build_bench(load_scenario("demo"), 4).bench()
    for kind in (AS_FOUND, LEVELS):
        carry_out(logbook, begin(logbook, visit.id, kind), bench, NobodyThere())
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press("Ctrl+4")
    driver.press_for(levels_commands.MEASURE_UNIFORMITY)
    driver.wait_for_pass()
    assert presenter.snapshot is not None
    assert presenter.snapshot.result(UNIFORMITY) is not None
    page = presenter.view().page
    assert page is not None
    told = dict(page.figures)
    top, middle = told["Light, top, %"].split(), told["Light, middle, %"].split()
    assert len(top) == len(middle) == 3
    assert float(top[0]) < float(middle[0]) < float(middle[1]) == 0.0
    assert "Checkerboard" in told
    assert presenter.snapshot.done(LEVELS)


def test_the_light_wanted_is_typed_and_what_cannot_be_is_said(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press("Ctrl+4")

    def type_(words: str) -> None:
        driver.press_for(levels_commands.TYPE_LIGHT)
        driver.wait(lambda: isinstance(QApplication.focusWidget(), QLineEdit), "the line to type in")
        again(words)

    def again(words: str) -> None:
        line = QApplication.focusWidget()
        assert isinstance(line, QLineEdit)
        line.selectAll()
        QTest.keyClicks(line, words)
        driver.press("Enter")

    type_("137,5")
    driver.wait(lambda: logbook.visit(visit.id).light == 137.5, "the light")
    driver.wait(lambda: "137.5 cd/m²" in dict(presenter.view().page.figures).values(), "it shown")
    type_("bright")
    for words in ("bright", "-5", "1e9", "20000"):
        entry = presenter.view().panel.entry
        assert entry is not None
        assert "It stays as it was." in entry.objection
        again(words)
    driver.press_for(commands.CLOSE_TOOL)
    assert presenter.view().panel.entry is None
    assert logbook.visit(visit.id).light == 137.5
    type_(" ")
    driver.wait(lambda: logbook.visit(visit.id).light == 0.0, "what is usual")


def test_the_light_wanted_is_chosen_and_levels_are_copied_as_text(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press("Ctrl+4")

    def wanted() -> str:
        hint = next(hint for hint in presenter.view().panel.keys if hint.command == levels_commands.LIGHT)
        return hint.choices[hint.chosen]

    assert wanted() == "100"
    driver.press_for(levels_commands.LIGHT)
    driver.wait(lambda: logbook.visit(visit.id).light == 120.0, "the other light")
    driver.wait(lambda: wanted() == "120", "it shown")
    driver.press_for(commands.BEGIN)
    driver.wait_for_pass()
    assert presenter.snapshot is not None
    assert presenter.snapshot.state(LEVELS) is not None
    assert presenter.snapshot.state(LEVELS).wanted >= 120.0
    driver.press_for(commands.COPY)
    lines = QGuiApplication.clipboard().text().splitlines()
    assert lines[0].split("\t") == ["Control", "Name", "Found", "Now", "Curve says", "±"]
    rows = {line.split("\t")[0]: line.split("\t") for line in lines if line}
    assert int(rows["Black level"][3]) == presenter.snapshot.settings[Role.BLACK_LEVEL]
    assert rows["White wanted"][1] == "120 cd/m²"


def test_levels_by_hand_ask_for_every_turn_and_notice_one_that_was_not_made(
    qapp: QApplication, logbook: Logbook, open_on: Open, drive: Drive
) -> None:
    scenario = load_scenario("demo")
    begun = begin_standin_visit(logbook, scenario, "demo", 4, link=Connection.BY_HAND)
    note_as_found(logbook, begun, build_bench(scenario, 4).link.values())
    answer_checklist(logbook, begun)
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press("Ctrl+4")
    driver.press_for(commands.BEGIN)
    standins, missed, joined = None, False, 0
    for _ in range(60):
        driver.wait(lambda: not presenter.running or presenter.session.asked is not None, "a move or the end")
        if presenter.session.asked is None:
            break
        standins = presenter.session.instruments.bench(begun.bench).standins
        question = presenter.session.asked.question
        panel = presenter.view().panel
        # What was found is turned along with the first step of what comes next.
        joined += len(question.move.changes) > 1
        assert [(line.label, line.amount) for line in panel.lines] == [
            (change.name, f"to {change.to_value}") for change in question.move.changes
        ]
        for change in question.move.changes:
            if change.role == Role.BLACK_LEVEL:
                # The remote was pointed past the screen: nothing moves, and the person does not see it.
                missed = True
            else:
                standins.screen.turn({change.role.key: change.to_value})
        driver.press_for(commands.TURNED)
        driver.wait(
            lambda q=question: presenter.session.asked is None or presenter.session.asked.question is not q,
            "the next",
        )
    assert presenter.snapshot is not None
    assert presenter.snapshot.done(LEVELS)
    assert missed
    assert joined
    assert "Brightness was not turned, or it is not the black level" in presenter.view().panel.sentence
    assert presenter.snapshot.settings[Role.BLACK_LEVEL] == presenter.snapshot.found_settings[Role.BLACK_LEVEL]
    assert standins is not None
    left = standins.screen.settings()
    assert all(left[role.key] == presenter.snapshot.settings[role] for role in (Role.CONTRAST, Role.LIGHT_OUTPUT))


def test_a_mode_whose_controls_are_greyed_out_is_passed_over(
    logbook: Logbook, owing: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    presenter.go_to("prepare")
    driver.wait(lambda: bool(presenter.view().page.rows), "the checklist")
    while "picture mode" not in next(row.title for row in presenter.view().page.rows if row.here):
        driver.press_for(commands.DOWN)
    driver.press_for(commands.BEGIN)
    driver.wait(
        lambda: shows(window, commands.SKIP) and "Best so far" in presenter.view().panel.sentence, "a mode"
    )
    control = next(c for c in presenter.snapshot.controls if c.role == Role.PICTURE_MODE)
    # Whoever passes a mode over must see which one is on.
    assert presenter.view().panel.lines[0].label in {control.shown(value) for value in range(control.highest + 1)}
    driver.press_for(commands.SKIP)
    driver.wait_for_pass()
    snapshot = presenter.snapshot
    assert snapshot is not None
    assert snapshot.result(MODE) is not None
    assert "Passed over, as greyed out:" in snapshot.result(MODE).words
    assert snapshot.result(MODE).words[:40] in presenter.view().panel.sentence
    assert len(snapshot.result(MODE).order) == len(range(control.lowest, control.highest + 1)) - 1


def test_white_is_drawn_against_what_it_was_read_last_while_the_screen_warms_up() -> None:
    light = np.array([90.0, 95.0, 99.0, 100.0])
    warmth = Warmth(np.array([0.0, 60.0, 120.0, 180.0]), light[:, None] * np.ones(3), None, 0.0, settled=False)
    line = drift(warmth)
    assert line is not None
    assert [point[:2] for point in line.points] == [
        pytest.approx(each) for each in ((0.0, -10.0), (1.0, -5.0), (2.0, -1.0), (3.0, 0.0))
    ]
    assert drift(None) is None
    assert drift(replace(warmth, seconds=np.zeros(1), xyz=np.ones((1, 3)))) is None
