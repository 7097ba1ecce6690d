"""A station that nobody needs: all of it, as docs/adding-a-station.md tells to write one."""

import os
import signal
import sys
from dataclasses import dataclass
from pathlib import Path

from aequitone.desktop import commands
from aequitone.desktop.commands import Command, hint
from aequitone.desktop.frame.key_hints import LEAVE, pause
from aequitone.desktop.frame.panel_state import BigLine, PanelState
from aequitone.desktop.stations.measured import MeasuredStation
from aequitone.passes import PassType
from aequitone.procedures.policy import policy_for
from aequitone.procedures.steps import Procedure, Progress, Purpose, Read, Reading, Show
from aequitone.signal import SignalFormat, grey_patch

RESET = Command("forget the count", ("Ctrl+U",))


@dataclass(frozen=True)
class CountPlan:
    """How often one grey is read."""

    format: SignalFormat
    times: int = 40


@dataclass(frozen=True)
class Count:
    """How often it was read."""

    times: int


def count(plan: CountPlan) -> Procedure[Count]:
    patch = grey_patch(50.0, plan.format)
    for done in range(plan.times):
        yield Show(patch)
        _: Reading = yield Read(patch, policy_for(20.0, 100.0), Purpose.SWEEP)
        yield Progress(done + 1, plan.times, Count(done + 1))
    return Count(plan.times)


COUNT = PassType(
    key="count", title="Count", plan=CountPlan, result=Count, procedure=count,
    make_plan=lambda snapshot: CountPlan(snapshot.visit.bench.format),
    seconds=lambda _snapshot, pace: 40 * pace.reading(policy_for(20.0, 100.0)),
    words=lambda result: f"Counted to {result.times}.",
)  # fmt: skip


class CountStation(MeasuredStation):
    id, title, passes = "count", "Count", (COUNT,)
    resets = 0

    def idle(self) -> PanelState:
        keys = (hint(commands.BEGIN, "count", main=True), hint(RESET, "forget"))
        return PanelState("Your move", True, (BigLine("Count"),), self.said(), keys=keys)

    def measuring(self, kind, live) -> PanelState:
        return PanelState("Measuring", False, (BigLine("Counting"),), keys=(pause(paused=False), LEAVE))

    def page(self) -> str:
        return str(self.live.value.times) if self.live and self.live.value else self.said()

    def make_view(self):
        from PySide6.QtWidgets import QLabel

        class CountView(QLabel):
            def show_page(self, page: str) -> None:
                self.setText(page)

        return CountView()

    def commands(self):
        return {**super().commands(), RESET: self.reset}

    def reset(self) -> None:
        self.resets += 1


def register() -> tuple:
    """Register the station and its kind of pass: one line for each."""
    import aequitone.passes as passes
    from aequitone.desktop.stations import STATIONS

    if COUNT not in passes.PASSES:
        passes.PASSES = (*passes.PASSES, COUNT)
    return (*STATIONS[:-1], CountStation, STATIONS[-1])


def die_while_counting(path: Path) -> None:
    """Begin to count in a window, and be killed on the way."""
    from aequitone.desktop.app import application, window_on
    from aequitone.logbook import open_logbook

    app, logbook = application(), open_logbook(path)
    window = window_on(logbook, pace=400.0, stations=register())
    window.show()
    window.presenter.go_to("count")
    window.presenter.do(commands.BEGIN)
    while sum(record.readings for record in logbook.passes(1)) < 7:
        app.processEvents()
    os.kill(os.getpid(), signal.SIGKILL)


if __name__ == "__main__":
    die_while_counting(Path(sys.argv[1]))
