"""Why a move: what was seen, what the controls do here, and what else was possible."""

import numpy as np

from aequitone.advice.moves import ControlState, Move, steps_of
from aequitone.advice.two_point.level_readings import Seen
from aequitone.advice.two_point.mover import Mover
from aequitone.advice.two_point.responses import Responses
from aequitone.colorimetry import cast_of, cast_word
from aequitone.colorimetry.arrays import Array

_HALF = 0.5
_DARKEST, _BRIGHTEST = 5.0, 100.0
# A control whose doubt is below this share of its effect has been learnt.
_LEARNT = 0.12


def explain(mover: Mover, seen: Seen, responses: Responses, controls: tuple[ControlState, ...], move: Move) -> str:
    """In a few sentences, for the person who asks."""
    steps = steps_of(move, controls)
    return " ".join(
        (_seen(mover, seen), _controls(responses, controls, steps), _else(mover, seen, responses, steps))
    )


def _seen(mover: Mover, seen: Seen) -> str:
    de = mover.errors(seen.xyz)
    white = mover.target.white.xyz()
    told = []
    for percent, xyz, value in zip((100.0, mover.bright, mover.dark), seen.xyz, de, strict=True):
        cast = cast_of(xyz, white)
        told.append(f"{percent:g} % {cast_word(cast.warm, cast.green)}, ΔE {value:.1f}")
    return f"Seen: {'; '.join(told)}."


def _controls(responses: Responses, controls: tuple[ControlState, ...], steps: Array) -> str:
    """What one step does of the controls that are to be turned, at their own end."""
    told, unsure = [], []
    for column in np.flatnonzero(steps):
        name, row = controls[column].name, _own_row(responses, int(column))
        effect = float(responses.effect[row, column])
        told.append(f"{name} {effect * 100.0:+.1f} %")
        if np.sqrt(responses.covariance[row, column, column]) > _LEARNT * abs(effect):
            unsure.append(name)
    words = f"A step changes its light by: {', '.join(told)}."
    if len(unsure) == len(told):
        return f"{words} That is usual for such a screen; this one is not known yet."
    return f"{words} Not learnt yet: {', '.join(unsure)}." if unsure else words


def _else(mover: Mover, seen: Seen, responses: Responses, steps: Array) -> str:
    """What other moves would have left."""
    gains, biases = steps.copy(), steps.copy()
    gains[3:], biases[:3] = 0.0, 0.0
    kinds = [("nothing", np.zeros(6))]
    if gains.any() and biases.any():
        kinds += [("the gains alone", gains), ("the biases alone", biases)]
    halves = np.trunc(steps / 2.0)
    if halves.any():
        kinds.append(("half of it", halves))
    left = [f"{name} {mover.foretold(seen, responses, each)[0]:.1f}" for name, each in kinds]
    return f"Turning this leaves ΔE {mover.foretold(seen, responses, steps)[0]:.1f}; {', '.join(left)}."


def _own_row(responses: Responses, column: int) -> int:
    """The row of Responses where a control does most: a gain at the bright level, a bias at the dark one."""
    return 3 + int(np.abs(responses.effect[3:, column]).argmax())


def reach(responses: Responses, bright: float, dark: float) -> tuple[tuple[str, float, float], ...]:
    """Which levels the gains and the biases reach, by what was learnt: name, highest and lowest percent.

    A level is reached where a step does at least half of what it does at the control's own end. Between the two
    levels that are read the logarithm of the effect runs evenly along the signal.
    """
    gains = np.mean([[responses.effect[3 + i, i], responses.effect[6 + i, i]] for i in range(3)], axis=0)
    biases = np.mean([[responses.effect[6 + i, 3 + i], responses.effect[3 + i, 3 + i]] for i in range(3)], axis=0)
    return (
        ("gains", _BRIGHTEST, max(_DARKEST, _half_way(gains, bright, dark))),
        ("biases", min(_BRIGHTEST, _half_way(biases, dark, bright)), _DARKEST),
    )


def _half_way(effect: Array, own: float, other: float) -> float:
    """The percent where an effect that is `effect[0]` at `own` and `effect[1]` at `other` has fallen to half."""
    share = float(np.clip(effect[1] / effect[0], 1e-3, 1.0)) if effect[0] else 1.0
    if share >= 1.0:
        return _DARKEST if other < own else _BRIGHTEST
    return own + (other - own) * float(np.log(_HALF) / np.log(share))
