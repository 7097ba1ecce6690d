"""What the form of Arrive draws: plain values."""

from dataclasses import dataclass

from aequitone.desktop.stations.arrive.form import Draft


@dataclass(frozen=True)
class ArrivePage:
    """The form; it is filled anew only with another `revision`, as a person is typing in it."""

    revision: int
    draft: Draft
    begun: bool
    """Whether the visit has begun: who and where stay."""
    found_open: bool
    """Whether "as found" may still be noted."""
    names: tuple[tuple[str, tuple[str, ...]], ...] = ()
    """Names that the logbook knows, by field."""
    refused: int = 0
    """How often the form was not complete when it was to be saved."""
