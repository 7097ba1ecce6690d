"""Work that must not hold up the window: the logbook's desk, and the thread a pass runs in."""

import contextlib
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import Any

from PySide6.QtCore import QObject, Qt, QThread, Signal

from aequitone.diagnosis import LOG, PROGRAM_ERROR
from aequitone.instruments.errors import InstrumentError
from aequitone.instruments.ports import Bench
from aequitone.logbook import Logbook, LogbookError, PassState
from aequitone.passes import KeptError, NotReadyError, PreparedPass, Snapshot, carry_out, load_snapshot
from aequitone.procedures.care import Care
from aequitone.procedures.grey.first_look import WrongSignalError
from aequitone.procedures.journal import JournalMismatchError
from aequitone.procedures.runner import AbandonedError, Event, Operator, Runner
from aequitone.standins.shipped import ScenarioError


class Desk(QObject):
    """Does one thing after another in a thread of its own and hands the result back to Qt's."""

    _finished = Signal(object, object)

    def __init__(self) -> None:
        super().__init__()
        self._pool = ThreadPoolExecutor(max_workers=1, thread_name_prefix="desk")
        self._finished.connect(self._deliver, Qt.ConnectionType.QueuedConnection)

    def do(
        self, work: Callable[[], Any], then: Callable[[Any], None], failed: Callable[[Exception], None]
    ) -> None:
        """Run `work` off Qt's thread, then `then(result)` or `failed(error)` on it."""

        def job() -> None:
            try:
                result = work()
            except Exception as error:
                LOG.warning("work at the desk failed", exc_info=error)
                self._finished.emit(failed, error)
            else:
                self._finished.emit(then, result)

        # Once the window has closed nothing new is begun.
        with contextlib.suppress(RuntimeError):
            self._pool.submit(job)

    def _deliver(self, what: Callable[[Any], None], value: Any) -> None:
        what(value)

    def close(self) -> None:
        self._pool.shutdown(wait=True)


class PassThread(QThread):
    """Runs one pass to its end, whatever the end is."""

    heard = Signal(object)
    """Whatever `digest` made of a runner's event."""
    ended = Signal(object, str)
    """The visit's snapshot afterwards (None if they cannot be had), and a sentence when it was stopped."""

    def __init__(
        self,
        logbook: Logbook,
        visit_id: int,
        bench: Callable[[], Bench],
        operator: Operator,
        prepare: Callable[[], PreparedPass],
        digest: Callable[[Event], object | None],
        care: Care,
    ) -> None:
        super().__init__()
        self._care = care
        self._logbook, self._visit_id, self._bench = logbook, visit_id, bench
        self._operator, self._prepare, self._digest = operator, prepare, digest
        self._runner: Runner | None = None
        self._abandoned = False

    @property
    def runner(self) -> Runner | None:
        """The runner, once the pass has begun."""
        return self._runner

    def abandon(self) -> None:
        """Stop the pass where it can be gone on with, also when it has hardly begun."""
        self._abandoned = True
        if self._runner is not None:
            self._runner.abandon()

    def run(self) -> None:
        sentence = ""
        try:
            prepared = self._prepare()
            try:
                carry_out(
                    self._logbook, prepared, self._bench(), self._operator, self._hear, self._take, self._care
                )
            except JournalMismatchError as error:
                self._logbook.end_pass(prepared.pass_id, PassState.SET_ASIDE, str(error))
                sentence = (
                    "The record of the interrupted pass does not fit this version of the program. Its readings "
                    "are kept and it is set aside; measure this station again."
                )
        except AbandonedError:
            sentence = ""
        except (KeptError, NotReadyError, WrongSignalError, InstrumentError, LogbookError, ScenarioError) as error:
            sentence = str(error)
        except Exception as error:
            # The last resort: the window stays, and says what it can.
            name = type(error).__name__
            LOG.exception("a pass was stopped by an error of the program")
            sentence = f"{PROGRAM_ERROR} stopped the pass ({name}: {error}). Readings are kept; F9 saves a report."
        snapshot: Snapshot | None = None
        with contextlib.suppress(Exception):
            snapshot = load_snapshot(self._logbook, self._visit_id)
        self.ended.emit(snapshot, sentence)

    def _take(self, runner: Runner) -> None:
        self._runner = runner
        if self._abandoned:
            runner.abandon()

    def _hear(self, event: Event) -> None:
        digested = self._digest(event)
        if digested is not None:
            self.heard.emit(digested)
