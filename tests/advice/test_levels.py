"""The sweeps of levels on curves whose answer is known."""

from collections.abc import Callable
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from aequitone.advice.levels import (
    BlackSweep,
    ClippingSweep,
    ColourSweep,
    LightSweep,
    Look,
    Position,
    Sweep,
    TintSweep,
)
from aequitone.advice.levels.edge import RANGE_SIGNAL
from aequitone.advice.levels.slips import slipped
from aequitone.advice.levels.sweep import WHITE, Finding
from aequitone.advice.moves import ControlState
from aequitone.advice.roles import Role
from aequitone.colorimetry import REC709
from aequitone.colorimetry.arrays import Array

CHANNELS = REC709.rgb_matrix
NONE = np.zeros(3)


def control(value: int, *, step: int = 1, role: Role = Role.CONTRAST) -> ControlState:
    return ControlState(role, "Control", 0, 100, step, value)


def run(
    sweep: Sweep, light: Callable[[int, Look], Array], sd: float, seed: int = 0
) -> tuple[Finding, list[Position]]:
    """Follow a sweep on a screen that gives `light(setting, look)`, XYZ (3,), with noise."""
    rng = np.random.default_rng(seed)
    positions: list[Position] = []
    while (ask := sweep.next(positions)) is not None:
        assert sweep.control.lowest <= ask.setting <= sweep.control.highest
        # What was read at a setting is not asked for there again.
        known = [look for position in positions if position.setting == ask.setting for look in position.looks]
        assert not set(known) & set(ask.looks)
        xyz = np.array([light(ask.setting, look) for look in ask.looks])
        spread = np.full_like(xyz, sd)
        positions.append(Position(ask.setting, xyz + rng.normal(0.0, sd, xyz.shape), spread, ask.looks))
        assert len(positions) < 12
    return sweep.found(positions), positions


def settings_of(positions: list[Position]) -> int:
    """How often a person walked to the menu, and once more."""
    return len({position.setting for position in positions})


def signal_of(look: Look) -> float:
    return look.percents[0] / 100.0


@given(edge=st.floats(30.0, 70.0), found=st.integers(20, 80), power=st.floats(2.1, 2.4), seed=st.integers(0, 99))
@settings(max_examples=40, deadline=None)
def test_black_is_found_where_it_begins_to_rise(edge: float, found: int, power: float, seed: int) -> None:
    def light(setting: int, look: Look) -> Array:
        rise = 100.0 * max(0.0, signal_of(look) + 0.0045 * (setting - edge)) ** power
        return np.array([1.0, 1.0, 1.1]) * (0.05 + rise)

    finding, positions = run(BlackSweep(control(found), 100.0), light, 0.001, seed)
    # Where it stood so low that the first greys gave no light at all, less of the curve is seen.
    assert finding.exact == pytest.approx(edge, abs=1.6 if abs(found - edge) < 25.0 else 2.5)
    assert settings_of(positions) <= 4


def test_from_a_disc_only_greys_in_fives_are_asked_for_and_levels_are_right_all_the_same() -> None:
    def dark(setting: int, look: Look) -> Array:
        return np.array([1.0, 1.0, 1.1]) * (
            0.05 + 100.0 * max(0.0, signal_of(look) + 0.004 * (setting - 46)) ** 2.2
        )

    def bright(setting: int, look: Look) -> Array:
        signal = np.minimum(signal_of(look) * (1.0 + 0.007 * (setting - 80)), 1.0 + 0.007 * (88.4 - 80.0))
        return np.asarray(REC709.xyz_matrix @ np.full(3, signal**2.2) * 100.0)

    for seed, found in enumerate((38, 44, 52, 60)):
        finding, positions = run(BlackSweep(control(found), 100.0, from_disc=True), dark, 0.001, seed)
        assert abs(finding.exact - 46.0) < 2.0
        knee, more = run(ClippingSweep(control(found + 35), CHANNELS, NONE, 100.0, True), bright, 0.1, seed)
        assert abs(knee.setting - 88) <= 1
        asked = [look.percents[0] for position in (*positions, *more) for look in position.looks]
        assert all(percent % 5.0 == 0.0 for percent in asked)


