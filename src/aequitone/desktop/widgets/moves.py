"""The moves of White and of Tone, one by one: what was expected of each, and what came. No Qt."""

from functools import lru_cache

from aequitone.advice.moves import Move
from aequitone.desktop.states import MoveRow, Station
from aequitone.passes import Snapshot, tone_state, white_state
from aequitone.procedures.multi_plan import PointTrip
from aequitone.procedures.tone import ToneState
from aequitone.procedures.white_session import Trip, WhiteState

HEADS = ("No.", "Move", "ΔE before", "Expected", "±", "Came out", "±", "Said of it")


def moves(
    facts: Snapshot, here: Station, white: WhiteState | None, tone: ToneState | None
) -> tuple[MoveRow, ...] | None:
    """The moves of a station, oldest first; None where it has none. `white` and `tone`: of a pass that runs."""
    if here is Station.WHITE:
        state = white or white_state(facts)
        return _of_white(state.trips if state else ())
    if here is Station.TONE:
        told = tone or tone_state(facts)
        ladder = told.ladder if told else None
        return _of_tone(ladder.trips if ladder else ())
    return None


# While a pass runs the window is drawn thirty times a second, and a trip is made every minute.
@lru_cache(maxsize=2)
def _of_white(trips: tuple[Trip, ...]) -> tuple[MoveRow, ...]:
    return tuple(
        _row(i, trip.move, trip.worst_before, trip.worst_after, trip.worst_sd, trip.surprise)
        for i, trip in enumerate(trips, 1)
    )


@lru_cache(maxsize=2)
def _of_tone(trips: tuple[PointTrip, ...]) -> tuple[MoveRow, ...]:
    return tuple(
        _row(i, trip.move, trip.before, trip.after, trip.sd, trip.slip) for i, trip in enumerate(trips, 1)
    )


def _row(number: int, move: Move, before: float, after: float, sd: float, said: str) -> MoveRow:
    expected = move.expected
    return MoveRow(
        str(number),
        f"{'put back: ' if move.undoes else ''}{move.words}",
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


def as_text(rows: tuple[MoveRow, ...]) -> str:
    """The moves as tab-separated text."""
    return "\n".join("\t".join(cells) for cells in (HEADS, *(cells_of(row) for row in rows))) + "\n"
