"""Memories of other inputs on the list: kept with the visit, carried to another logbook, taken off again."""

import random
from pathlib import Path

import pytest
from tests.advice.test_copying import menu

from aequitone.advice.copying import Carried, to_do
from aequitone.advice.roles import Role, is_one_of_many
from aequitone.advice.scopes import Copied, Reach, Signals
from aequitone.advice.technology import Technology
from aequitone.logbook import BenchChoice, Logbook, VisitRecord, open_logbook
from aequitone.logbook.jobs import JobTakenError
from aequitone.passes import copy_sheets, load_snapshot


def test_what_is_entered_is_kept_and_taken_back(logbook: Logbook, visit: VisitRecord) -> None:
    copies = logbook.copies
    there = copies.add(visit.id, input_="HDMI 1", memory="Film night", device="player")
    copies.tick(visit.id, there, "gain-r", done=True)
    copies.tick(visit.id, there, "gain-g", done=True)
    copies.tick(visit.id, there, "gain-g", done=False)
    copies.apply(visit.id, there, applied=True)
    again = open_logbook(logbook.path)
    (copy,) = again.copies.of(visit.id)
    assert (copy.place, copy.name, copy.job) == ("HDMI 1, player", "Film night, HDMI 1", 1)
    assert (copy.applied, copy.ticked) == (True, {"gain-r"})
    again.close()
    copies.remove(visit.id, there)
    assert copies.of(visit.id) == ()
    # The answers of Prepare are not touched by it.
    assert load_snapshot(logbook, visit.id).checks


def test_a_memory_is_on_the_list_once_and_not_beside_its_own_job(logbook: Logbook, visit: VisitRecord) -> None:
    logbook.copies.add(visit.id, input_="HDMI 1", memory="Film night")
    for input_, memory in (("HDMI 1", "Film night"), (visit.input, visit.memory)):
        with pytest.raises(JobTakenError, match=r"on the list already|a job of its own"):
            logbook.copies.add(visit.id, input_=input_, memory=memory)


def test_each_job_has_its_own_copies(logbook: Logbook, visit: VisitRecord, tmp_path: Path) -> None:
    logbook.copies.add(visit.id, input_="HDMI 1", memory="Film night")
    logbook.jobs.add(visit.id, input_=visit.input, memory="Day", target="rec709-2.2/added")
    logbook.copies.add(visit.id, input_="HDMI 1", memory="Day")
    first, second = (load_snapshot(logbook, visit.id, job_id=job.id) for job in logbook.jobs.of(visit.id))
    assert [sheet.copy.memory for sheet in copy_sheets(first)] == ["Film night"]
    assert [sheet.copy.memory for sheet in copy_sheets(second)] == ["Day"]
    other = open_logbook(tmp_path / "other.sqlite")
    taken = other.carrying.enter(logbook.carrying.rows(visit.id))
    assert [(copy.name, copy.job) for copy in other.copies.of(taken)] == [
        ("Film night, HDMI 1", 1),
        ("Day, HDMI 1", 2),
    ]


def test_the_sheets_of_many_visits_are_complete_and_right(logbook: Logbook) -> None:
    """Made-up menus, scopes and settings through the logbook; the checker knows the ledger, not the sheet."""
    # Of two hundred, which take a minute, an even part.
    for seed in range(0, 200, 5):
        rng = random.Random(seed)
        controls = menu(rng)
        visit = logbook.begin_visit(
            client="Harbour Lodge",
            room="Lounge",
            screen=f"Screen {seed}",
            input_="HDMI 2",
            memory="Film",
            technology=Technology.LED_LCD,
            target="rec709-2.2/added",
            levels=11,
            bench=BenchChoice(),
            controls=controls,
        )
        ids = {control.role: control.id for control in logbook.controls(visit.screen_id)}
        scopes = {control.role: control.scope for control in controls}
        for role, scope in scopes.items():
            logbook.note_scope(ids[role], scope)
        noted = {role: rng.randrange(101) for role in ids if rng.random() < 0.8}
        logbook.ledger.note(visit.id, {ids[role]: value for role, value in noted.items()}, "as found")
        turned = {role: rng.randrange(101) for role in noted if rng.random() < 0.5}
        logbook.ledger.note(visit.id, {ids[role]: value for role, value in turned.items()}, "white")
        stands = {**noted, **turned}
        there = logbook.copies.add(visit.id, input_=rng.choice(("HDMI 1", "HDMI 2")), memory="Film too")
        applied = rng.random() < 0.5
        logbook.copies.apply(visit.id, there, applied=applied)
        (sheet,) = copy_sheets(load_snapshot(logbook, visit.id, advice=False))
        same_input = sheet.copy.input == "HDMI 2"
        told = {line.role: line for line in to_do(sheet.lines)}
        for role, value in stands.items():
            scope = scopes[role]
            holds = scope.reach is Reach.SCREEN or (scope.reach is Reach.INPUT and same_input)
            idle = scope.signals is Signals.HDR
            neutral = is_one_of_many(role) and value == 0
            needed = not (holds or idle or neutral or role in (Role.PICTURE_MODE, Role.POWER))
            assert (role in told) is needed, (seed, role, scope)
            if needed:
                assert told[role].setting == str(value)
                assert (told[role].carried is Carried.BY_HAND) is (not applied or scope.copied is Copied.NO)
        assert set(told) <= set(stands)
        for line in to_do(sheet.lines):
            logbook.copies.tick(visit.id, there, line.role.key, done=True)
        (sheet,) = copy_sheets(load_snapshot(logbook, visit.id, advice=False))
        assert sheet.left == ()
