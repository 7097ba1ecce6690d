"""Tone on the stand-ins: near black, multi-point with every number of levels, wishes, slips, and the record."""

from dataclasses import replace

import numpy as np
import pytest

from aequitone.advice.moves import Move
from aequitone.advice.points import BEND, Grid, ladder_of
from aequitone.advice.points.foot import NEAR_BLACK, wanted_light
from aequitone.advice.roles import BIASES, POINT_COUNTS, Role, is_role, point_of
from aequitone.advice.watching import Watched
from aequitone.instruments.ports import MeterNoise
from aequitone.logbook.standin_visit import control_of
from aequitone.procedures.journal import MemoryJournal, Turned
from aequitone.procedures.replay import replay
from aequitone.procedures.runner import NobodyThere, Runner, StepDone
from aequitone.procedures.steps import Done, Interrupt, Progress, PutBack, ReadAgain, StopHere, Turn, Watch
from aequitone.procedures.tone import TonePlan, ToneState, tone
from aequitone.reference import target_named
from aequitone.signal import grey_patch
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.parts import MultiPointPart
from aequitone.standins.scenario import load_scenario

LADDER = tuple(float(percent) for percent in range(100, 0, -5))
# What a step of a stand-in's biases does to light at 30 %: three halves of a tenth of a percent of drive.
BIAS_LIGHT = 2.2 * 0.0009 * 0.7 / 0.3


def bench_of(name: str = "wide-lcd", seed: int = 1, *, sag: float = 0.03, **points: object) -> StandInBench:
    """A stand-in at rest, its grey bent by `sag`, with a meter that is a spectroradiometer's equal."""
    scenario = load_scenario(name)
    screen = scenario.screen
    part = screen.multi_point.model_copy(update=points) if screen.multi_point else MultiPointPart(**points)
    fault = screen.fault.model_copy(update={"sag": sag})
    bent = screen.model_copy(update={"multi_point": part, "fault": fault})
    bench = build_bench(scenario.model_copy(update={"screen": bent}), seed)
    bench.screen.quieten()
    return replace(bench, meter=bench.reference_meter())


def white_set(bench: StandInBench) -> None:
    """Bring 100 % to the target by the gains, on the truth: White's work, which is not in question here."""
    target = target_named(bench.scenario.visit.target).white.xyz()
    for _ in range(60):
        white = bench.screen.light_of_signal(np.ones((1, 3)))[0]
        rgb = bench.screen.unit.gamut.rgb(white / white[1]) / bench.screen.unit.gamut.rgb(target)
        most = int(np.argmax(rgb))
        role = f"gain-{'rgb'[most]}"
        if rgb[most] / rgb.min() < 1.006:
            return
        bench.screen.turn({role: bench.screen.settings()[role] - 1})


def plan_for(bench: StandInBench, *, near_black: bool = False, **more: object) -> TonePlan:
    settings = bench.screen.settings()
    menu = {
        Role(part.role): control_of(part).state(settings[part.role])
        for part in bench.screen.controls()
        if is_role(part.role)
    }
    points = tuple(state for role, state in menu.items() if point_of(role))
    format_ = bench.scenario.source.format
    return TonePlan(
        target_named(bench.scenario.visit.target),
        format_,
        float(bench.screen.steady(grey_patch(100.0, format_))[1]),
        tuple(menu[role] for role in BIASES),
        BIAS_LIGHT,
        points,
        ladder_of(points, whole=True) if points else (),
        near_black=near_black,
        **more,  # type: ignore[arg-type]
    )


def run(bench: StandInBench, plan: TonePlan, journal: MemoryJournal | None = None, **more: object) -> ToneState:
    return Runner(bench.bench(), journal or MemoryJournal(), NobodyThere(), **more).run(tone(plan))


def known(state: ToneState) -> dict[Role, int]:
    """Where the program believes the controls to stand."""
    assert state.ladder is not None
    return {control.role: control.value for control in state.ladder.controls}


def standing(bench: StandInBench, state: ToneState) -> dict[Role, int]:
    """Where they really stand."""
    left = bench.screen.settings()
    return {role: left[role] for role in known(state)}


