"""What happens at Arrive: the form as typed, filled from what is known, and written into the logbook."""

from dataclasses import replace
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from aequitone.desktop.session.instruments import BenchKeeper
from aequitone.desktop.session.worker import Desk
from aequitone.desktop.stations.arrive.form import (
    Arrival,
    Draft,
    check,
    draft_of_facts,
    draft_of_menu,
    draft_of_scenario,
    new_draft,
    with_template,
)
from aequitone.logbook import BenchChoice, ControlRecord, Logbook
from aequitone.logbook.ledger import FOUND_REASON
from aequitone.logbook.register import Named
from aequitone.passes import Snapshot, load_snapshot

if TYPE_CHECKING:
    from aequitone.standins.screen import StandInScreen


class Arriving(QObject):
    """Keeps the draft; everything that takes time is done at the desk."""

    form_changed = Signal()
    """The form is to be filled anew from `draft`."""
    said = Signal(str)
    written = Signal(object)
    """The Snapshot after the form was written."""
    remote_wanted = Signal(object)

    def __init__(self, logbook: Logbook, desk: Desk, benches: BenchKeeper, facts: Snapshot | None) -> None:
        super().__init__()
        self._logbook, self._desk, self._benches = logbook, desk, benches
        self.draft: Draft = draft_of_facts(facts) if facts else new_draft()
        self.filling = False
        """The stand-in's menu is being read."""

    def edit(self, draft: Draft, *, begun: bool) -> None:
        """The form was changed by hand; another kind of screen brings the rows that it usually has."""
        kind_changed = draft.technology != self.draft.technology
        self.draft = draft
        if kind_changed and not begun:
            self._fill(with_template(draft))

    def show(self, facts: Snapshot) -> None:
        """Fill the form from a visit."""
        self._fill(draft_of_facts(facts))

    def begin_anew(self, bench: BenchChoice) -> None:
        """An empty form for another visit, with the instruments of the last."""
        self._fill(replace(new_draft(), bench=bench))

    def begin_again(self, facts: Snapshot) -> None:
        """A form for another visit to a screen that is known: all but what it stands at now."""
        draft = draft_of_facts(facts)
        self._fill(replace(draft, controls=tuple(replace(row, found="") for row in draft.controls)))

    def look_up_screen(self) -> None:
        """Fill in the menu of a screen that the logbook knows, where no menu is typed yet."""
        draft = self.draft
        if any(row.name or row.found for row in draft.controls):
            return

        def done(menu: tuple[ControlRecord, ...]) -> None:
            if menu and self.draft == draft:
                self._fill(draft_of_menu(draft, menu))
                self.said.emit(
                    "This screen was visited before, so its menu is filled in. Note what it stands at now."
                )

        self._desk.do(lambda: self._logbook.known_menu(draft.client, draft.room, draft.screen), done, self._failed)

    def fill_from_standin(self, facts: Snapshot | None) -> None:
        """Read the stand-in's menu, and by link what it stands at."""
        draft, open_ = self.draft, ledger_open(facts)

        def work() -> Draft:
            standins = self._benches.bench(draft.bench).standins
            assert standins is not None
            told = standins.link.values() if draft.bench.link == "stand-in" and open_ else {}
            if not open_ and facts is not None:
                told = {role.value: value for role, value in facts.found_settings.items()}
            return draft_of_scenario(draft, standins.scenario, told)

        def done(filled: Draft) -> None:
            self.filling = False
            self._fill(filled)

        self.filling = True
        self._desk.do(work, done, self._failed)

    def save(self, facts: Snapshot | None) -> None:
        """Check the form and write it; what is wrong is said, and nothing of it is written."""
        if self.filling:
            self.said.emit("The controls are still being read from the stand-in; press again in a moment.")
            return
        checked = check(self.draft)
        if not isinstance(checked, Arrival):
            self.said.emit(" ".join(checked))
            return

        def done(fresh: Snapshot) -> None:
            self.written.emit(fresh)
            if checked.warnings:
                self.said.emit(f"{'. '.join(checked.warnings)}.")

        self._desk.do(lambda: _written(self._logbook, checked, facts), done, self._failed)

    def show_remote(self, choice: BenchChoice) -> None:
        """Bring the menu of the stand-in up."""

        def work() -> "StandInScreen | None":
            standins = self._benches.bench(choice).standins
            return standins.screen if standins else None

        self._desk.do(work, self.remote_wanted.emit, self._failed)

    def _fill(self, draft: Draft) -> None:
        self.draft = draft
        self.form_changed.emit()

    def _failed(self, error: Exception) -> None:
        self.filling = False
        self.said.emit(f"{str(error).rstrip('.')}. What was there before is kept.")


def ledger_open(facts: Snapshot | None) -> bool:
    """Whether "as found" may still be noted: not once controls have been turned."""
    return facts is None or facts.settings == facts.found_settings


def _written(logbook: Logbook, arrival: Arrival, facts: Snapshot | None) -> Snapshot:
    """Write a checked form; runs at the desk."""
    draft = arrival.draft
    if facts is None:
        visit = logbook.begin_visit(
            client=draft.client,
            room=draft.room,
            screen=draft.screen,
            input_=draft.input,
            memory=draft.memory,
            technology=draft.technology,
            target=draft.target,
            levels=draft.levels,
            bench=draft.bench.suited_to(draft.technology),
            controls=arrival.controls,
            device=draft.device,
        )
    else:
        visit = logbook.change_visit(
            facts.visit.id,
            target=draft.target,
            levels=draft.levels,
            bench=draft.bench,
            controls=arrival.controls,
            technology=draft.technology,
        )
    if draft.device != visit.device:
        logbook.register.rename(visit.id, Named.DEVICE, draft.device)
    if draft.plate != visit.plate:
        visit = logbook.note_plate(visit.id, draft.plate)
    if ledger_open(facts):
        ids = {control.role: control.id for control in logbook.controls(visit.screen_id)}
        known = facts.found_settings if facts else {}
        fresh = {ids[role]: value for role, value in arrival.found.items() if known.get(role) != value}
        logbook.ledger.note(visit.id, fresh, FOUND_REASON)
    return load_snapshot(logbook, visit.id)