def test_black_that_stands_right_is_left_there_after_a_walk_at_most_or_two() -> None:
    walks = []
    for seed in range(40):
        rng = np.random.default_rng(seed)
        worth, power = rng.uniform(0.003, 0.006), rng.uniform(2.1, 2.3)

        def light(setting: int, look: Look, worth: float = worth, power: float = power) -> Array:
            rise = 100.0 * max(0.0, signal_of(look) + worth * (setting - 50.2)) ** power
            return np.array([1.0, 1.0, 1.1]) * (0.05 + rise)

        finding, positions = run(BlackSweep(control(50), 100.0, by_hand=True), light, 0.0007, seed)
        assert finding.setting == 50
        walks.append(settings_of(positions) - 1)
    assert np.mean(walks) < 1.5
    assert max(walks) <= 2


@given(found=st.integers(38, 62), lamp=st.floats(0.3, 3.0), seed=st.integers(0, 99))
@settings(max_examples=40, deadline=None)
def test_black_is_found_while_light_output_is_turned_along(found: int, lamp: float, seed: int) -> None:
    """White is read with each position: it tells what light output did, and black's level lifts it as well."""
    sweep, rng = BlackSweep(control(found), 100.0), np.random.default_rng(seed)

    def lit(setting: int, signal: float) -> float:
        return float(max(0.0, signal + 0.0045 * (setting - 50.0)) ** 2.2)

    white = 100.0 / lit(found, 1.0)
    sweep, positions = BlackSweep(control(found), 100.0), []
    while (ask := sweep.next(positions)) is not None:
        panel = white * (1.0 if not positions else lamp)
        xyz = np.array([[1.0, 1.0, 1.1]]) * np.array(
            [[0.0005 * panel + panel * lit(ask.setting, signal_of(look))] for look in ask.looks]
        )
        sd = np.maximum(0.0007, 0.01 * xyz)
        told = panel * (0.0005 + lit(ask.setting, 1.0))
        positions.append(
            Position(ask.setting, xyz + rng.normal(0.0, 1.0, xyz.shape) * sd, sd, ask.looks, told, fresh=True)
        )
    assert sweep.found(positions).exact == pytest.approx(50.0, abs=1.8)


@pytest.mark.parametrize("foot", [0.002, 0.0045])
def test_black_is_set_below_the_first_light_by_what_the_panel_swallows(foot: float) -> None:
    """A panel without light for its first step would otherwise lose the shadows that lie in it."""

    def light(setting: int, look: Look) -> Array:
        return np.array([1.0, 1.0, 1.1]) * 100.0 * max(0.0, signal_of(look) + 0.0045 * (setting - 50.0)) ** 2.2

    plain, positions = run(BlackSweep(control(40), 100.0), light, 1e-5)
    lifted = BlackSweep(control(40), 100.0, foot).found(positions)
    assert plain.exact - lifted.exact == pytest.approx(foot / RANGE_SIGNAL * 100.0, rel=1e-6)


@given(
    edge=st.floats(35.0, 65.0),
    biases=st.tuples(*[st.floats(-0.008, 0.008)] * 3),
    power=st.floats(2.0, 2.3),
    seed=st.integers(0, 99),
)
@settings(max_examples=40, deadline=None)
def test_black_is_found_although_biases_hold_channels_back(
    edge: float, biases: tuple[float, float, float], power: float, seed: int
) -> None:
    def light(setting: int, look: Look) -> Array:
        signal = np.maximum(0.0, signal_of(look) + 0.0045 * (setting - edge)) + np.array(biases)
        return np.asarray(REC709.xyz_matrix @ np.maximum(signal, 0.0) ** power * 100.0 + 0.05)

    finding, _ = run(BlackSweep(control(50), 100.0, channels=CHANNELS / 100.0), light, 0.001, seed)
    held = max(0.0, -max(biases)) / 0.0045
    # Where every channel is held back nobody can see the edge itself; what is swallowed gives no light then.
    assert edge - 2.0 <= finding.exact <= edge + held + 1.8