def true_mean(bench: StandInBench) -> float:
    target = target_named(bench.scenario.visit.target)
    return float(np.mean(bench.true_de2000(LADDER, target, bench.screen.settings())))


@pytest.mark.parametrize("interpolation", ["linear", "smooth"])
@pytest.mark.parametrize("points", POINT_COUNTS)
def test_a_sagging_channel_is_evened_out_whatever_the_screen_has(points: int, interpolation: str) -> None:
    bench = bench_of(points=points, interpolation=interpolation)
    white_set(bench)
    before = true_mean(bench)
    state = run(bench, plan_for(bench))
    assert state.ladder is not None
    assert before > 1.0
    assert true_mean(bench) < 0.6
    assert state.ladder.bend <= BEND
    left = bench.screen.settings()
    assert {c.role: c.value for c in state.ladder.controls} == {
        c.role: left[c.role] for c in state.ladder.controls
    }
    assert state.ladder.began is not None
    assert f"ΔE {state.ladder.began.mean:.2f} → {state.ladder.mean:.2f} on average" in state.words


def test_a_screen_that_leaves_the_levels_between_alone_is_recognised() -> None:
    bench = bench_of("plasma", points=10, interpolation="own-level-only", sag=0.04)
    white_set(bench)
    before = true_mean(bench)
    state = run(bench, plan_for(bench))
    assert state.ladder is not None
    # Each level is a bump of its own: it is kept small, and the levels between stay as they were.
    offsets = Grid.of(state.ladder.controls).offsets
    assert 0 < np.abs(offsets).max() <= 5
    assert true_mean(bench) < before


def test_light_is_turned_where_the_screen_has_it_and_channels_where_not() -> None:
    with_light, without = bench_of(points=20, luminance=True), bench_of(points=20, luminance=False)
    white_set(without)
    assert run(with_light, plan_for(with_light)).ladder is not None
    assert len(Grid.of(plan_for(with_light).points).rows[0]) == 4
    state = run(without, plan_for(without))
    assert state.ladder is not None
    assert len(Grid.of(state.ladder.controls).rows[0]) == 3
    assert true_mean(without) < 0.7


def test_an_even_screen_is_left_alone_and_says_so() -> None:
    bench = bench_of(sag=0.0)
    white_set(bench)
    plan = replace(plan_for(bench), stop_at=4.0)
    state = run(bench, plan)
    assert state.ladder is not None
    assert not state.ladder.trips
    assert "no level is worth a trip" in state.words


def test_a_dearer_trip_is_made_less_often() -> None:
    trips = {}
    for price in (1.0, 60.0):
        bench = bench_of(sag=0.015)
        white_set(bench)
        state = run(bench, replace(plan_for(bench), trip_seconds=price))
        assert state.ladder is not None
        trips[price] = len(state.ladder.trips)
    assert trips[60.0] < trips[1.0]


def test_a_white_that_has_come_undone_is_not_mended_level_by_level() -> None:
    bench = bench_of()
    white_set(bench)
    plan = plan_for(bench)
    bench.screen.turn({"gain-b": bench.screen.settings()["gain-b"] + 25})
    journal = MemoryJournal()
    state = run(bench, plan, journal)
    assert "go back there before a level is turned" in state.words
    assert not any(isinstance(kept, Turned) for kept in journal.results.values())


def near_black_off(bench: StandInBench) -> np.ndarray:
    signal = np.repeat(np.array([100.0, 0.0, *NEAR_BLACK])[:, None], 3, axis=1) / 100.0
    white, black, *light = bench.screen.light_of_signal(signal)[:, 1]
    target = target_named(bench.scenario.visit.target)
    wanted = wanted_light(target, np.array(NEAR_BLACK), float(white), float(black))
    return np.abs(np.array(light) / wanted - 1.0)


@pytest.mark.parametrize("off", [-4, 4])
def test_biases_that_stand_too_low_or_high_are_brought_together(off: int) -> None:
    bench = bench_of("quantum-lcd", sag=0.0)
    white_set(bench)
    bench.screen.turn({role: bench.screen.settings()[role] + off for role in BIASES})
    before = near_black_off(bench)
    journal = MemoryJournal()
    plan = replace(plan_for(bench, near_black=True), points=(), percents=())
    state = run(bench, plan, journal)
    assert state.foot is not None
    assert near_black_off(bench)[:4].max() < min(0.12, before[:4].max())
    assert state.words == state.foot.words
    moves = [kept.move for kept in journal.results.values() if isinstance(kept, Turned)]
    assert moves
    for move in moves:
        assert {change.role for change in move.changes} == set(BIASES)
        assert len({change.by for change in move.changes}) == 1


