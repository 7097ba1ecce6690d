"""What Prepare, Levels and Hand over say at each moment, from facts alone: no window."""

from dataclasses import replace

import pytest

from aequitone.advice import preparing as lines_of
from aequitone.advice.roles import Role
from aequitone.desktop import stages
from aequitone.desktop.frame.move_panel import _places
from aequitone.desktop.states import Act, KeyHint, Mark, Station
from aequitone.desktop.stations.hand_over import panel as hand_over_panels
from aequitone.desktop.stations.levels import page as levels_page
from aequitone.desktop.stations.prepare import panel as prepare_panels
from aequitone.logbook import Logbook, VisitRecord
from aequitone.logbook.ledger import Answer, CheckState
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
from aequitone.procedures.room import RoomLight
from aequitone.procedures.runner import NobodyThere
from aequitone.standins.bench import build_bench
from aequitone.standins.scenario import load_scenario


@pytest.fixture
def fresh(logbook: Logbook) -> VisitRecord:
    """The demo's visit with its controls noted and nothing else done: Eco mode was found on."""
    begun = begin_standin_visit(logbook, load_scenario("demo"), "demo", 4)
    note_as_found(logbook, begun, build_bench(load_scenario("demo"), 4).link.values())
    return begun


def standing(facts: Snapshot, key: str) -> prepare_panels.Standing:
    return next(s for s in prepare_panels.standings(facts) if s.line.key == key)


def panel_at(facts: Snapshot, key: str):
    lines = prepare_panels.standings(facts)
    here = next(i for i, s in enumerate(lines) if s.line.key == key)
    return prepare_panels.panel(facts, lines, here, "")


def test_a_fresh_checklist_is_open_and_each_line_has_its_main_key(logbook: Logbook, fresh: VisitRecord) -> None:
    facts = load_snapshot(logbook, fresh.id)
    assert {s.mark for s in prepare_panels.standings(facts)} == {Mark.OPEN}
    assert not prepare_panels.prepared(facts)
    mains = {key: panel_at(facts, key).keys[0] for key in ("range", "off-feature-energy-saving", lines_of.WARM_UP)}
    assert [(hint.act, hint.words) for hint in mains.values()] == [
        (Act.LINE_DONE, "it is so"),
        (Act.LINE_DONE, "switch it off"),
        (Act.BEGIN, "measure"),
    ]
    acts = {hint.act for hint in panel_at(facts, "range").keys}
    assert {Act.PICTURE, Act.LINE_NOT_HERE, Act.LINE_LEFT} <= acts
    assert Act.LINE_UNDO not in acts


def test_without_a_link_a_person_says_that_it_is_off(logbook: Logbook, fresh: VisitRecord) -> None:
    facts = load_snapshot(logbook, fresh.id)
    by_hand = replace(facts, visit=replace(fresh, bench=replace(fresh.bench, link="by hand")))
    assert panel_at(by_hand, "off-feature-energy-saving").keys[0].words == "it is off now"


def test_measured_lines_are_done_by_what_was_measured(logbook: Logbook, fresh: VisitRecord) -> None:
    bench = build_bench(load_scenario("demo"), 4)
    for kind in (WARM_UP, ROOM, TEMPERATURE):
        carry_out(logbook, begin(logbook, fresh.id, kind), bench.bench(), NobodyThere())
    facts = load_snapshot(logbook, fresh.id)
    for key, words in ((lines_of.WARM_UP, "settled"), (lines_of.ROOM, "dark enough"), (lines_of.CHOICE, "cd/m²")):
        assert standing(facts, key).mark is Mark.DONE
        assert words in standing(facts, key).detail
    bright = replace(facts, outcomes={**facts.outcomes, ROOM.key: Outcome(given=RoomLight(0.3, 0.001, 0.01))})
    assert standing(bright, lines_of.ROOM).mark is Mark.OPEN
    assert "cloth" in standing(bright, lines_of.ROOM).detail
    # Who cannot make it darker may leave it so, and the record says that.
    logbook.ledger.check(fresh.id, lines_of.ROOM, CheckState.LEFT)
    left = replace(load_snapshot(logbook, fresh.id), outcomes=bright.outcomes)
    assert standing(left, lines_of.ROOM).mark is Mark.LEFT


