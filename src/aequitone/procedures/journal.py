"""What the runner writes down, step by step, and reads back after a crash.

A procedure is deterministic given its results, so going on from the last reading is running it again
from the start with the recorded results, and the devices again from where the record ends.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Protocol

from aequitone.advice.moves import Move
from aequitone.advice.roles import Role
from aequitone.errors import AequitoneError
from aequitone.procedures.steps import Read, Reading, Step, Turn


@dataclass(frozen=True)
class Turned:
    """A trip that was made."""

    move: Move


@dataclass(frozen=True)
class Wished:
    """An interrupt that was thrown into the procedure, by its class's name."""

    kind: str


Recorded = Reading | Turned | Wished


class JournalMismatchError(AequitoneError):
    """The record does not fit the procedure: it was made by another plan or another version."""


def checked(seq: int, step: Step, result: Recorded | None) -> Reading | Move | None:
    """What a recorded step gives the procedure. Raises JournalMismatchError where the record has another step."""
    match step, result:
        case Read(), Reading() if (result.patch.codes, result.patch.shape) == (
            step.patch.codes,
            step.patch.shape,
        ):
            return result
        case Turn(), Turned() if _is_that(step, result.move):
            return result.move
        case ((Read() | Turn()), _):
            raise JournalMismatchError(f"the record has something else at step {seq}, {step}")
        case _, None:
            return None
    raise JournalMismatchError(f"the record has a result at step {seq}, which needs none")


def _is_that(step: Turn, made: Move) -> bool:
    """Whether a move is the one that a step asks for, but for what a person said of it or may leave elsewhere."""
    return len(made.changes) == len(step.move.changes) and all(
        does == replace(asked, stood=does.stood)
        or (asked.role in step.freely and does == replace(asked, to_value=does.to_value, stood=does.stood))
        or (step.heeds and asked.role == does.role and not does.by)
        for does, asked in zip(made.changes, step.move.changes, strict=True)
    )


class Journal(Protocol):
    """The record of one pass. Each call returns when it is on disk."""

    def recorded(self) -> dict[int, Recorded]:
        """Results by step number, from earlier runs of this pass."""
        ...

    def reading(self, seq: int, reading: Reading) -> None: ...

    def turned(self, seq: int, move: Move) -> None: ...

    def stands(self, at: Mapping[Role, int]) -> None:
        """Controls stand elsewhere than the record had them, as a person says in the middle of a move."""
        ...

    def wished(self, seq: int, kind: str) -> None: ...

    def note(self, seq: int, text: str) -> None: ...


class MemoryJournal:
    """A journal that lasts as long as the process: for tests, and where nothing is to be kept."""

    def __init__(self) -> None:
        self.results: dict[int, Recorded] = {}
        self.notes: dict[int, str] = {}
        self.stood: list[dict[Role, int]] = []

    def recorded(self) -> dict[int, Recorded]:
        return dict(self.results)

    def reading(self, seq: int, reading: Reading) -> None:
        self.results[seq] = reading

    def turned(self, seq: int, move: Move) -> None:
        self.results[seq] = Turned(move)

    def stands(self, at: Mapping[Role, int]) -> None:
        self.stood.append(dict(at))

    def wished(self, seq: int, kind: str) -> None:
        self.results[seq] = Wished(kind)

    def note(self, seq: int, text: str) -> None:
        self.notes[seq] = text
