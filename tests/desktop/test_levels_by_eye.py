"""Levels by eye and the test pictures of the pattern window, by keys."""

import threading
from collections.abc import Callable

import pytest
from PySide6.QtWidgets import QApplication
from tests.desktop.hints import shows

from aequitone.advice.roles import Role
from aequitone.desktop import commands
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.stations.levels import commands as levels_commands
from aequitone.desktop.window import MainWindow
from aequitone.instruments.errors import InstrumentError
from aequitone.logbook import Logbook, VisitRecord, open_logbook
from aequitone.signal import Range, SignalFormat
from aequitone.signal.pictures import PICTURES, picture_named, render

Open = Callable[[Logbook], MainWindow]
Drive = Callable[[MainWindow], Driver]


def first_hour(window: MainWindow) -> int:
    """The answer of somebody who sees the stand-in: from which hour on a disc gives more light than black."""
    presenter = window.presenter
    assert presenter.snapshot is not None
    standins = presenter.session.instruments.bench(presenter.snapshot.visit.bench).standins
    assert standins is not None
    screen = standins.screen
    light = screen.light_of_signal

    def lit(code: int) -> bool:
        signal = (code - 16) / 219.0
        return bool(light([signal] * 3)[1] > light([-0.1] * 3)[1] * 1.0005 + 1e-5)

    if lit(15) or lit(12):
        return 2
    steps = [17, 18, 20, 23]
    return next((answer for code, answer in zip(steps, (1, 3, 4, 5), strict=True) if lit(code)), 6)


def test_black_level_by_eye_is_that_of_the_truth(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    assert presenter.snapshot is not None
    standins = presenter.session.instruments.bench(visit.bench).standins
    assert standins is not None
    right = standins.screen.settings()[Role.BLACK_LEVEL.key]
    control = next(c for c in logbook.controls(visit.screen_id) if c.role == Role.BLACK_LEVEL)
    standins.screen.turn({Role.BLACK_LEVEL.key: right - 6})
    logbook.ledger.note(visit.id, {control.id: right - 6}, "as found")
    window.close()
    window = open_on(open_logbook(logbook.path))
    driver, presenter = drive(window), window.presenter
    driver.press("Ctrl+4")
    driver.press_for(levels_commands.BY_EYE)
    assert "arrow tips" in presenter.view().panel.sentence
    driver.press_for(commands.CHOICES[0])
    asked = 0
    while "From which hour" in presenter.view().panel.sentence and asked < 20:
        before = presenter.snapshot
        driver.press(str(first_hour(window)))
        asked += 1
        driver.wait(
            lambda b=before: (
                presenter.snapshot is not b or presenter.station("levels").by_eye.role != Role.BLACK_LEVEL
            ),
            "the answer",
        )
    assert presenter.snapshot is not None
    assert abs(presenter.snapshot.settings[Role.BLACK_LEVEL] - right) <= 1
    assert logbook.ledger.history(visit.id)[-1].reason == "by eye"
    driver.press_for(levels_commands.LEAVE_EYE)
    assert shows(window, commands.BEGIN)


@pytest.mark.parametrize("range_", list(Range))
def test_the_pattern_window_shows_pictures_pixel_for_pixel(
    qapp: QApplication, logbook: Logbook, visit: VisitRecord, open_on: Open, range_: Range
) -> None:
    from aequitone.desktop.patterns.window import shown_picture

    patterns = open_on(logbook).patterns
    patterns.setGeometry(0, 0, 480, 270)
    patterns.show()
    qapp.processEvents()
    assert patterns.pixels == (480, 270)
    for picture in PICTURES:
        if picture.moves:
            continue
        patterns.show_picture(shown_picture(picture.key, 480, 270, range_))
        image = patterns.grab().toImage()
        codes = render(picture, 480, 270, SignalFormat(8, range_)).codes
        wrong = [
            (x, y)
            for x in range(0, 480, 7)
            for y in range(0, 270, 5)
            if (image.pixelColor(x, y).red(), image.pixelColor(x, y).green(), image.pixelColor(x, y).blue())
            != tuple(codes[y, x].tolist())
        ]
        assert not wrong, picture.key


def test_a_picture_is_asked_for_by_key_and_moving_ones_move(
    qapp: QApplication, logbook: Logbook, owing: VisitRecord, open_on: Open, drive: Drive
) -> None:
    from aequitone.desktop.patterns.window import shown_picture

    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    while not shows(window, commands.SHOW):
        driver.press_for(commands.DOWN)
    driver.press_for(commands.SHOW)
    driver.wait(lambda: window.patterns._picture is not None, "the picture")
    assert window.patterns.isVisible()
    assert presenter.here == "prepare"
    shown = shown_picture("black-steps-blinking", 160, 90, Range.LIMITED)
    assert len(shown.images) == 2
    window.patterns.show_picture(shown_picture("moving-bars", *window.patterns.pixels, Range.LIMITED))
    assert window.patterns._timer.isActive()
    assert picture_named("moving-bars").flashes_per_second < 3.0
    window.patterns.close()
    assert not window.patterns._timer.isActive()


def test_a_blinking_picture_is_shown_on_demand_with_its_warning(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press("Ctrl+4")
    driver.press_for(levels_commands.BY_EYE)
    while "black-steps" not in presenter.station("levels").by_eye.picture:
        driver.press_for(commands.SKIP)
    assert presenter.station("levels").by_eye.picture == "black-steps"
    driver.press_for(levels_commands.BLINK)
    assert presenter.station("levels").by_eye.picture == "black-steps-blinking"
    assert "Use the still picture if blinking" in presenter.view().panel.sentence
    driver.wait(lambda: window.patterns._timer.isActive(), "the blinking picture")
    driver.press_for(levels_commands.BLINK)
    driver.wait(lambda: not window.patterns._timer.isActive(), "the still one")


def test_leaving_by_eye_while_a_turn_fails_is_no_error(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press("Ctrl+4")
    driver.press_for(levels_commands.BY_EYE)
    driver.press_for(commands.CHOICES[0])

    left = threading.Event()

    def gone(choice: object, settings: object) -> None:
        left.wait(20.0)
        raise InstrumentError("Screen link", "it does not answer")

    monkeypatch.setattr(presenter.session.instruments, "turn", gone)
    before = logbook.ledger.history(visit.id)
    driver.press_for(commands.CHOICES[2])
    driver.press("Esc")
    left.set()
    driver.wait(lambda: "does not answer" in presenter.view().panel.sentence, "the sentence")
    assert "What was noted before is kept" in presenter.view().panel.sentence
    assert not presenter.station("levels").by_eye.open
    assert logbook.ledger.history(visit.id) == before


def test_keys_that_come_before_the_next_picture_do_no_harm(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press("Ctrl+4")
    driver.press_for(levels_commands.BY_EYE)
    # Faster than anything is drawn: the keys of the question are still there.
    presenter.do(levels_commands.LEAVE_EYE)
    for command in (*commands.CHOICES, commands.SKIP, levels_commands.EYE_TURNED, levels_commands.BLINK):
        presenter.do(command)
    window.refresh()
    assert not presenter.station("levels").by_eye.open
    assert presenter.view().panel.lines
