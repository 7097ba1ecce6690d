"""Decides what the window shows and what a key does; draws nothing itself."""

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import QObject, Signal

from aequitone.desktop import panels, stages, visit_work
from aequitone.desktop.rooms import Rooms
from aequitone.desktop.scene import Scene
from aequitone.desktop.session import running_pass as passing
from aequitone.desktop.session.audio import Hearing
from aequitone.desktop.session.instruments import BenchKeeper
from aequitone.desktop.session.manual_entry import Typist, expected_light
from aequitone.desktop.session.operator import AskReading, Person, Question
from aequitone.desktop.session.worker import Desk
from aequitone.desktop.states import (
    Act,
    Station,
)
from aequitone.desktop.station_panels import StationPanels
from aequitone.desktop.stations.arrive.controller import Arriving
from aequitone.desktop.stations.arrive.form import Draft
from aequitone.desktop.stations.hand_over import debts as owing
from aequitone.desktop.stations.hand_over.report import Reports
from aequitone.desktop.stations.levels import by_eye as eye_room
from aequitone.desktop.stations.levels import page as levels_page
from aequitone.desktop.stations.prepare import controller as preparing
from aequitone.desktop.stations.white import panel as white_panels
from aequitone.desktop.tools.bench.controller import BenchPresenter
from aequitone.desktop.tools.controls import controller as ledger_room
from aequitone.desktop.tools.visits import controller as finding
from aequitone.desktop.view import View
from aequitone.instruments.ports import PatternSource
from aequitone.logbook import BenchChoice, Logbook
from aequitone.passes import (
    AS_FOUND,
    PUT_BACK,
    UNIFORMITY,
    PassType,
    PreparedPass,
    Snapshot,
    begin,
    begin_put_back,
    go_on,
    load_snapshot,
    pass_type,
)
from aequitone.procedures.runner import Remedy


