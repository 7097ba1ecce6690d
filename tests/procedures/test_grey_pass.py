"""A grey pass: what it reads, what it makes of anchors that disagree."""

from collections.abc import Callable
from dataclasses import replace

import numpy as np
import pytest
from benchmarks.traps import TRAPS, said

from aequitone.procedures.grey.grey_pass import GreyPass, GreyPlan, grey_pass, recovered
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.replay import replay
from aequitone.procedures.runner import NobodyThere, Runner, StepBegun
from aequitone.procedures.steps import PutBack, Reading, Show
from aequitone.reference import target_named
from aequitone.signal import SignalFormat

from .fakes import FakeBench

TARGET = target_named("rec709-2.2")
PLAN = GreyPlan(TARGET, SignalFormat())


def on_target(percent: float) -> np.ndarray:
    return TARGET.grey(percent, 100.0) + 0.02


def run(bench: FakeBench, plan: GreyPlan = PLAN) -> tuple[GreyPass, MemoryJournal]:
    journal = MemoryJournal()
    return Runner(bench.bench, journal, NobodyThere()).run(grey_pass(plan)), journal


@pytest.mark.parametrize("levels", [11, 21])
def test_every_level_is_read_and_anchors_more_than_once(levels: int) -> None:
    bench = FakeBench(on_target)
    plan = GreyPlan(TARGET, SignalFormat(), levels)
    found, journal = run(bench, plan)
    assert found.percents == plan.percents
    readings = list(journal.results.values())
    assert len(readings) == plan.readings
    counts = {percent: sum(r.patch.percent == percent for r in readings) for percent in plan.percents}
    assert counts.pop(100.0) == 3
    assert counts.pop(0.0) == 3
    assert set(counts.values()) == {1}
    assert journal.notes == {}


def test_a_screen_on_target_is_found_so() -> None:
    found, _ = run(FakeBench(on_target))
    assert found.errors.de2000[:-1].max() < 0.2
    assert found.white == pytest.approx(100.02)
    assert found.black == pytest.approx(0.02)
    assert found.drift == pytest.approx(0.0)


def test_black_that_is_within_its_own_noise_counts_as_none() -> None:
    found, _ = run(FakeBench(on_target))
    sure, unsure = np.zeros_like(found.sd), np.zeros_like(found.sd)
    sure[-2], unsure[-1] = 1.0, 1.0
    assert replace(found, sd=sure).black == pytest.approx(0.02)
    assert replace(found, sd=unsure).black == 0.0


def test_one_bad_first_white_is_read_again_and_left_out() -> None:
    seen = []

    def light(percent: float) -> np.ndarray:
        seen.append(percent)
        return on_target(percent) * (0.9 if len(seen) <= 2 else 1.0)

    found, journal = run(FakeBench(light))
    assert found.white == pytest.approx(100.02)
    assert any("read a third time" in note for note in journal.notes.values())


def test_a_white_that_drifts_is_said_with_its_size() -> None:
    reads = []

    def light(percent: float) -> np.ndarray:
        reads.append(percent)
        return on_target(percent) * (0.97 if len(reads) > 20 else 1.0)

    found, journal = run(FakeBench(light))
    assert found.drift == pytest.approx(-3.0, abs=0.01)
    assert any("White moved by -3.0 %" in note for note in journal.notes.values())


def whites(factor: Callable[[int], float], every: int = 4) -> list[str]:
    """What a pass says whose whites give `factor`, by which white it is."""
    seen: list[int] = []

    def light(percent: float) -> np.ndarray:
        # The next patch is asked for its light again and again; a white counts once.
        if percent == 100.0 and (not seen or seen[-1] != 100):
            order.append(len(order))
        seen.append(int(percent))
        return on_target(percent) * (factor(len(order) - 1) if percent == 100.0 else 1.0)

    order: list[int] = []
    _, journal = run(FakeBench(light), replace(PLAN, levels=21, anchor_every=every))
    return list(journal.notes.values())


def test_white_that_goes_to_and_fro_is_of_something_automatic_and_not_of_a_drift() -> None:
    told = [note for note in whites(lambda nth: 1.0 + 0.06 * (nth % 2)) if "White" in note]
    assert [note for note in told if note.startswith("White went to and fro by ")]
    assert not [note for note in told if note.startswith("White moved by")]


def test_one_wrong_white_and_a_steady_fall_go_nowhere_to_and_fro() -> None:
    for factor in (lambda nth: 0.94 if nth == 2 else 1.0, lambda nth: 1.0 - 0.01 * nth, lambda nth: 1.0):
        assert not [note for note in whites(factor) if "to and fro" in note]


