"""What controls do, learnt from moves."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from aequitone.advice.moves import Change, ControlState, Expectation, Move
from aequitone.advice.roles import TWO_POINT, Role, channel_of
from aequitone.advice.two_point.responses import ROWS, Responses
from aequitone.advice.two_point.words import surprise_words

NOISE = np.full(ROWS, 0.001**2)


def controls(value: int = 50, span: int = 100) -> tuple[ControlState, ...]:
    return tuple(ControlState(role, role.key, 0, span, 1, value) for role in TWO_POINT)


def true_effect(rng: np.random.Generator) -> np.ndarray:
    """A made-up screen within what the prior allows."""
    prior = Responses.prior(controls())
    spread = np.sqrt(np.einsum("rii->ri", prior.covariance))
    return prior.effect + rng.normal(size=prior.effect.shape) * spread * 0.7


def test_the_prior_knows_the_ends() -> None:
    effect = Responses.prior(controls()).effect
    gain, bias = TWO_POINT.index(Role.GAIN_G), TWO_POINT.index(Role.BIAS_G)
    assert effect[4, gain] > 5 * effect[4, bias] > 0
    assert effect[7, bias] > 0
    assert effect[3, gain] == 0.0


def test_fewer_steps_are_larger_steps() -> None:
    fine, coarse = Responses.prior(controls()), Responses.prior(controls(5, 10))
    assert coarse.effect == pytest.approx(fine.effect * 10)


@given(st.integers(0, 10_000))
def test_learning_comes_closer_to_the_truth(seed: int) -> None:
    rng = np.random.default_rng(seed)
    truth, learnt = true_effect(rng), Responses.prior(controls())
    for _ in range(14):
        steps = rng.integers(-6, 7, 6).astype(float)
        learnt = learnt.learn(steps, truth @ steps + rng.normal(size=ROWS) * 0.001, NOISE)
    before = np.abs(Responses.prior(controls()).effect - truth).sum()
    assert np.abs(learnt.effect - truth).sum() < 0.75 * before


@given(st.integers(0, 10_000))
def test_a_move_makes_surer_of_that_move(seed: int) -> None:
    rng = np.random.default_rng(seed)
    prior = Responses.prior(controls())
    steps = rng.integers(-6, 7, 6).astype(float)
    learnt = prior.learn(steps, prior.predict(steps), NOISE)
    assert (learnt.variance(steps) <= prior.variance(steps) + 1e-12).all()
    assert learnt.predict(steps) == pytest.approx(prior.predict(steps))


def test_a_silent_row_teaches_nothing() -> None:
    prior, steps = Responses.prior(controls()), np.ones(6)
    variance = NOISE.copy()
    variance[0] = 1e6
    learnt = prior.learn(steps, np.full(ROWS, 0.3), variance)
    assert learnt.effect[0] == pytest.approx(prior.effect[0], abs=1e-6)
    assert not np.allclose(learnt.effect[4], prior.effect[4], atol=1e-3)


def test_a_move_that_went_the_wrong_way_is_said() -> None:
    prior = Responses.prior(controls())
    for _ in range(3):
        for i in range(6):
            steps = 5.0 * np.eye(6)[i]
            prior = prior.learn(steps, prior.predict(steps), NOISE)
    steps = np.array([6.0, 0, 0, 0, 0, 0])
    assert surprise_words(prior, steps, prior.predict(steps), NOISE) == ""
    words = surprise_words(prior, steps, -prior.predict(steps), NOISE)
    assert "red light" in words
    assert "Check that the right control was turned" in words


def test_moves_speak_the_screens_words() -> None:
    move = Move((Change(Role.GAIN_B, "B gain", 38, 32), Change(Role.BIAS_R, "R cut", 10, 12)))
    assert move.words == "B gain down 6, R cut up 2"
    assert move.reverse.words == "B gain up 6, R cut down 2"
    assert move.reverse.undoes
    assert Expectation(2.7, 0.62, 0.2, -1.1).words == "Expect ΔE 2.7 → 0.6 ± 0.2, light -1.1 %"


def test_gains_and_biases_belong_to_channels() -> None:
    assert (channel_of(Role.BIAS_B), channel_of(Role.CONTRAST)) == ("B", None)


def test_before_the_first_move_nothing_is_certain_and_each_channel_is_told_apart() -> None:
    prior = Responses.prior(controls())
    spread = np.sqrt(np.diagonal(prior.covariance, axis1=1, axis2=2))
    assert spread.shape == (9, 6)
    assert (spread > 0.0).all()
    for level in range(3):
        for control in range(6):
            rows = spread[3 * level : 3 * level + 3, control]
            # Its own channel is where a control acts, and where it is least sure how much.
            assert int(rows.argmax()) == control % 3
            others = np.delete(rows, control % 3)
            assert others[0] == others[1]


def test_a_bias_is_felt_by_the_drive_that_is_there() -> None:
    usual, same = Responses.prior(controls()), Responses.prior(controls(), drives=(0.8, 0.3))
    assert same.effect[6:] == pytest.approx(usual.effect[6:])
    assert same.effect[3:6] == pytest.approx(usual.effect[3:6], abs=0.1 * usual.effect.max())
    # Under PQ 30 % of the signal is a tenth of the drive on a bright screen, and a bias does four times as much.
    dark = Responses.prior(controls(), drives=(0.5, 0.1))
    assert np.diag(dark.effect[6:, 3:]) == pytest.approx(9.0 / (0.7 / 0.3) * np.diag(usual.effect[6:, 3:]))
    assert dark.effect[:, :3] == pytest.approx(usual.effect[:, :3])
