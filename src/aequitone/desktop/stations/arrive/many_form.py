"""Controls that are many and alike, noted at Arrive in one line: what those of each kind have in common. No Qt."""

from collections.abc import Mapping, Sequence
from typing import Protocol

from aequitone.advice.roles import Role, role_of
from aequitone.logbook import ControlRecord


class ManyDraft(Protocol):
    """A line as typed."""

    @property
    def lowest(self) -> str: ...

    @property
    def highest(self) -> str: ...

    @property
    def found(self) -> str:
        """Where all stand as found."""
        ...

    @property
    def told(self) -> tuple[tuple[str, int], ...]:
        """By role, what a link told instead."""
        ...

    @property
    def known(self) -> tuple[ControlRecord, ...]:
        """As the logbook has them already: their names are kept."""
        ...


def found_of(
    controls: Sequence[ControlRecord], found: Mapping[Role, int]
) -> tuple[str, tuple[tuple[str, int], ...]]:
    """What a line says of settings as found, and by role where they are not all the same."""
    noted = {control.role.key: found[control.role] for control in controls if control.role in found}
    if len(set(noted.values())) == 1:
        return str(next(iter(noted.values()))), ()
    return "as noted" if noted else "", tuple(noted.items())


def checked_many(
    draft: ManyDraft, named: Sequence[tuple[Role, str]], what: str
) -> tuple[list[ControlRecord], dict[Role, int]]:
    """The controls of a line, by role and usual name, and their settings as found.

    ValueError with a sentence where something cannot be.
    """
    lowest, highest = whole(draft.lowest, f"{what}: lowest"), whole(draft.highest, f"{what}: highest")
    if lowest >= highest:
        raise ValueError(f"{what}: lowest, {lowest}, must be below highest, {highest}")
    names = {control.role: control.name for control in draft.known}
    factory = 0 if lowest <= 0 <= highest else (lowest + highest) // 2
    controls = [ControlRecord(0, role, names.get(role, name), lowest, highest, 1, factory) for role, name in named]
    told = {role_of(role): value for role, value in draft.told}
    if told or not draft.found.strip():
        return controls, {control.role: told[control.role] for control in controls if control.role in told}
    value = whole(draft.found, f"{what}: setting as found")
    objection = controls[0].objection(value)
    if objection:
        raise ValueError(f"{what}: {objection}")
    return controls, {control.role: value for control in controls}


def whole(text: str, what: str) -> int:
    """A whole number as typed; ValueError says which words are none."""
    try:
        return int(text.strip())
    except ValueError:
        raise ValueError(f"{what} is “{text.strip()}”, which is not a whole number") from None
