"""What was switched off is settled at Hand over: on again, left off, or the client's choice; no Qt."""

from typing import TYPE_CHECKING

from aequitone.logbook.settings.ledger import DebtAnswer, DebtRecord
from aequitone.passes import Snapshot, load_snapshot

if TYPE_CHECKING:
    from aequitone.desktop.session.session import Session


class DebtAnswers:
    """Answers debts one at a time, in the order in which they were made."""

    def __init__(self, session: "Session") -> None:
        self._session = session
        self._busy = False

    def answer(self, answer: DebtAnswer | None) -> None:
        """Answer the first debt that has no answer, or take the last answer back."""
        session, snapshot = self._session, self._session.visit
        open_ = [debt for debt in snapshot.debts if debt.answer is None]
        given = [debt for debt in snapshot.debts if debt.answer is not None]
        debt = open_[0] if answer is not None and open_ else given[-1] if answer is None and given else None
        if debt is None or self._busy or snapshot.visit.closed is not None:
            return
        self._busy = True

        def done(fresh: Snapshot) -> None:
            self._busy = False
            session.take(fresh)

        def failed() -> None:
            self._busy = False

        kept = "The answers before it are kept."
        session.write(lambda: self._answer(snapshot, debt, answer), done, failed=failed, kept=kept)

    def _answer(self, snapshot: Snapshot, debt: DebtRecord, answer: DebtAnswer | None) -> Snapshot:
        visit, session = snapshot.visit, self._session
        control = next(control for control in snapshot.controls if control.role == debt.role)
        # The screen first: what the logbook says must not run ahead of it.
        to = debt.from_value if answer is DebtAnswer.ON_AGAIN else control.lowest
        session.instruments.turn(visit.bench, {debt.role.key: to})
        session.logbook.ledger.answer(debt.id, answer)
        return load_snapshot(session.logbook, visit.id)
