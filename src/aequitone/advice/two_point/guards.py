"""What really happened on a trip to the menu, told from how the light changed.

Every mistake that a hand makes predicts a change of its own: another control, the other way, another number of
steps, one control of the trip forgotten, the meter bumped; and so does a control that was noted wrong before it.
Each is weighed against the move as it was asked for, by how likely it makes what was seen, the doubt about the
controls included (Bayes' rule over a list).
"""

from dataclasses import dataclass
from enum import Enum
from typing import Protocol

import numpy as np

from aequitone.advice.moves import ControlState
from aequitone.colorimetry.arrays import Array

# Of a hundred trips, how many go wrong in some way.
_MISTAKES = 0.03
# Surer than this that something went wrong, the likeliest mistake is said; less sure, it may be the screen.
_SURE = 0.9
# Controls are not quite even along their range, so much of their own change is in doubt; channels leak, so much
# of the largest is; and a little in any case.
_UNEVEN, _LEAK, _LITTLE = 0.2, 0.02, 0.002
# A bump changes all the light alike, and its colour a little: standard deviations in log light.
_BUMP_LIGHT, _BUMP_COLOUR = 0.15, 0.02
_MOST_STEPS_OFF = 3
# Any bump is possible, and one certain bump is this much less likely.
_THIS_BUMP = 0.02
# Of a hundred figures, how many are noted wrong; by how many steps, as a standard deviation; and by how many at
# least: the tens are mistaken, or two figures exchanged. What is less is a slip of the hand.
_NOTED, _NOTED_STEPS, _NOTED_LEAST = 0.01, 15.0, 8.0
WAS_NOTED_WRONG = "was noted wrong"
"""What is said of a control, after its name, whose figure as found seems to be wrong."""


class Predicts(Protocol):
    """What controls are believed to do to log light, R, G and B of a level side by side."""

    def predict(self, steps: Array) -> Array:
        """Change of log light, shape (..., rows), for steps of shape (..., controls)."""
        ...

    def variance(self, steps: Array) -> Array:
        """Its variance, shape (..., rows)."""
        ...


class Mishap(Enum):
    """What went wrong."""

    WRONG_CONTROL = "another control was turned"
    WRONG_WAY = "it was turned the other way"
    WRONG_COUNT = "it was turned by another number of steps"
    NOT_TURNED = "it was not turned"
    BUMP = "the meter has moved"
    NOTED_WRONG = "it had stood elsewhere than noted"


@dataclass(frozen=True)
class Judgement:
    """What most likely happened: `steps` as turned, and the change (rows,) of log light that is not theirs.

    The controls then stand at where they were noted, and `off` and `steps` from there.
    """

    mishap: Mishap | None
    steps: Array
    bump: Array
    control: int = -1
    """The column of the control that the mishap is about; below 0 for all that were to be turned."""
    instead: int = -1
    """The column of the control that was turned instead."""
    weight: float = 1.0
    """How likely it was before anything was seen."""
    off: Array | float = 0.0
    """By how many steps of each control it had stood elsewhere than noted."""


@dataclass(frozen=True)
class _Case:
    mishap: Mishap | None
    steps: Array
    weight: float
    control: int = -1
    instead: int = -1


