"""Real windows under Xvfb: a visit by key presses of the X server, and one with meter and patterns by hand."""

import json
import os
import shutil
import sqlite3
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

pytestmark = pytest.mark.skipif(
    shutil.which("Xvfb") is None, reason="no Xvfb on this machine: make setup installs it"
)
PATIENCE = 60.0


@pytest.fixture
def display() -> Iterator[dict[str, str]]:
    """An X server of its own, without a window manager; the environment to use it with."""
    reading, writing = os.pipe()
    # A server that resets when its last client leaves refuses whoever connects in that moment.
    command = ["Xvfb", "-displayfd", str(writing), "-screen", "0", "1920x1200x24", "-nolisten", "tcp", "-noreset"]
    server = subprocess.Popen(command, pass_fds=[writing], stderr=subprocess.DEVNULL)
    os.close(writing)
    with os.fdopen(reading) as told:
        number = told.readline().strip()
    yield os.environ | {"DISPLAY": f":{number}", "QT_QPA_PLATFORM": "xcb"}
    server.terminate()
    server.wait(10)


def wait(until: Callable[[], object], what: str) -> None:
    end = time.monotonic() + PATIENCE
    while not until():
        assert time.monotonic() < end, f"waited in vain for {what}"
        time.sleep(0.05)


class Keys:
    """Presses keys as the X server reports them: no shortcut into the program."""

    def __init__(self, environment: dict[str, str], logbook: Path) -> None:
        self._environment, self._logbook = environment, logbook

    def __call__(self, key: str) -> None:
        subprocess.run(["xdotool", "key", key], env=self._environment, check=True, timeout=10)
        time.sleep(0.4)

    def come_forward(self, name: str) -> None:
        def found() -> str:
            search = ["xdotool", "search", "--onlyvisible", "--name", name]
            return subprocess.run(
                search, env=self._environment, capture_output=True, text=True, check=False
            ).stdout

        wait(found, f"the window {name}")
        window = found().split()[0]
        subprocess.run(["xdotool", "windowfocus", "--sync", window], env=self._environment, check=True, timeout=10)

    def ask(self, query: str) -> list[tuple]:
        connection = sqlite3.connect(self._logbook)
        try:
            return connection.execute(query).fetchall()
        finally:
            connection.close()

    def wait_for(self, query: str, answer: list[tuple]) -> None:
        wait(lambda: self.ask(query) == answer, f"{query} to give {answer}")
        # The window hears of it after the logbook; on a loaded machine, well after.
        time.sleep(2.0)


def test_the_whole_visit_by_keys_in_a_real_window(display: dict[str, str], tmp_path: Path) -> None:
    command = [sys.executable, "-m", "aequitone.cli", "demo", "--folder", str(tmp_path), "--pace", "400"]
    process = subprocess.Popen(command, env=display, stderr=subprocess.PIPE, text=True)
    try:
        logbook = tmp_path / "logbook.sqlite"
        press = Keys(display, logbook)
        press.come_forward("Aequitone")
        press("ctrl+r")
        time.sleep(1.0)
        press("ctrl+Return")
        press.wait_for("SELECT count(*) FROM setting WHERE reason = 'as found'", [(71,)])
        done = "SELECT kind FROM pass WHERE state = 'done' ORDER BY id"
        # Past the checklist, which has a test of its own.
        press("g")
        colours = ("colours as found", "colour management", "colours as left")
        kinds = ("as found", "levels", "white", "tone", *colours, "proof")
        for i, kind in enumerate(kinds):
            # A key that comes while the window still takes in the pass before is lost.
            end = time.monotonic() + PATIENCE
            while not press.ask(f"SELECT count(*) FROM pass WHERE kind = '{kind}'")[0][0]:
                assert time.monotonic() < end, f"{kind} does not begin"
                press("Return")
                time.sleep(1.0)
            press.wait_for(done, [(each,) for each in kinds[: i + 1]])
            # At Colour the next step is the next pass, until colours were read as they are left.
            if kind not in colours[:2]:
                press("Return")
        press("Return")
        report = tmp_path / "reports" / "visit-1" / "report.pdf"
        wait(report.exists, "the report")
        time.sleep(1.0)
        end = time.monotonic() + PATIENCE
        while press.ask("SELECT closed IS NOT NULL FROM visit") != [(1,)]:
            assert time.monotonic() < end, "the visit is not closed"
            press("ctrl+Return")
            time.sleep(1.0)
        moves = press.ask("SELECT count(*) FROM move")[0][0]
        assert moves >= 1
        assert report.read_bytes().startswith(b"%PDF")
    finally:
        process.terminate()
        _, said = process.communicate(timeout=20)
    assert "Traceback" not in said, said


