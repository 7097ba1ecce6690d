"""Every effect of docs/stand-ins.md does to a reading what it does in a client's room."""

import itertools
import warnings

import numpy as np
import pytest
from benchmarks.trust import with_part

from aequitone.advice.technology import Technology
from aequitone.colorimetry import uv_from_xyz
from aequitone.colorimetry.transfer import hlg_scene, pq_light
from aequitone.signal import Container, Patch, Range, SignalFormat, Transfer, colour_patch, grey_patch
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.parts import (
    AfterglowPart,
    AmbientPart,
    DriftPart,
    FlickerPart,
    StillPart,
    UniformityPart,
    WarmUpPart,
)
from aequitone.standins.scenario import load_scenario
from aequitone.standins.shipped import shipped_scenarios
from aequitone.standins.spectra import BANDS, observer

WINDOW, FIELD = SignalFormat(10, window=0.10), SignalFormat(10, window=1.0)
WHITE, BLACK = grey_patch(100.0, WINDOW), grey_patch(0.0, WINDOW)


def bench(name: str, seed: int = 0, **screen: object) -> StandInBench:
    scenario = load_scenario(name)
    return build_bench(with_part(scenario, "screen", **screen) if screen else scenario, seed)


def Y(made: StandInBench, patch: Patch) -> float:
    return float(made.screen.steady(patch)[1])


def seen_now(made: StandInBench) -> np.ndarray:
    return made.screen.light_now().xyz


@pytest.mark.parametrize("name", shipped_scenarios())
def test_every_shipped_screen_rises_with_the_signal_and_differs_by_unit(name: str) -> None:
    made, other = bench(name, 0), bench(name, 1)
    greys = [Y(made, grey_patch(percent, made.scenario.source.format)) for percent in range(0, 101, 5)]
    assert all(b > a for a, b in itertools.pairwise(greys))
    assert not np.allclose(made.screen.steady(WHITE), other.screen.steady(WHITE), rtol=1e-3)
    assert made.scenario.screen.maker or name in ("demo", "coarse")


def test_the_shipped_screens_cover_every_technology() -> None:
    technologies = {load_scenario(name).screen.technology for name in shipped_scenarios()}
    assert technologies == {
        "led-lcd", "wide-lcd", "white-oled", "rgb-oled", "plasma", "crt", "dlp-wheel", "three-panel-projector",
    }  # fmt: skip
    assert len(shipped_scenarios()) >= 12


def test_a_white_subpixel_makes_white_brighter_than_its_colours_and_black_none() -> None:
    made = bench("white-oled")
    parts = [colour_patch("c", rgb, WINDOW) for rgb in ((100, 0, 0), (0, 100, 0), (0, 0, 100))]
    assert Y(made, WHITE) > 1.3 * sum(Y(made, part) for part in parts)
    assert Y(made, BLACK) == 0.0
    additive = bench("rgb-oled")
    assert Y(additive, WHITE) == pytest.approx(sum(Y(additive, part) for part in parts), rel=0.02)


def test_near_black_has_a_tint_and_a_step() -> None:
    made = bench("white-oled")
    middle, dark = made.screen.steady(grey_patch(50, WINDOW)), made.screen.steady(grey_patch(8, WINDOW))
    assert np.linalg.norm(uv_from_xyz(dark) - uv_from_xyz(middle)) > 0.003
    assert Y(made, Patch("just above black", 0.3, (67, 67, 67), WINDOW)) == 0.0


@pytest.mark.parametrize(("name", "share"), [("white-oled", 0.35), ("plasma", 0.5), ("studio-tube", 0.95)])
def test_a_full_field_is_darker_than_a_window(name: str, share: float) -> None:
    made = bench(name)
    assert Y(made, grey_patch(100, FIELD)) < share * Y(made, WHITE)


def test_black_floats_with_the_picture_on_a_plasma() -> None:
    made = bench("plasma")
    lit = made.screen.steady(grey_patch(100, FIELD))
    dark = bench("plasma", power=made.screen.part.power.model_copy(update={"floating_black_cd_m2": 0.0}))
    assert lit[1] > dark.screen.steady(grey_patch(100, FIELD))[1]