class Presenter(QObject):
    """One visit at a time, from the logbook."""

    changed = Signal()
    patterns_wanted = Signal()
    picture_wanted = Signal(str)
    """The key of a test picture to show."""
    file_wanted = Signal()
    """A file of readings is to be chosen, for `import_file`."""

    def __init__(self, logbook: Logbook, facts: Snapshot | None, *, pace: float, patterns: PatternSource) -> None:
        super().__init__()
        self.logbook, self.facts = logbook, facts
        self.desk, self.person = Desk(), Person()
        self.person.asked.connect(self._on_asked)
        self._benches = BenchKeeper(logbook, pace, self.person, patterns)
        self.passing = passing.Passing(logbook, self._benches, self.person, Hearing(self.desk))
        self.passing.hearing.said.connect(self._say)
        self.passing.changed.connect(self.changed)
        self.passing.ended.connect(self._on_ended)
        self.bench = BenchPresenter(logbook, self.desk, self._benches, self.person)
        self.bench.changed.connect(self.changed)
        self.bench.said.connect(self._say)
        self.bench.patterns_wanted.connect(self.patterns_wanted)
        self.bench.visit_chosen.connect(self._bench_chosen)
        self.bench.draft_chosen.connect(self._draft_chosen)
        self.arriving = Arriving(logbook, self.desk, self._benches, facts)
        self.arriving.said.connect(self._say)
        self.arriving.form_changed.connect(self.changed)
        self.arriving.written.connect(self._arrived)
        self.preparing = preparing.Preparing(logbook, self.desk, self._benches)
        self.preparing.changed.connect(self.changed)
        self.eye = eye_room.EyeRoom(logbook, self.desk, self._benches)
        self.eye.changed.connect(self.changed)
        self.eye.picture_wanted.connect(self.picture_wanted)
        self._owing = owing.Owing(logbook, self.desk, self._benches)
        self.ledger = ledger_room.LedgerRoom(logbook, self.desk)
        self.ledger.changed.connect(self.changed)
        for room in (self.preparing, self.eye, self._owing, self.ledger):
            room.said.connect(self._say)
            room.written.connect(self._written)
        self.reports = Reports(logbook.path)
        self.reports.said.connect(self._say)
        self.reports.look(facts.visit.id if facts else None)
        self.finding = finding.Finding(logbook, self.desk)
        self.finding.changed.connect(self.changed)
        self.finding.said.connect(self._say)
        rooms = Rooms(
            self.arriving, self.passing, self.preparing, self.eye, self.reports, self.finding, self.ledger
        )
        self._panels, self._scene = StationPanels(rooms), Scene(rooms)
        self.here = self._resume_station()
        self._asked: panels.Asked | None = None
        self._typist = Typist()
        self._message = ""
        if facts is not None:
            self._work_out(facts)

    # What is shown

    def view(self) -> View:
        """The present moment."""
        self.bench.look(self.facts, self._choice)
        bench = self.bench.state(locked=self.running) if self.bench.open else None
        panel = (
            self.bench.panel(bench, self._asked, self._passing_station, self._message)
            if bench
            else self._panels.panel(self.facts, self.here, self._asked, self._message)
        )
        return self._scene.view(self.facts, self.here, self._choice, panel, bench)

    @property
    def running(self) -> bool:
        return self.passing.running

    @property
    def _choice(self) -> BenchChoice:
        """The instruments as chosen: for the visit, or in the form of one that has not begun."""
        return self.facts.visit.bench if self.facts else self.draft.bench

    @property
    def _passing_station(self) -> Station | None:
        """The station whose pass is running."""
        kind = self.passing.kind if self.running else None
        return stages.PASS_STATION[kind] if kind is not None else None

    @property
    def draft(self) -> Draft:
        """The form of Arrive as it stands."""
        return self.arriving.draft

    # What keys do

    def act(self, act: Act) -> None:
        """Carry out what a key means now."""
        self._message = ""
        match act:
            case Act.SAVE_ARRIVAL:
                self.arriving.save(self.facts)
            case Act.READ_CONTROLS:
                self.arriving.fill_from_standin(self.facts)
            case Act.BEGIN if not self.running and self.facts is not None:
                self._begin(self.facts)
            case _ if act in preparing.ACTS and self.facts is not None and not self.running:
                self.preparing.act(act, self.facts)
            case _ if act in eye_room.ACTS and self.facts is not None:
                self.eye.act(act, self.facts)
            case _ if act in ledger_room.ACTS and self.facts is not None:
                self.ledger.act(act, self.facts)
            case Act.PUT_ALL_BACK if self.facts is not None and not self.running:
                self._put_all_back(self.facts)
            case _ if act in owing.ACTS and self.facts is not None:
                self._owing.act(act, self.facts)
            case Act.LIGHT if self.facts is not None and not self.running:
                visit_id, light = self.facts.visit.id, levels_page.next_light(self.facts)
                self._at_desk(lambda: visit_work.choose_light(self.logbook, visit_id, light))
            case _ if act in finding.ACTS:
                self.finding.act(act)
            case Act.VISIT_AGAIN if self.finding.chosen is not None and not self.running:
                self._visit_again(self.finding.chosen)
            case Act.OPEN_VISIT if self.finding.chosen is not None:
                self.open_visit(self.finding.chosen)
            case Act.EVENNESS if self.facts is not None and not self.running:
                visit = self.facts.visit
                self._run(UNIFORMITY, lambda: begin(self.logbook, visit.id, UNIFORMITY))
            case Act.BY_EYE if self.facts is not None and not self.running:
                self.eye.enter(self.facts)
            case Act.PICTURE if self.facts is not None:
                self.picture_wanted.emit(self.eye.picture or self.preparing.picture(self.facts))
            case Act.GO_ON if self.facts is not None and self.facts.interrupted is not None:
                record = self.facts.interrupted
                self._run(pass_type(record.kind), lambda: go_on(record))
            case Act.SET_ASIDE if self.facts is not None and self.facts.interrupted is not None:
                visit_id, pass_id = self.facts.visit.id, self.facts.interrupted.id
                self._at_desk(lambda: visit_work.set_aside(self.logbook, visit_id, pass_id))
            case _ if act in passing.ACTS:
                self.passing.act(act)
            case Act.STOP_FIGURE | Act.STOP_FORMULA | Act.PAIR if self.facts is not None and not self.running:
                visit_id, chosen = self.facts.visit.id, white_panels.chosen_by(act, self.facts)
                self._at_desk(lambda: visit_work.choose_white(self.logbook, visit_id, *chosen))
            case Act.TURNED | Act.TRY_AGAIN:
                self.person.answer(Remedy.TRY_AGAIN if act is Act.TRY_AGAIN else None)
            case Act.NEXT_STATION:
                order = list(Station)
                self.go_to(order[min(order.index(self.here) + 1, len(order) - 1)])
            case Act.MAKE_REPORT if self.facts is not None:
                self.reports.make(self.facts.visit.id)
            case Act.OPEN_REPORT:
                self.reports.open()
            case Act.CLOSE_VISIT if self.facts is not None:
                visit_id = self.facts.visit.id
                self._at_desk(lambda: visit_work.close_visit(self.logbook, visit_id))
            case Act.NEW_VISIT:
                self._new_visit()
            case Act.REMOTE:
                self.arriving.show_remote(self._choice)
            case Act.PATTERNS:
                self.patterns_wanted.emit()
            case Act.IMPORT if not self.running:
                self.file_wanted.emit()
            case _:
                self.bench.act(act, taken=self.running)
        self.changed.emit()

    def go_to(self, station: Station) -> None:
        """Look at another station."""
        if self.facts is None and station is not Station.ARRIVE:
            self._message = "Note the visit first."
        else:
            self.here, self.bench.open = station, False
            self.finding.leave()
            self.ledger.leave()
            if self.eye.open:
                self.eye.leave()
            self._message = ""
            if station is Station.ARRIVE and self.facts is not None:
                self.arriving.show(self.facts)
        self.changed.emit()

    def typed(self, text: str) -> None:
        """A reading was typed, or a name."""
        if self.finding.renaming is not None:
            self.finding.typed(text)
            return
        if self._asked is None or not isinstance(self._asked.question, AskReading):
            return
        expected = expected_light(self.facts, self.passing.kind, self.passing.live, self._asked.question.patch)
        self._asked, entry = self._typist.taken(text, self._asked, expected, self._choice.entry_form)
        if entry is not None:
            self.person.answer(entry)
        else:
            self.changed.emit()

    def import_file(self, path: Path) -> None:
        """Enter the readings of a file as the pass of this station."""
        facts, kind = self.facts, stages.STATION_PASS.get(self.here)
        if facts is None or kind is None or self.running:
            return

        def done(fresh: Snapshot) -> None:
            self._take(fresh)
            self._say(f"The pass was taken from {path.name}. It was not measured here, and the record says so.")

        self.desk.do(
            lambda: visit_work.take_from_file(self.logbook, facts.visit, kind, path),
            done,
            lambda error: self._say(str(error)),
        )

    def edited(self, draft: Draft) -> None:
        """The form of Arrive was changed."""
        self.arriving.edit(draft, begun=self.facts is not None)
        self._message = ""
        self.changed.emit()

    def _bench_chosen(self, facts: Snapshot) -> None:
        self._take(facts)
        self.changed.emit()

    def _draft_chosen(self, choice: BenchChoice) -> None:
        self.arriving.draft = replace(self.draft, bench=choice)
        self.arriving.form_changed.emit()
        self.changed.emit()

    def _arrived(self, facts: Snapshot) -> None:
        self._take(facts)
        self.go_to(Station.PREPARE if not facts.done(AS_FOUND) else self.here)

    def _new_visit(self) -> None:
        bench = self.facts.visit.bench if self.facts else BenchChoice()
        self.facts, self.here = None, Station.ARRIVE
        self.passing.forget()
        self.reports.look(None)
        self.arriving.begin_anew(bench)

    def _visit_again(self, visit_id: int) -> None:
        """Begin another visit to the screen of an earlier one."""

        def there(facts: Snapshot) -> None:
            self._new_visit()
            self.go_to(Station.ARRIVE)
            self.arriving.begin_again(facts)

        self._at_desk(lambda: load_snapshot(self.logbook, visit_id, advice=False), there)

    # Passes

    def _begin(self, facts: Snapshot) -> None:
        """Begin the pass of this station, or of the line of the checklist."""
        at_line = self.preparing.kind(facts) if self.here is Station.PREPARE else None
        kind = at_line or stages.STATION_PASS.get(self.here)
        if kind is not None:
            self._run(kind, lambda: begin(self.logbook, facts.visit.id, kind))

    def _put_all_back(self, facts: Snapshot) -> None:
        moment = self.ledger.moment(facts)
        if moment is not None:
            self.go_to(Station.HAND_OVER)
            self._run(PUT_BACK, lambda: begin_put_back(self.logbook, facts.visit.id, moment))

    def _run(self, kind: PassType, prepare: Callable[[], PreparedPass]) -> None:
        facts = self.facts
        if facts is None or self.passing.running or self.bench.room.running:
            return
        if facts.visit.bench.patterns == "screen":
            self.patterns_wanted.emit()
        self.passing.begin(facts, kind, prepare)

    def _on_asked(self, question: Question | None) -> None:
        self._asked = panels.Asked(question) if question is not None else None
        self.changed.emit()

    def _on_ended(self, facts: Snapshot | None, sentence: str) -> None:
        self._asked = None
        if facts is not None:
            self._take(facts)
        self._message = sentence
        self.changed.emit()

    def close(self) -> None:
        """The window closes: whatever runs is stopped where it can be gone on with."""
        self.passing.close()
        self.bench.room.close()
        self.reports.wait(5000)
        self.desk.close()
        self._benches.close()

    def open_visit(self, visit_id: int) -> None:
        """Go to another visit of the logbook; nothing that runs is stopped for it."""
        if self.running or self.bench.room.running:
            self._say("Something is being measured; stop it first.")
            return

        def there(facts: Snapshot) -> None:
            self._take(facts)
            self.preparing.go_to(None)
            self._message = ""
            self.go_to(self._resume_station())
            self._work_out(facts)

        self._at_desk(lambda: load_snapshot(self.logbook, visit_id, advice=False), there)

    # Plumbing

    def _work_out(self, facts: Snapshot) -> None:
        """The advice of levels and white balance follows once there is something to look at."""
        if any(pass_type(record.kind).adjusts for record in facts.passes):
            self._at_desk(lambda: load_snapshot(self.logbook, facts.visit.id))

    def _written(self, facts: Snapshot) -> None:
        self._take(facts)
        self.changed.emit()

    def _take(self, facts: Snapshot) -> None:
        self.facts = facts
        self.reports.look(facts.visit.id)

    def _at_desk(self, work: Callable[[], Snapshot], then: Callable[[Snapshot], None] | None = None) -> None:
        def done(facts: Snapshot) -> None:
            (then or self._take)(facts)
            self.changed.emit()

        def failed(error: Exception) -> None:
            self._say(f"It could not be written: {error}. What was there before is kept.")

        self.desk.do(work, done, failed)

    def _say(self, sentence: str) -> None:
        self._message = sentence
        self.changed.emit()

    def _resume_station(self) -> Station:
        """Where a visit goes on: at an interrupted pass, or at the first station that is not done."""
        facts = self.facts
        if facts is None:
            return Station.ARRIVE
        if facts.visit.closed is not None:
            return Station.HAND_OVER
        if facts.interrupted is not None:
            return stages.PASS_STATION[pass_type(facts.interrupted.kind)]
        return next((s for s in Station if not stages.station_done(facts, s)), Station.HAND_OVER)
