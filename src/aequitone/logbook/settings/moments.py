"""The moments of a visit between which settings can be compared, and what differs: pure functions."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from aequitone.advice.roles import Role
from aequitone.logbook.records import ControlRecord
from aequitone.logbook.settings.ledger import FOUND_REASON, SettingRecord, standing
from aequitone.wording import listed

# Controls that are named with both figures, before they are only counted.
_NAMED = 4


@dataclass(frozen=True)
class Moment:
    """How every noted control stood, after one piece of work."""

    name: str
    at: datetime
    settings: dict[Role, int]


def moments(history: Sequence[SettingRecord]) -> tuple[Moment, ...]:
    """As found first, then the end of every piece of work, the last being now.

    What was noted as found later on belongs to the first moment too: it stood so before anything was turned.
    """
    if not history:
        return ()
    found = standing(history, as_found=True)
    first = min(record.at for record in history)
    told = [Moment(FOUND_REASON, first, found)]
    now = dict(found)
    for i, record in enumerate(history):
        if record.reason == FOUND_REASON:
            continue
        now[record.role] = record.value
        later = next((each for each in history[i + 1 :] if each.reason != FOUND_REASON), None)
        if later is None or later.reason != record.reason:
            told.append(Moment(record.reason, record.at, dict(now)))
    return tuple(told)


def differing(first: Moment, second: Moment) -> tuple[Role, ...]:
    """The controls that stand otherwise at two moments, in the order they were noted."""
    return tuple(
        role for role in first.settings if second.settings.get(role, first.settings[role]) != first.settings[role]
    )


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


def strayed(
    controls: Sequence[ControlRecord], left: Mapping[Role, int], found: Mapping[Role, int]
) -> tuple[Strayed, ...]:
    """Controls that were found elsewhere than the visit before had left them."""
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
