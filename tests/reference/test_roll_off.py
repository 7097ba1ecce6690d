"""PQ that is rolled off to a screen's own peak (ITU-R BT.2390-11, 5.4.1)."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from aequitone.colorimetry.transfer import pq_encode, pq_light, roll_off_from, rolled_off
from aequitone.reference import target_named

SIGNAL = np.linspace(0.0, 1.0, 2001)
masterings, peaks = st.floats(300.0, 10_000.0), st.floats(60.0, 9_000.0)


def test_the_knee_of_the_recommendation_for_a_screen_of_600() -> None:
    # By hand from equations 1 to 4: maxLum = PQ(600) / PQ(4000), KS = 1.5 maxLum - 0.5.
    scale = float(pq_encode(4000.0))
    most = float(pq_encode(600.0)) / scale
    knee = 1.5 * most - 0.5
    assert roll_off_from(4000.0, 600.0) == pytest.approx(knee * scale)
    middle = (knee + 1.0) / 2.0
    # At T = 1/2 the spline is KS / 2 + (1 - KS) / 8 + maxLum / 2.
    wanted = knee / 2.0 + (1.0 - knee) / 8.0 + most / 2.0
    assert rolled_off(middle * scale, 4000.0, 600.0) == pytest.approx(float(pq_light(wanted * scale)))


@given(mastering=masterings, peak=peaks)
def test_below_the_knee_nothing_changes_and_above_it_light_rises_to_the_peak(
    mastering: float, peak: float
) -> None:
    light, knee = rolled_off(SIGNAL, mastering, peak), roll_off_from(mastering, peak)
    below = knee > SIGNAL
    assert light[below] == pytest.approx(pq_light(SIGNAL[below]), rel=1e-9, abs=1e-12)
    assert (np.diff(light) >= -1e-9 * light.max()).all()
    assert light[-1] == pytest.approx(peak, rel=1e-6)
    beyond = float(pq_encode(max(mastering, peak))) < SIGNAL
    assert np.allclose(light[beyond], light[-1])


@given(mastering=st.floats(800.0, 10_000.0), peak=st.floats(60.0, 700.0))
def test_it_leaves_the_law_without_a_bend(mastering: float, peak: float) -> None:
    knee = roll_off_from(mastering, peak)
    step = 1e-5
    slopes = [float(np.diff(pq_encode(rolled_off(np.array([a, a + step]), mastering, peak)))[0] / step)
              for a in (knee - 2 * step, knee + step)]  # fmt: skip
    assert slopes == pytest.approx([1.0, 1.0], abs=0.01)


def test_black_is_lifted_to_the_screens_own_and_little_else() -> None:
    lifted = rolled_off(SIGNAL, 1000.0, 600.0, 0.05)
    assert lifted[0] == pytest.approx(0.05, rel=1e-3)
    half = len(SIGNAL) // 2
    assert lifted[half] == pytest.approx(float(rolled_off(0.5, 1000.0, 600.0)), rel=0.03)


def test_a_screen_that_reaches_the_mastering_peak_rolls_nothing_off() -> None:
    assert roll_off_from(1000.0, 1500.0) == pytest.approx(float(pq_encode(1000.0)))
    inside = float(pq_encode(1000.0)) >= SIGNAL
    assert rolled_off(SIGNAL, 1000.0, 1500.0)[inside] == pytest.approx(pq_light(SIGNAL[inside]))


def test_targets_of_it_have_names_and_say_how_far_a_screen_reaches() -> None:
    target = target_named("p3in2020-pq4000")
    assert target.label == "P3 in Rec.2020, D65, PQ rolled off from 4\N{NO-BREAK SPACE}000 cd/m²"
    assert target_named(target.name) == target
    assert target_named("rec2020-pq1200").tone.luminance(1.0, 500.0, 0.0, target.black) == pytest.approx(500.0)
    assert target.reach(600.0) == pytest.approx(100.0 * roll_off_from(4000.0, 600.0))
    assert target_named("p3in2020-pq/zero").reach(600.0) == pytest.approx(100.0 * float(pq_encode(600.0)))
    assert target_named("rec709-2.2/added").reach(100.0) == 100.0
    for wrong in ("rec2020-pq99", "rec2020-pq20000", "rec2020-pq0"):
        with pytest.raises(ValueError, match="there is no target"):
            target_named(wrong)


def test_a_grey_on_it_is_right_where_the_screen_rolls_off_so() -> None:
    target = target_named("p3in2020-pq4000")
    grey = target.grey(np.array([40.0, 60.0, 80.0, 100.0]), 600.0, 0.0)
    assert grey[:, 1] == pytest.approx(rolled_off(np.array([0.4, 0.6, 0.8, 1.0]), 4000.0, 600.0))
