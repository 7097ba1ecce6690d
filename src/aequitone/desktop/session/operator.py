"""The person at the bench, as the runner's thread sees them: it asks and waits, they answer by keys."""

import threading
from dataclasses import dataclass

from PySide6.QtCore import QObject, Signal

from aequitone.advice.by_hand.standing import Standing
from aequitone.advice.moves import Move
from aequitone.instruments.by_hand import HandEntry
from aequitone.instruments.errors import CancelledError, InstrumentError
from aequitone.procedures.runner import Remedy
from aequitone.procedures.steps import Interrupt, Place
from aequitone.signal import Patch


@dataclass(frozen=True)
class AskMove:
    """Turn these controls, then say so."""

    move: Move


@dataclass(frozen=True)
class AskReading:
    """Type what the meter shows for this patch."""

    patch: Patch


@dataclass(frozen=True)
class AskPatch:
    """Call up this patch of the disc, stick or app, then say so."""

    patch: Patch


@dataclass(frozen=True)
class AskReady:
    """Do this with your hands, then say so."""

    lines: tuple[str, str]
    sentence: str


@dataclass(frozen=True)
class AskRemedy:
    """An instrument failed: try again, or stop here."""

    sentence: str


Question = AskMove | AskReading | AskPatch | AskReady | AskRemedy


class WindowOperator(QObject):
    """Implements the runner's Operator, and asks for readings for the meter by hand.

    `asked` carries a Question, or None when there is nothing to answer any more.
    """

    asked = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self._changed = threading.Condition()
        self._question: Question | None = None
        self._answer: object = None
        self._answered = False
        self._cancelled = False

    # Called from the runner's thread; they block.

    def turn(self, move: Move) -> type[Interrupt] | Standing | None:
        answer = self._ask(AskMove(move))
        return answer if isinstance(answer, Standing) else None

    def trouble(self, error: InstrumentError) -> Remedy:
        try:
            answer = self._ask(AskRemedy(str(error)))
        except CancelledError:
            # Whoever cancelled has left the runner an order; it looks for one before it tries again.
            return Remedy.TRY_AGAIN
        return answer if isinstance(answer, Remedy) else Remedy.TRY_AGAIN

    def read(self, patch: Patch) -> HandEntry:
        """For HandMeter: what the person typed."""
        answer = self._ask(AskReading(patch))
        assert isinstance(answer, HandEntry)
        return answer

    def show(self, patch: Patch) -> None:
        """For HandSource: returns once the person has called the patch up."""
        self._ask(AskPatch(patch))

    def place(self, step: Place) -> None:
        """Ask for the meter to be hung elsewhere."""
        sentence = "The picture stands still meanwhile; touch nothing but the meter."
        self._ask(AskReady(("Hang the meter at", step.name), sentence))

    def make_ready(self, first: str, second: str, sentence: str) -> None:
        """Ask for something to be done by hand."""
        self._ask(AskReady((first, second), sentence))

    def _ask(self, question: Question) -> object:
        with self._changed:
            self._question, self._answered = question, False
            self.asked.emit(question)
            self._changed.wait_for(lambda: self._answered or self._cancelled)
            self._question = None
            self.asked.emit(None)
            cancelled, self._cancelled = self._cancelled, False
            if cancelled:
                raise CancelledError
            return self._answer

    # Called from the window's thread; they return at once.

    def answer(self, value: object = None) -> None:
        with self._changed:
            if self._question is not None:
                self._answer, self._answered = value, True
                self._changed.notify_all()

    def withdraw(self) -> None:
        """Cancel the question that is asked now; unlike `cancel`, one to come is left alone."""
        with self._changed:
            if self._question is not None:
                self._cancelled = True
                self._changed.notify_all()

    def cancel(self) -> None:
        """Stop waiting for an answer.

        An order given just before the question is not lost on it: the next question is cancelled at
        once, and the runner, which looks for orders before every step, finds the order or asks again.
        """
        with self._changed:
            self._cancelled = True
            self._changed.notify_all()
