"""What Prepare, Levels and Hand over say at each moment, from snapshot alone: no window."""

from collections.abc import Callable
from dataclasses import replace

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from aequitone.advice import checklist as lines_of
from aequitone.advice.roles import Role
from aequitone.desktop import commands
from aequitone.desktop.commands import KeyHint
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.frame.key_chips import places
from aequitone.desktop.session.live import Live
from aequitone.desktop.stations.hand_over import commands as hand_over_commands
from aequitone.desktop.stations.hand_over import panel as hand_over_panels
from aequitone.desktop.stations.levels import page as levels_page
from aequitone.desktop.stations.levels import panel as levels_panel
from aequitone.desktop.stations.prepare import checklist
from aequitone.desktop.stations.prepare import commands as prepare_commands
from aequitone.desktop.stations.prepare import panel as prepare_panels
from aequitone.desktop.stations.prepare.state import Mark
from aequitone.desktop.tools.inputs.commands import INPUTS
from aequitone.desktop.tools.report.commands import REPORT
from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook, VisitRecord
from aequitone.logbook.records import Connection
from aequitone.logbook.settings.ledger import FOUND_REASON, CheckState, DebtAnswer
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.passes import (
    AS_FOUND,
    LEVELS,
    ROOM,
    TEMPERATURE,
    WARM_UP,
    Outcome,
    Snapshot,
    begin,
    carry_out,
    load_snapshot,
)
from aequitone.procedures.preparation.room_light import RoomLight
from aequitone.procedures.runner import NobodyThere
from aequitone.standins.bench import build_bench
from aequitone.standins.scenario import load_scenario


@pytest.fixture
def fresh(logbook: Logbook) -> VisitRecord:
    """The demo's visit with its controls noted and nothing else done: Eco mode was found on."""
    begun = begin_standin_visit(logbook, load_scenario("demo"), "demo", 4)
    note_as_found(logbook, begun, build_bench(load_scenario("demo"), 4).link.values())
    return begun


def standing(snapshot: Snapshot, key: str) -> checklist.Standing:
    return next(s for s in checklist.standings(snapshot) if s.line.key == key)


def panel_at(snapshot: Snapshot, key: str):
    lines = checklist.standings(snapshot)
    here = next(i for i, s in enumerate(lines) if s.line.key == key)
    return prepare_panels.line_panel(snapshot, lines, here, "", "As found")


def test_a_fresh_checklist_is_open_and_each_line_has_its_main_key(logbook: Logbook, fresh: VisitRecord) -> None:
    snapshot = load_snapshot(logbook, fresh.id)
    assert {s.mark for s in checklist.standings(snapshot)} == {Mark.OPEN}
    assert not checklist.prepared(snapshot)
    mains = {
        key: panel_at(snapshot, key).keys[0] for key in ("range", "off-feature-energy-saving", lines_of.WARM_UP)
    }
    assert [(hint.command, hint.words) for hint in mains.values()] == [
        (prepare_commands.DONE, "done"),
        (prepare_commands.DONE, "switch it off"),
        (commands.BEGIN, "measure"),
    ]
    acts = {hint.command for hint in panel_at(snapshot, "range").keys}
    assert {commands.SHOW, commands.SKIP, prepare_commands.LEAVE_AS_IS} <= acts
    assert commands.UNDO not in acts


def test_without_a_link_a_person_says_that_it_is_off(logbook: Logbook, fresh: VisitRecord) -> None:
    snapshot = load_snapshot(logbook, fresh.id)
    by_hand = replace(snapshot, visit=replace(fresh, bench=replace(fresh.bench, link=Connection.BY_HAND)))
    assert panel_at(by_hand, "off-feature-energy-saving").keys[0].words == "switched off"


