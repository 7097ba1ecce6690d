"""Tone by hand, several levels in a trip: slips at a level, a bump, a watched trip, and what goes back."""

from collections.abc import Callable, Mapping
from dataclasses import replace

import pytest
from tests.procedures.tone_benches import bench_of, known, plan_for, run, standing, true_mean, white_set

from aequitone.advice.moves import Change, Move
from aequitone.advice.roles import point_of
from aequitone.instruments.ports import MeterNoise
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.replay import replay
from aequitone.procedures.runner import Event, NobodyThere, Runner, StepBegun
from aequitone.procedures.steps import Interrupt, PutBack, StopHere, Turn
from aequitone.procedures.tone import level_slips
from aequitone.procedures.tone.tone import ToneState, tone
from aequitone.signal import grey_patch
from aequitone.standins.bench import StandInBench

Hand = Callable[[int, Change], int]


class Person(NobodyThere):
    """Sets each control to what `hand` makes of the trip's number and the change; right without one."""

    def __init__(self, bench: StandInBench, hand: Hand | None = None) -> None:
        self.bench, self.hand = bench, hand or (lambda _, change: change.to_value)
        self.asked: list[Move] = []

    def turn(self, move: Move) -> type[Interrupt] | None:
        self.asked.append(move)
        trip = len(self.asked)
        self.bench.screen.turn({change.role.key: self.hand(trip, change) for change in move.changes})
        return None


def bent(seed: int = 1, **points: object) -> StandInBench:
    bench = bench_of(seed=seed, sag=0.06, **points)
    white_set(bench)
    bench.meter.true_noise = MeterNoise(0.0005, 0.0001)
    return bench


def by_hand(
    bench: StandInBench,
    hand: Hand | None = None,
    wish: tuple[int, type[Interrupt]] | None = None,
    noted_wrong: Mapping[str, int] | None = None,
) -> tuple[ToneState, Person, MemoryJournal]:
    """Tone by a person; `wish`: at which turn; `noted_wrong`: where controls stand that were noted wrong."""
    plan = replace(plan_for(bench), by_hand=True, trip_seconds=12.0)
    bench.screen.turn(noted_wrong or {})
    person, journal = Person(bench, hand), MemoryJournal()

    def hear(event: Event) -> None:
        turning = isinstance(event, StepBegun) and isinstance(event.step, Turn)
        if wish is not None and turning and len(person.asked) == wish[0] - 1:
            runner.wish(wish[1])

    runner = Runner(bench.bench(by_link=False), journal, person, hear)
    state = runner.run(tone(plan))
    again = replay(tone(plan), journal.recorded())[0]
    assert again is not None
    assert again.words == state.words
    return state, person, journal


@pytest.mark.parametrize("points", [10, 20])
def test_several_levels_go_in_a_trip_and_few_trips_are_made(points: int) -> None:
    for seed in range(2):
        bench = bent(seed, points=points)
        before = true_mean(bench)
        state, person, journal = by_hand(bench)
        assert before > 1.5
        assert true_mean(bench) < 0.6
        assert all(len(move.levels) <= 7 for move in person.asked)
        assert max(len(move.levels) for move in person.asked) > 2
        assert len(person.asked) <= 9
        assert standing(bench, state) == known(state)
        # Nobody slipped, and nothing is said of it.
        assert not [note for note in journal.notes.values() if "looks as if" in note or "did not move" in note]
    # A level at a time takes more trips for as much.
    alone = bent(seed, points=points)
    typed = run(alone, replace(plan_for(alone), by_hand=True, typed=True, trip_seconds=12.0))
    assert typed.ladder is not None
    assert len(person.asked) < len(typed.ladder.trips)


def slipping(way: int) -> tuple[list[int], Hand]:
    """A hand that turns one level wrong at the first trip, and that level once it has."""
    slipped: list[int] = []

    def hand(trip: int, change: Change) -> int:
        point = point_of(change.role)
        assert point is not None
        if trip == 1 and abs(change.by) >= 3 and (not slipped or slipped == [point[1]]):
            slipped[:] = [point[1]]
            return change.from_value + way * change.by
        return change.to_value

    return slipped, hand


@pytest.mark.parametrize("way", [0, -1])
def test_a_level_that_is_mostly_black_tells_no_slip(monkeypatch: pytest.MonkeyPatch, way: int) -> None:
    # Any black at all is most of every level.
    monkeypatch.setattr(level_slips, "_BURIED", 0.0)
    slipped, hand = slipping(way)
    _, _, journal = by_hand(bent(), hand)
    assert slipped
    assert not [note for note in journal.notes.values() if "looks as if" in note or "do not read" in note]


@pytest.mark.parametrize("way", [0, -1])
def test_a_level_that_slipped_is_named_and_mended_and_the_others_are_not(way: int) -> None:
    bench = bent()
    slipped, hand = slipping(way)
    state, person, journal = by_hand(bench, hand)
    assert slipped
    told = [note for note in journal.notes.values() if "looks as if" in note or "did not move" in note]
    assert len(told) == 1
    assert f"{slipped[0]} %" in told[0]
    first, mend = person.asked[:2]
    # It is mended on the way: the next trip has other levels too.
    assert slipped[0] in mend.levels
    assert len(mend.levels) > 1
    wanted = {change.role: change.to_value for change in first.changes}
    own = [change for change in mend.changes if change.role.level == slipped[0]]
    assert own
    assert all(change.to_value == wanted[change.role] for change in own)
    assert standing(bench, state) == known(state)
    assert true_mean(bench) < 0.6


def test_a_meter_that_was_pushed_has_the_ladder_read_again() -> None:
    bench = bent()
    life, light = bench.screen._life, bench.screen._life.light

    def hand(trip: int, change: Change) -> int:
        if trip == 2:
            life.light = lambda now: 0.85 * light(now)  # type: ignore[method-assign]
        return change.to_value

    state, person, journal = by_hand(bench, hand)
    assert len(person.asked) >= 2
    assert sum("the meter has moved" in note for note in journal.notes.values()) == 1
    assert state.ladder is not None
    white = float(bench.screen.steady(grey_patch(100.0, plan_for(bench).format))[1])
    assert state.ladder.xyz[0, 1] == pytest.approx(0.85 * white, rel=0.01)
    assert true_mean(bench) < 0.6


def test_the_last_trip_is_put_back_and_the_pass_is_stopped_by_wish() -> None:
    bench = bent()
    state, person, _ = by_hand(bench, wish=(2, PutBack))
    assert person.asked[2].changes == person.asked[1].reverse.changes
    assert standing(bench, state) == known(state)
    bench = bent()
    state, person, _ = by_hand(bench, wish=(2, StopHere))
    assert len(person.asked) == 2
    assert standing(bench, state) == known(state)


@pytest.mark.parametrize("seed", [1, 3])
def test_settings_that_were_noted_wrong_do_not_spoil_the_ladder(seed: int) -> None:
    bench = bent(seed)
    noted = bench.screen.settings()
    # Two of them are typed ten too high at Arrive: what is asked for is the change from there.
    wrong = {role: noted[role] - 10 for role in ("multi-g-40", "multi-r-80")}
    state, _, _ = by_hand(bench, noted_wrong=wrong)
    assert true_mean(bench) < 0.7
    stands, believed = standing(bench, state), known(state)
    # What was turned stands as the program has it; what nobody touched may still be noted wrong.
    off = {role.key for role in believed if stands[role] != believed[role]}
    assert off <= set(wrong)
