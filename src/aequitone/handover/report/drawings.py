"""Drawings of the report, as lines and letters of the page."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import TYPE_CHECKING, Any

import numpy as np

from aequitone.colorimetry import REC709
from aequitone.colorimetry.arrays import Array
from aequitone.colorimetry.transfer import srgb_codes
from aequitone.handover.letters import HOUSE
from aequitone.handover.picture import ScreenLight
from aequitone.procedures.colour.colour_pass import ColourPass
from aequitone.procedures.grey.grey_pass import GreyPass
from aequitone.procedures.hdr.peak import PeakPass

if TYPE_CHECKING:
    from reportlab.graphics.shapes import Drawing

# All in points.
_HEIGHT, _GAP, _LEFT, _FOOT, _HEAD = 128.0, 22.0, 22.0, 22.0, 20.0
_LETTERS, _DOT = 6.6, 1.9
_INK, _PALE, _LINE = "#111111", "#888888", "#cccccc"
# What the axes show at least: light in %, ΔE, and a cast in thousandths of u'v'.
_LEAST_LIGHT, _LEAST_DELTA, _LEAST_CAST = 5.0, 3.0, 4.0
# Lines of ΔE: hardly seen, and seen (ΔE 2000).
_RULES = (1.0, 3.0)
_ACROSS = tuple((float(percent), f"{percent}") for percent in range(0, 101, 20))
# Of the strip of greys: steps, and its rows.
_STEPS, _ROW = 21, 22.0
_DARKEST_LIGHT = 1e-5


@dataclass(frozen=True)
class _Axis:
    """What an axis shows: its ends, its ticks, and what is written under it."""

    low: float
    high: float
    ticks: tuple[tuple[float, str], ...]
    title: str = ""

    def share(self, value: float) -> float:
        """Where a value lies, from 0 to 1."""
        return (value - self.low) / (self.high - self.low)


_LEVELS = _Axis(0.0, 100.0, _ACROSS, "level, % of the signal")


def grey_drawing(found: GreyPass, proof: GreyPass | None, width: float) -> "Drawing":
    """Draw light and ΔE of grey by level: as found in hollow dots, as left in full ones; `width` in points."""
    drawing = _drawing(width)
    passes = [found] if proof is None else [found, proof]
    delta = [one.errors.by(one.formula)[0] for one in passes]
    # What lies beyond an HDR screen's knee is held to nothing, so it has no ΔE, and its light is not shown either.
    light = [np.where(np.isfinite(off), one.errors.light, np.nan) for one, off in zip(passes, delta, strict=True)]
    reach = max(_LEAST_LIGHT, *(float(np.nanmax(np.abs(values[:-1]))) for values in light))
    left, right = _two(drawing, width, _evenly(reach), _of_delta(delta))
    left.frame("Light against the target, %", (0.0,))
    right.frame(f"{found.formula}, light and cast", _RULES)
    for plot, series in ((left, light), (right, delta)):
        for one, values, full in zip(passes, series, (False, True), strict=False):
            plot.dots(one.percents, values, full=full and proof is not None)
    left.legend("as found", "as left" if proof is not None else "")
    return drawing


def tone_drawing(found: GreyPass, proof: GreyPass | None, width: float) -> "Drawing":
    """Draw the tone, light by level along a logarithm, beside the cast of grey by level."""
    drawing = _drawing(width)
    passes = [found] if proof is None else [found, proof]
    lights = [np.log10(np.maximum(one.xyz[:, 1], _DARKEST_LIGHT) / one.white) for one in passes]
    low = float(np.floor(min(values[:-1].min() for values in lights)))
    decades = tuple((float(n), f"{100.0 * 10.0**n:g}") for n in range(int(low), 1))
    casts = [one.errors.cast[:, 0] * 1e3 for one in passes], [one.errors.cast[:, 1] * 1e3 for one in passes]
    reach = max(_LEAST_CAST, *(float(np.nanmax(np.abs(each[:-1]))) for both in casts for each in both))
    left, right = _two(drawing, width, _Axis(low, 0.0, decades), _evenly(reach))
    left.frame("Tone: light, % of white", tuple(value for value, _ in decades))
    last = passes[-1]
    wanted = np.log10(np.maximum(last.errors.target[:, 1], _DARKEST_LIGHT) / last.white)
    left.line(last.percents, np.where(np.isfinite(last.errors.by(last.formula)[0]), wanted, np.nan))
    right.frame("Cast in u'v', thousandths: warm solid, green dashed", (0.0,))
    for i, one in enumerate(passes):
        full = i > 0
        left.dots(one.percents, lights[i], full=full, joined=False)
        right.dots(one.percents, casts[0][i], full=full)
        right.dots(one.percents, casts[1][i], full=full, dashed=True)
    left.legend("as found", "as left" if proof is not None else "", low=True)
    return drawing


def colour_drawing(found: ColourPass | None, left: ColourPass | None, width: float) -> "Drawing":
    """Draw colours in u'v', wanted and measured joined, beside ΔE of each, as found and as left."""
    from aequitone.colorimetry import uv_from_xyz

    drawing = _drawing(width, 2.0 * _HEIGHT)
    shown = left or found
    assert shown is not None
    wanted, seen = uv_from_xyz(shown.errors.target), uv_from_xyz(shown.xyz)
    points = np.concatenate([wanted, seen])
    (u0, v0), (u1, v1) = points.min(axis=0) - 0.03, points.max(axis=0) + 0.03
    ticks = tuple((float(each), f"{each:.1f}") for each in np.arange(0.0, 0.7, 0.1))
    across = _Axis(float(u0), float(u1), tuple(t for t in ticks if u0 < t[0] < u1), "u'")
    up = _Axis(float(v0), float(v1), tuple(t for t in ticks if v0 < t[0] < v1))
    each = (width - _GAP) / 2.0
    uv = _Plot(drawing, 0.0, each, up, across=across)
    uv.frame("v', wanted (ring) to measured", ())
    for row in range(len(wanted)):
        uv.joined(tuple(map(float, wanted[row])), tuple(map(float, seen[row])))
    passes = [one for one in (found, left) if one is not None]
    delta = [one.errors.by(one.formula)[0] for one in passes]
    names = [sample.name for sample in shown.samples]
    rows = _Axis(-1.0, float(len(names)), ())
    right = _Plot(drawing, each + _GAP, each, _of_delta(delta), across=rows)
    right.frame(f"{shown.formula}, in the table's order", _RULES)
    for i, one in enumerate(passes):
        of = {sample.name: row for row, sample in enumerate(one.samples)}
        values = np.array([delta[i][of[name]] if name in of else np.nan for name in names])
        right.dots(range(len(names)), values, full=one is left, joined=False)
    right.legend("as found" if found else "", "as left" if left else "")
    return drawing


def peak_drawing(peak: PeakPass, width: float) -> "Drawing":
    """Draw white's light by the size of its window, and over the time that it stood."""
    drawing = _drawing(width)
    most = peak.most * 1.1 or 1.0
    shares = _Axis(0.0, 100.0, _ACROSS, "window, % of the area")
    ticks = tuple((round(most * part, -1), f"{most * part:.0f}") for part in (0.0, 0.45, 0.9))
    each = (width - _GAP) / 2.0
    left = _Plot(drawing, 0.0, each, _Axis(0.0, most, ticks), across=shares)
    left.frame("White by the size of its window, cd/m²", ())
    left.dots([100.0 * share for share, _, _ in peak.windows], np.array([w[1] for w in peak.windows]), full=True)
    longest = max((seconds for seconds, _ in peak.held), default=30.0)
    times = _Axis(0.0, longest, ((0.0, "0"), (longest, f"{longest:.0f}")), "seconds that it stood")
    right = _Plot(
        drawing, each + _GAP, each, _Axis(0.0, 110.0, ((0.0, "0"), (50.0, "50"), (100.0, "100"))), across=times
    )
    right.frame("White that stands still, % of its first light", (100.0,))
    right.dots([s for s, _ in peak.held], np.array([100.0 * share for _, share in peak.held]), full=True)
    return drawing


