"""An error that nobody expected: logged with its traceback, said in the window, and gone on from."""

import sys
import threading
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from aequitone.desktop import commands
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.window import MainWindow
from aequitone.diagnosis import LOG, PROGRAM_ERROR, start_log
from aequitone.logbook import Logbook, PassState, VisitRecord
from aequitone.passes import AS_FOUND

Open = Callable[[Logbook], MainWindow]
Drive = Callable[[MainWindow], Driver]


@pytest.fixture
def log(tmp_path: Path) -> Iterator[Path]:
    """The log as the program starts it, with its hooks, put back afterwards."""
    before, in_threads, handlers = sys.excepthook, threading.excepthook, list(LOG.handlers)
    path = start_log(tmp_path / "aequitone.log")
    assert path is not None
    # pytest has hooks of its own, which would make every such error a failure.
    sys.__excepthook__, kept = (lambda *_: None), sys.__excepthook__
    yield path
    sys.excepthook, threading.excepthook, sys.__excepthook__ = before, in_threads, kept
    for handler in set(LOG.handlers) - set(handlers):
        LOG.removeHandler(handler)
        handler.close()


def broken() -> None:
    raise RuntimeError("a wheel came off")


def told(path: Path) -> bool:
    text = path.read_text("utf-8")
    return "Traceback" in text and "a wheel came off" in text and "broken" in text


def test_in_a_thread_and_in_the_windows_own(
    log: Path, logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    thread = threading.Thread(target=broken)
    thread.start()
    thread.join()
    driver.wait(lambda: presenter.session.message.startswith(PROGRAM_ERROR), "the sentence")
    assert told(log)
    presenter.session.message = ""
    try:
        broken()
    except RuntimeError:
        sys.excepthook(*sys.exc_info())  # type: ignore[arg-type]
    driver.wait(lambda: presenter.session.message.startswith(PROGRAM_ERROR), "the sentence")
    assert "a wheel came off" in presenter.view().panel.sentence
    # The window lives: a pass is read to its end.
    driver.press_for(commands.BEGIN)
    driver.wait_for_pass()
    assert presenter.snapshot.done(AS_FOUND)


def test_in_the_thread_of_a_pass_which_is_gone_on_with(
    log: Path,
    logbook: Logbook,
    visit: VisitRecord,
    open_on: Open,
    drive: Drive,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    meter = presenter.session.instruments.bench(visit.bench).standins.meter
    usual, count = meter.measure, [0]

    def measure(*arguments: object, **named: object) -> object:
        count[0] += 1
        if count[0] == 4:
            broken()
        return usual(*arguments, **named)

    monkeypatch.setattr(meter, "measure", measure)
    driver.press_for(commands.BEGIN)
    driver.wait(lambda: presenter.running, "the pass")
    driver.wait(lambda: not presenter.running, "its end")
    assert PROGRAM_ERROR in presenter.view().panel.sentence
    assert told(log)
    (record,) = logbook.passes(visit.id)
    assert record.state is PassState.RUNNING
    assert record.readings > 0
    driver.press_for(commands.GO_ON)
    driver.wait_for_pass()
    assert presenter.snapshot.done(AS_FOUND)
    assert len(logbook.passes(visit.id)) == 1
