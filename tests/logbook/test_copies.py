"""Memories of other inputs on the list: kept with the visit, carried to another logbook, taken off again."""

from pathlib import Path

import pytest

from aequitone.logbook import Logbook, VisitRecord, open_logbook
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
