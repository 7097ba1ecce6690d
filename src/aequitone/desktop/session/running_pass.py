"""A pass that runs: its thread, what was last heard of it, and what its keys do."""

from collections.abc import Callable
from functools import partial
from typing import Any

from PySide6.QtCore import QObject, Signal

from aequitone.desktop import commands
from aequitone.desktop.session.audio import AudioFeedback
from aequitone.desktop.session.instruments import Instruments
from aequitone.desktop.session.left_running import wait_for
from aequitone.desktop.session.live import Live, LiveTracker
from aequitone.desktop.session.operator import WindowOperator
from aequitone.desktop.session.worker import PassThread
from aequitone.desktop.station import Commands
from aequitone.logbook import Logbook
from aequitone.passes import PassType, PreparedPass, Snapshot
from aequitone.procedures.runner import Remedy
from aequitone.procedures.steps import Done, Interrupt, PassOver, PutBack, ReadAgain, StopHere, Watch

# What a stuck instrument is waited for when the window closes; its readings are on disk already.
_GRACE_MS, _PATIENCE_MS = 3_000, 15_000
_WISHES: dict[commands.Command, type[Interrupt]] = {
    commands.UNDO: PutBack,
    commands.READ: ReadAgain,
    commands.STOP_HERE: StopHere,
    commands.SKIP: PassOver,
    commands.WATCH: Watch,
    commands.WATCHED: Done,
}


class RunningPass(QObject):
    """One pass at a time."""

    changed = Signal()
    ended = Signal(object, str)
    """The Snapshot afterwards (None if it cannot be had), and a sentence when it was stopped."""

    def __init__(
        self, logbook: Logbook, instruments: Instruments, operator: WindowOperator, audio: AudioFeedback
    ) -> None:
        super().__init__()
        self._logbook, self._instruments, self._operator = logbook, instruments, operator
        self.audio = audio
        self._thread: PassThread | None = None
        self.kind: PassType[Any, Any] | None = None
        """Of the pass that runs; None where none does."""
        self.live: Live | None = None
        self.explaining = False
        """The person has asked why; the answer stays until they ask again."""

    @property
    def running(self) -> bool:
        """Whether a pass has the instruments."""
        return self._thread is not None

    def begin(
        self,
        snapshot: Snapshot,
        kind: PassType[Any, Any],
        prepare: Callable[[], PreparedPass[Any, Any]],
        tracker: LiveTracker,
    ) -> None:
        """Run a pass, unless one runs."""
        if self._thread is not None:
            return
        choice = snapshot.visit.bench
        self.kind, self.live = kind, None
        thread = PassThread(
            self._logbook,
            snapshot.visit.id,
            lambda: self._instruments.bench(choice).bench,
            self._operator,
            prepare,
            tracker.hear,
            choice.care,
        )
        thread.heard.connect(self._on_live)
        thread.ended.connect(self._on_ended)
        self._thread = thread
        thread.start()

    def commands(self) -> Commands:
        """What keys do to the pass that runs."""
        return {
            commands.PAUSE: self.pause,
            commands.LEAVE: self.leave,
            commands.WHY: self._explain,
            commands.SOUND: self.audio.toggle,
            commands.TURNED: self._operator.answer,
            commands.TRY_AGAIN: partial(self._operator.answer, Remedy.TRY_AGAIN),
            **{command: partial(self.wish, kind) for command, kind in _WISHES.items()},
        }

    def wish(self, kind: type[Interrupt]) -> None:
        """Hand a wish to the procedure."""
        if self._thread is not None and self._thread.runner is not None:
            self._thread.runner.wish(kind)
            self._operator.cancel()

    def pause(self) -> None:
        """Pause, or go on."""
        runner = self._thread.runner if self._thread else None
        if runner is None:
            return
        if self.live is not None and self.live.paused:
            runner.go_on()
        else:
            runner.pause()
            self._operator.cancel()

    def leave(self) -> None:
        """Stop the running pass so that it can be gone on with."""
        if self._thread is not None:
            self._thread.abandon()
            self._operator.cancel()

    def close(self) -> None:
        """The window closes: whatever runs is stopped where it can be gone on with."""
        self.leave()
        if self._thread is not None:
            self._instruments.hurry()
            # An instrument may take a minute over a menu: nobody waits for that after the window is gone.
            if not wait_for(self._thread, _GRACE_MS):
                self._instruments.close()
                wait_for(self._thread, _PATIENCE_MS)
        self.audio.close()

    def _explain(self) -> None:
        self.explaining = not self.explaining

    def _on_live(self, live: Live) -> None:
        self.live = live
        self.audio.hear(None if live.paused else live.watched)
        self.changed.emit()

    def _on_ended(self, snapshot: Snapshot | None, sentence: str) -> None:
        thread, self._thread = self._thread, None
        if thread is not None:
            thread.wait()
        self.live, self.kind = None, None
        self.audio.hear(None)
        self.ended.emit(snapshot, sentence)
