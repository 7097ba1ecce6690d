"""Multi-point in sentences."""

from collections.abc import Sequence

import numpy as np

from aequitone.advice.moves import Move
from aequitone.advice.points.effect import PointEffect
from aequitone.advice.points.goal import Tracked
from aequitone.advice.points.grid import Grid
from aequitone.advice.points.planner import PointPlanner
from aequitone.advice.points.ramp import BEND, JOINED, JOINED_KNOWN, most_bent
from aequitone.colorimetry import cast_of, cast_word
from aequitone.figures import signed

# A control whose doubt is below this share of its effect has been learnt.
_LEARNT = 0.12


def promise_words(now: float, again: float, after: float, levels: int, trips: int, minutes: float) -> str:
    """Whether it is worth it, once the ladder was read.

    Average ΔE: `now` with what the meter's noise adds taken out; `again` and `after` as readings show it, before
    and after the levels are turned. `levels` to turn, 0 where that is worth no trip; `trips` and `minutes` that it
    usually takes.
    """
    if levels == 0:
        return (
            f"The ladder is at ΔE {now:.2f} on average, and no turn of a level promises enough to be worth a trip."
        )
    return (
        f"The ladder reads ΔE {again:.2f} on average, {now:.2f} without the meter's noise. Turning {levels} "
        f"level{'s' if levels != 1 else ''} should bring the reading to about {after:.2f}, in about {trips} "
        f"trip{'s' if trips != 1 else ''} and {max(1, round(minutes))} min."
    )


def undone_words(white: float) -> str:
    """The white point is not where White left it."""
    return (
        f"White is off by ΔE {white:.1f} at 100 %, which is White's work: go back there before a level is turned. "
        "Has the picture mode, or a gain, been changed since?"
    )


def noise_words(mean: float) -> str:
    """The ladder is right as far as the meter can tell."""
    return f"The ladder reads ΔE {mean:.2f} on average, most of it the meter's noise: it is better left alone."


def displaced_words(percents: Sequence[int], scale: float) -> str:
    """What to say of levels (in %) that act elsewhere."""
    inside = [percent for percent in percents if percent <= 100.0 * scale] or list(percents)
    named = min(inside, key=lambda percent: abs(percent - 50))
    return (
        f"Multi-point does not act at its names here: {named} % is felt at about {named / scale:.0f} %. Something "
        "before it changes the signal, such as a contrast far from its usual place. So the levels go back to how "
        "they were found."
    )


def ended_words(
    before: float,
    after: float,
    sd: float,
    worst: tuple[float, float],
    moves: int,
    ramp: str,
) -> str:
    """How it ended; `sd`: of `after`; `worst`: a level in %, and its ΔE; `ramp`: what `ramp_words` says."""
    if not moves:
        return f"No level was turned: ΔE {after:.2f} ± {sd:.2f} on average, and none is worth a trip to the menu."
    return (
        f"ΔE {before:.2f} → {after:.2f} ± {sd:.2f} on average, at worst {worst[1]:.2f} at "
        f"{worst[0]:g} %, with {moves} trip{'s' if moves != 1 else ''} to the menu. {ramp}"
    )


def ramp_words(effect: PointEffect, grid: Grid) -> str:
    """Whether a ramp stays smooth, as far as that can be known from single levels."""
    bend = most_bent(effect, grid)
    slope = f"slope changes by {bend * 100.0:.0f} % at most (limit {BEND * 100.0:.0f} %)"
    if effect.joined < JOINED:
        return "Each level acts by itself here, and how wide is not known: look at a ramp."
    if effect.joined_sd > JOINED_KNOWN:
        return f"Look at a ramp: whether the screen joins its levels was not seen. If so, its {slope}."
    return f"{'Ramps stay smooth: their' if bend <= BEND else 'Look at a ramp: its'} {slope}."


def why_words(
    planner: PointPlanner, tracked: Tracked, effect: PointEffect, grid: Grid, level: int, move: Move
) -> str:
    """Why that level, and that far."""
    row = tracked.row(grid.percents[level])
    now = planner.now(tracked, effect, grid.offsets)
    wanted = planner.target.grey(tracked.percents[row], float(now[0, 1]), tracked.black)
    cast, light = cast_of(now[row], planner.target.white.xyz()), float(now[row, 1] / wanted[1] - 1.0) * 100.0
    seen = f"Seen: {grid.percents[level]} % {cast_word(cast.warm, cast.green)}"
    # All others are relative to 100 %: it has no light of its own to be wrong.
    seen += f", light {signed(light)} %." if row else "."
    step = effect.own[level]
    sure = float(np.sqrt(effect.covariance[level, level])) < _LEARNT * step
    known = "as learnt here" if sure else "as is usual; this screen is not known yet"
    bent = most_bent(effect, grid.moved(move.changes))
    return (
        f"{seen} A step changes its light by {step * 100.0:.1f} %, {known}. The ramp then bends by "
        f"{bent * 100.0:.0f} % at most (limit {BEND * 100.0:.0f} %)."
    )


def why_together_words(effect: PointEffect, grid: Grid, move: Move) -> str:
    """Why all of these levels, and that far."""
    levels = sorted({change.role.level for change in move.changes if change.role.level is not None}, reverse=True)
    steps = np.abs(grid.moved(move.changes).offsets - grid.offsets).max(axis=1)
    furthest = int(steps.argmax())
    sure = float(np.sqrt(effect.covariance[furthest, furthest])) < _LEARNT * effect.own[furthest]
    known = "as learnt here" if sure else "as is usual; this screen is not known yet"
    where = f"{levels[0]} %" if len(levels) == 1 else f"{levels[0]} to {levels[-1]} %"
    bent = most_bent(effect, grid.moved(move.changes))
    return (
        f"{where}, furthest at {grid.percents[furthest]} %, where a step changes light by "
        f"{effect.own[furthest] * 100.0:.1f} %, {known}. The ramp then bends by {bent * 100.0:.0f} % at most "
        f"(limit {BEND * 100.0:.0f} %)."
    )
