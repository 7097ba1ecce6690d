"""What the six controls really are: as they are called, or one dead, backwards or exchanged with another.

By link nobody's hand slips: what looks like a slip there is the screen's own way. Each way is weighed by how
likely it makes everything that was seen so far (Bayes' rule over a list), the controls being learnt under each of
them. Some menus also have a few settings around the middle that change nothing yet.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import combinations
from typing import Self

import numpy as np

from aequitone.advice.linear import LinearResponse
from aequitone.advice.moves import ControlState
from aequitone.advice.two_point.responses import IdleSteps, Responses
from aequitone.colorimetry.arrays import Array

# How many screens of a thousand are so.
_EXCHANGED, _DEAD, _BACKWARDS, _IDLE = 0.004, 0.004, 0.001, 0.01
_MOST_IDLE = 3
# Controls are not quite even along their range, channels leak, and a little changes in any case, in log light.
_UNEVEN, _LEAK, _LITTLE = 0.2, 0.03, 0.003
# Degrees of freedom of what is seen around what is believed: no single surprise may decide.
_FREEDOM = 5.0
_SUSPECTED, PROVEN = 20.0, 200.0
"""Odds above which a control is tried alone, and above which the trial has proven it."""
_SIX = tuple(range(6))


@dataclass(frozen=True)
class MoveMade:
    """One move as made: where the six controls stood, by how many steps each went, and what came of it."""

    stood: tuple[ControlState, ...]
    steps: Array
    change: Array
    """Of log light, (9,)."""
    variance: Array


@dataclass(frozen=True)
class Wiring:
    """`source` and `sign`: which control's work each of the six really does, and which way; 0 where it is dead."""

    source: tuple[int, ...] = _SIX
    sign: tuple[float, ...] = (1.0,) * 6
    idle: int = 0
    """Steps to both sides of the middle that do nothing."""
    odds: float = 1.0
    """Before anything was seen, against all being as named."""

    @property
    def is_odd(self) -> bool:
        """Whether a control is not what its name says."""
        return self.source != _SIX or self.sign != (1.0,) * 6

    @property
    def odd(self) -> tuple[int, ...]:
        """Columns of the controls that are not what their names say."""
        return tuple(i for i in _SIX if self.source[i] != i or self.sign[i] != 1.0)

    @property
    def matrix(self) -> Array:
        """Work of each named control, down, for a step of each real one, across, (6, 6)."""
        work = np.zeros((6, 6))
        work[self.source, _SIX] = self.sign
        return work

    def words(self, controls: tuple[ControlState, ...]) -> str:
        """What there is to say of it once it is proven."""
        first, *rest = (controls[i].name for i in self.odd)
        if rest:
            return f"{first} does the work of {rest[0]}, also turned alone, and {rest[0]} that of {first}."
        if 0.0 in self.sign:
            return f"{first} does nothing, also turned alone: the others do its work as well as they can."
        return f"{first} works backwards, also turned alone: it is turned the other way from now on."


NAMED = Wiring()


def dead(column: int) -> Wiring:
    """One of the six does nothing."""
    sign = [1.0] * 6
    sign[column] = 0.0
    return Wiring(sign=tuple(sign), odds=_DEAD / 6.0)


def _all() -> tuple[Wiring, ...]:
    ways = [NAMED]
    pairs = [(a, b) for a, b in combinations(_SIX, 2) if a // 3 == b // 3]
    for a, b in pairs:
        source = list(_SIX)
        source[a], source[b] = b, a
        ways.append(Wiring(tuple(source), odds=_EXCHANGED / len(pairs)))
    for i in _SIX:
        backwards = [1.0] * 6
        backwards[i] = -1.0
        ways += [dead(i), Wiring(sign=tuple(backwards), odds=_BACKWARDS / 6.0)]
    return (*ways, *(Wiring(idle=steps, odds=_IDLE / _MOST_IDLE) for steps in range(1, _MOST_IDLE + 1)))


WIRINGS = _all()


@dataclass(frozen=True)
class Wired:
    """The likeliest wiring, how sure it is against all being as named, and what the controls do under it."""

    wiring: Wiring
    odds: float
    responses: Responses

    @property
    def is_suspected(self) -> bool:
        """Whether a control should be tried alone."""
        return self.wiring.is_odd and self.odds > _SUSPECTED

    @property
    def is_proven(self) -> bool:
        """Whether it can be said, once a control was tried alone."""
        return self.wiring.is_odd and self.odds > PROVEN

    @classmethod
    def learnt(cls, prior: Responses, turns: Sequence[MoveMade], *, named: bool = False) -> Self:
        """Learn from all turns so far; `named`: the controls are taken to be what they are called."""
        ways = (NAMED,) if named else WIRINGS
        told = [_under(prior, way, turns) for way in ways]
        evidence = np.array([log for log, _ in told])
        # What is as named stays so until something else is likelier than not.
        best = int(evidence.argmax())
        return cls(ways[best], float(np.exp(min(evidence[best] - evidence[0], 50.0))), told[best][1])


def evidence_for(way: Wiring, prior: Responses, turn: MoveMade) -> float:
    """Odds of a wiring against all being as named by one turn alone, from a place that is known."""
    steps = IdleSteps.of(turn.stood, way.idle).effective(turn.steps)
    log = _evidence(prior, way.matrix @ steps, turn) - _evidence(prior, turn.steps, turn)
    return float(np.exp(min(log, 50.0)))


def evidence_of(way: Wiring, prior: Responses, turns: Sequence[MoveMade]) -> float:
    """Logarithm of how likely a wiring makes all that was seen."""
    return _under(prior, way, turns)[0]


def _under(prior: Responses, way: Wiring, turns: Sequence[MoveMade]) -> tuple[float, Responses]:
    """Logarithm of how likely a wiring makes what was seen, and the controls as learnt under it."""
    work, log = way.matrix, float(np.log(way.odds))
    named: Responses = prior
    for turn in turns:
        steps = work @ IdleSteps.of(turn.stood, way.idle).effective(turn.steps)
        log += _evidence(named, steps, turn)
        named = named.learn(steps, turn.change, turn.variance)
    effect = named.effect @ work
    covariance = work.T @ named.covariance @ work
    stands = _after(turns[-1]) if turns else ()
    return log, replace(named, effect=effect, covariance=covariance, idle=IdleSteps.of(stands, way.idle))


def _after(turn: MoveMade) -> tuple[ControlState, ...]:
    return tuple(
        replace(control, value=control.value + int(n) * control.step)
        for control, n in zip(turn.stood, turn.steps, strict=True)
    )


def _evidence(named: LinearResponse, steps: Array, turn: MoveMade) -> float:
    """Log likelihood of what a turn has changed, in Student's t so that one surprise does not decide."""
    predicted = named.predict(steps)
    largest = np.repeat(np.abs(predicted).reshape(3, 3).max(axis=1), 3)
    spread = (
        named.variance(steps) + turn.variance + (_UNEVEN * predicted) ** 2 + (_LEAK * largest) ** 2 + _LITTLE**2
    )
    chi = (turn.change - predicted) ** 2 / spread
    return float((-0.5 * (_FREEDOM + 1.0) * np.log1p(chi / _FREEDOM) - 0.5 * np.log(spread)).sum())
