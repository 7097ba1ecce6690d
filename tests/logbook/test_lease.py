"""A visit has one owner at a time, and a crash frees it."""

import signal
import subprocess
import sys
from pathlib import Path

import pytest

from aequitone.logbook import Logbook, VisitRecord
from aequitone.logbook.storage.lease import VisitHeldError, VisitLease

HOLDS = """
import sys, time
from pathlib import Path
from aequitone.logbook.storage.lease import VisitLease
lease = VisitLease(Path(sys.argv[1]), 1)
print("has it", flush=True)
time.sleep(60)
"""


def another(logbook: Path) -> subprocess.Popen:
    process = subprocess.Popen(
        [sys.executable, "-c", HOLDS, str(logbook)], stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True
    )
    assert process.stdout is not None
    assert process.stdout.readline() == "has it\n"
    return process


def test_the_second_is_told_who_has_it(tmp_path: Path) -> None:
    path = tmp_path / "logbook.sqlite"
    first = another(path)
    try:
        with pytest.raises(VisitHeldError, match=rf"has this visit open since .* \(process {first.pid}\)"):
            VisitLease(path, 1)
        # Another visit of the same logbook is free.
        VisitLease(path, 2).release()
    finally:
        first.kill()
        first.communicate()


@pytest.mark.parametrize("how", [signal.SIGKILL, signal.SIGTERM])
def test_a_program_that_dies_lets_go(tmp_path: Path, how: signal.Signals) -> None:
    path = tmp_path / "logbook.sqlite"
    first = another(path)
    first.send_signal(how)
    first.communicate(timeout=10)
    with VisitLease(path, 1) as lease:
        assert lease.visit_id == 1


def test_nothing_is_left_when_it_is_let_go(tmp_path: Path) -> None:
    path = tmp_path / "logbook.sqlite"
    for _ in range(3):
        with VisitLease(path, 1), pytest.raises(VisitHeldError):
            VisitLease(path, 1)
        assert list(tmp_path.iterdir()) == []


def test_a_run_does_not_take_a_visit_that_another_has(tmp_path: Path) -> None:
    command = [sys.executable, "-m", "aequitone.cli", "run", "demo", "--out", str(tmp_path), "--seed", "4"]
    lease = VisitLease(tmp_path / "logbook.sqlite", 1)
    done = subprocess.run(command, capture_output=True, text=True, check=False, timeout=60)
    assert done.returncode == 2
    assert "has this visit open" in done.stderr
    assert "Traceback" not in done.stderr
    lease.release()


def test_words_of_a_holder_that_is_not_written_yet(tmp_path: Path, logbook: Logbook, visit: VisitRecord) -> None:
    lease = VisitLease(logbook.path, visit.id)
    lease._path.write_text("")
    with pytest.raises(VisitHeldError, match="Another Aequitone has this visit open"):
        VisitLease(logbook.path, visit.id)
    lease.release()
