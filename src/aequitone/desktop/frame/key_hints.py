"""Hints that are the same wherever they are shown."""

from aequitone.desktop import commands
from aequitone.desktop.commands import KeyHint, hint
from aequitone.logbook.records import Connection
from aequitone.passes import Snapshot

DARKEN = hint(commands.DARKEN, "darken")
COPY = hint(commands.COPY, "copy")
VIEW_KEYS = (DARKEN, hint(commands.TABLE, "table"), COPY)
MOVES = hint(commands.MOVES, "moves so far")
REMOTE = hint(commands.REMOTE, "menu of the stand-in")
PATTERNS = hint(commands.SHOW, "pattern window")
BENCH = hint(commands.BENCH, "bench")
CONTROLS = hint(commands.CONTROLS, "controls")
JOBS = hint(commands.JOBS, "jobs")
VISITS = hint(commands.VISITS, "visits")
LEAVE = hint(commands.LEAVE, "stop, continue later")
STOP_HERE = hint(commands.STOP_HERE, "stop here")
NEXT = hint(commands.NEXT_STATION, "next station", main=True)


def pause(*, paused: bool) -> KeyHint:
    """The key that pauses a pass, or lets it go on."""
    return hint(commands.PAUSE, "continue" if paused else "pause", main=paused)


def bench_keys(snapshot: Snapshot) -> tuple[KeyHint, ...]:
    """Keys of the windows beside this one."""
    bench = snapshot.visit.bench
    keys = []
    if bench.simulated and bench.link is not Connection.STANDIN:
        keys.append(REMOTE)
    if bench.patterns is Connection.SCREEN:
        keys.append(PATTERNS)
    return (*keys, CONTROLS, BENCH)
