"""Arrive: who, which screen and memory, target, instruments, and every control as found."""

from dataclasses import replace
from functools import partial
from typing import TYPE_CHECKING, Any, ClassVar, Literal

from aequitone.advice.roles import FEATURES
from aequitone.desktop import commands
from aequitone.desktop.frame.panel_state import PanelState
from aequitone.desktop.session.live import LiveTracker
from aequitone.desktop.session.session import KEPT
from aequitone.desktop.station import Commands, RoomView
from aequitone.desktop.stations.arrive.commands import FILL, SAVE, SAVE_AND_WATCH
from aequitone.desktop.stations.arrive.form import (
    CheckedDraft,
    Draft,
    check,
    draft_of_menu,
    draft_of_scenario,
    draft_of_snapshot,
    new_draft,
    with_template,
)
from aequitone.desktop.stations.arrive.panel import arrive
from aequitone.desktop.stations.arrive.state import ArrivePage
from aequitone.logbook import BenchChoice, ControlRecord, Logbook
from aequitone.logbook.records import Connection
from aequitone.logbook.register import Named
from aequitone.logbook.settings.ledger import FOUND_REASON
from aequitone.logbook.settings.moments import strayed, strayed_words
from aequitone.passes import AS_FOUND, WATCHED, PassType, Snapshot, load_snapshot
from aequitone.passes.comparing.watched import changed_since
from aequitone.planning.pace import ARRIVE_SECONDS

if TYPE_CHECKING:
    from aequitone.desktop.session.session import Session


