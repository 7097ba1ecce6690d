"""Drawings of the report, as lines and letters of the page: grey before and after."""

from collections.abc import Sequence
from itertools import pairwise
from typing import TYPE_CHECKING, Any

import numpy as np

from aequitone.handover.letters import HOUSE
from aequitone.procedures.grey.grey_pass import GreyPass

if TYPE_CHECKING:
    from reportlab.graphics.shapes import Drawing

# All in points.
_HEIGHT, _GAP, _LEFT, _FOOT, _HEAD = 128.0, 22.0, 22.0, 22.0, 20.0
_LETTERS, _DOT = 6.6, 1.9
_INK, _PALE, _LINE = "#111111", "#888888", "#cccccc"
# What the axes show at least: light in %, and ΔE.
_LEAST_LIGHT, _LEAST_DELTA = 5.0, 3.0
# Lines of ΔE: hardly seen, and seen (ΔE 2000).
_RULES = (1.0, 3.0)


def grey_drawing(found: GreyPass, proof: GreyPass | None, width: float) -> "Drawing":
    """Draw light and ΔE of grey by level: as found in hollow dots, as left in full ones; `width` in points."""
    from reportlab.graphics.shapes import Drawing

    drawing = Drawing(width, _HEIGHT)
    each = (width - _GAP) / 2.0
    passes = [found] if proof is None else [found, proof]
    delta = [one.errors.by(one.formula)[0] for one in passes]
    # What lies beyond an HDR screen's knee is held to nothing, so it has no ΔE, and its light is not shown either.
    light = [np.where(np.isfinite(off), one.errors.light, np.nan) for one, off in zip(passes, delta, strict=True)]
    reach = max(_LEAST_LIGHT, *(float(np.nanmax(np.abs(values[:-1]))) for values in light))
    most = max(_LEAST_DELTA, *(float(np.nanmax(values)) for values in delta)) * 1.08
    percents = [one.percents for one in passes]
    left = _Plot(drawing, 0.0, each, -reach * 1.08, reach * 1.08)
    left.frame("Light against the target, %", (0.0,), (-reach, 0.0, reach))
    right = _Plot(drawing, each + _GAP, each, 0.0, most)
    rules = tuple(rule for rule in _RULES if rule < most)
    right.frame(f"{found.formula}, light and cast", rules, (0.0, *rules, most / 1.08))
    for plot, series in ((left, light), (right, delta)):
        for values, levels, full in zip(series, percents, (False, True), strict=False):
            plot.dots(levels, values, full=full and proof is not None)
    left.legend(both=proof is not None)
    return drawing


class _Plot:
    """A plot with levels of the signal across; `low` and `high`: of the values."""

    def __init__(self, drawing: Any, x: float, width: float, low: float, high: float) -> None:
        self._drawing, self._x, self._width, self._low, self._high = drawing, x, width, low, high

    def _across(self, percent: float) -> float:
        return self._x + _LEFT + percent / 100.0 * (self._width - _LEFT - 4.0)

    def _up(self, value: float) -> float:
        share = (value - self._low) / (self._high - self._low)
        return _FOOT + share * (_HEIGHT - _FOOT - _HEAD)

    def frame(self, title: str, rules: Sequence[float], ticks: Sequence[float]) -> None:
        """Title, rules across, and what stands beside and below."""
        self._words(self._x + _LEFT, _HEIGHT - 9.0, title, _INK, 7.6)
        for rule in (*rules, self._low):
            self._line(self._across(0.0), self._up(rule), self._across(100.0), self._up(rule))
        for tick in ticks:
            self._words(self._x + _LEFT - 4.0, self._up(tick) - 2.2, f"{tick:.0f}", _PALE, anchor="end")
        for percent in range(0, 101, 20):
            self._words(self._across(percent), _FOOT - 10.0, f"{percent}", _PALE, anchor="middle")
        self._words(self._across(50.0), 2.0, "level, % of the signal", _PALE, anchor="middle")

    def dots(self, percents: Sequence[float], values: np.ndarray, *, full: bool) -> None:
        """A dot for each level, joined; `full` for as left."""
        shown = [
            (self._across(percent), self._up(float(value)))
            for percent, value in zip(percents, values, strict=True)
            if np.isfinite(value) and percent > 0.0
        ]
        for (x1, y1), (x2, y2) in pairwise(shown):
            self._line(x1, y1, x2, y2, _INK if full else _PALE)
        for x, y in shown:
            self._dot(x, y, full=full)

    def legend(self, *, both: bool) -> None:
        """Which dots are which, at the right of the title."""
        for at, words, full in ((-92.0, "as found", False), (-44.0, "as left", True)):
            if full and not both:
                continue
            x = self._across(100.0) + at
            self._dot(x, _HEIGHT - 6.6, full=full)
            self._words(x + 5.0, _HEIGHT - 9.0, words, _INK)

    def _dot(self, x: float, y: float, *, full: bool) -> None:
        from reportlab.graphics.shapes import Circle
        from reportlab.lib.colors import HexColor

        ink = HexColor(_INK if full else _PALE)
        fill = ink if full else HexColor("#ffffff")
        self._drawing.add(Circle(x, y, _DOT, strokeColor=ink, strokeWidth=0.7, fillColor=fill))

    def _line(self, x1: float, y1: float, x2: float, y2: float, colour: str = _LINE) -> None:
        from reportlab.graphics.shapes import Line
        from reportlab.lib.colors import HexColor

        self._drawing.add(Line(x1, y1, x2, y2, strokeColor=HexColor(colour), strokeWidth=0.5))

    def _words(
        self, x: float, y: float, words: str, colour: str, size: float = _LETTERS, anchor: str = "start"
    ) -> None:
        from reportlab.graphics.shapes import String
        from reportlab.lib.colors import HexColor

        self._drawing.add(
            String(x, y, words, fontName=HOUSE, fontSize=size, fillColor=HexColor(colour), textAnchor=anchor)
        )
