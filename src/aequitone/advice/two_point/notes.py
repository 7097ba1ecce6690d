"""A control that was noted wrong: where it really stood, told from all that it has done since.

A person notes where the menu stands, and now and then mistypes. The first turn of such a control goes further, or
less far, than it was asked to; what is learnt of the control then makes every later turn look like a slip.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from aequitone.advice.moves import ControlState, moved
from aequitone.advice.two_point.guards import wrong_note_words
from aequitone.advice.two_point.responses import Responses
from aequitone.advice.two_point.wiring import NAMED, MoveMade, evidence_of

# Of a hundred figures, how many are noted wrong; by how many steps at most it is looked for, and in which strides.
# A figure of the tens is mistaken more often than two are exchanged, so that near places are likelier.
_NOTED_WRONG, _FARTHEST, _STRIDE, _USUAL = 0.01, 45, 3, 12.0
SURE_OF_A_NOTE = float(np.log(20.0))
"""Logarithm of the odds above which a wrong note is believed, against all having gone as noted."""


@dataclass(frozen=True)
class WrongNote:
    """A control, by its column, that stood `off` steps from where it was noted at first."""

    column: int
    off: int
    evidence: float
    """Logarithm of how likely it makes all that was seen."""

    def words(self, noted: Sequence[ControlState]) -> str:
        """What to say of it; `noted`: the controls as they were noted at first."""
        return wrong_note_words(noted[self.column], self.off)

    def corrected(self, turns: Sequence[MoveMade]) -> list[MoveMade]:
        """The turns with the control where it really stood, until it was turned for the first time."""
        told, by = [], np.eye(6)[self.column] * self.off
        untouched = True
        for turn in turns:
            stood = moved(turn.stood, by) if untouched else turn.stood
            first = untouched and bool(turn.steps[self.column])
            told.append(replace(turn, stood=stood, steps=turn.steps - by if first else turn.steps))
            untouched = untouched and not first
        return told


def wrong_note(prior: Responses, turns: Sequence[MoveMade], noted: Sequence[ControlState]) -> WrongNote | None:
    """The control that was most likely noted wrong, if one was; None where none was turned.

    `turns`: all turns so far, as asked; `noted`: the six controls as they were noted at first.
    """
    columns = sorted({int(i) for turn in turns for i in np.flatnonzero(turn.steps)})
    told = [_likeliest(prior, turns, noted[column], column) for column in columns]
    return max((each for each in told if each is not None), key=lambda each: each.evidence, default=None)


def _likeliest(prior: Responses, turns: Sequence[MoveMade], noted: ControlState, column: int) -> WrongNote | None:
    """The likeliest place for one control to have stood at, but for where it was noted."""
    low = max(-_FARTHEST, (noted.lowest - noted.value) // noted.step)
    high = min(_FARTHEST, (noted.highest - noted.value) // noted.step)
    offs = [off for off in range(low, high + 1, _STRIDE) if abs(off) >= _STRIDE]
    if not offs:
        return None
    all_places = float(np.exp(-np.abs(offs) / _USUAL).sum())

    def evidence(off: int) -> float:
        log = evidence_of(NAMED, prior, WrongNote(column, off, 0.0).corrected(turns))
        return log + float(np.log(_NOTED_WRONG / all_places)) - abs(off) / _USUAL

    told = np.array([evidence(off) for off in offs])
    rough = offs[int(told.argmax())]
    near = [off for off in range(rough - _STRIDE + 1, rough + _STRIDE) if off and low <= off <= high]
    # Where it stood is not known to a step: all places together speak for the note.
    return WrongNote(column, max(near, key=evidence), float(np.logaddexp.reduce(told)))
