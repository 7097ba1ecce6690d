"""What the table of controls draws: plain values."""

from dataclasses import dataclass


@dataclass(frozen=True)
class ControlRow:
    """A control: what it is, and its settings at two moments in the screen's own words."""

    role: str
    name: str
    role_words: str
    range: str
    factory: str
    reach: str
    copied: str
    before: str
    after: str
    differs: bool


@dataclass(frozen=True)
class ControlsPage:
    """The controls at two moments; `at` is the row that is looked at."""

    first: str
    second: str
    rows: tuple[ControlRow, ...]
    at: int = 0