def test_a_control_that_does_not_move_black_is_left_alone() -> None:
    def light(_: int, look: Look) -> Array:
        # Lifted, so that it looks as if it were to be turned.
        return np.full(3, 0.05 + 100.0 * (signal_of(look) + 0.02) ** 2.2)

    finding, _ = run(BlackSweep(control(50), 100.0), light, 0.0007)
    assert finding.setting == 50
    assert finding.at_end
    assert "was not turned, or it is not the black level" in finding.words


@pytest.mark.parametrize("seed", range(5))
def test_a_meter_that_could_not_see_black_move_accuses_nobody(seed: int) -> None:
    def light(setting: int, look: Look) -> Array:
        return np.full(3, 0.02 + 48.0 * max(0.0, signal_of(look) + 0.002 * (setting - 50)) ** 2.2)

    finding, _ = run(BlackSweep(control(50), 48.0), light, 0.02, seed)
    assert "not turned" not in finding.words
    assert finding.setting == 50


def test_a_screen_without_light_in_the_dark_is_looked_for_above_and_left_alone_where_there_is_none() -> None:
    finding, positions = run(BlackSweep(control(20), 100.0), lambda *_: np.full(3, 0.002), 0.0005)
    assert settings_of(positions) > 1
    assert finding.setting == 20
    assert "gives light" in finding.words


def test_contrast_stops_below_the_first_channel_that_clips() -> None:
    rng, off, walks = np.random.default_rng(7), [], []
    for seed in range(150):
        knees, gain, found = rng.uniform(60.0, 96.0, 3), rng.uniform(0.005, 0.011), int(rng.integers(45, 96))

        def light(setting: int, look: Look, knees: Array = knees, gain: float = gain) -> Array:
            white, full = 1.0 + gain * (setting - 80.0), 1.0 + gain * (knees - 80.0)
            signal = np.minimum(signal_of(look) * white, full)
            return np.asarray(REC709.xyz_matrix @ signal**2.2 * 100.0)

        finding, positions = run(ClippingSweep(control(found), CHANNELS, NONE, 100.0), light, 0.1, seed)
        off.append(abs(finding.setting - float(knees.min())))
        walks.append(settings_of(positions) - 1)
    # In one of two thousand the noise of a single reading puts it further off; nowhere far.
    assert np.sum(np.array(off) > 2.0) <= 1
    assert max(off) < 5.0
    assert np.mean(walks) < 2.0
    assert max(walks) <= 4


def test_the_light_of_any_grey_is_foretold_for_settings_that_were_not_read() -> None:
    def light(setting: int, look: Look) -> Array:
        signal = np.minimum(signal_of(look) * (1.0 + 0.008 * (setting - 80)), 1.0 + 0.008 * (87.0 - 80.0))
        return np.asarray(REC709.xyz_matrix @ np.full(3, signal**2.2) * 100.0)

    sweep = ClippingSweep(control(84), CHANNELS, NONE, 100.0)
    _, positions = run(sweep, light, 0.05)
    for look in (WHITE, sweep.ramp[-1]):
        at = np.arange(70.0, 100.0, 3.0)
        foretold = sweep.light_at(positions, at, look)
        assert foretold == pytest.approx([float(light(int(setting), look)[1]) for setting in at], rel=0.02)


def test_contrast_that_never_clips_may_stand_at_its_end() -> None:
    def light(setting: int, look: Look) -> Array:
        return REC709.white.xyz() * 60.0 * (signal_of(look) * (1.0 + 0.006 * (setting - 50))) ** 2.2

    finding, _ = run(ClippingSweep(control(60), CHANNELS, NONE, 60.0), light, 0.05)
    assert finding.setting == 100
    assert finding.at_end
    assert "No channel stops" in finding.words


