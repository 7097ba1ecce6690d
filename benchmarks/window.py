"""Measures the window: start to first paint, and the turns of Qt's event loop while a visit runs.

    sh tools/with-display.sh .venv/bin/python benchmarks/window.py

A timer asks for a tick every millisecond; the gap between two ticks is how long the window could
answer nothing: whatever Qt or Python did in that turn, painting and waiting for the interpreter
included. The millisecond of idling before each tick is counted too, so the figures err upwards.

A machine that is shared stalls by itself. A process of its own that does nothing but sleep a
millisecond at a time runs beside the window and notes its own gaps; turns that overlap one of those
by half of their length are also given apart, so that both figures can be seen: raw, and without them.
"""

import subprocess
import sys
import tempfile
import time
from pathlib import Path

import numpy as np
from PySide6.QtCore import Qt, QTimer

from aequitone.desktop import commands
from aequitone.desktop.app import application, keep_smooth, window_on
from aequitone.desktop.demo.demo import demo_logbook
from aequitone.desktop.stations.arrive import commands as arrive_commands
from aequitone.desktop.stations.arrive.form import missing_for_white
from aequitone.headless import run

_FIRST_PAINT = """
import gc, sys, time
gc.disable()
from pathlib import Path
import aequitone.cli
from PySide6.QtCore import QEvent, QObject, QTimer
from aequitone.desktop import app as desktop
from aequitone.desktop.window import MainWindow
began, painted = float(sys.argv[2]), []
app = desktop.application()
class Watch(QObject):
    def eventFilter(self, watched, event):
        if event.type() == QEvent.Type.Paint and isinstance(watched, MainWindow) and not painted:
            QTimer.singleShot(0, lambda: painted or painted.append(time.time() - began))
        return False
watch = Watch()
app.installEventFilter(watch)
attach = MainWindow.attach
def attached(window, *more):
    attach(window, *more)
    QTimer.singleShot(0, lambda: (print(*painted, time.time() - began), window.close()))
MainWindow.attach = attached
desktop.open_window(Path(sys.argv[1]), pace=8.0)
"""


_BENCH_SECONDS = 12.0
# A tick that comes this late had something to wait for.
_IDLE_MS = 2.0
_PROBE = """
import sys, time
last = time.perf_counter()
while True:
    time.sleep(0.001)
    now = time.perf_counter()
    if now - last > 0.005:
        print(last, now, flush=True)
    last = now
"""


class MachineProbe:
    """Notes when the machine itself stood still, from a process beside this one."""

    def __enter__(self) -> "MachineProbe":
        self._process = subprocess.Popen([sys.executable, "-c", _PROBE], stdout=subprocess.PIPE, text=True)
        return self

    def __exit__(self, *_: object) -> None:
        self._process.kill()
        said = self._process.communicate()[0].splitlines()
        self.stalls = np.array([[float(word) for word in line.split()] for line in said if line.count(" ") == 1])

    def share(self, begin: float, end: float) -> float:
        """The share of a time that the machine stood still."""
        if not len(self.stalls):
            return 0.0
        inside = np.clip(np.minimum(self.stalls[:, 1], end) - np.maximum(self.stalls[:, 0], begin), 0, None)
        return float(inside.sum() / (end - begin))


def first_paint(logbook: Path, repeats: int = 7) -> list[tuple[float, float]]:
    """Seconds from starting the process to the first paint, and to the whole visit being there."""
    seconds = []
    for _ in range(repeats):
        command = [sys.executable, "-c", _FIRST_PAINT, str(logbook), repr(time.time())]
        told = subprocess.run(command, capture_output=True, text=True, check=True).stdout.split()
        seconds.append((float(told[0]), float(told[1])))
    return seconds


def turns_of_a_visit(folder: Path, pace: float) -> dict[str, list[tuple[float, float]]]:
    """Begin and end of each turn, by the pass that ran."""
    app = application()
    logbook = demo_logbook(folder / "turns.sqlite")
    window = window_on(logbook, pace=pace)
    window.resize(1280, 800)
    window.show()
    app.processEvents()
    keep_smooth()
    presenter = window.presenter
    turns: dict[str, list[tuple[float, float]]] = {}
    last = [time.perf_counter()]

    def tick() -> None:
        now = time.perf_counter()
        if presenter.running:
            turns.setdefault(presenter.here, []).append((last[0], now))
        elif presenter.tool is presenter.tool_of("bench"):
            turns.setdefault("Bench, live", []).append((last[0], now))
        last[0] = now

    beat = QTimer()
    beat.setTimerType(Qt.TimerType.PreciseTimer)
    beat.timeout.connect(tick)
    beat.start(1)
    presenter.do(arrive_commands.FILL)
    while missing_for_white(presenter.station("arrive").draft):
        app.processEvents()
    presenter.do(arrive_commands.SAVE)
    begun: set[str] = set()
    # The Bench is opened first, and its chart is filled.
    at_bench = [0.0]

    def drive() -> None:
        if presenter.here == "arrive" or presenter.running:
            return
        if not at_bench[0]:
            at_bench[0] = time.perf_counter()
            window._do(commands.BENCH)
            return
        if presenter.tool is presenter.tool_of("bench"):
            if (
                not presenter.tool_of("bench").measuring.running
                and time.perf_counter() - at_bench[0] < _BENCH_SECONDS / 2
            ):
                presenter.do(commands.WATCH)
            elif time.perf_counter() - at_bench[0] > _BENCH_SECONDS:
                presenter.do(commands.STOP if presenter.tool_of("bench").measuring.running else commands.BENCH)
            return
        if presenter.here == "hand-over":
            app.quit()
        elif presenter.here in begun:
            presenter.do(commands.NEXT_STATION)
        else:
            begun.add(presenter.here)
            presenter.do(commands.BEGIN)

    clock = QTimer()
    clock.timeout.connect(drive)
    clock.start(20)
    app.exec()
    window.close()
    logbook.close()
    return turns


def main() -> None:
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        run("demo", folder / "run", seed=4, say=lambda _text: None)
        seconds = first_paint(folder / "run" / "logbook.sqlite")
        for what, told in zip(("first paint", "visit shown"), zip(*seconds, strict=True), strict=True):
            print(f"{what}: median {np.median(told):.2f} s, worst {max(told):.2f} s of {len(told)}")
        for pace in (8.0, 60.0):
            (folder / str(pace)).mkdir()
            with MachineProbe() as probe:
                turns = turns_of_a_visit(folder / str(pace), pace)
            every = [turn for kind in turns.values() for turn in kind]
            for kind, spans in [*turns.items(), ("all", every)]:
                tell(f"pace {pace:g}, {kind}", spans)
            own = [turn for turn in every if probe.share(*turn) < 0.5]
            tell(f"pace {pace:g}, all but {len(every) - len(own)} turns in which the machine stood still", own)


def tell(what: str, spans: list[tuple[float, float]]) -> None:
    """Print the figures of some turns."""
    ms = np.array([end - begin for begin, end in spans]) * 1e3
    print(
        f"{what}: {len(ms)} turns, median {np.median(ms):.2f} ms, 99 % {np.percentile(ms, 99):.1f} ms, "
        f"worst {ms.max():.1f} ms; {100 * (ms < 16).mean():.2f} % under 16 ms, {(ms >= 50).sum()} of 50 ms or more"
    )
    busy = ms[ms > _IDLE_MS]
    if len(busy):
        print(f"    of them not idle: {len(busy)}, {100 * (busy < 16).mean():.1f} % under 16 ms")


if __name__ == "__main__":
    main()
