"""What stations and tools share: the logbook, the visit in view, the instruments, the pass that runs."""

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, Any, Protocol

from PySide6.QtCore import QObject, Qt, Signal

from aequitone.advice.by_hand.standing import standing_typed
from aequitone.advice.moves import Move
from aequitone.desktop import commands
from aequitone.desktop.session.audio import AudioFeedback
from aequitone.desktop.session.instruments import Instruments
from aequitone.desktop.session.live import LiveTracker
from aequitone.desktop.session.manual_entry import Asked, ManualEntry
from aequitone.desktop.session.operator import AskMove, AskReading, Question, WindowOperator
from aequitone.desktop.session.reports import Reports
from aequitone.desktop.session.running_pass import RunningPass
from aequitone.desktop.session.worker import Desk
from aequitone.diagnosis import listen_for_errors
from aequitone.instruments.ports import PatternSource
from aequitone.logbook import BenchChoice, Logbook
from aequitone.logbook.records import Connection
from aequitone.logbook.storage.lease import VisitHeldError, VisitLease
from aequitone.passes import PassType, PreparedPass, Snapshot, begin
from aequitone.wording import sentence

if TYPE_CHECKING:
    from aequitone.desktop.station import Commands, Station

KEPT = "What was there before is kept."


class Navigator(Protocol):
    """Where the window is on the route; the presenter."""

    def go_to(self, station: str) -> None:
        """Look at a station, by its id."""

    def next_station(self) -> str:
        """The title of the station after the one in view; "" at the end."""

    def saved(self) -> None:
        """Go on from Arrive, once the visit was written."""

    def close_tool(self) -> None:
        """Go back from a tool to the route."""

    def open_visit(self, visit_id: int) -> None:
        """Go to another visit of the logbook."""

    @property
    def stations(self) -> "Sequence[Station]":
        """The route."""

    def work_on_job(self, job_id: int | None) -> None:
        """Go to another job of the visit; None for the one that the logbook has as its present one."""

    def new_visit(self) -> None:
        """Leave the visit in view for an empty form."""

    def visit_again(self, visit_id: int) -> None:
        """Begin another visit to the screen of an earlier one."""

    def place_of(self, kind: PassType[Any, Any]) -> tuple[str, str]:
        """The title of a pass, and the key that goes to its station."""

    def tracker(self, snapshot: Snapshot, kind: PassType[Any, Any]) -> LiveTracker:
        """Make what follows a pass, at the station that it belongs to."""


