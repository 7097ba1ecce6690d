"""The log and the bug report: what happened is kept, and nobody's name goes out."""

import logging
import threading
from pathlib import Path

import pytest

from aequitone.diagnosis import LOG, bug_report, log_path, start_log, without_names
from aequitone.logbook import Logbook, VisitRecord
from aequitone.logbook.diagnosis import bug_report_of


@pytest.fixture
def log(tmp_path: Path) -> Path:
    """A log of its own, taken down after the test."""
    before = list(LOG.handlers)
    path = start_log(tmp_path / "state" / "aequitone.log")
    assert path is not None
    yield path
    for handler in [each for each in LOG.handlers if each not in before]:
        handler.close()
        LOG.removeHandler(handler)


def test_the_log_lies_in_the_folder_for_state(tmp_path: Path) -> None:
    assert log_path().is_relative_to(tmp_path / "XDG_STATE_HOME")


def test_an_error_is_kept_with_its_traceback(log: Path) -> None:
    try:
        raise ZeroDivisionError("a fault of the program")
    except ZeroDivisionError:
        LOG.exception("a pass was stopped")
    told = log.read_text("utf-8")
    assert "a pass was stopped" in told
    assert "Traceback" in told
    assert "test_an_error_is_kept_with_its_traceback" in told


@pytest.mark.filterwarnings("ignore::pytest.PytestUnhandledThreadExceptionWarning")
def test_an_error_that_nobody_caught_in_a_thread_is_kept(log: Path) -> None:
    def fail() -> None:
        raise RuntimeError("nobody is here")

    thread = threading.Thread(target=fail)
    hook, threading.excepthook = threading.excepthook, threading.excepthook
    thread.start()
    thread.join()
    threading.excepthook = hook
    assert "nobody is here" in log.read_text("utf-8")


def test_the_log_turns_over_and_does_not_grow_for_ever(log: Path) -> None:
    for _ in range(1200):
        LOG.info("x" * 4000)
    files = sorted(log.parent.glob("aequitone.log*"))
    assert len(files) == 4
    assert all(file.stat().st_size < 1_100_000 for file in files)


def test_a_log_that_cannot_be_written_stops_nothing(tmp_path: Path) -> None:
    (tmp_path / "file").write_text("in the way")
    assert start_log(tmp_path / "file" / "aequitone.log") is None


def test_a_bug_report_names_no_client(logbook: Logbook, visit: VisitRecord, log: Path, monkeypatch) -> None:
    LOG.error("could not open %s of %s", visit.screen, visit.client)
    monkeypatch.setattr("aequitone.diagnosis.log_path", lambda: log)
    told = bug_report_of(logbook)
    assert "could not open [name] of [name]" in told
    for name in (visit.client, visit.room, visit.screen, visit.memory):
        assert name.lower() not in told.lower()
    assert "Visits: 1" in told
    assert "Logbook layout: " in told


def test_without_a_log_or_a_logbook_there_is_a_report_all_the_same(tmp_path: Path) -> None:
    assert "There is no log at" in bug_report((), log=tmp_path / "none.log")
    assert bug_report_of(None).startswith("Aequitone ")


def test_short_names_do_not_eat_the_words() -> None:
    assert without_names("The TV in Ida's den", ["TV", "Ida"]) == "The TV in [name]'s den"


def test_what_is_logged_is_not_printed(log: Path, capsys: pytest.CaptureFixture[str]) -> None:
    LOG.error("only for the file")
    assert capsys.readouterr() == ("", "")
    assert logging.getLogger("aequitone").propagate is False
