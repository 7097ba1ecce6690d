"""Correcting one meter by another."""

import numpy as np
import pytest
from benchmarks import correction as bench
from hypothesis import given
from hypothesis import strategies as st

from aequitone.colorimetry import REC709, uv_from_xyz
from aequitone.colorimetry.correction import four_colour, least_squares

RGBW = REC709.xyz([[100, 0, 0], [0, 100, 0], [0, 0, 100], [100, 100, 100]])
CROOKED = np.array([[1.05, -0.02, 0.01], [0.03, 0.97, -0.01], [0.0, 0.02, 1.10]])


def others(seed: int) -> np.ndarray:
    return REC709.xyz(np.random.default_rng(seed).uniform(1.0, 100.0, (40, 3)))


@pytest.mark.parametrize("method", [four_colour, least_squares])
def test_a_meter_that_is_a_matrix_away_is_set_right(method: object) -> None:
    fit = method(RGBW, RGBW @ CROOKED.T)  # type: ignore[operator]
    assert fit.matrix @ CROOKED == pytest.approx(np.eye(3), abs=1e-9)
    assert fit.worst_uv < 1e-9
    assert fit.worst_light < 1e-6


def test_four_colours_do_not_mind_levels_that_moved_between_the_meters() -> None:
    # Ohno and Hardis use chromaticities alone, so that a lamp may fade between the two readings of a primary.
    faded = (RGBW @ CROOKED.T) * np.array([[0.9], [1.1], [0.8], [1.0]])
    fit = four_colour(RGBW, faded)
    assert uv_from_xyz(others(1) @ CROOKED.T @ fit.matrix.T) == pytest.approx(uv_from_xyz(others(1)), abs=1e-9)
    assert least_squares(RGBW, faded).worst_uv > 1e-3


@given(st.integers(0, 500))
def test_many_noisy_colours_are_corrected_better_than_the_noise_of_one(seed: int) -> None:
    rng = np.random.default_rng(seed)
    wanted = others(seed)
    noise = 0.002 * rng.standard_normal(wanted.shape)
    # White is held as it was read, so that its own noise stays; the others are averaged.
    noise[3] = 0.0
    seen = (wanted @ CROOKED.T) * (1.0 + noise)
    fresh = others(seed + 1000)
    left = np.linalg.norm(
        uv_from_xyz(fresh @ CROOKED.T @ least_squares(wanted, seen).matrix.T) - uv_from_xyz(fresh), axis=1
    )
    assert left.mean() < 0.0006


def test_what_no_matrix_can_set_right_is_not_left_on_white() -> None:
    # A fourth light that is only there in white and grey, and that the field meter sees otherwise.
    wanted = np.vstack([RGBW, others(3)])
    extra = np.array([[0.03, 0.01, -0.04]]) * wanted.min(axis=1, keepdims=True)
    seen = wanted @ CROOKED.T + extra
    fit = least_squares(wanted, seen)
    assert fit.matrix @ seen[3] == pytest.approx(wanted[3], rel=1e-9)
    assert fit.uv[3] < 1e-9 < fit.worst_uv


@pytest.mark.parametrize(
    ("reference", "field", "sentence"),
    [
        (RGBW[:3], RGBW[:3], "at least 4 colours, got 3"),
        (others(1), others(1), "red, green, blue and white, got 40"),
        (RGBW, RGBW[:3], "each colour needs both readings"),
        (RGBW * [[1], [1], [1], [0]], RGBW, "a colour without light"),
        (np.ones((4, 3)), RGBW, "lie on one line"),
    ],
)
def test_what_corrects_nothing_is_refused(reference: np.ndarray, field: np.ndarray, sentence: str) -> None:
    with pytest.raises(ValueError, match=sentence):
        four_colour(reference, field)
    with pytest.raises(ValueError, match="too close together"):
        least_squares(np.ones((5, 3)), np.ones((5, 3)))


def test_simulated_meters_agree_after_correction_on_colours_not_used() -> None:
    left = bench.residuals("wide-lcd", "led-lcd", seeds=2)
    assert left.before.mean() > 0.003
    assert left.four.max() < 0.0005
    white_pixel = bench.residuals("white-oled", "led-lcd", seeds=2)
    assert white_pixel.four.mean() < white_pixel.before.mean()
