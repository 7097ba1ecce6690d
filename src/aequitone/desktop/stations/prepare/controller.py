"""Decides what happens at Prepare: which line is looked at, and what a key does to it."""

from collections.abc import Callable

from PySide6.QtCore import QObject, Signal

from aequitone.advice.preparing import Way
from aequitone.advice.scopes import Reach
from aequitone.desktop.session.instruments import BenchKeeper
from aequitone.desktop.session.worker import Desk
from aequitone.desktop.states import Act, Mark
from aequitone.desktop.stations.prepare.panel import MEASURED, Standing, standings
from aequitone.logbook import Logbook
from aequitone.logbook.ledger import RESET_REASON, CheckState
from aequitone.passes import PassType, Snapshot, load_snapshot

ACTS = (Act.LINE_DONE, Act.LINE_NOT_HERE, Act.LINE_LEFT, Act.LINE_UNDO, Act.LINE_UP, Act.LINE_DOWN)
_STATES = {Act.LINE_DONE: CheckState.DONE, Act.LINE_NOT_HERE: CheckState.NOT_HERE, Act.LINE_LEFT: CheckState.LEFT}


class Preparing(QObject):
    """Keeps the line in view; everything that takes time is done at the desk."""

    changed = Signal()
    said = Signal(str)
    written = Signal(object)
    """The Snapshot after a line was answered."""

    def __init__(self, logbook: Logbook, desk: Desk, benches: BenchKeeper) -> None:
        super().__init__()
        self._logbook, self._desk, self._benches = logbook, desk, benches
        self._here: int | None = None
        """The line that the person went to; None for the first that is open."""
        self._known: tuple[Snapshot, tuple[Standing, ...]] | None = None
        self._busy = False

    def lines(self, facts: Snapshot) -> tuple[Standing, ...]:
        """The checklist as it stands, worked out once for each state of the facts."""
        if self._known is None or self._known[0] is not facts:
            self._known = facts, standings(facts)
        return self._known[1]

    def here(self, facts: Snapshot) -> int:
        """The line in view."""
        lines = self.lines(facts)
        if self._here is not None and self._here < len(lines):
            return self._here
        return next((i for i, standing in enumerate(lines) if standing.mark is Mark.OPEN), len(lines) - 1)

    def kind(self, facts: Snapshot) -> PassType | None:
        """The pass that measures the line in view, where it is measured."""
        return MEASURED.get(self.lines(facts)[self.here(facts)].line.key)

    def picture(self, facts: Snapshot) -> str:
        """The key of the line's test picture."""
        return self.lines(facts)[self.here(facts)].line.picture

    def go_to(self, row: int | None) -> None:
        """Look at a line; None for the first that is open."""
        self._here = row
        self.changed.emit()

    def act(self, act: Act, facts: Snapshot) -> None:
        """Carry out a key."""
        here, last = self.here(facts), len(self.lines(facts)) - 1
        if act is Act.LINE_UP:
            self.go_to(max(0, here - 1))
        elif act is Act.LINE_DOWN:
            self.go_to(min(last, here + 1))
        elif not self._busy:
            self._answer(act, facts, self.lines(facts)[here])

    def _answer(self, act: Act, facts: Snapshot, standing: Standing) -> None:
        line, visit = standing.line, facts.visit
        ledger = self._logbook.ledger
        if act is Act.LINE_UNDO:
            self._write(facts, lambda: ledger.uncheck(visit.id, line.key))
        elif act is Act.LINE_DONE and line.way is Way.SWITCH and standing.mark is Mark.OPEN:
            self._write(facts, lambda: self._switch_off(facts, standing))
        elif act is Act.LINE_DONE and line.way is Way.RESET and standing.mark is Mark.OPEN:
            self._write(facts, lambda: self._reset(facts, line.key))
        elif act is Act.LINE_DONE and line.way is Way.MEASURE:
            return
        else:
            state = _STATES[act]
            self._write(facts, lambda: ledger.check(visit.id, line.key, state))

    def _switch_off(self, facts: Snapshot, standing: Standing) -> None:
        """Switch a feature off, by link where there is one, and note the debt; runs at the desk."""
        role = standing.line.role
        control = next(control for control in facts.controls if control.role is role)
        found = facts.settings.get(control.role)
        self._benches.turn(facts.visit.bench, {control.role: control.lowest})
        if found == control.lowest:
            self._logbook.ledger.check(facts.visit.id, standing.line.key, CheckState.DONE, "was off")
            return
        # Not noted at Arrive: it was on, or there would be nothing to switch.
        self._logbook.ledger.switch_off(
            facts.visit.id, control.id, control.highest if found is None else found, control.lowest
        )

    def _reset(self, facts: Snapshot, key: str) -> None:
        """Turn the memory's own controls to the factory's settings, by link where there is one; at the desk."""
        own = [control for control in facts.controls if control.scope.reach is Reach.MEMORY]
        to = {c: c.factory for c in own if c.factory is not None and c.role in facts.settings}
        turned = {c: value for c, value in to.items() if facts.settings[c.role] != value}
        self._benches.turn(facts.visit.bench, {c.role: value for c, value in to.items()})
        ledger = self._logbook.ledger
        ledger.note(facts.visit.id, {c.id: value for c, value in turned.items()}, RESET_REASON)
        detail = f"{len(turned)} turned" if turned else "it stood so already"
        if unknown := len(own) - len(to):
            detail += f"; {unknown} of unknown factory value left"
        ledger.check(facts.visit.id, key, CheckState.DONE, detail)

    def _write(self, facts: Snapshot, work: Callable[[], None]) -> None:
        self._busy = True

        def both() -> Snapshot:
            work()
            return load_snapshot(self._logbook, facts.visit.id)

        def done(fresh: Snapshot) -> None:
            self._busy = False
            self._here = None
            self.written.emit(fresh)

        def failed(error: Exception) -> None:
            self._busy = False
            self.said.emit(f"{str(error).rstrip('.')}. What was answered before is kept.")

        self._desk.do(both, done, failed)