@pytest.mark.parametrize("left", [{"bias_light": 0.0}, {"biases": ()}])
def test_nothing_is_turned_near_black_where_biases_are_not_known(left: dict[str, object]) -> None:
    bench = bench_of("quantum-lcd", sag=0.0)
    bench.screen.turn({role: bench.screen.settings()[role] + 4 for role in BIASES})
    journal = MemoryJournal()
    plan = replace(plan_for(bench, near_black=True), points=(), percents=(), **left)
    state = run(bench, plan, journal)
    assert state.foot is not None
    assert "is off by more than a tenth" in state.words
    assert not any(isinstance(kept, Turned) for kept in journal.results.values())


def wished(
    kind: type[Interrupt], after: int, points: bool = True
) -> tuple[StandInBench, ToneState, MemoryJournal, TonePlan]:
    """A run in which one wish comes right after so many turns."""
    bench, journal, turns = bench_of(), MemoryJournal(), list[object]()
    white_set(bench)
    plan = plan_for(bench)

    def hear(event: object) -> None:
        if isinstance(event, StepDone) and isinstance(event.step, Turn):
            turns.append(event)
            if len(turns) == after:
                runner.wish(kind)

    runner = Runner(bench.bench(), journal, NobodyThere(), hear)
    return bench, runner.run(tone(plan)), journal, plan


def test_putting_back_undoes_one_level_and_goes_on_below_it() -> None:
    _, state, journal, plan = wished(PutBack, 2)
    assert state.ladder is not None
    second, third = state.ladder.trips[1:3]
    assert third.move.undoes
    assert third.move.changes == second.move.reverse.changes
    assert len(state.ladder.trips) > 4
    assert replay(tone(plan), journal.recorded())[0].words == state.words  # type: ignore[union-attr]


def test_stopping_keeps_what_was_turned_and_its_reading() -> None:
    _, state, _, _ = wished(StopHere, 3)
    assert state.ladder is not None
    assert len(state.ladder.trips) == 3
    assert state.ladder.mean > 0.0


def test_reading_again_turns_nothing_more() -> None:
    bench, state, journal, _ = wished(ReadAgain, 1)
    assert state.ladder is not None
    first = next(kept for kept in journal.results.values() if isinstance(kept, Turned)).move
    assert state.ladder.trips[0].move == first
    assert true_mean(bench) < 0.7


def test_a_wish_before_anything_is_read_does_no_harm() -> None:
    for kind in (PutBack, ReadAgain, StopHere):
        bench = bench_of()
        runner = Runner(bench.bench(), MemoryJournal(), NobodyThere())
        runner.wish(kind)
        state = runner.run(tone(plan_for(bench, near_black=True)))
        assert state.words


