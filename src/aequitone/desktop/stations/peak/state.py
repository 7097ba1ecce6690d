"""What the picture of Peak draws: plain values."""

from dataclasses import dataclass

from aequitone.desktop.widgets.axis import Axis


@dataclass(frozen=True)
class PeakPage:
    """Light against what is sent above, white by window and the light that it holds below."""

    greys: tuple[tuple[float, float, float], ...] = ()
    """Signal in %, light as PQ counts it (0 to 1), and its light in cd/m²."""
    up: Axis | None = None
    """Light as PQ counts it, with ticks in cd/m²."""
    knee: float | None = None
    """Signal in %."""
    knee_sd: float = 0.0
    knee_words: str = ""
    peak: float | None = None
    """As PQ counts it."""
    peak_words: str = ""
    windows: tuple[tuple[str, float], ...] = ()
    """Window, and white's light in it, cd/m²."""
    advised: int | None = None
    """Which of them to measure in."""
    held: tuple[tuple[float, float], ...] = ()
    """Seconds that white stood, and its light in % of the first."""
    figures: tuple[tuple[str, str], ...] = ()
    """Figures to enter, each with its name."""
