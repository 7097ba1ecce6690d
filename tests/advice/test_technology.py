"""The meter's mode, suspected from native primaries."""

import numpy as np
import pytest

from aequitone.advice.technology import (
    TECHNOLOGY_WORDS,
    Technology,
    black_words,
    mode_words,
    suspect,
    technology_of,
)
from aequitone.signal import colour_patch
from aequitone.standins.bench import build_bench
from aequitone.standins.scenario import load_scenario
from aequitone.standins.shipped import shipped_scenarios

RGB = ((100.0, 0.0, 0.0), (0.0, 100.0, 0.0), (0.0, 0.0, 100.0))


def primaries(name: str, mode: str, seed: int) -> tuple[str, np.ndarray]:
    bench = build_bench(load_scenario(name), seed)
    part = bench.screen.part
    native = [i for i, preset in enumerate(part.gamut) if preset.shows == "native"]
    if native:
        bench.screen.turn({"gamut": native[0]})
    bench.meter.sensor.choose(technology_of(mode) or part.technology)
    patches = [colour_patch("c", rgb, bench.scenario.source.format) for rgb in RGB]
    return part.technology, np.array([bench.meter.sensor.seen(bench.screen.steady_light(p)) for p in patches])


@pytest.mark.parametrize("name", [name for name in shipped_scenarios() if name != "laser-projector"])
def test_no_false_alarm_on_screens_in_their_own_mode(name: str) -> None:
    for seed in range(10):
        technology, xyz = primaries(name, "", seed)
        judged = suspect(technology, xyz)
        assert judged is not None
        assert judged.words == ""


def test_another_kind_of_screen_is_suspected_with_its_name() -> None:
    _, xyz = primaries("wide-lcd", "", 0)
    judged = suspect(Technology.TUBE, xyz)
    assert judged is not None
    assert judged.closest == "wide-lcd"
    assert "look like those of a wide-gamut LCD, not of a tube" in judged.words


def test_primaries_like_nothing_usual_are_said_more_carefully() -> None:
    odd = np.array([[30.0, 10.0, 1.0], [30.0, 35.0, 5.0], [20.0, 6.0, 90.0]])
    judged = suspect(Technology.LED_LCD, odd)
    assert judged is not None
    assert "are not those of a usual LED-LCD" in judged.words
    assert suspect(technology_of("cardboard"), odd) is None


def test_a_mode_that_is_not_the_screens_is_said() -> None:
    assert "set to plasma, but the screen is noted as a white-subpixel OLED" in mode_words(
        Technology.WHITE_OLED, "plasma"
    )
    oled = Technology.WHITE_OLED
    for screen, mode in ((oled, oled), (oled, ""), (Technology.UNKNOWN, "plasma"), (oled, "any")):
        assert mode_words(screen, mode) == ""
    assert set(TECHNOLOGY_WORDS) == {load_scenario(name).screen.technology for name in shipped_scenarios()}


@pytest.mark.parametrize(
    ("screen", "black", "sd", "said"),
    [
        (Technology.WHITE_OLED, 0.05, 0.002, "an OLED's gives none"),
        (Technology.WHITE_OLED, 0.004, 0.002, ""),
        (Technology.RGB_OLED, 0.0, 0.001, ""),
        (Technology.LED_LCD, 0.0, 0.0005, "Black gives no light, and that of a LED-LCD does"),
        (Technology.LED_LCD, 0.0, 0.005, ""),
        (Technology.PLASMA, 0.02, 0.001, ""),
        (Technology.TUBE, 0.0, 0.0001, ""),
        (Technology.UNKNOWN, 0.0, 0.0001, ""),
    ],
)
def test_a_black_that_such_a_screen_does_not_have_is_asked_about(
    screen: Technology, black: float, sd: float, said: str
) -> None:
    words = black_words(screen, 100.0, black, sd)
    assert (said in words) if said else words == ""
