"""What has moved since a memory was left: told by its kind, and never from noise."""

import numpy as np
import pytest

from aequitone.advice.last_look import PERCENTS, moved
from aequitone.colorimetry import D65, REC709

PERCENT = np.array(PERCENTS)
THEN = D65.xyz() * (100.0 * (PERCENT[:, None] / 100.0) ** 2.2 + 0.05)
SD = 0.002 * THEN + 1e-4


def changed(
    gains: tuple[float, float, float] = (1.0, 1.0, 1.0), lift: float = 0.0, gamma: float = 2.2
) -> np.ndarray:
    """The greys after a change of the channels' gains, of a lift of blue in the dark, or of the gamma."""
    linear = (PERCENT[:, None] / 100.0) ** gamma * np.array(gains)
    linear = linear + lift * (1.0 - PERCENT[:, None] / 100.0) * np.array([0.0, 0.0, 0.01])
    return REC709.xyz(linear * 100.0) + D65.xyz(0.05)


def test_noise_and_a_little_drift_are_no_change() -> None:
    rng = np.random.default_rng(12)
    looks = [THEN * (1.0 + rng.uniform(-0.01, 0.01)) + SD * rng.standard_normal(THEN.shape) for _ in range(4000)]
    # Four spreads are passed by chance about once in 16,000 times.
    assert sum(bool(moved(PERCENT, THEN, look, SD)) for look in looks) <= 1


@pytest.mark.parametrize(
    ("now", "what", "likely"),
    [
        (changed((0.8, 0.8, 0.8)), "White gives -20 % light.", "light output"),
        (changed((1.0, 1.0, 0.93)), "in u'v'", "gains"),
        (changed(lift=0.4), "10 % has gone", "biases"),
        (changed(gamma=2.4), "Against white, 30 % gives", "gamma preset"),
        (changed() + D65.xyz(0.3), "Black went from 0.0500 to 0.3500", "black level"),
    ],
)
def test_what_moved_is_named_with_what_to_look_at(now: np.ndarray, what: str, likely: str) -> None:
    told = moved(PERCENT, THEN, now, SD)
    assert any(what in each.what and likely in each.likely for each in told), told


def test_a_cast_that_shows_in_no_grey_alone_shows_in_all_together() -> None:
    # Each grey is read too roughly to tell; three of them with the same cast are not.
    rough = 0.0025 * THEN + 1e-4
    told = moved(PERCENT, THEN, changed((1.03, 1.0, 1.0)), rough)
    assert [each.what.partition(",")[0] for each in told] == ["All greys have gone warm magenta"]
    assert "gains" in told[0].likely
    # White alone, which reaches its ceiling, would not do.
    one = THEN.copy()
    one[0] = changed((1.03, 1.0, 1.0))[0]
    assert moved(PERCENT, THEN, one, rough) == ()
