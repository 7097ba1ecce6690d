"""Opening a logbook: making it, refusing what cannot be read."""

from pathlib import Path
from typing import TYPE_CHECKING, Any

from sqlalchemy import URL, Connection, Engine, create_engine, event, text
from sqlalchemy.engine import ExceptionContext

from aequitone.errors import AequitoneError

if TYPE_CHECKING:
    from aequitone.logbook.store import Logbook

REVISION = "0006"
# An older file is checked page by page only up to this size: beyond, it would hold up the start.
_CHECKED_BYTES = 16_000_000


class LogbookError(AequitoneError):
    """A logbook that cannot be used; the message says what is wrong and what was kept."""


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
        fresh = not path.exists() or path.stat().st_size == 0
    except OSError as error:
        raise LogbookError(
            f"The logbook {path} cannot be opened: {error.strerror}. Nothing was changed."
        ) from error
    try:
        if fresh:
            _make(path)
        engine = _engine(path)
        with engine.connect() as connection:
            version = _check(connection, path)
        if version < REVISION:
            _bring_up_to_date(engine, path, version)
    except OSError as error:
        raise LogbookError(f"The logbook {path} cannot be made: {error.strerror}. Nothing was changed.") from error
    except LogbookFailedError as error:
        if fresh:
            raise LogbookError(f"The logbook {path} cannot be made ({error.reason}).") from error
        raise LogbookError(
            f"The logbook {path} cannot be read ({error.reason}). It was left as it is; "
            "move it away to start a new one, or put back a copy."
        ) from error
    return Logbook(engine, path)


def _engine(path: Path) -> Engine:
    engine = create_engine(URL.create("sqlite", database=str(path)), connect_args={"timeout": 5.0})

    @event.listens_for(engine, "connect")
    def _durable(connection: Any, _record: Any) -> None:
        # A reading is on disk before the next patch: write-ahead log, synced at every commit.
        for pragma in ("journal_mode=WAL", "synchronous=FULL", "foreign_keys=ON"):
            connection.execute(f"PRAGMA {pragma}")

    @event.listens_for(engine, "handle_error")
    def _in_a_sentence(context: ExceptionContext) -> None:
        raise LogbookFailedError(context.original_exception) from context.original_exception

    return engine


def _check(connection: Connection, path: Path) -> str:
    """The layout of a sound logbook; refuse what is damaged, no logbook, or of a layout yet to come."""
    if path.stat().st_size < _CHECKED_BYTES:
        verdict = connection.execute(text("PRAGMA quick_check(1)")).scalar_one()
        if verdict != "ok":
            raise LogbookError(
                f"The logbook {path} is damaged ({verdict}). It was left as it is; put back a copy, "
                "or move it away to start a new one."
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


def _bring_up_to_date(engine: Engine, path: Path, version: str) -> None:
    """Change an older layout to this one, after a copy was put beside it that the older program still reads."""
    copy = path.with_name(f"{path.stem}.layout-{version}{path.suffix}")
    if not copy.exists():
        with engine.connect() as connection:
            # Whole and consistent, whatever still lies in the write-ahead log.
            connection.execution_options(isolation_level="AUTOCOMMIT").execute(
                text("VACUUM INTO :copy"), {"copy": str(copy)}
            )
    _upgrade(engine)


def _make(path: Path) -> None:
    """A new logbook, put in place whole: a process killed here leaves none rather than half of one."""
    unfinished = path.with_name(f"{path.name}.unfinished")
    unfinished.unlink(missing_ok=True)
    engine = _engine(unfinished)
    _upgrade(engine)
    engine.dispose()
    unfinished.replace(path)


def _upgrade(engine: Engine, revision: str = "head") -> None:
    # Alembic is imported only here: an up-to-date logbook opens without it.
    from alembic import command
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(Path(__file__).with_name("migrations")))
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, revision)