@pytest.mark.parametrize("number", [19, 24])
def test_a_sensor_of_the_room_is_told_from_white_that_does_not_keep_still(number: int) -> None:
    sensor = next(trap for trap in TRAPS if trap.name == "room sensor")
    assert [note for note in said(number, sensor) if "the screen follows the room (a sensor)" in note]
    assert not [note for note in said(number, None) if "to and fro" in note]


def test_stray_light_at_the_end_is_said() -> None:
    reads = []

    def light(percent: float) -> np.ndarray:
        reads.append(percent)
        return on_target(percent) + (0.2 if percent == 0.0 and len(reads) > 20 else 0.0)

    _, journal = run(FakeBench(light))
    assert any(note.startswith("Black moved from 0.020 to 0.220") for note in journal.notes.values())


def test_dark_levels_are_looked_at_longer() -> None:
    _, journal = run(FakeBench(on_target))
    seconds = {r.patch.percent: r.seconds * r.repeats for r in journal.results.values()}
    assert seconds[10.0] > 3 * seconds[80.0]
    assert seconds[0.0] > seconds[80.0]


def test_a_person_with_a_meter_types_each_level_once() -> None:
    bench = FakeBench(on_target)
    bench.repeats = False
    plan = GreyPlan(TARGET, SignalFormat(), 11, repeat_anchors=False)
    found, journal = run(bench, plan)
    assert len(journal.results) == plan.readings == 13
    assert all(reading.repeats == 1 for reading in journal.results.values())
    assert found.white == pytest.approx(100.02)


def test_a_reading_can_be_taken_again() -> None:
    bench, journal = FakeBench(on_target), MemoryJournal()
    runners: list[Runner] = []

    def wish_once(event: object) -> None:
        if isinstance(event, StepBegun) and isinstance(event.step, Show) and event.step.patch.percent == 70.0:
            if bench.light is not on_target:
                runners[0].wish(PutBack)
            bench.light = on_target

    bench.light = lambda percent: on_target(percent) * (1.5 if percent == 80.0 else 1.0)
    runners.append(Runner(bench.bench, journal, NobodyThere(), wish_once))
    found = runners[0].run(grey_pass(PLAN))
    assert found.errors.de2000[2] < 0.2
    readings = [r for r in journal.results.values() if hasattr(r, "patch") and r.patch.percent == 80.0]
    assert [round(r.Y / on_target(80.0)[1], 2) for r in readings] == [1.5, 1.0]
    assert any(note.startswith("80 % grey is read again") for note in journal.notes.values())
    again, _ = replay(grey_pass(PLAN), journal.recorded())
    assert again is not None
    assert np.array_equal(again.xyz, found.xyz)


def test_the_record_alone_gives_the_same_pass() -> None:
    found, journal = run(FakeBench(on_target))
    again, _ = replay(grey_pass(PLAN), journal.recorded())
    assert again is not None
    assert np.array_equal(again.xyz, found.xyz)
    assert np.array_equal(again.errors.de2000, found.errors.de2000, equal_nan=True)


def test_a_white_that_rises_all_the_time_is_of_a_screen_that_is_not_warm() -> None:
    bench = FakeBench(on_target)
    bench.light = lambda percent: on_target(percent) * (1.0 + 0.05 * bench.clock.now() / 60.0)
    _, journal = run(bench, replace(PLAN, anchor_every=4))
    assert any("% a minute: the screen is not warm yet" in note for note in journal.notes.values())
    # Each way, once is chance: one wrong white does not say it.
    steady = FakeBench(on_target)
    steady.light = lambda percent: on_target(percent) * (1.03 if len(steady.read) > 32 else 1.0)
    _, journal = run(steady, replace(PLAN, anchor_every=4))
    assert not any("not warm" in note for note in journal.notes.values())


def test_a_record_of_another_version_still_tells_its_grey_pass() -> None:
    found, journal = run(FakeBench(on_target), replace(PLAN, anchor_every=4))
    readings = [kept for kept in journal.results.values() if isinstance(kept, Reading)]
    again = recovered(replace(PLAN, anchor_every=4), readings)
    assert again is not None
    assert np.array_equal(again.xyz, found.xyz)
    # A level that was read again counts as it was read last; one that is missing leaves nothing to tell.
    at = next(i for i, kept in enumerate(readings) if kept.patch.percent == 50.0)
    twice = recovered(
        replace(PLAN, anchor_every=4), [*readings[:at], replace(readings[at], X=1.0), *readings[at:]]
    )
    assert twice is not None
    assert np.array_equal(twice.xyz, found.xyz)
    assert recovered(replace(PLAN, anchor_every=4), [*readings[:at], *readings[at + 1 :]]) is None
