"""The ledger: every change with its reason, what was switched off and is owed, and what was checked."""

import sqlite3
from collections.abc import Callable
from pathlib import Path

import pytest
from sqlalchemy import create_engine

from aequitone.advice.roles import Role
from aequitone.advice.scopes import Copied, Reach, Scope, Signals, usual_scope
from aequitone.advice.technology import Technology
from aequitone.logbook import Logbook, VisitRecord, open_logbook
from aequitone.logbook.records import Plate
from aequitone.logbook.settings.ledger import (
    FOUND_REASON,
    ON_AGAIN,
    PREPARED,
    RESET_REASON,
    CheckState,
    DebtAnswer,
    OpenDebtsError,
)
from aequitone.logbook.settings.moments import differing, moments
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.logbook.storage.opening import _upgrade
from aequitone.passes import (
    LEVELS,
    PUT_BACK,
    ROOM,
    TEMPERATURE,
    WARM_UP,
    NotReadyError,
    PassType,
    begin,
    begin_put_back,
    carry_out,
    go_on,
    load_snapshot,
)
from aequitone.procedures.runner import NobodyThere
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.clock import VirtualClock
from aequitone.standins.scenario import load_scenario


@pytest.fixture
def busy(logbook: Logbook) -> VisitRecord:
    """A visit to a screen with features, some of them found on."""
    begun = begin_standin_visit(logbook, load_scenario("wide-lcd"), "wide-lcd", 1)
    values = build_bench(load_scenario("wide-lcd"), 1).link.values()
    values |= {"feature-zone-dimming": 1, "feature-dynamic-contrast": 1}
    note_as_found(logbook, begun, values)
    return begun


def ids(logbook: Logbook, visit: VisitRecord) -> dict[Role, int]:
    return {control.role: control.id for control in logbook.controls(visit.screen_id)}


def test_every_change_is_kept_with_its_reason_and_the_ledger_tells_any_moment(
    logbook: Logbook, busy: VisitRecord
) -> None:
    contrast = ids(logbook, busy)[Role.CONTRAST]
    found = logbook.ledger.at(busy.id, as_found=True)
    logbook.ledger.note(busy.id, {contrast: 80}, "by eye")
    logbook.ledger.note(busy.id, {contrast: 84}, "levels")
    history = [record for record in logbook.ledger.history(busy.id) if record.role == Role.CONTRAST]
    assert [(record.value, record.reason) for record in history] == [
        (found[Role.CONTRAST], FOUND_REASON),
        (80, "by eye"),
        (84, "levels"),
    ]
    assert logbook.ledger.at(busy.id)[Role.CONTRAST] == 84
    told = moments(logbook.ledger.history(busy.id))
    assert [moment.name for moment in told] == [FOUND_REASON, "by eye", "levels"]
    assert [moment.settings[Role.CONTRAST] for moment in told] == [found[Role.CONTRAST], 80, 84]
    assert differing(told[0], told[1]) == (Role.CONTRAST,)
    assert differing(told[2], told[2]) == ()
    assert logbook.ledger.at(busy.id, as_found=True) == found


@pytest.mark.parametrize("answer", list(DebtAnswer))
def test_every_answer_to_a_debt(logbook: Logbook, busy: VisitRecord, answer: DebtAnswer) -> None:
    dimming = ids(logbook, busy)[Role.ZONE_DIMMING]
    logbook.ledger.switch_off(busy.id, dimming, 1, 0)
    assert logbook.ledger.at(busy.id)[Role.ZONE_DIMMING] == 0
    (debt,) = logbook.ledger.debts(busy.id)
    assert (debt.role, debt.from_value, debt.answer) == (Role.ZONE_DIMMING, 1, None)
    with pytest.raises(OpenDebtsError, match=f"{debt.name} was switched off: say what becomes of it"):
        logbook.close_visit(busy.id)
    assert logbook.open_visit() is not None
    logbook.ledger.answer(debt.id, answer)
    assert logbook.ledger.debts(busy.id)[0].answer is answer
    assert logbook.ledger.at(busy.id)[Role.ZONE_DIMMING] == (1 if answer is DebtAnswer.ON_AGAIN else 0)
    logbook.close_visit(busy.id)
    assert logbook.open_visit() is None


