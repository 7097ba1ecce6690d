"""The upper end under PQ: peak, knee and curve, found in greys that a screen's own errors bend."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from aequitone.advice.answers.shoulder import ShoulderKind, fit_shoulder
from aequitone.colorimetry.transfer import pq_encode, pq_light, roll_off_from, rolled_off

COARSE = np.arange(0.2, 1.0001, 0.05)


def with_fine(knee: float) -> np.ndarray:
    """The greys of Peak: coarse ones, and closer ones about where the knee is."""
    near = round(knee * 200.0) / 200.0 + np.array([-0.04, -0.02, -0.01, 0.0, 0.01, 0.02, 0.04])
    return np.unique(np.round(np.concatenate([COARSE, near[near < 1.0]]), 6))


def off(light: np.ndarray, scale: float, gamma: float, peak: float, noise: float, seed: int) -> np.ndarray:
    """What a screen makes of it whose light and gamma are a little off, as a meter reads it."""
    rng = np.random.default_rng(seed)
    own = scale * peak * (light / peak) ** gamma
    return own * (1.0 + noise * rng.standard_normal(len(light)))


faults = st.tuples(st.floats(0.95, 1.05), st.floats(0.985, 1.015), st.integers(0, 1000))


@settings(max_examples=60, deadline=None)
@given(st.floats(150.0, 1500.0), st.sampled_from((2_000.0, 4_000.0, 10_000.0)), faults)
def test_bt2390_is_known_by_its_curve(peak: float, mastering: float, fault: tuple[float, float, int]) -> None:
    knee = roll_off_from(mastering, peak)
    signal = with_fine(knee)
    light = off(rolled_off(signal, mastering, peak), fault[0], fault[1], peak, 0.001, fault[2])
    found = fit_shoulder(signal, light, 0.001 * light)
    if peak < 0.6 * mastering:
        assert found.kind is ShoulderKind.SPLINE
        assert found.mastering == mastering
    assert found.knee == pytest.approx(knee, abs=0.01)
    assert found.peak == pytest.approx(fault[0] * peak, rel=0.005)


@settings(max_examples=60, deadline=None)
@given(st.floats(150.0, 2500.0), faults)
def test_a_hard_cut_is_known_to_a_part_of_a_step(peak: float, fault: tuple[float, float, int]) -> None:
    knee = float(pq_encode(peak))
    signal = with_fine(knee)
    light = off(np.minimum(pq_light(signal), peak), fault[0], fault[1], peak, 0.001, fault[2])
    found = fit_shoulder(signal, light, 0.001 * light)
    assert found.kind is ShoulderKind.CLIP
    assert found.knee == pytest.approx(knee, abs=0.006)
    assert found.knee_light == pytest.approx(float(pq_light(found.knee)))


@settings(max_examples=40, deadline=None)
@given(st.floats(0.35, 0.85), st.floats(300.0, 1500.0), faults)
def test_a_roll_off_of_its_own_is_not_taken_for_a_cut(
    share: float, peak: float, fault: tuple[float, float, int]
) -> None:
    meant = lambda signal: pq_light(signal) / peak  # noqa: E731
    knee, exponent = float(pq_encode(share * peak)), 1.0 / (1.0 - share)

    def bent(signal: np.ndarray) -> np.ndarray:
        above = share + (1.0 - share) * (1.0 - np.exp(-np.maximum(meant(signal) - share, 0.0) * exponent))
        return np.where(meant(signal) <= share, meant(signal), above)

    signal = with_fine(knee)
    light = off(peak * bent(signal), fault[0], fault[1], peak, 0.001, fault[2])
    found = fit_shoulder(signal, light, 0.001 * light)
    assert found.kind is not ShoulderKind.CLIP
    # Where so soft a bend begins is known no better: of 1,500 drawn 4 were off by over 0.015, by 0.021 at most.
    assert found.knee == pytest.approx(knee, abs=0.025)


def test_a_screen_that_reaches_all_has_no_knee() -> None:
    light = pq_light(COARSE)
    found = fit_shoulder(COARSE, light, 0.001 * light)
    assert found.kind is ShoulderKind.NONE
    assert found.knee == 1.0


def test_black_is_taken_off_before_the_curve_is_looked_at() -> None:
    knee = float(pq_encode(500.0))
    light = np.minimum(pq_light(with_fine(knee)), 500.0) + 0.3
    found = fit_shoulder(with_fine(knee), light, 0.001 * light, black=0.3)
    assert found.kind is ShoulderKind.CLIP
    assert found.knee == pytest.approx(knee, abs=0.003)
    assert found.peak == pytest.approx(500.3)


def test_a_mastering_peak_that_the_source_names_is_one_to_look_for() -> None:
    knee = roll_off_from(1_600.0, 500.0)
    light = rolled_off(with_fine(knee), 1_600.0, 500.0)
    assert fit_shoulder(with_fine(knee), light, 0.001 * light).kind is ShoulderKind.OWN
    named = fit_shoulder(with_fine(knee), light, 0.001 * light, named=1_600.0)
    assert (named.kind, named.mastering) == (ShoulderKind.SPLINE, 1_600.0)


def test_what_cannot_be_told_is_refused() -> None:
    with pytest.raises(ValueError, match="six greys"):
        fit_shoulder(np.array([0.1, 0.5, 1.0]), np.ones(3), np.ones(3))
    with pytest.raises(ValueError, match="no light"):
        fit_shoulder(COARSE, np.zeros(len(COARSE)), np.full(len(COARSE), 1e-3))
