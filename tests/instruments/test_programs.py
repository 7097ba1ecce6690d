"""Meters and sources that are programs: by the protocol and by a bridge; killed, hung and babbling ones."""

import os
import re
import shlex
import signal
import sys
import threading
import time
from pathlib import Path

import numpy as np
import pytest

from aequitone.instruments import InstrumentError
from aequitone.instruments.bridges import BridgeMeter, BridgeSource, bridge_kind
from aequitone.instruments.line import Line
from aequitone.instruments.line_devices import LineMeter, LineSource
from aequitone.instruments.opening import introduced
from aequitone.instruments.ports import Bench
from aequitone.procedures.grey.grey_pass import GreyPass, GreyPlan, grey_pass
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.runner import NobodyThere, Runner
from aequitone.reference import target_named
from aequitone.signal import SignalFormat, grey_patch
from aequitone.standins.clock import PacedClock

DOCS = Path(__file__).parents[2] / "docs" / "bridges.md"
PATCH = grey_patch(50.0, SignalFormat(8))
PLAN = GreyPlan(target_named("rec709-2.2"), SignalFormat(10), anchor_every=0)
# What every example shows is written here, and what a reading says is read from here.
SHARED = """
import pathlib
SHOWN = pathlib.Path({path!r})
def light():
    code = int((SHOWN.read_text() if SHOWN.exists() else "0 10").split()[0])
    share = max(0.0, (code - 64) / 876.0) ** 2.2
    return 0.9505 * 120.0 * share, 120.0 * share, 1.089 * 120.0 * share
"""


def examples() -> dict[str, str]:
    """The programs of the document, by name, as they are printed."""
    blocks = re.findall(r"```python\n(.*?)```", DOCS.read_text("utf-8"), re.DOTALL)
    return {re.match(r"# (\w+)\.py", block)[1]: block for block in blocks}  # type: ignore[index]


def command(path: Path, *arguments: str) -> str:
    return " ".join(shlex.quote(word) for word in (sys.executable, str(path), *arguments))


@pytest.fixture
def programs(tmp_path: Path) -> dict[str, Path]:
    """The examples as files, unchanged."""
    files = {}
    for name, text in examples().items():
        files[name] = tmp_path / f"{name}.py"
        files[name].write_text(text)
    return files


@pytest.fixture
def seeing(tmp_path: Path) -> dict[str, Path]:
    """The same, filled in as the document says, so that the meter sees what the source shows."""
    shared = SHARED.format(path=str(tmp_path / "shown"))
    texts = examples()
    filled = {
        "meter": shared + re.sub(r"def light\(\):.*?return [^\n]*\n", "", texts["meter"], flags=re.DOTALL),
        "source": shared
        + texts["source"].replace(
            '"""Replace this by what your generator understands."""', 'SHOWN.write_text(f"{r} {depth}")'
        ),
        "read": shared + texts["read"].replace("X, Y, Z = 95.0, 100.0, 108.9", "X, Y, Z = light()"),
        "show": shared + texts["show"] + 'SHOWN.write_text(f"{r} {depth}")\n',
    }
    files = {}
    for name, text in filled.items():
        files[name] = tmp_path / f"seeing-{name}.py"
        files[name].write_text(text)
    return files


def passed(bench: Bench) -> GreyPass:
    return Runner(bench, MemoryJournal(), NobodyThere()).run(grey_pass(PLAN))


def test_the_examples_answer_as_printed(programs: dict[str, Path]) -> None:
    meter = introduced(f"EXEC::{command(programs['meter'])}")
    assert (meter.kind, meter.name) == ("METER", "Bridge meter")
    source = introduced(f"EXEC::{command(programs['source'])}")
    assert (source.kind, source.told) == ("SOURCE", "It sends 8 or 10 bit.")
    assert introduced(f"READ::{command(programs['read'])}").told == "It reads 100 cd/m²."
    shown = introduced(f"SHOW::{command(programs['show'])} {{r}} {{g}} {{b}} {{depth}} {{window}}")
    assert shown.kind == "SOURCE"


def test_a_whole_pass_with_programs_by_the_protocol(seeing: dict[str, Path]) -> None:
    lines = [
        Line(f"EXEC::{command(seeing[name])}", kind) for name, kind in (("meter", "METER"), ("source", "SOURCE"))
    ]
    found = passed(Bench(LineMeter(lines[0]), LineSource(lines[1]), None, PacedClock(50.0)))
    assert found.white == pytest.approx(120.0, rel=1e-3)
    assert np.nanmax(found.errors.de2000) < 1.0
    for line in lines:
        line.close()


def test_a_whole_pass_over_bridges(seeing: dict[str, Path]) -> None:
    meter = BridgeMeter(f"READ::{command(seeing['read'])}")
    source = BridgeSource(f"SHOW::{command(seeing['show'])} {{r}} {{g}} {{b}} {{depth}} {{window}}")
    found = passed(Bench(meter, source, None, PacedClock(50.0)))
    assert found.white == pytest.approx(120.0, rel=1e-3)
    assert np.nanmax(found.errors.de2000) < 1.0


def written(tmp_path: Path, text: str) -> str:
    path = tmp_path / "program.py"
    path.write_text(text)
    return command(path)


