"""What lies beyond a screen is marked and never counted as an error."""

import numpy as np
import pytest

from aequitone.advice.answers.encoding import transfer_of, usual_formula
from aequitone.colorimetry import Formula, delta_e_itp
from aequitone.colorimetry.transfer import pq_encode, pq_light, roll_off_from
from aequitone.procedures.policy import policy_for
from aequitone.reference import grey_errors, light_band, mean_error, mean_error_sd, target_named, with_knee
from aequitone.signal import Transfer

LADDER = np.arange(100.0, -1.0, -10.0)


def test_a_screen_is_not_held_to_light_that_it_does_not_have() -> None:
    target = target_named("p3in2020-pq/added")
    xyz = target.grey(LADDER, 700.0)
    xyz[3] *= 0.8
    errors = grey_errors(LADDER, xyz, target, white=700.0, sd=xyz * 0.002)
    beyond = pq_light(LADDER / 100.0) > 700.0
    assert beyond.sum() == 3
    assert (errors.beyond == beyond).all()
    for figure in (errors.de2000, errors.deitp, errors.deitp_sd, errors.light):
        assert np.isnan(figure[beyond]).all()
        assert not np.isnan(figure[~beyond][:-1]).any()
    # Its cast is seen all the same.
    assert not np.isnan(errors.deitp_cast[beyond]).any()
    assert errors.deitp[3] == pytest.approx(float(delta_e_itp(xyz[3], target.grey(70.0, 700.0))))
    assert mean_error(errors.deitp, errors.deitp_noise) == pytest.approx(
        float(np.nanmean(np.sqrt(np.maximum(errors.deitp**2 - errors.deitp_noise**2 / 2.0, 0.0))))
    )
    assert mean_error_sd(errors.deitp_sd) > 0.0
    assert np.isnan(mean_error([np.nan], [np.nan]))


def test_by_a_roll_off_the_way_to_the_peak_is_a_part_of_the_target() -> None:
    target = target_named("p3in2020-pq4000")
    held = target.judged(LADDER, 700.0)
    assert (held == (pq_light(LADDER / 100.0) <= 4_000.0)).all()
    assert target.reach(700.0) == pytest.approx(100.0 * roll_off_from(4_000.0, 700.0))


def test_the_screens_own_roll_off_is_kept_above_its_knee() -> None:
    target = with_knee(target_named("p3in2020-pq/added@D75"), 0.612)
    assert target.name == "p3in2020-pqto61.20/added@D75"
    assert target == target_named(target.name)
    assert (target.gamut.name, target.container.name) == ("P3", "Rec.2020")
    assert target.judged([61.0, 62.0], 900.0).tolist() == [True, False]
    assert target.reach(900.0) == pytest.approx(61.2)
    # A screen whose peak lies below the knee is held to what it reaches.
    assert target.reach(100.0) == pytest.approx(100.0 * float(pq_encode(100.0)))
    assert target.luminance(0.5, 900.0, 0.1) == pytest.approx(float(pq_light(0.5)) + 0.1)
    # What is rolled off from a mastering peak has another knee, and no other law is touched.
    assert with_knee(target_named("rec2020-pq1000"), 0.55).name == "rec2020-pqto55.00/added"
    assert with_knee(target_named("rec709-2.2/added"), 0.5) == target_named("rec709-2.2/added")
    for name in ("rec709-pqto5", "rec709-pqto100", "rec709-pqto61.234"):
        with pytest.raises(ValueError, match="there is no target"):
            target_named(name)


@pytest.mark.parametrize("tone", ["pq/added", "pq1000", "pq4000", "pqto60/added"])
def test_all_kinds_of_pq_are_sent_as_pq_and_led_by_itp(tone: str) -> None:
    target = target_named(f"p3in2020-{tone}")
    assert transfer_of(target) is Transfer.PQ
    assert usual_formula(target) is Formula.ITP
    assert usual_formula(target_named("rec709-2.2/added")) is Formula.DE2000
    assert usual_formula(target_named("rec2020-hlg")) is Formula.ITP


@pytest.mark.parametrize("light", [0.05, 1.0, 20.0, 100.0, 800.0])
def test_light_of_hdr_is_read_as_exactly_as_itp_asks(light: float) -> None:
    target = target_named("p3in2020-pq/added")
    sd = policy_for(light, 1000.0, 0.05, absolute=True).sd
    white = target.white.xyz()
    off = float(delta_e_itp(white * (light + sd), white * light))
    # As exact as a tenth of what is seen; in the dark not more than a meter can do.
    assert off < 0.2 or light < 0.5
    assert sd <= policy_for(light * 1.2, 1000.0, 0.05, absolute=True).sd * 1.0001


def test_the_band_of_what_is_not_seen_goes_by_the_formula() -> None:
    target = target_named("p3in2020-pq/added")
    ((percent, low, high),) = light_band(target, (50.0,), peak=1000.0, formula=Formula.ITP)
    assert percent == 50.0
    wanted = target.grey(50.0, 1000.0)
    for share in (low, high):
        assert float(delta_e_itp(wanted * (1.0 + share / 100.0), wanted)) == pytest.approx(1.0, abs=0.05)
