"""The start: the frame is painted, the logbook opened in another thread, and what cannot be opened is said."""

import logging
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass
from datetime import date
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, Qt, Signal

from aequitone.desktop import commands
from aequitone.desktop.commands import Command, hint
from aequitone.desktop.frame.panel_state import BigLine, PanelState
from aequitone.desktop.window import MainWindow

if TYPE_CHECKING:
    from aequitone.logbook import Logbook
    from aequitone.passes import Snapshot

LOG = logging.getLogger(__name__)
_PUT_BACK, _BEGIN_NEW = commands.CHOICES[:2]


@dataclass(frozen=True)
class _Opened:
    logbook: "Logbook"
    snapshot: "Snapshot | None"
    told: str
    """What is to be said of what could not be read."""


@dataclass(frozen=True)
class _Refused:
    sentence: str
    damaged: bool = False
    copy: Path | None = None
    """The newest good one."""


class Start(QObject):
    """Opens a logbook in a thread of its own, so that the window stays responsive, and asks where it fails."""

    _done = Signal(object)

    def __init__(
        self, path: Path, window: MainWindow, attach: "Callable[[MainWindow, Logbook, Snapshot | None], None]"
    ) -> None:
        super().__init__()
        self._path, self.window, self._attach = path, window, attach
        self._pool = ThreadPoolExecutor(max_workers=1, thread_name_prefix="opening")
        self._opened: _Opened | None = None
        self._refused: _Refused | None = None
        self._done.connect(self._take, Qt.ConnectionType.QueuedConnection)

    def begin(self) -> None:
        """Show the frame, and open the logbook meanwhile."""
        self.window.show_opening()
        self.window.show()
        self._try(_nothing)

    def end(self) -> None:
        """Close what was opened."""
        self._pool.shutdown(wait=True)
        if self._opened is not None:
            self._opened.logbook.close()

    def _try(self, first: Callable[[], object]) -> None:
        self._pool.submit(self._open, first).add_done_callback(self._tell)

    def _tell(self, future: "Future[Any]") -> None:
        self._done.emit(future.result())

    def _open(self, first: Callable[[], object]) -> _Opened | _Refused:
        # The presenter brings every station and solver with it.
        import aequitone.desktop.presenter  # noqa: F401
        from aequitone.logbook import LogbookDamagedError, LogbookError, open_logbook
        from aequitone.logbook.storage.backups import last_good

        try:
            first()
            logbook = open_logbook(self._path)
            return _Opened(logbook, *newest_snapshot(logbook))
        except LogbookError as error:
            damaged = isinstance(error, LogbookDamagedError)
            return _Refused(str(error), damaged, last_good(self._path) if damaged else None)
        except Exception as error:
            LOG.exception("the logbook could not be opened")
            return _Refused(f"{self._path} could not be opened ({type(error).__name__}: {error}).")

    def _take(self, result: _Opened | _Refused) -> None:
        from aequitone.desktop.app import keep_smooth

        if isinstance(result, _Refused):
            self._refused = result
            self.window.show_refusal(_refusal(result), self._answer)
            return
        self._opened = result
        self._attach(self.window, result.logbook, result.snapshot)
        self.window.activateWindow()
        if result.told:
            self.window.presenter.session.say(result.told)
        if not result.logbook.read_only:
            self._back_up()
        keep_smooth()

    def _answer(self, command: Command) -> None:
        from aequitone.logbook.storage.backups import move_aside, put_back

        refused = self._refused
        assert refused is not None
        copy = refused.copy
        ways: dict[Command, Callable[[], object]] = {commands.TRY_AGAIN: _nothing}
        if refused.damaged:
            ways[_BEGIN_NEW] = partial(move_aside, self._path)
        if copy is not None:
            ways[_PUT_BACK] = partial(put_back, self._path, copy)
        if command in ways:
            self.window.show_opening()
            self._try(ways[command])

    def _back_up(self) -> None:
        """Make the copy of the day, at the desk."""
        from aequitone.logbook.storage.backups import back_up

        session = self.window.presenter.session

        def failed(error: Exception) -> None:
            session.say(f"Today's backup of the logbook failed: {error}. The logbook itself is as it was.")

        session.desk.do(lambda: back_up(self._path, date.today()), lambda _: None, failed)


def _nothing() -> None:
    """Before the logbook is opened the usual way."""


def newest_snapshot(logbook: "Logbook") -> "tuple[Snapshot | None, str]":
    """The open visit, or else the newest, and what is to be said of what could not be read."""
    from aequitone.passes import load_snapshot

    snapshot, told = None, ""
    visit = logbook.open_visit() or logbook.latest_visit()
    if visit is not None:
        try:
            snapshot = load_snapshot(logbook, visit.id, advice=False)
        except Exception as error:
            LOG.exception("visit %s could not be shown", visit.id)
            told = f"Visit {visit.id} cannot be shown ({error}); Ctrl+L finds the others. "
    if words := logbook.unreadable.words:
        told += (
            f"Not everything in {logbook.path} can be read; left out: {', '.join(words[:5])}. F8 opens the log."
        )
    return snapshot, told.strip()


def _refusal(refused: _Refused) -> PanelState:
    from aequitone.logbook.storage.backups import day_of

    keys = [hint(commands.TRY_AGAIN, "try again", main=True)]
    if refused.copy is not None:
        keys.append(hint(_PUT_BACK, f"restore the backup of {day_of(refused.copy):%d %B %Y}", wide=True))
    if refused.damaged:
        keys.append(hint(_BEGIN_NEW, "move it aside and start a new one", wide=True))
    return PanelState(
        "Not opened",
        True,
        (BigLine("The logbook"), BigLine("cannot be opened")),
        refused.sentence,
        keys=tuple(keys),
    )
