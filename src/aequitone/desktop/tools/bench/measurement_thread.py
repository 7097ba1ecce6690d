"""A procedure run at the Bench, in a thread of its own; nothing of it goes into the logbook's passes."""

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QThread, Signal

from aequitone.desktop.session.operator import WindowOperator
from aequitone.diagnosis import LOG, PROGRAM_ERROR
from aequitone.instruments.errors import CancelledError, InstrumentError
from aequitone.instruments.ports import Bench
from aequitone.logbook import LogbookError
from aequitone.procedures.care import Care
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.runner import AbandonedError, Event, Runner
from aequitone.procedures.steps import Procedure
from aequitone.standins.shipped import ScenarioError


class MeasurementThread(QThread):
    """Runs what it is given; `carry_out(run)` may run several procedures, one after another."""

    heard = Signal(object)
    """Whatever `digest` made of a runner's event."""
    ended = Signal(object, str)
    """The value (None where there is none), and a sentence when it was stopped by something."""

    def __init__(
        self,
        carry_out: "Callable[[MeasurementThread], Any]",
        operator: WindowOperator,
        digest: Callable[[Event], object | None],
        care: Care,
    ) -> None:
        super().__init__()
        self._carry_out, self._operator, self._digest, self._care = carry_out, operator, digest, care
        self._runner: Runner | None = None
        self._stopped = False

    def procedure(self, bench: Bench, procedure: Procedure[Any]) -> Any:
        """Run one procedure on a bench; for `carry_out`, in this thread."""
        self._runner = Runner(bench, MemoryJournal(), self._operator, self._hear, self._care)
        if self._stopped:
            raise AbandonedError
        return self._runner.run(procedure)

    def ask(self, first: str, second: str, sentence: str) -> None:
        """Have something done by hand; for `carry_out`, in this thread."""
        if self._stopped:
            raise AbandonedError
        self._operator.make_ready(first, second, sentence)

    def stop(self) -> None:
        """Stop before the next step, or while the person is asked; from any thread."""
        self._stopped = True
        if self._runner is not None:
            self._runner.abandon()
        self._operator.withdraw()

    def run(self) -> None:
        value, sentence = None, ""
        try:
            value = self._carry_out(self)
        except (AbandonedError, CancelledError):
            sentence = ""
        except (InstrumentError, LogbookError, ScenarioError, LookupError, ValueError) as error:
            sentence = str(error)
        except Exception as error:
            # The last resort: the window stays, and says what it can.
            LOG.exception("a measurement at the bench was stopped by an error of the program")
            sentence = f"{PROGRAM_ERROR} stopped this ({type(error).__name__}: {error})."
        self.ended.emit(value, sentence)

    def _hear(self, event: Event) -> None:
        digested = self._digest(event)
        if digested is not None:
            self.heard.emit(digested)
