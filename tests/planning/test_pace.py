"""Minutes from the instruments' own pace."""

from dataclasses import replace

import pytest

from aequitone.colorimetry import Formula
from aequitone.planning.pace import (
    BY_HAND,
    STOPS,
    Pace,
    clock_words,
    grey_pass_seconds,
    levels_seconds,
    levels_trips,
    minutes_words,
    seconds_left,
    short_minutes_words,
    tone_seconds,
    usual_trips,
    white_balance_seconds,
)  # fmt: skip
from aequitone.procedures.grey.grey_pass import GreyPlan, grey_pass
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.runner import NobodyThere, Runner
from aequitone.procedures.steps import Purpose, Reading
from aequitone.procedures.tone.multi_plan import TRIPS
from aequitone.reference import TARGETS
from aequitone.signal import SignalFormat, grey_patch
from aequitone.standins.bench import build_bench
from aequitone.standins.scenario import load_scenario

PLAN = GreyPlan(TARGETS["rec709-2.2"], SignalFormat(10))
READING = Reading(grey_patch(50, SignalFormat()), Purpose.LEVEL, 1, 1, 1, 0, 0, 0, 2, 1.0, 7.0, 0.0)


def test_the_plan_of_a_pass_is_what_the_pass_takes() -> None:
    stand_in = build_bench(load_scenario("demo"), 0)
    stand_in.screen.quieten()
    journal = MemoryJournal()
    Runner(stand_in.bench(), journal, NobodyThere()).run(grey_pass(PLAN))
    took = stand_in.clock.now()
    learnt = Pace().learnt(journal.results.values())
    assert grey_pass_seconds(PLAN, learnt, 140.0) == pytest.approx(took, rel=0.10)
    assert grey_pass_seconds(PLAN, Pace(), 140.0) == pytest.approx(took, rel=0.25)


def test_a_slow_bench_is_learnt() -> None:
    slow = Pace().learnt([READING, replace(READING, took=9.0)])
    assert slow.reading_overhead == pytest.approx(6.0)
    assert Pace().learnt([]) == Pace()
    # One pause of ten minutes is not the pace of the evening.
    usual = [READING] * 8
    assert Pace().learnt([*usual, replace(READING, took=600.0)]) == Pace().learnt([*usual, READING])
    assert white_balance_seconds(slow, 3) > white_balance_seconds(Pace(), 3)
    assert tone_seconds(slow, 11, near_black=True) > tone_seconds(Pace(), 11, near_black=True)


def test_a_person_types_once_but_slowly() -> None:
    typed = replace(PLAN, repeat_anchors=False)
    assert grey_pass_seconds(typed, BY_HAND) > grey_pass_seconds(PLAN, Pace())
    # What a typed reading took is all there is: the person's meter integrates meanwhile.
    taken = [replace(READING, took=8.0, seconds=4.0, repeats=2)] * 5
    assert BY_HAND.learnt(taken).reading_overhead == pytest.approx(8.0)


def test_nothing_takes_no_time() -> None:
    assert levels_seconds(0, Pace()) == 0.0
    assert tone_seconds(Pace(), 0, near_black=False) == 0.0


def test_what_is_left_falls_to_nothing() -> None:
    left = [seconds_left(PLAN, Pace(), done) for done in range(PLAN.readings + 1)]
    assert left == sorted(left, reverse=True)
    assert left[-1] == 0.0


@pytest.mark.parametrize(
    ("seconds", "words"), [(3, "5 s"), (42, "40 s"), (80, "1 min 20 s"), (120, "2 min"), (700, "12 min")]
)
def test_minutes_as_people_say_them(seconds: float, words: str) -> None:
    assert minutes_words(seconds) == words


def test_hours_and_minutes() -> None:
    assert (clock_words(2520), clock_words(7800)) == ("0:42", "2:10")


def test_a_tighter_figure_costs_more_trips_and_one_between_as_much_as_the_next() -> None:
    for formula in Formula:
        trips = [usual_trips(stop, formula) for stop in STOPS]
        assert trips == sorted(trips, reverse=True)
        assert trips[0] > trips[-1]
        assert usual_trips(0.7, formula) == usual_trips(0.5, formula)
        assert usual_trips(0.1, formula) == usual_trips(0.3, formula)


def test_levels_are_planned_by_their_controls_and_by_what_a_trip_takes() -> None:
    pace, slow = Pace(), replace(Pace(), trip=30.0)
    one, five = levels_seconds(1, pace), levels_seconds(5, pace)
    assert levels_seconds(0, pace) < one
    assert five - one == pytest.approx(4.0 * (levels_seconds(2, pace) - one))
    # As long as benchmarks/levels.py sees it take on televisions.
    assert five == pytest.approx(6.0 * 60.0, rel=0.25)
    assert levels_seconds(5, slow) - five == pytest.approx(levels_trips(5) * 15.0)
    assert levels_trips(0) == 0.0
    assert levels_trips(3) < levels_trips(5) < 6.0


def test_tone_is_planned_by_what_there_is_to_do() -> None:
    pace = Pace()
    nothing = tone_seconds(pace, 0, near_black=False)
    assert nothing == 0.0
    dark, levels = tone_seconds(pace, 0, near_black=True), tone_seconds(pace, 21, near_black=False)
    assert 30.0 < dark < 180.0
    assert levels > dark
    assert tone_seconds(pace, 21, near_black=True) == pytest.approx(dark + levels)
    # A link turns all levels in a trip, so a dear trip costs it little more.
    dear = replace(pace, trip=pace.trip + 20.0)
    more = tone_seconds(dear, 21, near_black=False, trips=TRIPS) - tone_seconds(
        pace, 21, near_black=False, trips=TRIPS
    )
    assert more == pytest.approx(40.0)


@pytest.mark.parametrize(
    ("seconds", "said"), [(12.0, "10 s"), (54.0, "55 s"), (56.0, "1 min"), (100.0, "2 min"), (3601.0, "60 min")]
)
def test_minutes_on_the_route_are_short(seconds: float, said: str) -> None:
    assert short_minutes_words(seconds) == said
