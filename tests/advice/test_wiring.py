"""What the six controls really are, weighed by what their turns have changed."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from aequitone.advice.moves import ControlState, moved
from aequitone.advice.roles import TWO_POINT
from aequitone.advice.two_point.responses import IdleSteps, Responses
from aequitone.advice.two_point.wiring import NAMED, WIRINGS, MoveMade, Wired, Wiring
from aequitone.colorimetry.arrays import Array

CONTROLS = tuple(ControlState(role, role.key, 0, 100, 1, 50) for role in TWO_POINT)
PRIOR = Responses.prior(CONTROLS)
NOISE = np.full(9, 0.002**2)
# What a white balance asks for: gains and biases at once, then less.
MOVES = (
    [-12.0, 4.0, 8.0, 12.0, -9.0, 7.0],
    [5.0, -7.0, 3.0, -14.0, 6.0, -11.0],
    [-3.0, 9.0, -6.0, 8.0, 11.0, -9.0],
)


def turns(way: Wiring, seed: int, *, scale: float = 1.0, moves: tuple[list[float], ...] = MOVES) -> list[MoveMade]:
    """Moves on a screen that is wired so, whose controls do what such controls do within what is usual."""
    rng, stands, told = np.random.default_rng(seed), CONTROLS, []
    spread = np.sqrt(np.einsum("rii->ri", PRIOR.covariance))
    effect = scale * (PRIOR.effect + 0.7 * rng.normal(size=spread.shape) * spread)
    for steps in map(np.array, moves):
        felt = way.matrix @ IdleSteps.of(stands, way.idle).effective(steps)
        told.append(MoveMade(stands, steps, effect @ felt + rng.normal(0.0, 0.002, 9), NOISE))
        stands = moved(stands, steps)
    return told


def test_every_way_is_listed_once_and_named_comes_first() -> None:
    assert WIRINGS[0] == NAMED
    assert len(set(WIRINGS)) == len(WIRINGS)
    assert sum(way.odds for way in WIRINGS[1:]) < 0.05
    assert all(way.is_odd or way.idle for way in WIRINGS[1:])


@pytest.mark.parametrize("way", [w for w in WIRINGS if w.is_odd], ids=lambda w: f"{w.source}{w.sign}")
def test_a_control_that_is_not_what_it_is_called_is_proven_by_turning_it_alone(way: Wiring) -> None:
    alone = [[-2.0 * n if i == way.odd[0] else 0.0 for i, n in enumerate(move)] for move in MOVES[:2]]
    told = [Wired.learnt(PRIOR, turns(way, seed, moves=(*MOVES, *alone))) for seed in range(6)]
    # One that does nothing, or a weak one that works backwards, may be learnt as such without being proven.
    if way.source != NAMED.source:
        assert sum(each.wiring == way and each.is_proven for each in told) >= 5
    assert not any(each.is_proven and each.wiring != way for each in told)
    column = way.odd[0]
    for each in told:
        learnt = np.abs(each.responses.effect[3:, column]).max()
        assert way.sign[column] != 0.0 or learnt < 0.5 * np.abs(PRIOR.effect[3:, column]).max()


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10_000), st.floats(0.5, 1.6))
def test_controls_that_are_what_they_are_called_are_never_proven_to_be_odd(seed: int, scale: float) -> None:
    assert not Wired.learnt(PRIOR, turns(NAMED, seed, scale=scale)).is_proven


def test_what_is_learnt_is_told_for_the_controls_as_they_are_turned() -> None:
    source = (1, 0, 2, 3, 4, 5)
    wired = Wired.learnt(PRIOR, turns(Wiring(source), 3))
    assert wired.wiring.source == source
    # A step of what is called red moves green.
    red = np.eye(6)[0]
    assert int(np.abs(wired.responses.predict(red)[3:6]).argmax()) == 1
    assert "does the work of" in wired.wiring.words(CONTROLS)
    assert Wired.learnt(PRIOR, turns(Wiring(source), 3), named=True).wiring == NAMED


@pytest.mark.parametrize("size", [1, 2, 3])
def test_steps_that_do_nothing_around_the_middle_are_allowed_for(size: int) -> None:
    way = next(w for w in WIRINGS if w.idle == size)
    # Out of the middle and back through it.
    through = ([-12.0] * 6, [20.0] * 6, [-16.0] * 6, [9.0] * 6)
    told = [Wired.learnt(PRIOR, turns(way, seed, moves=through)) for seed in range(8)]
    assert not any(each.is_proven for each in told)
    assert np.median([each.wiring.idle for each in told]) >= size - 1


@given(
    st.integers(0, 3),
    st.lists(st.integers(-20, 20), min_size=6, max_size=6),
    st.lists(st.integers(-20, 20), min_size=6, max_size=6),
)
def test_what_is_to_be_felt_is_what_is_felt_of_the_steps_that_bring_it(
    size: int, stands: list[int], wanted: list[int]
) -> None:
    controls = tuple(replace(c, value=c.value + n) for c, n in zip(CONTROLS, stands, strict=True))
    idle = IdleSteps.of(controls, size)
    felt: Array = np.array(wanted, dtype=float)
    assert idle.effective(idle.turned(felt)) == pytest.approx(felt)
    assert idle.effective(np.zeros(6)) == pytest.approx(np.zeros(6))
