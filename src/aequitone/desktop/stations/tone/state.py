"""What the picture of Tone draws: plain values."""

from dataclasses import dataclass

from aequitone.colorimetry import Formula
from aequitone.desktop.widgets.chart_state import LineState
from aequitone.reference import Verdict


@dataclass(frozen=True)
class TonePoint:
    """A level on the picture of Tone: how far its light is off, in %."""

    percent: float
    light: float
    sd: float
    verdict: Verdict | None
    """None where no judgement by ΔE is given: near black."""
    delta: float = 0.0
    """ΔE by the page's formula."""
    here: bool = False


@dataclass(frozen=True)
class TonePage:
    """The picture of Tone: light against the target above, the corrections of the ramp below."""

    points: tuple[TonePoint, ...]
    ghosts: tuple[TonePoint, ...] = ()
    band: tuple[tuple[float, float, float], ...] = ()
    """Level, then how far light may be below and above the target before it is visible, in %."""
    corrections: tuple[LineState, ...] = ()
    """For each channel its settings over the levels, in steps from the middle."""
    presets: tuple[LineState, ...] = ()
    """What the screen's gamma presets gave, as light in % off the target."""
    subtitle: str = ""
    figures: tuple[tuple[str, str], ...] = ()
    """Figures of the whole, each with its name."""
    formula: str = Formula.DE2000.value
