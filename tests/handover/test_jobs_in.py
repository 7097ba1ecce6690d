"""A list of jobs from a file, and a run of them that is killed and gone on with."""

import json
import os
import sqlite3
import subprocess
import sys
import time
from pathlib import Path

import pytest

from aequitone.handover.incoming.jobs import JobsFileError, read_jobs
from aequitone.headless import run

JOBS = """
[[job]]
input = "HDMI 2"
memory = "Night"
target = "rec709-2.4/added"

[[job]]
input = "HDMI 2"
memory = "Day"
target = "rec709-2.2/added"
light_cd_m2 = 150

[[job]]
input = "HDMI 3"
memory = "Night"
target = "rec709-bt1886"
"""
# Of one input and one target, so that only their order tells them apart.
ALIKE = JOBS.replace("rec709-2.4/added", "rec709-2.2/added").replace("light_cd_m2 = 150", "")


def test_jobs_are_read_in_their_order(tmp_path: Path) -> None:
    path = tmp_path / "jobs.toml"
    path.write_text(JOBS)
    jobs = read_jobs(path)
    assert [(job.input, job.memory, job.light_cd_m2) for job in jobs] == [
        ("HDMI 2", "Night", 0.0), ("HDMI 2", "Day", 150.0), ("HDMI 3", "Night", 0.0),
    ]  # fmt: skip


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "job: Field required"),
        ("job = 3", "job: Input should be a valid tuple"),
        ("[[job]", "is not TOML"),
        (JOBS.replace("rec709-bt1886", "vivid"), "job.2.target: there is no target “vivid”"),
        (JOBS.replace('"Day"', '""'), "job.1.memory: String should have at least 1 character"),
        (JOBS.replace("150", "-1"), "job.1.light_cd_m2"),
        (JOBS.replace("150", "nan"), "job.1.light_cd_m2"),
        (JOBS.replace("HDMI 3", "HDMI 2"), "HDMI 2, Night has more than one job"),
        (JOBS.replace("light_cd_m2", "light"), "job.1.light: Extra inputs"),
    ],
)
def test_a_list_that_cannot_be_says_where(tmp_path: Path, text: str, words: str) -> None:
    path = tmp_path / "jobs.toml"
    path.write_text(text)
    with pytest.raises(JobsFileError) as refused:
        read_jobs(path)
    assert words in str(refused.value)


def test_no_list_is_said(tmp_path: Path) -> None:
    with pytest.raises(JobsFileError, match="cannot be read: No such file"):
        read_jobs(tmp_path / "nowhere.toml")


def test_three_jobs_killed_twice_come_to_the_same(tmp_path: Path) -> None:
    (tmp_path / "jobs.toml").write_text(JOBS)

    def start(out: Path, *more: str) -> subprocess.Popen:
        command = [
            sys.executable, "-m", "aequitone.cli", "run", "demo", "--out", str(out), "--seed", "4",
            "--jobs", str(tmp_path / "jobs.toml"), *more,
        ]  # fmt: skip
        return subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, env=os.environ)

    def readings(out: Path) -> int:
        path = out / "logbook.sqlite"
        if not path.exists():
            return 0
        with sqlite3.connect(path) as raw:
            return raw.execute("SELECT count(*) FROM reading").fetchone()[0]

    out = tmp_path / "killed"
    for wanted in (35, 80):
        process = start(out, "--pace", "150")
        end = time.monotonic() + 60.0
        while readings(out) < wanted and process.poll() is None:
            assert time.monotonic() < end
            time.sleep(0.02)
        assert process.poll() is None, "it ended before it was killed"
        process.kill()
        process.communicate()
    for folder in (out, tmp_path / "whole"):
        process = start(folder)
        _, said = process.communicate(timeout=120)
        assert process.returncode == 0, said
    told = json.loads((out / "summary.json").read_text())
    whole = json.loads((tmp_path / "whole" / "summary.json").read_text())
    assert [job["memory"] for job in told["jobs"]] == ["Night", "Day", "Night"]
    for job, other in zip(told["jobs"], whole["jobs"], strict=True):
        assert job["proof"] is not None
        assert job["truth"]["adjusted_worst_de2000_after"] < 0.5 * job["truth"]["adjusted_worst_de2000_before"]
        assert (job["target"], job["input"], job["light_cd_m2"]) == (
            other["target"], other["input"], other["light_cd_m2"],
        )  # fmt: skip
    with sqlite3.connect(out / "logbook.sqlite") as raw:
        rows = raw.execute("SELECT pass_id, seq FROM reading").fetchall()
        kinds = raw.execute("SELECT job_id, kind, state FROM pass ORDER BY id").fetchall()
    assert len(rows) == len(set(rows))
    assert kinds == [(job, kind, "done") for job in (1, 2, 3) for kind in ("as found", "white", "proof")]


def test_jobs_of_one_input_and_target_are_told_apart(tmp_path: Path) -> None:
    path = tmp_path / "jobs.toml"
    path.write_text(ALIKE)
    summary = run("demo", tmp_path, seed=4, jobs=read_jobs(path), say=lambda _: None)
    jobs = json.loads(summary.read_text())["jobs"]
    assert [(job["input"], job["memory"]) for job in jobs] == [
        ("HDMI 2", "Night"), ("HDMI 2", "Day"), ("HDMI 3", "Night"),
    ]  # fmt: skip
    assert all(job["proof"] is not None for job in jobs)
