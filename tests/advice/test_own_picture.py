"""A client's own picture: what may be wished for, and the target that comes of it."""

import pytest

from aequitone.advice.own_picture import OwnWish, own_target, own_wish
from aequitone.colorimetry import WHITES
from aequitone.colorimetry.whites import daylight
from aequitone.reference import target_named


@pytest.mark.parametrize(("kelvin", "name"), [(5503, "D55"), (6504, "D65"), (7504, "D75")])
def test_daylight_is_that_of_the_standard(kelvin: float, name: str) -> None:
    white = daylight(kelvin)
    assert (white.x, white.y) == pytest.approx((WHITES[name].x, WHITES[name].y), abs=2e-4)


@pytest.mark.parametrize("kelvin", [3999.0, 25_001.0])
def test_no_daylight_beyond_its_locus(kelvin: float) -> None:
    with pytest.raises(ValueError, match="4000 to 25000 K"):
        daylight(kelvin)


@pytest.mark.parametrize(
    ("typed", "wish", "words"),
    [
        ("+30 %, +1000 K", OwnWish(30, 1000), "30 % brighter, 1000 K cooler"),
        ("-20%", OwnWish(-20, 0), "20 % darker"),
        ("-500k", OwnWish(0, -500), "500 K warmer"),
        ("40 %,1500 K", OwnWish(40, 1500), "40 % brighter, 1500 K cooler"),
    ],
)
def test_a_wish_is_understood_as_it_is_typed(typed: str, wish: OwnWish, words: str) -> None:
    assert own_wish(typed) == wish
    assert wish.words == words


@pytest.mark.parametrize(
    ("typed", "why"),
    [
        ("", "how far"),
        ("blue", "how far"),
        ("30", "how far"),
        ("+500 %", "-70 to"),
        ("-90 %", "-70 to"),
        ("+9000 K", "4000 to 12000"),
        ("-3000 K", "4000 to 12000"),
        ("%", "how far"),
    ],
)
def test_what_cannot_be_wished_for_is_said(typed: str, why: str) -> None:
    with pytest.raises(ValueError, match=why):
        own_wish(typed)


def test_only_white_differs_from_the_reference() -> None:
    reference = target_named("rec709-2.4/added")
    own = own_target(reference, OwnWish(30, 1000))
    assert own.tone == reference.tone
    assert own.gamut == reference.gamut
    assert own.white.x < reference.white.x
    assert target_named(own.name) == own
    assert own_target(reference, OwnWish(30, 0)) is reference