def test_what_was_found_off_or_switched_off_is_done(logbook: Logbook, fresh: VisitRecord) -> None:
    facts = load_snapshot(logbook, fresh.id)
    off = replace(facts, found_settings=facts.found_settings | {Role.ENERGY_SAVING: 0})
    assert standing(off, "off-feature-energy-saving").detail == "found off"
    control = next(c for c in facts.controls if c.role is Role.ENERGY_SAVING)
    logbook.ledger.switch_off(fresh.id, control.id, 1, 0)
    owing = load_snapshot(logbook, fresh.id)
    assert standing(owing, "off-feature-energy-saving").detail == "switched off; owed"
    assert "Owed at Hand over: Eco mode." in panel_at(owing, "range").outlook


def test_hand_over_asks_for_debts_before_anything_else(logbook: Logbook, visit: VisitRecord) -> None:
    bench = build_bench(load_scenario("demo"), 4)
    carry_out(logbook, begin(logbook, visit.id, AS_FOUND), bench.bench(), NobodyThere())
    control = next(c for c in logbook.controls(visit.screen_id) if c.role is Role.ENERGY_SAVING)
    logbook.ledger.switch_off(visit.id, control.id, 1, 0)
    facts = load_snapshot(logbook, visit.id)
    asked = hand_over_panels.hand_over(facts, "", made=False, busy=False)
    assert [hint.act for hint in asked.keys] == [
        Act.DEBT_ON_AGAIN,
        Act.DEBT_LEAVE_OFF,
        Act.DEBT_CLIENT,
        Act.LEDGER,
    ]
    assert asked.lines[0].label == "Eco mode"
    logbook.ledger.answer(facts.debts[0].id, Answer.CLIENT)
    facts = load_snapshot(logbook, visit.id)
    then = hand_over_panels.hand_over(facts, "", made=False, busy=False)
    assert {Act.MAKE_REPORT, Act.CLOSE_VISIT, Act.DEBT_UNDO} <= {hint.act for hint in then.keys}
    told = dict(hand_over_panels.paragraphs(facts))
    assert told["Switched off for measuring"] == "Eco mode\tclient's choice"
    assert "Eco mode from On to Off" in told["What was done"]


def test_levels_say_what_is_missing_and_what_was_found(logbook: Logbook, visit: VisitRecord) -> None:
    facts = load_snapshot(logbook, visit.id)
    assert Act.BEGIN in {hint.act for hint in levels_page.idle(facts, "", "").keys}
    nothing = replace(facts, settings={})
    bare = levels_page.idle(nothing, "", "")
    assert Act.BEGIN not in {hint.act for hint in bare.keys}
    assert "note them at Arrive, or go by eye" in bare.sentence
    bench = build_bench(load_scenario("demo"), 4)
    carry_out(logbook, begin(logbook, visit.id, LEVELS), bench.bench(), NobodyThere())
    facts = load_snapshot(logbook, visit.id)
    done = levels_page.idle(facts, "", "")
    assert done.keys[0].act is Act.NEXT_STATION
    assert "Black begins to rise at" in done.sentence
    page = levels_page.page(facts, None)
    assert [row.role for row in page.rows] == ["Light output", "Black level", "Contrast"]
    assert all(row.found == facts.found_settings[role] for row, role in zip(page.rows, _ROLES, strict=True))
    black = levels_page.page(facts, None, Role.BLACK_LEVEL)
    assert black.title == "Black level, Brightness"
    assert [row.here for row in black.rows] == [False, True, False]
    assert stages.station_done(facts, Station.LEVELS)


_ROLES = (Role.LIGHT_OUTPUT, Role.BLACK_LEVEL, Role.CONTRAST)


def test_lights_go_round(logbook: Logbook, visit: VisitRecord) -> None:
    facts = load_snapshot(logbook, visit.id)
    seen = []
    for _ in range(len(levels_page.LIGHTS) + 1):
        seen.append(levels_page.wanted_light(facts))
        facts = replace(facts, visit=replace(facts.visit, light=levels_page.next_light(facts)))
    assert seen == [100.0, 120.0, 160.0, 200.0, 48.0, 80.0, 100.0]


def test_answers_have_rows_of_their_own_and_other_keys_share_theirs() -> None:
    wide = [KeyHint(str(i), "an answer", Act.ANSWER_1, wide=True) for i in range(2)]
    narrow = [KeyHint(key, "a key", Act.PICTURE) for key in "NW"]
    view = [KeyHint("D", "darken", Act.DARKEN)]
    assert _places((*wide, *narrow, *view)) == [
        (0, 0, 1, 6), (1, 0, 1, 6), (2, 0, 1, 3), (2, 3, 1, 3), (3, 0, 1, 2),
    ]  # fmt: skip
    assert _places((narrow[0], *wide)) == [(0, 0, 1, 3), (1, 0, 1, 6), (2, 0, 1, 6)]
