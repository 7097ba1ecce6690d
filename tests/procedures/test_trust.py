"""The guards of the reading engine, each with a bench that lies in its way; and the same without the guard."""

from dataclasses import replace

import pytest
from benchmarks import faults, trust
from benchmarks import first_look as looks

from aequitone.advice.answers.answer import LOOK_PERCENTS, MUTED, RangeAnswer, recognise
from aequitone.colorimetry import REC709
from aequitone.procedures.care import CARE, RefreshFields
from aequitone.procedures.grey.first_look import WrongSignalError, first_look, mismatch_words
from aequitone.procedures.grey.grey_pass import GreyPlan, grey_pass
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.runner import NobodyThere, Runner
from aequitone.reference import target_named
from aequitone.signal import Range, SignalFormat, Transfer
from aequitone.standins.bench import build_bench
from aequitone.standins.parts import StillPart
from aequitone.standins.scenario import Scenario, load_scenario

SEEDS = 6
TARGET = target_named("rec709-2.2")


@pytest.fixture(scope="module")
def demo() -> Scenario:
    return load_scenario("demo")


@pytest.fixture(scope="module")
def calm(demo: Scenario) -> trust.Left:
    return trust.left(demo, CARE, SEEDS)


def test_outliers_are_read_again_and_left_out(demo: Scenario, calm: trust.Left) -> None:
    lying = trust.with_part(demo, "meter", outlier_share=0.05)
    guarded, bare = trust.left(lying, CARE, SEEDS), trust.left(lying, replace(CARE, doubt=False), SEEDS)
    assert guarded.light - calm.light < 0.3
    assert guarded.uv - calm.uv < 0.0005
    assert bare.light - calm.light > 1.0


def test_drift_is_followed_and_taken_out(demo: Scenario, calm: trust.Left) -> None:
    drifting = trust.drifting(demo, 3.0, calm.minutes)
    guarded, bare = trust.left(drifting, CARE, SEEDS), trust.left(drifting, CARE, SEEDS, take_out_drift=False)
    assert guarded.light - calm.light < 0.3
    assert guarded.uv - calm.uv < 0.0005
    assert bare.light - calm.light > 0.8


def test_refresh_fields_keep_a_panel_from_dimming() -> None:
    oled = load_scenario("white-oled")
    steady = trust.left(trust.with_part(oled, "screen", still=StillPart()), CARE, SEEDS)
    refreshed = trust.left(oled, replace(CARE, refresh=RefreshFields()), SEEDS, take_out_drift=False)
    bare = trust.left(oled, CARE, SEEDS, take_out_drift=False)
    assert refreshed.light - steady.light < 0.3
    assert refreshed.uv - steady.uv < 0.0005
    assert bare.light - steady.light > 1.0


def test_dimming_is_said_even_without_refresh_fields() -> None:
    bench, journal = build_bench(load_scenario("white-oled"), 1), MemoryJournal()
    plan = GreyPlan(TARGET, bench.scenario.source.format, 21, anchor_every=4)
    found = Runner(bench.bench(), journal, NobodyThere()).run(grey_pass(plan))
    assert found.drift < -2.0
    assert found.drift_taken_out
    assert any("set refresh fields at the Bench" in note for note in journal.notes.values())


def test_what_was_left_out_is_marked_and_said(demo: Scenario) -> None:
    lying = trust.with_part(demo, "meter", outlier_share=0.15)
    bench, journal = build_bench(lying, 3), MemoryJournal()
    Runner(bench.bench(), journal, NobodyThere()).run(grey_pass(GreyPlan(TARGET, lying.source.format)))
    assert sum(reading.rejected for reading in journal.results.values()) > 0
    assert any("did not agree with the rest and w" in note for note in journal.notes.values())


def test_a_late_patch_is_not_taken_for_the_one_before(demo: Scenario) -> None:
    late = trust.with_part(demo, "source", late_share=0.3, late_seconds=1.2)
    for doubt in (True, False):
        wrong = 0
        for seed in range(SEEDS):
            bench, journal = build_bench(late, seed), MemoryJournal()
            bench.screen.quieten()
            runner = Runner(bench.bench(), journal, NobodyThere(), care=replace(CARE, doubt=doubt))
            runner.run(grey_pass(GreyPlan(TARGET, late.source.format)))
            for reading in journal.results.values():
                true = bench.meter.sensor.seen(bench.screen.steady_light(reading.patch))
                wrong += abs(reading.Y - true[1]) > 0.02 * true[1] + 0.01
        assert bool(wrong == 0) is doubt


@pytest.mark.parametrize("scenario", ["demo", "white-oled", "laser-projector"])
def test_the_first_look_names_the_signal(scenario: str) -> None:
    shipped = load_scenario(scenario)
    cases = [case for case in looks.cases(shipped, scenario, 3) if case.believed.transfer is Transfer.GAMMA]
    answers = [(case, looks.answered(shipped, case)) for case in cases]
    for case, answer in answers:
        assert answer.clear
        assert (answer.transfer, answer.range) == (case.transfer, case.range)
        assert (mismatch_words(answer, case.believed) == "") is (
            case.transfer is Transfer.GAMMA and case.range is RangeAnswer.RIGHT
        )


def test_a_wrong_signal_stops_the_pass_with_its_likely_cause(demo: Scenario) -> None:
    crushed = trust.with_part(demo, "screen", expects_range="full")
    bench = build_bench(crushed, 0)
    run = Runner(bench.bench(), MemoryJournal(), NobodyThere()).run
    with pytest.raises(WrongSignalError, match="limited codes are taken as full ones.*HDMI black level"):
        run(first_look(demo.source.format, TARGET))
    hdr = SignalFormat(10, transfer=Transfer.PQ)
    with pytest.raises(WrongSignalError, match=r"answers as a power gamma \(SDR\), but .* meant as PQ.*HDR flag"):
        Runner(build_bench(demo, 0).bench(), MemoryJournal(), NobodyThere()).run(first_look(hdr, TARGET))


def test_a_covered_meter_is_said_before_time_is_spent(demo: Scenario) -> None:
    covered = trust.with_part(demo, "meter", darkest_cd_m2=10.0)
    covered = trust.with_part(covered, "screen", peak_cd_m2=3.0)
    bench = build_bench(covered, 0)
    with pytest.raises(WrongSignalError, match="white is no brighter than black.*cap off"):
        Runner(bench.bench(), MemoryJournal(), NobodyThere()).run(first_look(demo.source.format, TARGET))


def test_light_that_follows_no_curve_is_called_unclear() -> None:
    steps = [100.0, 0.1, 0.1, 30.0, 31.0, 32.0, 33.0, 34.0, 35.0]
    assert len(steps) == len(LOOK_PERCENTS)
    grey = REC709.xyz([[step] * 3 for step in steps])
    answer = recognise(grey, REC709.xyz(MUTED), Range.LIMITED)
    assert not answer.clear
    assert "fit no curve" in mismatch_words(answer, SignalFormat())


@pytest.mark.parametrize("seed", range(5))
def test_a_pass_survives_everything_that_goes_wrong_on_the_wire(seed: int) -> None:
    told = faults.one_pass(seed)
    assert told.faults == []
    assert told.starts + told.troubles + told.hang_ups > 3