def test_measured_lines_are_done_by_what_was_measured(logbook: Logbook, fresh: VisitRecord) -> None:
    bench = build_bench(load_scenario("demo"), 4)
    for kind in (WARM_UP, ROOM, TEMPERATURE):
        carry_out(logbook, begin(logbook, fresh.id, kind), bench.bench(), NobodyThere())
    snapshot = load_snapshot(logbook, fresh.id)
    for key, words in ((lines_of.WARM_UP, "settled"), (lines_of.ROOM, "dark enough"), (lines_of.CHOICE, "cd/m²")):
        assert standing(snapshot, key).mark is Mark.DONE
        assert words in standing(snapshot, key).detail
    bright = replace(
        snapshot, outcomes={**snapshot.outcomes, ROOM.key: Outcome(given=RoomLight(0.3, 0.001, 0.01))}
    )
    assert standing(bright, lines_of.ROOM).mark is Mark.OPEN
    assert "cloth" in standing(bright, lines_of.ROOM).detail
    # Who cannot make it darker may leave it so, and the record says that.
    logbook.ledger.check(fresh.id, lines_of.ROOM, CheckState.LEFT)
    left = replace(load_snapshot(logbook, fresh.id), outcomes=bright.outcomes)
    assert standing(left, lines_of.ROOM).mark is Mark.LEFT


def test_what_was_found_off_or_switched_off_is_done(logbook: Logbook, fresh: VisitRecord) -> None:
    snapshot = load_snapshot(logbook, fresh.id)
    off = replace(snapshot, found_settings=snapshot.found_settings | {Role.ENERGY_SAVING: 0})
    assert standing(off, "off-feature-energy-saving").detail == "found off"
    control = next(c for c in snapshot.controls if c.role == Role.ENERGY_SAVING)
    logbook.ledger.switch_off(fresh.id, control.id, 1, 0)
    owing = load_snapshot(logbook, fresh.id)
    assert standing(owing, "off-feature-energy-saving").detail == "switched off; to settle at Hand over"
    assert "Switched off, to settle at Hand over: Eco mode." in panel_at(owing, "range").outlook


def test_hand_over_asks_for_debts_before_anything_else(logbook: Logbook, visit: VisitRecord) -> None:
    bench = build_bench(load_scenario("demo"), 4)
    carry_out(logbook, begin(logbook, visit.id, AS_FOUND), bench.bench(), NobodyThere())
    control = next(c for c in logbook.controls(visit.screen_id) if c.role == Role.ENERGY_SAVING)
    logbook.ledger.switch_off(visit.id, control.id, 1, 0)
    snapshot = load_snapshot(logbook, visit.id)
    asked = hand_over_panels.hand_over(snapshot, "", open_=False, made=False, busy=False)
    assert [hint.command for hint in asked.keys] == [
        hand_over_commands.ON_AGAIN,
        hand_over_commands.LEAVE_OFF,
        hand_over_commands.CLIENT_CHOICE,
        hand_over_commands.TRY_IT,
        INPUTS,
        REPORT,
        commands.CONTROLS,
    ]
    assert asked.lines[0].label == "Eco mode"
    logbook.ledger.answer(snapshot.debts[0].id, DebtAnswer.CLIENT)
    snapshot = load_snapshot(logbook, visit.id)
    then = hand_over_panels.hand_over(snapshot, "", open_=False, made=False, busy=False)
    assert {hand_over_commands.MAKE_REPORT, hand_over_commands.CLOSE_VISIT, commands.UNDO} <= {
        hint.command for hint in then.keys
    }
    told = dict(hand_over_panels.paragraphs(snapshot, ()))
    assert told["Switched off for measuring"] == "Eco mode\tclient's choice"
    assert "Eco mode from On to Off" in told["What was done"]


