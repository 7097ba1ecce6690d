"""The zoo: screens drawn at random, the same for the same number, and all of the family."""

from collections import Counter

import numpy as np
import pytest

from aequitone.reference import target_named
from aequitone.standins.bench import build_bench
from aequitone.standins.zoo import is_kept, zoo_screen

LADDER = tuple(float(percent) for percent in range(100, 0, -10))
NUMBERS = range(60)


def test_a_screen_is_the_same_for_the_same_number() -> None:
    assert zoo_screen(7) == zoo_screen(7)
    assert zoo_screen(7) != zoo_screen(8)


def test_a_third_is_kept() -> None:
    assert sum(map(is_kept, range(300))) == 100


def test_the_family_is_wide() -> None:
    screens = [zoo_screen(number).screen for number in NUMBERS]
    for drawn in (
        Counter(screen.technology for screen in screens),
        Counter(screen.path.gains_on for screen in screens),
        Counter(screen.path.biases for screen in screens),
        Counter(screen.path.tone for screen in screens),
        Counter(screen.multi_point is None for screen in screens),
        Counter(min(screen.path.clips_share) < 1.0 for screen in screens),
    ):
        assert len(drawn) > 1
        assert max(drawn.values()) < 0.9 * len(screens)


@pytest.mark.parametrize("number", range(12))
def test_a_screen_is_one_that_a_calibrator_could_meet(number: int) -> None:
    scenario = zoo_screen(number)
    bench = build_bench(scenario, number)
    light = bench.screen.light_of_signal(np.linspace(0.0, 1.0, 41)[:, None] * np.ones(3))[:, 1]
    assert (np.diff(light) > -1e-3 * light[-1]).all()
    assert 20.0 < light[-1] < 500.0
    errors = bench.true_de2000(LADDER, target_named(scenario.visit.target), bench.screen.settings())
    assert 0.3 < np.mean(errors) < 12.0
