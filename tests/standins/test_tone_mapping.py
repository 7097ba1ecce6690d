"""How a simulated screen maps HDR: by its curve, by what is named, and moving with the picture."""

from dataclasses import replace

import numpy as np
import pytest
from tests.passes.test_hdr import visited

from aequitone.colorimetry.transfer import pq_light, roll_off_from, rolled_off
from aequitone.logbook import BenchChoice
from aequitone.passes import AS_FOUND, PEAK, PROOF, begin, carry_out, load_snapshot
from aequitone.procedures.grey.first_look import look_readings
from aequitone.procedures.runner import NobodyThere
from aequitone.signal import Container, MasteringLight, Patch, Range, SignalFormat, Transfer, grey_patch
from aequitone.standins.bench import build_bench
from aequitone.standins.parts import HdrPart
from aequitone.standins.scenario import load_scenario
from aequitone.standins.signal_path.tone import hdr_light

PQ = SignalFormat(10, Range.LIMITED, 0.10, Transfer.PQ, Container.REC2020)
SIGNAL = np.linspace(0.0, 1.0, 101)[:, None] * np.ones(3)


def test_each_curve_is_what_it_is_called() -> None:
    cut = hdr_light(SIGNAL, Transfer.PQ, HdrPart(curve="clip"), 700.0, 4_000.0)
    assert cut == pytest.approx(np.minimum(pq_light(SIGNAL) / 700.0, 1.0))
    spline = hdr_light(SIGNAL, Transfer.PQ, HdrPart(curve="spline"), 700.0, 4_000.0)
    assert spline == pytest.approx(rolled_off(SIGNAL, 4_000.0, 700.0) / 700.0)
    own = hdr_light(SIGNAL, Transfer.PQ, HdrPart(knee_share=0.5), 700.0, 4_000.0)
    below = pq_light(SIGNAL) <= 350.0
    assert own[below] == pytest.approx(pq_light(SIGNAL)[below] / 700.0)
    assert (own <= cut + 1e-12).all()


def test_what_is_named_moves_the_roll_off_of_a_screen_that_heeds_it() -> None:
    screen = build_bench(load_scenario("mapping-lcd"), 2).screen
    screen.quieten()
    grey = grey_patch(72.0, PQ)
    light = {
        peak: float(screen.steady(replace(grey, format=replace(PQ, mastering=MasteringLight.usual(peak))))[1])
        for peak in (1_000.0, 4_000.0)
    }
    assert light[1_000.0] > 1.03 * light[4_000.0]
    # Without a name it takes films of 4,000 for given.
    assert float(screen.steady(grey)[1]) == pytest.approx(light[4_000.0])
    other = build_bench(load_scenario("quantum-lcd"), 2).screen
    other.quieten()
    named = replace(grey, format=replace(PQ, mastering=MasteringLight.usual(1_000.0)))
    assert other.steady(named)[1] == pytest.approx(other.steady(grey)[1])


def test_moving_tone_mapping_follows_the_picture_and_not_below_the_knee() -> None:
    bench = build_bench(load_scenario("mapping-lcd"), 2)
    screen, clock = bench.screen, bench.clock
    screen.quieten()
    screen.turn({"feature-tone-mapping": 1})

    def light_after(before: Patch, patch: Patch, seconds: float) -> float:
        screen.show(before)
        clock.sleep(30.0)
        screen.show(patch)
        clock.sleep(seconds)
        return float(screen.light_now().xyz[1])

    dark, bright = grey_patch(0.0, PQ), grey_patch(100.0, replace(PQ, window=1.0))
    grey = grey_patch(75.0, PQ)
    at_once = [light_after(before, grey, 0.05) for before in (dark, bright)]
    later = [light_after(before, grey, 30.0) for before in (dark, bright)]
    assert at_once[0] > 1.03 * at_once[1]
    assert later[0] == pytest.approx(later[1], rel=2e-3)
    below = grey_patch(100.0 * roll_off_from(1_000.0, 650.0) - 15.0, PQ)
    low = [light_after(before, below, 0.05) for before in (dark, bright)]
    assert low[0] == pytest.approx(low[1], rel=2e-3)


@pytest.mark.parametrize("moving", [False, True])
def test_the_first_look_and_peak_find_what_moves(moving: bool, tmp_path) -> None:
    logbook, visit_id, bench = visited(tmp_path, "mapping-lcd")
    bench.screen.turn({"feature-tone-mapping": int(moving)})
    for kind in (AS_FOUND, PEAK):
        carry_out(logbook, begin(logbook, visit_id, kind), bench.bench(), NobodyThere())
    snapshot = load_snapshot(logbook, visit_id)
    said, peak = " ".join(snapshot.notes(AS_FOUND)), snapshot.result(PEAK)
    assert peak is not None
    assert ("tones are mapped by the picture" in said) is moving
    assert ("tones are mapped by the picture" in peak.words) is moving
    assert peak.heeds > 0.04
    assert "It goes by the metadata" in peak.words
    logbook.close()


def test_what_is_named_is_chosen_at_the_bench_and_kept_with_every_reading(tmp_path) -> None:
    logbook, visit_id, bench = visited(tmp_path, "mapping-lcd")
    choice = logbook.visit(visit_id).bench
    logbook.choose_bench(visit_id, replace(choice, mastering=1_000.0))
    chosen = logbook.visit(visit_id).bench
    assert chosen.format.mastering == MasteringLight.usual(1_000.0)
    assert chosen.format.label.endswith("PQ, Rec.2020, mastered to 1000 cd/m²")
    carry_out(logbook, begin(logbook, visit_id, PROOF), bench.bench(), NobodyThere())
    snapshot = load_snapshot(logbook, visit_id)
    assert {reading.patch.format.mastering for reading in snapshot.readings} == {MasteringLight.usual(1_000.0)}
    assert snapshot.revised_words(PROOF) == ""
    logbook.close()
    # SDR has no metadata to name it in.
    assert BenchChoice(mastering=1_000.0).format.mastering is None


def test_a_first_look_takes_longer_only_where_tones_can_be_mapped() -> None:
    sdr = replace(PQ, transfer=Transfer.GAMMA)
    assert look_readings(PQ) > look_readings(sdr) == look_readings(replace(PQ, window=0.03))


def test_lights_that_cannot_be_are_refused() -> None:
    for wrong in ((0.5, 0.0, 1, 1), (1_000.0, 1_000.0, 1, 1), (1_000.0, 0.0, 100, 200), (20_000.0, 0.0, 1, 1)):
        with pytest.raises(ValueError, match="cannot be"):
            MasteringLight(*wrong)
