"""Copies that a logbook keeps by itself, and going back to one."""

import os
from datetime import date, timedelta

import pytest
from tests.contents import contents

from aequitone.logbook import Logbook, LogbookError, VisitRecord, open_logbook
from aequitone.logbook.storage.backups import KEPT, back_up, folder_of, last_good, put_back

DAY = date(2026, 11, 28)


def test_a_copy_a_day_has_what_the_write_ahead_log_has(logbook: Logbook, visit: VisitRecord) -> None:
    copy = back_up(logbook.path, DAY)
    assert copy is not None
    assert copy.name == "logbook-2026-11-28.sqlite"
    assert contents(copy) == contents(logbook.path)
    logbook.choose_light(visit.id, 130.0)
    assert back_up(logbook.path, DAY) is None
    there = open_logbook(copy)
    assert there.visit(visit.id).light == visit.light
    there.close()


def test_the_last_ten_are_kept(logbook: Logbook) -> None:
    for n in range(KEPT + 4):
        back_up(logbook.path, DAY + timedelta(days=n))
    names = sorted(path.name for path in folder_of(logbook.path).iterdir())
    assert names == [f"logbook-{DAY + timedelta(days=n)}.sqlite" for n in range(4, KEPT + 4)]


def test_a_copy_that_cannot_be_made_costs_no_other(logbook: Logbook, monkeypatch: pytest.MonkeyPatch) -> None:
    for n in range(KEPT):
        back_up(logbook.path, DAY + timedelta(days=n))
    before = sorted(folder_of(logbook.path).iterdir())

    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(OSError, match="No space left"):
        back_up(logbook.path, DAY + timedelta(days=KEPT))
    assert sorted(folder_of(logbook.path).iterdir()) == before


def test_a_broken_copy_is_passed_over_and_the_damaged_one_is_kept(logbook: Logbook, visit: VisitRecord) -> None:
    path = logbook.path
    back_up(path, DAY)
    newer = back_up(path, DAY + timedelta(days=1))
    assert newer is not None
    newer.write_bytes(newer.read_bytes()[:5000])
    logbook.close()
    path.write_bytes(b"SQLite format 3\0" + b"\xff" * 9000)
    with pytest.raises(LogbookError):
        open_logbook(path)
    good = last_good(path)
    assert good is not None
    assert good.name == "logbook-2026-11-28.sqlite"
    aside = put_back(path, good)
    assert aside.read_bytes() == b"SQLite format 3\0" + b"\xff" * 9000
    again = open_logbook(path)
    assert again.visit(visit.id) == visit
    again.close()


def test_without_a_good_copy_there_is_none(logbook: Logbook) -> None:
    assert last_good(logbook.path) is None