class ArriveStation:
    """Keeps the form as typed; everything that takes time is done at the desk."""

    id: ClassVar[str] = "arrive"
    title: ClassVar[str] = "Arrive"
    passes: ClassVar[tuple[PassType[Any, Any], ...]] = ()
    optional: ClassVar[bool] = False
    of: ClassVar[Literal["visit", "job"]] = "visit"

    def __init__(self, session: "Session") -> None:
        self.session = session
        session.bench_chosen.connect(self._take_bench)
        self.draft: Draft = draft_of_snapshot(session.snapshot) if session.snapshot else new_draft()
        self.filling = False
        """The stand-in's menu is being read."""
        self._left_blank = ""
        """What was said last of controls that have no setting as found."""
        self._revision = 0
        self._refused = 0
        self._empty = False
        """The logbook has no visit yet."""
        self._names: tuple[tuple[str, tuple[str, ...]], ...] = ()
        self._strayed = ""
        """What stands elsewhere than the last visit left it, as a sentence."""

    def is_done(self, snapshot: Snapshot) -> bool:
        """Whether controls were noted as found."""
        return bool(snapshot.found_settings)

    def seconds(self, snapshot: Snapshot) -> float:
        """What it takes, as practice has it."""
        return ARRIVE_SECONDS

    def tracker(self, snapshot: Snapshot, kind: PassType[Any, Any]) -> LiveTracker:
        """There is no pass here to follow."""
        raise NotImplementedError(f"{kind.title} does not belong to {snapshot.visit.screen} at Arrive")

    def panel(self) -> PanelState:
        """What the move panel says."""
        session = self.session
        begun = session.snapshot is not None
        found = session.snapshot.result(AS_FOUND) if session.snapshot is not None else None
        strayed = self._strayed if begun else ""
        return arrive(
            self.draft,
            session.message,
            found,
            strayed,
            begun=begun,
            empty=self._empty and not begun,
            as_it_was=self.draft.bench.automatic and as_it_was(session.snapshot),
        )

    def page(self) -> ArrivePage:
        """The form."""
        snapshot = self.session.snapshot
        return ArrivePage(
            self._revision, self.draft, snapshot is not None, found_open(snapshot), self._names, self._refused
        )

    def as_text(self) -> str:
        """Nothing: what is typed is copied field by field."""
        return ""

    def commands(self) -> Commands:
        """What its keys do."""
        return {
            SAVE: self.save,
            SAVE_AND_WATCH: partial(self.save, then_watch=True),
            FILL: self.fill_from_standin,
            commands.REMOTE: lambda: show_remote(self.session),
        }

    def make_view(self) -> RoomView:
        """Make the form."""
        from aequitone.desktop.patterns.window import screen_names
        from aequitone.desktop.stations.arrive.view import ArriveView

        view = ArriveView(screen_names())
        view.edited.connect(lambda: self.edit(view.draft()))
        view.screen_named.connect(self.look_up_screen)
        return view

    def enter(self) -> None:
        """Fill the form from the visit, and fetch the names that the logbook knows."""
        snapshot, logbook = self.session.snapshot, self.session.logbook
        if snapshot is not None:
            self._fill(draft_of_snapshot(snapshot))

            def compared(words: str) -> None:
                self._strayed = words
                self.session.changed.emit()

            self.session.desk.do(lambda: _since_last(logbook, snapshot), compared, lambda _error: None)

        def known(names: dict[str, list[str]]) -> None:
            self._empty = not names["client"]
            self._names = tuple((field, tuple(told)) for field, told in names.items())
            self.session.changed.emit()

        self.session.desk.do(self.session.logbook.register.known_names, known, lambda _error: None)

    def leave(self) -> None:
        """Nothing: what is typed stays until another visit is looked at."""

    def edit(self, draft: Draft) -> None:
        """The form was changed by hand; another kind of screen brings the rows that it usually has."""
        session = self.session
        kind_changed = draft.technology != self.draft.technology
        self.draft = draft
        if session.snapshot is None:
            session.form_bench = draft.bench
            if kind_changed:
                self._fill(with_template(draft))
        session.message = ""
        session.changed.emit()

    def begin_anew(self, bench: BenchChoice) -> None:
        """Show an empty form for another visit, with the instruments of the last."""
        self.session.form_bench = bench
        self._fill(replace(new_draft(), bench=bench))

    def begin_again(self, snapshot: Snapshot) -> None:
        """Show a form for another visit to a known screen: everything except its present settings."""
        draft = draft_of_snapshot(snapshot)
        self.session.form_bench = draft.bench
        self._fill(replace(draft, controls=tuple(replace(row, found="") for row in draft.controls)))

    def look_up_screen(self) -> None:
        """Fill in the menu of a screen that the logbook knows, where no menu is typed yet."""
        session, draft = self.session, self.draft
        if session.snapshot is not None or any(row.name or row.found for row in draft.controls):
            return

        def done(menu: tuple[ControlRecord, ...]) -> None:
            if menu and self.draft == draft:
                self._fill(draft_of_menu(draft, menu))
                session.say(
                    "This screen was visited before, so its menu is filled in. Enter its settings of today."
                )

        def work() -> tuple[ControlRecord, ...]:
            return session.logbook.known_menu(draft.client, draft.room, draft.screen)

        session.desk.do(work, done, self._failed)

    def fill_from_standin(self) -> None:
        """Read the stand-in's menu and, over the link, its present settings."""
        session, draft, snapshot = self.session, self.draft, self.session.snapshot
        open_ = found_open(snapshot)

        def work() -> Draft:
            standins = session.instruments.bench(draft.bench).standins
            assert standins is not None
            told = standins.link.values() if draft.bench.link is Connection.STANDIN and open_ else {}
            if not open_ and snapshot is not None:
                told = {role.key: value for role, value in snapshot.found_settings.items()}
            return draft_of_scenario(draft, standins.scenario, told)

        def done(filled: Draft) -> None:
            self.filling = False
            self._fill(filled)

        self.filling = True
        session.desk.do(work, done, self._failed)

    def save(self, *, then_watch: bool = False) -> None:
        """Check the form and write it; what is wrong is said, and nothing of it is written.

        `then_watch`: measure the picture as it has been watched, once it is written.
        """
        session, snapshot = self.session, self.session.snapshot
        if self.filling:
            session.say("The controls are still being read from the stand-in; press again in a moment.")
            return
        checked = check(self.draft)
        if not isinstance(checked, CheckedDraft):
            self._refused += 1
            session.say(" ".join(checked))
            return

        if found_open(snapshot) and checked.blank_words and checked.blank_words != self._left_blank:
            # Once: whoever saves again means it.
            self._left_blank = checked.blank_words
            session.say(checked.blank_words)
            return

        told: list[str] = []

        def work() -> Snapshot:
            fresh = _written(session.logbook, checked, snapshot)
            if snapshot is None:
                told.append(_since_last(session.logbook, fresh))
            told.extend(f"{words}." for words in checked.warnings)
            return fresh

        def done(fresh: Snapshot) -> None:
            session.take(fresh)
            session.navigator.saved()
            if any(told):
                session.say(" ".join(words for words in told if words))
            if then_watch and fresh.visit.bench.automatic and as_it_was(fresh):
                session.navigator.go_to("prepare")
                session.begin(WATCHED)

        session.write(work, done)

    def _take_bench(self) -> None:
        self._fill(replace(self.draft, bench=self.session.form_bench))

    def _fill(self, draft: Draft) -> None:
        self.draft = draft
        self._revision += 1
        self.session.changed.emit()

    def _failed(self, error: Exception) -> None:
        self.filling = False
        self.session.say(f"{str(error).rstrip('.')}. {KEPT}")