def test_a_still_picture_dims_until_a_brighter_field_comes() -> None:
    made = bench(
        "white-oled", still=StillPart(share=0.1, after_seconds=30, fade_seconds=10, refreshed_by_level=0.15)
    )
    made.source.show(WHITE)
    fresh = seen_now(made)[1]
    made.clock.sleep(20)
    assert seen_now(made)[1] == pytest.approx(fresh, rel=0.01)
    made.clock.sleep(60)
    assert seen_now(made)[1] < 0.93 * fresh
    made.source.show(grey_patch(50, FIELD))
    made.clock.sleep(2.0)
    made.source.show(WHITE)
    assert seen_now(made)[1] == pytest.approx(fresh, rel=0.01)


def test_bright_fields_leave_dimming_behind_for_a_while() -> None:
    made = bench("white-oled", afterglow=AfterglowPart(share=0.05, recovers_seconds=20), still=StillPart())
    made.source.show(WHITE)
    fresh = seen_now(made)[1]
    made.source.show(grey_patch(100, FIELD))
    made.clock.sleep(60)
    made.source.show(WHITE)
    dimmed = seen_now(made)[1]
    assert dimmed < 0.99 * fresh
    made.clock.sleep(200)
    assert seen_now(made)[1] > dimmed + 0.6 * (fresh - dimmed)


def test_a_cold_screen_gains_light_and_changes_its_white() -> None:
    cold = WarmUpPart(missing_share=0.08, cast_share=(0.0, 0.0, 0.03), minutes=8.0, already_minutes=0.0)
    made = bench("demo", warm_up=cold)
    made.source.show(WHITE)
    first = seen_now(made)
    made.clock.sleep(3600)
    warm = seen_now(made)
    assert first[1] == pytest.approx(0.92 * warm[1], rel=0.01)
    assert uv_from_xyz(first)[1] < uv_from_xyz(warm)[1] - 0.002


def test_a_lamp_drifts_for_ever() -> None:
    made = bench(
        "wheel-projector", drift=DriftPart(light_share_per_hour=-0.04), warm_up=WarmUpPart(missing_share=0.0)
    )
    made.source.show(WHITE)
    first = seen_now(made)[1]
    made.clock.sleep(1800)
    assert seen_now(made)[1] == pytest.approx(0.98 * first, rel=1e-3)


def test_corners_and_angles_are_darker_and_tinted() -> None:
    uneven = UniformityPart(
        corner_light_share=-0.2, corner_cast_share=(0.05, 0.0, 0.0), off_axis_share_per_degree=0.01
    )
    made = bench("lamp-projector", uniformity=uneven)
    made.source.show(WHITE)
    middle, corner = made.screen.light_now().xyz, made.screen.light_now((1.0, 1.0)).xyz
    assert corner[1] == pytest.approx(0.8 * middle[1], rel=0.03)
    assert uv_from_xyz(corner)[0] > uv_from_xyz(middle)[0] + 0.002
    assert made.screen.light_now(angle=10.0).xyz[1] == pytest.approx(0.9 * middle[1])


@pytest.mark.parametrize(
    "name", ["wide-lcd", "quantum-lcd", "plasma", "laser-projector", "lamp-projector", "desk-monitor"]
)
def test_each_automatic_feature_spoils_a_measurement_while_it_is_on(name: str) -> None:
    made = bench(name)
    dark = grey_patch(10.0, made.scenario.source.format)
    made.source.show(dark)
    off = seen_now(made)[1]
    for feature in made.screen.part.feature:
        role = f"feature-{feature.kind}"
        made.link.turn({role: 1})
        assert abs(seen_now(made)[1] / off - 1.0) > 0.01, feature.kind
        made.link.turn({role: 0})
    assert seen_now(made)[1] == pytest.approx(off, rel=0.01)