def judge(
    responses: Predicts,
    controls: tuple[ControlState, ...],
    steps: Array,
    change: Array,
    variance: Array,
    sure: float = _SURE,
    *,
    bumps: bool = True,
    noted: tuple[ControlState, ...] = (),
) -> Judgement:
    """Judge a move.

    `controls` as they stood before it, a step of `steps` for each as asked for; `change` (rows,) of log light as
    seen, with `variance` of its noise; huge where nothing can be said of a row. `sure`: how likely it must be
    that something went wrong, to be believed. `bumps`: whether a bump of the meter would be seen in the rows.
    `noted`: the same controls as a person noted them at first: one that still stands there may be noted wrong.
    """
    cases = _cases(controls, steps, noted)
    if not bumps:
        cases = [case for case in cases if case.mishap is not Mishap.BUMP]
    turned = np.array([case.steps for case in cases])
    bumped = np.array([case.mishap is Mishap.BUMP for case in cases])
    predicted, spread = foretold(responses, turned, variance)
    rows = len(change)
    matrix = np.zeros((len(cases), rows, rows))
    matrix[:, np.arange(rows), np.arange(rows)] = spread
    matrix[bumped] += _bump_covariance(rows)
    elsewhere = np.zeros((len(cases), rows))
    for at, case in enumerate(cases):
        if case.mishap is Mishap.NOTED_WRONG:
            elsewhere[at] = _effect_of(responses, steps, case.control)
            matrix[at] += _NOTED_STEPS**2 * np.outer(elsewhere[at], elsewhere[at])
    left = change - predicted
    solved = np.linalg.solve(matrix, left[..., None])[..., 0]
    chi = (left * solved).sum(axis=1)
    log = np.log([case.weight for case in cases]) - 0.5 * (chi + np.linalg.slogdet(matrix)[1])
    further = _NOTED_STEPS**2 * (elsewhere * solved).sum(axis=1)
    log[elsewhere.any(axis=1) & (np.abs(further) < _NOTED_LEAST)] = -np.inf
    chance = np.exp(log - log.max())
    chance = chance / chance.sum()
    best = int(chance.argmax())
    if 1.0 - float(chance[0]) < sure:
        best = 0
    case = cases[best]
    if case.mishap is Mishap.NOTED_WRONG:
        return _noted_wrong(case, controls, float(further[best]))
    bump = (_bump_covariance(rows) @ solved[best]) if case.mishap is Mishap.BUMP else np.zeros(rows)
    weight = case.weight * (_THIS_BUMP if case.mishap is Mishap.BUMP else 1.0)
    return Judgement(case.mishap, case.steps, bump, case.control, case.instead, weight)


def words(judgement: Judgement, controls: tuple[ControlState, ...], steps: Array) -> str:
    """What to say of it; "" where nothing went wrong."""
    if judgement.mishap is None:
        return ""
    if judgement.mishap is Mishap.BUMP:
        light = (np.exp(judgement.bump.mean()) - 1.0) * 100.0
        return (
            f"All light changed by {light:+.1f} % beside what was turned: it seems that the meter has moved, or "
            "something fell on it. Check that it hangs as before, then read again."
        )
    if judgement.control < 0:
        how = "nothing was turned" if judgement.mishap is Mishap.NOT_TURNED else "all was turned the other way"
        return f"It looks as if {how}."
    control = controls[judgement.control]
    asked, came = int(steps[judgement.control]), int(judgement.steps[judgement.control])
    match judgement.mishap:
        case Mishap.NOTED_WRONG:
            return wrong_note_words(control, asked - came)
        case Mishap.WRONG_CONTROL:
            other = controls[judgement.instead]
            by = int(judgement.steps[judgement.instead] - steps[judgement.instead])
            return f"It looks as if {other.name} was turned by {by:+d} instead of {control.name}."
        case Mishap.WRONG_WAY:
            return f"It looks as if {control.name} was turned the other way: {came:+d} instead of {asked:+d}."
        case Mishap.NOT_TURNED:
            return f"It looks as if {control.name} was not turned; {asked:+d} was asked for."
    return f"It looks as if {control.name} was turned by {came:+d} steps instead of {asked:+d}."


def wrong_note_words(noted: ControlState, off: int) -> str:
    """What to say of a control that seems to have stood `off` steps from where it was noted."""
    return (
        f"It seems that {noted.name} {WAS_NOTED_WRONG}: light moved as if it had stood at about "
        f"{noted.value + off * noted.step}, not at {noted.value}."
    )


