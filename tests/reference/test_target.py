"""A target as a value: gamuts, tones and black, against colour-science and against each other."""

import warnings
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from aequitone.advice.points import PointPlanner, Tracked
from aequitone.advice.points.near_black import wanted_light
from aequitone.advice.two_point.mover import Mover
from aequitone.colorimetry import D65, REC709, WHITES, Gamut
from aequitone.reference import (
    GAMUTS,
    TONES,
    BlackReference,
    Hlg,
    PqRolled,
    grey_errors,
    other_blacks,
    primaries_name,
    target_name,
    target_named,
    with_light,
    with_white,
)

with warnings.catch_warnings():
    # It warns of optional packages for plotting.
    warnings.simplefilter("ignore")
    import colour

SIGNALS = np.random.default_rng(2026).random((10_000, 3))
NAMES = [
    target_name(tone, D65, black, gamut)
    for gamut in GAMUTS
    for tone, law in TONES.items()
    for black in law.black_references
]
WHITE, BLACK = 118.0, 0.061
ABSOLUTE = [
    f"{name}={light}" for name, light in (("rec709-2.4/added", 96), ("p3-bt1886", 150), ("rec2020-hlg", 700))
]


def light_of(tone: str, black: BlackReference) -> np.ndarray:
    """The light of each channel by colour-science, cd/m²."""
    if tone == "bt1886":
        return colour.models.eotf_BT1886(SIGNALS, L_B=BLACK, L_W=WHITE)
    if tone == "pq":
        below = BLACK if black is BlackReference.ADDED else 0.0
        return np.minimum(colour.models.eotf_ST2084(SIGNALS) + below, WHITE)
    if tone == "srgb":
        relative = colour.models.eotf_sRGB(SIGNALS)
    elif black is BlackReference.SCALED:
        gamma = float(tone)
        a = (WHITE ** (1 / gamma) - BLACK ** (1 / gamma)) ** gamma
        b = BLACK ** (1 / gamma) / (WHITE ** (1 / gamma) - BLACK ** (1 / gamma))
        return a * (SIGNALS + b) ** gamma
    else:
        relative = colour.gamma_function(SIGNALS, float(tone))
    return relative * (WHITE - BLACK) + BLACK if black is BlackReference.ADDED else relative * WHITE


# That library has no roll-off; tests/reference/test_roll_off.py holds it to the Recommendation.
@pytest.mark.parametrize("name", [name for name in NAMES if not isinstance(target_named(name).tone, PqRolled)])
def test_a_colour_is_what_colour_science_makes_of_it(name: str) -> None:
    target = target_named(name)
    spaces = {"rec709": "ITU-R BT.709", "p3": "Display P3"}
    gamut, _, rest = name.partition("-")
    space = colour.RGB_COLOURSPACES[spaces.get(gamut, "ITU-R BT.2020")]
    matrix = colour.normalised_primary_matrix(space.primaries, [D65.x, D65.y])
    tone = rest.partition("/")[0]
    law = target.tone
    expected = hlg_light(matrix, law.surround) if isinstance(law, Hlg) else light_of(tone, target.black)
    # The other library gives ST 2084's own rounded constants, and HLG's luma to four digits.
    assert target.colour(SIGNALS, WHITE, BLACK) == pytest.approx(expected @ matrix.T, rel=2e-4, abs=1e-4)


def hlg_light(matrix: np.ndarray, surround: float) -> np.ndarray:
    """The light of each channel by colour-science, cd/m², with the luma of the primaries that are asked for."""
    constants = colour.models.rgb.transfer_functions.itur_bt_2100
    before = constants.WEIGHTS_BT2100_HLG
    constants.WEIGHTS_BT2100_HLG = matrix[1]
    try:
        gamma = 1.2 * 1.111 ** np.log2(WHITE / 1000.0) * 0.98 ** np.log2(surround / 5.0)
        return constants.eotf_BT2100_HLG_2(SIGNALS, L_B=BLACK, L_W=WHITE, gamma=gamma)
    finally:
        constants.WEIGHTS_BT2100_HLG = before