def test_a_range_taken_wrongly_lifts_or_swallows_the_dark() -> None:
    right = bench("demo")
    stretched, clipped = bench("demo", expects_range="full"), bench("demo", expects_range="limited")
    full = SignalFormat(10, Range.FULL)
    assert Y(stretched, BLACK) > 3.0 * Y(right, BLACK)
    assert Y(clipped, grey_patch(5, full)) == pytest.approx(Y(clipped, grey_patch(0, full)))
    assert Y(clipped, grey_patch(95, full)) == pytest.approx(Y(clipped, grey_patch(100, full)))


def test_a_source_that_sends_otherwise_than_asked() -> None:
    scenario = load_scenario("rgb-oled")
    asked, hdr = build_bench(scenario, 0), build_bench(with_part(scenario, "source", sends_transfer="pq"), 0)
    squeezed = build_bench(with_part(scenario, "source", sends_range="full"), 0)
    half = grey_patch(50, WINDOW)
    for made in (asked, hdr, squeezed):
        made.source.show(half)
    assert seen_now(hdr)[1] != pytest.approx(seen_now(asked)[1], rel=0.1)
    assert seen_now(squeezed)[1] != pytest.approx(seen_now(asked)[1], rel=0.02)


def test_pq_gives_the_light_that_the_standard_says_up_to_the_knee() -> None:
    made = bench("rgb-oled", temperatures_xy=((0.305, 0.318),) * 3)
    made.screen.turn({"light-output": 100})
    sent = SignalFormat(10, window=0.02, transfer=Transfer.PQ, container=Container.REC2020)
    for percent in (30.0, 50.0, 60.0):
        signal = grey_patch(percent, sent).signal[0]
        assert Y(made, grey_patch(percent, sent)) == pytest.approx(float(pq_light(signal)), rel=0.12)
    assert Y(made, grey_patch(90.0, sent)) == pytest.approx(Y(made, grey_patch(100.0, sent)), rel=0.01)


def test_hlg_is_brighter_above_and_darker_below_as_its_peak_says() -> None:
    made = bench("quantum-lcd")
    sent = SignalFormat(10, transfer=Transfer.HLG, container=Container.REC2020)
    shares = [Y(made, grey_patch(p, sent)) / Y(made, grey_patch(100, sent)) for p in (50.0, 75.0)]
    scene = hlg_scene(np.array([0.5, 0.75]))
    # 1,400 cd/m²: the system gamma is above 1.2, so that every share lies below the scene's own.
    assert all(share < light for share, light in zip(shares, scene, strict=True))
    assert shares == pytest.approx((scene**1.26).tolist(), rel=0.12)


@pytest.mark.parametrize(
    ("name", "role", "level", "others"),
    [
        ("wide-lcd", "multi-g-53", 53.0, (10.0, 95.0)),
        ("white-oled", "multi-g-53", 53.0, (10.0, 95.0)),
        ("plasma", "multi-g-50", 50.0, (45.0, 95.0)),
    ],
)
def test_a_multi_point_control_acts_at_its_level_as_the_screen_interpolates(
    name: str, role: str, level: float, others: tuple[float, float]
) -> None:
    made = bench(name)
    roles = {control.role for control in made.screen.controls()}
    near = min((r for r in roles if r.startswith("multi-g-")), key=lambda r: abs(int(r[8:]) - level))
    at = float(near[8:])
    before = {p: Y(made, grey_patch(p, WINDOW)) for p in (at, *others)}
    made.screen.turn({near: 30})
    assert Y(made, grey_patch(at, WINDOW)) > 1.03 * before[at]
    for other in others:
        assert Y(made, grey_patch(other, WINDOW)) == pytest.approx(before[other], rel=0.004)


@pytest.mark.parametrize(("name", "role"), [("wide-lcd", "cms-red-saturation"), ("quantum-lcd", "cms-red-b")])
def test_colour_management_moves_its_own_colour_and_leaves_white(name: str, role: str) -> None:
    made = bench(name)
    red, green = colour_patch("red", (80, 0, 0), WINDOW), colour_patch("green", (0, 80, 0), WINDOW)
    before = [uv_from_xyz(made.screen.steady(patch)) for patch in (red, green, WHITE)]
    made.screen.turn({role: -40 if "saturation" in role else 40})
    after = [uv_from_xyz(made.screen.steady(patch)) for patch in (red, green, WHITE)]
    moved = [float(np.linalg.norm(a - b)) for a, b in zip(after, before, strict=True)]
    assert moved[0] > 0.005
    assert max(moved[1:]) < 0.0005


