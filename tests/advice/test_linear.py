"""A linear response with doubt, against what is known of Bayesian regression."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from aequitone.advice.linear import LinearResponse, updated


@given(seed=st.integers(0, 999), rows=st.integers(1, 4), controls=st.integers(1, 6), moves=st.integers(1, 8))
def test_one_at_a_time_is_the_same_as_all_at_once(seed: int, rows: int, controls: int, moves: int) -> None:
    """Bishop (2006), eq. 3.50 and 3.51: the posterior of all observations together, row by row."""
    rng = np.random.default_rng(seed)
    prior = rng.normal(size=(rows, controls))
    root = rng.normal(size=(rows, controls, controls))
    doubt = root @ root.transpose(0, 2, 1) + 0.1 * np.eye(controls)
    steps, noise = rng.normal(size=(moves, controls)), rng.uniform(0.1, 2.0, size=(moves, rows))
    seen = rng.normal(size=(moves, rows))
    response = LinearResponse(prior, doubt)
    for turned, change, variance in zip(steps, seen, noise, strict=True):
        response = response.learn(turned, change, variance)
    for row in range(rows):
        precision = np.linalg.inv(doubt[row]) + (steps.T / noise[:, row]) @ steps
        together = np.linalg.solve(
            precision, np.linalg.solve(doubt[row], prior[row]) + steps.T @ (seen[:, row] / noise[:, row])
        )
        assert response.effect[row] == pytest.approx(together, rel=1e-6, abs=1e-8)
        assert response.covariance[row] == pytest.approx(np.linalg.inv(precision), rel=1e-6, abs=1e-8)


def test_what_was_not_turned_is_not_learnt_and_a_useless_reading_teaches_nothing() -> None:
    response = LinearResponse(np.array([[1.0, 2.0]]), np.eye(2)[None])
    learnt = response.learn(np.array([2.0, 0.0]), np.array([4.0]), np.array([0.0]))
    assert learnt.effect.tolist() == [[2.0, 2.0]]
    assert learnt.covariance[0].tolist() == [[0.0, 0.0], [0.0, 1.0]]
    vague = response.learn(np.array([2.0, 0.0]), np.array([4.0]), np.array([1e12]))
    assert vague.effect == pytest.approx(response.effect)


def test_predictions_carry_their_doubt() -> None:
    response = LinearResponse(np.array([[1.0, -1.0], [0.5, 0.0]]), np.stack([np.diag([0.04, 0.01])] * 2))
    assert response.predict(np.array([3.0, 1.0])).tolist() == [2.0, 1.5]
    assert response.variance(np.array([3.0, 1.0])) == pytest.approx([0.37, 0.37])
    assert response.predict(np.ones((5, 2))).shape == response.variance(np.ones((5, 2))).shape == (5, 2)


def test_any_shape_in_front_is_kept() -> None:
    effect, covariance = updated(np.zeros(3), np.eye(3), np.array([0.0, 1.0, 0.0]), np.array(2.0), np.array(1.0))
    assert effect.tolist() == [0.0, 1.0, 0.0]
    assert covariance.diagonal().tolist() == [1.0, 0.5, 1.0]