def test_an_answer_can_be_taken_back_and_changed(logbook: Logbook, busy: VisitRecord) -> None:
    dimming = ids(logbook, busy)[Role.ZONE_DIMMING]
    logbook.ledger.switch_off(busy.id, dimming, 1, 0)
    (debt,) = logbook.ledger.debts(busy.id)
    logbook.ledger.answer(debt.id, DebtAnswer.ON_AGAIN)
    logbook.ledger.answer(debt.id, None)
    assert logbook.ledger.debts(busy.id)[0].answer is None
    assert logbook.ledger.at(busy.id)[Role.ZONE_DIMMING] == 0
    with pytest.raises(OpenDebtsError):
        logbook.close_visit(busy.id)
    logbook.ledger.answer(debt.id, DebtAnswer.LEAVE_OFF)
    reasons = [r.reason for r in logbook.ledger.history(busy.id) if r.role == Role.ZONE_DIMMING]
    assert reasons == [FOUND_REASON, PREPARED, ON_AGAIN, PREPARED]


def test_two_debts_are_both_named(logbook: Logbook, busy: VisitRecord) -> None:
    known = ids(logbook, busy)
    for role in (Role.ZONE_DIMMING, Role.DYNAMIC_CONTRAST):
        logbook.ledger.switch_off(busy.id, known[role], 1, 0)
    first, second = logbook.ledger.debts(busy.id)
    with pytest.raises(OpenDebtsError, match=f"{first.name} and {second.name} were switched off"):
        logbook.ledger.require_answers(busy.id)


def test_checks_are_answered_and_taken_back(logbook: Logbook, busy: VisitRecord) -> None:
    logbook.ledger.check(busy.id, "range", CheckState.LEFT, "the player cannot")
    logbook.ledger.check(busy.id, "range", CheckState.DONE)
    logbook.ledger.check(busy.id, "geometry", CheckState.NOT_HERE)
    checks = logbook.ledger.checks(busy.id)
    assert {key: record.state for key, record in checks.items()} == {
        "range": CheckState.DONE,
        "geometry": CheckState.NOT_HERE,
    }
    logbook.ledger.uncheck(busy.id, "range")
    assert set(logbook.ledger.checks(busy.id)) == {"geometry"}


def test_light_and_plate_are_kept_and_impossible_light_is_refused(logbook: Logbook, busy: VisitRecord) -> None:
    assert logbook.choose_light(busy.id, 120.0).light == 120.0
    with pytest.raises(ValueError, match="-5 cd/m² cannot be wanted"):
        logbook.choose_light(busy.id, -5.0)
    plate = Plate("65 in", "1,240 h", "4.1.7", "K-0042")
    assert logbook.note_plate(busy.id, plate).plate == plate
    assert logbook.visit(busy.id).light == 120.0


def test_a_logbook_of_the_second_layout_is_brought_up_to_date(tmp_path: Path) -> None:
    path = tmp_path / "old.sqlite"
    engine = create_engine(f"sqlite:///{path}")
    _upgrade(engine, "0002")
    engine.dispose()
    with sqlite3.connect(path) as raw:
        raw.execute("INSERT INTO client (name) VALUES ('Fernhollow')")
        raw.execute("INSERT INTO room (client_id, name) VALUES (1, 'Hall')")
        raw.execute("INSERT INTO screen (room_id, name, technology) VALUES (1, 'K55', 'led-lcd')")
        raw.execute("INSERT INTO input (screen_id, name) VALUES (1, 'HDMI 1')")
        raw.execute("INSERT INTO memory (input_id, name) VALUES (1, 'Film')")
        raw.execute(
            "INSERT INTO visit (memory_id, target, levels, bench, started) VALUES (1, 'rec709-2.2', 11, '{}', "
            "'2026-11-20 10:00:00')"
        )
    raw.close()
    book = open_logbook(path)
    snapshot = load_snapshot(book, 1)
    assert (snapshot.visit.light, snapshot.visit.plate, snapshot.debts, snapshot.checks) == (0.0, Plate(), (), {})
    book.close()
    assert (tmp_path / "old.layout-0002.sqlite").exists()


@pytest.mark.parametrize("kind", [WARM_UP, ROOM, TEMPERATURE, LEVELS])
def test_each_new_pass_is_planned_run_and_understood_from_the_logbook(
    logbook: Logbook, visit: VisitRecord, bench: Callable[[int], StandInBench], kind: PassType
) -> None:
    stand_ins = bench(4)
    prepared = begin(logbook, visit.id, kind)
    record = logbook.passes(visit.id)[-1]
    assert go_on(record) == prepared
    carry_out(logbook, prepared, stand_ins.bench(), NobodyThere(), care=visit.bench.care)
    snapshot = load_snapshot(logbook, visit.id)
    assert snapshot.done(kind)
    known = {
        WARM_UP: snapshot.result(WARM_UP),
        ROOM: snapshot.result(ROOM),
        TEMPERATURE: snapshot.result(TEMPERATURE),
        LEVELS: snapshot.state(LEVELS),
    }
    assert known.pop(kind) is not None
    assert set(known.values()) == {None}
    # What was turned is in the ledger, as the screen has it.
    left = stand_ins.link.values()
    assert all(left[role.key] == value for role, value in snapshot.settings.items())


