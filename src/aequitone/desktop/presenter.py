"""Decides what the window shows and what a key does; draws nothing itself."""

import sys
import threading
from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QProcess, QUrl, Signal
from PySide6.QtGui import QDesktopServices

from aequitone.desktop import panels, stages
from aequitone.desktop.arrival import (
    Arrival,
    Draft,
    check,
    draft_of_facts,
    draft_of_menu,
    draft_of_scenario,
    new_draft,
)
from aequitone.desktop.benches import Benched, make_bench
from aequitone.desktop.live import Live, LiveTracker
from aequitone.desktop.people import AskReading, Person, Question
from aequitone.desktop.states import (
    Act,
    DialState,
    FootState,
    LadderState,
    PanelState,
    RouteState,
    Station,
    StripState,
)
from aequitone.desktop.worker import Desk, PassThread
from aequitone.handover import words
from aequitone.instruments.by_hand import HandEntry, parse_entry
from aequitone.instruments.ports import PatternSource
from aequitone.logbook import BenchChoice, ControlRecord, Logbook, PassKind, PassState
from aequitone.logbook.facts import VisitFacts, load_facts
from aequitone.logbook.passes import PreparedPass, begin, go_on
from aequitone.logbook.store import AS_FOUND
from aequitone.procedures.runner import Remedy
from aequitone.procedures.steps import Interrupt, PutBack, ReadAgain, StopHere
from aequitone.reference import target_named

if TYPE_CHECKING:
    from aequitone.standins.screen import StandInScreen

_WISHES: dict[Act, type[Interrupt]] = {
    Act.PUT_BACK: PutBack,
    Act.READ_AGAIN: ReadAgain,
    Act.STOP_HERE: StopHere,
}

_USUAL_CONTRAST = 400.0


@dataclass(frozen=True)
class View:
    """Everything the window shows at one moment."""

    strip: StripState
    route: RouteState
    panel: PanelState
    ladder: LadderState | None
    foot: FootState
    here: Station
    paragraphs: tuple[tuple[str, str], ...] = ()
    pictures: tuple[Path, Path] | None = None


