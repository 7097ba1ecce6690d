"""Near black: what is wanted there, and how far all biases should go together."""

import numpy as np
import pytest

from aequitone.advice.points.near_black import (
    NEAR_BLACK,
    SHOULDER,
    UNSEEN,
    NearBlackModel,
    Shadows,
    bias_light,
    right,
    wanted_light,
)
from aequitone.colorimetry.arrays import Array
from aequitone.reference import target_named

WHITE = 100.0
V = np.array(NEAR_BLACK) / 100.0
STEP = 0.0009
LEVEL = np.zeros(len(SHOULDER))


def lit(offset: float, black: float = 0.0) -> Array:
    """Light of a 2.2 screen whose drive is off by so much, on top of a black that leaks."""
    return black + WHITE * np.maximum(V + offset, 0.0) ** 2.2


def shadows(light: Array, black: float = 0.0, shoulder: float = 0.0) -> Shadows:
    wanted = wanted_light(target_named("rec709-2.2"), np.array(NEAR_BLACK), WHITE, black)
    return Shadows(wanted, light, np.full(len(light), 1e-5), black, WHITE, np.array([0.0, shoulder, 0.0]))


def foot() -> NearBlackModel:
    known = NearBlackModel.prior(2.2 * STEP * 0.7 / 0.3)
    assert known.step == pytest.approx(STEP)
    return known


def test_what_is_wanted_lies_on_top_of_black() -> None:
    percents = np.array(NEAR_BLACK)
    power = target_named("rec709-2.2")
    on_none = wanted_light(power, percents, WHITE, 0.0)
    assert on_none == pytest.approx(WHITE * V**2.2)
    on_black = wanted_light(power, percents, WHITE, 0.08)
    assert np.all(on_black > 0.08)
    assert wanted_light(power, np.array([0.0, 100.0]), WHITE, 0.08) == pytest.approx([0.08, WHITE])
    bt1886 = target_named("rec709-bt1886")
    # ITU-R BT.1886 starts from the black of the screen already.
    assert wanted_light(bt1886, percents, WHITE, 0.08) == pytest.approx(bt1886.grey(percents, WHITE, 0.08)[:, 1])


@pytest.mark.parametrize("steps", [-4, -2, 2, 4])
def test_an_offset_is_taken_back_by_whole_steps(steps: int) -> None:
    light = lit(-steps * STEP)
    found = foot().best_steps(shadows(light), (-50, 50))
    assert abs(found - steps) <= 1
    assert np.sign(found) == np.sign(steps)


def test_what_is_right_or_hidden_in_noise_is_left() -> None:
    assert foot().best_steps(shadows(lit(0.0)), (-50, 50)) == 0
    wanted = shadows(lit(0.0)).wanted
    noisy = Shadows(wanted, wanted * 1.3, wanted * 0.4, 0.0, WHITE, LEVEL)
    assert right(noisy.wanted, noisy.light, noisy.sd).all()
    assert foot().best_steps(noisy, (-50, 50)) == 0
    sure = right(wanted, wanted * 1.3, wanted * 0.04)
    assert not sure.any()


def test_what_is_called_right_is_left_and_so_is_what_does_not_pay_for_a_walk() -> None:
    wanted = shadows(lit(0.0)).wanted
    within_a_tenth = shadows(wanted * 1.09)
    assert right(within_a_tenth.wanted, within_a_tenth.light, within_a_tenth.sd).all()
    assert foot().best_steps(within_a_tenth, (-50, 50)) == 0
    one_level = wanted * np.array([1.0, 1.0, 1.0, 1.0, 1.0, 1.12])
    assert not right(wanted, one_level, np.zeros(6)).all()
    assert foot().best_steps(shadows(one_level), (-50, 50)) == 0
    assert foot().best_steps(shadows(wanted * 1.2), (-50, 50)) < 0


def test_end_stops_hold() -> None:
    assert foot().best_steps(shadows(lit(-6 * STEP)), (-50, 1)) <= 1


def test_the_shoulder_gives_what_nobody_sees_and_no_more() -> None:
    buried = lit(-12 * STEP)
    steps = foot().best_steps(shadows(buried), (-50, 50))
    assert steps > 0
    assert np.abs(foot().shoulder(shadows(buried), steps)).max() <= UNSEEN
    # Where a step moves 30 % by a tenth, near black cannot be had at all.
    coarse = NearBlackModel.prior(2.2 * 0.02 * 0.7 / 0.3)
    assert coarse.best_steps(shadows(lit(-0.012)), (-50, 50)) == 0
    assert coarse.price(shadows(lit(-0.012)), (-50, 50)) > UNSEEN
    assert coarse.price(shadows(lit(0.0)), (-50, 50)) == 0.0


def test_a_shoulder_that_is_off_the_same_way_lets_biases_go_further() -> None:
    buried = lit(-14 * STEP)
    steps = [foot().best_steps(shadows(buried, shoulder=off), (-50, 50)) for off in (-0.05, 0.0, 0.05)]
    assert steps[0] >= steps[1] > steps[2]


def test_black_that_leaks_does_not_pull_the_shadows_down() -> None:
    black = 0.08
    wanted = wanted_light(target_named("rec709-2.2"), np.array(NEAR_BLACK), WHITE, black)
    assert lit(0.0, black) == pytest.approx(wanted, rel=0.01)
    assert foot().best_steps(shadows(lit(0.0, black), black), (-50, 50)) == 0


def test_a_step_is_learnt_from_what_it_did() -> None:
    true = 0.0014
    learnt = foot().learn(3, shadows(lit(0.0)), shadows(lit(3 * true)))
    assert learnt.step == pytest.approx(true, rel=0.08)
    assert learnt.sd < foot().sd
    # What is foretold of the next move is what the last one did, level by level.
    told = learnt.misses(shadows(lit(0.0)), 3)
    assert told == pytest.approx(shadows(lit(3 * true)).misses, abs=0.1)
    nothing = Shadows(shadows(lit(0.0)).wanted, np.zeros(6), np.full(6, 1e-3), 0.0, WHITE, LEVEL)
    assert foot().learn(3, nothing, nothing).step == foot().step


@pytest.mark.parametrize("signal", [0.2, 0.25, 0.3])
def test_a_bias_learnt_at_another_level_is_the_same_offset(signal: float) -> None:
    learnt = 2.2 * STEP * (1.0 - signal) / signal
    assert NearBlackModel.prior(bias_light(learnt, signal)).step == pytest.approx(STEP)


def test_what_is_wanted_may_run_ahead_of_the_biases() -> None:
    """On a tube whose black comes up with them BT.1886 asks for more each time: half of each step is lost."""
    light, after = lit(-5 * STEP), lit(-2 * STEP)
    before, now = shadows(light), shadows(after)
    ahead = Shadows(now.wanted * np.sqrt(after / light), after, now.sd, 0.0, WHITE, LEVEL)
    learnt = foot().learn(3, before, ahead)
    assert learnt.shares == pytest.approx(np.full(6, 0.5), abs=0.1)
    assert len(SHOULDER) == len(learnt.shoulder(now, 1.0))
