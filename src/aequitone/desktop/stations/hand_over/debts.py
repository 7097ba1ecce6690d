"""What was switched off is answered at Hand over: on again, left off, or the client's choice."""

from PySide6.QtCore import QObject, Signal

from aequitone.desktop.session.instruments import BenchKeeper
from aequitone.desktop.session.worker import Desk
from aequitone.desktop.states import Act
from aequitone.logbook import Logbook
from aequitone.logbook.ledger import Answer, DebtRecord
from aequitone.passes import Snapshot, load_snapshot

_ANSWERS = {
    Act.DEBT_ON_AGAIN: Answer.ON_AGAIN,
    Act.DEBT_LEAVE_OFF: Answer.LEAVE_OFF,
    Act.DEBT_CLIENT: Answer.CLIENT,
    Act.DEBT_UNDO: None,
}
ACTS = tuple(_ANSWERS)


class Owing(QObject):
    """Answers debts one at a time, in the order in which they were made."""

    said = Signal(str)
    written = Signal(object)
    """The Snapshot after an answer."""

    def __init__(self, logbook: Logbook, desk: Desk, benches: BenchKeeper) -> None:
        super().__init__()
        self._logbook, self._desk, self._benches = logbook, desk, benches
        self._busy = False

    def act(self, act: Act, facts: Snapshot) -> None:
        """Answer the first debt that has no answer, or take the last answer back."""
        answer = _ANSWERS[act]
        open_ = [debt for debt in facts.debts if debt.answer is None]
        given = [debt for debt in facts.debts if debt.answer is not None]
        debt = open_[0] if answer is not None and open_ else given[-1] if answer is None and given else None
        if debt is None or self._busy or facts.visit.closed is not None:
            return
        self._busy = True

        def done(fresh: Snapshot) -> None:
            self._busy = False
            self.written.emit(fresh)

        def failed(error: Exception) -> None:
            self._busy = False
            self.said.emit(f"{str(error).rstrip('.')}. The answers before it are kept.")

        self._desk.do(lambda: self._answer(facts, debt, answer), done, failed)

    def _answer(self, facts: Snapshot, debt: DebtRecord, answer: Answer | None) -> Snapshot:
        visit = facts.visit
        control = next(control for control in facts.controls if control.role is debt.role)
        # The screen first: what the logbook says must not run ahead of it.
        to = debt.from_value if answer is Answer.ON_AGAIN else control.lowest
        self._benches.turn(visit.bench, {debt.role: to})
        self._logbook.ledger.answer(debt.id, answer)
        return load_snapshot(self._logbook, visit.id)
