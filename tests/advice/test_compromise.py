"""What a curve makes of a picture: shares that can be counted by hand, and what a screen gives by its greys."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from aequitone.advice.answers.compromise import LightCurve, made_of
from aequitone.colorimetry.transfer import pq_encode, pq_light, rolled_off
from aequitone.reference import target_named
from aequitone.signal.pictures.hdr_scenes import HDR_SCENES, HEIGHT, WIDTH

CUT = LightCurve.of_target(target_named("p3in2020-pq/added"), 100.0)


def grey(*light: float) -> np.ndarray:
    return np.array(light)[:, None] * np.ones(3)


def test_a_hard_cut_clips_what_lies_above_it_and_darkens_nothing() -> None:
    made = made_of(grey(1.0, 50.0, 90.0, 150.0, 1000.0), CUT)
    assert made.clipped == pytest.approx(2 / 5)
    assert made.darker == 0.0
    assert CUT.clips_at == pytest.approx(100.0, rel=0.02)
    assert made_of(grey(5.0, 20.0), CUT).light == pytest.approx(1.0, abs=0.01)


def test_a_roll_off_darkens_instead() -> None:
    whole = LightCurve.of_target(target_named("p3in2020-pq4000"), 100.0)
    picture = grey(1.0, 50.0, 90.0, 150.0, 1000.0)
    made = made_of(picture, whole)
    assert made.clipped < 2 / 5
    assert made.darker > 0.0
    assert whole(np.array([150.0]))[0] == pytest.approx(
        float(rolled_off(pq_encode(150.0), 4_000.0, 100.0)), rel=0.01
    )


@given(st.floats(60.0, 2_000.0))
def test_the_more_of_the_top_is_kept_the_darker_and_the_less_clipped(peak: float) -> None:
    ends = [LightCurve.of_target(target_named(f"p3in2020-pq{m:.0f}"), peak) for m in (1_000, 4_000, 10_000)]
    for scene in HDR_SCENES:
        made = [made_of(scene.light, end) for end in ends]
        assert [m.clipped for m in made] == sorted((m.clipped for m in made), reverse=True)
        assert [m.light for m in made] == sorted((m.light for m in made), reverse=True)
        assert all(0.0 <= m.clipped + m.darker <= 1.0 for m in made)


@given(st.floats(0.0, 0.2), st.integers(0, 100))
def test_a_screen_is_known_by_its_greys(black: float, seed: int) -> None:
    signal = np.arange(0.2, 1.001, 0.05)
    light = black + rolled_off(signal, 1_000.0, 300.0)
    order = np.random.default_rng(seed).permutation(len(signal))
    curve = LightCurve.of_greys(signal[order], light[order], black)
    meant = np.array([0.05, 0.5, 5.0, 40.0, 300.0, 5_000.0])
    given_ = black + rolled_off(pq_encode(meant), 1_000.0, 300.0)
    assert curve(meant) == pytest.approx(np.minimum(given_, 300.0 + black), rel=0.03)
    assert (np.diff(curve.given) >= 0.0).all()


def test_the_scenes_are_of_this_light() -> None:
    brightest = [float(np.percentile(scene.light.max(axis=-1), 99)) for scene in HDR_SCENES]
    middle = [float(np.median(scene.light.max(axis=-1))) for scene in HDR_SCENES]
    assert middle == sorted(middle)
    assert max(brightest) > 1_000.0
    assert float(pq_light(1.0)) > HDR_SCENES[-1].light.max() > 4_000.0
    for scene in HDR_SCENES:
        assert scene.light.shape == (HEIGHT, WIDTH, 3)
        assert (scene.light >= 0.0).all()
        assert scene.light is scene.light