def coloured(**fields: object) -> StandInBench:
    """A screen with a colour management, its gains apart so that white is not grey behind them."""
    scenario = load_scenario("wide-lcd")
    assert scenario.screen.colour_management is not None
    part = scenario.screen.colour_management.model_copy(update=fields)
    made = build_bench(with_part(scenario, "screen", colour_management=part), 1)
    made.screen.quieten()
    made.screen.turn({"gain-b": made.screen.settings()["gain-b"] - 20})
    return made


def test_before_the_gains_a_colour_management_leaves_white_and_behind_them_it_does_not() -> None:
    moved = {}
    for place in ("before-gains", "after-gains"):
        made = coloured(place=place)
        before = uv_from_xyz(made.screen.steady(WHITE))
        made.screen.turn({"cms-yellow-hue": 30})
        moved[place] = float(np.linalg.norm(uv_from_xyz(made.screen.steady(WHITE)) - before))
    assert moved["before-gains"] < 1e-6
    assert moved["after-gains"] > 0.001


def test_odd_controls_of_a_colour_management() -> None:
    green, cyan = colour_patch("green", (0, 80, 0), WINDOW), colour_patch("cyan", (0, 80, 80), WINDOW)

    def moved(made: StandInBench, role: str, patch: Patch) -> float:
        before = uv_from_xyz(made.screen.steady(patch))
        made.screen.turn({role: 30})
        return float(np.linalg.norm(uv_from_xyz(made.screen.steady(patch)) - before))

    assert moved(coloured(dead=("cms-green-hue",)), "cms-green-hue", green) < 1e-6
    assert moved(coloured(swapped=("cms-green-hue", "cms-cyan-hue")), "cms-green-hue", cyan) > 0.005
    assert moved(coloured(leak_share=0.3), "cms-green-hue", cyan) > 1.5 * moved(coloured(), "cms-green-hue", cyan)
    roles = {control.role for control in coloured(without=("cyan", "lightness")).screen.controls()}
    assert not {role for role in roles if role.startswith("cms-cyan") or role.endswith("lightness")}
    assert "cms-blue-hue" in roles


def test_a_colour_management_that_ends_bands_or_acts_on_the_signal() -> None:
    def light(made: StandInBench, role: str, value: int, signal: tuple[float, float, float]) -> np.ndarray:
        made.screen.turn({role: value})
        return np.asarray(made.screen.steady(colour_patch("seen", signal, WINDOW)))

    full = (0.0, 80.0, 0.0)
    ended = coloured(hue_ends_at=10)
    assert light(ended, "cms-green-hue", 10, full) == pytest.approx(light(ended, "cms-green-hue", 40, full))
    # Two steps up add more than twice of one, and light of light does not.
    for on, more in (("signal", 1.025), ("light", 1.0)):
        made = coloured(lightness_on=on)
        none, one, two = (light(made, "cms-green-lightness", value, full)[1] for value in (0, 15, 30))
        assert (two - none) / (one - none) == pytest.approx(2.0 * more, rel=0.01)
    # Beyond some steps neighbours on a ramp part.
    jumps = []
    for value in (0, 4, 20):
        made = coloured(bands_from=5)
        ramp = [light(made, "cms-green-saturation", value, (at, 80.0, at)) for at in np.linspace(20.0, 60.0, 41)]
        jumps.append(float(np.abs(np.diff(np.array(ramp)[:, 0], n=2)).max()))
    assert jumps[1] < 1.5 * jumps[0] + 1e-3
    assert jumps[2] > 3.0 * jumps[1]


