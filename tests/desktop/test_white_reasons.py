"""White by keys: the reasons of a move on demand, and another figure to stop at with what it would cost."""

from collections.abc import Callable
from dataclasses import replace

from PySide6.QtTest import QTest

from aequitone.advice.moves import Move
from aequitone.colorimetry import Formula
from aequitone.desktop import commands
from aequitone.desktop.commands import Command
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.presenter import Presenter
from aequitone.desktop.stations.white import commands as white_commands
from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook, VisitRecord
from aequitone.logbook.records import Connection
from aequitone.passes import AS_FOUND, WHITE, begin, carry_out, load_snapshot, white_state
from aequitone.procedures.runner import NobodyThere
from aequitone.standins.bench import build_bench
from aequitone.standins.scenario import load_scenario

Open = Callable[[Logbook], MainWindow]
Drive = Callable[[MainWindow], Driver]


def chosen(presenter: Presenter, command: Command) -> str:
    """The choice that the panel shows as chosen beside a key that goes through choices."""
    hint = next(hint for hint in presenter.view().panel.keys if hint.command == command)
    return hint.choices[hint.chosen]


def test_reasons_are_given_and_the_stop_figure_is_chosen_and_obeyed(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    bench = build_bench(load_scenario("demo"), 4).bench()
    carry_out(logbook, begin(logbook, visit.id, AS_FOUND), bench, NobodyThere())
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press("Ctrl+5")
    assert "To ΔE 2000 0.3 takes about 4 trips" in presenter.view().panel.outlook
    assert chosen(presenter, white_commands.STOP_FIGURE) == "0.5"
    driver.press_for(white_commands.STOP_FIGURE)
    driver.wait(lambda: presenter.snapshot.visit.stop_at == 1.0, "the other figure")
    assert chosen(presenter, white_commands.STOP_FIGURE) == "1"
    for formula in (Formula.DE2000_CAST, Formula.ITP):
        driver.press_for(white_commands.FORMULA)
        driver.wait(lambda f=formula: presenter.snapshot.visit.formula is f, "the other formula")
    assert presenter.view().panel.outlook.startswith("To ΔE ITP 0.3 takes about 4 trips")
    assert (chosen(presenter, white_commands.FORMULA), chosen(presenter, white_commands.PAIR)) == ("ITP", "80/30")
    driver.press_for(white_commands.PAIR)
    driver.wait(lambda: presenter.snapshot.visit.pair == (80.0, 20.0), "the other levels")
    assert chosen(presenter, white_commands.PAIR) == "80/20"
    assert presenter.snapshot.visit.stop_at == 1.0
    driver.press_for(commands.BEGIN)
    driver.wait(lambda: presenter.view().panel.heading == "Turning", "a move")
    assert "Expect ΔE" in presenter.view().panel.sentence
    driver.press_for(commands.WHY)
    driver.wait(lambda: "A step changes its light by" in presenter.view().panel.sentence, "the reasons")
    ladder = presenter.view().page
    assert ladder is not None
    assert {name for name, _, _ in ladder.brackets} == {"gains", "biases"}
    driver.wait_for_pass()
    assert "wanted 1" in presenter.snapshot.result(WHITE).words
    assert "ΔE ITP" in presenter.snapshot.result(WHITE).words
    assert presenter.view().panel.delta.label.startswith("ΔE ITP at ")
    assert logbook.passes(visit.id)[-1].plan["stop_at"] == 1.0
    # It is understood from the record as it was meant.
    again = white_state(load_snapshot(logbook, visit.id))
    assert again.formula is Formula.ITP
    assert again.percents == (100.0, 80.0, 20.0)
    assert again.errors == white_state(presenter.snapshot).errors


def asked_for_a_move(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> tuple[MainWindow, Driver, Move]:
    """White begun on a screen that is turned by hand, and its first move."""
    standins = build_bench(load_scenario("demo"), 4)
    carry_out(logbook, begin(logbook, visit.id, AS_FOUND), standins.bench(), NobodyThere())
    by_hand = replace(logbook.visit(visit.id).bench, link=Connection.BY_HAND)
    logbook.change_visit(visit.id, target=visit.target, levels=visit.levels, bench=by_hand, controls=())
    window = open_on(logbook)
    driver, session = drive(window), window.presenter.session
    driver.press("Ctrl+5")
    driver.press_for(commands.BEGIN)
    driver.wait(lambda: session.asked is not None, "a move")
    return window, driver, session.asked.question.move


def test_a_move_is_watched_while_it_is_turned_by_hand(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window, driver, move = asked_for_a_move(logbook, visit, open_on, drive)
    presenter = window.presenter
    driver.press_for(commands.WATCH)
    driver.wait(
        lambda: any(hint.command == commands.WATCHED for hint in presenter.view().panel.keys), "the first glance"
    )
    panel = presenter.view().panel
    assert panel.yours
    assert any("more" in line.amount for line in panel.lines)
    assert panel.dial is not None
    screen = presenter.session.instruments.bench(presenter.snapshot.visit.bench).standins.screen
    screen.turn({change.role.key: change.to_value for change in move.changes})
    driver.wait(lambda: "All of these are set" in presenter.view().panel.sentence, "the hand's work to be seen")
    driver.press_for(commands.WATCHED)
    driver.wait(
        lambda: (
            (presenter.session.asked is not None and presenter.session.asked.question.move != move)
            or not presenter.running
        ),
        "the next move, or the end",
    )
    assert presenter.snapshot is not None
    moved = logbook.ledger.at(visit.id)
    assert {change.role: moved[change.role] for change in move.changes} == {
        change.role: change.to_value for change in move.changes
    }


def test_where_a_control_really_stands_is_typed_and_the_rest_asked_for(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window, driver, move = asked_for_a_move(logbook, visit, open_on, drive)
    presenter = window.presenter
    first = move.changes[0]
    driver.press_for(commands.STANDS_AT)
    driver.wait(lambda: presenter.view().panel.entry is not None, "the line to type in")
    # Back, and the move is there as before.
    driver.press("Esc")
    driver.wait(lambda: presenter.view().panel.entry is None, "the move")
    assert presenter.running
    assert presenter.session.asked.question.move == move
    driver.press_for(commands.STANDS_AT)
    driver.wait(lambda: presenter.view().panel.entry is not None, "the line to type in")
    field = window._panel._entry
    QTest.keyClicks(field, f"{first.name} 999")
    driver.press("Enter")
    driver.wait(lambda: "cannot stand at 999" in presenter.view().panel.entry.objection, "the objection")
    field.clear()
    too_far = first.to_value + (1 if first.by > 0 else -1)
    QTest.keyClicks(field, f"{first.name} {too_far}")
    driver.press("Enter")
    driver.wait(
        lambda: presenter.session.asked is not None and presenter.session.asked.question.move != move,
        "what is left to turn",
    )
    rest = presenter.session.asked.question.move
    assert (rest.changes[0].from_value, rest.changes[0].to_value) == (too_far, first.to_value)
    assert rest.changes[1:] == move.changes[1:]
    assert logbook.ledger.at(visit.id)[first.role] == too_far
    screen = presenter.session.instruments.bench(presenter.snapshot.visit.bench).standins.screen
    screen.turn({change.role.key: change.to_value for change in move.changes})
    driver.press_for(commands.TURNED)
    driver.wait(lambda: logbook.ledger.at(visit.id)[first.role] == first.to_value, "it to be noted as turned")
    driver.press_for(commands.LEAVE)
    driver.wait_for_pass()


def test_a_move_is_planned_anew_from_where_a_control_is_found(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window, driver, move = asked_for_a_move(logbook, visit, open_on, drive)
    presenter = window.presenter
    first = max(move.changes, key=lambda change: abs(change.by))
    found = first.from_value - (12 if first.by > 0 else -12)
    screen = presenter.session.instruments.bench(presenter.snapshot.visit.bench).standins.screen
    screen.turn({first.role.key: found})
    driver.press_for(commands.STANDS_AT)
    driver.wait(lambda: presenter.view().panel.entry is not None, "the line to type in")
    QTest.keyClicks(window._panel._entry, f"{first.name} {found}")
    driver.press("Enter")
    driver.wait(
        lambda: presenter.session.asked is not None and presenter.session.asked.question.move != move,
        "the move from there",
    )
    anew = presenter.session.asked.question.move
    panel = presenter.view().panel
    assert "worked out anew" in panel.sentence
    assert panel.outlook == "No trip to the menu yet."
    assert panel.yours
    assert {change.role: change.from_value for change in anew.changes}.get(first.role, found) == found
    assert logbook.ledger.at(visit.id)[first.role] == found
    screen.turn({change.role.key: change.to_value for change in anew.changes})
    driver.press_for(commands.TURNED)
    driver.wait(
        lambda: all(logbook.ledger.at(visit.id)[c.role] == c.to_value for c in anew.changes), "it to be noted"
    )
    driver.press_for(commands.LEAVE)
    driver.wait_for_pass()
