"""A window on a visit whose screen a person turns, and what it asks of them."""

from collections.abc import Callable
from dataclasses import replace

from aequitone.advice.moves import Move
from aequitone.desktop.presenter import Presenter
from aequitone.desktop.session.operator import AskMove
from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook, VisitRecord
from aequitone.logbook.records import Connection
from aequitone.standins.screen import StandInScreen


def window_by_hand(logbook: Logbook, visit: VisitRecord, open_on: Callable[[Logbook], MainWindow]) -> MainWindow:
    """Open a window on the visit, its screen turned by hand and with nothing automatic on."""
    by_hand = replace(visit.bench, link=Connection.BY_HAND)
    logbook.change_visit(visit.id, target=visit.target, levels=visit.levels, bench=by_hand, controls=())
    window = open_on(logbook)
    screen_of(window.presenter).quieten()
    return window


def asked(presenter: Presenter) -> Move | None:
    """The move that a person is asked for."""
    question = presenter.session.asked.question if presenter.session.asked is not None else None
    return question.move if isinstance(question, AskMove) else None


def screen_of(presenter: Presenter) -> StandInScreen:
    standins = presenter.session.instruments.bench(presenter.snapshot.visit.bench).standins
    assert standins is not None
    return standins.screen
