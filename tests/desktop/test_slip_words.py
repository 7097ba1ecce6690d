"""Words of a slip at White: beside the move that mends it and no other; every trip is counted."""

from collections.abc import Callable

from tests.desktop.by_hand import asked, screen_of, window_by_hand

from aequitone.desktop import commands
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook, VisitRecord
from aequitone.logbook.standin_visit import nvram_path
from aequitone.passes import AS_FOUND, begin, carry_out
from aequitone.procedures.runner import NobodyThere
from aequitone.standins.bench import build_bench
from aequitone.standins.scenario import load_scenario

Open = Callable[[Logbook], MainWindow]
Drive = Callable[[MainWindow], Driver]


def begin_at(station: str, window: MainWindow, driver: Driver) -> None:
    """Begin what a station adjusts."""
    window.presenter.go_to(station)
    window.refresh()
    driver.press_for(commands.BEGIN)


def test_a_slip_is_spoken_of_beside_the_move_that_mends_it_alone(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    nvram = nvram_path(logbook.path, "demo", 4)
    ports = build_bench(load_scenario("demo"), 4, nvram=nvram).bench()
    carry_out(logbook, begin(logbook, visit.id, AS_FOUND), ports, NobodyThere(), care=visit.bench.care)
    window = window_by_hand(logbook, visit, open_on)
    driver, presenter = drive(window), window.presenter
    begin_at("white", window, driver)
    told = []
    for trip in range(6):
        driver.wait(lambda: asked(presenter) is not None or not presenter.running, "a move")
        move = asked(presenter)
        if move is None:
            break
        window.refresh()
        panel = presenter.view().panel
        told.append((panel.outlook, "looks as if" in panel.sentence))
        # On the first trip the control that goes furthest is forgotten.
        furthest = max(move.changes, key=lambda change: abs(change.by)) if trip == 0 else None
        screen_of(presenter).turn({c.role.key: c.to_value for c in move.changes if c is not furthest})
        driver.press_for(commands.TURNED)
        driver.wait(lambda move=move: asked(presenter) is not move, "what follows")
    assert told[0] == ("No trip to the menu yet.", False)
    assert told[1] == ("1 trip to the menu so far.", True)
    assert len(told) > 2
    assert told[2] == ("2 trips to the menu so far.", False)


def test_at_tone_a_slip_is_spoken_of_beside_the_trip_that_mends_it_by_the_way(
    logbook: Logbook, white_done: VisitRecord, open_on: Open, drive: Drive
) -> None:
    # Somebody has bent the ladder, and noted it: what is noted wrong would be spoken of instead.
    bent = {f"multi-{c}-{level}": steps for level, steps in ((80, 9), (60, -8), (40, 9)) for c in "rgb"}
    ids = {control.role.key: control.id for control in logbook.controls(white_done.screen_id)}
    logbook.ledger.note(white_done.id, {ids[key]: to for key, to in bent.items()}, "bent")
    window = window_by_hand(logbook, white_done, open_on)
    driver, presenter = drive(window), window.presenter
    screen = screen_of(presenter)
    screen.turn(bent)
    begin_at("tone", window, driver)
    told: list[tuple[bool, int]] = []
    slipped = False
    for _ in range(12):
        driver.wait(lambda: asked(presenter) is not None or not presenter.running, "a move")
        move = asked(presenter)
        if move is None:
            break
        window.refresh()
        told.append(("looks as if" in presenter.view().panel.sentence, len(move.levels)))
        wrong = max(move.changes, key=lambda change: abs(change.by))
        slips = not slipped and len(move.levels) > 1 and abs(wrong.by) > 2
        to = {c.role.key: c.to_value for c in move.changes}
        if slips:
            to[wrong.role.key], slipped = wrong.from_value - wrong.by, True
        screen.turn(to)
        driver.press_for(commands.TURNED)
        driver.wait(lambda move=move: asked(presenter) is not move, "what follows")
    assert slipped
    spoken = [trip for trip, (said, _) in enumerate(told) if said]
    assert len(spoken) == 1