@pytest.mark.parametrize("name", NAMES + ABSOLUTE)
def test_a_target_is_found_by_its_name(name: str) -> None:
    target = target_named(name)
    assert target.name == name
    assert target_named(target.name) == target
    for white in WHITES.values():
        other = with_white(target, white)
        assert replace(other, name=target.name, white=target.white) == target
        assert other.white == white


def test_primaries_of_ones_own() -> None:
    own = Gamut("own primaries", (0.66, 0.33), (0.27, 0.66), (0.15, 0.05), D65)
    target = target_named(f"{primaries_name(own)}-2.35/added@D75")
    assert target.gamut == target.container == own
    red = target.colour([1.0, 0.0, 0.0], 100.0)
    assert red[:2] / red.sum() == pytest.approx([0.66, 0.33])
    white = target.colour([1.0, 1.0, 1.0], 100.0)
    assert white == pytest.approx(WHITES["D75"].xyz(100.0))
    assert target_named(target.name) == target


greys = st.floats(min_value=0.0, max_value=100.0)
whites = st.floats(min_value=20.0, max_value=1500.0)
blacks = st.floats(min_value=0.0, max_value=0.5)


@given(st.sampled_from(NAMES + ABSOLUTE), greys, whites, blacks)
def test_a_grey_is_a_colour_of_three_like_signals(name: str, percent: float, white: float, black: float) -> None:
    target = target_named(name)
    colour = target.colour(np.full(3, percent / 100.0), white, black)
    assert colour == pytest.approx(target.grey(percent, white, black), rel=1e-9, abs=1e-9)


@given(st.sampled_from(NAMES), whites, blacks)
def test_black_and_white_are_where_the_black_reference_says(name: str, white: float, black: float) -> None:
    target = target_named(name)
    assert float(target.luminance(1.0, white, black)) == pytest.approx(white)
    expected = 0.0 if target.black is BlackReference.ZERO else black
    # The roll-off lifts black by its PQ signal less that of no light, which is not quite 0.
    near = 2e-4 if isinstance(target.tone, PqRolled) else 1e-9
    assert float(target.luminance(0.0, white, black)) == pytest.approx(expected, abs=near)
    rise = np.diff(target.luminance(np.linspace(0.0, 1.0, 101), white, black))
    assert (rise >= -1e-12).all()


@given(st.sampled_from(NAMES + ABSOLUTE), st.floats(min_value=1.0, max_value=95.0), whites, blacks)
def test_every_station_means_the_same_light(name: str, percent: float, white: float, black: float) -> None:
    """Ladder, White, Tone, near black, Proof and report: what is on target by one is on target by all."""
    target = target_named(name)
    xyz = np.array([target.grey(level, white, black) for level in (100.0, percent, max(0.5, percent / 2.0))])
    ladder = grey_errors([100.0, percent, max(0.5, percent / 2.0)], xyz, target, white=white, black=black)
    held = target.judged([100.0, percent, max(0.5, percent / 2.0)], white)
    assert ladder.de2000[held] == pytest.approx(np.zeros(held.sum()), abs=1e-6)
    assert np.isnan(ladder.de2000[~held]).all()
    assert ladder.target[1, 1] == pytest.approx(float(wanted_light(target, np.array([percent]), white, black)[0]))
    mover = Mover(target, percent, max(0.5, percent / 2.0), black)
    assert mover.errors(xyz) == pytest.approx(np.zeros(3), abs=1e-6)
    tracked = Tracked(
        np.array([100.0, percent, max(0.5, percent / 2.0)]), xyz, xyz * 0.01, np.zeros((3, 1, 3)), black
    )
    planner = PointPlanner(target, 0.02)
    assert planner.delta(tracked, xyz) == pytest.approx(np.zeros(3), abs=1e-6)
    assert planner.delta_at(tracked, xyz[1:2], 1, white) == pytest.approx([0.0], abs=1e-6)


