"""Opening a logbook: making it, refusing what cannot be read."""

import os
import sqlite3
import stat
from contextlib import closing
from pathlib import Path
from typing import TYPE_CHECKING, Any
from urllib.parse import quote

from sqlalchemy import URL, Connection, Engine, create_engine, event, text
from sqlalchemy.engine import ExceptionContext

from aequitone.errors import AequitoneError
from aequitone.logbook.storage.files import copy_database, is_sound, locked, look, unfinished

if TYPE_CHECKING:
    from aequitone.logbook.store import Logbook

REVISION = "0010"
# An older file is checked page by page only up to this size: beyond, it would hold up the start.
_CHECKED_BYTES = 16_000_000
_SQLITE = b"SQLite format 3\0"


class LogbookError(AequitoneError):
    """A logbook that cannot be used; the message says what is wrong and what was kept."""


class LogbookDamagedError(LogbookError):
    """A logbook in which something is broken: a copy can take its place."""


class LogbookFailedError(LogbookError):
    """The file under an open logbook failed: full, gone, damaged, held by another."""

    def __init__(self, reason: BaseException) -> None:
        super().__init__(
            f"The logbook could not be read or written ({reason}). What was in flight was not kept; "
            "everything before it is. Make room on the disk or repair it, then continue"
        )
        self.reason = reason


def open_logbook(path: Path) -> "Logbook":
    """The logbook at `path`, made if there is none. Raises LogbookError; never changes what it cannot read."""
    from aequitone.logbook.store import Logbook

    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        if _is_to_be_made(path):
            with locked(path):
                # Another program may have made it meanwhile.
                if _is_to_be_made(path):
                    _make(path)
        _recognise(path)
        read_only = not (os.access(path, os.W_OK) and os.access(path.parent, os.W_OK))
        engine = _reading_engine(path) if read_only else _engine(path)
        with engine.connect() as connection:
            version = _check(connection, path)
        if version < REVISION and read_only:
            raise LogbookError(
                f"The logbook {path} has an older layout ({version}), and it cannot be brought up to date, as "
                "nothing can be written there. It was left as it is."
            )
        if version < REVISION:
            _bring_up_to_date(engine, path)
    except (OSError, sqlite3.Error) as error:
        reason = error.strerror if isinstance(error, OSError) else error
        raise LogbookError(f"The logbook {path} cannot be opened: {reason}. Nothing was changed.") from error
    except (LogbookFailedError, UnicodeDecodeError) as error:
        # SQLite's own words about broken names of tables are no text either.
        broken = error.reason if isinstance(error, LogbookFailedError) else "the names of its tables are broken"
        raise LogbookDamagedError(
            f"The logbook {path} cannot be read ({broken}). It was left as it is; restore a backup, "
            "or move it aside and start a new one."
        ) from error
    return Logbook(engine, path, read_only=read_only)


def _is_to_be_made(path: Path) -> bool:
    """Whether there is no logbook yet, or an empty file. Raises LogbookError where something else is there."""
    try:
        mode = path.lstat().st_mode
    except FileNotFoundError:
        return True
    if stat.S_ISLNK(mode) and not path.exists():
        raise LogbookError(f"{path} is a link to a file that is not there. Nothing was changed.")
    if not path.is_file():
        raise LogbookError(f"{path} is no file. Nothing was changed.")
    return path.stat().st_size == 0


def _recognise(path: Path) -> None:
    """Refuse what is no logbook before anything is done that SQLite would write to it."""
    with path.open("rb") as file:
        head = file.read(len(_SQLITE))
    if head != _SQLITE:
        raise LogbookDamagedError(f"{path} is not a logbook. It was left as it is.")
    try:
        with closing(look(path, untouched=True)) as there:
            found = there.execute("SELECT 1 FROM sqlite_master WHERE name = 'alembic_version'").fetchone()
    except sqlite3.DatabaseError:
        # Damaged, or being written at this moment: the check that follows will tell.
        return
    if found is None:
        raise LogbookError(f"{path} is a database, but not a logbook. It was left as it is.")


