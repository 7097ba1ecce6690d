"""What Report draws: plain values."""

from dataclasses import dataclass, field

from aequitone.logbook.letterheads import Letterhead


@dataclass(frozen=True)
class ReportDraft:
    """The letterhead and the notes as typed."""

    head: Letterhead = field(default_factory=Letterhead)
    notes: str = ""


@dataclass(frozen=True, eq=False)
class PageImage:
    """A page of the report as pixels."""

    number: int
    count: int
    width: int
    height: int
    rgb: bytes

    @property
    def words(self) -> str:
        """Which page it is."""
        return f"Page {self.number} of {self.count}"


@dataclass(frozen=True)
class ReportPage:
    """The form, the page in view, and what is said where there is none."""

    revision: int = 0
    """Counts how often the form was filled anew, not by typing."""
    draft: ReportDraft = field(default_factory=ReportDraft)
    image: PageImage | None = None
    instead: str = ""
