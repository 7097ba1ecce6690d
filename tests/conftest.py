"""Shared set-up: no monitor, no home of the user, and a bench in one call."""

import os
import shutil
from collections.abc import Callable
from pathlib import Path

import pytest
from hypothesis import settings

# Before anything imports Qt: widgets that are not driven in a real window are drawn off screen.
os.environ["QT_QPA_PLATFORM"] = "offscreen"

from aequitone.advice.checklist import checklist
from aequitone.logbook import Logbook, VisitRecord, open_logbook
from aequitone.logbook.settings.ledger import CheckState
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.signal import Transfer
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import load_scenario

# A machine that stands still for a moment is no fault of what is tested: speed is shown in benchmarks.
settings.register_profile("untimed", deadline=None)
settings.load_profile("untimed")


@pytest.fixture(autouse=True)
def _own_home(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    for name in ("XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_CACHE_HOME", "XDG_STATE_HOME"):
        monkeypatch.setenv(name, str(tmp_path / name))


@pytest.fixture
def bench() -> Callable[[int], StandInBench]:
    """The demo's stand-ins, by seed, on a virtual clock."""
    scenario = load_scenario("demo")
    return lambda seed: build_bench(scenario, seed)


@pytest.fixture(scope="session")
def empty_logbook(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A new logbook's file: to make its tables by every step of their history takes most of a short test."""
    path = tmp_path_factory.mktemp("empty") / "logbook.sqlite"
    open_logbook(path).close()
    return path


@pytest.fixture
def logbook(tmp_path: Path, empty_logbook: Path) -> Logbook:
    shutil.copy(empty_logbook, tmp_path)
    return open_logbook(tmp_path / "logbook.sqlite")


def answer_checklist(logbook: Logbook, visit: VisitRecord) -> None:
    """Answer every line of Prepare, with a meter and without, so that a test begins at As found."""
    roles = {control.role for control in logbook.controls(visit.screen_id)}
    hdr = visit.bench.transfer is not Transfer.GAMMA
    for metered in (True, False):
        for line in checklist(visit.technology, roles, metered=metered, hdr=hdr, watched=True):
            logbook.ledger.check(visit.id, line.key, CheckState.DONE)


@pytest.fixture
def visit(logbook: Logbook, bench: Callable[[int], StandInBench]) -> VisitRecord:
    """A visit to the demo's unit 4, its controls noted as found."""
    begun = begin_standin_visit(logbook, load_scenario("demo"), "demo", 4)
    note_as_found(logbook, begun, bench(4).link.values())
    answer_checklist(logbook, begun)
    return begun
