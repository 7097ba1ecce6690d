"""By hand, a control that stood elsewhere than noted: once a person says so, what was read there is set right."""

import re
from collections.abc import Callable
from dataclasses import replace
from functools import partial
from typing import Any

import numpy as np
import pytest
from tests.procedures import test_white_balance as white
from tests.procedures.test_managing import by_hand as two_colours
from tests.procedures.test_managing import unit
from tests.procedures.tone_benches import bench_of, plan_for, true_mean, white_set

from aequitone.advice.by_hand.standing import Standing
from aequitone.advice.moves import ControlState, Move
from aequitone.advice.roles import TWO_POINT, Role
from aequitone.advice.two_point.wiring import MoveMade
from aequitone.instruments.ports import Bench, MeterNoise
from aequitone.procedures.colour import managing as managing_module
from aequitone.procedures.colour.managing import manage_colours
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.replay import replay
from aequitone.procedures.runner import Event, NobodyThere, Runner, StepBegun
from aequitone.procedures.steps import Note, PutBack, StopHere
from aequitone.procedures.tone.tone import tone
from aequitone.procedures.white.session import WhiteSession
from aequitone.procedures.white.white_balance import white_balance
from aequitone.standins.bench import StandInBench

_ACCUSED = (
    "looks as if",
    "did not move as it should",
    "as it did at these settings",
    "as they did at these",
    "noted wrong",
)


class Looks(NobodyThere):
    """Sees in the menu where each control really stands, and says so before turning it."""

    def __init__(self, bench: StandInBench) -> None:
        self.bench, self.said = bench, 0
        self.turned: list[dict[str, int]] = []
        """Where all stood after each turn."""
        self.asked: list[Move] = []

    def hear(self, event: Event) -> None:
        """Listen to what is said."""

    def turn(self, move: Move) -> Standing | None:  # type: ignore[override]
        self.asked.append(move)
        stands = self.bench.screen.settings()
        at = {change.role: stands[change.role.key] for change in move.changes}
        if any(at[change.role] != change.from_value for change in move.changes):
            self.said += 1
            return Standing(at)
        self.bench.screen.turn({change.role.key: change.to_value for change in move.changes})
        self.turned.append(self.bench.screen.settings())
        return None


class LooksWhenTold(Looks):
    """Sets what is asked for, and looks at the menu only once a slip is suspected."""

    told = False

    def turn(self, move: Move) -> Standing | None:  # type: ignore[override]
        if self.told:
            self.told = False
            return super().turn(move)
        self.bench.screen.turn({change.role.key: change.to_value for change in move.changes})
        return None

    def hear(self, event: Event) -> None:
        if isinstance(event, StepBegun) and isinstance(event.step, Note):
            self.told = self.told or any(words in event.step.text for words in _ACCUSED)


class StopsHalfWay(Looks):
    """Has turned a part of the first move when they say where its first control stands."""

    def turn(self, move: Move) -> Standing | None:  # type: ignore[override]
        first = max(move.changes, key=lambda change: abs(change.by))
        if not self.said and abs(first.by) > 1:
            half = first.from_value + first.by // 2
            self.bench.screen.turn({first.role.key: half})
            self.said += 1
            return Standing({first.role: half})
        return super().turn(move)


def noted_wrong(controls: tuple[ControlState, ...], by: int, *roles: Role) -> tuple[ControlState, ...]:
    """Controls as a person noted them, some by so much wrong."""
    return tuple(replace(each, value=each.value + by) if each.role in roles else each for each in controls)


def run(bench: StandInBench, ports: Bench, procedure: Callable[[], Any], person: Looks) -> tuple[Any, list[str]]:
    """How it ended, and what was said that accuses the hand; the record must tell the same."""
    journal = MemoryJournal()
    result = Runner(ports, journal, person, person.hear).run(procedure())
    again = replay(procedure(), journal.recorded())[0]
    assert again.words == result.words
    assert person.bench is bench
    return result, [note for note in journal.notes.values() if any(words in note for words in _ACCUSED)]


@pytest.mark.parametrize("by", [-8, 8])
@pytest.mark.parametrize("column", [0, 2])
def test_white_learns_from_where_a_gain_really_stood(bench: white.Benches, column: int, by: int) -> None:
    stand_in = bench(column)
    plan = replace(white.plan_for(stand_in), by_hand=True)
    plan = replace(plan, controls=noted_wrong(plan.controls, by, TWO_POINT[column]))
    person = Looks(stand_in)
    result, accused = run(stand_in, stand_in.bench(by_link=False), lambda: white_balance(plan), person)
    assert person.said == 1
    assert not accused
    assert white.true_worst(stand_in) < 1.0
    left = stand_in.screen.settings()
    assert {c.role: c.value for c in result.state.controls} == {role: left[role.key] for role in TWO_POINT}


