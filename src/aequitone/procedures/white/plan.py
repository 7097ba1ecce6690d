"""What White is to do: the two levels, what is wanted there, and the controls as they stand."""

from dataclasses import dataclass

from aequitone.advice.moves import ControlState
from aequitone.advice.roles import TWO_POINT
from aequitone.advice.technology import Technology
from aequitone.colorimetry import Formula
from aequitone.reference import Target
from aequitone.signal import SignalFormat


@dataclass(frozen=True)
class LightStep:
    """The control of light as it stands, what is wanted of white in cd/m², and what Levels has read of it."""

    control: ControlState
    wanted: float
    shape: tuple[tuple[int, float], ...] = ()
    """Setting and light; only its shape is used."""


@dataclass(frozen=True)
class WhitePlan:
    """The two levels, what is wanted there, and the six controls as they stand."""

    target: Target
    format: SignalFormat
    controls: tuple[ControlState, ...]
    white: float
    """Luminance of 100 %, cd/m², from the pass before."""
    black: float
    """Luminance of 0 %, cd/m²."""
    bright: float = 80.0
    dark: float = 30.0
    stop_at: float = 0.5
    looks: int = 3
    """Looks at one setting, averaged, before the meter is said to tell no more. A person who types
    readings would type the same again: 1 for a meter by hand."""
    technology: Technology = Technology.UNKNOWN
    """Of the screen: what its controls are expected to do before the first move."""
    by_hand: bool = False
    """Whether a person turns the controls, and may turn another one or the other way."""
    formula: Formula = Formula.DE2000
    """Of the ΔE to stop at."""
    watched: tuple[float, float] | None = None
    """A level in the shadows, in %, and its ΔE 2000 as found: it is not to pay for the others. None: not read."""

    light: LightStep | None = None
    """What light output is to be set to in the end; None where it is not noted, or was not set by Levels."""

    def __post_init__(self) -> None:
        roles = tuple(control.role for control in self.controls)
        if roles != TWO_POINT:
            raise ValueError(
                f"white balance needs the controls {', '.join(role.key for role in TWO_POINT)}, in this order"
            )
        if not 0.0 < self.dark < self.bright <= 100.0:
            raise ValueError(f"the dark level {self.dark:g} % must lie below the bright one, {self.bright:g} %")
