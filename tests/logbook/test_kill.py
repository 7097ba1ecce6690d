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

KILLS = 10
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
WHOLE = ("warm-up", "room", "choice", "gamma preset", "as found", "levels", "white", "tone", "proof")


@pytest.mark.parametrize(
    ("more", "pace", "kinds"), [((), PACE, GREY), (("--whole",), "150", WHOLE)], ids=["grey", "whole"]
)
def test_killed_ten_times_at_random_moments(
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
