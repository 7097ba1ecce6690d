"""Watching a control while it is turned: how far it has gone by now, told from light, and how far it still has to.

The change of log light at one level is laid out over the controls that are being turned, by what each is
believed to do there.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from aequitone.advice.moves import Change, ControlState, Move
from aequitone.advice.points.level import LevelResponses
from aequitone.advice.roles import GAINS, TWO_POINT
from aequitone.advice.two_point.responses import Responses
from aequitone.colorimetry import Formula
from aequitone.colorimetry.arrays import Array, ArrayLike

# Less than this is there: half a step, and a little for what a control is uneven by.
THERE = 0.6
# Of a move: where more of it is left, hardly anything was turned.
_MOST = 0.7
# A control may have been turned twice as far as wanted, or the other way: before light tells, all is likely.
_ANYWHERE = 2.0
_LITTLE = 0.003
_NUMBERS = ("", "one", "two", "three", "four", "five", "six")


@dataclass(frozen=True)
class Left:
    """How many steps of a control are left, negative for down, and how unsure that is."""

    name: str
    steps: float
    sd: float
    up: bool
    """Which way the control is to go."""
    goal: float = 0.0
    """How many steps the whole move has of it."""

    @property
    def there(self) -> bool:
        return abs(self.steps) < THERE + self.sd

    @property
    def unmoved(self) -> bool:
        """Whether most of the way is still to go, as far as light can tell."""
        return not self.there and abs(self.steps) - self.sd > _MOST * abs(self.goal)

    @property
    def words(self) -> str:
        """What a hand on the remote is to do: "two more", "one back"."""
        if self.there:
            return "there" if self.sd < THERE else "about there"
        count = max(1, round(abs(self.steps)))
        number = _NUMBERS[count] if count < len(_NUMBERS) else str(count)
        return f"{number} {'more' if (self.steps > 0) is self.up else 'back'}"


@dataclass(frozen=True)
class Watched:
    """One glance while a move is being made."""

    move: Move
    percent: float
    """The level that is looked at."""
    xyz: Array
    """(3,), cd/m²."""
    error: float
    """ΔE of that level."""
    error_sd: float
    left: tuple[Left, ...]
    """What each control of the move that is felt there still has to go."""
    formula: Formula = Formula.DE2000

    @property
    def there(self) -> bool:
        """Whether every control stands where it should, as far as light can tell."""
        return all(each.there for each in self.left)


def first_level(move: Move) -> bool:
    """Whether the bright level is looked at first: where a gain is to be turned."""
    return any(change.role in GAINS for change in move.changes)


def watched_changes(move: Move, *, bright: bool) -> tuple[Change, ...]:
    """The changes that are felt most at the bright, or at the dark level."""
    return tuple(change for change in move.changes if (change.role in GAINS) is bright)


def steps_left(
    responses: Responses, move: Move, change: Array, variance: Array, steps: ArrayLike, *, bright: bool
) -> tuple[Left, ...]:
    """What the controls that are watched at this level still have to go.

    `change` (3,) of log light since before the move, with its noise; `steps` (6,) of the whole move, in whole
    steps, gains before biases. At the dark level the gains of the move are taken to be turned already.
    """
    rows = slice(3, 6) if bright else slice(6, 9)
    wanted = np.asarray(steps, dtype=np.float64)
    changes = watched_changes(move, bright=bright)
    mine = [TWO_POINT.index(each.role) for each in changes]
    turned = np.zeros(len(wanted))
    if not bright:
        turned[:3] = wanted[:3]
    # A screen that is not known yet may need more, or fewer, of its steps for the same light.
    own = [rows.start + column % 3 for column in mine]
    doubt = [responses.covariance[row, column, column] for row, column in zip(own, mine, strict=True)]
    unsure = np.sqrt(doubt) / np.maximum(np.abs(responses.effect[own, mine]), 1e-9)
    effect = responses.effect[rows]
    return _laid_out(changes, effect[:, mine], wanted[mine], change - effect @ turned, variance, unsure)


def level_steps_left(
    responses: LevelResponses, controls: Sequence[ControlState], move: Move, change: Array, variance: Array
) -> tuple[Left, ...]:
    """The same of a move at one level of multi-point; `controls`: those of the level, as they stood before."""
    of = {control.role: i for i, control in enumerate(controls)}
    mine = [of[each.role] for each in move.changes]
    goal = np.array([each.by / controls[i].step for each, i in zip(move.changes, mine, strict=True)])
    alone = np.eye(len(controls))[mine]
    effect = responses.predict(alone).T
    unsure = np.sqrt(responses.variance(alone).max(axis=1)) / np.maximum(np.abs(effect).max(axis=0), 1e-9)
    return _laid_out(move.changes, effect, goal, change, variance, unsure)


def _laid_out(
    changes: Sequence[Change], effect: Array, goal: Array, seen: Array, variance: Array, unsure: Array
) -> tuple[Left, ...]:
    """What is left of `goal` (k,) steps, once `seen` (3,) log light is laid out over them by `effect` (3, k).

    `unsure` (k,): relative spread of what a step of each does.
    """
    weight = 1.0 / (variance + _LITTLE**2)
    room = np.diag(1.0 / (_ANYWHERE * np.maximum(np.abs(goal), 1.0)) ** 2)
    made = np.linalg.solve(effect.T @ (weight[:, None] * effect) + room, effect.T @ (weight * seen))
    return tuple(
        Left(each.name, float(left), float(spread), each.by > 0, float(whole))
        for each, left, spread, whole in zip(changes, goal - made, np.abs(made) * unsure, goal, strict=True)
    )
