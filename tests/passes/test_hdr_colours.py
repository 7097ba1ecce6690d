"""The colour management of an HDR memory: held to diffuse white, below the knee, in ΔE ITP."""

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from benchmarks.hdr import Colours, true_knee
from benchmarks.white_balance import corrected
from tests.passes.test_hdr import visited
from tests.passes.test_results import same

from aequitone.advice.colours import ColourPlanner
from aequitone.colorimetry import P3, REC2020, Formula, delta_e_itp
from aequitone.passes import (
    AS_FOUND,
    COLOURS_FOUND,
    MANAGEMENT,
    PEAK,
    WHITE,
    NotReadyError,
    begin,
    carry_out,
    colour_plan,
    from_json,
    load_snapshot,
    management_plan,
    to_json,
)
from aequitone.procedures.colour.manage_plan import Managed
from aequitone.procedures.colour.samples import DIFFUSE_WHITE, Length, samples
from aequitone.procedures.runner import NobodyThere
from aequitone.reference import target_named


def test_colours_of_an_hdr_memory_come_nearer_in_truth(tmp_path: Path) -> None:
    logbook, visit_id, bench = visited(tmp_path, "wide-lcd")
    # What a colorimeter's filters make of a wide red, whose X they read by 1 % too high, is no fault of Colour.
    ports = replace(bench.bench(), meter=corrected(bench, logbook.visit(visit_id).bench.care))
    for each in (AS_FOUND, PEAK, WHITE, COLOURS_FOUND):
        carry_out(logbook, begin(logbook, visit_id, each), ports, NobodyThere())
    snapshot, knee = load_snapshot(logbook, visit_id), true_knee(bench.scenario)[0]
    plan, looked = management_plan(snapshot), colour_plan(snapshot)
    assert plan.formula is Formula.ITP
    assert plan.diffuse is not None
    assert plan.diffuse.luminance == DIFFUSE_WHITE
    assert plan.known is not None
    # What is brighter than diffuse white is measured, not set by.
    assert len(plan.samples) < len(looked.samples)
    assert plan.linear([sample.signal for sample in plan.samples]).max() <= 1.0
    everyday = np.array([sample.is_everyday for sample in looked.samples])
    before = Colours.of(bench, looked, knee).means(everyday)
    managed = carry_out(logbook, begin(logbook, visit_id, MANAGEMENT), ports, NobodyThere())
    after = Colours.of(bench, looked, knee).means(everyday)
    assert managed.trips
    assert sum(after) < sum(before) - 0.4
    assert "ΔE ITP" in managed.words
    told = [trip.move.expected.words for trip in managed.trips if trip.move.expected is not None]
    assert told
    assert all(words.startswith("Expect ΔE ITP ") for words in told)
    # What it says of its last reading is what the screen gives.
    said = managed.colours.mean(everyday=False)
    assert said[0] == pytest.approx(after[0], abs=0.3 + 2.0 * said[1])
    assert same(from_json(Managed, to_json(managed)), managed)
    logbook.close()


def test_white_of_a_dim_screen_is_held_below_its_knee(tmp_path: Path) -> None:
    logbook, visit_id, bench = visited(tmp_path, "laser-projector")
    with pytest.raises(NotReadyError, match="measure it at Peak"):
        management_plan(load_snapshot(logbook, visit_id))
    for each in (AS_FOUND, PEAK):
        carry_out(logbook, begin(logbook, visit_id, each), bench.bench(), NobodyThere())
    plan, knee = management_plan(load_snapshot(logbook, visit_id)), true_knee(bench.scenario)[0]
    assert plan.diffuse is not None
    assert plan.diffuse.six <= plan.diffuse.luminance < 50.0
    assert plan.white_patch.signal[0] < knee
    assert max(max(sample.signal) for sample in plan.samples) < 100.0 * knee
    logbook.close()


def test_differences_of_hdr_are_counted_in_cd_m2() -> None:
    one, other = np.array([[0.5, 0.4, 0.3]]), np.array([[0.48, 0.41, 0.3]])
    target = target_named("p3in2020-pq/added")
    planner = ColourPlanner(target, np.ones(1), formula=Formula.ITP, luminance=203.0)
    expected = delta_e_itp(203.0 * P3.xyz(one), 203.0 * P3.xyz(other)) / Formula.ITP.unit
    assert planner.errors(one, other) == pytest.approx(expected, rel=1e-6)
    cast_alone = ColourPlanner(target, np.ones(1), formula=Formula.ITP_CAST, luminance=203.0)
    assert cast_alone.errors(1.1 * one, one) == pytest.approx([0.0], abs=1e-6)


def test_colours_of_p3_in_a_wider_container_lie_in_p3() -> None:
    for sample in samples(Length.USUAL, 75.0, REC2020, P3):
        if sample.is_everyday:
            continue
        linear = (np.array(sample.signal) / 75.0) ** 2.2
        inside = P3.rgb(REC2020.xyz(linear))
        assert inside.min() > -0.01
        if sample.saturation == 100.0:
            assert inside.min() < 0.02
