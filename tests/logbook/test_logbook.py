"""The logbook: what goes in comes out, and what cannot be read is left alone, with a sentence."""

from dataclasses import replace

import pytest

from aequitone.advice.moves import Change, Expectation, Move
from aequitone.advice.roles import TWO_POINT, Role
from aequitone.advice.technology import Technology
from aequitone.logbook import (
    BenchChoice,
    ControlRecord,
    Logbook,
    LogbookError,
    PassState,
    VisitRecord,
)
from aequitone.passes import AS_FOUND, WHITE, NotReadyError, begin, go_on, load_snapshot
from aequitone.procedures.journal import Turned, Wished
from aequitone.procedures.steps import Purpose, Reading
from aequitone.signal import SignalFormat, grey_patch
from aequitone.standins.clock import VirtualClock

READING = Reading(
    grey_patch(80.0, SignalFormat(10)), Purpose.LEVEL, 1.1, 2.2, 3.3, 0.01, 0.02, 0.03, 2, 1.0, 3.4, 0.9
)
MOVE = Move((Change(Role.GAIN_R, "R gain", 52, 60),), Expectation(4.0, 1.0, 0.3, -1.0, "ΔE ITP"))


def test_a_visit_comes_back_as_it_was_noted(logbook: Logbook, visit: VisitRecord) -> None:
    again = logbook.visit(visit.id)
    assert again == visit
    assert (again.client, again.room, again.screen) == ("Fernhollow Hall", "Screening room", "Norvane K55")
    assert again.bench.format == SignalFormat(10, again.bench.format.range, 0.10)
    assert logbook.open_visit() == visit
    logbook.close_visit(visit.id)
    assert logbook.open_visit() is None
    assert logbook.latest_visit() is not None


def test_the_same_screen_is_not_made_twice(logbook: Logbook, visit: VisitRecord) -> None:
    red_gain = ControlRecord(0, Role.GAIN_R, "Red", 0, 20, 2, 10)
    second = logbook.begin_visit(
        client=visit.client,
        room=visit.room,
        screen=visit.screen,
        input_="HDMI 3",
        memory="Day",
        technology=Technology.LED_LCD,
        target="rec709-2.4",
        levels=21,
        bench=BenchChoice(),
        controls=[red_gain],
    )
    assert second.screen_id == visit.screen_id
    assert second.memory_id != visit.memory_id
    names = logbook.register.known_names()
    assert (names["client"], names["input"]) == (["Fernhollow Hall"], ["HDMI 2", "HDMI 3"])
    assert logbook.known_menu(visit.client, visit.room, visit.screen) == logbook.controls(visit.screen_id)
    assert logbook.known_menu("nobody", visit.room, visit.screen) == ()
    red = next(c for c in logbook.controls(visit.screen_id) if c.role == Role.GAIN_R)
    assert (red.name, red.highest, red.step) == ("Red", 20, 2)


def test_controls_object_to_impossible_settings() -> None:
    control = ControlRecord(1, Role.GAIN_R, "R gain", 0, 20, 2, 10)
    assert control.objection(12) is None
    assert control.objection(21) == "R gain goes from 0 to 20; 21 cannot be"
    assert control.objection(7) == "R gain moves by 2 from 0; 7 lies between two steps"
    preset = ControlRecord(2, Role.GAMMA, "Gamma", 0, 2, 1, 1, ("2.0", "2.2", "2.4"))
    assert (preset.shown(2), preset.shown(None)) == ("2.4", "not noted")


def test_readings_moves_wishes_and_notes_come_back_in_order(logbook: Logbook, visit: VisitRecord) -> None:
    prepared = begin(logbook, visit.id, AS_FOUND)
    journal = logbook.journal(prepared.pass_id, VirtualClock(), "levels")
    journal.reading(1, READING)
    # Where its controls stood instead, as the person said, is of the record too.
    made = replace(MOVE, changes=tuple(replace(change, stood=44) for change in MOVE.changes))
    journal.turned(3, made)
    journal.wished(4, "PutBack")
    journal.note(5, "White moved.")
    assert logbook.recorded(prepared.pass_id) == {1: READING, 3: Turned(made), 4: Wished("PutBack")}
    assert list(logbook.readings(prepared.pass_id)) == [READING]
    assert logbook.notes(prepared.pass_id) == ["White moved."]
    record = logbook.passes(visit.id)[0]
    assert (record.readings, record.state) == (1, PassState.RUNNING)
    assert logbook.interrupted_pass(visit.id) == record
    assert go_on(record) == prepared


