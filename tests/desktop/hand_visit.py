"""A visit with the meter by hand and the pattern window, in a real window: run as a program by its test.

The pixels of the pattern window are read back from the screen itself. A hidden screen turns their codes
into light, which is "read off a meter's display", rounded as displays round, and typed in.
"""

import json
import sys
from pathlib import Path

from PySide6.QtTest import QTest

from aequitone.advice.technology import Technology
from aequitone.colorimetry import xyY_from_xyz
from aequitone.desktop import commands
from aequitone.desktop.app import application, window_on
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.session.operator import AskMove, AskReading
from aequitone.logbook import BenchChoice, open_logbook
from aequitone.logbook.settings.menus import control_of
from aequitone.logbook.standin_visit import note_as_found
from aequitone.reference import target_named
from aequitone.signal import Patch, Range, signal_of, window_rect
from aequitone.standins.bench import build_bench
from aequitone.standins.scenario import load_scenario


def pixels(window, app) -> tuple:  # type: ignore[no-untyped-def]
    """The codes in the middle and in a corner, and the window's extent in pixels, from the screen."""
    app.processEvents()
    place = window.geometry()
    image = window.screen().grabWindow(0, place.x(), place.y(), place.width(), place.height()).toImage()
    centre = image.pixelColor(image.width() // 2, image.height() // 2)
    corner = image.pixelColor(2, 2)
    row, column = image.height() // 2, image.width() // 2
    wide = sum(image.pixelColor(x, row) != corner for x in range(image.width()))
    tall = sum(image.pixelColor(column, y) != corner for y in range(image.height()))
    return (centre.getRgb()[:3], corner.getRgb()[:3], wide, tall, image.width(), image.height())


def main(folder: Path, range_: str) -> None:
    app = application()
    logbook = open_logbook(folder / "logbook.sqlite")
    scenario = load_scenario("demo")
    hidden = build_bench(scenario, 4)
    visit = logbook.begin_visit(
        client="Lindgate",
        room="Attic",
        screen="Norvane K55",
        input_="HDMI 1",
        memory="Film",
        technology=Technology.LED_LCD,
        target="rec709-2.2",
        levels=11,
        bench=BenchChoice(range=range_),
        controls=[control_of(part) for part in scenario.screen.control],
    )
    note_as_found(logbook, visit, hidden.link.values())
    window = window_on(logbook, pace=1.0)
    window.resize(900, 600)
    window.move(0, 600)
    window.show()
    driver = Driver(app, window)
    driver.come_forward()
    presenter, patterns = window.presenter, window.patterns
    presenter.session.instruments._patterns.settle_seconds = 0.0
    told = {"patches": [], "doubts": 0, "objections": []}

    def read_and_type(patch: Patch) -> None:
        seen = pixels(patterns, app)
        expected = window_rect(seen[4], seen[5], patch.format.window)
        told["patches"].append(
            {
                "asked": patch.codes, "seen": seen[0], "corner": seen[1], "extent": seen[2:4],
                "expected_extent": [expected.width, expected.height], "percent": patch.percent,
            }
        )  # fmt: skip
        light = hidden.screen.light_of_signal(signal_of(seen[0], 8, Range(range_)))
        x, y, Y = xyY_from_xyz(light)
        if len(told["patches"]) == 3:
            # A slip of the decimal point first: it is doubted, and nothing of it is kept.
            QTest.keyClicks(window._panel._entry, f"{x:.4f} {y:.4f} {Y * 10:.2f}")
            driver.press("Enter")
            told["objections"].append(presenter.view().panel.entry.objection)
            window._panel._entry.clear()
            QTest.keyClicks(window._panel._entry, "hello 3127 0.3 --")
            driver.press("Enter")
            told["objections"].append(presenter.view().panel.entry.objection)
            window._panel._entry.clear()
        if len(told["patches"]) == 5 and "again" not in told:
            # The one before was mistyped and kept: back to it, and type it again.
            before = presenter.session.asked.question
            driver.press_for(commands.UNDO)
            driver.wait(
                lambda: presenter.session.asked is not None and presenter.session.asked.question is not before,
                "it again",
            )
            told["again"] = presenter.session.asked.question.patch.percent
            told["patches"].pop()
            return
        question = presenter.session.asked
        QTest.keyClicks(window._panel._entry, f"{x:.4f} {y:.4f} {Y:.4g}")
        driver.press("Enter")
        if presenter.session.asked is not None and presenter.session.asked.objection:
            told["doubts"] += 1
            driver.press("Enter")
        driver.wait(
            lambda: presenter.session.asked is None or presenter.session.asked.question is not question.question,
            "the next",
        )

    def play() -> None:
        driver.press_for(commands.BEGIN)
        while True:
            driver.wait(
                lambda: not presenter.running or presenter.session.asked is not None, "a question or the end"
            )
            if presenter.session.asked is None:
                return
            question = presenter.session.asked.question
            if isinstance(question, AskReading):
                read_and_type(question.patch)
            elif isinstance(question, AskMove):
                hidden.screen.turn({change.role.key: change.to_value for change in question.move.changes})
                driver.press("Space")
                driver.wait(
                    lambda q=question: (
                        presenter.session.asked is None or presenter.session.asked.question is not q
                    ),
                    "its readings",
                )

    for key in ("Ctrl+3", "Ctrl+5", "Ctrl+8"):
        driver.press(key)
        play()
        driver.press_for(commands.NEXT_STATION)
    told["station"] = presenter.here == "hand-over"
    target = target_named("rec709-2.2")
    told["before"] = max(hidden.true_de2000((80.0, 30.0), target, hidden.screen.found_settings))
    told["after"] = max(hidden.true_de2000((80.0, 30.0), target, hidden.screen.settings()))
    told["typed"] = sum(record.readings for record in logbook.passes(visit.id))
    window.close()
    print(json.dumps(told))  # noqa: T201


if __name__ == "__main__":
    main(Path(sys.argv[1]), sys.argv[2])
