"""What Inputs draws: plain values."""

from dataclasses import dataclass


@dataclass(frozen=True)
class SheetRow:
    """One control on the sheet of a memory."""

    name: str
    setting: str
    how: str
    done: bool | None
    """Whether it was entered or looked at; None where nothing has to be done."""


@dataclass(frozen=True)
class InputsPage:
    """The sheet of one memory; `at`: the row that the arrows are at."""

    title: str = ""
    looked: str = ""
    """What the last look at it said."""
    rows: tuple[SheetRow, ...] = ()
    at: int = 0
    others: tuple[tuple[str, str, bool], ...] = ()
    """Every memory on the list: its name, how far it is, and whether it is this one."""
