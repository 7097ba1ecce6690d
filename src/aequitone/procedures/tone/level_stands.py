"""Levels of multi-point that stood elsewhere than noted, as a person said: what was read there is set right."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from aequitone.advice.by_hand.stood import stood_before
from aequitone.advice.moves import Change, Move, stands_as_asked, stood_off
from aequitone.advice.points import Grid, Tracked
from aequitone.advice.points.level import LevelResponses
from aequitone.advice.two_point.guards import Judgement
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.tone.multi_judging import BestLadder
from aequitone.procedures.tone.multi_session import MultiPointSession, change_at


def take_back(session: MultiPointSession, stood: Grid, was: Tracked, move: Move) -> tuple[Grid, Tracked]:
    """Set right what was read while levels stood elsewhere than noted; call it once the move was read.

    The move was noted to go from `stood`, where the ladder was tracked as `was`; what a person said of it is
    believed as far as the light agrees. Returns both as they really were.
    """
    changes = [
        change for level, percent in enumerate(stood.percents) if percent in move.levels
        for change in _elsewhere(session, stood, was, move, level)
    ]  # fmt: skip
    if not changes:
        return stood, was
    real = stood.moved(changes)
    session.offsets = _corrected(session.offsets, stood, real)
    session.ladders = [_ladder_corrected(each, changes) for each in session.ladders]
    session.found, session.best = (
        each and _ladder_corrected(each, changes) for each in (session.found, session.best)
    )
    return real, replace(was, offsets=_corrected(was.offsets, stood, real))


def noted_elsewhere(stood: Grid, slips: Mapping[int, Judgement]) -> Move:
    """The changes that began elsewhere than at `stood`, as the light told it; `slips`: what it told, by level."""
    return Move(
        tuple(
            Change(c.role, c.name, c.value, c.value + int(off + came) * c.step, c.value + int(off) * c.step)
            for level, told in slips.items()
            for c, off, came in zip(
                stood.rows[level], told.off * np.ones(len(told.steps)), told.steps, strict=True
            )
            if off
        )
    )


def noted_wrong(noted: Grid, stood: Grid, slips: Mapping[int, Judgement], mend: Move) -> Move:
    """The changes that a person made as asked, and not as the light told it: they began elsewhere than noted.

    Only of controls that had not been turned since they were noted. `slips`: what the light told, by level, of a
    trip from `stood`; `mend`: what was asked for then, as made.
    """
    changes = []
    for level, told in slips.items():
        row = stood.rows[level]
        as_asked = stands_as_asked(mend, row)
        for control, found, came, right in zip(row, noted.rows[level], told.steps, as_asked, strict=True):
            if right and control.value == found.value:
                to = next(change.to_value for change in mend.changes if change.role == control.role)
                began = to - int(came) * control.step
                changes.append(Change(control.role, control.name, control.value, to, stood=began))
    return Move(tuple(changes))


def _elsewhere(session: MultiPointSession, stood: Grid, was: Tracked, move: Move, level: int) -> list[Change]:
    """From where the controls of a level were noted to where they stood."""
    controls, row = stood.rows[level], session.row(level)
    off = stood_off(move, controls)
    if not off.any():
        return []
    without = session.grid.offsets.copy()
    without[level] = stood.offsets[level]
    change, variance = change_at(session, row, session.planner.now(was, session.effect, without)[row])
    pairs = zip(session.grid.rows[level], controls, strict=True)
    asked = np.array([(to.value - before.value) / before.step for to, before in pairs])
    responses = LevelResponses(session.effect, level, session.grid.light)
    real = stood_before(responses, asked, off, change, variance)
    return [
        Change(c.role, c.name, c.value, c.value + int(n) * c.step) for c, n in zip(controls, real, strict=True)
    ]


def _corrected(offsets: Array, stood: Grid, real: Grid) -> Array:
    """Offsets (L, P, 3) that readings were noted with, where a channel was noted as at `stood`."""
    return np.asarray(np.where(offsets == stood.offsets, real.offsets, offsets))


def _ladder_corrected(ladder: BestLadder, changes: Sequence[Change]) -> BestLadder:
    """A ladder, where it was noted to have been read at what the changes begin with."""
    noted = {control.role: control.value for control in ladder.grid.controls}
    return replace(ladder, grid=ladder.grid.moved(c for c in changes if noted[c.role] == c.from_value))
