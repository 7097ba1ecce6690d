"""What a ladder is believed to be: readings that are noise are not chased, what stands out of it is."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.advice.test_points import controls, known

from aequitone.advice.points import Grid, PointEffect, PointPlanner, Tracked
from aequitone.advice.points.belief import Belief
from aequitone.advice.points.goal import log_variance
from aequitone.advice.points.problem import Problem
from aequitone.colorimetry import REC709
from aequitone.colorimetry.arrays import Array
from aequitone.reference import target_named

TARGET = target_named("rec709-2.4/added")
PLANNER = PointPlanner(TARGET, 0.0)
PERCENTS = np.arange(100.0, 0.0, -5.0)
# Of every reading, X, Y and Z: what a colorimeter's noise is at a second or two.
NOISE = 0.004


def right() -> Array:
    """A ladder that is right, XYZ (L, 3)."""
    return TARGET.grey(PERCENTS, 100.0, 0.05)


def off_by(spread: float, rng: np.random.Generator) -> Array:
    """A ladder whose channels are off by so much in log light, each level by itself."""
    light = np.log(REC709.rgb(right())) + spread * rng.standard_normal((len(PERCENTS), 3))
    return REC709.xyz(np.exp(light))


def read(xyz: Array, rng: np.random.Generator) -> Tracked:
    """The ladder as it reads, with noise."""
    seen = xyz * (1.0 + NOISE * rng.standard_normal(xyz.shape))
    grid = Grid.of(controls())
    offsets = np.repeat(grid.offsets[None], len(xyz), axis=0)
    return Tracked(PERCENTS, seen, NOISE * xyz, offsets, 0.05)


def off(xyz: Array, true: Array) -> Array:
    """How far log light against white is off, (L, 3)."""
    return np.asarray(np.log(REC709.rgb(xyz) / xyz[0, 1]) - np.log(REC709.rgb(true) / true[0, 1]))


def of_reading(ladders: list[Array], rng: np.random.Generator) -> float:
    """How far beliefs are off, as a share of how far readings are, both squared."""
    told = np.zeros(2)
    for true in ladders:
        tracked = read(true, rng)
        believed = Belief.of(PLANNER, tracked, tracked.xyz).xyz
        told += [float((off(xyz, true) ** 2).sum()) for xyz in (believed, tracked.xyz)]
    return float(told[0] / told[1])


@pytest.mark.parametrize(("spread", "most"), [(0.0, 0.2), (0.004, 0.5), (0.012, 0.95), (0.05, 1.1)])
def test_what_is_believed_lies_nearer_to_the_truth_than_what_was_read(spread: float, most: float) -> None:
    rng = np.random.default_rng(11)
    assert of_reading([off_by(spread, rng) for _ in range(20)], rng) < most


def test_what_neighbours_say_is_heard() -> None:
    """A smooth error that noise hides at each level alone is seen in the ladder as a whole."""
    bow = 0.012 * np.sin(np.pi * PERCENTS / 100.0)[:, None] * np.array([0.0, 0.3, 1.0])
    true = REC709.xyz(np.exp(np.log(REC709.rgb(right())) + bow))
    assert of_reading([true] * 20, np.random.default_rng(20)) < 0.5


def test_a_ladder_that_is_all_noise_is_believed_to_be_nearly_right() -> None:
    rng = np.random.default_rng(12)
    tracked = read(right(), rng)
    believed = Belief.of(PLANNER, tracked, tracked.xyz)
    assert PLANNER.delta(tracked, tracked.xyz).mean() > 0.4
    assert PLANNER.delta(tracked, believed.xyz).mean() < 0.2


def test_one_level_that_is_far_off_stays_far_off() -> None:
    rng = np.random.default_rng(13)
    true = right()
    true[8] *= (1.06, 1.0, 0.94)
    tracked = read(true, rng)
    believed = PLANNER.delta(tracked, Belief.of(PLANNER, tracked, tracked.xyz).xyz)
    seen = PLANNER.delta(tracked, tracked.xyz)
    assert seen[8] > 4.0
    assert believed[8] > 0.8 * seen[8]


def test_the_doubt_that_is_left_is_true() -> None:
    rng = np.random.default_rng(14)
    inside = []
    for _ in range(40):
        bow = 0.008 * np.sin(np.pi * PERCENTS / 100.0 + rng.uniform(0.0, 6.0))[:, None] * rng.standard_normal(3)
        true = REC709.xyz(np.exp(np.log(REC709.rgb(off_by(0.004, rng))) + bow))
        tracked = read(true, rng)
        belief = Belief.of(PLANNER, tracked, tracked.xyz)
        sd = np.sqrt((belief.root**2).sum(axis=1)).reshape(-1, 3)
        # 100 %, which all others are held to, has no other to be judged by.
        inside.append(float((np.abs(off(belief.xyz, true)) <= sd)[1:].mean()))
    assert 0.5 < np.mean(inside) < 0.8


def test_exact_readings_are_taken_as_they_are() -> None:
    tracked = read(off_by(0.02, np.random.default_rng(15)), np.random.default_rng(16))
    exact = Tracked(tracked.percents, tracked.xyz, 1e-9 * tracked.xyz, tracked.offsets, tracked.black)
    belief = Belief.of(PLANNER, exact, exact.xyz)
    np.testing.assert_allclose(belief.xyz, exact.xyz, rtol=1e-6)


@settings(max_examples=25, deadline=None)
@given(seed=st.integers(0, 2**32 - 1), sd=st.floats(1e-5, 0.5))
def test_what_was_read_near_black_is_taken_as_it_reads(seed: int, sd: float) -> None:
    tracked = read(off_by(0.01, np.random.default_rng(seed)), np.random.default_rng(seed))
    foot = Tracked(tracked.percents, tracked.xyz, sd * tracked.xyz, tracked.offsets, tracked.black, foot=3)
    belief = Belief.of(PLANNER, foot, foot.xyz)
    np.testing.assert_allclose(belief.xyz[-3:], foot.xyz[-3:], rtol=1e-9)
    assert np.isfinite(belief.root).all()


def test_a_new_reading_is_as_noisy_as_the_last() -> None:
    tracked = read(right(), np.random.default_rng(17))
    belief = Belief.of(PLANNER, tracked, tracked.xyz)
    variance = (belief.noise**2).sum(axis=2)
    np.testing.assert_allclose(variance, log_variance(tracked.xyz, tracked.sd, REC709), rtol=1e-6)


def test_each_control_of_a_trip_has_its_price() -> None:
    rng = np.random.default_rng(18)
    tracked = read(off_by(0.012, rng), rng)
    grid = Grid.of(controls(20))
    effect = PointEffect.prior(grid.signal, 50.0)
    levels = [i for i, percent in enumerate(grid.percents) if percent > 0]
    offsets = np.repeat(grid.offsets[None], len(PERCENTS), axis=0)
    told = Tracked(PERCENTS, tracked.xyz, tracked.sd, offsets, tracked.black)
    moves = [
        PointPlanner(TARGET, 0.0, least_of_a_control=price).propose_together(told, effect, grid, levels)
        for price in (0.0, 10.0)
    ]
    assert moves[0] is not None
    assert moves[1] is None


def with_foot(light: tuple[float, float], sd: tuple[float, float]) -> tuple[Tracked, Grid]:
    """A ladder that is right, and what was read at 3 and 1 %: shares of what is wanted, and their spreads."""
    grid, percents = Grid.of(controls(20)), np.append(PERCENTS, [3.0, 1.0])
    aim = TARGET.grey(percents, 100.0, 0.0)
    xyz, spread = aim.copy(), 1e-4 * aim
    xyz[-2:] *= np.array(light)[:, None]
    # Of the darkest, one channel gives nothing yet: its logarithm has no bounds.
    xyz[-1] = light[1] * aim[-1, 1] * np.array([0.3, 1.0, 0.01])
    spread[-2:] = np.array(sd)[:, None] * aim[-2:]
    offsets = np.repeat(grid.offsets[None], len(percents), axis=0)
    return Tracked(percents, xyz, spread, offsets, 0.0, foot=2), grid


@pytest.mark.parametrize(
    ("light", "sd", "turned"),
    [((1.0, 0.02), (0.04, 0.4), False), ((1.0, 0.3), (0.04, 0.4), False), ((0.6, 0.6), (0.02, 0.05), True)],
)
def test_only_what_the_meter_sees_near_black_turns_the_darkest_level(
    light: tuple[float, float], sd: tuple[float, float], turned: bool
) -> None:
    tracked, grid = with_foot(light, sd)
    effect = known(PointEffect.prior(grid.signal, 50.0))
    darkest = len(grid.percents) - 1
    steps = Problem(PLANNER, tracked, effect, grid, tracked.xyz).solved([darkest])[0][0]
    # What is rounded to no step turns nothing.
    assert bool(np.abs(steps).max() > 0.5) is turned


def test_what_is_not_known_of_a_step_is_counted_where_it_is_felt_near_black() -> None:
    tracked, grid = with_foot((1.15, 1.15), (0.02, 0.05))
    prior = PointEffect.prior(grid.signal, 50.0)
    darkest = len(grid.percents) - 1
    # In light: near black no colour is held to anything.
    bold, careful = (
        float(Problem(PLANNER, tracked, effect, grid, tracked.xyz).solved([darkest])[0][0] @ REC709.xyz_matrix[1])
        for effect in (known(prior), prior)
    )
    assert bold < 0.95 * careful < 0.0