@given(wanted=st.floats(60.0, 240.0), found=st.integers(0, 100), bend=st.floats(0.7, 1.4))
@example(wanted=60.0, found=0, bend=0.7109375)
@settings(max_examples=60, deadline=None)
def test_light_output_gives_the_nearest_step(wanted: float, found: int, bend: float) -> None:
    def at(setting: int) -> float:
        return 40.0 + 220.0 * (setting / 100.0) ** bend

    def light(setting: int, _: Look) -> Array:
        return REC709.white.xyz() * at(setting)

    finding, positions = run(LightSweep(control(found), wanted), light, 1e-4)
    best = min(abs(at(setting) - wanted) for setting in range(101))
    assert abs(at(finding.setting) - wanted) <= max(best + 0.006 * wanted, 0.01 * wanted)
    assert len(positions) <= 7


def test_light_that_cannot_be_had_ends_at_the_stop_and_says_so() -> None:
    finding, _ = run(LightSweep(control(50), 500.0), lambda s, _: np.ones(3) * (40.0 + s), 0.01)
    assert finding.setting == 100
    assert finding.at_end
    assert "gives no more" in finding.words


def screen(colour: float, tint: float) -> Callable[[tuple[float, ...]], Array]:
    """Light of a signal in % on a screen whose colour and tint are off by so much (share and radians)."""
    luma = np.array([0.2126, 0.7152, 0.0722])
    to = np.array([luma, (np.eye(3)[2] - luma) / 1.8556, (np.eye(3)[0] - luma) / 1.5748])
    along, across = (1.0 + colour) * np.cos(tint), (1.0 + colour) * np.sin(tint)
    turned = np.linalg.inv(to) @ np.array([[1, 0, 0], [0, along, across], [0, -across, along]]) @ to
    return lambda percents: (
        REC709.xyz_matrix @ (np.maximum(turned @ np.array(percents) / 100.0, 0.0) ** 2.2) * 100.0
    )


@pytest.mark.parametrize("fourth", [False, True])
@pytest.mark.parametrize("found", [35, 50, 68])
def test_colour_is_right_where_the_lights_cross_whatever_tint_does(found: int, fourth: bool) -> None:
    sweep = ColourSweep(control(found, role=Role.COLOUR), CHANNELS, NONE, fourth)

    def light(setting: int, look: Look) -> Array:
        return screen(0.02 * (setting - 52.0), 0.03)(look.percents)

    finding, positions = run(sweep, light, 0.004)
    assert finding.exact == pytest.approx(52.0, abs=1.2)
    assert len(positions) <= 5


@pytest.mark.parametrize("fourth", [False, True])
@pytest.mark.parametrize("found", [38, 50, 61])
def test_tint_is_right_where_the_lights_cross(found: int, fourth: bool) -> None:
    sweep = TintSweep(control(found, role=Role.TINT), CHANNELS, NONE, fourth)

    def light(setting: int, look: Look) -> Array:
        return screen(0.01, np.radians(0.6 * (setting - 47.0)))(look.percents)

    finding, _ = run(sweep, light, 0.004)
    assert finding.exact == pytest.approx(47.0, abs=1.0)


@pytest.mark.parametrize("fourth", [False, True])
@pytest.mark.parametrize("kind", [ColourSweep, TintSweep])
def test_a_control_that_is_right_as_found_is_left_after_one_look(
    kind: type[ColourSweep | TintSweep], fourth: bool
) -> None:
    sweep = kind(control(52, role=Role.COLOUR), CHANNELS, NONE, fourth)

    def light(setting: int, look: Look) -> Array:
        off = 0.02 * (setting - 52.0)
        return screen(off if kind is ColourSweep else 0.0, 0.0 if kind is ColourSweep else off)(look.percents)

    finding, positions = run(sweep, light, 0.001)
    assert len(positions) == 1
    assert finding.setting == 52
    assert "is right at 52" in finding.words
    # A step beside it is not.
    _, positions = run(replace(sweep, control=control(53, role=Role.COLOUR)), light, 0.001)
    assert len(positions) > 1


