"""Copies of a logbook that it keeps by itself: one a day, the last ten, each verified."""

import logging
import shutil
from datetime import date, datetime
from pathlib import Path

from aequitone.logbook.storage.files import copy_database, is_sound, locked, remove, side_files, unfinished

LOG = logging.getLogger(__name__)
KEPT = 10


def folder_of(logbook: Path) -> Path:
    """Where the copies of a logbook lie."""
    return logbook.with_name("backups")


def back_up(logbook: Path, day: date) -> Path | None:
    """Make the copy of a day, and remove the oldest; None where there is one already.

    Raises OSError or sqlite3.Error where it cannot be made; the copies of other days are then all kept.
    """
    copy = folder_of(logbook) / f"{logbook.stem}-{day:%Y-%m-%d}{logbook.suffix}"
    copy.parent.mkdir(exist_ok=True)
    with locked(logbook):
        if copy.exists() and is_sound(copy):
            return None
        copy_database(logbook, copy)
        for old in _copies(logbook)[KEPT:]:
            remove(old)
    return copy


def last_good(logbook: Path) -> Path | None:
    """The newest copy in which nothing is broken."""
    return next((copy for copy in _copies(logbook) if is_sound(copy)), None)


def day_of(copy: Path) -> date:
    """The day a copy was made."""
    return date.fromisoformat(copy.stem[-10:])


def put_back(logbook: Path, copy: Path) -> Path:
    """Put a copy in the place of a logbook; returns where the other was moved.

    Raises OSError where there is no room for it; everything is then as it was.
    """
    with locked(logbook), unfinished(logbook) as place:
        shutil.copyfile(copy, place)
        aside = move_aside(logbook)
    LOG.warning("a copy was put back, %s; what was there is %s", copy.name, aside.name)
    return aside


def move_aside(logbook: Path) -> Path:
    """Move a logbook, with what SQLite put beside it, to a name of its own; returns where."""
    stamp = f"{datetime.now():%Y-%m-%d-%H%M%S}"
    aside = logbook.with_name(f"{logbook.stem}.damaged-{stamp}{logbook.suffix}")
    for each, to in zip(side_files(logbook), side_files(aside), strict=True):
        if each.exists():
            each.replace(to)
    logbook.replace(aside)
    return aside


def _copies(logbook: Path) -> list[Path]:
    """The copies there are, newest first: the day is in the name."""
    pattern = f"{logbook.stem}-[0-9][0-9][0-9][0-9]-[01][0-9]-[0-3][0-9]{logbook.suffix}"
    return sorted(folder_of(logbook).glob(pattern), key=lambda copy: copy.name, reverse=True)
