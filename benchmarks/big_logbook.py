"""A logbook of many years: 2,000 clients, 5,000 visits, 2 million readings; how long search and opening take.

.venv/bin/python benchmarks/big_logbook.py [FOLDER]
"""

import sqlite3
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import numpy as np

from aequitone.headless import run
from aequitone.logbook import open_logbook
from aequitone.passes import load_snapshot, to_json
from aequitone.procedures.grey.grey_pass import GreyPlan
from aequitone.reference import target_named
from aequitone.signal import SignalFormat

CLIENTS, VISITS, READINGS = 2_000, 5_000, 2_000_000
_FIRST = ("Alder", "Birch", "Cedar", "Dune", "Elm", "Fern", "Glen", "Heath", "Iris", "Juniper")
_SECOND = ("Court", "End", "Farm", "Gate", "Hall", "House", "Lodge", "Mill", "Row", "View")


def fill(path: Path, clients: int = CLIENTS, visits: int = VISITS, readings: int = READINGS) -> None:
    """Write the rows straight into a new logbook."""
    import json

    open_logbook(path).close()
    plan = json.dumps(to_json(GreyPlan(target_named("rec709-2.2"), SignalFormat(8), 21)))
    each = readings // visits // 4
    rng = np.random.default_rng(5)
    with sqlite3.connect(path) as raw:
        raw.execute("PRAGMA synchronous=OFF")
        names = [f"{_FIRST[i % 10]} {_SECOND[i // 10 % 10]} {i}" for i in range(clients)]
        raw.executemany("INSERT INTO client (name) VALUES (?)", [(name,) for name in names])
        raw.executemany(
            "INSERT INTO room (client_id, name) VALUES (?, ?)", [(i + 1, "Lounge") for i in range(clients)]
        )
        raw.executemany(
            "INSERT INTO screen (room_id, name, technology) VALUES (?, ?, 'led-lcd')",
            [(i + 1, f"Norvane K{40 + i % 40}") for i in range(clients)],
        )
        raw.executemany(
            "INSERT INTO input (screen_id, name) VALUES (?, ?)",
            [(i // 2 + 1, f"HDMI {i % 2 + 1}") for i in range(2 * clients)],
        )
        raw.executemany(
            "INSERT INTO memory (input_id, name) VALUES (?, ?)",
            [(i // 2 + 1, ("Day", "Night")[i % 2]) for i in range(4 * clients)],
        )
        raw.executemany(
            "INSERT INTO visit (memory_id, target, levels, bench, started, closed) VALUES "
            "(?, 'rec709-2.2', 21, '{}', '2024-01-01 10:00:00', '2024-01-01 14:00:00')",
            [(int(memory),) for memory in rng.integers(1, 4 * clients + 1, visits)],
        )
        raw.executemany(
            "INSERT INTO pass (visit_id, kind, state, plan, outcome, started) VALUES "
            "(?, ?, 'done', ?, '', '2024-01-01 10:10:00')",
            [(i // 4 + 1, ("as found", "proof", "as found", "proof")[i % 4], plan) for i in range(4 * visits)],
        )
        raw.executemany(
            "INSERT INTO reading (pass_id, seq, at, elapsed, patch, percent, code_r, code_g, code_b, depth, "
            "range, window, purpose, X, Y, Z, sd_X, sd_Y, sd_Z, repeats, seconds, took, scatter) VALUES (?, ?, "
            "'2024-01-01 10:11:00', ?, '50 % grey', 50, 126, 126, 126, 8, 'limited', 0.1, 'level', 20, 21, 23, "
            "0.01, 0.01, 0.01, 1, 1.0, 2.0, 0.0)",
            _readings(4 * visits, each),
        )


def _readings(passes: int, each: int) -> Iterator[tuple[int, int, float]]:
    for pass_id in range(1, passes + 1):
        for seq in range(each):
            yield pass_id, seq, 3.0 * seq


def timed(work: Callable[[], object], times: int = 9) -> tuple[float, float]:
    """Median and worst of some runs, in ms."""
    taken = []
    for _ in range(times):
        began = time.perf_counter()
        work()
        taken.append((time.perf_counter() - began) * 1000.0)
    return float(np.median(taken)), max(taken)


def measure(path: Path) -> dict[str, tuple[float, float]]:
    """Median and worst milliseconds of what a person waits for."""
    book = open_logbook(path)

    def opened(advice: bool) -> None:
        # As for the first time: what was understood before is forgotten.
        book.understood.clear()
        load_snapshot(book, VISITS + 1, advice=advice)

    told = {
        "the newest 200 visits": timed(lambda: book.find_visits()),
        "search: one word, many hits": timed(lambda: book.find_visits("hall")),
        "search: three words, few hits": timed(lambda: book.find_visits("cedar mill 1922")),
        "search: no hit": timed(lambda: book.find_visits("nowhere at all")),
        "opening a visit in the middle": timed(lambda: load_snapshot(book, VISITS // 2)),
        "opening a whole visit, to look at": timed(lambda: opened(False)),
        "opening a whole visit, all advice": timed(lambda: opened(True)),
        "names for the form": timed(lambda: book.register.known_names()),
    }
    began = time.perf_counter()
    book.close()
    open_logbook(path).close()
    told["opening the logbook"] = ((time.perf_counter() - began) * 1000.0,) * 2
    return told


def main() -> None:
    with tempfile.TemporaryDirectory(dir=sys.argv[1] if len(sys.argv) > 1 else None) as folder:
        path = Path(folder) / "logbook.sqlite"
        began = time.perf_counter()
        fill(path)
        print(f"filled in {time.perf_counter() - began:.0f} s, {path.stat().st_size / 1e6:.0f} MB")
        # One visit with every pass that there is, really run: its advice is worked out again when it is opened.
        run("demo", Path(folder), seed=4, whole=True, say=lambda _words: None)
        for what, (median, worst) in measure(path).items():
            print(f"{what:34s} {median:8.1f} ms, worst {worst:8.1f} ms")


if __name__ == "__main__":
    main()
