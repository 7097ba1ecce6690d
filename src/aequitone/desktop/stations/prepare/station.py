"""Prepare: the checklist before anything is measured, and what of it is measured."""

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING, Any

from aequitone.advice import checklist as lines_of
from aequitone.advice.checklist import Way
from aequitone.advice.scopes import Reach
from aequitone.desktop import commands
from aequitone.desktop.commands import Command
from aequitone.desktop.frame.panel_state import PanelState
from aequitone.desktop.session.live import Live
from aequitone.desktop.session.operator import AskMove
from aequitone.desktop.session.prompts import beginning
from aequitone.desktop.station import Commands, RoomView
from aequitone.desktop.stations.measured import MeasuredStation
from aequitone.desktop.stations.prepare import panel
from aequitone.desktop.stations.prepare.checklist import MEASURED, Standing, drift, prepared, rows, standings
from aequitone.desktop.stations.prepare.commands import DONE, LEAVE_AS_IS
from aequitone.desktop.stations.prepare.state import ChecklistPage, Mark
from aequitone.logbook.settings.ledger import RESET_REASON, CheckState
from aequitone.passes import (
    GAMMA,
    GAMUT,
    MODE,
    ROOM,
    TEMPERATURE,
    WARM_UP,
    WATCHED,
    PassType,
    Snapshot,
    load_snapshot,
)
from aequitone.planning.pace import PREPARE_SECONDS
from aequitone.procedures.preparation.warm_up import Warmth
from aequitone.procedures.preparation.watching import PresetGlance

if TYPE_CHECKING:
    from aequitone.desktop.session.session import Session

_STATES = {DONE: CheckState.DONE, commands.SKIP: CheckState.NOT_HERE, LEAVE_AS_IS: CheckState.LEFT}


