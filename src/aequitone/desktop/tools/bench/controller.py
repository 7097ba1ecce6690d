"""Decides what the Bench shows and what its keys do; draws nothing itself."""

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from PySide6.QtCore import QObject, Signal

from aequitone.colorimetry import White
from aequitone.desktop import panels, visit_work
from aequitone.desktop.session.instruments import BenchKeeper
from aequitone.desktop.session.operator import AskReading, Person
from aequitone.desktop.session.worker import Desk
from aequitone.desktop.states import Act, PanelState, Station
from aequitone.desktop.tools.bench import panel as bench_panels
from aequitone.desktop.tools.bench.measuring import BenchRoom
from aequitone.desktop.tools.bench.state import BenchState
from aequitone.logbook import BenchChoice, Logbook
from aequitone.passes import Snapshot
from aequitone.reference import target_named
from aequitone.reference.target import with_white

_READS: dict[Act, Callable[[BenchRoom, BenchChoice], None]] = {
    Act.READ_ONCE: BenchRoom.read_once,
    Act.LIVE: BenchRoom.read_live,
    Act.WARM_UP: BenchRoom.watch_warm_up,
    Act.DELAY: BenchRoom.measure_delay,
    Act.FIND_REFRESH: BenchRoom.find_refresh,
}


class BenchPresenter(QObject):
    """The Bench beside the stations of a visit."""

    changed = Signal()
    said = Signal(str)
    patterns_wanted = Signal()
    visit_chosen = Signal(object)
    """Snapshot whose bench was chosen anew."""
    draft_chosen = Signal(object)
    """A BenchChoice for a visit that has not begun."""

    def __init__(self, logbook: Logbook, desk: Desk, benches: BenchKeeper, person: Person) -> None:
        super().__init__()
        self._logbook, self._desk = logbook, desk
        self.room = BenchRoom(logbook, desk, benches, person)
        self.room.changed.connect(self.changed)
        self.room.said.connect(self.said)
        self.room.chosen.connect(self.change)
        self.open = False
        self._facts: Snapshot | None = None
        self._choice = BenchChoice()

    @property
    def choice(self) -> BenchChoice:
        """The instruments as they are chosen."""
        return self._choice

    def look(self, facts: Snapshot | None, choice: BenchChoice) -> None:
        """Whose bench this is: a visit's, or that of a form."""
        self._facts, self._choice = facts, choice

    def go(self, there: bool) -> None:
        """Open the Bench, or leave it."""
        self.open = there
        if there:
            self.room.enter()
        self.changed.emit()

    def act(self, act: Act, *, taken: bool) -> None:
        """Carry out a key of the Bench; `taken`: a pass has the instruments."""
        if act is Act.BENCH:
            self.go(not self.open)
        elif act is Act.STOP_BENCH:
            self.room.stop()
        elif taken or self.room.running:
            return
        elif act is Act.MATCH_WHITE:
            self._match_white()
        elif act in (Act.CORRECT, Act.CHECK_MODE):
            self._show_patterns()
            work = self.room.correct if act is Act.CORRECT else self.room.check_mode
            work(self._facts, self._choice)
        elif act in _READS:
            self._show_patterns()
            _READS[act](self.room, self._choice)

    def add(self, address: str) -> None:
        """An address was typed."""
        self.room.add(address)

    def choose_reference(self, key: str) -> None:
        """The meter to correct by was chosen."""
        self.room.reference = key
        self.changed.emit()

    def choose(self, choice: BenchChoice) -> None:
        """Keep what was chosen."""
        facts, asked = self._facts, choice
        choice = choice.without_stale(self._choice)
        if choice != asked:
            self.said.emit("What was corrected or measured with another instrument is no longer used.")
        if facts is None:
            self._choice = choice
            self.draft_chosen.emit(choice)
            return

        # Shown at once, so that the next choice builds on this one; taken back if it cannot be written.
        self._choice = choice
        self._facts = replace(facts, visit=replace(facts.visit, bench=choice))
        self.visit_chosen.emit(self._facts)

        def failed(error: Exception) -> None:
            self.said.emit(f"It could not be written: {error}. What was chosen before is kept.")
            self.visit_chosen.emit(facts)

        self._desk.do(lambda: self._logbook.choose_bench(facts.visit.id, choice), lambda _: None, failed)

    def _match_white(self) -> None:
        """Want the white that was read last: of a screen beside this one, or of this one as an eye has set it."""
        facts, reading = self._facts, self.room.reading
        if facts is None or reading is None:
            return
        x, y = (round(float(value), 4) for value in reading.xyz[:2] / max(reading.xyz.sum(), 1e-9))
        try:
            target = with_white(target_named(facts.visit.target), White("", x, y))
        except ValueError as error:
            self.said.emit(f"That cannot be wanted: {error}. The target is as it was.")
            return

        def done(fresh: Snapshot) -> None:
            self.visit_chosen.emit(fresh)
            self.said.emit(
                f"The white wanted is {target.white.name} from now on; Arrive has the choice of others. What was "
                "measured before keeps the target it was measured against."
            )

        def failed(error: Exception) -> None:
            self.said.emit(f"It could not be written: {error}. The target is as it was.")

        self._desk.do(lambda: visit_work.choose_target(self._logbook, facts.visit, target.name), done, failed)

    def change(self, changes: dict[str, Any]) -> None:
        """Choose some things otherwise and leave the rest as it is now."""
        self.choose(replace(self._choice, **changes))

    def panel(
        self, state: BenchState, asked: panels.Asked | None, passing: Station | None, message: str
    ) -> PanelState:
        """The move panel at the Bench; `passing`: the station whose pass is running."""
        if asked is not None and (answer := bench_panels.asked(asked.question)):
            return answer
        if asked is not None and isinstance(asked.question, AskReading):
            return panels.typing(asked, asked.question, self._choice.entry_form)
        if passing is not None:
            return bench_panels.elsewhere(passing.value, list(Station).index(passing) + 1)
        room = self.room
        if room.running:
            return bench_panels.busy(state, room.title, room.reading, room.warmth, room.note)
        return bench_panels.idle(state, message, room.reading, matches=self._facts is not None)

    def state(self, *, locked: bool) -> BenchState:
        """What the Bench view draws."""
        return self.room.state(self._facts, self._choice, locked=locked)

    def _show_patterns(self) -> None:
        if self._choice.patterns == "screen":
            self.patterns_wanted.emit()
