"""Steps that are carried out whatever a person wishes meanwhile."""

from typing import Any

from aequitone.procedures.policy import ReadPolicy
from aequitone.procedures.steps import (
    Interrupt,
    Procedure,
    Purpose,
    Read,
    Reading,
    Show,
    Step,
    Turn,
)
from aequitone.signal import Patch


def insist(step: Step) -> Procedure[Any]:
    """Ask for a step until it is done: a wish that comes meanwhile has nothing to steer here."""
    while True:
        try:
            return (yield step)
        except Interrupt:
            continue


def nothing() -> Procedure[None]:
    """A procedure that is over before it begins, where one must be named."""
    yield from ()


def insist_on_turning(turn: Turn) -> Procedure[None]:
    """A control that must not stay half way: back where it was, or where a sweep has found it should be."""
    if any(change.by for change in turn.move.changes):
        yield from insist(turn)


def insist_on_reading(patch: Patch, policy: ReadPolicy, purpose: Purpose) -> Procedure[Reading]:
    """Show and read a patch that everything after it needs."""
    yield from insist(Show(patch))
    reading: Reading = yield from insist(Read(patch, policy, purpose))
    return reading