@pytest.mark.parametrize(("column", "by"), [(0, -15), (0, 15), (2, -15)])
def test_white_plans_the_same_move_wherever_a_gain_was_noted(bench: white.Benches, column: int, by: int) -> None:
    turned, notes = [], []
    for wrong in (0, by):
        stand_in = bench(column)
        plan = replace(white.plan_for(stand_in), by_hand=True)
        plan = replace(plan, controls=noted_wrong(plan.controls, wrong, TWO_POINT[column]))
        person = Looks(stand_in)
        journal = MemoryJournal()
        runner = Runner(stand_in.bench(by_link=False), journal, person, person.hear)
        result = runner.run(white_balance(plan))
        assert person.said == (1 if wrong else 0)
        turned.append([person.turned[0][role.key] for role in TWO_POINT])
        notes.append([note for note in journal.notes.values() if "worked out anew" in note])
        assert len(result.state.trips) == len(person.turned)
    # What is expected of a control before its first turn depends a little on where it seems to stand.
    assert np.abs(np.subtract(*turned)).max() <= 2
    assert [len(each) for each in notes] == [0, 1]


def test_white_does_not_take_a_half_made_turn_for_an_earlier_slip(bench: white.Benches) -> None:
    stand_in = bench(1)
    plan = replace(white.plan_for(stand_in), by_hand=True)
    person = StopsHalfWay(stand_in)
    _, accused = run(stand_in, stand_in.bench(by_link=False), lambda: white_balance(plan), person)
    assert person.said == 1
    assert not accused
    assert white.true_worst(stand_in) < 1.0


@pytest.mark.parametrize("typed", [False, True])
@pytest.mark.parametrize("person", [Looks, StopsHalfWay])
def test_a_level_is_judged_from_where_it_really_stood(person: type[Looks], typed: bool) -> None:
    bench = bench_of(sag=0.06)
    white_set(bench)
    bench.meter.true_noise = MeterNoise(0.0005, 0.0001)
    plan = replace(plan_for(bench), by_hand=True, typed=typed, trip_seconds=12.0)
    if person is Looks:
        roles = [control.role for control in plan.points if control.role.level in (80, 40)]
        plan = replace(plan, points=noted_wrong(plan.points, -10, *roles[:1], *roles[-1:]))
    before = true_mean(bench)
    looking = person(bench)
    state, accused = run(bench, bench.bench(by_link=False), lambda: tone(plan), looking)
    assert looking.said >= 1
    assert not accused
    assert true_mean(bench) < min(0.7, before)
    stands = bench.screen.settings()
    turned = {change.role for trip in state.ladder.trips for change in trip.move.changes}
    assert {c.role.key: c.value for c in state.ladder.controls if c.role in turned}.items() <= stands.items()


@pytest.mark.parametrize("person", [Looks, StopsHalfWay])
def test_a_colour_is_judged_from_where_its_controls_really_stood(person: type[Looks]) -> None:
    bench, ports, plan = unit(spread=0.06)
    plan = two_colours(plan)
    if person is Looks:
        wrong = [control.role for control in plan.controls][:2]
        plan = replace(plan, controls=noted_wrong(plan.controls, 6, *wrong))
    looking = person(bench)
    hands = Bench(ports.meter, ports.source, None, ports.clock)
    managed, accused = run(bench, hands, lambda: manage_colours(plan), looking)
    assert looking.said >= 1
    assert not accused
    assert np.isfinite(managed.colours.errors.de2000).all()
    stands = bench.screen.settings()
    turned = {change.role for trip in managed.trips for change in trip.move.changes}
    assert {c.role.key: c.value for c in managed.controls if c.role in turned}.items() <= stands.items()


