"""What stands elsewhere than the last visit left it: somebody turned it, or the screen lost it."""

from collections.abc import Sequence
from dataclasses import dataclass

from aequitone.logbook.store import Logbook
from aequitone.wording import listed

# Controls that are named with both figures, before they are only counted.
_NAMED = 4


@dataclass(frozen=True)
class Strayed:
    """A control, where the last visit left it, and where it was found: as the menu shows them."""

    name: str
    left: str
    found: str

    @property
    def words(self) -> str:
        """It in words: "R gain left at 30, found at 36"."""
        return f"{self.name} left at {self.left}, found at {self.found}"


def strayed(logbook: Logbook, visit_id: int) -> tuple[Strayed, ...]:
    """Controls of the present job's memory that were found elsewhere than the visit before left them there."""
    left = logbook.ledger.left_before(visit_id)
    if not left:
        return ()
    found = logbook.ledger.at(visit_id, as_found=True)
    controls = logbook.controls(logbook.visit(visit_id).screen_id)
    return tuple(
        Strayed(control.name, control.shown(left[control.role]), control.shown(found[control.role]))
        for control in controls
        if control.role in left and control.role in found and left[control.role] != found[control.role]
    )


def strayed_words(told: Sequence[Strayed]) -> str:
    """What stands elsewhere than it was left, as a sentence; "" where nothing does."""
    if not told:
        return ""
    return f"Since the last visit: {listed([each.words for each in told], _NAMED)}."
