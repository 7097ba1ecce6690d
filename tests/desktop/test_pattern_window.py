"""The pattern window on a screen that may go: hidden while it is unplugged, back with it, and the person told."""

from collections.abc import Iterator

import pytest
from pytestqt.qtbot import QtBot

from aequitone.desktop.app import application
from aequitone.desktop.patterns.inhibit import Inhibitor
from aequitone.desktop.patterns.window import PatternWindow, ScreenPatterns
from aequitone.instruments.errors import InstrumentError
from aequitone.signal import SignalFormat, grey_patch

PATCH = grey_patch(50.0, SignalFormat(8))


@pytest.fixture
def patterns(qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> Iterator[PatternWindow]:
    # No desktop of this machine is asked for anything.
    monkeypatch.setattr(Inhibitor, "begin", lambda _self, then: then(False))
    window = PatternWindow()
    qtbot.addWidget(window)
    yield window
    window.close()


def test_a_screen_that_is_unplugged_takes_its_patterns_along(patterns: PatternWindow) -> None:
    app, told = application(), list[str]()
    patterns.told.connect(told.append)
    screen = app.primaryScreen()
    patterns.put_on(screen, whole=False)
    assert patterns.isVisible()
    source = ScreenPatterns(patterns)
    app.screenRemoved.emit(screen)
    assert not patterns.isVisible()
    assert "is unplugged" in told[-1]
    with pytest.raises(InstrumentError, match="is unplugged; plug it in again"):
        source.show(PATCH)
    assert not source.shows(PATCH)
    app.screenAdded.emit(screen)
    assert patterns.isVisible()
    assert patterns.unplugged is None
    assert "is back" in told[-1]


def test_a_window_that_was_closed_does_not_come_back_by_itself(patterns: PatternWindow) -> None:
    app = application()
    screen = app.primaryScreen()
    patterns.put_on(screen, whole=False)
    patterns.close()
    app.screenRemoved.emit(screen)
    app.screenAdded.emit(screen)
    assert not patterns.isVisible()
    with pytest.raises(InstrumentError, match="it is closed"):
        ScreenPatterns(patterns).show(PATCH)


def test_what_cannot_be_kept_away_is_said_once(patterns: PatternWindow) -> None:
    told = list[str]()
    patterns.told.connect(told.append)
    screen = application().primaryScreen()
    patterns.put_on(screen, whole=False)
    patterns.put_on(screen, whole=False)
    assert len(told) == 1
    assert "screensaver of this computer could not be switched off" in told[0]
    assert "night colours" in told[0]


def test_it_says_that_it_shows_eight_bits(patterns: PatternWindow) -> None:
    with pytest.raises(InstrumentError, match="it shows 8 bit, not 10 bit"):
        ScreenPatterns(patterns).show(grey_patch(50.0, SignalFormat(10)))


def test_without_a_bus_nothing_is_kept_away(qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("DBUS_SESSION_BUS_ADDRESS", "unix:path=/nowhere/bus")
    told = list[bool]()
    inhibitor = Inhibitor()
    inhibitor.begin(told.append)
    inhibitor.end()
    assert told == [False]