class Presenter(QObject):
    """One visit at a time, from the logbook."""

    changed = Signal()
    form_changed = Signal()
    """The Arrive form is to be filled anew."""
    remote_wanted = Signal(object)
    patterns_wanted = Signal()

    def __init__(
        self, logbook: Logbook, facts: VisitFacts | None, *, pace: float, patterns: PatternSource
    ) -> None:
        super().__init__()
        self.logbook, self.facts, self._pace, self._patterns = logbook, facts, pace, patterns
        self._bench_lock = threading.Lock()
        self._kept: tuple[object, object, tuple[StripState, RouteState, FootState, LadderState | None]] | None = (
            None
        )
        self.desk, self.person = Desk(), Person()
        self.person.asked.connect(self._on_asked)
        self.draft: Draft = draft_of_facts(facts) if facts else new_draft()
        self.here = self._resume_station()
        self._thread: PassThread | None = None
        self._kind: PassKind | None = None
        self._live: Live | None = None
        self._asked: panels.Asked | None = None
        self._doubted: HandEntry | None = None
        self._trail = DialState(())
        self._benched: tuple[BenchChoice, Benched] | None = None
        self._message = ""
        self.filling = False
        self._report: QProcess | None = None
        self.report_folder: Path | None = None
        self.pictures: tuple[Path, Path] | None = None
        self._look_for_report()
        if facts is not None and any(record.kind is PassKind.WHITE for record in facts.passes):
            # The advice of white balance follows once the window is up.
            self._at_desk(lambda: load_facts(self.logbook, facts.visit.id))

    # What is shown

    def view(self) -> View:
        """The present moment."""
        strip, route, foot, still = self._still()
        return View(
            strip,
            route,
            self._panel(),
            self._moving_ladder() or still,
            foot,
            self.here,
            self._paragraphs() if self.here is Station.HAND_OVER else (),
            self.pictures if self.here is Station.HAND_OVER else None,
        )

    def _still(self) -> tuple[StripState, RouteState, FootState, LadderState | None]:
        """What changes only with the facts and the station, kept until one of them does."""
        facts, here = self.facts, self.here
        bench = facts.visit.bench if facts else self.draft.bench
        key = (id(facts), here, bench)
        if self._kept is None or self._kept[0] != key:
            ladder = stages.pass_ladder(facts, here) if facts and here in stages.STATION_PASS else None
            parts = (stages.strip(facts), stages.route(facts, here), stages.foot(bench), ladder)
            # The facts are kept alive with the key, so that their id stays theirs.
            self._kept = (key, facts, parts)
        return self._kept[2]

    @property
    def running(self) -> bool:
        return self._thread is not None

    @property
    def ledger_open(self) -> bool:
        """Whether "as found" may still be noted: not once controls have been turned."""
        return self.facts is None or not any(p.kind is PassKind.WHITE for p in self.facts.passes)

    def _panel(self) -> PanelState:
        facts = self.facts
        if facts is None:
            return panels.arrive(self.draft, None, self._message)
        if self._thread is not None and self._kind is not None:
            station = next(s for s, kind in stages.STATION_PASS.items() if kind is self._kind)
            if station is not self.here:
                return panels.elsewhere(self._kind, list(Station).index(station) + 1)
            return panels.running(facts, self._kind, self._live, self._asked, self._trail, self._message)
        if facts.visit.closed is not None and self.here is not Station.HAND_OVER:
            return panels.closed(facts, self.here)
        if self.here is Station.ARRIVE:
            return panels.arrive(self.draft, facts, self._message)
        if self.here is Station.HAND_OVER:
            made = self.report_folder is not None and (self.report_folder / "report.pdf").exists()
            return panels.hand_over(facts, self._message, made=made, busy=self._report is not None)
        if facts.interrupted is not None and facts.interrupted.kind is stages.STATION_PASS[self.here]:
            return panels.interrupted(facts, self._message)
        if self.here is Station.WHITE:
            return panels.white_idle(facts, self._message)
        return panels.grey_idle(facts, self.here, self._message)

    def _moving_ladder(self) -> LadderState | None:
        """The ladder of the pass that runs at this station, if one does."""
        facts, live = self.facts, self._live
        if (
            facts is None
            or self._thread is None
            or live is None
            or stages.STATION_PASS.get(self.here) is not self._kind
        ):
            return None
        if self._kind is PassKind.WHITE:
            return stages.white_ladder(facts, live.state, live.percent)
        rows = tuple(replace(row, here=row.percent == live.percent) for row in live.rows)
        subtitle = "as it is found" if self._kind is PassKind.AS_FOUND else "proof, with as found behind it"
        return LadderState("Grey ladder", subtitle, rows)

    def _paragraphs(self) -> tuple[tuple[str, str], ...]:
        facts = self.facts
        if facts is None or facts.as_found is None:
            return (("Nothing to hand over yet", "Grey as found has not been read to its end."),)
        told = [("What was found", words.found_words(facts.as_found)), ("What was done", words.done_words(facts))]
        if facts.proof is not None:
            compared = words.compared_words(facts.as_found, facts.proof)
            told.append(("How it is now", f"{words.found_words(facts.proof)} {compared}"))
        told.append(
            (
                "Settings, as found → as left",
                "\n".join(
                    f"{name}\t{found}\t{'as found' if found == left else f'→ {left}'}"
                    for name, found, left in words.settings_rows(facts)
                ),
            )
        )
        return tuple(told)

    # What keys do

    def act(self, act: Act) -> None:
        """Carry out what a key means now."""
        self._message = ""
        match act:
            case Act.SAVE_ARRIVAL:
                self._save_arrival()
            case Act.READ_CONTROLS:
                self._fill_from_standin()
            case Act.BEGIN if self._thread is None and self.facts is not None:
                facts, kind = self.facts, stages.STATION_PASS[self.here]
                self._run(kind, lambda: begin(self.logbook, facts.visit, kind))
            case Act.GO_ON if self.facts is not None and self.facts.interrupted is not None:
                record = self.facts.interrupted
                self._run(record.kind, lambda: go_on(record))
            case Act.SET_ASIDE if self.facts is not None and self.facts.interrupted is not None:
                self._at_desk(self._set_aside(self.facts, self.facts.interrupted.id))
            case Act.PAUSE:
                self._pause()
            case Act.LEAVE:
                self.leave()
            case Act.TURNED | Act.TRY_AGAIN:
                self.person.answer(Remedy.TRY_AGAIN if act is Act.TRY_AGAIN else None)
            case Act.PUT_BACK | Act.READ_AGAIN | Act.STOP_HERE:
                if self._thread is not None and self._thread.runner is not None:
                    self._thread.runner.wish(_WISHES[act])
                    self.person.cancel()
            case Act.NEXT_STATION:
                order = list(Station)
                self.go_to(order[min(order.index(self.here) + 1, len(order) - 1)])
            case Act.MAKE_REPORT:
                self._make_report()
            case Act.OPEN_REPORT:
                self._open_report()
            case Act.CLOSE_VISIT if self.facts is not None:
                self._at_desk(self._close_visit(self.facts))
            case Act.NEW_VISIT:
                self._new_visit()
            case Act.REMOTE:
                self._show_remote()
            case Act.PATTERNS:
                self.patterns_wanted.emit()
        self.changed.emit()

    def go_to(self, station: Station) -> None:
        """Look at another station."""
        if self.facts is None and station is not Station.ARRIVE:
            self._message = "Note the visit first."
        else:
            self.here = station
            self._message = ""
            if station is Station.ARRIVE and self.facts is not None:
                self.draft = draft_of_facts(self.facts)
                self.form_changed.emit()
        self.changed.emit()

    def typed(self, text: str) -> None:
        """A reading was typed."""
        if self._asked is None or not isinstance(self._asked.question, AskReading):
            return
        percent = self._asked.question.patch.percent
        white = self._live.white if self._live else None
        facts = self.facts
        expected = None
        if white is not None and facts is not None:
            wanted = float(target_named(facts.visit.target).grey(percent, white)[1])
            # A power law wants no light at all of black; a screen's black is a few hundredths of a percent.
            expected = max(wanted, white / _USUAL_CONTRAST)
        try:
            entry = parse_entry(text, expected)
        except ValueError as error:
            self._asked = replace(self._asked, objection=f"{error}. Nothing was kept of it.")
            self.changed.emit()
            return
        if entry.doubts and entry != self._doubted:
            self._doubted = entry
            self._asked = replace(
                self._asked, objection=f"{'; '.join(entry.doubts)}. Enter again to keep it, or mend it."
            )
            self.changed.emit()
            return
        self._doubted = None
        self.person.answer(entry)

    def edited(self, draft: Draft) -> None:
        """The form of Arrive was changed."""
        self.draft = draft
        self._message = ""
        self.changed.emit()

    # Arrive

    def look_up_screen(self) -> None:
        """Fill in the menu of a screen that the logbook knows, where no menu is typed yet."""
        draft = self.draft
        if self.facts is not None or any(row.name or row.found for row in draft.controls):
            return

        def done(menu: tuple[ControlRecord, ...]) -> None:
            if menu and self.draft == draft:
                self.draft = draft_of_menu(draft, menu)
                self._message = (
                    "This screen was visited before, so its menu is filled in. Note what it stands at now."
                )
                self.form_changed.emit()
                self.changed.emit()

        self.desk.do(lambda: self.logbook.known_menu(draft.client, draft.room, draft.screen), done, self._say)

    def _save_arrival(self) -> None:
        if self.filling:
            self._message = "The controls are still being read from the stand-in; press again in a moment."
            return
        checked = check(self.draft)
        if not isinstance(checked, Arrival):
            self._message = " ".join(checked)
            return
        facts, ledger_open = self.facts, self.ledger_open
        self._at_desk(lambda: _written(self.logbook, checked, facts, ledger_open), self._arrived)

    def _arrived(self, facts: VisitFacts) -> None:
        self._take(facts)
        self.go_to(Station.AS_FOUND if not facts.done(PassKind.AS_FOUND) else self.here)

    def _fill_from_standin(self) -> None:
        draft, facts, ledger_open = self.draft, self.facts, self.ledger_open

        def work() -> Draft:
            standins = self._bench(draft.bench).standins
            assert standins is not None
            told = standins.link.values() if draft.bench.link == "stand-in" and ledger_open else {}
            if not ledger_open and facts is not None:
                told = {role.value: value for role, value in facts.found_settings.items()}
            return draft_of_scenario(draft, standins.scenario, told)

        def done(filled: Draft) -> None:
            self.filling = False
            self.draft = filled
            self.form_changed.emit()
            self.changed.emit()

        def failed(error: Exception) -> None:
            self.filling = False
            self._say(error)

        self.filling = True
        self.desk.do(work, done, failed)

    def _new_visit(self) -> None:
        bench = self.facts.visit.bench if self.facts else BenchChoice()
        self.facts, self.here = None, Station.ARRIVE
        self.draft = replace(new_draft(), bench=bench)
        self._live, self._trail, self.pictures, self.report_folder = None, DialState(()), None, None
        self.form_changed.emit()

    # Passes

    def _run(self, kind: PassKind, prepare: Callable[[], PreparedPass]) -> None:
        facts = self.facts
        if facts is None or self._thread is not None:
            return
        choice, found = facts.visit.bench, facts.as_found
        if choice.patterns != "stand-in":
            self.patterns_wanted.emit()
        tracker = LiveTracker(
            target_named(facts.visit.target),
            facts.visit.levels,
            white=found.white if found and kind is PassKind.WHITE else None,
            black=found.black if found and kind is not PassKind.AS_FOUND else 0.0,
            ghost=found if found and kind is not PassKind.AS_FOUND else None,
        )
        self._kind, self._live, self._trail = kind, None, DialState(())
        thread = PassThread(
            self.logbook, facts.visit.id, lambda: self._bench(choice).bench, self.person, prepare, tracker.hear
        )
        thread.heard.connect(self._on_live)
        thread.ended.connect(self._on_ended)
        self._thread = thread
        thread.start()

    def _on_live(self, live: Live) -> None:
        self._live = live
        if live.state is not None and self.facts is not None:
            self._trail = stages.white_trail(self.facts, live.state, self._trail.trail)
        self.changed.emit()

    def _on_asked(self, question: Question | None) -> None:
        self._asked = panels.Asked(question) if question is not None else None
        self._doubted = None
        self.changed.emit()

    def _on_ended(self, facts: VisitFacts | None, sentence: str) -> None:
        thread, self._thread = self._thread, None
        if thread is not None:
            thread.wait()
        self._live, self._kind, self._asked = None, None, None
        if facts is not None:
            self._take(facts)
        self._message = sentence
        self.changed.emit()

    def _pause(self) -> None:
        runner = self._thread.runner if self._thread else None
        if runner is None:
            return
        if self._live is not None and self._live.paused:
            runner.go_on()
        else:
            runner.pause()
            self.person.cancel()

    def leave(self) -> None:
        """Stop the running pass so that it can be gone on with."""
        if self._thread is not None and self._thread.runner is not None:
            self._thread.runner.abandon()
            self.person.cancel()

    def close(self) -> None:
        """The window closes: whatever runs is stopped where it can be gone on with."""
        self.leave()
        if self._thread is not None:
            self._thread.wait(5000)
        if self._report is not None:
            self._report.waitForFinished(5000)
        self.desk.close()

    def _set_aside(self, facts: VisitFacts, pass_id: int) -> Callable[[], VisitFacts]:
        def work() -> VisitFacts:
            self.logbook.end_pass(pass_id, PassState.SET_ASIDE, "set aside by the person")
            return load_facts(self.logbook, facts.visit.id)

        return work

    # Hand over

    def _look_for_report(self) -> None:
        """The report that is there already, from an earlier start."""
        folder = self.logbook.path.parent / "reports" / f"visit-{self.facts.visit.id}" if self.facts else None
        self.report_folder = folder if folder is not None and (folder / "report.pdf").exists() else None
        both = (folder / "before.png", folder / "after.png") if self.report_folder and folder else None
        self.pictures = both if both and all(path.exists() for path in both) else None

    def _make_report(self) -> None:
        if self.facts is None or self._report is not None:
            return
        # A process of its own: laying out pages in a thread would hold the interpreter from the window.
        visit = self.facts.visit.id
        out = self.logbook.path.parent / "reports" / f"visit-{visit}"
        process = QProcess(self)
        process.finished.connect(lambda code, _status: self._on_report(code, process))
        process.errorOccurred.connect(lambda _error: self._on_report(-1, process))
        self._report = process
        process.start(
            sys.executable,
            [
                "-m",
                "aequitone.cli",
                "report",
                "--logbook",
                str(self.logbook.path),
                "--visit",
                str(visit),
                "--out",
                str(out),
            ],
        )

    def _on_report(self, code: int, process: QProcess) -> None:
        if self._report is not process:
            return
        self._report = None
        said = bytes(process.readAllStandardError().data()).decode(errors="replace").strip()
        self._look_for_report()
        if code == 0:
            self._message = f"It lies in {self.report_folder}."
        else:
            self._message = f"The report was not made. {said.removeprefix('aequitone: ')}"
        self.changed.emit()

    def _open_report(self) -> None:
        if self.report_folder is not None:
            pdf = self.report_folder / "report.pdf"
            if not QDesktopServices.openUrl(QUrl.fromLocalFile(str(pdf))):
                self._message = f"No program here opens a PDF. The report is {pdf}."

    def _close_visit(self, facts: VisitFacts) -> Callable[[], VisitFacts]:
        def work() -> VisitFacts:
            self.logbook.close_visit(facts.visit.id)
            return load_facts(self.logbook, facts.visit.id)

        return work

    # Plumbing

    def _take(self, facts: VisitFacts) -> None:
        self.facts = facts
        self._look_for_report()

    def _at_desk(self, work: Callable[[], VisitFacts], then: Callable[[VisitFacts], None] | None = None) -> None:
        def done(facts: VisitFacts) -> None:
            (then or self._take)(facts)
            self.changed.emit()

        def failed(error: Exception) -> None:
            self._say(f"It could not be written: {error}. What was there before is kept.")

        self.desk.do(work, done, failed)

    def _say(self, words: object) -> None:
        self._message = str(words)
        self.changed.emit()

    def _bench(self, choice: BenchChoice) -> Benched:
        """The bench of a choice, the same one as long as the choice is; not for Qt's thread."""
        with self._bench_lock:
            if self._benched is None or self._benched[0] != choice:
                made = make_bench(choice, self.logbook.path, self._pace, self.person, self._patterns)
                self._benched = (choice, made)
            return self._benched[1]

    def _show_remote(self) -> None:
        choice = self.facts.visit.bench if self.facts else self.draft.bench

        def work() -> "StandInScreen | None":
            standins = self._bench(choice).standins
            return standins.screen if standins else None

        def done(screen: "StandInScreen | None") -> None:
            if screen is not None:
                self.remote_wanted.emit(screen)

        self.desk.do(work, done, self._say)

    def _resume_station(self) -> Station:
        """Where a visit goes on: at an interrupted pass, or at the first station that is not done."""
        facts = self.facts
        if facts is None:
            return Station.ARRIVE
        if facts.visit.closed is not None:
            return Station.HAND_OVER
        if facts.interrupted is not None:
            return next(s for s, kind in stages.STATION_PASS.items() if kind is facts.interrupted.kind)
        return next((s for s in Station if not stages.station_done(facts, s)), Station.HAND_OVER)


def _written(logbook: Logbook, arrival: Arrival, facts: VisitFacts | None, ledger_open: bool) -> VisitFacts:
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
            bench=draft.bench,
            controls=arrival.controls,
        )
    else:
        visit = logbook.change_visit(
            facts.visit.id, target=draft.target, levels=draft.levels, bench=draft.bench, controls=arrival.controls
        )
    if ledger_open:
        ids = {control.role: control.id for control in logbook.controls(visit.screen_id)}
        known = facts.found_settings if facts else {}
        fresh = {ids[role]: value for role, value in arrival.found.items() if known.get(role) != value}
        logbook.note_settings(visit.id, fresh, AS_FOUND)
    return load_facts(logbook, visit.id)