def show_remote(session: "Session") -> None:
    """Bring the menu of the stand-in up."""
    choice = session.bench

    def work() -> object:
        standins = session.instruments.bench(choice).standins
        return standins.screen if standins else None

    def failed(error: Exception) -> None:
        session.say(f"{str(error).rstrip('.')}. {KEPT}")

    session.desk.do(work, session.remote_wanted.emit, failed)


def found_open(snapshot: Snapshot | None) -> bool:
    """Whether "as found" may still be changed: not once controls have been turned, features left out."""
    if snapshot is None:
        return True
    found = snapshot.found_settings
    return all(found.get(role) == value for role, value in snapshot.settings.items() if role not in FEATURES)


def as_it_was(snapshot: Snapshot | None) -> bool:
    """Whether the picture is still as the client watched it, and has not been measured so."""
    if snapshot is None:
        return True
    if snapshot.done(WATCHED) or snapshot.visit.closed is not None:
        return False
    return not changed_since(snapshot)


def _since_last(logbook: Logbook, snapshot: Snapshot) -> str:
    """What stands elsewhere than the last visit left it, as a sentence; runs at the desk."""
    left = logbook.ledger.left_before(snapshot.visit.id)
    return strayed_words(strayed(snapshot.controls, left, snapshot.found_settings))


def _written(logbook: Logbook, checked: CheckedDraft, snapshot: Snapshot | None) -> Snapshot:
    """Write a checked form; runs at the desk."""
    draft = checked.draft
    if snapshot is None:
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
            controls=checked.controls,
            device=draft.device,
        )
    else:
        visit = logbook.change_visit(
            snapshot.visit.id,
            target=draft.target,
            levels=draft.levels,
            bench=draft.bench,
            controls=checked.controls,
            technology=draft.technology,
        )
    if draft.device != visit.device:
        logbook.register.rename(visit.id, Named.DEVICE, draft.device)
    if draft.plate != visit.plate:
        visit = logbook.note_plate(visit.id, draft.plate)
    ids = {control.role: control.id for control in logbook.controls(visit.screen_id)}
    known, stands = (snapshot.found_settings, snapshot.settings) if snapshot else ({}, {})
    open_ = found_open(snapshot)
    # What was never noted can be noted late: nothing here has turned it. What was switched off stays off.
    fresh = {
        ids[role]: value
        for role, value in checked.found.items()
        if role not in stands or (open_ and stands[role] == known.get(role) != value)
    }
    logbook.ledger.note(visit.id, fresh, FOUND_REASON)
    return load_snapshot(logbook, visit.id)
