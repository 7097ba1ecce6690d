"""The drawing of grey in the report: what is drawn lies where the figures say."""

from dataclasses import replace

import numpy as np
import pytest
from reportlab.graphics.shapes import Circle, String
from tests.handover.test_handover import grey

from aequitone.handover.letters import load_fonts
from aequitone.handover.report.drawings import grey_drawing


@pytest.fixture(autouse=True)
def _fonts() -> None:
    load_fonts()


def dots(drawing: object, *, full: bool) -> list[Circle]:
    """The dots of as left, or of as found, legend left out."""
    circles = [each for each in drawing.contents if isinstance(each, Circle)]  # type: ignore[attr-defined]
    ink = "#111111" if full else "#888888"
    chosen = [each for each in circles if f"#{each.strokeColor.hexval()[2:]}" == ink]
    return [each for each in chosen if each.cy < 115.0]


def test_every_level_has_a_dot_in_each_plot_and_the_worse_lies_higher() -> None:
    found, left = grey((1.03, 1.0, 1.06)), grey((1.004, 1.0, 1.003))
    drawing = grey_drawing(found, left, 480.0)
    levels = sum(percent > 0.0 for percent in found.percents)
    was, now = dots(drawing, full=False), dots(drawing, full=True)
    assert len(was) == len(now) == 2 * levels
    right = [each.cy for each in now if each.cx > 250.0]
    wrong = [each.cy for each in was if each.cx > 250.0]
    assert max(right) < min(wrong)
    # Heights follow the figures: the order of ΔE is the order of the dots.
    delta = [float(v) for v, p in zip(found.errors.de2000, found.percents, strict=True) if p > 0.0]
    assert np.argsort(delta).tolist() == np.argsort(wrong).tolist()
    assert all(0.0 <= each.cx <= 480.0 and 0.0 <= each.cy <= 128.0 for each in (*was, *now))


def test_without_a_proof_nothing_is_drawn_as_left() -> None:
    drawing = grey_drawing(grey((1.03, 1.0, 1.06)), None, 480.0)
    assert dots(drawing, full=True) == []
    words = [each.text for each in drawing.contents if isinstance(each, String)]
    assert "as found" in words
    assert "as left" not in words


def test_what_lies_beyond_a_screen_is_drawn_in_neither_plot() -> None:
    whole = grey((1.03, 1.0, 1.06))
    delta, light = whole.errors.de2000.copy(), whole.errors.light.copy()
    delta[:2], light[:2] = np.nan, -80.0
    drawing = grey_drawing(replace(whole, errors=replace(whole.errors, de2000=delta, light=light)), None, 480.0)
    levels = sum(percent > 0.0 for percent in whole.percents)
    assert len(dots(drawing, full=False)) == 2 * (levels - 2)
    # Nor does it flatten the others.
    assert not any(each.text == "-80" for each in drawing.contents if isinstance(each, String))
