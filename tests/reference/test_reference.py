"""Targets and errors."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from aequitone.colorimetry import D65, xyY_from_xyz
from aequitone.reference import TARGETS, Verdict, grey_errors, mean_error, target_named, verdict, without_noise

PERCENTS = np.array([100.0, 80.0, 30.0, 10.0])


@pytest.mark.parametrize("name", TARGETS)
def test_a_screen_on_target_has_no_error(name: str) -> None:
    target = target_named(name)
    errors = grey_errors(PERCENTS, target.grey(PERCENTS, 120.0, 0.05), target, white=120.0, black=0.05)
    for values in (errors.de2000, errors.de2000_cast, errors.deitp, errors.deitp_cast, errors.light, errors.cast):
        assert values == pytest.approx(np.zeros_like(values), abs=1e-6)


def test_grey_is_at_the_white_point_and_at_the_power_law() -> None:
    x, y, Y = xyY_from_xyz(target_named("rec709-2.4").grey(50.0, 100.0))
    assert (x, y) == (pytest.approx(0.3127), pytest.approx(0.3290))
    assert pytest.approx(100 * 0.5**2.4) == Y


def test_bt1886_starts_from_the_measured_black() -> None:
    assert target_named("rec709-bt1886").grey(0.0, 100.0, 0.08)[1] == pytest.approx(0.08)


@given(st.floats(-20.0, 20.0))
def test_too_much_light_is_light_error_and_no_cast(percent: float) -> None:
    target = TARGETS["rec709-2.2"]
    xyz = target.grey(PERCENTS[1:], 100.0) * (1 + percent / 100)
    errors = grey_errors(PERCENTS[1:], xyz, target, white=100.0)
    assert errors.light == pytest.approx(np.full(3, percent), abs=1e-6)
    assert errors.de2000_cast == pytest.approx(np.zeros(3), abs=1e-5)
    if abs(percent) > 1:
        assert (errors.de2000 > 0.02).all()


def test_spread_follows_the_noise() -> None:
    target = TARGETS["rec709-2.2"]
    aim = target.grey(PERCENTS, 100.0)
    off = aim * [1.06, 1.0, 0.94]
    small, large = (
        grey_errors(PERCENTS, off, target, white=100.0, sd=aim * share).de2000_sd for share in (0.001, 0.004)
    )
    # Away from the target, to first order, four times the noise is four times the spread.
    assert large / small == pytest.approx(np.full(4, 4.0), rel=0.1)
    assert (grey_errors(PERCENTS, off, target, white=100.0).de2000_sd == 0).all()


def test_spread_matches_repeated_readings() -> None:
    target, rng = TARGETS["rec709-2.2"], np.random.default_rng(5)
    aim = target.grey(PERCENTS, 100.0) * [1.02, 1.0, 0.97]
    sd = aim * 0.003
    repeats = aim + rng.normal(size=(4000, 4, 3)) * sd
    seen = np.array([grey_errors(PERCENTS, r, target, white=100.0).de2000 for r in repeats]).std(axis=0)
    assert grey_errors(PERCENTS, aim, target, white=100.0, sd=sd).de2000_sd == pytest.approx(seen, rel=0.2)


@pytest.mark.parametrize(
    ("de", "expected"), [(0.99, Verdict.NOT_VISIBLE), (1.0, Verdict.SIDE_BY_SIDE), (3.0, Verdict.VISIBLE)]
)
def test_verdicts(de: float, expected: Verdict) -> None:
    assert verdict(de) is expected


def test_an_unknown_target_names_those_there_are() -> None:
    with pytest.raises(ValueError, match=r"no target “vivid”.*rec709-2\.2"):
        target_named("vivid")


def test_white_is_relative() -> None:
    errors = grey_errors([100.0], D65.xyz(87.0)[None], TARGETS["rec709-2.2"], white=87.0)
    assert errors.de2000 == pytest.approx([0.0], abs=1e-9)


def test_other_whites_and_tones_are_named_and_found_again() -> None:
    warm = target_named("rec709-2.3@D55")
    assert warm.label == "Rec.709, D55, gamma 2.3"
    assert warm.white.x == pytest.approx(0.33243)
    # 0.305, 0.320 as a second meter may have read it off another screen.
    matched = target_named("rec709-bt1886@0.305,0.32")
    assert (matched.white.x, matched.white.y) == (0.305, 0.32)
    for target in (warm, matched, *TARGETS.values()):
        assert target_named(target.name) == target
    grey = matched.grey(50.0, 100.0)
    assert grey[0] / grey.sum() == pytest.approx(0.305)
    assert target_named("rec709-2.2@d65") == TARGETS["rec709-2.2"]


@pytest.mark.parametrize(
    ("name", "words"),
    [
        ("rec709-2.9", "there is no target"),
        ("p4-2.2", "there is no target"),
        ("rec709-2.2/deep", "there is no target"),
        ("rec709-srgb/scaled", "sRGB is not scaled to black; choose black added or ideal zero"),
        ("xy:0.64,0.33:0.3,0.6-2.2", "there is no target"),
        ("xy:0.6,0.3:0.4,0.3:0.2,0.3-2.2", "there is no target"),
        ("rec709-9.9", "there is no target"),
        ("rec709-2.2@D70", "there is no white “D70”"),
        ("rec709-2.2@0.31", "there is no white"),
        ("rec709-2.2@1.3,0.3", "both lie between 0 and 1"),
        ("rec709-2.2@0.64,0.33", "is a colour"),
    ],
)
def test_a_target_that_cannot_be_says_why(name: str, words: str) -> None:
    with pytest.raises(ValueError, match=words):
        target_named(name)


@pytest.mark.parametrize("off", [0.006, 0.012, 0.03])
def test_the_average_is_that_of_the_screen_and_not_of_the_meters_noise(off: float) -> None:
    rng, target = np.random.default_rng(4), target_named("rec709-2.2")
    percents = np.arange(100.0, 0.0, -10.0)
    true = target.grey(percents, 100.0) * np.array([1.0 + off, 1.0, 1.0 - off])
    sd = 0.003 * true
    clean = float(grey_errors(percents, true, target, white=100.0).de2000.mean())
    told, raw = [], []
    for _ in range(200):
        read = grey_errors(percents, true + rng.normal(size=true.shape) * sd, target, white=100.0, sd=sd)
        told.append(mean_error(read.de2000, read.de2000_noise))
        raw.append(float(read.de2000.mean()))
    assert np.mean(told) == pytest.approx(clean, abs=0.07)
    assert abs(np.mean(told) - clean) < abs(np.mean(raw) - clean)


def test_what_noise_adds_to_a_level_is_taken_out_of_it() -> None:
    # The second level was read closely, and is further off than the first really is.
    seen, noise = np.array([1.2, 1.1, np.nan, 0.2]), np.array([1.3, 0.1, 0.1, 0.9])
    told = without_noise(seen, noise)
    assert told[0] == pytest.approx(np.sqrt(1.2**2 - 1.3**2 / 2.0))
    assert int(np.nanargmax(told)) == 1
    assert np.isnan(told[2])
    assert told[3] == 0.0
    assert mean_error(seen, noise) == pytest.approx(np.nanmean(told))