def test_levels_say_what_is_missing_and_what_was_found(logbook: Logbook, visit: VisitRecord) -> None:
    snapshot = load_snapshot(logbook, visit.id)
    assert commands.BEGIN in {hint.command for hint in levels_panel.to_begin(snapshot, "", "", "White").keys}
    nothing = replace(snapshot, settings={})
    bare = levels_panel.to_begin(nothing, "", "", "White")
    assert commands.BEGIN not in {hint.command for hint in bare.keys}
    assert "Enter them at Arrive, or set them by eye" in bare.sentence
    bench = build_bench(load_scenario("demo"), 4)
    carry_out(logbook, begin(logbook, visit.id, LEVELS), bench.bench(), NobodyThere())
    snapshot = load_snapshot(logbook, visit.id)
    done = levels_panel.done(snapshot, LEVELS.words(snapshot.result(LEVELS)), "White")
    assert done.keys[0].command == commands.NEXT_STATION
    assert "Black begins to rise at" in done.sentence
    page = levels_page.levels_page(snapshot, None)
    assert [row.role for row in page.rows] == ["Light output", "Black level", "Contrast"]
    assert all(row.found == snapshot.found_settings[role] for row, role in zip(page.rows, _ROLES, strict=True))
    black = levels_page.levels_page(snapshot, None, Role.BLACK_LEVEL)
    assert black.title == "Black level, Brightness"
    assert [row.here for row in black.rows] == [False, True, False]
    assert snapshot.done(LEVELS)


_ROLES = (Role.LIGHT_OUTPUT, Role.BLACK_LEVEL, Role.CONTRAST)


def test_lights_go_round(logbook: Logbook, visit: VisitRecord) -> None:
    snapshot = load_snapshot(logbook, visit.id)
    seen = []
    for _ in range(len(levels_panel.LIGHTS) + 1):
        seen.append(levels_page.wanted_light(snapshot))
        snapshot = replace(snapshot, visit=replace(snapshot.visit, light=levels_panel.next_light(snapshot)))
    assert seen == [100.0, 120.0, 160.0, 200.0, 48.0, 80.0, 100.0]


def test_answers_have_rows_of_their_own_and_other_keys_share_theirs() -> None:
    wide = [KeyHint(str(i), "an answer", commands.CHOICES[0], wide=True) for i in range(2)]
    narrow = [KeyHint(key, "a key", commands.SHOW) for key in "NW"]
    view = [KeyHint("D", "darken", commands.DARKEN)]
    assert places((*wide, *narrow, *view)) == [
        (0, 0, 1, 6), (1, 0, 1, 6), (2, 0, 1, 3), (2, 3, 1, 3), (3, 0, 1, 2),
    ]  # fmt: skip
    assert places((narrow[0], *wide)) == [(0, 0, 1, 3), (1, 0, 1, 6), (2, 0, 1, 6)]


def test_a_line_is_ticked_by_its_box_and_taken_back(
    logbook: Logbook, fresh: VisitRecord, open_on: Callable[[Logbook], MainWindow], drive: Callable[..., Driver]
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    presenter.go_to("prepare")
    window.refresh()
    view = window.room_view("prepare")
    station = presenter.station("prepare")
    assert {each.mark for each in station.lines} == {Mark.OPEN}

    def click(x: float, row: int) -> None:
        QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=QPoint(round(x), round(40 + 32 * row + 16)))

    click(200, 3)
    assert station.here == 3
    assert station.lines[3].mark is Mark.OPEN
    click(18, 2)
    driver.wait(lambda: station.lines[2].mark is Mark.DONE, "the tick")
    click(18, 2)
    driver.wait(lambda: station.lines[2].mark is Mark.OPEN, "it to be taken back")
    # What a reading says is not ticked by hand: its line is only looked at.
    measured = next(i for i, each in enumerate(station.lines) if each.line.key == lines_of.WARM_UP)
    click(18, measured)
    assert station.here == measured
    assert station.lines[measured].mark is Mark.OPEN
    # Whoever goes away and comes back finds the line that was left.
    presenter.go_to("as-found")
    presenter.go_to("prepare")
    assert station.here == measured