def test_a_killed_window_offers_to_go_on_at_the_next_start(display: dict[str, str], tmp_path: Path) -> None:
    command = [sys.executable, "-m", "aequitone.cli", "demo", "--folder", str(tmp_path), "--pace", "20"]
    press = Keys(display, tmp_path / "logbook.sqlite")
    first = subprocess.Popen(command, env=display)
    press.come_forward("Aequitone")
    press("ctrl+3")
    press("Return")
    wait(lambda: press.ask("SELECT count(*) FROM reading")[0][0] >= 4, "four readings")
    first.kill()
    first.wait(10)
    kept = press.ask("SELECT id, seq, Y FROM reading ORDER BY seq")
    second = subprocess.Popen(command, env=display)
    try:
        press.come_forward("Aequitone")
        press("Return")
        press.wait_for("SELECT state FROM pass", [("done",)])
    finally:
        second.terminate()
        second.wait(20)
    after = press.ask("SELECT id, seq, Y FROM reading ORDER BY seq")
    assert after[: len(kept)] == kept
    assert len(after) == 30
    assert len({seq for _, seq, _ in after}) == 30


@pytest.mark.parametrize(("range_", "scale"), [("full", "1.5")])
def test_meter_by_hand_and_pattern_window_with_exact_pixels(
    display: dict[str, str], tmp_path: Path, range_: str, scale: str
) -> None:
    script = Path(__file__).with_name("hand_visit.py")
    done = subprocess.run(
        [sys.executable, str(script), str(tmp_path), range_], env=display | {"QT_SCALE_FACTOR": scale},
        capture_output=True, text=True, timeout=150, check=False,
    )  # fmt: skip
    assert done.returncode == 0, done.stderr
    told = json.loads(done.stdout.splitlines()[-1])
    black = 16 if range_ == "limited" else 0
    for patch in told["patches"]:
        assert patch["seen"] == patch["asked"]
        assert patch["corner"] == [black] * 3
        if patch["asked"] != patch["corner"]:
            assert patch["extent"] == patch["expected_extent"]
    percents = [patch["percent"] for patch in told["patches"]]
    assert set(percents) == {float(p) for p in range(0, 101, 10)}
    assert told["typed"] == len(told["patches"])
    assert told["again"] == 80.0
    assert percents.count(80.0) >= 2
    slip, nonsense = told["objections"]
    assert "was expected. Press Enter again to keep it" in slip
    assert "Nothing was kept of it" in nonsense
    assert told["station"]
    # Rounded as a display rounds, grey still comes from plainly visible to invisible.
    assert told["before"] > 5.0
    assert told["after"] < 1.0


@pytest.mark.parametrize(("range_", "scale"), [("limited", "1")])
def test_every_picture_is_exact_in_the_frame_buffer(display: dict[str, str], range_: str, scale: str) -> None:
    script = Path(__file__).with_name("picture_pixels.py")
    done = subprocess.run(
        [sys.executable, str(script), range_], env=display | {"QT_SCALE_FACTOR": scale},
        capture_output=True, text=True, timeout=150, check=False,
    )  # fmt: skip
    assert done.returncode == 0, done.stderr
    told = json.loads(done.stdout.splitlines()[-1])
    assert told["size"] == [1920, 1200]
    assert len(told["wrong"]) >= 15
    assert not any(told["wrong"].values()), told
