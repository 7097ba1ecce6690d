"""Presets by hand, driven: a choice is watched with V, and asked for again where nothing was seen to change."""

from collections.abc import Callable

from tests.desktop.by_hand import asked, screen_of, window_by_hand

from aequitone.advice import checklist
from aequitone.desktop import commands
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.stations.prepare.station import PrepareStation
from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook, VisitRecord

Open = Callable[[Logbook], MainWindow]
Drive = Callable[[MainWindow], Driver]


def test_a_preset_is_watched_while_it_is_chosen(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = window_by_hand(logbook, visit, open_on)
    driver, presenter = drive(window), window.presenter
    presenter.go_to("prepare")
    station = presenter.station("prepare")
    assert isinstance(station, PrepareStation)
    station.go_to(next(i for i, each in enumerate(station.lines) if each.line.key == checklist.CHOICE))
    driver.press_for(commands.BEGIN)
    driver.wait(lambda: asked(presenter) is not None, "a preset to be asked for")
    move = asked(presenter)
    assert move is not None
    assert any(hint.command == commands.WATCH for hint in presenter.view().panel.keys)
    for chooses in (False, True):
        driver.press_for(commands.WATCH)
        driver.wait(
            lambda: any(hint.command == commands.WATCHED for hint in presenter.view().panel.keys), "a glance"
        )
        assert "60 % grey: " in presenter.view().panel.sentence
        if chooses:
            screen_of(presenter).turn({change.role.key: change.to_value for change in move.changes})
            driver.wait(lambda: "its colour moved by" in presenter.view().panel.sentence, "the change to be seen")
        driver.press_for(commands.WATCHED)
        if not chooses:
            driver.wait(lambda: asked(presenter) is not None, "to be asked once more")
            assert asked(presenter) == move
            assert "not seen to change" in presenter.view().panel.sentence
    driver.wait(lambda: asked(presenter) not in (None, move) or not presenter.running, "the next preset")
    # What was said of one choice is not said of the next.
    assert "not seen to change" not in presenter.view().panel.sentence
