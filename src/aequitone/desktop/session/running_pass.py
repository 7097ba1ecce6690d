"""A pass that runs: its thread, what was last heard of it, and the ways to stop it."""

from collections.abc import Callable

from PySide6.QtCore import QObject, Signal

from aequitone.desktop import stages
from aequitone.desktop.session.audio import Hearing
from aequitone.desktop.session.instruments import BenchKeeper
from aequitone.desktop.session.live import Live, LiveTracker
from aequitone.desktop.session.operator import Person
from aequitone.desktop.session.worker import PassThread
from aequitone.desktop.states import Act, DialState
from aequitone.logbook import Logbook
from aequitone.passes import AS_FOUND, TONE, WHITE, PassType, PreparedPass, Snapshot, white_state
from aequitone.procedures.steps import Done, Interrupt, PassOver, PutBack, ReadAgain, StopHere, Watch
from aequitone.reference import target_named

# What a stuck instrument is waited for when the window closes; its readings are on disk already.
_PATIENCE_MS = 15_000
_WISHES: dict[Act, type[Interrupt]] = {
    Act.PUT_BACK: PutBack,
    Act.READ_AGAIN: ReadAgain,
    Act.STOP_HERE: StopHere,
    Act.PASS_OVER: PassOver,
    Act.WATCH: Watch,
    Act.WATCHED: Done,
}
ACTS = frozenset({*_WISHES, Act.PAUSE, Act.LEAVE, Act.WHY, Act.SOUND})


class Passing(QObject):
    """One pass at a time."""

    changed = Signal()
    ended = Signal(object, str)
    """The visit's facts afterwards (None if they cannot be had), and a sentence when it was stopped."""

    def __init__(self, logbook: Logbook, benches: BenchKeeper, person: Person, hearing: Hearing) -> None:
        super().__init__()
        self._logbook, self._benches, self._person = logbook, benches, person
        self.hearing = hearing
        self._thread: PassThread | None = None
        self._facts: Snapshot | None = None
        self.kind: PassType | None = None
        self.live: Live | None = None
        self.trail = DialState(())
        self.explaining = False
        """The person has asked why; the answer stays until they ask again."""

    @property
    def running(self) -> bool:
        return self._thread is not None

    def begin(self, facts: Snapshot, kind: PassType, prepare: Callable[[], PreparedPass]) -> None:
        """Run a pass, unless one runs."""
        if self._thread is not None:
            return
        choice, found = facts.visit.bench, facts.result(AS_FOUND)
        tracker = LiveTracker(
            target_named(facts.visit.target),
            facts.visit.levels,
            white=_white_before(facts, kind),
            black=found.black if found and kind is not AS_FOUND else 0.0,
            ghost=found if found and kind is not AS_FOUND else None,
        )
        self._facts, self.kind, self.live, self.trail = facts, kind, None, DialState(())
        thread = PassThread(
            self._logbook,
            facts.visit.id,
            lambda: self._benches.bench(choice).bench,
            self._person,
            prepare,
            tracker.hear,
            choice.care,
        )
        thread.heard.connect(self._on_live)
        thread.ended.connect(self._on_ended)
        self._thread = thread
        thread.start()

    def act(self, act: Act) -> None:
        """Carry out what a key means for the pass that runs: one of ACTS."""
        match act:
            case Act.PAUSE:
                self.pause()
            case Act.LEAVE:
                self.leave()
            case Act.WHY:
                self.explaining = not self.explaining
            case Act.SOUND:
                self.hearing.toggle()
            case _:
                self.wish(_WISHES[act])

    def wish(self, kind: type[Interrupt]) -> None:
        """Hand a wish to the procedure."""
        if self._thread is not None and self._thread.runner is not None:
            self._thread.runner.wish(kind)
            self._person.cancel()

    def pause(self) -> None:
        """Pause, or go on."""
        runner = self._thread.runner if self._thread else None
        if runner is None:
            return
        if self.live is not None and self.live.paused:
            runner.go_on()
        else:
            runner.pause()
            self._person.cancel()

    def leave(self) -> None:
        """Stop the running pass so that it can be gone on with."""
        if self._thread is not None:
            self._thread.abandon()
            self._person.cancel()

    def close(self) -> None:
        """The window closes: whatever runs is stopped where it can be gone on with."""
        self.leave()
        if self._thread is not None:
            self._benches.hurry()
            self._thread.wait(_PATIENCE_MS)
        self.hearing.close()

    def forget(self) -> None:
        """Another visit begins."""
        self.live, self.trail = None, DialState(())

    def _on_live(self, live: Live) -> None:
        before, self.live = self.live, live
        self.hearing.hear(None if live.paused else live.watched)
        fresh = before is None or before.state is not live.state
        if fresh and live.state is not None and self._facts is not None:
            self.trail = stages.white_trail(self._facts, live.state, self.trail.trail)
        self.changed.emit()

    def _on_ended(self, facts: Snapshot | None, sentence: str) -> None:
        thread, self._thread = self._thread, None
        if thread is not None:
            thread.wait()
        self.live, self.kind = None, None
        self.hearing.hear(None)
        self.ended.emit(facts, sentence)


def _white_before(facts: Snapshot, kind: PassType) -> float | None:
    """Luminance of 100 % that a pass begins with, where it is known."""
    state, found = white_state(facts), facts.result(AS_FOUND)
    if kind is TONE and state is not None:
        return float(state.xyz[0, 1])
    return found.white if found and kind is WHITE else None
