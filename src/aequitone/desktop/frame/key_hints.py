"""Keys that mean the same wherever they are shown."""

from aequitone.desktop.states import Act, KeyHint
from aequitone.passes import Snapshot

DARKEN = KeyHint("D", "darken", Act.DARKEN)
COPY = KeyHint("Ctrl+C", "copy", Act.COPY)
VIEW_KEYS = (DARKEN, KeyHint("T", "table", Act.TABLE), COPY)
MOVES = KeyHint("H", "moves so far", Act.MOVES)
REMOTE = KeyHint("M", "menu of the stand-in", Act.REMOTE)
PATTERNS = KeyHint("W", "pattern window", Act.PATTERNS)
BENCH = KeyHint("Ctrl+B", "bench", Act.BENCH)
LEDGER = KeyHint("Ctrl+K", "controls", Act.LEDGER)
VISITS = KeyHint("Ctrl+L", "visits", Act.VISITS)
LEAVE = KeyHint("Esc", "stop; go on later", Act.LEAVE)


def bench_keys(facts: Snapshot) -> tuple[KeyHint, ...]:
    """Keys of the windows beside this one."""
    bench = facts.visit.bench
    keys = []
    if bench.simulated and bench.link != "stand-in":
        keys.append(REMOTE)
    if bench.patterns == "screen":
        keys.append(PATTERNS)
    return (*keys, LEDGER, BENCH)