def test_gamut_presets_colour_and_tint() -> None:
    made = bench("quantum-lcd")
    red = colour_patch("red", (100, 0, 0), WINDOW)
    narrow = uv_from_xyz(made.screen.steady(red))
    made.screen.turn({"gamut": 2})
    native = uv_from_xyz(made.screen.steady(red))
    assert native[0] > narrow[0] + 0.03
    skin = colour_patch("skin", (75, 60, 50), WINDOW)
    plain = uv_from_xyz(made.screen.steady(skin))
    made.screen.turn({"colour": 30})
    pale = uv_from_xyz(made.screen.steady(skin))
    white = uv_from_xyz(made.screen.steady(WHITE))
    assert np.linalg.norm(pale - white) < 0.8 * np.linalg.norm(plain - white)
    made.screen.turn({"colour": 50, "tint": 20})
    assert np.linalg.norm(uv_from_xyz(made.screen.steady(skin)) - plain) > 0.003


def test_tables_of_both_kinds() -> None:
    made = bench("quantum-lcd")
    half = grey_patch(50, WINDOW)
    before = Y(made, half)
    at = np.linspace(0, 1, 256)
    made.screen.load_1d(np.repeat(at[:, None] ** 1.2, 3, axis=1))
    assert Y(made, half) < 0.8 * before
    made.screen.load_1d(None)
    axis = np.linspace(0, 1, 17)
    cube = np.stack(np.meshgrid(axis, axis, axis, indexing="ij"), axis=-1)
    made.screen.load_3d(cube)
    assert Y(made, half) == pytest.approx(before, rel=0.01)
    made.screen.load_3d(cube[..., ::-1])
    red = colour_patch("red", (100, 0, 0), WINDOW)
    assert uv_from_xyz(made.screen.steady(red))[1] < 0.3
    with pytest.raises(ValueError, match="17 points a side"):
        made.screen.load_3d(cube[1:])
    with pytest.raises(ValueError, match="not a number"):
        made.screen.load_1d(np.full((256, 3), np.nan))
    with pytest.raises(ValueError, match="takes no 3D table"):
        bench("demo").screen.load_3d(cube)


def test_every_input_and_memory_keeps_its_own_settings() -> None:
    screen = bench("demo").screen
    found = screen.settings()
    screen.choose_memory("HDMI 1", "Day")
    assert screen.settings()["gain-b"] == 50
    screen.turn({"gain-b": 33})
    screen.choose_memory("HDMI 2", "Film night")
    assert screen.settings() == found
    screen.choose_memory("HDMI 1", "Day")
    assert screen.settings()["gain-b"] == 33


def test_a_coarse_panel_shows_its_steps() -> None:
    coarse, fine = (
        len({round(Y(made, grey_patch(percent, WINDOW)), 6) for percent in np.arange(40, 60, 0.25)})
        for made in (bench("demo", panel_bit=6), bench("demo"))
    )
    assert coarse < 0.5 * fine


def test_the_tubes_guns_do_not_meet_at_black() -> None:
    made, straight = bench("studio-tube"), bench("studio-tube", gun_offset=(0.0, 0.0, 0.0))
    dark = grey_patch(10, WINDOW)
    apart = uv_from_xyz(made.screen.steady(dark)) - uv_from_xyz(straight.screen.steady(dark))
    assert np.linalg.norm(apart) > 0.002


# The meter


def readings(made: StandInBench, patch: Patch, seconds: float, count: int = 40) -> np.ndarray:
    made.source.show(patch)
    return np.array([made.meter.measure(patch, seconds).xyz for _ in range(count)])


def test_pulsed_light_is_read_badly_until_the_meter_keeps_its_time() -> None:
    made = bench("studio-tube", flicker=FlickerPart(hz=50.0, depth=0.9))
    loose, kept = [], []
    for hz, spreads in ((None, loose), (50.0, kept)):
        made.meter.synchronise(hz)
        spreads.append(readings(made, WHITE, 0.4)[:, 1].std())
    assert loose[0] > 5.0 * kept[0]


