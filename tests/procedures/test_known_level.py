"""What was just read, as everything still stands, is not read again where one reading says that it holds."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from tests.procedures.test_levels import looks_of, plan_of
from tests.procedures.tone_benches import bench_of, plan_for, run, white_set

from aequitone.advice.moves import ControlState
from aequitone.advice.presets import LEVELS
from aequitone.advice.roles import BIASES, Role
from aequitone.procedures.journal import MemoryJournal, Turned
from aequitone.procedures.known_level import KnownLevel, known_at
from aequitone.procedures.levels.levels import levels
from aequitone.procedures.levels.pictures import WINDOWS
from aequitone.procedures.preparation.presets import ChoicePlan, choose, recovered
from aequitone.procedures.replay import replay
from aequitone.procedures.runner import NobodyThere, Runner
from aequitone.procedures.steps import Purpose, ReadAgain, Reading
from aequitone.procedures.tone import tone as tone_module
from aequitone.procedures.tone.multi_session import begin
from aequitone.procedures.tone.tone import TonePlan, tone
from aequitone.reference import target_named
from aequitone.signal import SignalFormat, grey_patch
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import load_scenario

FORMAT = SignalFormat(10)


def true_levels(bench: StandInBench, percents: tuple[float, ...], share: float = 1.0) -> tuple[KnownLevel, ...]:
    """Greys as they are, times a share, known to a thousandth."""
    light = [share * bench.screen.steady(grey_patch(percent, FORMAT)) for percent in percents]
    return tuple(KnownLevel(percent, xyz, 0.001 * xyz) for percent, xyz in zip(percents, light, strict=True))


def read_before_a_turn(journal: MemoryJournal) -> list[float]:
    """The greys that were read before anything was turned, in %."""
    results = list(journal.results.values())
    first = next((i for i, kept in enumerate(results) if isinstance(kept, Turned)), len(results))
    return [kept.patch.percent for kept in results[:first] if isinstance(kept, Reading)]


@given(st.floats(0.9, 1.1), st.floats(1e-4, 0.02))
def test_a_reading_agrees_within_its_noise_or_half_a_percent(share: float, sd: float) -> None:
    xyz = np.array([95.0, 100.0, 109.0])
    level = KnownLevel(100.0, xyz, sd * xyz)
    reading = Reading(grey_patch(100.0, FORMAT), Purpose.ADJUST, *(share * xyz), *(sd * xyz), 2, 0.4, 0.5, 0.0)
    off, allowed = abs(share - 1.0), max(0.005, 4.0 * float(np.hypot(sd, sd)))
    assume(abs(off - allowed) > 1e-9)
    assert level.is_as(reading) is (off < allowed)
    assert known_at((level,), 100.0) is level
    assert known_at((level,), 80.0) is None


@pytest.mark.parametrize(("share", "read"), [(1.0, [40.0]), (1.04, [40.0, 100.0, 80.0, 60.0, 20.0])])
def test_a_gamma_preset_that_is_on_takes_what_its_white_was_chosen_by(share: float, read: list[float]) -> None:
    bench, journal = build_bench(load_scenario("demo"), 4), MemoryJournal()
    bench.screen.quieten()
    bench.screen.turn({"gamma": 1})
    control, known = ControlState(Role.GAMMA, "Gamma", 0, 2, 1, 1), true_levels(bench, LEVELS, share)
    target, names = target_named("rec709-2.2"), ("2.0", "2.2", "2.4")
    plan = ChoicePlan(target, FORMAT, control, (0, 1, 2), names, tone=True, known=known)
    state = Runner(bench.bench(), journal, NobodyThere()).run(choose(plan))
    assert read_before_a_turn(journal) == read
    # Where it holds it is what the choice goes by, from the record too.
    assert state.on == "2.2"
    for told in (replay(choose(plan), journal.recorded())[0], recovered(plan, list(journal.results.values()), "")):
        assert isinstance(told, type(state))
        assert told.order[0].tone == pytest.approx(state.order[0].tone)


@pytest.mark.parametrize(("share", "again"), [(1.0, False), (1.04, True)])
def test_tone_takes_what_white_read_in_the_end_where_white_still_reads_so(share: float, again: bool) -> None:
    bench, journal = bench_of("demo"), MemoryJournal()
    white_set(bench)
    plan = replace(plan_for(bench, near_black=True), known=true_levels(bench, (100.0, 80.0, 30.0), share))
    state = run(bench, plan, journal)
    read = read_before_a_turn(journal)
    assert read[0] == 100.0
    assert ({80.0, 30.0} <= set(read)) is again
    assert len(read) == len(set(read))
    # Whatever was read or known, the ladder is whole, and black is black.
    assert state.ladder is not None
    assert state.ladder.began is not None
    assert state.ladder.began.percents == plan.percents
    true = [float(bench.screen.steady(grey_patch(p, FORMAT))[1]) for p in (80.0, 30.0)]
    rows = [plan.percents.index(p) for p in (80.0, 30.0)]
    assert state.ladder.xyz[rows, 1] == pytest.approx(true, rel=0.03)
    assert replay(tone(plan), journal.recorded())[0].words == state.words  # type: ignore[union-attr]


def test_a_ladder_that_biases_move_is_read_once() -> None:
    bench, journal = bench_of("quantum-lcd"), MemoryJournal()
    white_set(bench)
    bench.screen.turn({role.key: bench.screen.settings()[role.key] + 4 for role in BIASES})
    run(bench, plan_for(bench, near_black=True), journal)
    first, *later = looks_of(journal)
    moves = [kept.move for kept in journal.results.values() if isinstance(kept, Turned)]
    biased = max(i for i, move in enumerate(moves[:3]) if {change.role for change in move.changes} <= set(BIASES))
    before = [*first, *(name for look in later[:biased] for name in look)]
    # Levels between, which near black does not read along, come when the biases stand.
    assert not {"60 % grey", "90 % grey"} & set(before)
    assert {"60 % grey", "90 % grey"} <= set(later[biased])


def test_what_is_wished_for_again_is_read() -> None:
    bench, journal = bench_of("demo"), MemoryJournal()
    white_set(bench)
    plan = replace(plan_for(bench, near_black=True), known=true_levels(bench, (100.0, 80.0, 30.0)))
    runner = Runner(bench.bench(), journal, NobodyThere())
    runner.wish(ReadAgain)
    assert runner.run(tone(plan)).ladder is not None
    assert read_before_a_turn(journal)[0] == 100.0


def by_link(bench: StandInBench, **more: bool) -> tuple[MemoryJournal, TonePlan]:
    journal, plan = MemoryJournal(), replace(plan_of(bench, **more), by_link=True)
    Runner(bench.bench(), journal, NobodyThere()).run(levels(plan))
    return journal, plan


def test_a_black_level_that_was_right_is_not_read_again_where_a_link_goes_back_to_it() -> None:
    bench = build_bench(load_scenario("quantum-lcd"), 2)
    bench.screen.quieten()
    found = bench.screen.settings()
    journal, _ = by_link(bench)
    left = bench.screen.settings()
    assert left[Role.BLACK_LEVEL.key] == found[Role.BLACK_LEVEL.key]
    assert abs(left[Role.CONTRAST.key] - found[Role.CONTRAST.key]) <= 2
    looks = looks_of(journal)
    # As found, and where it was turned to: contrast that hardly moved has not moved black.
    assert sum("4 % grey" in look for look in looks) == 2
    # White that light was set by is the first of contrast's ramp.
    assert all(sum(name.startswith("100 %") for name in look) <= 1 for look in looks)


def test_contrast_that_has_gone_far_has_black_read_again() -> None:
    bench = build_bench(load_scenario("quantum-lcd"), 2)
    bench.screen.quieten()
    bench.screen.turn({Role.CONTRAST.key: bench.screen.settings()[Role.CONTRAST.key] - 12})
    journal, _ = by_link(bench)
    assert sum("4 % grey" in look for look in looks_of(journal)) == 3


@pytest.mark.parametrize("name", ["plasma", "white-oled", "quantum-lcd"])
def test_windows_are_halved_until_it_is_known_where_the_limit_begins(name: str) -> None:
    bench, journal = build_bench(load_scenario(name), 2), MemoryJournal()
    bench.screen.quieten()
    plan = replace(plan_of(bench, windows=True), by_link=True)
    state = Runner(bench.bench(), journal, NobodyThere()).run(levels(plan))
    assert len(state.windows) <= 5
    limited = [
        window
        for window in WINDOWS[1:]
        if bench.screen.steady(grey_patch(100.0, replace(FORMAT, window=window)))[1] < 0.98 * state.windows[0][1]
    ]
    free = [window for window in WINDOWS[1:] if window not in limited]
    assert state.window == max(free)


@pytest.mark.parametrize(("change", "again"), [({"multi-b-10": 1}, False), ({"multi-g-10": 3}, True)])
def test_near_black_is_looked_at_again_where_its_light_has_moved(change: dict[str, int], again: bool) -> None:
    bench = bench_of("demo")
    plan = plan_for(bench)
    assert plan.multi is not None
    session = begin(plan.multi)
    turned = [c for c in session.grid.controls if c.role.key in change]
    changes = tuple(c.moved_to(c.value + change[c.role.key]).changes[0] for c in turned)
    session.grid = session.grid.moved(changes)
    assert tone_module._reached_down(session) is again