@pytest.mark.parametrize("by", [-20, 20])
@pytest.mark.parametrize("seed", range(3))
def test_a_gain_that_was_noted_wrong_is_told_from_a_slip(bench: white.Benches, seed: int, by: int) -> None:
    stand_in = bench(seed)
    plan = replace(white.plan_for(stand_in), by_hand=True)
    right = plan.controls[0].value
    plan = replace(plan, controls=noted_wrong(plan.controls, by, TWO_POINT[0]))
    person = LooksWhenTold(stand_in)
    result, accused = run(stand_in, stand_in.bench(by_link=False), lambda: white_balance(plan), person)
    (told,) = accused
    found = re.search(r"R gain was noted wrong: light moved as if it had stood at about (\d+)", told)
    assert found is not None
    assert abs(int(found[1]) - right) < 10
    # The hand was right: nobody walks for it.
    assert person.said == 0
    assert white.true_worst(stand_in) < 1.0
    left = stand_in.screen.settings()
    assert {c.role: c.value for c in result.state.controls} == {role: left[role.key] for role in TWO_POINT}


@pytest.mark.parametrize("channel", ["g", "b", "y"])
def test_a_level_that_was_noted_wrong_does_not_spoil_the_ladder(channel: str) -> None:
    bench = bench_of(sag=0.06)
    white_set(bench)
    bench.meter.true_noise = MeterNoise(0.0005, 0.0001)
    plan = replace(plan_for(bench), by_hand=True, trip_seconds=12.0)
    wrong = next(c for c in plan.points if c.role.level == 60 and c.role.channel == channel)
    plan = replace(plan, points=noted_wrong(plan.points, -16, wrong.role))
    person = LooksWhenTold(bench)
    state, accused = run(bench, bench.bench(by_link=False), lambda: tone(plan), person)
    # A control that is not turned is nothing to walk for.
    assert bool(accused) == any(
        change.role == wrong.role for trip in state.ladder.trips for change in trip.move.changes
    )
    assert all("60 %" in words for words in accused[:1])
    assert true_mean(bench) < 0.7
    stands = bench.screen.settings()
    turned = {change.role for trip in state.ladder.trips for change in trip.move.changes}
    assert {c.role.key: c.value for c in state.ladder.controls if c.role in turned}.items() <= stands.items()