def greys_drawing(
    before: ScreenLight, after: ScreenLight | None, passes: tuple[GreyPass, GreyPass | None], width: float
) -> "Drawing":
    """Draw grey from black to white as a strip before and one after, and the ΔE of both under them."""
    high = 2 * (_ROW + 3.0) + 92.0
    drawing = _drawing(width, high)
    plot_high = 84.0
    delta = [one.errors.by(one.formula)[0] for one in passes if one is not None]
    plot = _Plot(drawing, 40.0, width - 40.0, _of_delta(delta), high=plot_high)
    plot.frame("", _RULES)
    for rule, words in zip(_RULES, ("hardly seen", "plainly seen"), strict=True):
        plot.beside(rule, words)
    for one, values, full in zip(
        [each for each in passes if each is not None], delta, (False, True), strict=False
    ):
        plot.dots(one.percents, values, full=full)
    plot.legend("before", "now" if passes[1] is not None else "")
    for row, (light, words) in enumerate(((before, "before"), (after, "now"))):
        if light is not None:
            plot.strip(high - (row + 1) * (_ROW + 3.0), light, words)
    return drawing


def _drawing(width: float, height: float = _HEIGHT) -> "Drawing":
    from reportlab.graphics.shapes import Drawing

    return Drawing(width, height)


