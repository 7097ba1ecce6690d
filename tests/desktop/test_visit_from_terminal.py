"""A visit on a served bench: from the command line and in the window it comes to the same settings."""

from collections.abc import Callable
from pathlib import Path

import pytest
from tests.terminal.test_visit import PACE, PLAN, SEED, addresses, nobody, steady

from aequitone.desktop import commands
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook, open_logbook
from aequitone.passes import AS_FOUND, PROOF, WHITE, load_snapshot
from aequitone.standins.bench import build_bench
from aequitone.standins.clock import PacedClock
from aequitone.standins.service.server import BenchServer
from aequitone.terminal.plan_file import read_plan
from aequitone.terminal.visit import make_visit

Open = Callable[[Logbook], MainWindow]
Drive = Callable[[MainWindow], Driver]


def served() -> BenchServer:
    return BenchServer(build_bench(steady(), SEED, clock=PacedClock(PACE)))


def begun_at(server: BenchServer, plan: Path, out: Path) -> None:
    """A visit that was begun at the terminal and left before its first reading."""

    def leave(_: str) -> None:
        raise KeyboardInterrupt

    with pytest.raises(KeyboardInterrupt):
        make_visit(read_plan(plan), addresses(server), out, nobody(), leave, PacedClock(PACE))


def test_the_window_comes_to_the_same_settings(tmp_path: Path, open_on: Open, drive: Drive) -> None:
    plan = tmp_path / "plan.toml"
    plan.write_text(PLAN)
    with served() as server:
        make_visit(
            read_plan(plan), addresses(server), tmp_path / "terminal", nobody(), lambda _: None, PacedClock(PACE)
        )
    at_terminal = load_snapshot(open_logbook(tmp_path / "terminal" / "logbook.sqlite"), 1)
    with served() as server:
        begun_at(server, plan, tmp_path / "window")
        window = open_on(open_logbook(tmp_path / "window" / "logbook.sqlite"))
        driver, presenter = drive(window), window.presenter
        for station, kind in (("as-found", AS_FOUND), ("white", WHITE), ("proof", PROOF)):
            presenter.go_to(station)
            window.refresh()
            interrupted = presenter.snapshot.interrupted is not None
            driver.press_for(commands.GO_ON if interrupted else commands.BEGIN)
            driver.wait_for_pass()
            assert presenter.snapshot.done(kind)
        assert presenter.snapshot.settings == at_terminal.settings
