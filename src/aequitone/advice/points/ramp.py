"""The ramp that multi-point makes: how much it bends at a level, and what goes back so that it bends less."""

from dataclasses import replace
from itertools import product

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
# Where levels are joined by less than this, each is a bump of its own, half as wide as the way to the next.
# It is read where its middle may not quite be, and is steeper than it seems.
_BUMP, _OFF_CENTRE = 0.5, 1.3
# Rounding of sums must not forbid what is just allowed.
CLOSE = 1e-6
# How far a level goes back to where it was so that the ramp is smooth again: no further than it has to.
_WAY_BACK = (0.25, 0.5, 0.75, 1.0)


def ways_back(grid: Grid, before: Grid) -> tuple[Move, ...]:
    """A trip for each level, brightest first, to how it stood before; empty ones where it stands so.

    Nobody turns sixty controls from one list: a level at a time, as they were turned.
    """
    pairs = zip(grid.rows, before.rows, strict=True)
    return tuple(replace(trip_between(row, there), undoes=True) for row, there in pairs)


def smoothing(effect: PointEffect, grid: Grid, before: Grid) -> tuple[int, Move] | None:
    """The level that goes back to how it stood `before` so that the ramp bends less; None where it is smooth.

    A level can have been turned counting on its neighbours, which then had no room or were not worth a trip.
    """
    now = _too_bent(effect, grid)
    if now <= CLOSE:
        return None
    ways: list[tuple[float, int, Move]] = []
    for level, share in product(range(len(grid.percents)), _WAY_BACK):
        changes = grid.changes(level, np.rint(share * (before.offsets - grid.offsets)[level]))
        if changes:
            ways.append((_too_bent(effect, grid.moved(changes)), level, Move(changes, None, undoes=True)))
    left, level, move = min(ways, key=lambda way: round(way[0], 6), default=(now, 0, None))
    if move is not None and left < now - CLOSE:
        return level, move
    # No level by itself: those that lean on each other go back in turn, the one that went furthest first.
    furthest = np.abs(before.offsets - grid.offsets).max(axis=1)
    level = int(furthest.argmax())
    if furthest[level] == 0.0:
        return None
    changes = grid.changes(level, _half(before.offsets[level] - grid.offsets[level]))
    return level, Move(changes, None, undoes=True)


def bends(effect: PointEffect, grid: Grid) -> Array:
    """Rows (n, P) that give, from a channel's offsets, each change of slope along the ramp (see BEND)."""
    v, step = grid.signal, effect.signal_steps()
    rows = []
    for i in range(len(v)):
        row = np.zeros(len(v))
        if effect.joined < _BUMP:
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


def _half(steps: Array) -> Array:
    """Halve steps, rounding away from zero."""
    return np.asarray(np.sign(steps) * np.ceil(np.abs(steps) / 2.0))


def _too_bent(effect: PointEffect, grid: Grid) -> float:
    """By how much the slope changes beyond what it may, over all levels and channels."""
    return float(np.maximum(np.abs(bends(effect, grid) @ grid.offsets) - BEND, 0.0).sum())


def most_bent(effect: PointEffect, grid: Grid) -> float:
    """The largest change of slope in any channel, as the controls stand."""
    return float(np.abs(bends(effect, grid) @ grid.offsets).max())
