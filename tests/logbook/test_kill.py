"""kill -9 in the middle of a pass: nothing lost, nothing doubled, and the pass is gone on with."""

import json
import os
import random
import signal
import sqlite3
import subprocess
import sys
import time
from pathlib import Path

import pytest

KILLS = 3
# Fast enough to be done in seconds, slow enough that a kill lands in the middle of a pass.
PACE = "40"
COLUMNS = "pass_id, seq, at, patch, code_r, X, Y, Z, elapsed"


def start(out: Path, pace: str, *more: str) -> subprocess.Popen:
    command = [
        sys.executable,
        "-m",
        "aequitone.cli",
        "run",
        "demo",
        "--out",
        str(out),
        "--seed",
        "4",
        "--pace",
        pace,
        *more,
    ]
    return subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, env=os.environ, text=True)


def rows(out: Path, table: str = "reading", columns: str = COLUMNS) -> list[tuple]:
    path = out / "logbook.sqlite"
    if not path.exists():
        return []
    # A reader of its own, as another process would read it: the log is replayed from disk.
    connection = sqlite3.connect(path)
    try:
        return connection.execute(f"SELECT {columns} FROM {table} ORDER BY pass_id, seq").fetchall()
    finally:
        connection.close()


GREY = ("as found", "white", "proof")
WHOLE = (
    "warm-up",
    "room",
    "mode",
    "choice",
    "gamma preset",
    "as found",
    "colours as found",
    "levels",
    "uniformity",
    "white",
    "tone",
    "colour management",
    "colours as left",
    "proof",
)
# Puts back what was found, or goes on with it: what the window does at Ctrl+K, without one.
PUT_BACK = """
import sys
from pathlib import Path
from aequitone.logbook import open_logbook
from aequitone.logbook.settings.moments import moments
from aequitone.passes import begin_put_back, carry_out, go_on
from aequitone.logbook.standin_visit import nvram_path
from aequitone.procedures.runner import NobodyThere
from aequitone.standins.bench import build_bench
from aequitone.standins.clock import PacedClock
from aequitone.standins.scenario import load_scenario

logbook = open_logbook(Path(sys.argv[1]) / "logbook.sqlite")
visit = logbook.visit(1)
bench = build_bench(
    load_scenario("demo"), 4, clock=PacedClock(float(sys.argv[2])), nvram=nvram_path(logbook.path, "demo", 4)
)
interrupted = logbook.interrupted_pass(visit.id)
found = moments(logbook.ledger.history(visit.id))[0]
prepared = go_on(interrupted) if interrupted else begin_put_back(logbook, visit.id, found)
print("begun", flush=True)
carry_out(logbook, prepared, bench.bench(), NobodyThere())
stands = logbook.ledger.at(visit.id)
assert stands == found.settings, (stands, found.settings)
assert {role: bench.screen.settings()[role.key] for role in stands} == stands
"""


@pytest.mark.parametrize(
    ("more", "pace", "kinds"), [((), PACE, GREY), (("--whole",), "150", WHOLE)], ids=["grey", "whole"]
)
def test_killed_at_random_moments(
    tmp_path: Path, more: tuple[str, ...], pace: str, kinds: tuple[str, ...]
) -> None:
    chance = random.Random(2026)
    before: list[tuple] = []
    in_the_middle = 0
    while in_the_middle < KILLS:
        process = start(tmp_path, pace, *more)
        # Until it reads again, and then a random while, so that the kill lands anywhere in a step.
        end = time.monotonic() + 30
        while len(rows(tmp_path)) <= len(before) and process.poll() is None and time.monotonic() < end:
            time.sleep(0.01)
        time.sleep(chance.uniform(0.0, 0.30))
        seen = rows(tmp_path)
        process.send_signal(signal.SIGKILL)
        _, said = process.communicate(timeout=10)
        assert process.returncode == -signal.SIGKILL, f"the run ended before it was killed: {said}"
        after = rows(tmp_path)
        # What was on disk before the kill is there after it, unchanged; at most one more got in meanwhile.
        assert after[: len(seen)] == seen
        assert seen[: len(before)] == before
        assert len(after) <= len(seen) + 1
        unfinished = rows(tmp_path, "pass", "id, state, 0 AS pass_id, 0 AS seq")
        # A kill may land between two passes; those do not count towards the ten.
        in_the_middle += [state for _, state, *_ in unfinished].count("running")
        before = after

    last = start(tmp_path, "1000", *more)
    _, told = last.communicate(timeout=60)
    assert last.returncode == 0, told
    assert "Going on from the last reading" in told
    after = rows(tmp_path)
    assert after[: len(before)] == before
    assert len({(pass_id, seq) for pass_id, seq, *_ in after}) == len(after)
    passes = rows(tmp_path, "pass", "kind, state, id AS pass_id, 0 AS seq")
    assert [(kind, state) for kind, state, *_ in passes] == [(kind, "done") for kind in kinds]
    summary = json.loads((tmp_path / "summary.json").read_text())
    assert summary["readings"] == len(after)
    assert [level["percent"] for level in summary["proof"]["levels"]] == [float(p) for p in range(100, -1, -10)]
    assert summary["truth"]["adjusted_worst_de2000_after"] < 1.0


def test_a_put_back_that_is_killed_is_gone_on_with(tmp_path: Path) -> None:
    chance = random.Random(26)
    ready = start(tmp_path, "1000")
    _, told = ready.communicate(timeout=120)
    assert ready.returncode == 0, told

    def putting_back(pace: str) -> subprocess.Popen:
        command = [sys.executable, "-c", PUT_BACK, str(tmp_path), pace]
        return subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)

    turned: list[tuple] = []
    for _ in range(3):
        process = putting_back("30")
        assert process.stdout is not None
        assert process.stdout.readline() == "begun\n"
        time.sleep(chance.uniform(0.1, 1.2))
        process.send_signal(signal.SIGKILL)
        process.communicate(timeout=10)
        assert rows(tmp_path, "pass", "kind, state, id AS pass_id, 0 AS seq")[-1][:2] == ("put back", "running")
        before, turned = turned, rows(tmp_path, "setting", "control_id, value, 0 AS pass_id, id AS seq")
        assert turned[: len(before)] == before
    last = putting_back("1000")
    _, told = last.communicate(timeout=60)
    assert last.returncode == 0, told
    assert rows(tmp_path, "pass", "kind, state, id AS pass_id, 0 AS seq")[-1][:2] == ("put back", "done")
