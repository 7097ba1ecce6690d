"""What the picture of Levels draws: plain values."""

from dataclasses import dataclass

from aequitone.desktop.widgets.chart_state import LineState


@dataclass(frozen=True)
class LevelRow:
    """A control of levels: where it was found, where it stands, and what a sweep said."""

    role: str
    name: str
    lowest: int
    highest: int
    found: int
    now: int
    exact: float | None = None
    sd: float = 0.0
    note: str = ""
    here: bool = False


@dataclass(frozen=True)
class LevelsPage:
    """The picture of Levels: the controls above, the curve of one below."""

    rows: tuple[LevelRow, ...]
    title: str = ""
    lines: tuple[LineState, ...] = ()
    at: float | None = None
    """The recommended place, between two settings as often as not."""
    at_sd: float = 0.0
    setting: int | None = None
    across: str = ""
    figures: tuple[tuple[str, str], ...] = ()
    """Figures of the whole, such as contrast, each with its name."""
