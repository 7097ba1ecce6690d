"""A closed visit: each station tells what it came to on the day, and what this version would say of it."""

from collections.abc import Callable
from pathlib import Path

import pytest
from tests.passes.test_results import older

from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook, open_logbook
from aequitone.passes import AS_FOUND, LEVELS, PROOF, TONE, WARM_UP, WHITE

Open = Callable[[Logbook], MainWindow]


@pytest.fixture
def closed(tmp_path: Path) -> Logbook:
    """A whole visit as the fifth layout's version wrote it, and closed."""
    return open_logbook(older("0005", tmp_path))


def test_every_station_tells_its_own_result(closed: Logbook, open_on: Open, drive) -> None:
    window = open_on(closed)
    presenter = window.presenter
    assert presenter.here == "hand-over"
    presenter.go_to("white")
    # The words of the day are there at once; what they rest on is worked out again meanwhile.
    assert "The target is met" in presenter.view().panel.sentence
    drive(window).wait(lambda: presenter.snapshot.result(WHITE) is not None, "what it came to")
    snapshot = presenter.snapshot
    assert snapshot is not None
    assert snapshot.visit.closed is not None
    told = {}
    for station in ("prepare", "as-found", "levels", "white", "tone", "proof"):
        presenter.go_to(station)
        panel = presenter.view().panel
        assert panel.heading == "Closed"
        told[station] = panel.sentence
    for kind, station in ((WHITE, "white"), (TONE, "tone"), (LEVELS, "levels"), (WARM_UP, "prepare")):
        assert snapshot.result(kind) is not None
        done = snapshot.latest_done(kind)
        assert done is not None
        # As it was said on the day, also where this version chooses other words.
        assert done.outcome.rstrip(".") in told[station]
    assert "25 % may be" in told["tone"]
    assert "ΔE 2000 is" in told["as-found"]
    assert "Average ΔE 2000" in told["proof"]
    assert len(set(told.values())) == len(told)


def test_what_this_version_says_otherwise_stands_beside_what_was_said(
    closed: Logbook, open_on: Open, monkeypatch: pytest.MonkeyPatch
) -> None:
    presenter = open_on(closed).presenter
    station = presenter.station("white")
    presenter.go_to("white")
    said = presenter.view().panel.sentence
    monkeypatch.setattr(
        type(presenter.snapshot), "revised_words", lambda _self, kind: "Another stop." if kind is WHITE else ""
    )
    assert station.revised() == "Today's version of the program says of the same readings: Another stop."
    assert presenter.view().panel.sentence == f"{said} {station.revised()}"
    for kind, name in ((AS_FOUND, "as-found"), (PROOF, "proof")):
        assert presenter.station(name).kind is kind
        assert presenter.station(name).revised() == ""


def test_nothing_can_be_begun_or_changed_there(closed: Logbook, open_on: Open) -> None:
    presenter = open_on(closed).presenter
    passes = closed.passes(1)
    for station in presenter.stations[1:-1]:
        presenter.go_to(station.id)
        shown = {hint.command.name for hint in presenter.view().panel.keys}
        assert not shown & {"begin", "go on", "set aside", "line done", "undo", "import"}, station.id
    assert closed.passes(1) == passes
