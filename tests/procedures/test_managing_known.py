"""Colour management with colours that are known, without light, and on a block that bands where it is pushed."""

from dataclasses import replace

import numpy as np
import pytest
from benchmarks.colour_management import (
    Case,
    care_of,
    controls_of,
    faulty,
    plan_of,
    ports_of,
    run_one,
    truth,
    white_set,
)
from benchmarks.trust import with_part

from aequitone.advice.colours.planner import ColourPlanner
from aequitone.colorimetry import Formula
from aequitone.procedures.colour.colour_pass import ColourPlan, colour_pass
from aequitone.procedures.colour.manage_plan import KnownColours, Managed, ManagePlan
from aequitone.procedures.colour.managing import manage_colours
from aequitone.procedures.journal import MemoryJournal, Turned
from aequitone.procedures.runner import NobodyThere, Runner
from aequitone.procedures.steps import Reading
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import Scenario


def known_unit(scenario: Scenario, seed: int) -> tuple[StandInBench, ManagePlan]:
    """A unit with white set whose colours were read just before."""
    bench = build_bench(scenario, seed)
    bench.screen.quieten()
    white_set(bench)
    plan = plan_of(Case("wide-lcd", seed), scenario, controls_of(bench))
    found = run(bench, colour_pass(ColourPlan(plan.target, plan.format)))[0]
    return bench, replace(plan, known=KnownColours.of(found))


def run(bench: StandInBench, procedure):  # type: ignore[no-untyped-def]
    journal = MemoryJournal()
    runner = Runner(ports_of(bench, bench.scenario), journal, NobodyThere(), care=care_of(bench.scenario))
    return runner.run(procedure), journal


def before_the_first_move(journal: MemoryJournal) -> list[str]:
    kept = list(journal.results.values())
    first = next(i for i, each in enumerate(kept) if isinstance(each, Turned))
    return [each.patch.name for each in kept[:first] if isinstance(each, Reading)]


def test_known_colours_are_not_read_again_and_everyday_ones_count() -> None:
    bench, plan = known_unit(faulty("wide-lcd", 101, 0.03), 101)
    before = truth(bench)
    managed, journal = run(bench, manage_colours(plan))
    # White, a darker grey and the full primaries.
    assert len(before_the_first_move(journal)) == 5
    after = truth(bench)
    assert after[2] < 0.6 * before[2]
    assert isinstance(managed, Managed)
    assert managed.everyday is not None
    found, left = managed.everyday
    assert abs(found - before[2]) < 0.3
    assert abs(left - after[2]) < 0.3
    assert "everyday ones, as reckoned" in managed.words


def test_where_the_colours_have_changed_since_all_are_read() -> None:
    bench, plan = known_unit(faulty("wide-lcd", 102, 0.03), 102)
    # Somebody turned a control in between.
    bench.screen.turn({"cms-red-lightness": 30})
    plan = replace(plan, controls=controls_of(bench))
    managed, journal = run(bench, manage_colours(plan))
    assert any(note.startswith("The colours are not as they were") for note in journal.notes.values())
    assert len(before_the_first_move(journal)) > len(plan.read)
    # What everyday colours are is not known any more.
    assert managed.everyday is None


def test_light_left_out_does_not_count() -> None:
    _, plan = known_unit(faulty("wide-lcd", 103, 0.0), 103)
    wanted = np.array([[0.4, 0.1, 0.1], [0.1, 0.3, 0.2], [1.0, 1.0, 1.0]])
    weights = np.ones(3)
    with_it = ColourPlanner(plan.target, weights)
    without = ColourPlanner(plan.target, weights, formula=Formula.DE2000_CAST)
    assert with_it.errors(1.2 * wanted, wanted).min() > 1.0
    assert without.errors(1.2 * wanted, wanted).max() < 1e-6


def test_a_ramp_that_has_a_step_takes_back_what_made_it() -> None:
    scenario = faulty("wide-lcd", 0, 0.07)
    kind = scenario.screen.colour_management
    assert kind is not None
    kind = kind.model_copy(update={"bands_from": 6, "dead": (), "swapped": None})
    bench, plan = known_unit(with_part(scenario, "screen", colour_management=kind), 0)
    managed, journal = run(bench, manage_colours(plan))
    said = [note for note in journal.notes.values() if note.startswith("The ramp through")]
    assert said
    assert managed.ramps
    assert not any(ramp.is_seen for ramp in managed.ramps)
    # What is turned back stands where the record says.
    stands = bench.screen.settings()
    assert {control.role.key: control.value for control in managed.controls}.items() <= stands.items()
    colour = said[0].split()[3]
    own = [control.value for control in managed.controls if control.role.channel == colour]
    assert max(map(abs, own)) < max(
        abs(c.to_value) for t in managed.trips for c in t.move.changes if c.role.channel == colour
    )


@pytest.mark.parametrize(("name", "seed"), [("lamp-projector", 102), ("laser-projector", 101)])
def test_no_new_step_is_left_on_a_screen_that_bands(name: str, seed: int) -> None:
    told = run_one(Case(name, seed, bands=True))
    found, ours = told["found"], told["ours"]
    assert not ours.ramps - found.ramps
    # It is not left off for that.
    assert ours.colours[0] < found.colours[0] - 0.15


def test_where_the_colour_turned_furthest_is_smooth_no_other_ramp_is_read() -> None:
    bench, plan = known_unit(faulty("wide-lcd", 2, 0.07), 2)
    managed, _ = run(bench, manage_colours(plan))
    assert len(managed.ramps) == 1
    far: dict[str, int] = {}
    for now, before in zip(managed.controls, plan.controls, strict=True):
        far[now.role.channel] = max(far.get(now.role.channel, 0), abs(now.value - before.value))
    assert far[managed.ramps[0].colour] == max(far.values())
    assert sum(steps > 0 for steps in far.values()) > 1
