"""A colour pass on the stand-ins: against the truth, with white that wanders, with wishes, and from its record."""

from dataclasses import replace

import numpy as np
import pytest
from benchmarks.trust import with_part

from aequitone.passes.colours import colours_words
from aequitone.passes.kept import from_json, to_json
from aequitone.procedures.colour.colour_pass import ColourPass, ColourPlan, ColoursSoFar, colour_pass
from aequitone.procedures.colour.samples import Length
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.replay import replay
from aequitone.procedures.runner import Event, NobodyThere, Runner, StepDone
from aequitone.procedures.steps import Progress, PutBack, Reading
from aequitone.reference import target_named
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.bench_parts import MeterPart
from aequitone.standins.parts import DriftPart
from aequitone.standins.scenario import load_scenario

TARGET = target_named("rec709-2.2/added")


def sharp(name: str, seed: int = 1, **drift: float) -> StandInBench:
    """A bench whose meter is a spectroradiometer without noise, on a screen that drifts only as told."""
    scenario = with_part(load_scenario(name), "screen", drift=DriftPart(**drift))  # type: ignore[arg-type]
    exact = MeterPart(kind="spectroradiometer", shot_noise=0.0005, floor_noise_cd_m2=0.00005)
    scenario = scenario.model_copy(update={"meter": exact})
    bench = build_bench(scenario, seed)
    bench.screen.quieten()
    return bench


def run(bench: StandInBench, plan: ColourPlan) -> tuple[ColourPass, MemoryJournal]:
    journal = MemoryJournal()
    return Runner(bench.bench(), journal, NobodyThere()).run(colour_pass(plan)), journal


def plan_for(bench: StandInBench, length: Length = Length.SHORT) -> ColourPlan:
    return ColourPlan(TARGET, bench.scenario.source.format, length)


@pytest.mark.parametrize("name", ["demo", "wide-lcd", "rgb-oled"])
def test_it_finds_what_the_screen_shows(name: str) -> None:
    bench = sharp(name)
    plan = plan_for(bench)
    found, journal = run(bench, plan)
    readings = [kept for kept in journal.results.values() if isinstance(kept, Reading)]
    assert len(readings) == plan.readings
    by_name = {reading.patch.name: reading for reading in readings}
    for sample, xyz in zip(found.samples, found.xyz, strict=True):
        true = bench.screen.steady(by_name[sample.name].patch)
        assert np.allclose(xyz, true, rtol=0.02, atol=0.02), sample.name
    assert found.white == pytest.approx(bench.screen.steady(readings[0].patch), rel=0.01)
    assert replay(colour_pass(plan), journal.recorded())[0].white == pytest.approx(found.white)  # type: ignore[union-attr]


def test_white_that_wanders_is_taken_out_of_the_colours() -> None:
    still, wandering = sharp("demo"), sharp("demo", light_share_per_hour=1.0)
    wanted, _ = run(still, plan_for(still))
    found, journal = run(wandering, plan_for(wandering))
    assert found.drift > 1.0
    assert any("White moved by" in note for note in journal.notes.values())
    assert np.allclose(found.errors.light, wanted.errors.light, atol=0.35)
    raw, _ = run(sharp("demo", light_share_per_hour=1.0), replace(plan_for(wandering), anchor_every=0))
    assert raw.drift > 1.0


def test_the_last_reading_is_taken_again_where_that_is_wished() -> None:
    bench = build_bench(load_scenario("demo"), 2)
    plan, wished = plan_for(bench), []

    def hear(event: Event) -> None:
        if (
            isinstance(event, StepDone)
            and isinstance(event.step, Progress)
            and event.step.done == 9
            and not wished
        ):
            wished.append(event)
            runner.wish(PutBack)

    journal = MemoryJournal()
    runner = Runner(bench.bench(), journal, NobodyThere(), hear)
    found = runner.run(colour_pass(plan))
    readings = [kept for kept in journal.results.values() if isinstance(kept, Reading)]
    assert len(readings) == plan.readings + 1
    assert any("is read again" in note for note in journal.notes.values())
    assert len(found.samples) == len(plan.samples)


def test_what_it_tells_on_the_way_grows_to_the_whole() -> None:
    bench = build_bench(load_scenario("demo"), 5)
    seen: list[ColoursSoFar] = []

    def hear(event: Event) -> None:
        if isinstance(event, StepDone) and isinstance(event.step, Progress):
            seen.append(event.step.value)

    plan = plan_for(bench)
    found = Runner(bench.bench(), MemoryJournal(), NobodyThere(), hear).run(colour_pass(plan))
    assert seen[0].found is None
    counts = [len(each.found.samples) for each in seen if each.found is not None]
    assert counts == sorted(counts)
    assert counts[-1] == len(plan.samples)
    assert seen[-1].found is not None
    assert np.allclose(seen[-1].found.errors.de2000, found.errors.de2000)


def test_plan_and_result_are_kept_whole_and_told_in_words() -> None:
    bench = build_bench(load_scenario("wide-lcd"), 3)
    plan = plan_for(bench)
    found, _ = run(bench, plan)
    assert from_json(ColourPlan, to_json(plan)) == plan
    kept = from_json(ColourPass, to_json(found))
    assert kept.samples == found.samples
    assert np.array_equal(kept.errors.hue, found.errors.hue, equal_nan=True)
    words = colours_words(found)
    worst = found.samples[found.worst(everyday=True)].name
    assert words.startswith("Saturations: ΔE 2000 ")
    assert f"at worst {found.errors.de2000[found.worst(everyday=True)]:.1f} at {worst}." in words


def test_a_meter_by_hand_reads_white_and_black_once() -> None:
    plan = ColourPlan(TARGET, build_bench(load_scenario("demo"), 0).scenario.source.format, Length.SHORT)
    by_hand = replace(plan, anchor_every=0, repeat_anchors=False)
    assert by_hand.readings == len(by_hand.samples) + 3
