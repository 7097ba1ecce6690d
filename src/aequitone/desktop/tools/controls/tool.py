"""Controls: every setting at two moments, what each control acts on, and putting everything back."""

from collections.abc import Callable, Mapping
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, ClassVar, TypeVar

from aequitone.advice.roles import Role, role_of
from aequitone.advice.scopes import Scope
from aequitone.desktop import commands
from aequitone.desktop.commands import Command
from aequitone.desktop.frame.panel_state import PanelState
from aequitone.desktop.station import Commands, RoomView
from aequitone.desktop.tools.controls.commands import (
    COPIED,
    EARLIER,
    LATER,
    ONLY_CHANGED,
    OTHER_EARLIER,
    OTHER_LATER,
    PUT_BACK_ALL,
    PUT_BACK_ONE,
    REACH,
    SIGNALS,
    TAKE_OVER,
    TRY_LAST,
)
from aequitone.desktop.tools.controls.page import controls_page, controls_text
from aequitone.desktop.tools.controls.panel import controls_panel
from aequitone.desktop.tools.controls.state import ControlsPage
from aequitone.handover.incoming.settings import read_settings
from aequitone.logbook.settings.moments import Moment, moments
from aequitone.passes import PUT_BACK, WHAT_IF, Snapshot, begin_put_back, begin_what_if, from_json, load_snapshot
from aequitone.procedures.preparation.what_if import WhatIfPlan

if TYPE_CHECKING:
    from enum import StrEnum

    from aequitone.desktop.session.session import Session

Choice = TypeVar("Choice", bound="StrEnum")
_STEPS = {EARLIER: (0, -1), LATER: (0, 1), OTHER_EARLIER: (1, -1), OTHER_LATER: (1, 1)}