def _engine(path: Path, *, log: str = "WAL") -> Engine:
    engine = create_engine(URL.create("sqlite", database=str(path)), connect_args={"timeout": 5.0})

    @event.listens_for(engine, "connect")
    def _durable(connection: Any, _record: Any) -> None:
        # A reading is on disk before the next patch: write-ahead log, synced at every commit.
        for pragma in (f"journal_mode={log}", "synchronous=FULL", "foreign_keys=ON"):
            connection.execute(f"PRAGMA {pragma}")

    event.listen(engine, "handle_error", _in_a_sentence)
    return engine


def _reading_engine(path: Path) -> Engine:
    """For a logbook that cannot be written: nothing is tried that would write."""
    log = path.with_name(f"{path.name}-wal")
    mode = "mode=ro" if log.exists() and log.stat().st_size else "immutable=1"
    engine = create_engine(f"sqlite:///file:{quote(str(path))}?{mode}&uri=true", connect_args={"timeout": 5.0})
    event.listen(engine, "handle_error", _in_a_sentence)
    return engine


def _in_a_sentence(context: ExceptionContext) -> None:
    # A row that cannot be understood is no failure of the file (logbook.unreadable).
    if isinstance(context.original_exception, sqlite3.Error):
        raise LogbookFailedError(context.original_exception) from context.original_exception


def _check(connection: Connection, path: Path) -> str:
    """The layout of a sound logbook; refuse what is damaged, no logbook, or of a layout yet to come."""
    if path.stat().st_size < _CHECKED_BYTES:
        verdict = connection.execute(text("PRAGMA quick_check(1)")).scalar_one()
        if verdict != "ok":
            raise LogbookDamagedError(
                f"The logbook {path} is damaged ({verdict}). It was left as it is; restore a backup, "
                "or move it aside and start a new one."
            )
    tables = set(connection.execute(text("SELECT name FROM sqlite_master WHERE type = 'table'")).scalars())
    if "alembic_version" not in tables:
        raise LogbookError(f"{path} is a database, but not a logbook. It was left as it is.")
    version = connection.execute(text("SELECT version_num FROM alembic_version")).scalar()
    if not version or version > REVISION:
        raise LogbookError(
            f"The logbook {path} was written by a newer Aequitone (layout {version}; this one knows "
            f"{REVISION}). It was left as it is; update Aequitone to open it."
        )
    return str(version)


def _bring_up_to_date(engine: Engine, path: Path) -> None:
    """Change an older layout to this one, after a copy was put beside it that the older program still reads."""
    with locked(path):
        with engine.connect() as connection:
            version = _check(connection, path)
        if version < REVISION:
            copy_database(path, _free_name(path.with_name(f"{path.stem}.layout-{version}{path.suffix}")))
            _upgrade(engine)


def _free_name(copy: Path) -> Path:
    """A name for a copy that takes the place of no sound one."""
    tried, number = copy, 1
    while tried.exists() and is_sound(tried):
        number += 1
        tried = copy.with_name(f"{copy.stem}-{number}{copy.suffix}")
    return tried


def _make(path: Path) -> None:
    """A new logbook, put in place whole: a process killed here leaves none rather than half of one."""
    with unfinished(path) as place:
        engine = _engine(place, log="DELETE")
        try:
            _upgrade(engine)
        finally:
            engine.dispose()


def _upgrade(engine: Engine, revision: str = "head") -> None:
    # Alembic is imported only here: an up-to-date logbook opens without it.
    from alembic import command
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parents[1] / "migrations"))
    with engine.connect() as connection:
        # Whole or not at all: Python's driver would commit every change of a table at once.
        connection.connection.dbapi_connection.isolation_level = None  # type: ignore[union-attr]
        # A table that is made anew would take the rows that hang on it along; they are checked at the end.
        connection.exec_driver_sql("PRAGMA foreign_keys=OFF")
        connection.exec_driver_sql("BEGIN IMMEDIATE")
        config.attributes["connection"] = connection
        command.upgrade(config, revision)
        if loose := connection.exec_driver_sql("PRAGMA foreign_key_check").fetchall():
            raise LogbookError(f"{len(loose)} rows of it belong to nothing, so it was left as it is")
        connection.exec_driver_sql("COMMIT")
    # That connection is no good for anything else: it begins no transactions by itself.
    engine.dispose()
