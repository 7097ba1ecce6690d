"""Where gains and biases act and how, and controls that do not do what they are called."""

import numpy as np
import pytest

from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.parts import FaultPart, MultiPointPart, PathPart, UnitPart
from aequitone.standins.scenario import Scenario, load_scenario

GREYS = np.array([0.0, 0.1, 0.3, 0.8])[:, None] * np.ones(3)


def bench(path: PathPart | None = None, multi_point: MultiPointPart | None = None) -> StandInBench:
    scenario: Scenario = load_scenario("demo")
    changed: dict[str, object] = {"path": path or PathPart(), "fault": FaultPart(), "unit": UnitPart()}
    if multi_point is not None:
        changed["multi_point"] = multi_point
    screen = scenario.screen.model_copy(update=changed)
    return build_bench(scenario.model_copy(update={"screen": screen}), 3)


def ratio(made: StandInBench, **steps: int) -> np.ndarray:
    """Light of GREYS after some controls went so many steps from factory, as a share of before."""
    factory = {control.role: control.factory for control in made.screen.controls()}
    turned = factory | {role.replace("_", "-"): factory[role.replace("_", "-")] + n for role, n in steps.items()}
    before, after = (made.screen.light_of_signal(GREYS, at)[:, 1] for at in (factory, turned))
    return after / before


@pytest.mark.parametrize("gains_on", ["signal", "drive", "light"])
def test_a_gain_acts_at_the_bright_end_wherever_it_stands(gains_on: str) -> None:
    seen = ratio(bench(PathPart(gains_on=gains_on)), gain_g=-20)
    assert seen[3] < 0.95
    assert seen[0] == pytest.approx(1.0, abs=0.02)


def test_biases_lift_add_or_multiply() -> None:
    lift, add, multiply = (ratio(bench(PathPart(biases=kind)), bias_g=20) for kind in ("lift", "add", "multiply"))
    for seen in (lift, add, multiply):
        assert seen[2] > 1.003
    # At 80 % what is added is still felt, what lifts is nearly gone; and multiplied black stays black.
    assert add[3] > lift[3]
    assert multiply[0] == pytest.approx(1.0, abs=1e-6)
    assert lift[0] > 1.0


def test_a_dead_zone_a_dead_control_and_two_that_are_swapped() -> None:
    dead_zone = bench(PathPart(dead_zone_steps=3))
    assert ratio(dead_zone, gain_g=-3) == pytest.approx(np.ones(4))
    assert ratio(dead_zone, gain_g=-13) == pytest.approx(ratio(bench(), gain_g=-10))
    assert ratio(bench(PathPart(dead=("bias-b",))), bias_b=20) == pytest.approx(np.ones(4))
    swapped = bench(PathPart(swapped=("gain-r", "gain-g")))
    assert ratio(swapped, gain_r=-10) == pytest.approx(ratio(bench(), gain_g=-10), rel=0.02)


@pytest.mark.parametrize("tone", ["s-curve", "srgb", "shoulder"])
def test_the_shape_of_the_tone_leaves_black_and_white(tone: str) -> None:
    signal = np.linspace(0.0, 1.0, 21)[:, None] * np.ones(3)
    bent, straight = (
        bench(path).screen.light_of_signal(signal)[:, 1] for path in (PathPart(tone=tone, tone_share=0.3), None)
    )
    assert bent[[0, -1]] == pytest.approx(straight[[0, -1]], rel=1e-3)
    assert np.abs(bent[1:-1] / straight[1:-1] - 1.0).max() > 0.02
    assert (np.diff(bent) > 0.0).all()


def test_a_channel_that_clips_gives_no_more() -> None:
    signal = np.array([0.9, 0.95, 1.0])[:, None] * np.ones(3)
    seen = bench(PathPart(clips_share=(1.0, 1.0, 0.5))).screen.light_of_signal(signal)[:, 2]
    rise = bench().screen.light_of_signal(signal)[:, 2]
    assert seen[-1] / seen[0] < rise[-1] / rise[0]


def at_levels(part: MultiPointPart, percents: list[float]) -> np.ndarray:
    made = bench(multi_point=part)
    signal = np.array(percents)[:, None] / 100.0 * np.ones(3)
    factory = {control.role: control.factory for control in made.screen.controls()}
    before, after = (made.screen.light_of_signal(signal, factory | {"multi-y-50": n})[:, 1] for n in (0, 20))
    return after / before - 1.0


def test_a_level_leaks_lies_off_its_name_and_is_joined_along_light() -> None:
    usual = MultiPointPart(points=10)
    plain = at_levels(usual, [40.0, 45.0, 50.0, 55.0, 60.0])
    assert plain[0] == pytest.approx(0.0, abs=2e-3)
    leaky = at_levels(usual.model_copy(update={"leak_share": 0.1}), [40.0, 50.0])
    assert leaky[0] > 0.1 * leaky[1] > 0.0
    along_light = at_levels(usual.model_copy(update={"joined_in": "light"}), [45.0])
    assert along_light[0] < plain[1]
    # Off its name it is not at its strongest there any more.
    off = at_levels(usual.model_copy(update={"off_share": 0.04}), [50.0])
    assert off[0] < plain[2]
    boosted = at_levels(usual.model_copy(update={"dark_boost": 1.0}), [50.0])
    assert boosted[0] > 1.3 * plain[2]
