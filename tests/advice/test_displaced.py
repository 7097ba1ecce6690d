"""Levels of multi-point that act elsewhere than at their names are told from what trips have moved."""

import numpy as np
import pytest

from aequitone.advice.points import PointEffect
from aequitone.advice.points.displaced import Felt, acting_scale
from aequitone.advice.points.words import displaced_words

_LEVELS = np.arange(20, 0, -1) / 20.0
_SD = 0.002


def felt(scale: float, levels: list[int], steps: int = 3, seed: int = 0, amount: float = 1.0) -> Felt:
    """What some levels have moved where `scale` of the signal reaches them, of a screen that does `amount`."""
    rng = np.random.default_rng(seed)
    by = np.zeros((len(_LEVELS), 3))
    by[levels] = steps * rng.choice([-1, 1], len(levels))[:, None] + rng.integers(-1, 2, (len(levels), 3))
    uneven = np.exp(0.15 * rng.standard_normal((len(_LEVELS), 1)))
    change = amount * PointEffect.prior(_LEVELS, 50.0).weights(scale * _LEVELS) @ (by * uneven)
    change = change + _SD * rng.standard_normal(change.shape)
    alike = np.broadcast_to(by, (len(_LEVELS), *by.shape))
    return Felt(_LEVELS, alike, change, np.full(change.shape, _SD**2))


@pytest.mark.parametrize("scale", [0.72, 0.85, 1.2])
@pytest.mark.parametrize("amount", [0.6, 1.5])
def test_how_much_of_the_signal_reaches_them_is_told(scale: float, amount: float) -> None:
    effect = PointEffect.prior(_LEVELS, 50.0)
    for seed in range(5):
        trip = felt(scale, [4, 6, 8, 9, 11, 13], seed=seed, amount=amount)
        assert acting_scale(effect, [trip]) == pytest.approx(scale, abs=0.04)


@pytest.mark.parametrize("scale", [0.98, 1.0, 1.02])
def test_levels_that_act_at_their_names_are_left_alone(scale: float) -> None:
    effect = PointEffect.prior(_LEVELS, 50.0)
    for seed in range(30):
        rng = np.random.default_rng([seed, 7])
        trips = [felt(scale, sorted(rng.choice(20, 6, replace=False)), seed=seed + at) for at in range(2)]
        assert acting_scale(effect, trips) == 1.0


def test_a_slip_of_the_hand_is_no_displacement() -> None:
    effect = PointEffect.prior(_LEVELS, 50.0)
    for seed in range(20):
        asked, made = [3, 5, 8, 10, 12], [3, 5, 8, 10, 13]
        told, really = felt(1.0, asked, seed=seed), felt(1.0, made, seed=seed)
        assert acting_scale(effect, [Felt(told.signal, told.steps, really.change, really.variance)]) == 1.0
        still = Felt(told.signal, told.steps, np.zeros_like(told.change), told.variance)
        assert acting_scale(effect, [still]) == 1.0


def test_it_is_said_by_a_level_that_a_picture_still_has() -> None:
    assert "50 % is felt at about 69 %" in displaced_words(range(100, 0, -5), 0.72)
    assert "5 % is felt" in displaced_words([10, 5], 0.06)
    assert acting_scale(PointEffect.prior(_LEVELS, 50.0), []) == 1.0
