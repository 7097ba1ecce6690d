"""Transfer functions, temperatures and casts against published figures."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from aequitone.colorimetry import D65, WHITES, cast_of, cast_word, light_error, xyz_from_uvY, xyz_from_xyY
from aequitone.colorimetry.cast import JUST_VISIBLE_UV
from aequitone.colorimetry.cct import cct_and_duv
from aequitone.colorimetry.transfer import bt1886_light, hlg_gamma, power_light, pq_encode, srgb_codes


def test_pq_gives_the_published_signals() -> None:
    # SMPTE ST 2084 and ITU-R BT.2408: 100 cd/m² is 51 %, 203 is 58 %, 1,000 is 75 %, 10,000 is 100 %.
    signal = pq_encode([0.0, 100.0, 203.0, 1000.0, 10000.0])
    assert signal == pytest.approx([0.0, 0.508078, 0.580689, 0.751827, 1.0], abs=1e-6)


def test_bt1886_meets_white_and_black_and_is_2_4_between_zero_and_one() -> None:
    # ITU-R BT.1886, annex 1: L = Lw at V = 1, L = Lb at V = 0; with Lb = 0 it is V^2.4.
    assert bt1886_light([0.0, 1.0], 100.0, 0.1) == pytest.approx([0.1, 100.0])
    assert bt1886_light(0.5, 100.0, 0.0) == pytest.approx(100.0 * 0.5**2.4)


@given(st.floats(0.0, 1.0), st.floats(0.001, 1.0))
def test_bt1886_lifts_the_dark_end(signal: float, black: float) -> None:
    lifted, plain = bt1886_light(signal, 100.0, black), bt1886_light(signal, 100.0, 0.0)
    assert lifted >= plain - 1e-9


def test_bt1886_refuses_a_black_above_white() -> None:
    with pytest.raises(ValueError, match="black 5 and white 4"):
        bt1886_light(0.5, 4.0, 5)


def test_srgb_codes_are_the_published_ones() -> None:
    # IEC 61966-2-1: 18 % light is code 118, half light is 188, and the straight part has slope 12.92.
    assert srgb_codes([-0.1, 0.0, 0.001, 0.18, 0.5, 1.0, 1.2]).tolist() == [0, 0, 3, 118, 188, 255, 255]


@given(st.floats(0.0, 1.0), st.floats(1.0, 3.0))
def test_a_power_law_is_one(signal: float, gamma: float) -> None:
    assert power_light(signal, gamma) == pytest.approx(signal**gamma, abs=1e-12)
    assert power_light(-signal, gamma) == 0.0


def test_temperature_of_published_whites() -> None:
    # CIE 15: D65 is 6504 K (Duv +0.0032), illuminant A is 2856 K on the locus.
    a = xyz_from_xyY([0.44758, 0.40745, 1.0])
    (d65, d65_duv), (a_kelvin, a_duv) = cct_and_duv(np.stack([D65.xyz(), a]))
    assert d65 == pytest.approx(6504, abs=10)
    assert d65_duv == pytest.approx(0.0032, abs=2e-4)
    assert a_kelvin == pytest.approx(2856, abs=5)
    assert a_duv == pytest.approx(0.0, abs=2e-4)


def test_temperature_is_refused_far_from_the_locus_and_without_light() -> None:
    green = xyz_from_xyY([0.30, 0.60, 10.0])
    assert np.isnan(cct_and_duv(np.stack([green, np.zeros(3)]))).all()


@pytest.mark.parametrize(("white", "word"), [("D55", "warm"), ("D75", "cool"), ("D93", "cool")])
def test_daylight_is_named_warm_or_cool(white: str, word: str) -> None:
    assert cast_of(WHITES[white].xyz(), D65.xyz()).word == word


def test_green_and_magenta_are_named() -> None:
    # Off the locus, Duv positive is green (CIE 1960: v is two thirds of v').
    u, v = 0.1978, 0.4683
    assert cast_of(xyz_from_uvY([u - 0.0088, v + 0.0047], 1.0), D65.xyz()).word == "green"
    assert cast_of(xyz_from_uvY([u + 0.0088, v - 0.0047], 1.0), D65.xyz()).word == "magenta"


@given(st.floats(-0.05, 0.05), st.floats(-0.05, 0.05))
def test_a_cast_below_what_can_be_seen_is_even(warm: float, green: float) -> None:
    assert (cast_word(warm, green) == "even") == (np.hypot(warm, green) < JUST_VISIBLE_UV)


@given(st.floats(0.01, 500.0), st.floats(-90.0, 200.0))
def test_light_error_in_percent(luminance: float, percent: float) -> None:
    error = light_error(D65.xyz(luminance * (1 + percent / 100.0)), D65.xyz(luminance))
    assert error == pytest.approx(percent, abs=1e-6)


def test_no_cast_without_light() -> None:
    assert cast_of([0.0, 0.0, 0.0], D65.xyz()).size == 0.0


@pytest.mark.parametrize(
    ("peak", "surround", "gamma"),
    [
        # ITU-R BT.2390-9, 6.2, worked out by hand: 1.2 times 1.111 for every doubling of the peak, times 0.98 for
        # every doubling of the surround.
        (1000.0, 5.0, 1.2),
        (2000.0, 5.0, 1.3332),
        (500.0, 5.0, 1.0801),
        (4000.0, 5.0, 1.4812),
        (1000.0, 10.0, 1.176),
        (1000.0, 80.0, 1.1068),
        (500.0, 1.25, 1.1246),
        (100.0, 20.0, 0.8124),
    ],
)
def test_the_system_gamma_of_hlg_goes_by_peak_and_room(peak: float, surround: float, gamma: float) -> None:
    assert float(hlg_gamma(peak, surround)) == pytest.approx(gamma, abs=2e-4)
