"""Which control of a colour management stood elsewhere than noted, told from all that was turned since."""

from dataclasses import replace

import numpy as np
import pytest
from tests.advice.test_colour_controls import HSL, did, steps_for, told

from aequitone.advice.colours import Belief, Observation, stood_elsewhere
from aequitone.colorimetry.arrays import Array

NOWHERE = np.zeros(len(HSL))
# The place among the trips at which colours were kept: as found, or after the first.
PLACES = (0, 1)


def off_by(place: int, off: int) -> Array:
    return np.where(np.arange(len(HSL)) == place, float(off), 0.0)


def trips(*truly: tuple[Array, Array], seed: int = 5, noise: float = 1e-4) -> Belief:
    """What was learnt of trips: the steps as noted, and as they were really turned."""
    rng, belief = np.random.default_rng(seed), Belief.prior(HSL)
    for noted, made in truly:
        change = did(made)
        belief = belief.learn(told(noted, change + noise * rng.normal(size=change.shape)))
    return belief


def back(made: Array, seed: int = 6, noise: float = 1e-4) -> Observation:
    """How colours read, back where all stands as listed, against how they did."""
    change = did(made)
    return told(NOWHERE, change + noise * np.random.default_rng(seed).normal(size=change.shape))


@pytest.mark.parametrize("when", PLACES)
@pytest.mark.parametrize(("place", "off"), [(7, 10), (0, -12), (16, 5)])
def test_the_control_and_its_way_are_told(place: int, off: int, when: int) -> None:
    elsewhere = off_by(place, off)
    first, second, third = (steps_for(seed) + off_by(place, 4) for seed in (1, 2, 3))
    # It stood elsewhere from the beginning, or was turned there by the first trip; the next set it right.
    made = [(first, first + elsewhere), (second, second - elsewhere), (third, third)]
    belief = trips(*(made if when else [(first, first - elsewhere), *made[2:]]))
    stood = stood_elsewhere(belief, HSL, when, back(-elsewhere))
    assert stood is not None
    assert np.flatnonzero(stood).tolist() == [place]
    # What a step does is itself learnt from two or three trips; it is turned there, read, and told anew.
    assert 0.5 <= stood[place] / off <= 1.1


@pytest.mark.parametrize("seed", range(5))
def test_nothing_is_told_where_all_reads_as_it_did(seed: int) -> None:
    belief = trips(*[(steps_for(each), steps_for(each)) for each in (seed, seed + 20)], seed=seed)
    assert stood_elsewhere(belief, HSL, 0, back(NOWHERE, seed=seed + 50)) is None


def test_a_control_that_nobody_turned_is_not_told() -> None:
    turned = np.where(np.arange(len(HSL)) < 9, steps_for(4), 0.0)
    stood = stood_elsewhere(trips((turned, turned)), HSL, 0, back(off_by(15, -10)))
    assert stood is None or not stood[9:].any()


def test_no_control_stood_beyond_its_range() -> None:
    place, off = 7, 10
    near_the_end = tuple(
        each if at != place else replace(each, value=each.highest - 4) for at, each in enumerate(HSL)
    )
    first = np.where(np.arange(len(HSL)) == place, -6.0, steps_for(1))
    belief = trips((first, first - off_by(place, off)))
    stood = stood_elsewhere(belief, near_the_end, 0, back(-off_by(place, off)))
    assert stood is None or stood[place] <= 4
