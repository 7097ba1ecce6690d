"""Colour management on stand-ins: better by the truth, grey kept, left alone where sound, steered by wishes."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache

import numpy as np
import pytest
from benchmarks.colour_management import (
    Case,
    care_of,
    controls_of,
    faulty,
    ladder,
    plan_of,
    ports_of,
    truth,
    white_set,
)

from aequitone.advice.roles import Role, RoleKind
from aequitone.instruments.ports import Bench, ScreenLink
from aequitone.passes.kept import from_json, to_json
from aequitone.procedures.colour.manage_plan import Managed, ManagePlan
from aequitone.procedures.colour.managing import manage_colours
from aequitone.procedures.journal import MemoryJournal, Turned
from aequitone.procedures.replay import replay
from aequitone.procedures.runner import Event, NobodyThere, Runner, StepBegun
from aequitone.procedures.steps import Interrupt, Progress, PutBack, Reading, Show, StopHere, Turn, Watch
from aequitone.signal import Patch
from aequitone.standins.bench import StandInBench, build_bench


def unit(name: str = "wide-lcd", seed: int = 101, spread: float = 0.03) -> tuple[StandInBench, Bench, ManagePlan]:
    """A unit whose colours are off, white set, and the plan for it by link."""
    scenario = faulty(name, seed, spread)
    bench = build_bench(scenario, seed)
    bench.screen.quieten()
    white_set(bench)
    return bench, ports_of(bench, scenario), plan_of(Case(name, seed), scenario, controls_of(bench))


@cache
def set_once() -> tuple[tuple[float, ...], tuple[float, ...], float, Managed, MemoryJournal, ManagePlan]:
    bench, ports, plan = unit()
    before, grey = truth(bench), ladder(bench)
    journal = MemoryJournal()
    managed = Runner(ports, journal, NobodyThere(), care=care_of(bench.scenario)).run(manage_colours(plan))
    return before, truth(bench), ladder(bench) - grey, managed, journal, plan


def test_colours_come_nearer_by_the_truth_and_grey_stays() -> None:
    before, after, grey, managed, _, _ = set_once()
    # Saturations and everyday colours, which it never reads.
    assert after[0] < 0.6 * before[0]
    assert after[2] < 0.7 * before[2]
    assert grey < 0.15
    assert managed.words.startswith("Saturations: ΔE")
    assert managed.found == pytest.approx(before[0], abs=0.4)
    # What is said in the end is read after the last move.
    assert managed.colours.mean(everyday=False)[0] == pytest.approx(after[0], abs=0.25)


def test_the_record_gives_the_same_again_and_the_result_can_be_kept() -> None:
    _, _, _, managed, journal, plan = set_once()
    again = replay(manage_colours(plan), journal.recorded())[0]
    assert again is not None
    assert again.words == managed.words
    assert again.controls == managed.controls
    assert from_json(Managed, to_json(managed)).words == managed.words


def test_after_a_trip_half_of_the_colours_are_read_and_in_the_end_all() -> None:
    _, _, _, managed, journal, plan = set_once()
    kept = list(journal.results.values())
    last = max(i for i, each in enumerate(kept) if isinstance(each, Turned))
    after = {each.patch.name for each in kept[last:] if isinstance(each, Reading)}
    moved = {change.role.channel for change in managed.trips[-1].move.changes}
    assert {sample.name for sample in plan.samples if sample.colour in moved} <= after
    first = next(i for i, each in enumerate(kept) if isinstance(each, Turned))
    second = next(i for i, each in enumerate(kept) if isinstance(each, Turned) and i > first)
    # White and a darker grey besides.
    assert sum(isinstance(each, Reading) for each in kept[first:second]) <= len(plan.samples) // 2 + 2
    # What is known well enough from the trips before is not read until the end; white once after each move.
    later = [each.patch for each in kept[last:] if isinstance(each, Reading)]
    assert later.count(plan.white_patch) == 1


def test_what_is_known_well_enough_is_not_read_after_a_trip_but_in_the_end() -> None:
    _, _, _, _, journal, plan = set_once()
    first, last = looks_of(journal)[1], looks_of(journal)[-1]
    read, in_the_end = ({patch.name for patch in look} for look in (first, last))
    half = {sample.saturation for sample in plan.samples if sample.name in read}
    left_out = {sample.name for sample in plan.samples if sample.saturation in half} - read
    assert len(half) == 2
    assert 0 < len(left_out) < len(read)
    assert left_out <= in_the_end


def looks_of(journal: MemoryJournal) -> list[list[Patch]]:
    """What was read before the first move, and after each."""
    looks: list[list[Patch]] = [[]]
    for kept in journal.results.values():
        if isinstance(kept, Reading):
            looks[-1].append(kept.patch)
        elif isinstance(kept, Turned):
            looks.append([])
    return looks


def put_back(meanwhile: Mapping[str, int]) -> tuple[list[Patch], ManagePlan, Managed, list[str]]:
    """What is read and said after a trip by link is put back; `meanwhile`: what somebody else turns on the way."""
    bench, ports, plan = unit()
    journal, turns = MemoryJournal(), 0

    def hear(event: Event) -> None:
        nonlocal turns
        if isinstance(event, StepBegun) and isinstance(event.step, Turn):
            turns += 1
            runner.wish(PutBack if turns == 1 else StopHere)
        elif turns == 2 and isinstance(event, StepBegun) and isinstance(event.step, Show):
            bench.screen.turn(meanwhile)

    runner = Runner(ports, journal, NobodyThere(), hear, care=care_of(bench.scenario))
    managed = runner.run(manage_colours(plan))
    return looks_of(journal)[2], plan, managed, list(journal.notes.values())


def test_back_by_link_white_and_three_colours_tell_that_all_is_as_it_was_read() -> None:
    looked, plan, managed, said = put_back({})
    assert not any(note.startswith("Colours do not read") for note in said)
    names = [patch.name for patch in looked]
    assert looked[:2] == [plan.white_patch, plan.held_grey]
    assert sorted(names[2:]) == ["blue 100 %", "green 100 %", "red 100 %"]
    assert managed.trips[-1].after == pytest.approx(managed.found, abs=0.1)


def test_back_by_link_where_something_else_has_changed_all_is_read() -> None:
    looked, plan, _, said = put_back({"cms-red-lightness": 30})
    assert any(note.startswith("Colours do not read as they did") for note in said)
    assert {sample.name for sample in plan.samples} <= {patch.name for patch in looked[5:]}


def test_what_a_trip_has_made_worse_does_not_stay() -> None:
    bench, ports, plan = unit(spread=0.0, seed=3)
    before, grey = truth(bench), ladder(bench)
    Runner(ports, MemoryJournal(), NobodyThere(), care=care_of(bench.scenario)).run(manage_colours(plan))
    assert truth(bench)[0] <= before[0] + 0.05
    assert truth(bench)[2] <= before[2] + 0.1
    assert ladder(bench) <= grey + 0.15


def test_a_plan_has_controls_of_colours_and_no_others() -> None:
    _, _, plan = unit()
    with pytest.raises(ValueError, match="controls of its own"):
        ManagePlan(plan.target, plan.format, ())


def by_hand(plan: ManagePlan) -> ManagePlan:
    """The plan of a person who turns, of two colours."""
    few = tuple(control for control in plan.controls if control.role.channel in ("red", "blue"))
    return ManagePlan(plan.target, plan.format, few, by_hand=True, trip_seconds=12.0)


def steered(wishes: Mapping[int, Interrupt], of: type = Turn) -> tuple[Managed, ManagePlan, list[Turned]]:
    """By hand, with wishes instead of an answer to steps of a kind, moves where not told, by their number."""
    _, ports, plan = unit()
    plan = by_hand(plan)
    procedure, result, turns = manage_colours(plan), None, 0
    runner = Runner(ports, journal := MemoryJournal(), NobodyThere())

    def wishing() -> object:
        nonlocal turns
        answer = None
        throw: Interrupt | None = None
        while True:
            try:
                step = procedure.throw(throw) if throw is not None else procedure.send(answer)
            except StopIteration as end:
                return end.value
            throw, answer = None, None
            if isinstance(step, of):
                turns += 1
                throw = wishes.get(turns)
            if throw is None:
                answer = yield step

    result = runner.run(wishing())  # type: ignore[arg-type]
    return result, plan, [each for each in journal.results.values() if isinstance(each, Turned)]  # type: ignore


def test_a_person_can_stop_and_nothing_is_turned() -> None:
    managed, plan, turned = steered({1: StopHere()})
    assert managed.words.startswith("Stopped by you.")
    assert managed.controls == plan.controls
    assert turned == []


@pytest.mark.parametrize("of", [Progress, Show])
def test_a_wish_at_any_step_of_the_first_look_waits_until_it_is_over(of: type) -> None:
    managed, plan, turned = steered({1: StopHere()}, of)
    assert managed.words.startswith("Stopped by you.")
    assert managed.controls == plan.controls
    assert turned == []
    assert np.isfinite(managed.colours.errors.de2000).all()


def test_a_wish_after_a_trip_loses_nothing_of_it() -> None:
    # The third progress is that of the look after the first trip.
    managed, _, turned = steered({3: PutBack(), 6: StopHere()}, Progress)
    assert len(turned) >= 2
    assert turned[1].move.changes == turned[0].move.reverse.changes
    assert [trip.move for trip in managed.trips[:2]] == [each.move for each in turned[:2]]


def test_the_last_move_is_put_back_and_watching_has_nothing_to_show() -> None:
    managed, _, turned = steered({1: Watch(), 3: PutBack(), 5: StopHere()})
    assert turned[1].move.changes == turned[0].move.reverse.changes
    assert managed.trips[1].move.undoes


@dataclass
class Forgetful:
    """A person who says on the first trip that all was turned, and has turned nothing."""

    link: ScreenLink
    name: str = "hand"
    trips: int = 0

    def values(self) -> dict[str, int]:
        return self.link.values()

    def turn(self, settings: Mapping[str, int]) -> None:
        self.trips += 1
        if self.trips > 1:
            self.link.turn(settings)


def test_a_trip_that_was_forgotten_is_said_and_made_up_for() -> None:
    bench, ports, plan = unit(seed=106, spread=0.06)
    assert ports.link is not None
    plan, journal = by_hand(plan), MemoryJournal()
    before, hand = truth(bench), Forgetful(ports.link)
    ported = Bench(ports.meter, ports.source, hand, ports.clock)
    managed = Runner(ported, journal, NobodyThere()).run(manage_colours(plan))
    said = [note for note in journal.notes.values() if note.startswith("It looks as if")]
    assert said[0] == "It looks as if nothing was turned."
    assert managed.trips[0].surprise == said[0]
    first, second, *_ = (kept.move for kept in journal.results.values() if isinstance(kept, Turned))
    assert {(c.role, c.to_value) for c in second.changes} == {(c.role, c.to_value) for c in first.changes}
    assert truth(bench)[0] < before[0] - 0.5
    # The controls stand where the program takes them to stand.
    stands = bench.screen.settings()
    assert {control.role.key: control.value for control in managed.controls}.items() <= stands.items()


def test_roles_of_a_colour_management_name_a_colour_and_an_amount() -> None:
    role = Role(RoleKind.COLOUR_MANAGEMENT, "cyan", amount="hue")
    assert role.key == "cms-cyan-hue"
    for wrong in ({"channel": "orange", "amount": "hue"}, {"channel": "red", "amount": "warmth"}):
        with pytest.raises(ValueError, match="has no"):
            Role(RoleKind.COLOUR_MANAGEMENT, **wrong)
