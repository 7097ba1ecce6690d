"""Visits from the command line: by link as in the window, by hand at a terminal, left and gone on with."""

import json
import os
import pty
import re
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

from aequitone.advice.by_hand.standing import Standing
from aequitone.advice.moves import Change, Move
from aequitone.advice.roles import Role
from aequitone.errors import AequitoneError
from aequitone.instruments.line import Line
from aequitone.instruments.line_devices import LineScreen
from aequitone.logbook import open_logbook
from aequitone.logbook.records import Connection
from aequitone.passes import load_snapshot
from aequitone.procedures.runner import AbandonedError, Remedy
from aequitone.procedures.steps import PutBack, ReadAgain, StopHere
from aequitone.standins.bench import build_bench
from aequitone.standins.clock import PacedClock
from aequitone.standins.scenario import Scenario, load_scenario
from aequitone.standins.service.server import BenchServer
from aequitone.terminal.check import check_instrument
from aequitone.terminal.operator import TerminalOperator
from aequitone.terminal.plan_file import PlanFileError, VisitPlan, read_plan
from aequitone.terminal.visit import Addresses, make_visit

PLAN = """
client = "Fernhollow Hall"
room = "Screening room"
screen = "Norvane K55"
input = "HDMI 2"
memory = "Film night"
technology = "led-lcd"
depth_bit = 10
passes = ["as found", "white", "proof"]
"""
SEED = 4
# Simulated time goes by so fast that nobody waits for it.
PACE = 2_000.0


@pytest.fixture
def plan(tmp_path: Path) -> Path:
    path = tmp_path / "plan.toml"
    path.write_text(PLAN)
    return path


def steady() -> Scenario:
    """The demo, warm, and with a source that is there at once: what happens does not hang on the time of day."""
    scenario = load_scenario("demo")
    warm = scenario.screen.warm_up.model_copy(update={"already_minutes": 600.0})
    screen = scenario.screen.model_copy(update={"warm_up": warm})
    source = scenario.source.model_copy(update={"settle_seconds": 0.0})
    return scenario.model_copy(update={"screen": screen, "source": source})


@pytest.fixture
def served() -> Iterator[BenchServer]:
    with BenchServer(build_bench(steady(), SEED, clock=PacedClock(PACE))) as server:
        yield server


def addresses(served: BenchServer, *, by_link: bool = True) -> Addresses:
    meter, source, screen = served.addresses
    return Addresses(meter, source, screen if by_link else "")


def nobody() -> TerminalOperator:
    def ask(prompt: str) -> str:
        raise AssertionError(f"nobody is to be asked {prompt}")

    return TerminalOperator(ask, lambda _: None)


def test_by_link_a_visit_is_made_to_its_end_and_told(served: BenchServer, plan: Path, tmp_path: Path) -> None:
    said: list[str] = []
    path = make_visit(
        read_plan(plan), addresses(served), tmp_path / "out", nobody(), said.append, PacedClock(PACE)
    )
    told = json.loads(path.read_text())
    assert told["proof"] is not None
    assert told["moves"]
    logbook = open_logbook(tmp_path / "out" / "logbook.sqlite")
    (job,) = logbook.jobs.of(1)
    snapshot = load_snapshot(logbook, 1, job_id=job.id)
    assert snapshot.visit.bench.meter is Connection.INSTRUMENT
    stands = LineScreen(Line(served.addresses[2], "SCREEN")).values()
    assert all(stands[role.key] == value for role, value in snapshot.settings.items())
    assert any(line.startswith("Report: ") for line in said)
    assert any(re.search(r"\d+ of \d+, about .* left", line) for line in said)


def test_left_in_the_middle_it_is_gone_on_with_by_the_same_command(
    served: BenchServer, plan: Path, tmp_path: Path
) -> None:
    out, said = tmp_path / "out", list[str]()
    count = 0

    def say(text: str) -> None:
        nonlocal count
        count += "of" in text
        said.append(text)
        if count == 7:
            raise KeyboardInterrupt

    with pytest.raises(KeyboardInterrupt):
        make_visit(read_plan(plan), addresses(served), out, nobody(), say, PacedClock(PACE))
    kept = sum(record.readings for record in open_logbook(out / "logbook.sqlite").passes(1))
    assert kept > 0
    make_visit(read_plan(plan), addresses(served), out, nobody(), said.append, PacedClock(PACE))
    assert any(text.startswith("Going on") for text in said)
    kinds = [record.kind for record in open_logbook(out / "logbook.sqlite").passes(1)]
    assert kinds == ["as found", "white", "proof"]


