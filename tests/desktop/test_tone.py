"""Tone in the window: by link, by hand with its reasons, stopped and gone on with, and what is shown of it."""

from collections.abc import Callable
from dataclasses import replace

import numpy as np
import pytest
from PySide6.QtGui import QGuiApplication
from tests.desktop.hints import shows

from aequitone.advice.moves import Change, Move, moved, trip_between
from aequitone.advice.points.near_black import NEAR_BLACK
from aequitone.advice.roles import BIASES, Role, point_of, role_of
from aequitone.desktop import commands
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.frame import theme
from aequitone.desktop.frame.move_panel import WIDTH
from aequitone.desktop.session.operator import AskMove
from aequitone.desktop.stations.tone import page as tone_page
from aequitone.desktop.stations.tone import panel as tone_panel
from aequitone.desktop.stations.tone.panel import level_lines
from aequitone.desktop.window import MainWindow
from aequitone.handover.words import done_words, settings_rows
from aequitone.logbook import Logbook, VisitRecord
from aequitone.logbook.records import Connection
from aequitone.logbook.standin_visit import nvram_path
from aequitone.passes import (
    GAMMA,
    TONE,
    NotReadyError,
    begin,
    carry_out,
    load_snapshot,
)
from aequitone.procedures.runner import NobodyThere
from aequitone.procedures.tone.near_black import NearBlack
from aequitone.procedures.tone.tone import ToneState
from aequitone.reference import Verdict, light_band, target_named
from aequitone.standins.bench import build_bench
from aequitone.standins.scenario import load_scenario

Open = Callable[[Logbook], MainWindow]
Drive = Callable[[MainWindow], Driver]


def answered(window: MainWindow, question: object) -> bool:
    asked = window.presenter.session.asked
    return asked is None or asked.question is not question


def test_tone_follows_white(logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive) -> None:
    with pytest.raises(NotReadyError, match="Tone follows White"):
        begin(logbook, visit.id, TONE)
    window = open_on(logbook)
    driver = drive(window)
    driver.press("Ctrl+6")
    driver.press_for(commands.BEGIN)
    driver.wait(lambda: "Tone follows White" in window.presenter.view().panel.sentence, "the sentence")