class Session(QObject):
    """One visit at a time, or none yet."""

    changed = Signal()
    """Something may have to be drawn anew."""
    pattern_window_wanted = Signal()
    picture_wanted = Signal(str)
    """The key of a test picture to show."""
    file_wanted = Signal()
    """A file of readings is to be chosen."""
    place_wanted = Signal(str, object)
    """A place for a file is to be chosen: the name it would have, and what is called with the path."""
    other_file_wanted = Signal(str, str, object)
    """A file is to be chosen: what for, which kinds, and what is called with the path."""
    remote_wanted = Signal(object)
    """The stand-in screen whose menu is to be shown."""
    bench_chosen = Signal()
    """Instruments were chosen for a visit that has not begun."""

    _error_told = Signal(str)
    """An uncaught error, in a sentence."""

    navigator: Navigator

    def __init__(
        self, logbook: Logbook, snapshot: Snapshot | None, *, pace: float, patterns: PatternSource
    ) -> None:
        super().__init__()
        self.logbook, self.snapshot = logbook, snapshot
        self.desk, self.operator = Desk(), WindowOperator()
        self.operator.asked.connect(self._on_asked)
        self.instruments = Instruments(logbook, pace, self.operator, patterns)
        self.audio = AudioFeedback(self.desk)
        self.audio.said.connect(self.say)
        self.reports = Reports(logbook.path)
        self.reports.said.connect(self.say)
        self.running = RunningPass(logbook, self.instruments, self.operator, self.audio)
        self.running.changed.connect(self.changed)
        self.running.ended.connect(self._on_ended)
        # It may come from any thread, or from the middle of drawing.
        self._error_told.connect(self.say, Qt.ConnectionType.QueuedConnection)
        self._deaf_to_errors = listen_for_errors(self._error_told.emit)
        self.standing = False
        """Whether it is being typed where the controls of a move really stand."""
        self.asked: Asked | None = None
        """What the runner waits for."""
        self.message = ""
        """What is to be said first in the move panel, until the next key."""
        self.tabled = False
        """Whether ladders are shown as tables."""
        self.moves_listed = False
        """Whether the moves are shown instead of a station's picture."""
        self.form_bench = BenchChoice()
        """The instruments of a visit that has not begun."""
        self.bench_busy = False
        """Whether something is measured at the Bench."""
        self._entry = ManualEntry()
        self._lease: VisitLease | None = None
        self._claimed: int | None = None
        self.held_by = ""
        """Who has the visit in view, in a sentence, where that is another program; then it is only looked at."""
        self.claim()

    def toggle_table(self) -> None:
        """Show figures instead of the picture, or the picture again."""
        self.tabled = not self.tabled

    def toggle_moves(self) -> None:
        """List the moves instead of the picture, or show the picture again."""
        self.moves_listed = not self.moves_listed

    def claim(self, *, again: bool = False) -> None:
        """Become the owner of the visit in view, and let go of the one before. `again`: where another had it."""
        visit_id = self.snapshot.visit.id if self.snapshot else None
        if self._claimed == visit_id and not again:
            return
        self._let_go()
        self._claimed = visit_id
        if visit_id is None:
            return
        if self.logbook.read_only:
            self.held_by = f"The logbook {self.logbook.path} cannot be written."
            return
        try:
            self._lease = VisitLease(self.logbook.path, visit_id)
        except VisitHeldError as error:
            self.held_by = str(error)
        except OSError as error:
            self.held_by = f"Nothing can be written beside the logbook ({error.strerror})."

    def _let_go(self) -> None:
        if self._lease is not None:
            self._lease.release()
        self._lease, self.held_by = None, ""

    @property
    def bench(self) -> BenchChoice:
        """The instruments as chosen: for the visit, or in the form of one that has not begun."""
        return self.snapshot.visit.bench if self.snapshot else self.form_bench

    @property
    def visit(self) -> Snapshot:
        """The snapshot of the visit in view, where there must be one."""
        assert self.snapshot is not None
        return self.snapshot

    def say(self, sentence: str) -> None:
        """Say something in the move panel."""
        self.message = sentence
        self.changed.emit()

    def take(self, snapshot: Snapshot) -> None:
        """Go on with what is known now."""
        self.snapshot = snapshot
        self.claim()
        self.changed.emit()

    def write(
        self,
        work: Callable[[], Snapshot],
        then: Callable[[Snapshot], None] | None = None,
        *,
        failed: Callable[[], None] | None = None,
        kept: str = KEPT,
    ) -> None:
        """Write into the logbook at the desk, and take what is known afterwards, or hand it to `then`.

        What fails is said with `kept`, after `failed` was called.
        """

        def wrong(error: Exception) -> None:
            if failed is not None:
                failed()
            self.say(f"{str(error).rstrip('.')}. {kept}")

        self.desk.do(work, then or self.take, wrong)

    def choose_form_bench(self, choice: BenchChoice) -> None:
        """Choose the instruments of a visit that has not begun."""
        self.form_bench = choice
        self.bench_chosen.emit()
        self.changed.emit()

    def take_bench(self, choice: BenchChoice) -> None:
        """Show instruments as chosen before they are written."""
        visit = replace(self.visit.visit, bench=choice)
        self.take(replace(self.visit, visit=visit))

    # Passes

    def begin(self, kind: PassType[Any, Any]) -> None:
        """Plan and run a pass of the visit in view."""
        visit_id = self.visit.visit.id
        self.run(kind, lambda: begin(self.logbook, visit_id, kind))

    def run(
        self,
        kind: PassType[Any, Any],
        prepare: Callable[[], PreparedPass[Any, Any]],
        *,
        bench: BenchChoice | None = None,
    ) -> None:
        """Run a pass, unless the instruments are busy; `bench`: where it is not measured with the visit's own."""
        snapshot = self.visit
        if bench is not None:
            snapshot = replace(snapshot, visit=replace(snapshot.visit, bench=bench))
        if self.running.running or self.bench_busy:
            return
        if snapshot.visit.bench.patterns is Connection.SCREEN:
            self.pattern_window_wanted.emit()

        def prepared() -> PreparedPass[Any, Any]:
            self.instruments.go_to_job(snapshot)
            return prepare()

        self.running.begin(snapshot, kind, prepared, self.navigator.tracker(snapshot, kind))

    def ask_where_it_stands(self) -> None:
        """Ask where the controls of the move really stand."""
        self.standing = self.asked is not None and isinstance(self.asked.question, AskMove)
        self.changed.emit()

    def commands(self) -> "Commands":
        """What keys do while something is typed."""
        return {commands.CLOSE_TOOL: self._keep_the_move} if self.standing else {}

    def _keep_the_move(self) -> None:
        """Nothing is typed of where controls stand after all."""
        self.standing = False
        if self.asked is not None:
            self.asked = replace(self.asked, objection="")
        self.changed.emit()

    def _stands(self, text: str, asked: Asked, move: Move) -> None:
        """Where the controls of a move stand was typed."""
        limits = {control.role: (control.lowest, control.highest) for control in self.visit.controls}
        try:
            standing = standing_typed(text, move, limits)
        except ValueError as error:
            self.asked = replace(asked, objection=f"{sentence(str(error))} Nothing was noted.")
            self.changed.emit()
            return
        self.standing = False
        self.operator.answer(standing)

    def typed(self, text: str) -> None:
        """A reading was typed, or where a control stands."""
        asked = self.asked
        if asked is not None and self.standing and isinstance(asked.question, AskMove):
            self._stands(text, asked, asked.question.move)
            return
        if asked is None or not isinstance(asked.question, AskReading):
            return
        expected = self._entry.expected(self.snapshot, self.running.kind, self.running.live, asked.question.patch)
        self.asked, entry = self._entry.taken(text, asked, expected, self.bench.entry_form)
        if entry is not None:
            self.operator.answer(entry)
        else:
            self.changed.emit()

    def close(self) -> None:
        """The window closes: whatever runs is stopped where it can be gone on with."""
        self.running.close()

    def hang_up(self) -> None:
        """Finish what the desk has to do, and leave the instruments."""
        self._deaf_to_errors()
        self.desk.close()
        self.instruments.close()
        self._let_go()

    def _on_asked(self, question: Question | None) -> None:
        self.asked, self.standing = Asked(question) if question is not None else None, False
        self.changed.emit()

    def _on_ended(self, snapshot: Snapshot | None, sentence: str) -> None:
        self.asked = None
        if snapshot is not None:
            self.snapshot = snapshot
        self.message = sentence
        self.changed.emit()