def test_what_cannot_be_measured_says_why_and_offers_that_it_does_not_apply(
    logbook: Logbook, visit: VisitRecord
) -> None:
    snapshot = load_snapshot(logbook, visit.id)
    control = next(control for control in snapshot.controls if control.role == Role.TEMPERATURE)
    without = {role: value for role, value in snapshot.settings.items() if role != control.role}
    bare = replace(snapshot, settings=without, found_settings=without, checks={})
    lines = checklist.standings(bare)
    here = next(i for i, each in enumerate(lines) if each.line.key == lines_of.CHOICE)
    panel = prepare_panels.line_panel(bare, lines, here, "", "As found")
    assert "at Arrive first" in panel.sentence
    assert [hint.words for hint in panel.keys if hint.main] == ["go to Arrive"]
    assert sum(hint.command == commands.SKIP for hint in panel.keys) == 1
    # A screen that has no such control has nothing to note.
    bare = replace(bare, controls=tuple(each for each in bare.controls if each.role != control.role))
    lines = checklist.standings(bare)
    here = next(i for i, each in enumerate(lines) if each.line.key == lines_of.CHOICE)
    panel = prepare_panels.line_panel(bare, lines, here, "", "As found")
    assert [hint.words for hint in panel.keys if hint.main] == ["does not apply"]
    assert sum(hint.command == commands.SKIP for hint in panel.keys) == 1
    assert not any(hint.command == commands.BEGIN for hint in panel.keys)


def test_a_choice_that_was_put_back_is_still_to_be_made(logbook: Logbook, visit: VisitRecord) -> None:
    bench = build_bench(load_scenario("demo"), 4).bench()
    chosen = carry_out(logbook, begin(logbook, visit.id, TEMPERATURE), bench, NobodyThere())
    snapshot = replace(load_snapshot(logbook, visit.id), checks={})
    assert standing(snapshot, lines_of.CHOICE).mark is Mark.DONE
    put_back = replace(chosen, words="")
    snapshot = replace(snapshot, outcomes={**snapshot.outcomes, TEMPERATURE.key: Outcome(given=put_back)})
    assert standing(snapshot, lines_of.CHOICE).mark is Mark.OPEN
    assert "put back" in standing(snapshot, lines_of.CHOICE).detail


def test_presets_are_counted_with_the_last_and_the_best(logbook: Logbook, visit: VisitRecord) -> None:
    bench = build_bench(load_scenario("demo"), 4).bench()
    chosen = carry_out(logbook, begin(logbook, visit.id, TEMPERATURE), bench, NobodyThere())
    under_way = replace(chosen, words="", last=chosen.order[-1])
    said = prepare_panels.measuring(TEMPERATURE, Live(done=1, total=3, value=under_way)).sentence
    assert said.startswith("2 of 3. Last: ")
    assert f"Best so far: {chosen.order[0].words}." in said


def test_a_mode_that_was_chosen_by_hand_has_settings_of_its_own_to_be_noted(logbook: Logbook) -> None:
    begun = begin_standin_visit(logbook, load_scenario("wide-lcd"), "wide-lcd", 1, link=Connection.BY_HAND)
    mode = next(c for c in logbook.controls(begun.screen_id) if c.role == Role.PICTURE_MODE)
    logbook.ledger.note(begun.id, {mode.id: 0}, FOUND_REASON)
    panel = panel_at(load_snapshot(logbook, begun.id), lines_of.CHOICE)
    assert [hint.command for hint in panel.keys if hint.main] == [commands.TO_ARRIVE]
    assert "has settings of its own" in panel.sentence
    values = build_bench(load_scenario("wide-lcd"), 1).link.values()
    note_as_found(logbook, begun, values)
    panel = panel_at(load_snapshot(logbook, begun.id), lines_of.CHOICE)
    assert [hint.command for hint in panel.keys if hint.main] == [commands.BEGIN]
