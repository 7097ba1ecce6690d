"""The demo: the window on a made-up visit to a stand-in."""

import gc
from pathlib import Path

from aequitone.desktop.app import application, open_window, window_on
from aequitone.logbook import Logbook, VisitRecord, open_logbook
from aequitone.logbook.records import Connection
from aequitone.logbook.standin_visit import begin_standin_visit, nvram_path

SCENARIO, SEED = "demo", 4
# How much faster than the wall clock the stand-ins run: for a person who looks on, and driven.
_PACE, _DRIVEN_PACE = 8.0, 60.0


def demo_logbook(path: Path, *, by_hand: bool = False) -> Logbook:
    """The demo logbook, made with its visit where there is none."""
    logbook = open_logbook(path)
    if logbook.latest_visit() is None:
        begin_demo_visit(logbook, by_hand=by_hand)
    return logbook


def begin_demo_visit(logbook: Logbook, *, by_hand: bool = False) -> VisitRecord:
    """Enter the demo's visit: the made-up client, and a simulated screen and bench."""
    from aequitone.standins.scenario import load_scenario

    link = Connection.BY_HAND if by_hand else Connection.STANDIN
    return begin_standin_visit(logbook, load_scenario(SCENARIO), SCENARIO, SEED, link=link)


def open_demo(folder: Path, *, pace: float | None, drive: bool, by_hand: bool) -> int:
    """Open the demo, or drive it from end to end and leave pictures and report in `folder`."""
    if not drive:
        path = folder / "logbook.sqlite"
        demo_logbook(path, by_hand=by_hand).close()
        return open_window(path, pace=pace or _PACE)
    from aequitone.desktop.demo.driver import drive_demo

    path = folder / "driven" / "logbook.sqlite"
    for old in (path, nvram_path(path, SCENARIO, SEED), Path(f"{path}-wal"), Path(f"{path}-shm")):
        old.unlink(missing_ok=True)
    gc.enable()
    app = application()
    logbook = demo_logbook(path)
    window = window_on(logbook, pace=pace or _DRIVEN_PACE)
    window.resize(1280, 800)
    window.show()
    for made in drive_demo(app, window, folder):
        print(made)  # noqa: T201
    logbook.close()
    return 0
