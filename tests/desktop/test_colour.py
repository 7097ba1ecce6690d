"""The Colour station: measured by keys, drawn, tabled and copied; beside as found and proof by one key."""

from collections.abc import Callable

import pytest
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QTableWidget
from pytestqt.qtbot import QtBot

from aequitone.colorimetry import Gamut, White, uv_from_xyz
from aequitone.colorimetry.coverage import coverage_uv
from aequitone.desktop import commands
from aequitone.desktop.demo.driver import Driver
from aequitone.desktop.frame import theme
from aequitone.desktop.session.live import Live
from aequitone.desktop.session.manual_entry import Asked, ManualEntry
from aequitone.desktop.session.operator import AskReading
from aequitone.desktop.stations.colour.commands import DIAGRAM, LENGTH, SIGNAL_LEVEL
from aequitone.desktop.stations.colour.state import Bead, ColourPage, ColourTable, DiagramPage, Spoke
from aequitone.desktop.stations.colour.view import ColourView
from aequitone.desktop.window import MainWindow
from aequitone.logbook import Logbook, VisitRecord
from aequitone.passes import COLOURS_FOUND, COLOURS_LEFT, TONE, colour_plan
from aequitone.procedures.colour.samples import Length
from aequitone.reference import Verdict, target_named
from aequitone.signal import colour_patch

Open = Callable[[Logbook], MainWindow]
Drive = Callable[[MainWindow], Driver]


@pytest.fixture
def at_colour(logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive) -> tuple[MainWindow, Driver]:
    window = open_on(logbook)
    driver = drive(window)
    driver.press_for(commands.BEGIN)
    driver.wait_for_pass()
    driver.press_for(commands.COLOURS)
    driver.wait_for_pass()
    return window, driver


def test_colours_are_read_from_as_found_by_one_key_and_drawn(at_colour: tuple[MainWindow, Driver]) -> None:
    window, _ = at_colour
    presenter = window.presenter
    assert presenter.here == "colour"
    assert presenter.snapshot is not None
    found = presenter.snapshot.result(COLOURS_FOUND)
    assert found is not None
    page = presenter.view().page
    assert isinstance(page, ColourPage)
    assert len(page.beads) == len(found.rows(everyday=False))
    pairs = [pair for _, kind in page.kinds for pair in kind]
    assert len(pairs) == len(found.rows(everyday=True)) == 40
    assert [pair.de2000 for pair in pairs] == [
        float(found.errors.de2000[row]) for row in found.rows(everyday=True)
    ]
    # What is asked for lies on the spokes, at its share of the way from white.
    for spoke in page.spokes:
        along = [
            bead.wanted[0] * spoke.towards[0] + bead.wanted[1] * spoke.towards[1]
            for bead in page.beads
            if bead.name.startswith(spoke.name)
        ]
        assert along == pytest.approx([0.25, 0.5, 0.75, 1.0], abs=0.02)
    assert not page.ghosts
    assert window.room_view("colour").grab().width() > 100
    assert "everyday colours" in presenter.view().panel.sentence


def test_another_length_is_chosen_by_a_key_and_read_as_left(at_colour: tuple[MainWindow, Driver]) -> None:
    window, driver = at_colour
    presenter = window.presenter
    lengths = []
    for _ in range(3):
        driver.press_for(LENGTH)
        lengths.append(presenter.station("colour").length)
    assert lengths == [Length.LONG, Length.SHORT, Length.USUAL]
    driver.press_for(LENGTH)
    driver.press_for(LENGTH)
    driver.press_for(commands.COLOURS)
    driver.wait(lambda: presenter.view().panel.progress is not None, "progress")
    page = presenter.view().page
    assert isinstance(page, ColourPage)
    assert page.ghosts
    driver.wait_for_pass()
    assert presenter.snapshot is not None
    left = presenter.snapshot.result(COLOURS_LEFT)
    assert left is not None
    assert len(left.samples) == 24
    assert "as left, with as found behind" in presenter.view().page.subtitle
    assert presenter.next_station() == "Proof"


def test_figures_as_a_table_and_as_text(at_colour: tuple[MainWindow, Driver]) -> None:
    window, driver = at_colour
    driver.press_for(commands.COPY)
    lines = QGuiApplication.clipboard().text().splitlines()
    assert lines[0].startswith("Colour\tLight %\tSaturation %\tHue °\tΔE 2000")
    assert len(lines) == 1 + 64
    driver.press_for(commands.TABLE)
    window.refresh()
    page = window.presenter.view().page
    assert isinstance(page, ColourTable)
    table = window.room_view("colour").currentWidget()
    assert isinstance(table, QTableWidget)
    assert table.rowCount() == 64
    assert "\t".join(table.item(3, column).text() for column in range(table.columnCount())) == lines[4]