class HalfAtFirst(LooksWhenTold):
    """Turns blue's gain only half way at the first trip, and is right ever after."""

    half = True

    def turn(self, move: Move) -> Standing | None:  # type: ignore[override]
        blue = next((change for change in move.changes if change.role == TWO_POINT[2]), None)
        if not self.half or blue is None:
            return super().turn(move)
        self.half = False
        to = {change.role.key: change.to_value for change in move.changes}
        self.bench.screen.turn({**to, blue.role.key: blue.from_value + blue.by // 2})
        return None


@pytest.mark.parametrize("seed", range(5))
def test_a_hand_that_was_found_right_is_not_accused_over_and_over(bench: white.Benches, seed: int) -> None:
    """A slip that nobody noticed has taught half of what a step does: every right turn then looks twice as far."""
    stand_in = bench(seed)
    plan = replace(white.plan_for(stand_in), by_hand=True)
    person = HalfAtFirst(stand_in)
    _, accused = run(stand_in, stand_in.bench(by_link=False), lambda: white_balance(plan), person)
    assert not person.half
    assert len(accused) <= 2
    assert white.true_worst(stand_in) < 1.2


@pytest.mark.parametrize("by", [-10, 10])
def test_a_colour_management_that_is_no_service_goes_back_to_where_it_really_stood(
    monkeypatch: pytest.MonkeyPatch, by: int
) -> None:
    bench, ports, plan = unit()
    plan = two_colours(plan)
    before = bench.screen.settings()
    noted = tuple(each for each in plan.controls if each.lowest <= each.value + by <= each.highest)
    plan = replace(plan, controls=noted_wrong(plan.controls, by, noted[0].role))
    # All that it brings is hardly anything.
    monkeypatch.setattr(managing_module, "NO_SERVICE", 10.0)
    monkeypatch.setattr(managing_module, "_is_service", lambda *_: True)
    person = Looks(bench)
    managed, _ = run(bench, replace(ports, link=None), lambda: manage_colours(plan), person)
    assert managed.trips
    assert "Better left as it was found" in managed.words
    assert bench.screen.settings() == before


def first_turn(bench: StandInBench, ports: Bench, procedure: Callable[[], Any]) -> tuple[dict[str, int], ...]:
    """How far each control was to go at first, and how far it went, of a person who sees where they stand."""
    before, person = bench.screen.settings(), Looks(bench)
    run(bench, ports, procedure, person)
    assert person.said
    went = {role: to - before[role] for role, to in person.turned[0].items() if to != before[role]}
    return {change.role.key: change.by for change in person.asked[0].changes}, went


@pytest.mark.parametrize(("typed", "wrong"), [(False, (80,)), (True, (100, 95, 90, 85, 80))])
def test_a_level_goes_as_far_from_where_it_is_found(typed: bool, wrong: tuple[int, ...]) -> None:
    """Where readings are typed one level is turned at a time, from the bright end."""
    bench = bench_of(sag=0.06)
    white_set(bench)
    plan = replace(plan_for(bench), by_hand=True, typed=typed, trip_seconds=12.0)
    noted = [c.role for c in plan.points if c.role.level in wrong and c.role.channel == "b"]
    plan = replace(plan, points=noted_wrong(plan.points, -20, *noted))
    asked, went = first_turn(bench, bench.bench(by_link=False), partial(tone, plan))
    assert asked.keys() & {role.key for role in noted}
    assert went == asked


@pytest.mark.parametrize("by", [-20, 20])
def test_a_colour_goes_as_far_from_where_it_is_found(by: int) -> None:
    bench, ports, plan = unit(spread=0.06)
    plan = two_colours(plan)
    plan = replace(plan, controls=noted_wrong(plan.controls, by, plan.controls[0].role, plan.controls[1].role))
    asked, went = first_turn(bench, replace(ports, link=None), partial(manage_colours, plan))
    assert went == asked


class PutsBack(Looks):
    """Has the first move put back."""

    def turn(self, move: Move) -> Any:  # type: ignore[override]
        if self.turned and not move.undoes:
            return StopHere if len(self.turned) > 1 else PutBack
        return super().turn(move)


class StopsOnceTold(Looks):
    """Says where a control stands, and then has enough."""

    def turn(self, move: Move) -> Any:  # type: ignore[override]
        return StopHere if self.said else super().turn(move)


@pytest.mark.parametrize("by", [-15, 15])
def test_what_was_said_of_a_gain_is_kept_where_the_person_stops_then(bench: white.Benches, by: int) -> None:
    stand_in = bench(0)
    stands = {role: stand_in.screen.settings()[role.key] for role in TWO_POINT}
    plan = replace(white.plan_for(stand_in), by_hand=True)
    plan = replace(plan, controls=noted_wrong(plan.controls, by, TWO_POINT[0]))
    person = StopsOnceTold(stand_in)
    result, _ = run(stand_in, stand_in.bench(by_link=False), lambda: white_balance(plan), person)
    assert person.said == 1
    assert not person.turned
    assert {c.role: c.value for c in result.state.controls} == stands


@pytest.mark.parametrize("by", [-15, 15])
def test_white_is_put_back_to_where_a_gain_really_stood(bench: white.Benches, by: int) -> None:
    stand_in = bench(0)
    before = stand_in.screen.settings()
    plan = replace(white.plan_for(stand_in), by_hand=True)
    plan = replace(plan, controls=noted_wrong(plan.controls, by, TWO_POINT[0]))
    person = PutsBack(stand_in)
    run(stand_in, stand_in.bench(by_link=False), lambda: white_balance(plan), person)
    assert person.said == 1
    assert len(person.turned) == 2
    assert stand_in.screen.settings() == before


def test_a_colour_is_put_back_to_where_it_really_stood() -> None:
    stand_in, ports, plan = unit(spread=0.06)
    before = stand_in.screen.settings()
    plan = two_colours(plan)
    plan = replace(plan, controls=noted_wrong(plan.controls, 20, plan.controls[0].role, plan.controls[1].role))
    person = PutsBack(stand_in)
    run(stand_in, replace(ports, link=None), lambda: manage_colours(plan), person)
    assert person.said == 1
    assert stand_in.screen.settings() == before


@pytest.mark.parametrize("column", [0, 4])
def test_what_is_supposed_of_white_leaves_what_is_known_of_it_alone(bench: white.Benches, column: int) -> None:
    plan = replace(white.plan_for(bench(1)), by_hand=True)
    session, off = WhiteSession.begin(plan), 5.0 * np.eye(6)[column]
    asked = MoveMade(plan.controls, np.full(6, 3.0), np.zeros(9), np.ones(9))
    # The last turn has made the control look as if it was noted wrong.
    session.turns, session._before_note, session.noted_so = [], (column, [asked], None), True
    there = session.supposing(off)
    assert there.turns[0].steps.tolist() == (asked.steps + off).tolist()
    assert session.turns == []
    assert session.noted_so
    session.take_back(session.controls, off)
    assert session.turns[0].steps.tolist() == (asked.steps + off).tolist()
    assert not session.noted_so