def test_an_unfinished_visit_of_another_plan_is_not_gone_on_with(
    served: BenchServer, plan: Path, tmp_path: Path
) -> None:
    def stop(text: str) -> None:
        raise KeyboardInterrupt

    with pytest.raises(KeyboardInterrupt):
        make_visit(read_plan(plan), addresses(served), tmp_path / "out", nobody(), stop, PacedClock(PACE))
    other = read_plan(plan).model_copy(update={"client": "Somebody else"})
    with pytest.raises(PlanFileError, match="unfinished visit to Fernhollow Hall"):
        make_visit(other, addresses(served), tmp_path / "out", nobody(), print, PacedClock(PACE))


def controls(served: BenchServer) -> str:
    """The gains and biases for a plan by hand, as a person would copy them from the menu."""
    screen = LineScreen(Line(served.addresses[2], "SCREEN"))
    values, rows = screen.values(), []
    for control in screen.menu():
        if control.role.startswith(("gain-", "bias-")):
            rows.append(
                f'[[control]]\nrole = "{control.role}"\nname = "{control.name}"\nlowest = {control.lowest}\n'
                f"highest = {control.highest}\nfactory = {control.factory}\nfound = {values[control.role]}\n"
            )
    screen.line.close()
    return "\n".join(rows)


def test_by_hand_at_a_terminal(served: BenchServer, plan: Path, tmp_path: Path) -> None:
    plan.write_text(PLAN.replace('passes = ["as found", "white", "proof"]', 'passes = ["as found", "white"]'))
    plan.write_text(plan.read_text() + controls(served))
    screen = LineScreen(Line(served.addresses[2], "SCREEN"))
    roles = {control.name: control.role for control in screen.menu()}
    meter, source, _ = served.addresses
    ours, theirs = pty.openpty()
    command = [
        str(Path(sys.executable).with_name("aequitone")),
        "visit",
        "--meter",
        meter,
        "--source",
        source,
        "--by-hand",
    ]
    command += ["--plan", str(plan), "--out", str(tmp_path / "out")]
    environment = os.environ | {"HOME": str(tmp_path), "XDG_STATE_HOME": str(tmp_path)}
    process = subprocess.Popen(command, stdin=theirs, stdout=theirs, stderr=theirs, env=environment)
    os.close(theirs)
    heard, turned = "", 0
    while True:
        try:
            heard += os.read(ours, 4096).decode("utf-8", "replace")
        except OSError:
            break
        if heard.rstrip().endswith("continue later]"):
            asked = re.findall(r"^\s+(.+): (-?\d+) → (-?\d+)\r?$", heard, re.MULTILINE)
            screen.turn({roles[name]: int(value) for name, _, value in asked if name in roles})
            turned, heard = turned + 1, ""
            os.write(ours, b"\n")
    assert process.wait(30) == 0, heard
    os.close(ours)
    assert turned >= 1
    told = json.loads((tmp_path / "out" / "summary.json").read_text())
    assert told["menu_trips"] == turned
    stands = screen.values()
    logbook = open_logbook(tmp_path / "out" / "logbook.sqlite")
    for role, value in load_snapshot(logbook, 1).settings.items():
        assert stands[role.key] == value
    screen.line.close()


MOVE = Move((Change(Role.GAIN_R, "Red gain", 50, 46),))


def answered(*answers: str) -> tuple[TerminalOperator, list[str]]:
    said, left = list[str](), list(answers)

    def ask(prompt: str) -> str:
        said.append(prompt)
        if not left:
            raise EOFError
        return left.pop(0)

    return TerminalOperator(ask, said.append), said