def test_a_plain_diagram_is_one_key_away_with_what_is_covered(at_colour: tuple[MainWindow, Driver]) -> None:
    window, driver = at_colour
    presenter = window.presenter
    driver.press_for(DIAGRAM)
    driver.wait(lambda: bool(presenter.view().page.figures), "what is covered")
    page = presenter.view().page
    assert isinstance(page, DiagramPage)
    assert len(page.dots) == 65
    assert page.dots[-1].name == "white"
    assert len(page.target) == len(page.screen) == 3
    found = presenter.snapshot.result(COLOURS_FOUND)
    red = next(row for row, sample in enumerate(found.samples) if sample.name == "red 100 %")
    assert page.screen[0] == pytest.approx(tuple(uv_from_xyz(found.xyz[red])))
    figures = dict(page.figures)
    rows = [[s.name for s in found.samples].index(f"{name} 100 %") for name in ("red", "green", "blue")]
    xy = [tuple(found.xyz[row, :2] / found.xyz[row].sum()) for row in rows]
    screen = Gamut("", *xy, White("", *found.white[:2] / found.white.sum()))
    covered = coverage_uv(screen, target_named(presenter.snapshot.visit.target).gamut) * 100.0
    assert float(figures["Covers of the target, u'v'"].split()[0]) == pytest.approx(covered, abs=0.06)
    assert window.room_view("colour").grab().width() > 100
    driver.press_for(DIAGRAM)
    assert isinstance(presenter.view().page, ColourPage)


def test_schools_choose_the_level_of_the_six(at_colour: tuple[MainWindow, Driver]) -> None:
    window, driver = at_colour
    presenter = window.presenter
    presenter.do(SIGNAL_LEVEL)
    driver.wait(lambda: presenter.snapshot.visit.bench.colour_level == 100.0, "the level")
    plan = colour_plan(presenter.snapshot)
    assert {sample.level for sample in plan.samples if not sample.is_everyday} == {100.0}
    presenter.do(SIGNAL_LEVEL)
    driver.wait(lambda: presenter.snapshot.visit.bench.colour_level == 75.0, "the level")


def test_a_pass_that_is_left_is_gone_on_with(
    logbook: Logbook, visit: VisitRecord, open_on: Open, drive: Drive
) -> None:
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    driver.press("Ctrl+7")
    assert "Nothing is turned" in presenter.view().panel.sentence
    driver.press_for(commands.BEGIN)
    driver.wait(lambda: presenter.view().panel.progress is not None, "progress")
    driver.press_for(commands.LEAVE)
    driver.wait_for_pass()
    kept = logbook.passes(visit.id)[0].readings
    assert kept
    driver.press_for(commands.GO_ON)
    driver.wait_for_pass()
    assert presenter.snapshot is not None
    assert presenter.snapshot.done(COLOURS_FOUND)
    assert logbook.passes(visit.id)[0].readings > kept


def test_a_typed_colour_is_held_against_the_light_that_it_should_have(
    at_colour: tuple[MainWindow, Driver],
) -> None:
    window, _ = at_colour
    snapshot = window.presenter.snapshot
    assert snapshot is not None
    plan = colour_plan(snapshot)
    live, entry = Live(white=100.0), ManualEntry()
    red = next(sample for sample in plan.samples if sample.name == "red 100 %")
    patch = colour_patch(red.name, red.signal, plan.format)
    expected = entry.expected(snapshot, COLOURS_LEFT, live, patch)
    wanted = plan.target.colour([patch.signal], 100.0)[0]
    assert expected == pytest.approx(float(wanted[1]))
    x, y = (float(part) for part in wanted[:2] / wanted.sum())
    asked = Asked(AskReading(patch))
    # A slip of the decimal point is asked about once; a colour that is far from any grey is not.
    questioned, kept = entry.taken(f"{x:.4f} {y:.4f} {wanted[1] * 10:.2f}", asked, expected, "xyY")
    assert kept is None
    assert "was expected" in questioned.objection
    right, kept = entry.taken(f"{x:.4f} {y:.4f} {wanted[1]:.2f}", asked, expected, "xyY")
    assert kept is not None
    assert right.objection == ""
    assert entry.expected(snapshot, TONE, live, patch) is None


def test_a_colour_far_beyond_the_picture_is_drawn_whole_at_its_edge(qtbot: QtBot) -> None:
    view = ColourView()
    qtbot.addWidget(view)
    view.resize(860, 620)
    spokes = (Spoke("cyan", (-0.98, -0.2)), Spoke("red", (0.98, 0.2)))

    def lit(seen: tuple[float, float]) -> int:
        """Pixels of the bead's own brightness in the four columns at the left edge."""
        bead = Bead("cyan 100 %", spokes[0].towards, seen, 0.0, Verdict.VISIBLE)
        view.show_page(ColourPage(spokes=spokes, beads=(bead,)))
        image = view.grab().toImage()
        bright = theme.BRIGHT.lightness() - 20
        return sum(image.pixelColor(x, y).lightness() > bright for x in range(4, 12) for y in range(60, 620))

    # It is the same dot, whole, however far away it lies.
    assert abs(lit((-3.0, -0.6)) - lit((-30.0, -6.0))) <= 5
    assert lit((-30.0, -6.0)) > 40
    assert lit(spokes[0].towards) < lit((-3.0, -0.6)) / 4
