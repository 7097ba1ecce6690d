"""The ramp that multi-point makes: how much it bends at a level, and what goes back so that it bends less."""

from dataclasses import replace

import numpy as np

from aequitone.advice.moves import Move, trip_between
from aequitone.advice.points.effect import PointEffect
from aequitone.advice.points.grid import Grid
from aequitone.colorimetry.arrays import Array

BEND = 0.25
"""The most by which the slope of the signal, in any channel, may differ between both sides of a level.

A quarter makes the steps of a 10-bit ramp 1.00 codes on one side and at most 1.25 on the other: none is
skipped, none shows as an edge (a code of grey is about a tenth of ΔE).
"""
JOINED, JOINED_KNOWN = 0.5, 0.2
"""Levels that are joined by less are each a bump of its own; and the spread from which that counts as known."""
# A bump is taken to be half as wide as the way to the next. It is read where its middle may not quite be, and is
# steeper than it seems.
_OFF_CENTRE = 1.3
# What is made smooth is made a little smoother than it has to be, as each further trip is known a little better.
_AIMED = 0.9 * BEND
# Rounding of sums must not forbid what is just allowed.
CLOSE = 1e-6
# Of the search for what goes back so that a ramp is smooth, which takes a few milliseconds. Not a time: a run must
# come out the same when it is gone on with from its record.
_MOST_NODES = 5000


def ways_back(grid: Grid, before: Grid) -> tuple[Move, ...]:
    """A trip for each level, brightest first, to how it stood before; empty ones where it stands so.

    Nobody turns sixty controls from one list: a level at a time, as they were turned.
    """
    pairs = zip(grid.rows, before.rows, strict=True)
    return tuple(replace(trip_between(row, there), undoes=True) for row, there in pairs)


def smoothed(effect: PointEffect, grid: Grid, before: Grid) -> Grid:
    """The grid with as little taken back, or put on, as makes its ramp smooth; whole steps, within the end stops.

    A level can have been turned counting on its neighbours, which then had no room or were not worth a trip; and
    what a step does is better known after it was made. A bend that was there `before` may stay. Where nothing will
    do, all goes back to `before`.
    """
    if is_smooth(effect, grid, before):
        return grid
    rows, offsets = bends(effect, grid), grid.offsets
    aimed = np.maximum(_AIMED, np.abs(rows @ before.offsets))
    lowest, highest = (np.array(limit) for limit in grid.limits)
    # Black has a control of its own, and is not to come up with the darkest level.
    black = np.array(grid.percents) == 0
    lowest[black], highest[black] = offsets[black], offsets[black]
    darkest = int(np.flatnonzero(~black)[-1])
    highest[darkest] = offsets[darkest]
    to = offsets.copy()
    for c in range(offsets.shape[1]):
        cost = effect.signal_steps()
        found = _least_change(rows, offsets[:, c], lowest[:, c], highest[:, c], cost, aimed[:, c])
        if found is None:
            return before
        to[:, c] = found
    return grid.stood_at(to)


def is_smooth(effect: PointEffect, grid: Grid, before: Grid, nearly: float = 1.0) -> bool:
    """Whether no bend is more than `nearly` what it may be, or than it was before."""
    rows = bends(effect, grid)
    allowed = np.maximum(nearly * BEND, np.abs(rows @ before.offsets))
    return bool((np.abs(rows @ grid.offsets) <= allowed + CLOSE).all())


def _least_change(
    rows: Array, stands: Array, lowest: Array, highest: Array, cost: Array, aimed: Array
) -> Array | None:
    """Where a channel's levels (P,) should stand so that no bend is beyond `aimed` (n,); None if there is no such.

    An integer programme: what goes down and what goes up are whole steps of their own.
    """
    # SciPy's optimisers take a third of a second to load: not when the program starts.
    from scipy.optimize import Bounds, LinearConstraint, milp

    down, up = np.floor(stands - lowest + CLOSE), np.floor(highest - stands + CLOSE)
    bent = rows @ stands
    solved = milp(
        np.tile(cost, 2),
        integrality=np.ones(2 * len(stands)),
        bounds=Bounds(0.0, np.maximum(np.concatenate([down, up]), 0.0)),
        constraints=LinearConstraint(np.hstack([-rows, rows]), -aimed - bent, aimed - bent),
        options={"node_limit": _MOST_NODES},
    )
    if solved.x is None:
        return None
    fewer, more = np.rint(solved.x).reshape(2, -1)
    return np.asarray(stands - fewer + more)


def smoothing(effect: PointEffect, grid: Grid, before: Grid) -> tuple[int, Move] | None:
    """The first level that must move so that the ramp bends less, and its move; None where it is smooth."""
    to = smoothed(effect, grid, before)
    for level, (row, there) in enumerate(zip(grid.rows, to.rows, strict=True)):
        move = trip_between(row, there)
        if move.changes:
            return level, replace(move, undoes=True)
    return None


def bends(effect: PointEffect, grid: Grid) -> Array:
    """Rows (n, P) that give, from a channel's offsets, each change of slope along the ramp (see BEND)."""
    v, step = grid.signal, effect.signal_steps()
    rows = []
    for i in range(len(v)):
        row = np.zeros(len(v))
        if effect.joined < JOINED:
            half = min(abs(v[i] - v[j]) for j in (i - 1, i + 1) if 0 <= j < len(v)) / 2.0
            # Up and down again; of a bump at the very top only the way up is there.
            row[i] = (1.0 if v[i] >= 1.0 else 2.0) * _OFF_CENTRE * step[i] / half
        else:
            for j in (i - 1, i + 1):
                if 0 <= j < len(v):
                    row[j] += step[j] / abs(v[j] - v[i])
                    row[i] -= step[i] / abs(v[j] - v[i])
            if i == 0:
                # Nothing lies above the brightest level.
                continue
        rows.append(row)
    return np.array(rows)


def most_bent(effect: PointEffect, grid: Grid) -> float:
    """The largest change of slope in any channel, as the controls stand."""
    return float(np.abs(bends(effect, grid) @ grid.offsets).max())