def test_the_room_is_measured_with_the_screen_off_and_on_again(
    logbook: Logbook, visit: VisitRecord, bench: Callable[[int], StandInBench]
) -> None:
    stand_ins = bench(4)
    carry_out(logbook, begin(logbook, visit.id, ROOM), stand_ins.bench(), NobodyThere())
    room = load_snapshot(logbook, visit.id).result(ROOM)
    assert room is not None
    assert room.dark
    assert abs(room.light) < 0.01
    assert stand_ins.link.values()["power"] == 1


def test_levels_and_presets_need_what_they_turn(logbook: Logbook) -> None:
    visit = begin_standin_visit(logbook, load_scenario("demo"), "demo", 4)
    with pytest.raises(NotReadyError, match="or tint: enter them at Arrive"):
        begin(logbook, visit.id, LEVELS)
    with pytest.raises(NotReadyError, match="colour temperature preset"):
        begin(logbook, visit.id, TEMPERATURE)


def test_visits_are_found_by_any_words(logbook: Logbook, visit: VisitRecord, busy: VisitRecord) -> None:
    assert [line.id for line in logbook.find_visits()] == [busy.id, visit.id]
    assert [line.id for line in logbook.find_visits("hall FILM")] == [visit.id]
    assert [line.client for line in logbook.find_visits("pinfold")] == ["Pinfold"]
    assert logbook.find_visits("fernhollow pinfold") == []
    # What is special to a query is only a letter to a person.
    assert logbook.find_visits("%") == []
    assert len(logbook.find_visits(most=1)) == 1


def test_putting_a_feature_back_answers_its_debt_in_the_same_commit(logbook: Logbook, busy: VisitRecord) -> None:
    control = next(c for c in logbook.controls(busy.screen_id) if c.role == Role.ZONE_DIMMING)
    logbook.ledger.switch_off(busy.id, control.id, 1, 0)
    pass_id = logbook.begin_pass(busy.id, PUT_BACK.key, {})
    journal = logbook.journal(pass_id, VirtualClock(), "levels")
    back = control.state(0).moved_to(1)
    journal.turned(0, back)
    assert logbook.ledger.debts(busy.id)[0].answer is DebtAnswer.ON_AGAIN
    journal.turned(1, back.reverse)
    assert logbook.ledger.debts(busy.id)[0].answer is None


def test_a_feature_that_a_reset_switches_on_is_owed_no_more(logbook: Logbook, busy: VisitRecord) -> None:
    dimming = ids(logbook, busy)[Role.ZONE_DIMMING]
    logbook.ledger.switch_off(busy.id, dimming, 1, 0)
    logbook.ledger.note(busy.id, {dimming: 1}, RESET_REASON)
    assert [debt.answer for debt in logbook.ledger.debts(busy.id)] == [DebtAnswer.ON_AGAIN]


def test_what_stands_as_it_did_is_not_put_back(logbook: Logbook, busy: VisitRecord) -> None:
    (found,) = moments(logbook.ledger.history(busy.id))
    with pytest.raises(NotReadyError, match="Every setting is already as it was as found"):
        begin_put_back(logbook, busy.id, found)
    assert moments(()) == ()


def test_what_a_control_acts_on_is_usual_for_its_role_until_noted(logbook: Logbook, busy: VisitRecord) -> None:
    scopes = {control.role: control.scope for control in logbook.controls(busy.screen_id)}
    assert scopes[Role.GAIN_R].copied is Copied.YES
    assert scopes[Role.CONTRAST].reach is Reach.MEMORY
    assert usual_scope(Role.TINT, Technology.TUBE).signals is Signals.VIDEO
    assert usual_scope(Role.GAIN_R, Technology.TUBE).reach is Reach.SCREEN
    assert usual_scope(Role.TONE_MAPPING, Technology.WHITE_OLED).signals is Signals.HDR
    logbook.note_scope(ids(logbook, busy)[Role.CONTRAST], Scope(Reach.INPUT))
    told = {control.role: control.scope.words for control in logbook.controls(busy.screen_id)}
    assert told[Role.CONTRAST] == "this input"