def _two(drawing: Any, width: float, first: _Axis, second: _Axis) -> tuple["_Plot", "_Plot"]:
    """Two plots of equal width beside each other."""
    each = (width - _GAP) / 2.0
    return _Plot(drawing, 0.0, each, first), _Plot(drawing, each + _GAP, each, second)


def _evenly(reach: float) -> _Axis:
    """An axis as far below nothing as above."""
    return _Axis(-reach * 1.08, reach * 1.08, tuple((value, f"{value:.0f}") for value in (-reach, 0.0, reach)))


def _of_delta(series: Sequence[Array]) -> _Axis:
    """An axis of ΔE, from nothing up."""
    most = max(_LEAST_DELTA, *(float(np.nanmax(values)) for values in series))
    ticks = [0.0]
    for value in (*(rule for rule in _RULES if rule < most * 1.08), most):
        # Two figures need a seventh of the height between them.
        if value - ticks[-1] > most / 7.0:
            ticks.append(value)
    return _Axis(0.0, most * 1.08, tuple((tick, f"{tick:.0f}") for tick in ticks))


class _Plot:
    """A plot at `x` of a drawing."""

    def __init__(
        self,
        drawing: Any,
        x: float,
        width: float,
        up: _Axis,
        *,
        across: _Axis = _LEVELS,
        high: float = 0.0,
    ) -> None:
        self._drawing, self._x, self._width, self._up_axis, self._across_axis = drawing, x, width, up, across
        self._high = high or drawing.height

    def _across(self, value: float) -> float:
        return self._x + _LEFT + self._across_axis.share(value) * (self._width - _LEFT - 4.0)

    def _up(self, value: float) -> float:
        return _FOOT + self._up_axis.share(value) * (self._high - _FOOT - _HEAD)

    def frame(self, title: str, rules: Sequence[float]) -> None:
        """Title, rules across, and what stands beside and below."""
        across, up = self._across_axis, self._up_axis
        self._words(self._x + _LEFT, self._high - 9.0, title, _INK, 7.6)
        for rule in (*(rule for rule in rules if up.low < rule < up.high), up.low):
            self._line(self._across(across.low), self._up(rule), self._across(across.high), self._up(rule))
        for tick, words in up.ticks:
            self._words(self._x + _LEFT - 4.0, self._up(tick) - 2.2, words, _PALE, anchor="end")
        for tick, words in across.ticks:
            self._words(self._across(tick), _FOOT - 10.0, words, _PALE, anchor="middle")
        self._words(self._across((across.low + across.high) / 2.0), 2.0, across.title, _PALE, anchor="middle")

    def beside(self, value: float, words: str) -> None:
        """Say what a rule means, left of its figure, where that is there."""
        if value in [tick for tick, _ in self._up_axis.ticks]:
            self._words(self._x + _LEFT - 12.0, self._up(value) - 2.2, words, _PALE, anchor="end")

    def dots(
        self, at: Sequence[float], values: Array, *, full: bool, joined: bool = True, dashed: bool = False
    ) -> None:
        """A dot for each value, joined in their order; `full` for as left. Grey's 0 % has none."""
        shown = self._points(at, values)
        if joined:
            for (x1, y1), (x2, y2) in pairwise(shown):
                self._line(x1, y1, x2, y2, _INK if full else _PALE, dashed=dashed)
        for x, y in shown:
            self._dot(x, y, full=full)

    def line(self, at: Sequence[float], values: Array) -> None:
        """A line without dots: what is wanted."""
        for (x1, y1), (x2, y2) in pairwise(self._points(at, values)):
            self._line(x1, y1, x2, y2, _PALE)

    def joined(self, wanted: tuple[float, ...], seen: tuple[float, ...]) -> None:
        """A ring at what is wanted, a line to what was seen."""
        (u, v), (u1, v1) = wanted, seen
        self._line(self._across(u), self._up(v), self._across(u1), self._up(v1), _INK)
        self._dot(self._across(u), self._up(v), full=False)

    def strip(self, y: float, light: ScreenLight, words: str) -> None:
        """Grey from black to white as a screen shows it, its white just fitting."""
        from reportlab.graphics.shapes import Rect
        from reportlab.lib.colors import Color, HexColor

        greys = light.xyz(np.repeat(np.linspace(0.0, 1.0, _STEPS)[:, None], 3, axis=1))
        codes = srgb_codes(REC709.rgb(greys) / float(REC709.rgb(light.white).max())) / 255.0
        first, last = self._across(0.0), self._across(100.0)
        step = (last - first) / _STEPS
        for i, rgb in enumerate(codes):
            fill = Color(*(float(value) for value in rgb))
            # A hair wider, or the paper shows between two.
            self._drawing.add(
                Rect(first + i * step, y, step + 0.3, _ROW, fillColor=fill, strokeColor=None, strokeWidth=0)
            )
        frame = Rect(first, y, last - first, _ROW, fillColor=None, strokeColor=HexColor(_LINE), strokeWidth=0.4)
        self._drawing.add(frame)
        self._words(first - 12.0, y + _ROW / 2.0 - 2.2, words, _INK, 7.6, anchor="end")

    def legend(self, hollow: str, full: str, *, low: bool = False) -> None:
        """Which dots are which, at the right of the title, or low down."""
        y = _FOOT + 8.0 if low else self._high - 9.0
        right = self._across(self._across_axis.high)
        for at, words, is_full in ((-92.0, hollow, False), (-44.0, full, True)):
            if words:
                self._dot(right + at, y + 2.4, full=is_full)
                self._words(right + at + 5.0, y, words, _INK)

    def _points(self, at: Sequence[float], values: Array) -> list[tuple[float, float]]:
        levels = self._across_axis is _LEVELS
        return [
            (self._across(x), self._up(float(value)))
            for x, value in zip(at, values, strict=True)
            if np.isfinite(value) and not (levels and x == 0.0)
        ]

    def _dot(self, x: float, y: float, *, full: bool) -> None:
        from reportlab.graphics.shapes import Circle
        from reportlab.lib.colors import HexColor

        ink = HexColor(_INK if full else _PALE)
        fill = ink if full else HexColor("#ffffff")
        self._drawing.add(Circle(x, y, _DOT, strokeColor=ink, strokeWidth=0.7, fillColor=fill))

    def _line(
        self, x1: float, y1: float, x2: float, y2: float, colour: str = _LINE, *, dashed: bool = False
    ) -> None:
        from reportlab.graphics.shapes import Line
        from reportlab.lib.colors import HexColor

        dashes = [2, 2] if dashed else None
        self._drawing.add(
            Line(x1, y1, x2, y2, strokeColor=HexColor(colour), strokeWidth=0.5, strokeDashArray=dashes)
        )

    def _words(
        self, x: float, y: float, words: str, colour: str, size: float = _LETTERS, anchor: str = "start"
    ) -> None:
        from reportlab.graphics.shapes import String
        from reportlab.lib.colors import HexColor

        self._drawing.add(
            String(x, y, words, fontName=HOUSE, fontSize=size, fillColor=HexColor(colour), textAnchor=anchor)
        )
