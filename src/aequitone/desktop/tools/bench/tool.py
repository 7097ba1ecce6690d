"""The Bench: the instruments, their health, and what is read beside every pass."""

from dataclasses import replace
from functools import partial
from typing import TYPE_CHECKING, Any, ClassVar

from aequitone.colorimetry import White
from aequitone.desktop import commands
from aequitone.desktop.frame.panel_state import PanelState
from aequitone.desktop.session.operator import AskReading
from aequitone.desktop.session.prompts import entry_prompt, hands_prompt
from aequitone.desktop.station import Commands, RoomView
from aequitone.desktop.tools.bench import panel
from aequitone.desktop.tools.bench.commands import (
    ADD_INSTRUMENT,
    CHECK_MODE,
    CHOOSE_PATCH,
    CORRECT,
    FIND_REFRESH,
    MATCH_WHITE,
    MEASURE_DELAY,
    WATCH_WARM_UP,
)
from aequitone.desktop.tools.bench.measuring import BenchMeasurements
from aequitone.desktop.tools.bench.spot_readings import spot_text
from aequitone.desktop.tools.bench.state import BenchState
from aequitone.logbook import BenchChoice
from aequitone.logbook.records import Connection
from aequitone.passes import Snapshot, load_snapshot
from aequitone.reference import target_named
from aequitone.reference.target import with_white

if TYPE_CHECKING:
    from aequitone.desktop.session.session import Session


