"""Drift fitted to anchors: the simplest course that they allow."""

import numpy as np
import pytest

from aequitone.procedures.grey.drift import fitted

TIMES = np.array([0.0, 5.0, 40.0, 80.0, 120.0, 150.0])
WHITE = np.array([95.0, 100.0, 109.0])


def anchors(course: np.ndarray, noise: float, seed: int = 0) -> tuple[np.ndarray, np.ndarray]:
    xyz = WHITE * course[:, None] * (1.0 + noise * np.random.default_rng(seed).standard_normal((len(course), 3)))
    return xyz, np.broadcast_to(WHITE * noise, xyz.shape)


def test_noise_is_not_taken_for_drift() -> None:
    shapes = [fitted(TIMES, *anchors(np.ones(6), 0.001, seed)).shape for seed in range(100)]
    assert shapes.count("none") > 90


@pytest.mark.parametrize(
    ("course", "shape"),
    [
        (1.0 - 0.03 * TIMES / 150.0, "line"),
        (1.0 - 0.04 * (TIMES / 150.0) ** 2, "curve"),
        (np.where(TIMES > 60, 0.95, 1.0), "between"),
    ],
)
def test_the_course_is_followed(course: np.ndarray, shape: str) -> None:
    drift = fitted(TIMES, *anchors(course, 0.0005))
    assert drift.shape == shape
    assert drift.at(TIMES)[:, 1] == pytest.approx(course, abs=0.002)
    assert drift.percent == pytest.approx((course.min() - 1.0) * 100.0, abs=0.2)


def test_each_of_the_three_has_its_own_course() -> None:
    xyz, sd = anchors(np.ones(6), 0.0005)
    xyz[:, 2] *= 1.0 - 0.02 * TIMES / 150.0
    at_the_end = fitted(TIMES, xyz, sd).at(TIMES[-1:])[0]
    assert at_the_end == pytest.approx([1.0, 1.0, 0.98], abs=0.002)


def test_one_anchor_knows_of_no_drift() -> None:
    drift = fitted(TIMES[:1], WHITE[None], WHITE[None] * 0.001)
    assert drift.shape == "none"
    assert drift.at(np.array([0.0, 99.0])) == pytest.approx(np.ones((2, 3)))
