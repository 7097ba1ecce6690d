"""The moments of a visit between which settings can be compared, and what differs: pure functions."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from aequitone.advice.roles import Role
from aequitone.logbook.ledger import FOUND_REASON, SettingRecord, standing


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
