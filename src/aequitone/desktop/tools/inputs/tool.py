"""Inputs: keeps which memory and which line is looked at; what is entered is written at the desk."""

from collections.abc import Callable
from dataclasses import replace
from typing import TYPE_CHECKING, ClassVar

from aequitone.desktop import commands
from aequitone.desktop.frame.panel_state import PanelState
from aequitone.desktop.station import Commands, RoomView
from aequitone.desktop.tools.inputs import panel
from aequitone.desktop.tools.inputs.commands import (
    ADD,
    APPLIED,
    BY_PLAYER,
    INPUT_BEFORE,
    INPUTS,
    LOOK,
    OTHER_INPUT,
    REMOVE,
    TICK,
)
from aequitone.desktop.tools.inputs.page import inputs_page, inputs_text
from aequitone.desktop.tools.inputs.state import InputsPage
from aequitone.logbook.records import Connection
from aequitone.passes import VERIFY, CopySheet, PreparedPass, Snapshot, begin_verify, copy_sheets, load_snapshot
from aequitone.procedures.grey.verify import Verified, VerifyPlan

if TYPE_CHECKING:
    from aequitone.desktop.session.session import Session

_KEPT = "The list is as it was."


class InputsTool:
    """The memories of other inputs."""

    id: ClassVar[str] = "inputs"
    title: ClassVar[str] = "Inputs"
    opened_by: ClassVar[commands.Command] = INPUTS
    needs_visit: ClassVar[bool] = True

    def __init__(self, session: "Session") -> None:
        self.session = session
        self._number = self._row = 0
        self._adding, self._objection = False, ""
        self._by_player = False
        self._known: tuple[Snapshot, tuple[CopySheet, ...]] | None = None

    def enter(self) -> None:
        """Begin at the first memory that needs something."""
        self._adding = False
        wanting = [i for i, sheet in enumerate(self.sheets) if sheet.left or not sheet.looked]
        self._number = wanting[0] if wanting else 0
        self._row = self._first_open()

    def leave(self) -> None:
        """Be left; an input that was being typed is not added."""
        self._adding = False

    def choose(self, row: int) -> None:
        """Look at a line."""
        self._row = row
        self.session.changed.emit()

    @property
    def sheets(self) -> tuple[CopySheet, ...]:
        """The sheet of every memory, worked out once for each snapshot."""
        snapshot = self.session.visit
        if self._known is None or self._known[0] is not snapshot:
            self._known = snapshot, copy_sheets(snapshot)
        return self._known[1]

    @property
    def _sheet(self) -> CopySheet | None:
        sheets = self.sheets
        return sheets[min(self._number, len(sheets) - 1)] if sheets else None

    def page(self) -> InputsPage:
        """What is drawn."""
        return inputs_page(self.sheets, min(self._number, max(0, len(self.sheets) - 1)), self._row)

    def as_text(self) -> str:
        """The sheet as text."""
        return inputs_text(self.page()) if self.sheets else ""

    def panel(self) -> PanelState:
        """What the move panel says."""
        session, sheet = self.session, self._sheet
        snapshot = session.visit
        if self._adding:
            return panel.adding(snapshot, self._objection)
        if sheet is None:
            return panel.no_inputs(snapshot, session.message)
        seconds = VERIFY.seconds(snapshot, snapshot.pace)
        return panel.inputs_panel(
            snapshot, sheet, self.page(), session.message, seconds, by_player=self._by_player
        )

    def make_view(self) -> RoomView:
        """Make the tables."""
        from aequitone.desktop.tools.inputs.view import InputsView

        view = InputsView()
        view.chosen.connect(self.choose)
        return view

    def commands(self) -> Commands:
        """What its keys do."""
        if self._adding:
            return {commands.CLOSE_TOOL: self._add_nothing}
        told: dict[commands.Command, Callable[[], None]] = {
            commands.UP: lambda: self._go(-1),
            commands.DOWN: lambda: self._go(1),
            OTHER_INPUT: lambda: self._turn_to(1),
            INPUT_BEFORE: lambda: self._turn_to(-1),
        }
        if self.session.visit.visit.closed is not None:
            return told
        told |= {ADD: self._ask, BY_PLAYER: self._toggle_player}
        if self._sheet is not None:
            told |= {TICK: self._tick, LOOK: self._look, APPLIED: self._apply, REMOVE: self._remove}
        return told

    def typed(self, words: str) -> None:
        """An input was typed."""
        if not self._adding:
            return
        input_, memory, device = (*(part.strip() for part in words.split(",", 2)), "", "")[:3]
        if not (input_ and memory):
            self._objection = "Type the input and the memory with a comma between, as HDMI 1, Film."
            self.session.changed.emit()
            return
        copies, visit_id = self.session.logbook.copies, self.session.visit.visit.id

        def work() -> Snapshot:
            copies.add(visit_id, input_=input_, memory=memory, device=device)
            return load_snapshot(self.session.logbook, visit_id)

        def done(fresh: Snapshot) -> None:
            self._adding = False
            self.session.take(fresh)
            self._number = len(self.sheets) - 1
            self._row = self._first_open()
            self.session.changed.emit()

        def refused(error: Exception) -> None:
            self._objection = f"{str(error).rstrip('.')}. {_KEPT}"
            self.session.changed.emit()

        self.session.desk.do(work, done, refused)

    def _ask(self) -> None:
        self._adding, self._objection = True, ""

    def _add_nothing(self) -> None:
        self._adding = False

    def _go(self, by: int) -> None:
        self._row = min(max(self._row + by, 0), max(0, len(self.page().rows) - 1))

    def _turn_to(self, by: int) -> None:
        self._number = min(max(self._number + by, 0), max(0, len(self.sheets) - 1))
        self._row = self._first_open()

    def _toggle_player(self) -> None:
        self._by_player = not self._by_player

    def _first_open(self) -> int:
        return next((i for i, row in enumerate(self.page().rows) if row.done is False), 0)

    def _tick(self) -> None:
        sheet, page = self._sheet, self.page()
        row = page.rows[page.at] if page.rows else None
        if sheet is None or row is None or row.done is None:
            return
        role, done = sheet.lines[page.at].role.key, not row.done
        copies, visit_id = self.session.logbook.copies, self.session.visit.visit.id
        self._write(lambda: copies.tick(visit_id, sheet.copy.memory_id, role, done=done), onwards=done)

    def _apply(self) -> None:
        sheet = self._sheet
        if sheet is not None:
            copies, visit_id = self.session.logbook.copies, self.session.visit.visit.id
            self._write(lambda: copies.apply(visit_id, sheet.copy.memory_id, applied=not sheet.copy.applied))

    def _remove(self) -> None:
        sheet = self._sheet
        if sheet is not None:
            copies, visit_id = self.session.logbook.copies, self.session.visit.visit.id
            self._write(lambda: copies.remove(visit_id, sheet.copy.memory_id))

    def _write(self, work: Callable[[], None], *, onwards: bool = False) -> None:
        """Write at the desk; `onwards`: then go to the next line that is open."""
        visit_id = self.session.visit.visit.id

        def both() -> Snapshot:
            work()
            return load_snapshot(self.session.logbook, visit_id)

        def done(fresh: Snapshot) -> None:
            self.session.take(fresh)
            if onwards:
                rows = self.page().rows
                after = [i for i, row in enumerate(rows) if row.done is False]
                self._row = next((i for i in after if i > self._row), after[0] if after else self._row)
                self.session.changed.emit()

        self.session.write(both, done, kept=_KEPT)

    def _look(self) -> None:
        """Read nine patches through the device of this memory."""
        session, sheet = self.session, self._sheet
        if sheet is None:
            return
        copy, visit_id, bench = sheet.copy, session.visit.visit.id, session.visit.visit.bench

        def prepare() -> PreparedPass[VerifyPlan, Verified]:
            prepared = begin_verify(session.logbook, visit_id, copy.place)
            session.instruments.go_to_memory(bench, copy.input, copy.memory)
            return prepared

        session.navigator.go_to("hand-over")
        patterns = Connection.BY_HAND if self._by_player else bench.patterns
        session.run(VERIFY, prepare, bench=replace(bench, patterns=patterns))