def test_going_on_from_the_record_makes_the_same_moves() -> None:
    bench, journal = bench_of(), MemoryJournal()
    white_set(bench)
    plan = plan_for(bench, near_black=True)
    whole = run(bench, plan, journal)
    half = MemoryJournal()
    half.results = dict(sorted(journal.results.items())[: len(journal.results) // 2])
    before = [kept.move for kept in half.results.values() if isinstance(kept, Turned)]
    again = run(bench, plan, half)
    after = [kept.move for kept in half.results.values() if isinstance(kept, Turned)]
    assert before
    assert after[: len(before)] == before
    assert whole.ladder is not None
    assert again.ladder is not None
    assert replay(tone(plan), journal.recorded())[0].words == whole.words  # type: ignore[union-attr]


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
        self._bench.screen.turn({c.role: c.from_value + share * c.by for c in move.changes})
        return None


@pytest.mark.parametrize(
    ("done", "words"), [(0, "another level was turned, or none"), (-1, "turned the other way")]
)
def test_a_slip_of_the_hand_is_said_and_mended(done: int, words: str) -> None:
    bench = bench_of(sag=0.06)
    white_set(bench)
    bench.meter.true_noise = MeterNoise(0.0005, 0.0001)
    plan = replace(plan_for(bench), by_hand=True, trip_seconds=9.0)
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
        c.role: left[c.role] for c in state.ladder.controls
    }


class Bumping(NobodyThere):
    """Turns what is asked for; the meter is pushed on the second trip."""

    def __init__(self, bench: StandInBench) -> None:
        self._bench, self._trips = bench, 0

    def turn(self, move: Move) -> type[Interrupt] | None:
        self._trips += 1
        self._bench.screen.turn({c.role: c.to_value for c in move.changes})
        if self._trips == 2:
            life, light = self._bench.screen._life, self._bench.screen._life.light
            life.light = lambda now: 0.85 * light(now)  # type: ignore[method-assign]
        return None


def test_a_bump_of_the_meter_is_said_and_the_ladder_read_again() -> None:
    bench = bench_of(sag=0.06)
    white_set(bench)
    bench.meter.true_noise = MeterNoise(0.0005, 0.0001)
    plan = replace(plan_for(bench), by_hand=True, trip_seconds=9.0)
    journal = MemoryJournal()
    state = Runner(bench.bench(by_link=False), journal, Bumping(bench)).run(tone(plan))
    said = [note for note in journal.notes.values() if "the meter has moved" in note]
    assert len(said) == 1
    assert state.ladder is not None
    # All levels were read again in the new light, and none was turned to make up for it.
    white = float(bench.screen.steady(grey_patch(100.0, plan.format))[1])
    assert state.ladder.xyz[0, 1] == pytest.approx(0.85 * white, rel=0.01)
    assert true_mean(bench) < 0.6


def test_black_that_comes_up_with_the_darkest_level_is_put_back() -> None:
    bench = bench_of("rgb-oled", points=20, interpolation="linear", effect_per_step=0.006, sag=0.0)
    # The darkest level gives far too little, and the screen carries its setting on down to black.
    bench.screen.turn({"multi-y-5": -6})
    plan = plan_for(bench)
    journal = MemoryJournal()
    run(bench, plan, journal)
    black = bench.screen.light_of_signal(np.zeros((1, 3)))[0, 1]
    assert black < 0.02 or any("Black came up" in note for note in journal.notes.values())


def test_a_plan_that_cannot_be_is_refused() -> None:
    plan = plan_for(bench_of())
    with pytest.raises(ValueError, match="from 100 % down"):
        replace(plan, percents=(95.0, 100.0)).multi  # noqa: B018
    with pytest.raises(ValueError, match="lacks 95 %"):
        replace(plan, percents=(100.0, 90.0)).multi  # noqa: B018
    assert replace(plan, points=()).multi is None


class Watcher(NobodyThere):
    """Watches its first move while turning it, a step of one control at a time; makes the others as asked."""

    def __init__(self, bench: StandInBench) -> None:
        self._bench, self.move = bench, None
        self.told: list[Watched] = []
        self.runner: Runner | None = None

    def turn(self, move: Move) -> type[Interrupt] | None:
        if self.move is None and sum(abs(change.by) for change in move.changes) >= 3:
            self.move = move
            return Watch
        self._bench.screen.turn({c.role: c.to_value for c in move.changes})
        return None

    def hear(self, event: object) -> None:
        if not (isinstance(event, StepDone) and isinstance(event.step, Progress)):
            return
        if not isinstance(event.step.value, Watched):
            return
        self.told.append(event.step.value)
        assert self.move is not None
        assert self.runner is not None
        settings = self._bench.screen.settings()
        for change in self.move.changes:
            if settings[change.role] != change.to_value:
                self._bench.screen.turn({change.role: settings[change.role] + (1 if change.by > 0 else -1)})
                return
        if len(self.told) > 12:
            self.runner.wish(Done)


def test_a_level_can_be_watched_while_it_is_turned() -> None:
    bench = bench_of(sag=0.05)
    white_set(bench)
    plan = replace(plan_for(bench), by_hand=True, trip_seconds=9.0)
    hands, journal = Watcher(bench), MemoryJournal()
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