class BenchTool:
    """Instruments are chosen, tested, corrected and watched here."""

    id: ClassVar[str] = "bench"
    title: ClassVar[str] = "Bench"
    opened_by: ClassVar[commands.Command] = commands.BENCH
    needs_visit: ClassVar[bool] = False

    def __init__(self, session: "Session") -> None:
        self.session = session
        self.measuring = BenchMeasurements(session.logbook, session.desk, session.instruments, session.operator)
        self.measuring.changed.connect(self._on_changed)
        self.measuring.said.connect(session.say)
        self.measuring.chosen.connect(self.change)
        self._view: Any = None
        self._as_table = False

    def enter(self) -> None:
        """Fetch what the shelf holds, and hold readings to what the visit wants."""
        self.measuring.aim_at(self.session.snapshot)
        self.measuring.enter()

    def leave(self) -> None:
        """Be left; what is read goes on until it is stopped."""

    def close(self) -> None:
        """The window closes: what is read is stopped."""
        self.measuring.close()

    def commands(self) -> Commands:
        """What its keys do."""
        reads = {
            commands.READ: self.measuring.read_once,
            commands.WATCH: self.measuring.read_live,
            WATCH_WARM_UP: self.measuring.watch_warm_up,
            MEASURE_DELAY: self.measuring.measure_delay,
            FIND_REFRESH: self.measuring.find_refresh,
        }
        judged = {CORRECT: self.measuring.correct, CHECK_MODE: self.measuring.check_mode}
        return {
            commands.STOP: self._stop,
            commands.TABLE: self._turn_table,
            CHOOSE_PATCH: self._type_patch,
            ADD_INSTRUMENT: self._type_address,
            MATCH_WHITE: self._match_white,
            **{command: partial(self._read, work) for command, work in reads.items()},
            **{command: partial(self._judge, work) for command, work in judged.items()},
        }

    def panel(self) -> PanelState:
        """What the move panel says."""
        session, measuring = self.session, self.measuring
        asked, state = session.asked, self.page()
        if asked is not None and (answer := hands_prompt(asked.question)):
            return answer
        if asked is not None and isinstance(asked.question, AskReading):
            return entry_prompt(asked, asked.question, session.bench.entry_form)
        if session.running.running and session.running.kind is not None:
            return panel.elsewhere(*session.navigator.place_of(session.running.kind))
        if measuring.running:
            return panel.busy(state, measuring.title, measuring.reading, measuring.warmth, measuring.note)
        return panel.idle(state, session.message, measuring.reading, matches=session.snapshot is not None)

    def page(self) -> BenchState:
        """What the view draws."""
        locked = self.session.running.running
        state = self.measuring.state(self.session.snapshot, self.session.bench, locked=locked)
        return replace(state, as_table=self._as_table)

    def as_text(self) -> str:
        """What is to be said of the bench, and what is known of it."""
        state = self.page()
        ailments = (f"{words} {todo}" for words, todo in state.ailments)
        spots = (spot_text(state.spots),) if state.spots else ()
        return "\n".join((*ailments, *(f"{name}\t{words}" for name, words in state.knowledge), *spots)) + "\n"

    def make_view(self) -> RoomView:
        """Make the view."""
        from aequitone.desktop.tools.bench.view import BenchView

        view = self._view = BenchView()
        view.chosen.connect(self.choose)
        view.reference_chosen.connect(self.choose_reference)
        view.address_typed.connect(self.measuring.add)
        view.patch_chosen.connect(self.choose_patch)
        return view

    def choose_reference(self, key: str) -> None:
        """The meter to correct by was chosen."""
        self.measuring.reference = key
        self.session.changed.emit()

    def choose_patch(self, words: str) -> None:
        """Another patch was chosen or typed."""
        self.measuring.choose_patch(words)
        self.session.changed.emit()

    def choose(self, choice: BenchChoice) -> None:
        """Keep what was chosen."""
        session, asked = self.session, choice
        before = session.bench
        choice = choice.without_stale(before)
        if choice != asked:
            session.say("What was corrected or measured with another instrument is no longer used.")
        if session.snapshot is None:
            session.choose_form_bench(choice)
            return
        # Shown at once, so that the next choice builds on this one; taken back if it cannot be written.
        session.take_bench(choice)
        visit_id = session.visit.visit.id

        def failed(error: Exception) -> None:
            session.take_bench(before)
            session.say(f"It could not be written: {error}. What was chosen before is kept.")

        session.desk.do(lambda: session.logbook.choose_bench(visit_id, choice), lambda _: None, failed)

    def change(self, changes: dict[str, Any]) -> None:
        """Choose some things otherwise and leave the rest as it is now."""
        self.choose(replace(self.session.bench, **changes))

    @property
    def _free(self) -> bool:
        """Whether nothing has the instruments."""
        return not (self.session.running.running or self.measuring.running)

    def _read(self, work: Any) -> None:
        if self._free:
            self._show_patterns()
            work(self.session.bench)

    def _judge(self, work: Any) -> None:
        if self._free:
            self._show_patterns()
            work(self.session.snapshot, self.session.bench)

    def _stop(self) -> None:
        self.measuring.stop()
        # A question that a pass asks is answered by stopping the pass.
        if self.session.running.running:
            self.session.running.leave()

    def _turn_table(self) -> None:
        """Show the single readings in the place of the chart, or the chart again."""
        self._as_table = not self._as_table

    def _type_patch(self) -> None:
        if self._view is not None:
            self._view.focus_patch()

    def _type_address(self) -> None:
        if self._view is not None:
            self._view.focus_address()

    def _match_white(self) -> None:
        """Want the white that was read last: of a screen beside this one, or of this one as an eye has set it."""
        session, reading = self.session, self.measuring.reading
        if session.snapshot is None or reading is None or not reading.patch.is_grey or not self._free:
            return
        x, y = (round(float(value), 4) for value in reading.xyz[:2] / max(reading.xyz.sum(), 1e-9))
        visit = session.snapshot.visit
        try:
            target = with_white(target_named(visit.target), White("", x, y))
        except ValueError as error:
            session.say(f"That cannot be a target: {error}. The target is as it was.")
            return

        def work() -> Snapshot:
            session.logbook.change_visit(
                visit.id, target=target.name, levels=visit.levels, bench=visit.bench, controls=()
            )
            return load_snapshot(session.logbook, visit.id)

        def done(fresh: Snapshot) -> None:
            session.take(fresh)
            session.say(
                f"The target white is {target.white.name} from now on; Arrive has the choice of others. What was "
                "measured before keeps the target it was measured against."
            )

        session.write(work, done, kept="The target is as it was.")

    def _on_changed(self) -> None:
        self.session.bench_busy = self.measuring.running
        self.session.changed.emit()

    def _show_patterns(self) -> None:
        if self.session.bench.patterns is Connection.SCREEN:
            self.session.pattern_window_wanted.emit()
