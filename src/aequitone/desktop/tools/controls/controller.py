"""Decides what happens in the ledger: which moments are compared, and what a key does."""

from PySide6.QtCore import QObject, Signal

from aequitone.desktop.session.worker import Desk
from aequitone.desktop.states import Act, LedgerPage, PanelState
from aequitone.desktop.tools.controls import page as ledger_page
from aequitone.logbook import Logbook
from aequitone.logbook.moments import Moment, moments
from aequitone.passes import Snapshot, load_snapshot

_SCOPE = (Act.SCOPE_REACH, Act.SCOPE_SIGNALS, Act.SCOPE_COPIED)
_STEPS = {
    Act.MOMENT_EARLIER: (0, -1),
    Act.MOMENT_LATER: (0, 1),
    Act.OTHER_EARLIER: (1, -1),
    Act.OTHER_LATER: (1, 1),
}
ACTS = (Act.LEDGER, Act.ONLY_CHANGED, *_STEPS, *_SCOPE)


class LedgerRoom(QObject):
    """Keeps what is looked at; what is written is written at the desk."""

    changed = Signal()
    said = Signal(str)
    written = Signal(object)
    """The Snapshot after something was noted."""

    def __init__(self, logbook: Logbook, desk: Desk) -> None:
        super().__init__()
        self._logbook, self._desk = logbook, desk
        self.open = False
        self._compared: tuple[int | None, int | None] = (None, None)
        """The two moments; None for as found and for now."""
        self._only_changed = False
        self._row = 0
        self._known: tuple[Snapshot, tuple[Moment, ...]] | None = None

    def leave(self) -> None:
        self.open = False

    def choose(self, row: int) -> None:
        """A row is looked at."""
        self._row = row
        self.changed.emit()

    def page(self, facts: Snapshot) -> LedgerPage | None:
        """What is drawn; None where no control is noted yet."""
        known = self._moments(facts)
        if not known:
            return None
        first, second = self._numbers(known)
        return ledger_page.page(facts, known, first, second, self._row, only_changed=self._only_changed)

    def panel(self, facts: Snapshot, message: str) -> PanelState:
        return ledger_page.panel(facts, self.page(facts), self._moments(facts), message)

    def moment(self, facts: Snapshot) -> Moment | None:
        """The earlier one of the two: what everything can be put back to."""
        known = self._moments(facts)
        return known[self._numbers(known)[0]] if known else None

    def act(self, act: Act, facts: Snapshot) -> None:
        """Carry out a key."""
        known = self._moments(facts)
        if act is Act.LEDGER:
            self.open = not self.open
            self._compared, self._row = (None, None), 0
        elif act is Act.ONLY_CHANGED:
            self._only_changed, self._row = not self._only_changed, 0
        elif act in _STEPS and known:
            which, by = _STEPS[act]
            numbers = list(self._numbers(known))
            numbers[which] = min(max(numbers[which] + by, 0), len(known) - 1)
            # The newest moment moves along as work goes on, so it is kept as "now".
            first, second = numbers
            self._compared = (first, None if second == len(known) - 1 else second)
        elif act in _SCOPE:
            self._note_scope(act, facts)
        self.changed.emit()

    def _note_scope(self, act: Act, facts: Snapshot) -> None:
        page = self.page(facts)
        if page is None or not page.rows:
            return
        role = page.rows[page.at].role
        control = next(control for control in facts.controls if control.role.value == role)
        fresh = ledger_page.next_scope(control.scope, act)

        def work() -> Snapshot:
            self._logbook.note_scope(control.id, fresh)
            return load_snapshot(self._logbook, facts.visit.id)

        self._desk.do(work, self.written.emit, lambda error: self.said.emit(f"It could not be noted: {error}."))

    def _numbers(self, known: tuple[Moment, ...]) -> tuple[int, int]:
        first, second = self._compared
        last = len(known) - 1
        return min(first or 0, last), last if second is None else min(second, last)

    def _moments(self, facts: Snapshot) -> tuple[Moment, ...]:
        if self._known is None or self._known[0] is not facts:
            self._known = facts, moments(facts.history)
        return self._known[1]