@pytest.mark.parametrize("name", ["wide-lcd", "white-oled", "laser-projector"])
def test_the_wrong_mode_is_a_tint_and_the_right_one_nearly_none(name: str) -> None:
    made = bench(name)
    light = made.screen.steady_light(WHITE)
    true = uv_from_xyz(light.xyz)
    right = np.linalg.norm(uv_from_xyz(made.meter.sensor.seen(light)) - true)
    made.meter.sensor.choose(Technology.LED_LCD)
    wrong = np.linalg.norm(uv_from_xyz(made.meter.sensor.seen(light)) - true)
    assert right < 0.003
    assert wrong > 1.5 * right
    exact = made.reference_meter().sensor
    assert np.linalg.norm(uv_from_xyz(exact.seen(light)) - true) < 0.0006


def with_meter(**fields: object) -> StandInBench:
    return build_bench(with_part(load_scenario("quantum-lcd"), "meter", **fields), 0)


def test_where_the_meter_stands_shows_in_its_readings() -> None:
    touching, pressed = with_meter(), with_meter(placement="pressed")
    true, tinted = (readings(made, WHITE, 4.0).mean(axis=0) for made in (touching, pressed))
    assert np.linalg.norm(uv_from_xyz(tinted) - uv_from_xyz(true)) > 0.001
    scenario = with_part(load_scenario("quantum-lcd"), "meter", placement="distance")
    lit = build_bench(with_part(scenario, "screen", ambient=AmbientPart(cd_m2=0.5)), 0)
    assert readings(lit, BLACK, 2.0)[:, 1].mean() > 0.45


def test_dark_reading_drifts_and_has_a_floor() -> None:
    warming = with_meter(dark_drift_cd_m2=0.05, dark_drift_minutes=5.0)
    first = readings(warming, BLACK, 1.0, 5)[:, 1].mean()
    warming.clock.sleep(3600)
    assert readings(warming, BLACK, 1.0, 5)[:, 1].mean() < first - 0.03
    blind = with_meter(darkest_cd_m2=1.0)
    assert readings(blind, BLACK, 1.0, 3).tolist() == [[0.0] * 3] * 3


def test_faults_come_as_often_as_the_scenario_says() -> None:
    lying = with_meter(outlier_share=0.2, outlier_size=0.5)
    Ys = readings(lying, WHITE, 1.0, 400)[:, 1]
    assert 0.12 < np.mean(np.abs(Ys / np.median(Ys) - 1.0) > 0.1) < 0.28


def test_a_spread_of_latency_is_one_of_time() -> None:
    made = build_bench(with_part(load_scenario("demo"), "source", latency_spread_seconds=1.0), 0)
    times = []
    for _ in range(20):
        before = made.clock.now()
        made.source.show(WHITE)
        times.append(made.clock.now() - before)
    assert 0.2 <= min(times) < max(times) < 1.2
    assert np.std(times) > 0.1


def test_the_same_seed_gives_the_same_evening() -> None:
    def evening(seed: int) -> list[float]:
        made = build_bench(with_part(load_scenario("white-oled"), "meter", outlier_share=0.1), seed)
        return [float(value) for value in readings(made, grey_patch(30, WINDOW), 0.5, 30)[:, 1]]

    assert evening(3) == evening(3)
    assert evening(3) != evening(4)


# The spectra


def test_the_observer_is_the_standards() -> None:
    with warnings.catch_warnings():
        # It misses libraries for pictures that nobody here wants.
        warnings.simplefilter("ignore")
        from colour import MSDS_CMFS, SpectralShape

    standard = MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy().align(SpectralShape(380, 780, 1)).values
    assert np.abs(observer().T - standard)[::5].max() < 2e-6
    # Between the table's 5 nm it is a straight line.
    assert np.abs(observer().T - standard).max() < 0.02
    assert observer().sum(axis=1) == pytest.approx([106.86, 106.86, 106.89], rel=1e-3)


@pytest.mark.parametrize("name", shipped_scenarios())
def test_primaries_are_mixtures_that_light_can_make(name: str) -> None:
    for seed in range(5):
        made = bench(name, seed)
        spectra = BANDS[made.screen.part.bands].shifted(made.screen.unit.band_shifts).spectra
        mixtures = np.linalg.solve(observer() @ spectra.T, made.screen.unit.gamut.xyz_matrix)
        assert (mixtures / mixtures.max(axis=0)).min() > -0.1
