"""The moves of White, of Tone and of Colour, one by one: what was expected of each, and what came. No Qt."""

from dataclasses import dataclass
from functools import lru_cache

from aequitone.advice.moves import Move
from aequitone.procedures.colour.manage_plan import ColourTrip
from aequitone.procedures.tone.multi_plan import PointTrip
from aequitone.procedures.white.session import Trip


@dataclass(frozen=True)
class MoveRow:
    """A move that was made: what was expected of it, and what came, all in words."""

    number: str
    move: str
    before: str
    expected: str
    expected_sd: str
    after: str
    after_sd: str
    said: str


HEADS = ("No.", "Move", "ΔE before", "Expected", "±", "Measured", "±", "Remark")


@dataclass(frozen=True)
class MovesPage:
    """The moves so far, oldest first."""

    rows: tuple[MoveRow, ...]


# While a pass runs the window is drawn thirty times a second, and a trip is made every minute.
@lru_cache(maxsize=2)
def two_point_moves(trips: tuple[Trip, ...]) -> tuple[MoveRow, ...]:
    """The moves of White."""
    return tuple(
        _row(i, trip.move, trip.worst_before, trip.worst_after, trip.worst_sd, trip.surprise)
        for i, trip in enumerate(trips, 1)
    )


@lru_cache(maxsize=2)
def multi_point_moves(trips: tuple[PointTrip, ...]) -> tuple[MoveRow, ...]:
    """The moves of Tone."""
    return tuple(
        _row(i, trip.move, trip.before, trip.after, trip.sd, trip.slip) for i, trip in enumerate(trips, 1)
    )


@lru_cache(maxsize=2)
def colour_moves(trips: tuple[ColourTrip, ...]) -> tuple[MoveRow, ...]:
    """The moves of a colour management."""
    return tuple(
        _row(i, trip.move, trip.before, trip.after, trip.sd, trip.surprise) for i, trip in enumerate(trips, 1)
    )


def _row(number: int, move: Move, before: float, after: float, sd: float, said: str) -> MoveRow:
    expected = move.expected
    return MoveRow(
        str(number),
        f"{'put back: ' if move.undoes else ''}{move.summary}",
        f"{before:.2f}",
        f"{expected.de2000_after:.2f}" if expected else "",
        f"{expected.de2000_sd:.2f}" if expected else "",
        f"{after:.2f}",
        f"{sd:.2f}",
        said,
    )


def cells_of(row: MoveRow) -> tuple[str, ...]:
    """A row's words, by column."""
    return (row.number, row.move, row.before, row.expected, row.expected_sd, row.after, row.after_sd, row.said)


def moves_text(page: MovesPage) -> str:
    """The moves as tab-separated text."""
    return "\n".join("\t".join(cells) for cells in (HEADS, *(cells_of(row) for row in page.rows))) + "\n"
