"""Light and cast over time, as two strips one above the other."""

from typing import Any

import numpy as np
from PySide6.QtCore import Qt
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QLabel, QStackedLayout, QWidget

from aequitone.desktop import theme
from aequitone.desktop.bench_states import Sample

_LEAST_LIGHT_SPAN = 0.01
_LEAST_CAST_SPAN = 0.002


class StripChart(QWidget):
    """Draws samples; the library that draws curves is loaded by `load`, off Qt's thread where it matters."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Light and cast over time")
        self._samples: tuple[Sample, ...] = ()
        self._light: Any = None
        self._layout = QStackedLayout(self)
        empty = QLabel("Nothing read yet")
        empty.setAlignment(Qt.AlignmentFlag.AlignCenter)
        empty.setStyleSheet(f"color: {theme.QUIET.name()};")
        self._layout.addWidget(empty)

    def show_samples(self, samples: tuple[Sample, ...]) -> None:
        """Draw samples; those that are drawn already cost nothing."""
        if samples == self._samples or not (samples or self._samples):
            return
        self._samples = samples
        self._layout.setCurrentIndex(1 if samples and self._ready() else 0)
        if not samples or not self._ready():
            return
        seconds = np.array([sample.seconds for sample in samples])
        light = np.array([sample.light for sample in samples])
        minutes = seconds / 60.0
        self._light.setData(minutes, light)
        self._warm.setData(minutes, np.array([sample.warm for sample in samples]))
        self._green.setData(minutes, np.array([sample.green for sample in samples]))
        _span(self._upper, light, _LEAST_LIGHT_SPAN * max(float(light.max()), 1e-3))
        casts = np.array([(sample.warm, sample.green) for sample in samples])
        _span(self._lower, casts, _LEAST_CAST_SPAN, above=0.8)
        last = samples[-1]
        self.setAccessibleDescription(f"{last.light:.4g} cd/m², warm {last.warm:+.4f}, green {last.green:+.4f}")

    def _ready(self) -> bool:
        if self._light is None:
            self._build()
        return self._light is not None

    def _build(self) -> None:
        import pyqtgraph as pg

        plots = pg.GraphicsLayoutWidget()
        plots.setBackground(theme.GROUND)
        plots.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._upper = _plot(pg, plots, 0, "cd/m²")
        self._lower = _plot(pg, plots, 1, "u'v'")
        self._lower.setXLink(self._upper)
        self._lower.setLabel("bottom", "minutes", color=theme.QUIET.name())
        legend = self._lower.addLegend(offset=(-8, 1), labelTextColor=theme.TEXT.name(), labelTextSize="11px")
        legend.setColumnCount(2)
        self._light = self._upper.plot(pen=pg.mkPen(theme.BRIGHT, width=1.6))
        self._warm = self._lower.plot(pen=pg.mkPen(theme.BRIGHT, width=1.6), name="warm +, cool −")
        dashes = pg.mkPen(theme.QUIET, width=1.6, style=Qt.PenStyle.DashLine)
        self._green = self._lower.plot(pen=dashes, name="green +, magenta −")
        self._layout.addWidget(plots)


def load_library() -> None:
    """Import what draws curves: a third of a second that Qt's thread should not spend."""
    import pyqtgraph

    pyqtgraph.setConfigOptions(antialias=True)


def _plot(pg: Any, plots: Any, row: int, unit: str) -> Any:
    plot = plots.addPlot(row=row, col=0)
    plot.setMenuEnabled(False)
    plot.setMouseEnabled(x=False, y=False)
    plot.hideButtons()
    plot.setLabel("left", unit, color=theme.QUIET.name())
    plot.showGrid(x=False, y=True, alpha=0.15)
    face = QFont(theme.font(theme.NOTE))
    for side in ("left", "bottom"):
        axis = plot.getAxis(side)
        axis.setPen(pg.mkPen(theme.LINE))
        axis.setTextPen(pg.mkPen(theme.QUIET))
        axis.setStyle(tickFont=face)
        axis.enableAutoSIPrefix(False)
    plot.getAxis("left").setWidth(64)
    return plot


def _span(plot: Any, values: np.ndarray, least: float, above: float = 0.1) -> None:
    """Show all values, and at least a span that noise does not fill; `above`: room for a legend, as a share."""
    low, high = float(values.min()), float(values.max())
    room = max(0.0, least - (high - low)) / 2.0
    span = high - low + 2.0 * room
    plot.setYRange(low - room - 0.1 * span, high + room + above * span, padding=0.0)
