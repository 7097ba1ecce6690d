"""Colour management where white is brighter than its colours together, and where nothing is worth a turn."""

from dataclasses import replace

import numpy as np
import pytest
from benchmarks.colour_management import TARGET, faulty, ladder
from tests.procedures.test_managing_known import known_unit, run

from aequitone.advice.colours import boosted_words, missing_light
from aequitone.colorimetry import Formula, delta_e_2000
from aequitone.passes.colours import colours_words
from aequitone.procedures.colour.colour_pass import ColourPlan, colour_pass
from aequitone.procedures.colour.manage_plan import Managed
from aequitone.procedures.colour.managing import manage_colours
from aequitone.procedures.colour.samples import Length, samples
from aequitone.standins.bench import StandInBench

_SHARES = np.array([0.2126, 0.7152, 0.0722])
_SIX = np.array([each.signal for each in samples(Length.USUAL, 75.0) if not each.is_everyday]) / 100.0


def cast(bench: StandInBench) -> float:
    """Mean true ΔE 2000 of the saturations, without light."""
    light = bench.screen.light_of_signal
    white, black = float(light(np.ones(3))[1]), float(light(np.zeros(3))[1])
    wanted = TARGET.colour(_SIX, white, black)
    return float(delta_e_2000(light(_SIX), wanted, TARGET.white.xyz(white), light=False).mean())


@pytest.mark.parametrize(
    ("measured", "missing"),
    [
        (_SHARES, 0.0),
        (0.6 * _SHARES, 0.4),
        # A tone that is a little dark where the colours are read, and one primary that is far off, are no boost.
        (0.9 * _SHARES, 0.0),
        (_SHARES * [1.0, 0.7, 1.0], 0.0),
        (1.3 * _SHARES, 0.0),
    ],
)
def test_white_is_boosted_where_every_primary_misses_light(measured: np.ndarray, missing: float) -> None:
    assert missing_light(measured, _SHARES) == pytest.approx(missing)


def test_light_that_no_colour_can_have_is_left_out_and_said() -> None:
    bench, plan = known_unit(faulty("white-oled", 5, 0.03), 5)
    before, grey = cast(bench), ladder(bench)
    managed, journal = run(bench, manage_colours(plan))
    assert isinstance(managed, Managed)
    assert any(boosted_words(0.0).split("%")[1] in note for note in journal.notes.values())
    assert managed.formula is Formula.DE2000_CAST
    assert managed.words.startswith("Saturations and everyday colours, light left out: ΔE")
    assert cast(bench) < 0.75 * before
    assert ladder(bench) < grey + 0.15
    assert managed.average == pytest.approx(cast(bench), abs=0.3)


def test_light_counts_where_it_is_asked_for_and_on_a_sound_screen() -> None:
    bench, plan = known_unit(faulty("white-oled", 5, 0.03), 5)
    counted, journal = run(bench, manage_colours(replace(plan, light=True, controls=plan.controls[:3])))
    assert counted.formula is Formula.DE2000
    assert not any("less light than white" in note for note in journal.notes.values())
    bench, plan = known_unit(faulty("wide-lcd", 104, 0.03), 104)
    sound, journal = run(bench, manage_colours(plan))
    assert sound.formula is Formula.DE2000
    assert not any("less light than white" in note for note in journal.notes.values())


def test_the_colours_as_found_say_it_too() -> None:
    bench, plan = known_unit(faulty("white-oled", 5, 0.03), 5)
    found, _ = run(bench, colour_pass(ColourPlan(plan.target, plan.format)))
    off = found.mean_cast(everyday=False, white=found.white)
    assert off == pytest.approx(cast(bench), abs=0.2)
    told = colours_words(found)
    assert "% less light than white" in told
    assert f"Without light, saturations are off by ΔE {off:.1f}." in told
    bench, plan = known_unit(faulty("wide-lcd", 104, 0.03), 104)
    found, _ = run(bench, colour_pass(ColourPlan(plan.target, plan.format)))
    assert "less light" not in colours_words(found)


def test_nobody_walks_for_less_than_would_be_kept() -> None:
    bench, plan = known_unit(faulty("white-oled", 9, 0.0), 9)
    stood = bench.screen.settings()
    managed, _ = run(bench, manage_colours(plan))
    assert not managed.trips
    assert managed.words.startswith("No turn of the colour management is worth a trip: ΔE 0.")
    assert bench.screen.settings() == stood
