"""What a procedure makes of its record, without any device."""

from collections.abc import Mapping
from typing import TypeVar

from aequitone.procedures.journal import JournalMismatchError, Recorded, Wished, checked
from aequitone.procedures.steps import INTERRUPTS, Procedure, Progress, Read, Turn

T = TypeVar("T")


def replay(procedure: Procedure[T], record: Mapping[int, Recorded]) -> tuple[T | None, object]:
    """The procedure's value, or None where the record ends before it; and its last Progress value.

    Raises JournalMismatchError where the record belongs to another plan, or goes on where the procedure ends.
    """
    last_progress: object = None
    seq = 0
    try:
        step = next(procedure)
        while True:
            result = record.get(seq)
            if isinstance(step, Progress) and step.value is not None:
                last_progress = step.value
            if result is None and isinstance(step, Read | Turn):
                return None, last_progress
            if isinstance(result, Wished):
                step = procedure.throw(INTERRUPTS[result.kind]())
            else:
                step = procedure.send(checked(seq, step, result))
            seq += 1
    except StopIteration as end:
        if any(later > seq for later in record):
            raise JournalMismatchError(f"the record goes on after step {seq}, where the procedure ends") from None
        return end.value, last_progress
    finally:
        procedure.close()
