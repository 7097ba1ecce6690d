"""The command: what it writes, and one sentence with exit code 2 for what goes wrong."""

import json
import signal
import socket
import subprocess
import sys
from importlib import resources
from pathlib import Path

import pytest

from aequitone.instruments.line import Line
from aequitone.instruments.line_devices import LineMeter, LineScreen, LineSource
from aequitone.logbook import open_logbook
from aequitone.signal import SignalFormat, grey_patch

DEMO = (resources.files("aequitone.standins") / "scenarios" / "demo.toml").read_text("utf-8")


def test_the_demo_plays_itself_to_its_end(tmp_path: Path) -> None:
    made = subprocess.run(
        [sys.executable, "-m", "aequitone.cli", "demo", "--drive", "--pace", "400", "--folder", str(tmp_path)],
        capture_output=True, text=True, timeout=200, check=False,
    )  # fmt: skip
    assert made.returncode == 0, made.stderr
    names = {Path(line).name for line in made.stdout.splitlines()}
    assert {"prepare.png", "levels.png", "by-eye.png", "hand-over.png", "ledger.png", "report.pdf"} <= names
    assert open_logbook(tmp_path / "driven" / "logbook.sqlite").open_visit() is None


def command(*words: object) -> subprocess.CompletedProcess:
    return subprocess.run(
        [sys.executable, "-m", "aequitone.cli", *map(str, words)],
        capture_output=True,
        text=True,
        timeout=60,
        check=False,
    )


def failed(*words: object) -> str:
    done = command(*words)
    assert done.returncode == 2, done.stderr
    assert done.stdout == ""
    lines = [line for line in done.stderr.splitlines() if line.startswith("aequitone: ")]
    assert len(lines) == 1, done.stderr
    assert "Traceback" not in done.stderr
    return lines[0]


def test_a_run_writes_what_formats_md_promises(tmp_path: Path) -> None:
    done = command("run", "demo", "--out", tmp_path, "--seed", 7)
    assert done.returncode == 0, done.stderr
    path = Path(done.stdout.strip())
    assert path == tmp_path / "summary.json"
    assert "reading 1 of 30" in done.stderr
    told = json.loads(path.read_text())
    assert (told["seed"], told["target"]) == (7, "rec709-2.2/added")
    for found in (told["as_found"], told["proof"]):
        for level in found["levels"]:
            assert level.keys() >= {"percent", "X", "Y", "Z", "de2000", "de2000_sd", "deitp"}
            # At 0 % there is light and no ΔE.
            assert (level["de2000_sd"] is None) == (level["percent"] == 0.0)
    assert told["readings"] >= 30 + 17 + 3
    assert told["menu_trips"] == len(told["moves"]) >= 1
    assert 2.0 < told["simulated_minutes"] < 30.0
    truth = told["truth"]
    assert truth["adjusted_worst_de2000_after"] < 1.0 < truth["adjusted_worst_de2000_before"]
    assert truth["ladder_mean_de2000_after"] < truth["ladder_mean_de2000_before"]
    # Twelve figures are no readings of a stand-in's truth: they carry the meter's noise.
    assert told["proof"]["levels"][2]["de2000"] != truth["adjusted_worst_de2000_after"]


def test_the_same_seed_gives_the_same_run(tmp_path: Path) -> None:
    first, second = (
        json.loads(Path(command("run", "demo", "--out", tmp_path / name, "--seed", 3).stdout.strip()).read_text())
        for name in ("a", "b")
    )
    assert first == second


def test_another_target(tmp_path: Path) -> None:
    done = command("run", "demo", "--out", tmp_path, "--target", "rec709-2.4")
    told = json.loads(Path(done.stdout.strip()).read_text())
    assert told["target"] == "rec709-2.4"


def test_what_a_screen_has_no_control_for_is_passed_over(tmp_path: Path) -> None:
    done = command("run", "family-tube", "--out", tmp_path, "--whole", "--seed", 2)
    assert done.returncode == 0, done.stderr
    assert "Gamma preset is left out: Enter the gamma preset" in done.stderr
    assert json.loads(Path(done.stdout.strip()).read_text())["truth"]["adjusted_worst_de2000_after"] < 2.0


@pytest.mark.parametrize("seed", [0, 1, 2])
def test_coarse_controls_end_with_a_reason_and_within_their_stops(tmp_path: Path, seed: int) -> None:
    done = command("run", "coarse", "--out", tmp_path, "--seed", seed)
    assert done.returncode == 0, done.stderr
    told = json.loads(Path(done.stdout.strip()).read_text())
    assert told["truth"]["adjusted_worst_de2000_after"] < 0.5 * told["truth"]["adjusted_worst_de2000_before"]
    assert told["stopped"].startswith(("The target is met", "No turn of these controls", "The meter cannot"))
    for move in told["moves"]:
        assert all(-10 <= change["to"] <= 10 for change in move["changes"])