def foretold(responses: Predicts, steps: Array, variance: Array) -> tuple[Array, Array]:
    """What steps (n, controls) should do to log light, (n, rows), and the variance of what is then seen.

    `variance` (rows,): of the noise alone.
    """
    predicted = responses.predict(steps)
    largest = np.repeat(np.abs(predicted).reshape(len(steps), -1, 3).max(axis=2), 3, axis=1)
    spread = (
        responses.variance(steps) + variance + (_UNEVEN * predicted) ** 2 + (_LEAK * largest) ** 2 + _LITTLE**2
    )
    return predicted, np.asarray(spread)


def _effect_of(responses: Predicts, steps: Array, control: int) -> Array:
    """What a step more of a control would have added to log light, (rows,), beside the steps of a move."""
    by = np.eye(len(steps))[control] * np.sign(steps[control])
    return np.asarray((responses.predict(steps + by) - responses.predict(steps)) * by[control])


def _noted_wrong(case: _Case, controls: tuple[ControlState, ...], further: float) -> Judgement:
    """A control that went `further` steps than it was asked to, because it had stood elsewhere."""
    at, off = controls[case.control], np.zeros(len(case.steps))
    stood = at.snapped(at.value - further * at.step)
    off[case.control] = (stood - at.value) // at.step
    mishap = case.mishap if off.any() else None
    return Judgement(mishap, case.steps - off, np.zeros(0), case.control, off=off)


def _cases(controls: tuple[ControlState, ...], steps: Array, noted: tuple[ControlState, ...] = ()) -> list[_Case]:
    """The move as asked for, and every mistake with each of its controls."""
    asked = [int(i) for i in np.flatnonzero(steps)]
    each = _MISTAKES / max(1, len(asked)) / 5.0
    cases = [_Case(None, steps, 1.0 - _MISTAKES), _Case(Mishap.BUMP, steps, _MISTAKES / 5.0)]
    if len(asked) > 1:
        cases.append(_Case(Mishap.NOT_TURNED, 0.0 * steps, each))
        cases.append(_Case(Mishap.WRONG_WAY, -steps, each))
    for i in asked:
        n = int(steps[i])
        others = [j for j in range(len(steps)) if j != i]
        for j in others:
            moved = steps.copy()
            moved[i], moved[j] = 0.0, steps[j] + n
            # The same channel's other control, or the same control of another channel, is the usual slip.
            near = 3.0 if (i % 3 == j % 3 or i // 3 == j // 3) else 1.0
            cases.append(_Case(Mishap.WRONG_CONTROL, moved, each * near / (3.0 * max(1, len(others))), i, j))
        if noted and controls[i].value == noted[i].value:
            cases.append(_Case(Mishap.NOTED_WRONG, steps, _NOTED, i))
        back, none = steps.copy(), steps.copy()
        back[i], none[i] = -n, 0.0
        cases.append(_Case(Mishap.WRONG_WAY, back, each, i))
        cases.append(_Case(Mishap.NOT_TURNED, none, each, i))
        counts = [m for m in _counts(n) if m / n >= 0 and m not in (0, n)]
        for m in counts:
            other = steps.copy()
            other[i] = m
            cases.append(_Case(Mishap.WRONG_COUNT, other, each / len(counts), i))
    return [case for case in cases if _possible(case, controls)] or cases[:1]


def _counts(n: int) -> list[int]:
    """Numbers of steps that are turned by mistake: some too few or too many, double, half."""
    near = [n + off for off in range(-_MOST_STEPS_OFF, _MOST_STEPS_OFF + 1)]
    return sorted({*near, 2 * n, round(n / 2)})


def _possible(case: _Case, controls: tuple[ControlState, ...]) -> bool:
    if case.mishap is None:
        return True
    to = [control.value + n * control.step for control, n in zip(controls, case.steps, strict=True)]
    return all(control.lowest <= value <= control.highest for control, value in zip(controls, to, strict=True))


def _bump_covariance(rows: int) -> Array:
    """Of what a bump does to log light: the same at every level, nearly the same in every channel."""
    light = np.full((rows, rows), _BUMP_LIGHT**2)
    return light + _BUMP_COLOUR**2 * np.tile(np.eye(3), (rows // 3, rows // 3))
