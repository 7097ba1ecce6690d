"""Tone by hand: slips and bumps at a level, and a level that is watched while it is turned."""

import re
from dataclasses import replace

import pytest
from benchmarks.typed import run_one
from tests.procedures.tone_benches import bench_of, plan_for, true_mean, white_set
from tests.procedures.watcher import Watcher

from aequitone.advice.moves import Move
from aequitone.advice.roles import point_of
from aequitone.instruments.ports import MeterNoise
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.replay import replay
from aequitone.procedures.runner import NobodyThere, Runner, StepDone
from aequitone.procedures.steps import Interrupt, Note, StopHere
from aequitone.procedures.tone.tone import tone
from aequitone.signal import grey_patch
from aequitone.standins.bench import StandInBench


class Hands(NobodyThere):
    """Turns what is asked for, but once the other way, or not at all: where it must show."""

    def __init__(self, bench: StandInBench, done: int) -> None:
        self._bench, self._done = bench, done
        self.asked: list[Move] = []
        self.slipped: int | None = None

    def turn(self, move: Move) -> type[Interrupt] | None:
        self.asked.append(move)
        share = 1
        if self.slipped is None and len(self.asked) > 1 and max(abs(change.by) for change in move.changes) >= 4:
            self.slipped, share = len(self.asked) - 1, self._done
        self._bench.screen.turn({c.role.key: c.from_value + share * c.by for c in move.changes})
        return None


@pytest.mark.parametrize(
    ("done", "words"), [(0, "another level was turned, or none"), (-1, "turned the other way")]
)
def test_a_slip_of_the_hand_is_said_and_mended(done: int, words: str) -> None:
    bench = bench_of(sag=0.06)
    white_set(bench)
    bench.meter.true_noise = MeterNoise(0.0005, 0.0001)
    plan = replace(plan_for(bench), by_hand=True, typed=True, trip_seconds=9.0)
    hands, journal = Hands(bench, done), MemoryJournal()
    state = Runner(bench.bench(by_link=False), journal, hands).run(tone(plan))
    assert any(words in note for note in journal.notes.values())
    assert hands.slipped is not None
    slipped, mended = hands.asked[hands.slipped : hands.slipped + 2]
    # It is brought to where it was to be, from where it really stands.
    assert {change.role: change.to_value for change in mended.changes} == {
        change.role: change.to_value for change in slipped.changes
    }
    assert [change.by for change in mended.changes] == [(1 - done) * change.by for change in slipped.changes]
    assert state.ladder is not None
    left = bench.screen.settings()
    assert {c.role: c.value for c in state.ladder.controls} == {
        c.role: left[c.role.key] for c in state.ladder.controls
    }


class Bumping(NobodyThere):
    """Turns what is asked for; the meter is pushed on the second trip."""

    def __init__(self, bench: StandInBench) -> None:
        self._bench, self._trips = bench, 0

    def turn(self, move: Move) -> type[Interrupt] | None:
        self._trips += 1
        self._bench.screen.turn({c.role.key: c.to_value for c in move.changes})
        if self._trips == 2:
            life, light = self._bench.screen._life, self._bench.screen._life.light
            life.light = lambda now: 0.85 * light(now)  # type: ignore[method-assign]
        return None


def test_a_bump_of_the_meter_is_said_and_the_ladder_read_again() -> None:
    bench = bench_of(sag=0.06)
    white_set(bench)
    bench.meter.true_noise = MeterNoise(0.0005, 0.0001)
    plan = replace(plan_for(bench), by_hand=True, typed=True, trip_seconds=9.0)
    journal = MemoryJournal()
    state = Runner(bench.bench(by_link=False), journal, Bumping(bench)).run(tone(plan))
    said = [note for note in journal.notes.values() if "the meter has moved" in note]
    assert len(said) == 1
    assert state.ladder is not None
    # All levels were read again in the new light, and none was turned to make up for it.
    white = float(bench.screen.steady(grey_patch(100.0, plan.format))[1])
    assert state.ladder.xyz[0, 1] == pytest.approx(0.85 * white, rel=0.01)
    assert true_mean(bench) < 0.6


def test_stopping_while_the_ladder_is_read_again_keeps_all_levels() -> None:
    bench = bench_of(sag=0.06)
    white_set(bench)
    bench.meter.true_noise = MeterNoise(0.0005, 0.0001)
    plan = replace(plan_for(bench), by_hand=True, typed=True, trip_seconds=9.0)

    def hear(event: object) -> None:
        if isinstance(event, StepDone) and isinstance(event.step, Note) and "has moved" in event.step.text:
            runner.wish(StopHere)

    runner = Runner(bench.bench(by_link=False), MemoryJournal(), Bumping(bench), hear)
    state = runner.run(tone(plan))
    assert state.ladder is not None
    assert state.ladder.percents == plan.percents
    assert len(state.ladder.trips) == 2
    assert "on average" in state.words


def test_a_level_can_be_watched_while_it_is_turned() -> None:
    bench = bench_of(sag=0.05)
    white_set(bench)
    plan = replace(plan_for(bench), by_hand=True, typed=True, trip_seconds=9.0)
    hands, journal = Watcher(bench, lambda told: len(told) > 12, least=3), MemoryJournal()
    hands.runner = Runner(bench.bench(by_link=False), journal, hands, hands.hear)
    state = hands.runner.run(tone(plan))
    assert hands.move is not None
    level = point_of(hands.move.changes[0].role)[1]  # type: ignore[index]
    assert {seen.percent for seen in hands.told} == {float(level)}
    assert {each.name for each in hands.told[0].left} == {change.name for change in hands.move.changes}
    first, last = (sum(abs(each.steps) for each in hands.told[i].left) for i in (0, -1))
    assert last < first
    assert state.ladder is not None
    assert true_mean(bench) < 0.6
    assert replay(tone(plan), journal.recorded())[0].words == state.words  # type: ignore[union-attr]


@pytest.mark.parametrize("sag", [0.004, 0.05])
def test_what_levels_cost_where_readings_are_typed_is_told_before(sag: float) -> None:
    bench = bench_of(sag=sag)
    white_set(bench)
    journal = MemoryJournal()
    plan = replace(plan_for(bench), by_hand=True, typed=True, trip_seconds=12.0)
    state = Runner(bench.bench(), journal, NobodyThere()).run(tone(plan))
    assert state.ladder is not None
    (told,) = (found for note in journal.notes.values() if (found := re.search(r"in about (\d+) trips", note)))
    assert int(told[1]) == pytest.approx(len(state.ladder.trips), rel=0.35)


def test_a_ladder_that_a_display_cannot_tell_from_right_is_left_alone() -> None:
    told = run_one("wide-lcd", 100)
    white, after = told["white"], told["tone"]
    assert after.readings
    assert not after.trips
    assert after.mean == white.mean
