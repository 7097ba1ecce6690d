"""The picture before and after is that of the screen: held to the stand-ins' truth."""

import numpy as np
import pytest

from aequitone.colorimetry import D65, REC709, delta_e_2000
from aequitone.colorimetry.adaptation import adapted
from aequitone.handover.picture import Exposure, before_and_after, screen_light
from aequitone.procedures.care import CARE
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.preparation.as_watched import Watched, WatchedPlan, as_watched
from aequitone.procedures.runner import NobodyThere, Runner
from aequitone.reference import target_named
from aequitone.signal.pictures.scene import still_life
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import load_scenario


def watched(name: str, seed: int) -> tuple[Watched, StandInBench, float]:
    """What a minute of measuring tells of a stand-in as it stands, the stand-in, and the seconds it took."""
    scenario = load_scenario(name)
    bench = build_bench(scenario, seed)
    plan = WatchedPlan(target_named("rec709-2.2"), scenario.source.format)
    # The truth knows nothing of what acts by itself.
    bench.screen.quieten()
    begun = bench.clock.now()
    runner = Runner(bench.bench(), MemoryJournal(), NobodyThere(), None, CARE)
    return runner.run(as_watched(plan)), bench, bench.clock.now() - begun


@pytest.mark.parametrize("name", ["demo", "wide-lcd", "quantum-lcd", "rgb-oled", "lamp-projector"])
@pytest.mark.parametrize("seed", [3, 71])
def test_the_before_is_what_was_watched(name: str, seed: int) -> None:
    found, bench, seconds = watched(name, seed)
    before = bench.screen.settings()
    scene = still_life(72, 45)
    true = bench.screen.light_of_signal(scene)
    told = screen_light(found.grey, found.colours).xyz(scene)
    white = bench.screen.light_of_signal(np.ones(3))
    off = delta_e_2000(told, true, white)
    # What two screens are told apart by in a picture is several times that.
    assert float(np.mean(off)) < 1.2, name
    assert seconds < 90.0
    assert bench.screen.settings() == before


def test_primaries_tell_more_than_greys_alone_on_a_wide_screen() -> None:
    found, bench, _ = watched("quantum-lcd", 5)
    scene = still_life(72, 45)
    true, white = bench.screen.light_of_signal(scene), bench.screen.light_of_signal(np.ones(3))
    with_them, without = (
        float(np.mean(delta_e_2000(each.xyz(scene), true, white)))
        for each in (screen_light(found.grey, found.colours), screen_light(found.grey))
    )
    assert with_them < without


def test_each_at_its_own_white_makes_white_white() -> None:
    found, _, _ = watched("demo", 3)
    light = screen_light(found.grey, found.colours)
    white = REC709.rgb(adapted(light.white, light.white, D65.xyz()))
    assert white == pytest.approx([1.0, 1.0, 1.0], abs=1e-3)
    same, _ = before_and_after(light, light, Exposure.SAME)
    own, _ = before_and_after(light, light, Exposure.OWN_WHITE)
    brightest = own.reshape(-1, 3).sum(axis=1).argmax()
    # The demo's white is blue as found: a camera sees that, an eye that has got used to it does not.
    blue = [int(p.reshape(-1, 3)[brightest][2]) - int(p.reshape(-1, 3)[brightest][0]) for p in (same, own)]
    assert blue[0] > 10
    assert abs(blue[1]) < 6


def test_adaptation_takes_a_white_to_a_white_and_leaves_black() -> None:
    warm, cool = np.array([109.85, 100.0, 35.58]), D65.xyz(100.0)
    assert adapted(warm, warm, cool) == pytest.approx(cool)
    assert adapted(np.zeros(3), warm, cool) == pytest.approx(np.zeros(3))
    assert adapted(adapted(cool * 0.4, cool, warm), warm, cool) == pytest.approx(cool * 0.4)
