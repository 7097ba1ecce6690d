"""A visit that another program has is looked at, and nothing is written into it."""

from collections.abc import Callable

from tests.contents import contents

from aequitone.desktop import commands
from aequitone.desktop.commands import Command
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.stations.white import commands as white_commands
from aequitone.desktop.tools.controls import commands as controls_commands
from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook, VisitRecord
from aequitone.logbook.storage.lease import VisitLease
from aequitone.passes import AS_FOUND, begin, carry_out
from aequitone.procedures.runner import NobodyThere
from aequitone.standins.bench import StandInBench

Open = Callable[[Logbook], MainWindow]
Drive = Callable[[MainWindow], Driver]


def test_a_visit_that_another_has_is_only_looked_at(
    logbook: Logbook, visit: VisitRecord, bench: Callable[[int], StandInBench], open_on: Open, drive: Drive
) -> None:
    carry_out(logbook, begin(logbook, visit.id, AS_FOUND), bench(4).bench(), NobodyThere())
    lease = VisitLease(logbook.path, visit.id)
    before = contents(logbook.path)
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    assert presenter.view().panel.heading == "Only to look at"
    assert "has this visit open" in presenter.view().panel.sentence
    writing: list[Command] = [
        commands.BEGIN,
        commands.GO_ON,
        commands.SET_ASIDE,
        commands.IMPORT,
        commands.UNDO,
        commands.BENCH,
        white_commands.STOP_FIGURE,
        white_commands.PAIR,
        *commands.CHOICES,
    ]
    for station in presenter.stations:
        presenter.go_to(station.id)
        for command in writing:
            presenter.do(command)
            assert "only be looked at" in presenter.session.message
            assert not presenter.running
    presenter.do(commands.CONTROLS)
    presenter.do(controls_commands.PUT_BACK_ALL)
    presenter.do(controls_commands.REACH)
    presenter.do(commands.CLOSE_TOOL)
    presenter.do(commands.TAKE_VISIT)
    assert presenter.session.held_by
    assert contents(logbook.path) == before
    lease.release()
    driver.press_for(commands.TAKE_VISIT)
    driver.wait(lambda: not presenter.session.held_by, "the visit")
    driver.wait(lambda: presenter.view().panel.heading != "Only to look at", "the station")


def test_the_window_lets_go_of_a_visit_when_it_leaves_it(
    logbook: Logbook, visit: VisitRecord, open_on: Open
) -> None:
    window = open_on(logbook)
    presenter = window.presenter
    assert not presenter.session.held_by
    presenter.do(commands.NEW_VISIT)
    VisitLease(logbook.path, visit.id).release()
    presenter.open_visit(visit.id)
    window.close()
    VisitLease(logbook.path, visit.id).release()