def test_tone_by_link_is_shown_and_copied(
    logbook: Logbook, white_done: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press("Ctrl+6")
    before = presenter.view().page
    assert before is not None
    assert before.ghosts
    assert [line.channel for line in before.corrections] == ["R", "G", "B"]
    driver.press_for(commands.BEGIN)
    driver.wait(lambda: presenter.view().panel.outlook == "No trip to the menu yet.", "the ladder to be known")
    driver.wait_for_pass()
    snapshot = presenter.snapshot
    assert snapshot is not None
    assert snapshot.state(TONE) is not None
    ladder, foot = snapshot.state(TONE).ladder, snapshot.state(TONE).foot
    assert ladder is not None
    assert foot is not None
    assert ladder.began is not None
    assert ladder.mean <= ladder.began.mean
    page = presenter.view().page
    assert page is not None
    percents = [point.percent for point in page.points]
    assert len(set(percents)) == len(percents)
    assert {point.percent for point in page.points if point.verdict is None} == set(foot.percents)
    driver.press_for(commands.COPY)
    text = QGuiApplication.clipboard().text()
    assert text.startswith("Level %\tLight off %\t±\tΔE 2000\tR steps")
    assert "slope changes by" in text
    driver.press_for(commands.MOVES)
    driver.press_for(commands.COPY)
    rows = QGuiApplication.clipboard().text().splitlines()
    assert rows[0].startswith("No.\tMove\tΔE before\tExpected")
    assert len(rows) == 1 + len(ladder.trips)
    driver.press_for(commands.MOVES)
    driver.press_for(commands.NEXT_STATION)
    assert presenter.here == "colour"
    turned = {point_of(change.role)[1] for trip in ladder.trips for change in trip.move.changes}  # type: ignore[index]
    left = {
        c.role for c in snapshot.controls if snapshot.settings.get(c.role) != snapshot.found_settings.get(c.role)
    }
    levels = sorted({point[1] for role in left if (point := point_of(role))})
    assert set(levels) <= turned
    if levels:
        assert f"multi-point at {', '.join(map(str, levels))} %" in done_words(snapshot)
    # Of forty controls the report has those that were turned.
    named = [row for row in settings_rows(snapshot) if " % " in row[0]]
    assert len(named) == sum(point_of(role) is not None for role in left)


def test_tone_by_hand_with_reasons_and_an_end_by_wish(
    logbook: Logbook, white_done: VisitRecord, open_on: Open, drive: Drive
) -> None:
    by_hand = replace(logbook.visit(white_done.id).bench, link=Connection.BY_HAND)
    logbook.change_visit(
        white_done.id, target=white_done.target, levels=white_done.levels, bench=by_hand, controls=()
    )
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press("Ctrl+6")
    driver.press_for(commands.BEGIN)
    moved, heard, stopped = [], [], False
    while True:
        driver.wait(lambda: presenter.session.asked is not None or not presenter.running, "a move or the end")
        if presenter.session.asked is None:
            break
        question = presenter.session.asked.question
        assert isinstance(question, AskMove)
        panel = presenter.view().panel
        assert panel.yours
        if len(question.move.levels) > 1:
            # Several levels in one trip, each with what its controls are set to.
            assert [line.label for line in panel.lines] == [f"{percent} %" for percent in question.move.levels]
            told = {change.name: f"{change.name[-1]} → {change.to_value}" for change in question.move.changes}
            for line in panel.lines:
                here = [words for name, words in told.items() if name.startswith(f"{line.label} ")]
                assert line.amount.split("   ") == here
        else:
            assert panel.lines[0].label == question.move.changes[0].name
        if shows(window, commands.WHY) and not moved:
            driver.press_for(commands.WHY)
            assert "step" in presenter.view().panel.sentence
            driver.press_for(commands.WHY)
        # After the wish the controls may still have to go back to where they were better.
        if len(moved) == 3 and not stopped:
            stopped = True
            driver.press_for(commands.STOP_HERE)
            driver.wait(
                lambda q=question: presenter.session.asked is None or presenter.session.asked.question is not q,
                "its end",
            )
            continue
        screen = presenter.session.instruments.bench(presenter.snapshot.visit.bench).standins.screen
        watched = shows(window, commands.WATCH) and not heard
        if watched:
            driver.press_for(commands.WATCH)
            driver.wait(lambda: shows(window, commands.SOUND), "the first glance")
            assert presenter.view().page is not None
            assert len(presenter.view().page.points) > 5
            driver.press_for(commands.SOUND)
            heard.append(presenter.session.audio.on)
            driver.press_for(commands.SOUND)
        screen.turn({change.role.key: change.to_value for change in question.move.changes})
        moved.append(question.move)
        driver.press_for(commands.WATCHED if watched else commands.TURNED)
        driver.wait(
            lambda q=question: presenter.session.asked is None or presenter.session.asked.question is not q,
            "its reading",
        )
    assert heard == [True]
    assert presenter.snapshot is not None
    assert presenter.snapshot.state(TONE) is not None
    assert presenter.snapshot.state(TONE).words in presenter.view().panel.sentence
    at = logbook.ledger.at(white_done.id)
    for change in (change for move in moved[-1:] for change in move.changes):
        assert at[change.role] == change.to_value


def test_tone_is_gone_on_with_after_the_window_was_closed(
    logbook: Logbook, white_done: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver = drive(window)
    driver.press("Ctrl+6")
    driver.press_for(commands.BEGIN)
    driver.wait(lambda: len(window.presenter.view().page.points) > 3, "three levels")
    window.close()
    kept = logbook.passes(white_done.id)[-1].readings
    assert kept > 3
    fresh = open_on(logbook)
    assert fresh.presenter.here == "tone"
    drive(fresh).press_for(commands.GO_ON)
    drive(fresh).wait_for_pass()
    drive(fresh).wait(lambda: fresh.presenter.snapshot.done(TONE), "the end")
    assert logbook.passes(white_done.id)[-1].readings > kept


def test_a_meter_by_hand_and_no_multi_point_leave_nothing_to_turn(
    logbook: Logbook, white_done: VisitRecord
) -> None:
    by_hand = replace(logbook.visit(white_done.id).bench, meter=Connection.BY_HAND)
    logbook.change_visit(
        white_done.id, target=white_done.target, levels=white_done.levels, bench=by_hand, controls=()
    )
    snapshot = load_snapshot(logbook, white_done.id)
    plain = replace(snapshot, settings={r: v for r, v in snapshot.settings.items() if point_of(r) is None})
    panel = tone_panel.to_begin(plain, "", "", "Proof")
    assert [line.label for line in panel.lines] == ["Nothing to adjust:", "go on to Proof"]
    assert panel.keys[0].command == commands.NEXT_STATION


def test_gamma_presets_are_drawn_until_something_is_read(logbook: Logbook, white_done: VisitRecord) -> None:
    standins = build_bench(load_scenario("demo"), 4, nvram=nvram_path(logbook.path, "demo", 4))
    # Found on the deepest: all are tried before the right one is met.
    gamma = next(c for c in logbook.controls(white_done.screen_id) if c.role == Role.GAMMA)
    standins.screen.turn({Role.GAMMA.key: gamma.highest})
    logbook.ledger.note(white_done.id, {gamma.id: gamma.highest}, "as found")
    ports = standins.bench()
    carry_out(logbook, begin(logbook, white_done.id, GAMMA), ports, NobodyThere(), care=white_done.bench.care)
    snapshot = load_snapshot(logbook, white_done.id)
    page = tone_page.tone_page(snapshot, None)
    assert [line.name for line in page.presets] == [each.track.name for each in snapshot.result(GAMMA).order]
    # The preset that was chosen is nearest to the line, and the deeper one gives less light.
    off = {line.name: max(abs(value) for _, value, _ in line.points) for line in page.presets}
    assert min(off, key=lambda name: off[name]) == page.presets[0].name == "2.2"
    deep = next(line for line in page.presets if line.name == "2.4")
    assert all(value < 0.0 for percent, value, _ in deep.points if percent < 100.0)
    assert "gamma preset" in page.subtitle


def test_the_band_is_what_light_alone_may_be_off() -> None:
    target = target_named("rec709-2.2")
    band = light_band(target, (5.0, 50.0, 100.0))
    assert [percent for percent, _, _ in band] == [5.0, 50.0, 100.0]
    dark, middle, bright = ((low, high) for _, low, high in band)
    assert dark[0] < middle[0] < 0.0 < middle[1] < dark[1]
    # CIE 15:2018: at L* near 100, a unit of ΔE 2000 is some four percent of light.
    assert 3.0 < bright[1] < 6.0
    assert Verdict.NOT_VISIBLE.value == "not visible"


def test_a_level_with_all_its_controls_is_told_on_one_line() -> None:
    def change(channel: str, to: int) -> Change:
        return Change(role_of(f"multi-{channel}-100"), f"100 % {channel.upper()}", 0, to)

    (line,) = level_lines(Move(tuple(change(channel, -12) for channel in "rgby")))
    assert (line.label, line.amount) == ("100 %", "R -12  G -12  B -12  Y -12")
    room = WIDTH - 36.0 - theme.advance(line.label, 19) - 10.0
    assert theme.advance(line.amount, 19, bold=True) <= room
    (few,) = level_lines(Move((change("r", -12), change("g", 3), change("b", -10))))
    assert few.amount == "R → -12   G → 3   B → -10"
    assert theme.advance(few.amount, 19, bold=True) <= room


def test_a_walk_for_near_black_says_how_far_its_light_is_off(logbook: Logbook, white_done: VisitRecord) -> None:
    snapshot = load_snapshot(logbook, white_done.id)
    biases = tuple(c.state(snapshot.settings[c.role]) for c in snapshot.controls if c.role in BIASES)
    xyz = np.array([[2.0, 0.29, 0.3], [0.1, 0.14, 0.1], [0.1, 0.11, 0.1], *[[0.0, 0.02, 0.0]] * 3])
    wanted = (0.288, 0.137, 0.084, 0.0199, 0.0199, 0.0019)
    # At 1 % light is ten times what is wanted, and read with so much noise that it tells nothing.
    sd = np.array([0.001] * 5 + [0.02])[:, None] * np.ones(3)
    foot = NearBlack(NEAR_BLACK, xyz, sd, wanted, 0.0, biases, biases, np.zeros(3))
    move = trip_between(biases, moved(biases, [-2] * 3))
    ask = AskMove(move)
    panel = tone_panel.moving(ask, snapshot, None, ToneState(foot), "", why=False)
    assert panel.sentence == "Near black, light at 4 % is off by +31 %. All biases go together."
    assert panel.delta is None
    assert tone_panel.moving(ask, snapshot, None, None, "", why=False).sentence == "All biases go together."