class ControlsTool:
    """Keeps what is looked at; what is written is written at the desk."""

    id: ClassVar[str] = "controls"
    title: ClassVar[str] = "Controls"
    opened_by: ClassVar[commands.Command] = commands.CONTROLS
    needs_visit: ClassVar[bool] = True

    def __init__(self, session: "Session") -> None:
        self.session = session
        self._compared: tuple[int | None, int | None] = (None, None)
        """The two moments; None for as found and for now."""
        self._only_changed = False
        self._row = 0
        self._known: tuple[Snapshot, tuple[Moment, ...]] | None = None

    def enter(self) -> None:
        """Begin with as found beside now."""
        self._compared, self._row = (None, None), 0

    def leave(self) -> None:
        """Be left."""

    def choose(self, row: int) -> None:
        """Look at a row."""
        self._row = row
        self.session.changed.emit()

    def page(self) -> ControlsPage:
        """What is drawn; without rows where no control is noted yet."""
        known = self._moments
        if not known:
            return ControlsPage("", "", ())
        first, second = self._numbers
        snapshot = self.session.visit
        return controls_page(snapshot, known, first, second, self._row, only_changed=self._only_changed)

    def as_text(self) -> str:
        """The table as text."""
        return controls_text(self.page())

    def panel(self) -> PanelState:
        """What the move panel says."""
        page = self.page() if self._moments else None
        session = self.session
        return controls_panel(session.visit, page, self._moments, session.message, only_changed=self._only_changed)

    def make_view(self) -> RoomView:
        """Make the table."""
        from aequitone.desktop.tools.controls.view import ControlsView

        view = ControlsView()
        view.chosen.connect(self.choose)
        return view

    def commands(self) -> Commands:
        """What its keys do."""
        return {
            ONLY_CHANGED: self._show_changed,
            PUT_BACK_ALL: self._put_back,
            PUT_BACK_ONE: self._put_back_one,
            commands.IMPORT: self._choose_list,
            TRY_LAST: self._try_last,
            TAKE_OVER: self._take_over,
            **{command: partial(self._step, *step) for command, step in _STEPS.items()},
            **{command: partial(self._note_scope, command) for command in (REACH, SIGNALS, COPIED)},
        }

    def _show_changed(self) -> None:
        self._only_changed, self._row = not self._only_changed, 0

    def _step(self, which: int, by: int) -> None:
        known = self._moments
        if not known:
            return
        numbers = list(self._numbers)
        numbers[which] = min(max(numbers[which] + by, 0), len(known) - 1)
        # The newest moment moves along as work goes on, so it is kept as "now".
        first, second = numbers
        self._compared = (first, None if second == len(known) - 1 else second)

    def _put_back_one(self) -> None:
        page = self.page()
        if page.rows and page.rows[page.at].differs:
            self._put_back(role_of(page.rows[page.at].role))

    def _put_back(self, only: Role | None = None) -> None:
        """Put everything, or one control, back to the earlier one of the two moments."""
        if not self._moments:
            return
        session, moment = self.session, self._moments[self._numbers[0]]
        visit_id = session.visit.visit.id
        session.navigator.go_to("hand-over")
        session.run(PUT_BACK, lambda: begin_put_back(session.logbook, visit_id, moment, only))

    def _choose_list(self) -> None:
        kinds = "Tables (*.csv *.tsv *.txt)"
        self.session.other_file_wanted.emit("Settings from elsewhere", kinds, self._try_list)

    def _try_list(self, path: Path) -> None:
        """Measure what the settings of a file give on this unit, and turn them back."""
        controls = self.session.visit.controls
        self._try(f"the list {path.name}", lambda: read_settings(path, controls))

    def _try_last(self) -> None:
        """Measure what the last visit's settings give now, and turn them back."""
        session, visit_id = self.session, self.session.visit.visit.id
        self._try("the last visit", lambda: session.logbook.ledger.left_before(visit_id))

    def _try(self, source: str, settings: Callable[[], Mapping[Role, int]]) -> None:
        session, visit_id = self.session, self.session.visit.visit.id

        def there(read: Mapping[Role, int]) -> None:
            session.navigator.go_to("hand-over")
            session.run(WHAT_IF, lambda: begin_what_if(session.logbook, visit_id, source, read))

        session.desk.do(settings, there, lambda error: session.say(f"{str(error).rstrip('.')}."))

    def _take_over(self) -> None:
        """Turn the controls to the settings that were tried last, to stay."""
        session, snapshot = self.session, self.session.visit
        tried, visit_id = snapshot.latest_done(WHAT_IF), snapshot.visit.id
        if tried is None:
            return
        plan = from_json(WhatIfPlan, tried.plan)
        wanted = {control.role: to for control, to in zip(plan.controls, plan.to, strict=True)}
        moment = Moment(f"in {plan.source}", tried.started, {**snapshot.settings, **wanted})
        session.navigator.go_to("hand-over")
        session.run(PUT_BACK, lambda: begin_put_back(session.logbook, visit_id, moment))

    def _note_scope(self, command: Command) -> None:
        page = self.page()
        if not page.rows:
            return
        role, session = page.rows[page.at].role, self.session
        control = next(control for control in session.visit.controls if control.role.key == role)
        fresh, visit_id = next_scope(control.scope, command), session.visit.visit.id

        def work() -> Snapshot:
            session.logbook.note_scope(control.id, fresh)
            return load_snapshot(session.logbook, visit_id)

        session.write(work)

    @property
    def _numbers(self) -> tuple[int, int]:
        first, second = self._compared
        last = len(self._moments) - 1
        return min(first or 0, last), last if second is None else min(second, last)

    @property
    def _moments(self) -> tuple[Moment, ...]:
        snapshot = self.session.visit
        if self._known is None or self._known[0] is not snapshot:
            self._known = snapshot, moments(snapshot.history)
        return self._known[1]


def next_scope(scope: Scope, command: Command) -> Scope:
    """What a key makes of what is noted now."""
    if command == REACH:
        return replace(scope, reach=_next(scope.reach))
    if command == SIGNALS:
        return replace(scope, signals=_next(scope.signals))
    return replace(scope, copied=_next(scope.copied))


def _next(choice: Choice) -> Choice:
    choices = list(type(choice))
    return choices[(choices.index(choice) + 1) % len(choices)]
