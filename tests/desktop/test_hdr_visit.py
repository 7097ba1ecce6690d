"""An HDR memory from as found to the report: by link on a television, by hand with the remote on a projector."""

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from pypdf import PdfReader
from PySide6.QtWidgets import QApplication
from tests.conftest import answer_checklist
from tests.desktop.remote_hand import follow
from tests.passes.test_hdr import visited

from aequitone.desktop import commands
from aequitone.desktop.stations.hand_over import commands as hand_over_commands
from aequitone.desktop.tools.bench.view import BenchView
from aequitone.logbook import Logbook
from aequitone.logbook.records import Connection
from aequitone.passes import AS_FOUND, COLOURS_FOUND, PEAK, PROOF, TONE, WHITE
from aequitone.passes.white import white_levels


def stands_as_noted(window, logbook: Logbook):
    """The window's own stand-in, in the memory of the visit and at the settings that were noted."""
    presenter = window.presenter
    standins = presenter.session.instruments.bench(presenter.snapshot.visit.bench).standins
    visit = presenter.snapshot.visit
    standins.screen.choose_memory(visit.input, visit.memory)
    standins.screen.quieten()
    standins.screen.turn({role.key: value for role, value in presenter.snapshot.settings.items()})
    return standins


def test_a_film_memory_by_link_from_as_found_to_the_report(tmp_path: Path, open_on, drive) -> None:
    logbook, visit_id, _ = visited(tmp_path, "rgb-oled")
    answer_checklist(logbook, logbook.visit(visit_id))
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    stands_as_noted(window, logbook)
    presenter.go_to("as-found")
    for kind in (AS_FOUND, PEAK, WHITE, TONE, COLOURS_FOUND, PROOF):
        window.refresh()
        assert kind in presenter.station(presenter.here).passes
        if kind is WHITE:
            # White says at which levels it works, since those that were chosen lie in the roll-off.
            bright, dark = white_levels(presenter.snapshot)
            assert 100.0 * presenter.snapshot.result(PEAK).shoulder.knee > bright > dark
            assert f"at {bright:g} and {dark:g} %" in presenter.view().panel.sentence
        driver.press_for(commands.BEGIN)
        driver.wait_for_pass()
        assert presenter.snapshot.done(kind), presenter.view().panel.sentence
        driver.press_for(commands.NEXT_STATION)
    assert presenter.here == "hand-over"
    found, left = presenter.snapshot.result(AS_FOUND), presenter.snapshot.result(PROOF)
    assert found.mean > 5.0
    assert left.mean < 2.5
    rows = {row.percent: row for row in presenter.station("proof").ladder().rows}
    assert rows[90.0].beyond
    assert rows[90.0].delta is None
    assert rows[50.0].meant == pytest.approx(92.2, abs=0.5)
    driver.press_for(hand_over_commands.MAKE_REPORT)
    reports = presenter.station("hand-over").reports
    driver.wait(lambda: reports.folder is not None and not reports.busy, "the report")
    pages = PdfReader(reports.folder / "report.pdf").pages
    text = " ".join(" ".join(page.extract_text().split()) for page in pages)
    assert "Average ΔE ITP fell" in text
    assert "What the screen can give in HDR" in text
    assert " nan" not in text


def test_a_projector_by_hand_is_set_where_it_controls_its_light(
    tmp_path: Path, open_on, drive, qapp: QApplication
) -> None:
    logbook, visit_id, _ = visited(tmp_path, "laser-projector")
    logbook.choose_bench(visit_id, replace(logbook.visit(visit_id).bench, link=Connection.BY_HAND))
    answer_checklist(logbook, logbook.visit(visit_id))
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    stands_as_noted(window, logbook)
    presenter.do(commands.REMOTE)
    driver.wait(lambda: window._remote is not None and window._remote.isVisible(), "the remote")
    remote = window._remote
    window.activateWindow()
    for station, kind in (("as-found", AS_FOUND), ("peak", PEAK)):
        presenter.go_to(station)
        driver.press_for(commands.BEGIN)
        driver.wait_for_pass()
        assert presenter.snapshot.done(kind), presenter.view().panel.sentence
    presenter.go_to("white")
    driver.press_for(commands.BEGIN)
    assert follow(qapp, driver, remote) >= 1
    result = presenter.snapshot.result(WHITE)
    knee = presenter.snapshot.result(PEAK).shoulder.knee
    assert result.state.percents[1] < 100.0 * knee + 1.0
    assert max(result.state.errors[1:]) < 4.0
    stands = remote.source.settings()
    assert all(
        stands[role.key] == value for role, value in presenter.snapshot.settings.items() if role.key in stands
    )
    assert not np.isnan(result.state.worst)


def test_what_is_named_is_chosen_at_the_bench_in_hdr_alone(tmp_path: Path, open_on, drive) -> None:
    logbook, visit_id, _ = visited(tmp_path, "mapping-lcd")
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    presenter.do(commands.BENCH)
    window.refresh()
    view = window.findChild(BenchView)
    combo = view._combos["mastering"]
    assert not combo.isHidden()
    combo.setCurrentIndex(combo.findData(4_000.0))
    driver.wait(lambda: presenter.snapshot.visit.bench.mastering == 4_000.0, "the choice")
    assert "mastered to 4000 cd/m²" in presenter.view().foot.patterns
    logbook.choose_target(visit_id, "rec709-2.2/added")
    presenter.open_visit(visit_id)
    driver.wait(lambda: not presenter.snapshot.hdr, "SDR")
    presenter.do(commands.BENCH)
    window.refresh()
    assert combo.isHidden()
    assert "mastered" not in presenter.view().foot.patterns
