"""What a sweep has come to."""

from dataclasses import dataclass

from aequitone.advice.levels import Finding, Position
from aequitone.advice.moves import ControlState


@dataclass(frozen=True)
class Swept:
    """A sweep so far, or as it ended."""

    control: ControlState
    """As it stands now."""
    found_at: int
    positions: tuple[Position, ...]
    finding: Finding | None = None
    kept: bool = False
    """The person had it put back where it was."""
    along: bool = False
    """It was turned along with contrast since: its readings are of another contrast."""
    doubt: str = ""
    """Why the newest position is not believed, while it is turned to once more."""

    @property
    def readings(self) -> int:
        return sum(len(position.xyz) for position in self.positions)