class PrepareStation(MeasuredStation):
    """Goes through the checklist; everything that takes time is done at the desk."""

    id = "prepare"
    title = "Prepare"
    passes = (WARM_UP, WATCHED, ROOM, MODE, TEMPERATURE, GAMMA, GAMUT)

    def __init__(self, session: "Session") -> None:
        super().__init__(session)
        self._at: int | None = None
        """The line that the person went to; None for the first that is open."""
        self._of: int | None = None
        """The job that it is a line of."""
        self._known: tuple[Snapshot, tuple[Standing, ...]] | None = None
        self._busy = False
        self._pictured = False
        """Whether the test picture of a line is shown."""

    def is_done(self, snapshot: Snapshot) -> bool:
        return prepared(snapshot)

    def seconds(self, snapshot: Snapshot) -> float:
        spent = snapshot.seconds(*self.passes)
        return spent if self.is_done(snapshot) and spent else PREPARE_SECONDS

    @property
    def lines(self) -> tuple[Standing, ...]:
        """The checklist as it stands, worked out once for each snapshot."""
        snapshot = self.snapshot
        if self._known is None or self._known[0] is not snapshot:
            self._known = snapshot, standings(snapshot)
        return self._known[1]

    @property
    def here(self) -> int:
        """The line in view."""
        lines = self.lines
        if self._at is not None and self._at < len(lines) and self._of == self.snapshot.visit.job_id:
            return self._at
        return next((i for i, standing in enumerate(lines) if standing.mark is Mark.OPEN), len(lines) - 1)

    @property
    def _line(self) -> Standing:
        return self.lines[self.here]

    def go_to(self, row: int | None) -> None:
        """Look at a line; None for the first that is open. A test picture leaves with the line it was for."""
        if row != self._at:
            self._put_picture_away()
        self._at, self._of = row, self.snapshot.visit.job_id
        self.session.changed.emit()

    def tick(self, row: int) -> None:
        """Answer a line by its box, or take the answer back; what is measured or turned is only looked at."""
        self.go_to(row)
        standing = self._line
        if standing.line.key in self.snapshot.checks:
            self._take_back()
        elif standing.mark is Mark.OPEN and standing.line.way in (Way.LOOK, Way.SWITCH):
            self._answer(DONE)

    def idle(self) -> PanelState:
        following = self.session.navigator.next_station()
        return panel.line_panel(self.snapshot, self.lines, self.here, self.session.message, following)

    def panel(self) -> PanelState:
        # An interrupted pass is one line of many here: the line says so.
        if self.session.running.running or self.snapshot.visit.closed is not None:
            return super().panel()
        return self.idle()

    def measuring(self, kind: PassType[Any, Any], live: Live | None) -> PanelState:
        asked = self.session.asked
        if asked is not None and isinstance(asked.question, AskMove):
            return panel.turning(self.snapshot, asked.question, live)
        if live is None:
            return beginning()
        if isinstance(live.value, PresetGlance) and not live.paused:
            return panel.watching(self.snapshot, live.value)
        return panel.measuring(kind, live)

    def said(self) -> str:
        """What was measured, line by line."""
        measured = (line for line in self.lines if line.line.key in MEASURED and line.mark is not Mark.OPEN)
        return " ".join(f"{line.line.title}: {line.detail.rstrip('.')}." for line in measured)

    def revised(self) -> str:
        return ""

    def page(self) -> ChecklistPage:
        return ChecklistPage(rows(self.lines, self.here), drift(self._warmth))

    @property
    def _warmth(self) -> Warmth | None:
        """What is known of the screen's warming, as long as it is looked at."""
        live = self.live
        if live is not None and isinstance(live.value, Warmth):
            return live.value
        watched = self.lines[self.here].line.key == lines_of.WARM_UP if self.lines else False
        return self.snapshot.result(WARM_UP) if watched and live is None else None

    def as_text(self) -> str:
        lines = (f"{line.line.title}\t{line.mark.value}\t{line.detail}" for line in self.lines)
        return "\n".join(("Line\tState\tDetail", *lines)) + "\n"

    def make_view(self) -> RoomView:
        from aequitone.desktop.stations.prepare.view import ChecklistView

        view = ChecklistView()
        view.chosen.connect(self.go_to)
        view.ticked.connect(self.tick)
        return view

    def commands(self) -> Commands:
        return {
            commands.BEGIN: self.begin,
            commands.UP: lambda: self.go_to(max(0, self.here - 1)),
            commands.DOWN: lambda: self.go_to(min(len(self.lines) - 1, self.here + 1)),
            commands.UNDO: self._take_back,
            commands.SHOW: self._show,
            **{command: partial(self._answer, command) for command in _STATES},
        }

    def leave(self) -> None:
        # Whoever comes back finds the line that was left.
        self._at, self._of = self.here, self.snapshot.visit.job_id
        self._put_picture_away()

    def begin(self) -> None:
        """Measure the line in view."""
        kind = MEASURED.get(self._line.line.key)
        if kind is not None:
            self.session.begin(kind)

    def _show(self) -> None:
        if self._line.line.picture:
            self._pictured = True
            self.session.picture_wanted.emit(self._line.line.picture)

    def _put_picture_away(self) -> None:
        if self._pictured:
            self._pictured = False
            self.session.picture_wanted.emit("")

    def _take_back(self) -> None:
        ledger, visit_id, key = self.session.logbook.ledger, self.snapshot.visit.id, self._line.line.key
        self._write(lambda: ledger.uncheck(visit_id, key))

    def _answer(self, command: Command) -> None:
        standing, snapshot = self._line, self.snapshot
        line, ledger = standing.line, self.session.logbook.ledger
        if command == DONE and line.way is Way.MEASURE:
            return
        if command == DONE and standing.mark is Mark.OPEN and line.way is Way.SWITCH:
            self._write(lambda: self._switch_off(snapshot, standing))
        elif command == DONE and standing.mark is Mark.OPEN and line.way is Way.RESET:
            self._write(lambda: self._reset(snapshot, line.key))
        else:
            state = _STATES[command]
            self._write(lambda: ledger.check(snapshot.visit.id, line.key, state))

    def _switch_off(self, snapshot: Snapshot, standing: Standing) -> None:
        """Switch a feature off, by link where there is one, and note the debt; runs at the desk."""
        role, ledger = standing.line.role, self.session.logbook.ledger
        control = next(control for control in snapshot.controls if control.role == role)
        found = snapshot.settings.get(control.role)
        self.session.instruments.turn(snapshot.visit.bench, {control.role.key: control.lowest})
        if found == control.lowest:
            ledger.check(snapshot.visit.id, standing.line.key, CheckState.DONE, "was off")
            return
        # Not noted at Arrive: it was on, or there would be nothing to switch.
        ledger.switch_off(
            snapshot.visit.id, control.id, control.highest if found is None else found, control.lowest
        )

    def _reset(self, snapshot: Snapshot, key: str) -> None:
        """Turn the memory's own controls to the factory's settings, by link where there is one; at the desk."""
        own = [control for control in snapshot.controls if control.scope.reach is Reach.MEMORY]
        to = {c: c.factory for c in own if c.factory is not None and c.role in snapshot.settings}
        turned = {c: value for c, value in to.items() if snapshot.settings[c.role] != value}
        self.session.instruments.turn(snapshot.visit.bench, {c.role.key: value for c, value in to.items()})
        ledger = self.session.logbook.ledger
        ledger.note(snapshot.visit.id, {c.id: value for c, value in turned.items()}, RESET_REASON)
        detail = f"{len(turned)} turned" if turned else "all were at factory already"
        if unknown := len(own) - len(to):
            detail += f"; {unknown} left, factory value unknown"
        ledger.check(snapshot.visit.id, key, CheckState.DONE, detail)

    def _write(self, work: Callable[[], None]) -> None:
        if self._busy:
            return
        self._busy = True
        logbook, visit_id = self.session.logbook, self.snapshot.visit.id

        def both() -> Snapshot:
            work()
            return load_snapshot(logbook, visit_id)

        def done(fresh: Snapshot) -> None:
            self._busy, self._at = False, None
            self._put_picture_away()
            self.session.take(fresh)

        def failed() -> None:
            self._busy = False

        self.session.write(both, done, failed=failed, kept="What was answered before is kept.")
