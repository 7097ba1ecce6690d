"""The test pictures: every promised code where it was promised, in every depth and range."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from aequitone.signal import Container, Range, SignalFormat, Transfer, code_value
from aequitone.signal.pictures import PICTURES, Canvas, Picture, picture_named, render
from aequitone.signal.pictures.steps import BLACK_HOURS, WHITE_HOURS, black_steps
from aequitone.signal.ycc import ycc_codes

FORMATS = [SignalFormat(depth, range_) for depth in (8, 10, 12) for range_ in Range]


def ids(value: object) -> str:
    return value.key if isinstance(value, Picture) else f"{value.depth}-{value.range.value}"


@pytest.mark.parametrize("format_", FORMATS, ids=ids)
@pytest.mark.parametrize("picture", PICTURES, ids=ids)
def test_every_area_holds_its_code_and_every_code_is_allowed(picture: Picture, format_: SignalFormat) -> None:
    made = render(picture, 640, 360, format_)
    assert made.codes.shape == (360, 640, 3)
    guard = 0 if format_.range is Range.FULL else 1 << (format_.depth - 8)
    assert guard <= made.codes.min()
    assert made.codes.max() <= 2**format_.depth - 1 - guard
    for area in made.areas:
        rect = area.rect
        part = made.codes[rect.y : rect.y + rect.height, rect.x : rect.x + rect.width]
        assert part.size
        assert (part == area.codes).all(), area.name


@given(width=st.integers(64, 500), height=st.integers(36, 300), key=st.sampled_from([p.key for p in PICTURES]))
@settings(max_examples=60, deadline=None)
def test_pictures_fit_any_size(width: int, height: int, key: str) -> None:
    made = render(picture_named(key), width, height, SignalFormat(8))
    assert made.codes.shape == (height, width, 3)
    assert all(a.rect.x >= 0 and a.rect.x + a.rect.width <= width for a in made.areas)


@pytest.mark.parametrize("format_", FORMATS, ids=ids)
def test_steps_by_black_and_white_are_the_codes_of_the_practice(format_: SignalFormat) -> None:
    full, shift = format_.range is Range.FULL, format_.depth - 8
    discs = {area.name: area.codes for area in render(picture_named("black-steps"), 960, 540, format_).areas}
    hours = BLACK_HOURS[full].items()
    assert discs == {f"{hour} o'clock: {code}": (code << shift,) * 3 for hour, code in hours}
    white = {area.name: area.codes for area in render(picture_named("white-steps"), 960, 540, format_).areas}
    low = int(code_value(0.0, format_.depth, format_.range))
    for hour, code in WHITE_HOURS[full].items():
        assert white[f"green {hour} o'clock: {code}"] == (low, code << shift, low)
    # The hours that the questions for the eye speak of.
    black = 0 if full else 16
    assert [BLACK_HOURS[full][hour] for hour in range(1, 10)] == [black + hour for hour in range(1, 10)]
    assert all(BLACK_HOURS[full].get(hour, -1) < black for hour in (10, 11, 12))
    assert WHITE_HOURS[full][6] == (254 if full else 234)


@pytest.mark.parametrize("key", ["black-steps", "white-steps"])
def test_an_hour_lies_where_a_clock_has_it(key: str) -> None:
    areas = {
        " ".join(area.name.partition(":")[0].split()[-2:]): area.rect
        for area in render(picture_named(key), 960, 540, FORMATS[0]).areas
    }
    middle = {
        hour: (rect.x + rect.width / 2 - 480, 270 - rect.y - rect.height / 2) for hour, rect in areas.items()
    }
    assert middle["3 o'clock"][0] > 40.0
    assert abs(middle["3 o'clock"][1]) < 2.0
    assert middle["6 o'clock"][1] < -40.0
    assert abs(middle["6 o'clock"][0]) < 2.0
    assert middle["9 o'clock"][0] < -40.0


def test_the_ramp_has_every_code() -> None:
    codes = render(picture_named("ramp"), 1920, 108, SignalFormat(10)).codes
    assert set(codes[0, :, 0]) == set(range(64, 941))
    assert np.all(np.diff(codes[0, :, 1].astype(int)) >= 0)


def test_the_circle_is_round_and_the_arrows_touch_the_edges() -> None:
    format_ = SignalFormat(8)
    codes = render(picture_named("geometry"), 1280, 720, format_).codes[..., 1].astype(int)
    white, arrow = int(code_value(0.9, 8, Range.LIMITED)), int(code_value(0.75, 8, Range.LIMITED))
    row, column = codes[360 + 40], codes[:, 640 + 40]
    across = np.flatnonzero(row == white)
    down = np.flatnonzero(column == white)
    middle = (across > 3) & (across < 1276)
    assert across[middle].max() - 640 == pytest.approx(360 - down[(down > 3) & (down < 700)].min(), abs=2)
    assert (codes[0] == white).all()
    assert (codes[:, -1] == white).all()
    assert (codes[1] == arrow).any()
    assert (codes[:, 1] == arrow).any()
    assert (codes[:, -2] == arrow).any()


def test_what_blinks_and_moves_does_so_slowly_and_has_a_still_alternative() -> None:
    moving = [picture for picture in PICTURES if picture.moves]
    assert moving
    for picture in moving:
        assert picture.flashes_per_second < 3.0
        assert picture.warning
        assert not picture_named(picture.still).moves
    with pytest.raises(ValueError, match="flash 3 times a second"):
        Picture("x", "X", "", black_steps, black_steps, blinks_per_second=3.0)


def test_one_place_of_a_moving_picture_changes_less_than_three_times_a_second() -> None:
    picture = picture_named("moving-bars")
    light = [int(render(picture, 320, 90, SignalFormat(8), t).codes[45, 100, 0]) for t in np.arange(0, 4, 1 / 24)]
    rises = sum(b > a for a, b in pairwise(light))
    assert 0 < rises / 4.0 < 3.0


def test_blinking_shows_and_hides_the_bars() -> None:
    picture, format_ = picture_named("black-steps-blinking"), SignalFormat(8)
    lit, dark = (render(picture, 320, 180, format_, seconds).codes for seconds in (0.2, 0.7))
    assert (lit != dark).any()
    assert (render(picture, 320, 180, format_, 1.2).codes == lit).all()


def test_bars_are_one_with_their_blue_patches_by_blue_light() -> None:
    codes = render(picture_named("colour-bars"), 800, 450, SignalFormat(8)).codes[..., 2]
    assert (codes[100] == codes[300]).all()
    alone = render(picture_named("blue-of-bars"), 800, 450, SignalFormat(8)).codes
    assert (alone[100, :, 2] == codes[100]).all()
    assert (alone[..., :2] == 16).all()


def test_too_small_or_unknown() -> None:
    with pytest.raises(ValueError, match="at least 64 × 36"):
        Canvas(20, 20, SignalFormat(8))
    with pytest.raises(LookupError, match="there is no test picture “moon”"):
        picture_named("moon")


@pytest.mark.parametrize(
    ("rgb", "ycc"),
    # BT.709 bars of 75 % at 10 bit: published figures of the colour bar signal (ITU-R BT.471, BT.709).
    [
        ((721, 721, 721), (721, 512, 512)),
        ((64, 64, 64), (64, 512, 512)),
        ((940, 940, 940), (940, 512, 512)),
        ((721, 721, 64), (674, 176, 543)),
        ((64, 721, 721), (581, 589, 176)),
        ((64, 721, 64), (534, 253, 207)),
        ((721, 64, 721), (251, 771, 817)),
        ((721, 64, 64), (204, 435, 848)),
        ((64, 64, 721), (111, 848, 481)),
    ],
)
def test_ycc_of_the_bars(rgb: tuple[int, int, int], ycc: tuple[int, int, int]) -> None:
    made = ycc_codes(np.array([rgb], dtype=np.uint16), SignalFormat(10))
    assert np.abs(made[0].astype(int) - np.array(ycc)).max() <= 1


def test_greys_keep_their_code_in_every_container() -> None:
    codes = np.repeat(np.arange(64, 941, dtype=np.uint16)[:, None], 3, axis=1)
    for container in Container:
        made = ycc_codes(codes, SignalFormat(10, transfer=Transfer.PQ, container=container))
        assert (made[:, 0] == codes[:, 0]).all()
        assert (made[:, 1:] == 512).all()


def test_colour_ramps_go_from_one_grey_to_six_full_colours_without_a_step() -> None:
    codes = render(picture_named("colour-ramps"), 960, 540, SignalFormat(8, Range.FULL)).codes.astype(int)
    rows = [round(540 * 0.62 * (i + 0.5) / 6) for i in range(6)]
    greys = {tuple(codes[row, 0]) for row in rows}
    assert len(greys) == 1
    assert len({*next(iter(greys))}) == 1
    ends = [tuple(code > 0 for code in codes[row, -1]) for row in rows]
    assert sorted(ends) == sorted(
        [(True, False, False), (False, True, False), (False, False, True),
         (False, True, True), (True, False, True), (True, True, False)]
    )  # fmt: skip
    assert all(np.abs(np.diff(codes[row], axis=0)).max() <= 1 for row in rows)
