"""The simulated screen, meter, source and link behave as real ones do."""

from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest

from aequitone.advice.roles import BIASES, GAINS, Role
from aequitone.colorimetry import D65, cast_of
from aequitone.instruments import InstrumentError
from aequitone.signal import Range, SignalFormat, grey_patch
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.clock import PacedClock, VirtualClock
from aequitone.standins.scenario import Scenario, load_scenario

Benches = Callable[[int], StandInBench]
FORMAT = SignalFormat(10, Range.LIMITED, 0.10)


def greys(bench: StandInBench, *percents: float, settings: dict[str, int] | None = None) -> np.ndarray:
    return bench.screen.light_of_signal(np.repeat(np.array(percents)[:, None] / 100, 3, axis=1), settings)


def test_same_seed_same_unit_other_seed_another(bench: Benches) -> None:
    first, again, other = bench(1), bench(1), bench(2)
    assert np.array_equal(greys(first, 80, 30), greys(again, 80, 30))
    assert not np.allclose(greys(first, 80, 30), greys(other, 80, 30), rtol=1e-3)


def test_black_is_raised_and_cool(bench: Benches) -> None:
    screen = bench(0)
    black, white = greys(screen, 0, 100)
    assert 700 < white[1] / black[1] < 3000
    assert cast_of(black, D65.xyz()).warm < -0.01


def test_light_rises_with_the_signal(bench: Benches) -> None:
    luminance = greys(bench(3), *range(0, 101, 5))[:, 1]
    assert (np.diff(luminance) > 0).all()


@pytest.mark.parametrize("roles", [GAINS, BIASES])
def test_gains_act_on_the_bright_end_and_biases_on_the_dark(bench: Benches, roles: tuple[Role, ...]) -> None:
    screen = bench(0)
    now = screen.screen.settings()
    for role in roles:
        turned = now | {role.key: now[role.key] + 5}
        change = np.log(greys(screen, 80, 20, settings=turned) / greys(screen, 80, 20)).max(axis=1)
        bright, dark = change
        assert bright > 0
        assert dark > 0
        if roles is BIASES:
            assert dark > 4 * bright


def test_controls_stop_at_their_ends_and_move_by_whole_steps(bench: Benches) -> None:
    screen = bench(0).screen
    screen.turn({Role.GAIN_R.key: 250, Role.GAIN_B.key: -40})
    assert (screen.settings()[Role.GAIN_R.key], screen.settings()[Role.GAIN_B.key]) == (100, 0)


def test_contrast_clips_white(bench: Benches) -> None:
    screen = bench(0)
    raised = screen.screen.settings() | {Role.CONTRAST.key: 100}
    nearly, white = greys(screen, 96, 100, settings=raised)
    assert nearly == pytest.approx(white)


def test_light_output_scales_white_and_black_alike(bench: Benches) -> None:
    screen = bench(0)
    bright = screen.screen.settings() | {Role.LIGHT_OUTPUT.key: 100}
    ratio = greys(screen, 0, 100, settings=bright) / greys(screen, 0, 100)
    assert ratio == pytest.approx(np.full((2, 3), ratio[0, 0]))
    assert ratio[0, 0] > 1.2


def test_a_real_screen_keeps_its_settings_over_a_restart(tmp_path: Path) -> None:
    scenario, nvram = load_scenario("demo"), tmp_path / "nvram.json"
    build_bench(scenario, 0, nvram=nvram).screen.turn({Role.GAIN_R.key: 77})
    assert build_bench(scenario, 0, nvram=nvram).screen.settings()[Role.GAIN_R.key] == 77
    nvram.write_text("{ torn", "utf-8")
    fresh = build_bench(scenario, 0, nvram=nvram).screen
    assert fresh.settings() == fresh.found_settings


def test_meter_noise_grows_as_light_falls_and_shrinks_with_time(bench: Benches) -> None:
    stand_in = bench(0)
    patches = [grey_patch(p, FORMAT) for p in (100.0, 10.0)]
    spreads = {}
    for patch in patches:
        stand_in.source.show(patch)
        for seconds in (0.5, 4.0):
            Y = [stand_in.meter.measure(patch, seconds).Y for _ in range(300)]
            spreads[patch.percent, seconds] = np.std(Y) / np.mean(Y)
    assert spreads[10.0, 0.5] > 3 * spreads[100.0, 0.5]
    assert spreads[10.0, 0.5] / spreads[10.0, 4.0] == pytest.approx(8**0.5, rel=0.2)


def test_a_reading_takes_its_time_on_the_clock(bench: Benches) -> None:
    stand_in = bench(0)
    patch = grey_patch(50.0, FORMAT)
    stand_in.source.show(patch)
    before = stand_in.clock.now()
    stand_in.meter.measure(patch, 2.0)
    assert stand_in.clock.now() - before == pytest.approx(2.3)


def test_turning_takes_a_trip_and_its_steps(bench: Benches) -> None:
    stand_in = bench(0)
    value, before = stand_in.link.values()["gain-r"], stand_in.clock.now()
    stand_in.link.turn({"gain-r": value + 10})
    assert stand_in.clock.now() - before == pytest.approx(9.0 + 10 * 0.4)
    assert stand_in.link.values()["gain-r"] == value + 10


def with_meter(**faults: object) -> Scenario:
    demo = load_scenario("demo")
    return demo.model_copy(update={"meter": demo.meter.model_copy(update=faults)})


def test_meter_faults_on_request() -> None:
    patch = grey_patch(50.0, FORMAT)
    late = build_bench(with_meter(timeout_share=1.0), 0)
    with pytest.raises(InstrumentError, match="did not answer in time"):
        late.meter.measure(patch, 1.0)
    rubbish = build_bench(with_meter(rubbish_share=1.0), 0)
    assert not np.isfinite(rubbish.meter.measure(patch, 1.0).X)
    silent = build_bench(with_meter(silent_after_readings=1), 0)
    silent.source.show(patch)
    silent.meter.measure(patch, 1.0)
    with pytest.raises(InstrumentError, match="does not answer"):
        silent.meter.measure(patch, 1.0)


def test_a_meter_before_any_patch_says_so(bench: Benches) -> None:
    with pytest.raises(InstrumentError, match="no patch"):
        bench(0).meter.measure(grey_patch(50.0, FORMAT), 1.0)


def test_clocks() -> None:
    virtual, paced = VirtualClock(), PacedClock(200.0)
    virtual.sleep(3600.0)
    assert virtual.now() == 3600.0
    paced.sleep(2.0)
    # Wide: a machine that stalls for a second is two hundred of these.
    assert 2.0 <= paced.now() < 3600.0
    slow = PacedClock(1.0)
    slow.hurry()
    slow.sleep(60.0)
    assert slow.now() < 30.0
    with pytest.raises(ValueError, match="above 0"):
        PacedClock(0.0)
