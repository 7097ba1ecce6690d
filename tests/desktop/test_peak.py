"""Peak in the window: begun and read by keys, the upper end chosen, and scenes seen through it."""

from pathlib import Path

from tests.passes.test_hdr import visited

from aequitone.desktop import commands
from aequitone.desktop.stations.peak.commands import SCENES, UPPER_END
from aequitone.desktop.stations.peak.scenes import ScenesPage
from aequitone.desktop.stations.peak.state import PeakPage
from aequitone.figures import light_words
from aequitone.passes import AS_FOUND, PEAK, begin, carry_out
from aequitone.procedures.runner import NobodyThere


def test_peak_is_found_its_end_chosen_and_scenes_are_seen(tmp_path: Path, open_on, drive) -> None:
    logbook, visit_id, bench = visited(tmp_path, "laser-projector")
    carry_out(logbook, begin(logbook, visit_id, AS_FOUND), bench.bench(), NobodyThere())
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    presenter.go_to("peak")
    window.refresh()
    panel = presenter.view().panel
    assert "dazzles" in panel.sentence
    assert isinstance(presenter.view().page, PeakPage)
    # The window's own stand-in stands as a screen does that was just switched on.
    standins = presenter.session.instruments.bench(presenter.snapshot.visit.bench).standins
    standins.screen.choose_memory(presenter.snapshot.visit.input, presenter.snapshot.visit.memory)
    standins.screen.quieten()
    driver.press_for(commands.BEGIN)
    driver.wait_for_pass()
    found = presenter.snapshot.result(PEAK)
    page = presenter.view().page
    assert page.windows[0][0] == "1"
    assert page.knee is not None
    assert page.peak_words == f"peak {light_words(found.usual)}"
    assert "Peak, full field" in dict(page.figures)
    text = presenter.room.as_text()
    assert "Window %\tcd/m²" in text
    assert f"100\t{found.light[0]:.5g}" in text

    driver.press_for(SCENES)
    driver.wait(lambda: isinstance(presenter.view().page, ScenesPage), "the scenes")
    scenes = presenter.view().page
    assert isinstance(scenes, ScenesPage)
    assert scenes.curve == "PQ, cut off at the screen's peak"
    assert [cell.name for cell in scenes.cells][-1] == "Still life"
    snow = {cell.name: cell for cell in scenes.cells}["Snow in the sun"]
    assert len(snow.rgb) == 3 * snow.width * snow.height
    chosen = next(hint for hint in presenter.view().panel.keys if hint.command is UPPER_END)
    assert chosen.choices == ("cut", "400", "1000", "4000", "10000", "its own")
    assert chosen.chosen == 0
    for target in ("p3in2020-pq400", "p3in2020-pq1000"):
        driver.press_for(UPPER_END)
        driver.wait(lambda target=target: presenter.snapshot.visit.target == target, "the other end")
    curve = "PQ rolled off from 1\N{NO-BREAK SPACE}000 cd/m²"
    driver.wait(lambda: presenter.view().page.curve == curve, "the scenes of that end")
    other = presenter.view().page
    assert other.cells != scenes.cells
    assert "clipped" in presenter.room.as_text()
    # What was read before is held to the end that is wanted now.
    assert not presenter.snapshot.result(AS_FOUND).errors.beyond[3]
    driver.press_for(SCENES)
    assert isinstance(presenter.view().page, PeakPage)