def test_a_move_is_in_the_ledger_and_as_found_stays(logbook: Logbook, visit: VisitRecord) -> None:
    found = logbook.ledger.at(visit.id, as_found=True)
    prepared = begin(logbook, visit.id, AS_FOUND)
    logbook.journal(prepared.pass_id, VirtualClock(), "levels").turned(0, MOVE)
    assert logbook.ledger.at(visit.id)[Role.GAIN_R] == 60
    assert logbook.ledger.at(visit.id, as_found=True) == found


def test_a_step_is_never_recorded_twice(logbook: Logbook, visit: VisitRecord) -> None:
    journal = logbook.journal(begin(logbook, visit.id, AS_FOUND).pass_id, VirtualClock(), "levels")
    journal.reading(1, READING)
    with pytest.raises(LogbookError, match="could not be read or written \\(UNIQUE"):
        journal.reading(1, READING)


def test_a_run_that_was_killed_after_a_note_says_it_again(logbook: Logbook, visit: VisitRecord) -> None:
    pass_id = begin(logbook, visit.id, AS_FOUND).pass_id
    killed = logbook.journal(pass_id, VirtualClock(), "levels")
    killed.reading(1, READING)
    killed.note(2, "White moved.")
    killed.note(3, "It is late.")
    again = logbook.journal(pass_id, VirtualClock(), "levels")
    again.note(2, "White moved.")
    assert logbook.notes(pass_id) == ["White moved."]
    # This time the person wishes something before the note.
    once_more = logbook.journal(pass_id, VirtualClock(), "levels")
    once_more.wished(2, "PutBack")
    assert logbook.notes(pass_id) == []
    assert once_more.recorded() == {1: READING, 2: Wished("PutBack")}


def test_a_full_disk_is_said_and_what_was_there_is_kept(logbook: Logbook, visit: VisitRecord) -> None:
    prepared = begin(logbook, visit.id, AS_FOUND)
    journal = logbook.journal(prepared.pass_id, VirtualClock(), "levels")
    journal.reading(1, READING)
    with logbook._engine.connect() as connection:
        pages = connection.exec_driver_sql("PRAGMA page_count").scalar_one()
        connection.exec_driver_sql(f"PRAGMA max_page_count={pages}")
    with pytest.raises(LogbookError, match=r"database or disk is full\)\. What was in flight was not kept"):
        for seq in range(2, 400):
            journal.reading(seq, READING)
    kept = logbook.recorded(prepared.pass_id)
    assert kept[1] == READING
    assert list(kept) == list(range(1, len(kept) + 1))


def test_time_goes_on_where_a_pass_was_left(logbook: Logbook, visit: VisitRecord) -> None:
    prepared, clock = begin(logbook, visit.id, AS_FOUND), VirtualClock()
    journal = logbook.journal(prepared.pass_id, clock, "as found")
    clock.sleep(40)
    journal.reading(1, replace(READING, at=40.0))
    later = VirtualClock()
    again = logbook.journal(prepared.pass_id, later, "as found")
    later.sleep(20)
    again.turned(2, MOVE)
    assert logbook.passes(visit.id)[0].seconds == pytest.approx(60)


def test_white_says_what_it_lacks(logbook: Logbook, visit: VisitRecord) -> None:
    with pytest.raises(NotReadyError, match="needs grey as found first"):
        begin(logbook, visit.id, WHITE)


def test_facts_of_a_fresh_visit(logbook: Logbook, visit: VisitRecord) -> None:
    snapshot = load_snapshot(logbook, visit.id)
    assert snapshot.result(AS_FOUND) is None
    assert snapshot.passes == ()
    assert snapshot.found_settings == snapshot.settings
    assert {c.role for c in snapshot.controls} >= {*TWO_POINT, Role.CONTRAST, Role.BLACK_LEVEL}
    with pytest.raises(LookupError, match="no visit 99"):
        load_snapshot(logbook, 99)


def test_every_commit_is_synced(logbook: Logbook) -> None:
    with logbook._engine.connect() as connection:
        assert connection.exec_driver_sql("PRAGMA journal_mode").scalar() == "wal"
        # 2 is FULL in SQLite's documentation.
        assert connection.exec_driver_sql("PRAGMA synchronous").scalar() == 2


def test_the_tables_are_those_of_the_model(logbook: Logbook) -> None:
    from alembic.autogenerate import compare_metadata
    from alembic.migration import MigrationContext

    from aequitone.logbook.model import Base

    with logbook._engine.connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), Base.metadata) == []
