"""Colour management at Colour, by keys: by hand with reasons and a list of controls, by link with its moves."""

from collections.abc import Callable
from dataclasses import replace

import pytest
from PySide6.QtGui import QGuiApplication
from tests.desktop.by_hand import asked, screen_of, window_by_hand

from aequitone.advice.moves import Move
from aequitone.advice.roles import is_of_colours
from aequitone.desktop import commands
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.session.operator import AskMove
from aequitone.desktop.stations.colour import managing
from aequitone.desktop.stations.colour.commands import LIGHT
from aequitone.desktop.stations.colour.state import ColourPage
from aequitone.desktop.widgets.moves import MovesPage
from aequitone.desktop.window import MainWindow
from aequitone.handover.summary import summary
from aequitone.handover.words import done_words, settings_rows
from aequitone.logbook import Logbook, VisitRecord
from aequitone.logbook.records import Connection
from aequitone.logbook.standin_visit import note_as_found, nvram_path
from aequitone.passes import COLOURS_FOUND, MANAGEMENT, begin_planned, carry_out, colour_plan, load_snapshot
from aequitone.procedures.colour.samples import Length
from aequitone.procedures.runner import NobodyThere
from aequitone.standins.bench import build_bench
from aequitone.standins.scenario import load_scenario

# More than a colour management by hand may ask for, with what goes back in the end.
TRIPS = 14
Open = Callable[[Logbook], MainWindow]
Drive = Callable[[MainWindow], Driver]


# The demo's own colours are too good to walk for.
SPOILT = {"cms-red-hue": 14, "cms-green-saturation": -16, "cms-blue-lightness": 12}


@pytest.fixture
def colours_done(logbook: Logbook, white_done: VisitRecord) -> VisitRecord:
    """The demo with white set, colours that somebody has played with, and twelve everyday ones read."""
    bench = build_bench(load_scenario("demo"), 4, nvram=nvram_path(logbook.path, "demo", 4))
    bench.screen.turn(SPOILT)
    ports = bench.bench()
    note_as_found(logbook, white_done, bench.link.values())
    snapshot = load_snapshot(logbook, white_done.id)
    prepared = begin_planned(logbook, snapshot, COLOURS_FOUND, colour_plan(snapshot, Length.SHORT))
    carry_out(logbook, prepared, ports, NobodyThere(), care=white_done.bench.care)
    return white_done


