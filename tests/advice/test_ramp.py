"""A step on a ramp is told from a course that bends and from noise."""

import numpy as np
import pytest

from aequitone.advice.colours.ramp import RAMP, largest_step
from aequitone.reference import target_named
from aequitone.reference.saturations import SIX, saturation_signal

TARGET = target_named("rec709-2.2/added")
WHITE = TARGET.white.xyz(100.0)


def wanted(colour: str) -> np.ndarray:
    signal = np.array([saturation_signal(colour, at, 75.0) for at in RAMP]) / 100.0
    return TARGET.colour(signal, 100.0)


@pytest.mark.parametrize("colour", SIX)
def test_an_error_that_grows_and_bends_is_no_step(colour: str) -> None:
    aim = wanted(colour)
    share = (np.array(RAMP) / 100.0)[:, None]
    seen = aim * (1.0 + 0.25 * share**2 * np.array([1.0, -0.4, 0.6]))
    assert not largest_step(seen, aim, 0.001 * seen, WHITE).is_seen


@pytest.mark.parametrize("colour", SIX)
def test_a_jump_is_found_where_it_is(colour: str) -> None:
    aim = wanted(colour)
    seen = aim.copy()
    seen[6:] *= 1.10
    step = largest_step(seen, aim, 0.001 * seen, WHITE)
    assert step.is_seen
    assert step.above == RAMP[5]


def test_noise_alone_is_no_step() -> None:
    rng, aim = np.random.default_rng(5), wanted("red")
    sd = 0.02 * aim
    told = [largest_step(aim + rng.normal(0.0, sd), aim, sd, WHITE) for _ in range(200)]
    assert max(step.size for step in told) > 1.0
    assert sum(step.is_seen for step in told) <= 2


def test_a_step_as_large_as_noise_may_make_one_is_doubtful() -> None:
    aim = wanted("green")
    seen = aim.copy()
    seen[6:] *= 1.10
    sure, noisy = (largest_step(seen, aim, share * seen, WHITE) for share in (0.001, 0.05))
    assert not sure.is_doubtful
    assert noisy.is_doubtful
    assert not noisy.is_seen
    assert not largest_step(aim, aim, 0.05 * aim, WHITE).is_doubtful
