"""What a pass is planned with: from what was found before it, and from what the screen is."""

from collections.abc import Callable
from dataclasses import replace

import pytest

from aequitone.advice.roles import Role
from aequitone.advice.technology import Technology, dark_foot
from aequitone.logbook import Logbook, VisitRecord
from aequitone.logbook.records import Connection
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.passes import (
    AS_FOUND,
    GAMMA,
    LEVELS,
    TEMPERATURE,
    TONE,
    WHITE,
    PassType,
    begin,
    carry_out,
    load_snapshot,
)
from aequitone.procedures.levels.session import LevelsPlan
from aequitone.procedures.preparation.presets import ChoicePlan
from aequitone.procedures.runner import NobodyThere
from aequitone.procedures.tone.tone import TonePlan
from aequitone.procedures.white.plan import WhitePlan
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import load_scenario


def test_a_panel_that_swallows_its_first_step_is_planned_for(logbook: Logbook) -> None:
    feet = {}
    for name in ("rgb-oled", "demo"):
        scenario = load_scenario(name)
        visit = begin_standin_visit(logbook, scenario, name, 1)
        note_as_found(logbook, visit, build_bench(scenario, 1).link.values())
        plan = begin(logbook, visit.id, LEVELS).plan
        assert isinstance(plan, LevelsPlan)
        feet[visit.technology] = plan.dark_foot
    assert feet[Technology.RGB_OLED] == dark_foot(Technology.RGB_OLED) > 0.0
    assert feet[Technology.LED_LCD] == 0.0


@pytest.fixture
def measured(
    logbook: Logbook, visit: VisitRecord, bench: Callable[[int], StandInBench]
) -> Callable[[PassType], object]:
    """Carry out a pass of the visit on one bench, link and all."""
    stand_in = bench(4)
    return lambda kind: carry_out(logbook, begin(logbook, visit.id, kind), stand_in.bench(), NobodyThere())


def test_white_is_planned_with_the_light_that_levels_left(
    logbook: Logbook, visit: VisitRecord, measured: Callable[[PassType], object]
) -> None:
    found = measured(AS_FOUND)
    before = begin(logbook, visit.id, WHITE).plan
    set_to = measured(LEVELS)
    after = begin(logbook, visit.id, WHITE).plan
    assert isinstance(before, WhitePlan)
    assert isinstance(after, WhitePlan)
    assert (before.white, before.black) == (found.white, found.black)  # type: ignore[attr-defined]
    assert (after.white, after.black) == (set_to.white[1], set_to.black[1])  # type: ignore[attr-defined]
    assert after.white != pytest.approx(before.white, rel=0.05)
    # Grey read again after them is what is there now.
    again = measured(AS_FOUND)
    later = begin(logbook, visit.id, WHITE).plan
    assert isinstance(later, WhitePlan)
    assert later.white == again.white  # type: ignore[attr-defined]


def test_tone_is_planned_with_what_a_trip_has_taken(
    logbook: Logbook, visit: VisitRecord, measured: Callable[[PassType], object]
) -> None:
    measured(AS_FOUND)
    measured(WHITE)
    taken = logbook.trip_seconds(visit.id, ("white",))
    plan = begin(logbook, visit.id, TONE).plan
    assert isinstance(plan, TonePlan)
    assert plan.trip_seconds == taken
    assert taken not in (0.0, 1.0, 15.0)
    assert any(control.role == Role.BIAS_G for control in plan.biases)


def test_before_any_trip_tone_is_planned_with_what_is_usual(
    logbook: Logbook, visit: VisitRecord, measured: Callable[[PassType], object], monkeypatch: pytest.MonkeyPatch
) -> None:
    measured(AS_FOUND)
    measured(WHITE)
    monkeypatch.setattr(Logbook, "trip_seconds", lambda *_: 0.0)
    seconds = {}
    for link in (Connection.STANDIN, Connection.BY_HAND):
        logbook.choose_bench(visit.id, replace(visit.bench, link=link))
        plan = begin(logbook, visit.id, TONE).plan
        assert isinstance(plan, TonePlan)
        seconds[link] = plan.trip_seconds
    assert seconds == {"stand-in": 1.0, "by hand": 15.0}


def test_tone_knows_what_white_read_where_it_is_the_last_pass_and_a_link_turns(
    logbook: Logbook, visit: VisitRecord, measured: Callable[[PassType], object]
) -> None:
    measured(AS_FOUND)
    white = measured(WHITE)

    def known() -> dict[float, float]:
        plan = begin(logbook, visit.id, TONE).plan
        assert isinstance(plan, TonePlan)
        return {level.percent: float(level.xyz[1]) for level in plan.known}

    state = white.state  # type: ignore[attr-defined]
    assert known() == dict(zip(state.percents, state.xyz[:, 1], strict=True))
    # Tone itself is the last pass by now, and may have turned what White has read.
    assert known() == {}


def test_by_hand_nothing_is_taken_as_known(
    logbook: Logbook, visit: VisitRecord, measured: Callable[[PassType], object]
) -> None:
    measured(AS_FOUND)
    measured(WHITE)
    logbook.choose_bench(visit.id, replace(visit.bench, link=Connection.BY_HAND))
    plan = begin(logbook, visit.id, TONE).plan
    assert isinstance(plan, TonePlan)
    assert plan.known == ()


def test_a_gamma_preset_knows_the_greys_of_the_white_that_was_chosen(
    logbook: Logbook, visit: VisitRecord, measured: Callable[[PassType], object]
) -> None:
    before = begin(logbook, visit.id, GAMMA).plan
    assert isinstance(before, ChoicePlan)
    assert before.known == ()
    chosen = measured(TEMPERATURE)
    plan = begin(logbook, visit.id, GAMMA).plan
    assert isinstance(plan, ChoicePlan)
    track = chosen.order[0].track  # type: ignore[attr-defined]
    assert [level.percent for level in plan.known] == list(track.percents)
    assert [float(level.xyz[1]) for level in plan.known] == list(track.xyz[:, 1])


def test_minutes_of_a_visit_by_link_do_not_count_walks(logbook: Logbook, visit: VisitRecord) -> None:
    minutes = {}
    for link in (Connection.STANDIN, Connection.BY_HAND):
        logbook.choose_bench(visit.id, replace(visit.bench, link=link))
        snapshot = load_snapshot(logbook, visit.id)
        minutes[link] = {kind: kind.seconds(snapshot, snapshot.pace) / 60.0 for kind in (LEVELS, TONE)}
    assert all(
        minutes[Connection.BY_HAND][kind] > minutes[Connection.STANDIN][kind] + 0.5 for kind in (LEVELS, TONE)
    )
