"""Hand over: what is owed is settled, the report is made, the visit is closed."""

from dataclasses import dataclass
from functools import partial
from typing import TYPE_CHECKING, Any

from aequitone.desktop import commands
from aequitone.desktop.frame.panel_state import PanelState
from aequitone.desktop.session.live import Live
from aequitone.desktop.session.operator import AskMove
from aequitone.desktop.station import Commands, RoomView
from aequitone.desktop.stations.hand_over import panel
from aequitone.desktop.stations.hand_over.commands import (
    CLIENT_CHOICE,
    CLOSE_VISIT,
    EXPORT,
    LEAVE_OFF,
    MAKE_REPORT,
    ON_AGAIN,
    OPEN_REPORT,
    TRY_IT,
)
from aequitone.desktop.stations.hand_over.debts import DebtAnswers
from aequitone.desktop.stations.hand_over.state import HandOverPage
from aequitone.desktop.stations.measured import MeasuredStation
from aequitone.handover.open_points import open_points
from aequitone.logbook.settings.ledger import DebtAnswer
from aequitone.passes import COPIED, PUT_BACK, TRIED, VERIFY, WHAT_IF, PassType, Snapshot, begin_try, load_snapshot
from aequitone.planning.pace import HAND_OVER_SECONDS

if TYPE_CHECKING:
    from aequitone.desktop.session.session import Session


@dataclass(frozen=True)
class _Told:
    """What is said of a visit at one moment."""

    of: Snapshot
    open_points: tuple[str, ...]
    paragraphs: tuple[tuple[str, str], ...]


class HandOverStation(MeasuredStation):
    """Settles what was switched off, makes the report, closes the visit."""

    id = "hand-over"
    title = "Hand over"
    passes = (PUT_BACK, COPIED, VERIFY, TRIED, WHAT_IF)
    of = "visit"

    def __init__(self, session: "Session") -> None:
        super().__init__(session)
        self._debts = DebtAnswers(session)
        self.reports = session.reports
        self._warned: Snapshot | None = None
        """Of whose open points it was asked whether to close all the same."""
        self._told: _Told | None = None

    def is_done(self, snapshot: Snapshot) -> bool:
        return snapshot.visit.closed is not None

    def seconds(self, snapshot: Snapshot) -> float:
        return HAND_OVER_SECONDS

    def closed(self) -> PanelState:
        return self.idle()

    def idle(self) -> PanelState:
        self.reports.look(self.snapshot.visit.id)
        made, busy = self.reports.folder is not None, self.reports.busy
        told = self._tell()
        return panel.hand_over(
            self.snapshot, self.session.message, open_=bool(told.open_points), made=made, busy=busy
        )

    def measuring(self, kind: PassType[Any, Any], live: Live | None) -> PanelState:
        asked = self.session.asked
        move = asked.question if asked is not None and isinstance(asked.question, AskMove) else None
        if kind is VERIFY or (kind in (TRIED, WHAT_IF) and move is None):
            return panel.looking(kind, live)
        return panel.putting_back(self.snapshot, kind, live, move)

    def page(self) -> HandOverPage:
        self.reports.look(self.snapshot.visit.id)
        return HandOverPage(self._tell().paragraphs, self.reports.pictures)

    def as_text(self) -> str:
        return "\n\n".join(f"{heading}\n{text}" for heading, text in self.page().paragraphs) + "\n"

    def make_view(self) -> RoomView:
        from aequitone.desktop.stations.hand_over.view import HandOverView

        return HandOverView()

    def commands(self) -> Commands:
        owed = any(debt.answer is None for debt in self.snapshot.debts)
        return {
            **(self._answers() if owed else self._exports()),
            commands.UNDO: partial(self._debts.answer, None),
            MAKE_REPORT: lambda: self.reports.make(self.snapshot.visit.id),
            OPEN_REPORT: self.reports.open,
            CLOSE_VISIT: self._close_visit,
        }

    def _answers(self) -> Commands:
        """Keys while something is to be settled."""
        answers = {
            ON_AGAIN: DebtAnswer.ON_AGAIN,
            LEAVE_OFF: DebtAnswer.LEAVE_OFF,
            CLIENT_CHOICE: DebtAnswer.CLIENT,
        }
        told: Commands = {command: partial(self._debts.answer, answer) for command, answer in answers.items()}
        return {**told, TRY_IT: self._try}

    def _try(self) -> None:
        """Measure what the first thing that is to be settled does, on and off."""
        session, snapshot = self.session, self.snapshot
        debt = next((debt for debt in snapshot.debts if debt.answer is None), None)
        if debt is not None and snapshot.visit.closed is None:
            role, visit_id = debt.role, snapshot.visit.id
            session.run(TRIED, lambda: begin_try(session.logbook, visit_id, role))

    def _exports(self) -> Commands:
        """Keys for the files that can be put where the person wants."""
        return {command: partial(self._export, number) for number, command in enumerate(EXPORT)}

    def _export(self, number: int) -> None:
        """Ask where a file is to be put, and have it written there."""
        session, visit_id = self.session, self.snapshot.visit.id

        def work() -> tuple[str, str]:
            # A start without files does without what they need.
            from aequitone.handover.files.exports import EXPORTS

            return EXPORTS[number].key, EXPORTS[number].name(session.logbook, visit_id)

        def named(what: tuple[str, str]) -> None:
            key, name = what
            session.place_wanted.emit(name, lambda path: self.reports.export(key, visit_id, path))

        session.desk.do(work, named, lambda error: session.say(f"{error}."))

    def close(self) -> None:
        """The window closes: a report that is being made is finished."""
        self.reports.wait(5000)

    def _tell(self) -> "_Told":
        """What there is to say of the visit, worked out once for each snapshot."""
        snapshot = self.snapshot
        if self._told is None or self._told.of is not snapshot:
            open_ = open_points(snapshot)
            self._told = _Told(snapshot, open_, panel.paragraphs(snapshot, open_))
        return self._told

    def _close_visit(self) -> None:
        """Close the visit: at once where nothing is open, else when it is asked for once more."""
        logbook, visit_id = self.session.logbook, self.snapshot.visit.id
        if self._tell().open_points and self._warned is not self.snapshot:
            self._warned = self.snapshot
            self.session.say("Close it with what is open? Press it once more.")
            return

        def work() -> Snapshot:
            logbook.close_visit(visit_id)
            return load_snapshot(logbook, visit_id)

        self.session.write(work)