def scenario(tmp_path: Path, old: str, new: str) -> Path:
    path = tmp_path / "mine.toml"
    assert old in DEMO
    path.write_text(DEMO.replace(old, new, 1), "utf-8")
    return path


def test_wrong_scenarios_and_targets(tmp_path: Path) -> None:
    assert "neither a file nor one of" in failed("run", "nowhere", "--out", tmp_path)
    wrong = scenario(tmp_path, "peak_cd_m2", "peak_nits")
    assert "screen.peak_nits is not a key" in failed("run", wrong, "--out", tmp_path / "out")
    assert not (tmp_path / "out").exists()
    assert "no target “vivid”" in failed("run", "demo", "--out", tmp_path / "out", "--target", "vivid")


def test_a_meter_that_goes_silent_keeps_its_readings_and_can_be_gone_on_with(tmp_path: Path) -> None:
    path = scenario(tmp_path, "[screen]\n", "[meter]\nsilent_after_readings = 15\n\n[screen]\n")
    told = failed("run", path, "--out", tmp_path / "out")
    assert "Stand-in colorimeter: it does not answer, 3 times running" in told
    assert "Every reading up to here is kept" in told
    book = open_logbook(tmp_path / "out" / "logbook.sqlite")
    visit = book.open_visit()
    assert visit is not None
    assert 4 <= book.passes(visit.id)[0].readings <= 7
    path.write_text(DEMO, "utf-8")
    assert command("run", path, "--out", tmp_path / "out").returncode == 0
    assert [record.readings for record in book.passes(visit.id)][::2] == [30, 17]


@pytest.mark.parametrize("fault", ["timeout_share = 0.1", "rubbish_share = 0.1"])
def test_a_meter_that_fails_now_and_then_is_asked_again(tmp_path: Path, fault: str) -> None:
    path = scenario(tmp_path, "[screen]\n", f"[meter]\n{fault}\n\n[screen]\n")
    done = command("run", path, "--out", tmp_path / "out", "--seed", 2)
    assert done.returncode == 0, done.stderr
    assert json.loads(Path(done.stdout.strip()).read_text())["truth"]["adjusted_worst_de2000_after"] < 1.0


def test_a_meter_that_answers_only_rubbish(tmp_path: Path) -> None:
    path = scenario(tmp_path, "[screen]\n", "[meter]\nrubbish_share = 1.0\n\n[screen]\n")
    assert "not a number" in failed("run", path, "--out", tmp_path / "out")


def test_broken_logbooks(tmp_path: Path) -> None:
    (tmp_path / "logbook.sqlite").write_text("a letter, not a logbook " * 100)
    assert "left as it is" in failed("run", "demo", "--out", tmp_path)
    assert "left as it is" in failed("report", "--logbook", tmp_path / "logbook.sqlite", "--out", tmp_path)


def test_reports_that_cannot_be(tmp_path: Path) -> None:
    missing = tmp_path / "none.sqlite"
    assert f"There is no logbook {missing}" in failed("report", "--logbook", missing, "--out", tmp_path)
    assert not missing.exists()
    open_logbook(tmp_path / "empty.sqlite").close()
    assert "no visit" in failed("report", "--logbook", tmp_path / "empty.sqlite", "--out", tmp_path)


def test_the_bench_is_served_until_it_is_interrupted() -> None:
    command_line = [sys.executable, "-m", "aequitone.cli", "bench", "plasma", "--seed", "3", "--pace", "200"]
    process = subprocess.Popen(
        command_line,
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
        text=True,
        # A shell that runs the tests in the background has them ignore interrupts, and so would their children.
        preexec_fn=lambda: signal.signal(signal.SIGINT, signal.SIG_DFL),
    )
    assert process.stdout is not None
    try:
        said = [process.stdout.readline().split() for _ in range(3)]
        assert [what for what, _ in said] == ["meter", "patterns", "screen"]
        meter, source, screen = (
            kind(Line(address, name))
            for kind, name, (_, address) in zip(
                (LineMeter, LineSource, LineScreen), ("METER", "SOURCE", "SCREEN"), said, strict=True
            )
        )
        patch = grey_patch(100.0, SignalFormat(10))
        source.show(patch)
        assert source.shows(patch)
        assert 20.0 < meter.measure(patch, 0.5).Y < 400.0
        assert screen.name == "Merrowby V50, by link"
        assert screen.values()["feature-energy-saving"] == 0
        for device in (meter, source, screen):
            device.line.close()
    finally:
        process.send_signal(signal.SIGINT)
        assert process.wait(20) == 0
        process.stdout.close()
        assert process.stderr is not None
        process.stderr.close()


def test_a_port_that_is_taken_is_one_sentence() -> None:
    with socket.create_server(("127.0.0.1", 0)) as taken:
        told = failed("bench", "demo", "--port", str(taken.getsockname()[1]))
    assert "Address already in use" in told
    assert "Traceback" not in told
