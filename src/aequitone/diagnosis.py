"""Diagnosis for the developers: a log on disk, and a report without client data."""

import contextlib
import logging
import platform
import re
import sys
import threading
from collections.abc import Callable, Iterable
from importlib.metadata import distributions
from logging.handlers import RotatingFileHandler
from pathlib import Path
from types import TracebackType

from aequitone import __version__

LOG = logging.getLogger("aequitone")
PROGRAM_ERROR = "An error of the program"
"""How a sentence about a fault of the program itself begins."""
Listener = Callable[[str], None]
_listeners: list[Listener] = []
_BYTES, _KEPT = 1_000_000, 3
_FORMAT = "%(asctime)s %(levelname)s %(threadName)s %(name)s: %(message)s"
# A name shorter than that would take half of the log's words with it.
_LEAST_LETTERS = 3
_PACKAGES = (
    "PySide6-Essentials",
    "numpy",
    "scipy",
    "SQLAlchemy",
    "colour-science",
    "PyVISA",
    "PyVISA-py",
    "cattrs",
)


def log_path() -> Path:
    """Where the log lies: in the user's folder for state."""
    from platformdirs import user_state_path

    return user_state_path("aequitone") / "aequitone.log"


def start_log(path: Path | None = None) -> Path | None:
    """Start the log, uncaught errors included; returns its path, or None where it cannot be written."""
    path = path or log_path()
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        handler = RotatingFileHandler(path, maxBytes=_BYTES, backupCount=_KEPT, encoding="utf-8", delay=True)
        LOG.addHandler(handler)
        handler.setFormatter(logging.Formatter(_FORMAT))
        LOG.setLevel(logging.INFO)
        LOG.propagate = False
        LOG.info("started, version %s, Python %s", __version__, platform.python_version())
    except OSError:
        # A full or read-only disk is no reason not to start: what is measured is kept elsewhere.
        return None
    sys.excepthook = _caught_by_nobody
    threading.excepthook = _caught_in_thread
    return path


def listen_for_errors(listener: Listener) -> Callable[[], None]:
    """Call `listener` with a sentence for each uncaught error, from any thread; returns what stops that."""
    _listeners.append(listener)

    def end() -> None:
        if listener in _listeners:
            _listeners.remove(listener)

    return end


def _caught_by_nobody(kind: type[BaseException], error: BaseException, where: TracebackType | None) -> None:
    LOG.critical("not caught", exc_info=(kind, error, where))
    sys.__excepthook__(kind, error, where)
    _tell(error)


def _caught_in_thread(told: threading.ExceptHookArgs) -> None:
    error = told.exc_value or told.exc_type()
    LOG.error("not caught in %s", told.thread, exc_info=(told.exc_type, error, told.exc_traceback))
    _tell(error)


def _tell(error: BaseException) -> None:
    if isinstance(error, (KeyboardInterrupt, SystemExit)):
        return
    words = (
        f"{PROGRAM_ERROR} was met ({type(error).__name__}: {error}). What was measured is kept, and a pass under "
        "way can be gone on with; F9 saves a report."
    )
    for listener in list(_listeners):
        # Who tells of an error must not make another.
        with contextlib.suppress(Exception):
            listener(words)


def bug_report(names: Iterable[str], facts: Iterable[tuple[str, str]] = (), log: Path | None = None) -> str:
    """Text for a bug report: versions, some facts, and the log without the names of clients and their screens.

    `names`: everything that names a client, a room, a screen, an input or a memory.
    """
    installed = {each.metadata["Name"]: each.version for each in distributions()}
    lines = [
        f"Aequitone {__version__}, Python {platform.python_version()}, {platform.platform()}",
        *(f"{name} {installed[name]}" for name in _PACKAGES if name in installed),
        *(f"{name}: {value}" for name, value in facts),
        "",
        _tail(log or log_path()),
    ]
    return without_names("\n".join(lines), names) + "\n"


def without_names(text: str, names: Iterable[str]) -> str:
    """The text with every name of a client, a room or a screen replaced, and the user's own folder too."""
    text = text.replace(str(Path.home()), "~")
    for name in sorted({name for name in names if len(name) >= _LEAST_LETTERS}, key=len, reverse=True):
        text = re.sub(re.escape(name), "[name]", text, flags=re.IGNORECASE)
    return text


def _tail(path: Path) -> str:
    """The newest part of the log."""
    try:
        return path.read_text("utf-8", errors="replace")[-200_000:]
    except OSError:
        return f"There is no log at {path}."