def test_by_link_it_is_set_listed_and_told_in_the_report(
    logbook: Logbook, colours_done: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    presenter.go_to("colour")
    window.refresh()
    assert [line.label for line in presenter.view().panel.lines] == ["Set the", "colour management"]
    driver.press_for(commands.BEGIN)
    driver.wait_for_pass()
    snapshot = presenter.snapshot
    assert snapshot is not None
    managed = snapshot.result(MANAGEMENT)
    assert managed is not None
    assert managed.words in presenter.view().panel.sentence
    page = presenter.view().page
    assert isinstance(page, ColourPage)
    assert page.subtitle.startswith("as set" if managed.trips else "read once more")
    driver.press_for(commands.MOVES)
    driver.press_for(commands.COPY)
    assert len(QGuiApplication.clipboard().text().splitlines()) == 1 + len(managed.trips)
    assert isinstance(presenter.view().page, MovesPage)
    driver.press_for(commands.MOVES)
    # Of eighteen controls the report has those that were turned.
    turned = {c.name for c in managed.controls if c.value != SPOILT.get(c.role.key, 0)}
    named = {row[0] for row in settings_rows(snapshot)} & {c.name for c in managed.controls}
    assert named == turned
    if turned:
        assert "colour management of " in done_words(snapshot)
    told = summary(logbook, colours_done, 4)["colour_management"]
    assert told["words"] == managed.words
    assert told["settings"] == {control.role.key: control.value for control in managed.controls}
    assert len(told["moves"]) == len(managed.trips)
    assert told["light_counts"] is True
    assert told["everyday_reckoned_de2000"] == list(managed.everyday)
    assert told["ramps"] == [{"colour": each.colour, "step_de2000": each.step} for each in managed.ramps]
    # The next step reads the colours as they are left.
    driver.press_for(commands.COLOURS)
    driver.wait(lambda: presenter.running, "the pass")
    driver.press_for(commands.LEAVE)
    driver.wait(lambda: not presenter.running, "its end")


def test_light_counts_or_not_by_a_key(
    logbook: Logbook, colours_done: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, station = drive(window), window.presenter.station("colour")
    window.presenter.go_to("colour")
    chosen = []
    for _ in range(4):
        hint = managing.light_key(station._light)
        chosen.append(hint.choices[hint.chosen])
        driver.press_for(LIGHT)
    assert chosen == ["where it can be had", "counts", "left out", "where it can be had"]


def test_by_hand_every_control_is_listed_with_where_to_turn_it(
    logbook: Logbook, colours_done: VisitRecord, open_on: Open, drive: Drive
) -> None:
    by_hand = replace(logbook.visit(colours_done.id).bench, link=Connection.BY_HAND)
    logbook.change_visit(
        colours_done.id, target=colours_done.target, levels=colours_done.levels, bench=by_hand, controls=()
    )
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    presenter.go_to("colour")
    window.refresh()
    driver.press_for(commands.BEGIN)
    driver.wait(lambda: presenter.session.asked is not None or not presenter.running, "a move or the end")
    assert presenter.session.asked is not None
    question = presenter.session.asked.question
    assert isinstance(question, AskMove)
    page, panel = presenter.view().page, presenter.view().panel
    assert isinstance(page, ColourPage)
    listed = {each.name: each.to for _, row in page.settings for each in row}
    assert len(listed) == sum(is_of_colours(role) for role in presenter.snapshot.settings)
    assert {name: to for name, to in listed.items() if to is not None} == {
        change.name: change.to_value for change in question.move.changes
    }
    assert panel.sentence.startswith("Expect ΔE")
    driver.press_for(commands.WHY)
    assert presenter.view().panel.sentence.startswith("Furthest off: ")
    driver.press_for(commands.WHY)
    screen = presenter.session.instruments.bench(presenter.snapshot.visit.bench).standins.screen
    for _ in range(TRIPS):
        asked = presenter.session.asked
        screen.turn({change.role.key: change.to_value for change in asked.question.move.changes})
        driver.press_for(commands.TURNED)
        driver.wait(lambda asked=asked: presenter.session.asked is not asked, "its readings")
        driver.wait(lambda: presenter.session.asked is not None or not presenter.running, "a move or the end")
        if presenter.session.asked is None:
            break
    assert not presenter.running
    managed = presenter.snapshot.result(MANAGEMENT)
    assert managed is not None
    assert len(managed.trips) >= 1


def test_a_figure_that_was_noted_wrong_is_said_beside_the_turn_to_where_it_stood(
    logbook: Logbook, colours_done: VisitRecord, open_on: Open, drive: Drive
) -> None:
    wrong = "cms-green-saturation"
    note_as_found(logbook, colours_done, SPOILT | {wrong: SPOILT[wrong] + 12})
    window = window_by_hand(logbook, colours_done, open_on)
    driver, presenter = drive(window), window.presenter
    screen = screen_of(presenter)
    found = screen.settings()
    presenter.go_to("colour")
    window.refresh()
    driver.press_for(commands.BEGIN)
    said: list[tuple[str, Move]] = []
    while len(said) < TRIPS:
        driver.wait(lambda: asked(presenter) is not None or not presenter.running, "a move")
        move = asked(presenter)
        assert move is not None
        window.refresh()
        said.append((presenter.view().panel.sentence, move))
        if said[-2:-1] and "noted wrong" in said[-2][0] and "noted wrong" not in said[-1][0]:
            break
        if len(said) == 2:
            driver.press_for(commands.UNDO)
        else:
            screen.turn({change.role.key: change.to_value for change in move.changes})
            driver.press_for(commands.TURNED)
        driver.wait(lambda move=move: asked(presenter) is not move, "what follows")
    told = [(words, move) for words, move in said if "noted wrong" in words]
    # Of three that moved together it takes a few turns to tell which; all are of the one colour.
    assert 1 <= len(told) <= 3
    assert all("a figure of green was noted wrong: colours read as if Green" in words for words, _ in told)
    assert all({change.role.channel for change in move.changes} == {"green"} for _, move in told)
    # It stands about where it was found, whatever was noted of it.
    assert abs(screen.settings()[wrong] - found[wrong]) <= 5
    beside = {role: found[role] for role in found if role != wrong}
    assert {role: screen.settings()[role] for role in beside} == beside
