"""Files that are there whole or not at all: made under a lock, complete and synced, and renamed last."""

import fcntl
import os
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path
from urllib.parse import quote

# What SQLite may put beside a database.
_SIDE_FILES = ("-wal", "-shm", "-journal")


@contextmanager
def locked(path: Path) -> Iterator[None]:
    """Hold the lock of a logbook while it is made or changed as a whole; a crash lets go of it."""
    with path.with_name(f".{path.name}.lock").open("a") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        yield


@contextmanager
def unfinished(path: Path) -> Iterator[Path]:
    """A place beside a file to make it in: put in its place, synced, if all goes well, and else removed.

    Only under `locked`: what a killed process left there is removed first.
    """
    place = path.with_name(f".{path.name}.unfinished")
    remove(place)
    try:
        yield place
        with place.open("rb") as made:
            os.fsync(made.fileno())
        place.replace(path)
        sync_folder(path.parent)
    finally:
        remove(place)


def sync_folder(folder: Path) -> None:
    """Let the names in a folder survive a loss of power."""
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def remove(database: Path) -> None:
    """Remove a database and what SQLite put beside it."""
    for each in (database, *side_files(database)):
        each.unlink(missing_ok=True)


def side_files(database: Path) -> list[Path]:
    """Where SQLite puts what belongs to a database."""
    return [database.with_name(database.name + suffix) for suffix in _SIDE_FILES]


def copy_database(source: Path, target: Path) -> None:
    """Copy a database as a whole, whatever still lies in its write-ahead log, and verify the copy.

    Raises sqlite3.Error or OSError; there is then no copy. Only under `locked`.
    """
    with unfinished(target) as place, closing(look(source)) as before, closing(sqlite3.connect(place)) as copy:
        before.backup(copy)
        # The copy needs no write-ahead log, and one that is read on a disk without writing must have none.
        copy.execute("PRAGMA journal_mode=DELETE")
        verdict = copy.execute("PRAGMA integrity_check(1)").fetchone()[0]
        if verdict != "ok":
            raise sqlite3.DatabaseError(f"the copy is not sound: {verdict}")
        if rows_in(copy) != rows_in(before):
            raise sqlite3.DatabaseError("the copy does not have every row")


def look(database: Path, *, untouched: bool = False) -> sqlite3.Connection:
    """Connect to a database to read it. `untouched`: not even its write-ahead log is looked at, or made."""
    mode = "immutable=1" if untouched else "mode=ro"
    return sqlite3.connect(f"file:{quote(str(database))}?{mode}", uri=True, timeout=5.0)


def rows_in(connection: sqlite3.Connection) -> dict[str, int]:
    """How many rows each table has."""
    tables = connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'").fetchall()
    return {name: connection.execute(f'SELECT count(*) FROM "{name}"').fetchone()[0] for (name,) in tables}


def is_sound(database: Path) -> bool:
    """Whether a copy is a database in which nothing is broken."""
    try:
        with closing(look(database, untouched=True)) as copy:
            return bool(copy.execute("PRAGMA integrity_check(1)").fetchone()[0] == "ok" and rows_in(copy))
    except (sqlite3.Error, UnicodeDecodeError):
        return False
