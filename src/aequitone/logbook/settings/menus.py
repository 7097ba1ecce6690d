"""Controls of a screen's menu, as a scenario or the screen itself describes them, as the logbook keeps them."""

from typing import Protocol

from aequitone.advice.roles import in_ledger, is_role, role_of
from aequitone.logbook.records import ControlRecord


class DescribedControl(Protocol):
    """A control as it is described."""

    @property
    def role(self) -> str: ...
    @property
    def name(self) -> str: ...
    @property
    def lowest(self) -> int: ...
    @property
    def highest(self) -> int: ...
    @property
    def step(self) -> int: ...
    @property
    def factory(self) -> int: ...
    @property
    def choices(self) -> tuple[str, ...]: ...


def is_noted(control: DescribedControl) -> bool:
    """Whether the ledger has a line for it."""
    return is_role(control.role) and in_ledger(role_of(control.role))


def control_of(control: DescribedControl) -> ControlRecord:
    """The control as the logbook keeps it."""
    return ControlRecord(
        0,
        role_of(control.role),
        control.name,
        control.lowest,
        control.highest,
        control.step,
        control.factory,
        control.choices,
    )