def test_figures_of_chromaticity_and_what_is_printed_before_them(tmp_path: Path) -> None:
    told = written(tmp_path, "print('warming up'); print('x y Y'); print('0.3127; 0.3290; 250')\n")
    seen = BridgeMeter(f"READXYY::{told}").measure(PATCH, 1.0)
    assert pytest.approx(250.0) == seen.Y
    assert pytest.approx(0.3127) == seen.X / (seen.X + seen.Y + seen.Z)


@pytest.mark.parametrize(
    ("text", "sentence"),
    [
        ("print('hello')", "printed “hello” where three numbers belong"),
        ("print('1 2')", "where three numbers belong"),
        ("pass", "printed “” where three numbers belong"),
        ("raise SystemExit(3)", "exit code 3"),
        ("while True: print('9' * 10000)", "prints without an end"),
    ],
)
def test_a_command_that_does_not_say_a_reading_is_one_sentence(tmp_path: Path, text: str, sentence: str) -> None:
    with pytest.raises(InstrumentError, match=sentence):
        BridgeMeter(f"READ::{written(tmp_path, text)}").measure(PATCH, 1.0)


def test_commands_that_cannot_be_are_refused() -> None:
    with pytest.raises(InstrumentError, match="there is no command"):
        BridgeMeter("READ::")
    with pytest.raises(InstrumentError, match="quote without its end"):
        BridgeMeter("READ::'half")
    with pytest.raises(InstrumentError, match="stands for nothing"):
        BridgeSource("SHOW::show {r} {g} {blue}")
    with pytest.raises(InstrumentError, match="cannot be run: No such file"):
        BridgeMeter("READ::/no/such/program").measure(PATCH, 1.0)
    assert bridge_kind("TCPIP::127.0.0.1::5025::SOCKET") is None


def test_no_shell_sees_a_command(tmp_path: Path) -> None:
    marker = tmp_path / "marker"
    told = written(tmp_path, "import sys; print(1, 2, len(sys.argv))\n")
    seen = BridgeMeter(f"READ::{told} ; touch {marker} $(touch {marker})").measure(PATCH, 1.0)
    assert seen.Z == 6.0
    assert not marker.exists()


HANGS = """
import subprocess, sys, time
child = subprocess.Popen([sys.executable, "-c", "import time; time.sleep(600)"])
open({path!r}, "w").write(str(child.pid))
for line in sys.stdin:
    if line.startswith("*IDN?"): print("A,Hangs,1,1", flush=True)
    elif line.startswith("SYST:KIND?"): print("METER", flush=True)
    elif line.startswith("SYST:PROT?"): print("1", flush=True)
    elif line.startswith("SENS:NOIS?"): print("0.01,0.01,0", flush=True)
    elif line.startswith("SENS:LIM?"): print("0.01,1000,0.1,10", flush=True)
    elif line.startswith("MEAS"): {then}
"""


def alive(pid: int) -> bool:
    """Whether a process runs; one that has ended and was not waited for does not."""
    try:
        return Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[0] not in "ZX"
    except FileNotFoundError:
        return False


def gone(pid: int) -> bool:
    end = time.monotonic() + 3.0
    while alive(pid) and time.monotonic() < end:
        time.sleep(0.02)
    return not alive(pid)


@pytest.mark.parametrize(
    ("then", "sentence"),
    [
        ("time.sleep(600)", "did not answer within"),
        ("sys.exit(1)", "the connection was lost"),
        ("[print('9' * 10000, end='', flush=True) for _ in range(10000)]", "its answer had no end"),
    ],
)
def test_a_program_that_hangs_ends_or_babbles_is_survived_and_its_children_end(
    tmp_path: Path, then: str, sentence: str
) -> None:
    pids = tmp_path / "pid"
    told = written(tmp_path, HANGS.format(path=str(pids), then=then))
    meter = LineMeter(Line(f"EXEC::{told}", "METER", patience=0.5))
    child = int(pids.read_text())
    assert alive(child)
    with pytest.raises(InstrumentError, match=sentence):
        meter.measure(PATCH, 0.1)
    assert gone(child)
    # The next question starts it anew.
    assert meter.line.ask("SENS:NOIS?") == "0.01,0.01,0"
    second = int(pids.read_text())
    assert second != child
    meter.line.close()
    assert gone(second)


def test_a_killed_program_is_noticed_and_started_again(seeing: dict[str, Path]) -> None:
    meter = LineMeter(Line(f"EXEC::{command(seeing['meter'])}", "METER"))
    first = meter.measure(PATCH, 0.2)
    os.kill(meter.line._channel._process.pid, signal.SIGKILL)  # type: ignore[union-attr]
    with pytest.raises(InstrumentError, match="the connection was lost"):
        meter.measure(PATCH, 0.2)
    assert meter.measure(PATCH, 0.2) == first
    meter.line.close()


def test_a_command_that_runs_is_ended_from_another_thread(tmp_path: Path) -> None:
    meter = BridgeMeter(f"READ::{written(tmp_path, 'import time; time.sleep(600)')}")
    said: list[str] = []

    def asking() -> None:
        try:
            meter.measure(PATCH, 1.0)
        except InstrumentError as error:
            said.append(str(error))

    thread = threading.Thread(target=asking)
    thread.start()
    time.sleep(0.3)
    meter.hang_up()
    thread.join(3.0)
    assert not thread.is_alive()
    assert said
    with pytest.raises(InstrumentError, match="it was ended"):
        meter.measure(PATCH, 1.0)