def test_what_a_person_can_answer() -> None:
    for answer, wish in (("", None), ("s", StopHere), ("Z", PutBack), (" r ", ReadAgain)):
        operator, said = answered(answer)
        assert operator.turn(MOVE) is wish
        assert "  Red gain: 50 → 46" in said
    operator, said = answered("what", "")
    assert operator.turn(MOVE) is None
    assert any("none of the answers" in words for words in said)
    for leaving in (("q",), ()):
        with pytest.raises(AbandonedError):
            answered(*leaving)[0].turn(MOVE)
    error = AequitoneError("the meter is gone")
    assert answered("")[0].trouble(error) is Remedy.TRY_AGAIN  # type: ignore[arg-type]
    assert answered("g")[0].trouble(error) is Remedy.GIVE_UP  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("old", "new", "sentence"),
    [
        ('"white"', '"whyte"', "there is no pass “whyte”"),
        ('"white"', '"as found"', "name each pass once"),
        ('client = "Fernhollow Hall"', "", "client: Field required"),
        ("depth_bit = 10", "depth_bit = 9", "depth_bit"),
        ("depth_bit = 10", 'meter = "EXEC::rm"', "meter: Extra inputs are not permitted"),
        ("depth_bit = 10", 'target = "vivid"', "there is no target “vivid”"),
        ('technology = "led-lcd"', 'technology = "cinema"', "technology"),
        ("depth_bit = 10", "depth_bit = ", "is not TOML"),
    ],
)
def test_a_plan_that_cannot_be_is_refused_with_its_place(plan: Path, old: str, new: str, sentence: str) -> None:
    plan.write_text(PLAN.replace(old, new, 1))
    with pytest.raises(PlanFileError) as refused:
        read_plan(plan)
    assert sentence in str(refused.value)


def test_controls_of_a_plan_are_held_to_their_limits() -> None:
    control = {"role": "gain-r", "name": "Red", "found": 120}
    base: dict[str, object] = {"control": [control], "technology": "led-lcd"}
    base |= {name: name for name in ("client", "room", "screen", "input", "memory")}
    with pytest.raises(ValueError, match="120 is not a setting from 0 to 100"):
        VisitPlan.model_validate(base)
    with pytest.raises(ValueError, match="there is no role"):
        VisitPlan.model_validate(base | {"control": [control | {"role": "warmth", "found": 3}]})


def test_instruments_are_checked(served: BenchServer) -> None:
    said: list[str] = []
    meter, source, screen = served.addresses
    assert check_instrument(meter, said.append) == 0
    assert any("nothing to look at yet" in words for words in said)
    assert check_instrument(source, said.append) == 0
    assert check_instrument(screen, said.append) == 0
    assert check_instrument(meter, said.append) == 0
    assert any(words.startswith("It reads") for words in said)


def test_an_instrument_that_breaks_the_protocol_is_told_where(tmp_path: Path) -> None:
    program = tmp_path / "meter.py"
    program.write_text(
        """
import random, sys
known = {"*IDN?": "A,Loose,1,1", "SYST:KIND?": "METER", "SYST:PROT?": "1", "SENS:NOIS?": "0.0001,0,0",
         "SENS:LIM?": "0.01,1000,0.1,10", "SYST:ERR?": '0,"No error"'}
for line in sys.stdin:
    header, _, rest = line.strip().partition(" ")
    if header.startswith("MEAS"):
        print(rest.split(",")[0], *[100 * random.uniform(0.8, 1.2)] * 3, sep=",", flush=True)
    elif header in known:
        print(known[header], flush=True)
"""
    )
    said: list[str] = []
    assert check_instrument(f"EXEC::{sys.executable} {program}", said.append) == 2
    faults = [words for words in said if words.startswith("Fault")]
    assert "leaves no error in the queue" in faults[0]
    assert "scatters more than it promises" in faults[1]


def test_at_a_terminal_it_can_stand_elsewhere() -> None:
    operator, said = answered("at twelve", "at 48")
    answer = operator.turn(MOVE)
    assert isinstance(answer, Standing)
    assert list(answer.at.values()) == [48]
    assert any("is no figure" in words for words in said)