def test_absolute_light_is_held_to_whatever_white_gives() -> None:
    target = target_named("rec709-2.4/added@D75=120")
    assert target.label == "Rec.709, D75, gamma 2.4, black added, white 120 cd/m²"
    assert target.grey(100.0, 140.0, 0.05)[1] == pytest.approx(120.0)
    assert target.luminance(0.5, 140.0, 0.05) == pytest.approx(119.95 * 0.5**2.4 + 0.05)
    bright = grey_errors([100.0, 50.0], target.grey([100.0, 50.0], 120.0) * 1.1, target, white=132.0)
    assert bright.light == pytest.approx([10.0, 10.0])
    assert (bright.de2000 > 1.0).all()
    relative = with_light(target, 0.0)
    assert relative.name == "rec709-2.4/added@D75"
    assert with_light(relative, 120.0) == target
    assert with_white(target, D65).name == "rec709-2.4/added=120"


@pytest.mark.parametrize(
    ("name", "words"),
    [
        ("rec709-2.4=0.2", "1 to 10\N{NO-BREAK SPACE}000"),
        ("rec709-2.4=1.2.3", "no luminance"),
        ("rec2020-pq=300", "PQ says by itself"),
    ],
)
def test_light_that_cannot_be_wanted_is_refused(name: str, words: str) -> None:
    with pytest.raises(ValueError, match=words):
        target_named(name)


def test_pq_and_hlg_give_the_published_light() -> None:
    # SMPTE ST 2084 and ITU-R BT.2408: 58 % of PQ is 203 cd/m², and so is 75 % of HLG on a peak of 1,000.
    pq, hlg = target_named("p3in2020-pq/zero"), target_named("p3in2020-hlg")
    assert float(pq.luminance(0.580689, 1000.0, 0.0)) == pytest.approx(203.0, rel=1e-4)
    assert float(pq.luminance(1.0, 640.0, 0.01)) == 640.0
    assert float(hlg.luminance(0.75, 1000.0, 0.0)) == pytest.approx(203.0, rel=5e-3)
    assert pq.tone.absolute
    assert not hlg.tone.absolute


def test_a_brighter_room_wants_shadows_of_hlg_lifted() -> None:
    dark, usual, bright = (target_named(f"rec2020-{name}") for name in ("hlgin1", "hlg", "hlgin60"))
    light = [float(target.luminance(0.3, 1000.0, 0.0)) for target in (dark, usual, bright)]
    assert light == sorted(light)
    whites = [float(target.luminance(1.0, 1000.0, 0.0)) for target in (dark, usual, bright)]
    assert whites == pytest.approx([1000.0] * 3, rel=1e-6)
    assert bright.label == "Rec.2020, D65, HLG in a room of 60 cd/m²"
    assert target_named("rec2020-hlgin12.5@D75").tone == Hlg(12.5)
    with pytest.raises(ValueError, match="there is no target"):
        target_named("rec2020-hlgin600")


def test_level_0_has_light_and_no_delta_e() -> None:
    xyz = np.array([REC709.xyz(np.ones(3)) * 100.0, REC709.xyz(np.ones(3)) * 0.05])
    errors = grey_errors([100.0, 0.0], xyz, target_named("rec709-2.2/added"), white=100.0, black=0.05)
    for each in (errors.de2000, errors.de2000_sd, errors.de2000_cast, errors.deitp, errors.deitp_cast):
        assert np.isnan(each[1])
        assert np.isfinite(each[0])


def test_what_the_others_would_ask_for_is_said() -> None:
    told = other_blacks(target_named("rec709-2.4/added"), 5.0, 100.0, 0.06)
    assert told == "At 5 % black added asks for 0.135 cd/m²; scaled to black 0.336 and ideal zero 0.0754."
    assert other_blacks(target_named("rec709-2.4/added"), 5.0, 100.0, 0.0) == ""
    assert other_blacks(target_named("rec709-bt1886"), 5.0, 100.0, 0.06) == ""
