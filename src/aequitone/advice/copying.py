"""What it takes to have a memory on another input as the finished one: control by control, in the menu's order."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Protocol

from aequitone.advice.roles import Role, is_one_of_many
from aequitone.advice.scopes import Copied, Reach, Scope, Signals

# What chooses the memory itself, or switches the screen.
_NOT_COPIED = (Role.PICTURE_MODE, Role.POWER)


class Carried(StrEnum):
    """How a setting comes to the other memory."""

    HOLDS = "holds already"
    """It acts on the input or on the whole screen."""
    APPLIED = "copied, look"
    """The screen's own copying takes it along: to be looked at."""
    BY_HAND = "by hand"
    LOOK = "look, enter if other"
    """Not known whether the screen's own copying takes it along: to be looked at, and entered if it differs."""


class CopiedControl(Protocol):
    """A control of the screen's menu."""

    @property
    def role(self) -> Role: ...
    @property
    def name(self) -> str: ...
    @property
    def factory(self) -> int | None: ...
    @property
    def scope(self) -> Scope: ...
    def shown(self, value: int | None) -> str: ...


@dataclass(frozen=True)
class CopyLine:
    """One control on the sheet."""

    role: Role
    name: str
    setting: str
    """In the screen's own words."""
    carried: Carried


def copy_lines(
    controls: Sequence[CopiedControl],
    settings: Mapping[Role, int],
    *,
    same_input: bool,
    hdr: bool,
    applied: bool,
) -> tuple[CopyLine, ...]:
    """The sheet for another memory, in the order of the menu.

    `settings`: of the finished one; `same_input`: whether the other is on the same input; `hdr`: whether both are
    of HDR; `applied`: whether the screen's own "apply to all" was used. Of multi-point and colour management only
    what was set is on it.
    """
    return tuple(
        CopyLine(
            control.role,
            control.name,
            control.shown(settings[control.role]),
            _carried(control.scope, same_input=same_input, applied=applied),
        )
        for control in controls
        if control.role in settings and _is_copied(control, settings[control.role], hdr=hdr)
    )


def to_do(lines: Sequence[CopyLine]) -> tuple[CopyLine, ...]:
    """The lines that a person has to enter or to look at."""
    return tuple(line for line in lines if line.carried is not Carried.HOLDS)


def _is_copied(control: CopiedControl, setting: int, *, hdr: bool) -> bool:
    if control.role in _NOT_COPIED:
        return False
    if control.scope.signals is (Signals.SDR if hdr else Signals.HDR):
        return False
    return not is_one_of_many(control.role) or setting != (control.factory or 0)


def _carried(scope: Scope, *, same_input: bool, applied: bool) -> Carried:
    if scope.reach is Reach.SCREEN or (scope.reach is Reach.INPUT and same_input):
        return Carried.HOLDS
    if not applied or scope.copied is Copied.NO:
        return Carried.BY_HAND
    return Carried.APPLIED if scope.copied is Copied.YES else Carried.LOOK
