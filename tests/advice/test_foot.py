"""Near black: what is wanted there, and how far all biases should go together."""

import numpy as np
import pytest

from aequitone.advice.points.foot import GOOD_LIGHT, NEAR_BLACK, Foot, Shadows, off, wanted_light
from aequitone.colorimetry.arrays import Array
from aequitone.reference import target_named

WHITE = 100.0
V = np.array(NEAR_BLACK) / 100.0
STEP = 0.0009


def lit(offset: float, black: float = 0.0) -> Array:
    """Light of a 2.2 screen whose drive is off by so much, on top of a black that leaks."""
    return black + WHITE * np.maximum(V + offset, 0.0) ** 2.2


def shadows(light: Array, black: float = 0.0, target: str = "rec709-2.2") -> Shadows:
    wanted = wanted_light(target_named(target), np.array(NEAR_BLACK), WHITE, black)
    return Shadows(wanted, light, np.full(len(light), 1e-5), black, WHITE)


def foot() -> Foot:
    known = Foot.prior(2.2 * STEP * 0.7 / 0.3)
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
    found = shadows(light).best_steps(foot(), (-50, 50), 0)
    assert abs(found - steps) <= 1
    assert np.sign(found) == np.sign(steps)


def test_what_is_right_or_hidden_in_noise_is_left() -> None:
    assert shadows(lit(0.0)).best_steps(foot(), (-50, 50), 0) == 0
    wanted = shadows(lit(0.0)).wanted
    noisy = Shadows(wanted, wanted * 1.3, wanted * 0.4, 0.0, WHITE)
    assert off(noisy.wanted, noisy.light, noisy.sd).max() < GOOD_LIGHT
    assert noisy.best_steps(foot(), (-50, 50), 0) == 0


def test_end_stops_hold() -> None:
    assert shadows(lit(-6 * STEP)).best_steps(foot(), (-50, 1), 0) <= 1


def test_what_white_balance_has_set_is_not_undone() -> None:
    coarse = Foot.prior(2.2 * 0.02 * 0.7 / 0.3)
    # A step that moves 30 % by a tenth does more harm there than good in the dark.
    assert shadows(lit(-0.012)).best_steps(coarse, (-50, 50), 0) == 0
    near, far = (shadows(lit(-8 * STEP)).best_steps(foot(), (-50, 50), moved) for moved in (0, 30))
    assert near > far


def test_black_that_leaks_does_not_pull_the_shadows_down() -> None:
    black = 0.08
    wanted = wanted_light(target_named("rec709-2.2"), np.array(NEAR_BLACK), WHITE, black)
    assert off(wanted, lit(0.0, black), np.zeros(6)).max() < 0.01
    assert shadows(lit(0.0, black), black).best_steps(foot(), (-50, 50), 0) == 0


def test_a_step_is_learnt_from_what_it_did() -> None:
    true = 0.0014
    learnt = foot().learn(3, lit(0.0), lit(3 * true), np.full(6, 1e-5), WHITE)
    assert learnt.step == pytest.approx(true, rel=0.08)
    assert learnt.sd < foot().sd
    assert foot().learn(3, np.zeros(6), np.zeros(6), np.full(6, 1e-3), WHITE) == foot()