def test_one_look_that_is_too_noisy_does_not_say_that_a_control_is_right() -> None:
    sweep = ColourSweep(control(52, role=Role.COLOUR), CHANNELS, NONE)
    _, positions = run(sweep, lambda setting, look: screen(0.02 * (setting - 52.0), 0.0)(look.percents), 0.5)
    assert len(positions) > 1


def test_lights_that_do_not_cross_end_at_the_stop() -> None:
    sweep = TintSweep(replace(control(50, role=Role.TINT), highest=55), CHANNELS, NONE)

    def light(setting: int, look: Look) -> Array:
        return screen(0.0, np.radians(0.6 * (setting - 90.0)))(look.percents)

    finding, _ = run(sweep, light, 0.004)
    assert finding.setting == 55
    assert finding.at_end
    assert "do not cross" in finding.words


@pytest.mark.parametrize("found", [0, 50, 100])
@pytest.mark.parametrize("which", ["black", "contrast", "light", "colour", "tint"])
def test_a_sweep_that_is_stopped_at_once_says_something_and_stays_in_range(which: str, found: int) -> None:
    at = control(found)
    sweep: Sweep = {
        "black": BlackSweep(at, 100.0),
        "contrast": ClippingSweep(at, CHANNELS, NONE, 100.0),
        "light": LightSweep(at, 120.0),
        "colour": ColourSweep(at, CHANNELS, NONE),
        "tint": TintSweep(at, CHANNELS, NONE),
    }[which]
    shown = screen(0.0, 0.0)
    for count in (1, 2):
        positions = []
        for _ in range(count):
            ask = sweep.next(positions)
            if ask is None:
                # At an end stop there may be nowhere to go.
                assert positions
                break
            xyz = np.array([shown(look.percents) + 0.02 for look in ask.looks])
            positions.append(Position(ask.setting, xyz, np.full_like(xyz, 0.001), ask.looks))
        finding = sweep.found(positions)
        assert 0 <= finding.setting <= 100
        assert finding.words


def test_coarse_steps_are_kept_to() -> None:
    finding, positions = run(
        LightSweep(control(50, step=5), 120.0), lambda s, _: REC709.white.xyz() * (20.0 + 2.0 * s), 0.01
    )
    assert finding.setting == 50
    assert all(position.setting % 5 == 0 for position in positions)


@given(
    which=st.sampled_from(["black", "contrast", "light", "colour", "tint"]),
    stood=st.lists(st.integers(0, 100), min_size=1, max_size=6),
    seed=st.integers(0, 999),
)
@settings(max_examples=150, deadline=None)
def test_whatever_is_read_a_sweep_ends_within_its_range(which: str, stood: list[int], seed: int) -> None:
    """A hand leaves controls anywhere, twice at one setting too, on a screen whose light makes no sense."""
    at, rng = control(stood[0]), np.random.default_rng(seed)
    sweep: Sweep = {
        "black": BlackSweep(at, 100.0, channels=CHANNELS / 100.0),
        "contrast": ClippingSweep(at, CHANNELS, NONE, 100.0),
        "light": LightSweep(at, 120.0),
        "colour": ColourSweep(at, CHANNELS, NONE),
        "tint": TintSweep(at, CHANNELS, NONE),
    }[which]
    positions: list[Position] = []
    for setting in stood:
        ask = sweep.next(positions)
        if ask is None:
            break
        assert 0 <= ask.setting <= 100
        assert ask.looks
        xyz = rng.uniform(0.001, 200.0) * rng.uniform(0.2, 1.0, (len(ask.looks), 3))
        white = float(rng.choice([0.0, 90.0, 240.0]))
        positions.append(Position(setting, xyz, 0.002 * xyz, ask.looks, white, fresh=bool(white)))
        slipped(sweep, positions)
    finding = sweep.found(positions)
    assert 0 <= finding.setting <= 100
    assert np.isfinite(finding.exact)
    assert finding.words
