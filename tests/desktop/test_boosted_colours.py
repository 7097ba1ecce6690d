"""Colour on a screen that boosts white: what is said and drawn of it."""

from benchmarks.colour_management import faulty
from tests.procedures.test_managing_known import known_unit, run

from aequitone.desktop.stations.colour import managing
from aequitone.desktop.stations.colour.page import colour_page
from aequitone.logbook import Logbook, VisitRecord
from aequitone.passes import load_snapshot
from aequitone.procedures.colour.colour_pass import ColourPlan, colour_pass
from aequitone.procedures.colour.managing import manage_colours
from aequitone.procedures.colour.samples import Length


def test_the_picture_and_the_panel_show_colours_without_light(logbook: Logbook, visit: VisitRecord) -> None:
    bench, known = known_unit(faulty("white-oled", 5, 0.03), 5)
    plan = ColourPlan(known.target, known.format)
    found, _ = run(bench, colour_pass(plan))
    managed, _ = run(bench, manage_colours(known))
    figures = dict(colour_page(plan, managed.colours, found, "as set").figures)
    cast, was = (each.mean_cast(everyday=False, white=each.white) for each in (managed.colours, found))
    assert figures["Without light"] == f"{cast:.2f}, was {was:.2f}"
    # With light nothing can be seen of what was brought.
    assert float(figures["Saturations, mean ΔE 2000"].split()[0]) > 3.0
    snapshot = load_snapshot(logbook, visit.id)
    panel = managing.done(snapshot, managed, managed.words, Length.USUAL, light=None)
    assert panel.delta is not None
    assert panel.delta.label == "ΔE without light"
    assert panel.delta.value == managed.average
