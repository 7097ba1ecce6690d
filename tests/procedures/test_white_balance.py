"""White balance on the stand-in: it gets there, it can be undone, stopped, and gone on with."""

from collections.abc import Callable, Mapping
from dataclasses import replace
from typing import ClassVar

import numpy as np
import pytest
from tests.procedures.watcher import Watcher

from aequitone.advice.moves import Change, ControlState, Move, moved
from aequitone.advice.roles import GAINS, TWO_POINT, Role
from aequitone.advice.two_point.level_readings import Seen
from aequitone.advice.two_point.mover import WHITE_LENIENCE, Mover, Stop
from aequitone.colorimetry import Formula
from aequitone.instruments import Bench, MeterNoise
from aequitone.logbook.settings.menus import control_of
from aequitone.procedures.grey.grey_pass import GreyPlan, grey_pass
from aequitone.procedures.journal import MemoryJournal, Turned
from aequitone.procedures.noise import NoiseModel
from aequitone.procedures.replay import replay
from aequitone.procedures.runner import NobodyThere, Runner, StepDone
from aequitone.procedures.steps import (
    Done,
    Interrupt,
    PutBack,
    ReadAgain,
    Reading,
    StopHere,
    Turn,
    Watch,
)
from aequitone.procedures.white.plan import LightStep, WhitePlan
from aequitone.procedures.white.session import WhiteSession
from aequitone.procedures.white.shadows import contrast_words
from aequitone.procedures.white.white_balance import WhiteResult, white_balance
from aequitone.reference import target_named
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.devices import StandInLink
from aequitone.standins.scenario import HandPart, load_scenario
from aequitone.standins.zoo import zoo_screen

TARGET = target_named("rec709-2.2")
Benches = Callable[[int], StandInBench]


def plan_for(stand_in: StandInBench, target: str = "rec709-2.2") -> WhitePlan:
    format_ = stand_in.scenario.source.format
    found = Runner(stand_in.bench(), MemoryJournal(), NobodyThere()).run(grey_pass(GreyPlan(TARGET, format_)))
    parts = {part.role: part for part in stand_in.screen.controls()}
    now = stand_in.screen.settings()
    controls = tuple(
        ControlState(
            r, parts[r.key].name, parts[r.key].lowest, parts[r.key].highest, parts[r.key].step, now[r.key]
        )
        for r in TWO_POINT
    )
    return WhitePlan(target_named(target), format_, controls, found.white, found.black)


def adjust(stand_in: StandInBench, journal: MemoryJournal | None = None, **more: object) -> WhiteResult:
    return Runner(stand_in.bench(), journal or MemoryJournal(), NobodyThere(), **more).run(
        white_balance(plan_for(stand_in))
    )


def true_worst(stand_in: StandInBench) -> float:
    return max(stand_in.true_de2000((80.0, 30.0), TARGET, stand_in.screen.settings()))


@pytest.mark.parametrize("seed", range(6))
def test_a_visible_cast_becomes_invisible(bench: Benches, seed: int) -> None:
    stand_in = bench(seed)
    before = true_worst(stand_in)
    result = adjust(stand_in)
    assert before > 5.0
    assert true_worst(stand_in) < 1.0
    white, bright, dark = result.state.errors
    assert result.state.worst == pytest.approx(
        white if white - WHITE_LENIENCE > max(bright, dark) else max(bright, dark)
    )
    # 100 % has no control of its own, and must not be left tinted by a channel that clips.
    assert stand_in.true_de2000((100.0,), TARGET, stand_in.screen.settings())[0] < 0.5 + WHITE_LENIENCE + 0.3


@pytest.mark.parametrize(("bright", "dark"), [(80.0, 20.0), (100.0, 20.0), (100.0, 30.0), (70.0, 25.0)])
def test_any_pair_of_levels_can_be_adjusted(bench: Benches, bright: float, dark: float) -> None:
    stand_in = bench(3)
    plan = replace(plan_for(stand_in), bright=bright, dark=dark)
    result = Runner(stand_in.bench(), MemoryJournal(), NobodyThere()).run(white_balance(plan))
    assert result.state.percents == (100.0, bright, dark)
    assert max(stand_in.true_de2000((bright, dark), TARGET, stand_in.screen.settings())) < 1.0


@pytest.mark.parametrize("formula", list(Formula))
def test_white_stops_by_the_formula_that_is_wanted(bench: Benches, formula: Formula) -> None:
    stand_in = bench(2)
    result = Runner(stand_in.bench(), MemoryJournal(), NobodyThere()).run(
        white_balance(replace(plan_for(stand_in), formula=formula))
    )
    light = stand_in.screen.light_of_signal(np.repeat(np.array([[1.0], [0.8], [0.3]]), 3, axis=1))
    wanted = TARGET.grey((100.0, 80.0, 30.0), float(light[0, 1]), plan_for(stand_in).black)
    truly = formula.between(light, wanted, TARGET.white.xyz(float(light[0, 1])))
    assert truly[1:].max() < 0.9
    assert result.state.errors[1:] == pytest.approx(tuple(truly[1:]), abs=0.5)
    if formula is not Formula.DE2000:
        assert formula.value in result.words


def test_controls_as_told_are_the_screens(bench: Benches) -> None:
    stand_in = bench(1)
    result = adjust(stand_in)
    now = stand_in.screen.settings()
    assert {c.role: c.value for c in result.state.controls} == {role: now[role.key] for role in TWO_POINT}
    for trip in result.state.trips:
        assert all(0 <= change.to_value <= 100 for change in trip.move.changes)


def wisher(kind: type[Interrupt], after_turns: int) -> tuple[list[Runner], Callable[[object], None]]:
    """A listener that wishes once, right after so many turns."""
    runners: list[Runner] = []
    turns = []

    def listen(event: object) -> None:
        if isinstance(event, StepDone) and isinstance(event.step, Turn) and not event.replayed:
            turns.append(event)
            if len(turns) == after_turns:
                runners[0].wish(kind)

    return runners, listen


def with_wish(stand_in: StandInBench, kind: type[Interrupt], after: int, journal: MemoryJournal) -> tuple:
    runners, listen = wisher(kind, after)
    plan = plan_for(stand_in)
    runner = Runner(stand_in.bench(), journal, NobodyThere(), listen)
    runners.append(runner)
    return plan, runner.run(white_balance(plan))


def test_putting_back_undoes_the_last_move_and_goes_on(bench: Benches) -> None:
    stand_in, journal = bench(4), MemoryJournal()
    plan, result = with_wish(stand_in, PutBack, 1, journal)
    first, second = result.state.trips[:2]
    assert second.move.undoes
    assert second.move.changes == first.move.reverse.changes
    assert true_worst(stand_in) < 1.0
    again, _ = replay(white_balance(plan), journal.recorded())
    assert again is not None
    assert again.state.controls == result.state.controls


def test_stopping_stops_there_and_keeps_the_readings_of_the_move(bench: Benches) -> None:
    stand_in = bench(4)
    _, result = with_wish(stand_in, StopHere, 1, MemoryJournal())
    assert result.stop is Stop.WISHED
    assert len(result.state.trips) == 1
    assert result.words.startswith("Stopped by you")


def test_reading_again_turns_nothing(bench: Benches) -> None:
    stand_in, journal = bench(4), MemoryJournal()
    runner = Runner(stand_in.bench(), journal, NobodyThere())
    plan = plan_for(stand_in)
    runner.wish(ReadAgain)
    result = runner.run(white_balance(plan))
    assert result.state.trips[0].move.changes
    assert true_worst(stand_in) < 1.0


def test_a_person_who_types_is_not_asked_to_type_the_same_again(bench: Benches) -> None:
    # A meter so noisy that it soon cannot tell: with three looks it looks again, with one it stops.
    plan = replace(plan_for(bench(4)), stop_at=0.01)
    extra = {}
    for looks in (1, 3):
        journal = MemoryJournal()
        procedure = white_balance(replace(plan, looks=looks))
        result = Runner(bench(4).bench(), journal, NobodyThere()).run(procedure)
        readings = sum(isinstance(kept, Reading) for kept in journal.results.values())
        extra[looks] = readings - 3 * (1 + len(result.state.trips))
    assert extra[1] == 0
    assert 3 <= extra[3] <= 6 * (1 + len(result.state.trips))


def test_a_second_look_makes_the_figure_surer(bench: Benches) -> None:
    plan = replace(plan_for(bench(4)), stop_at=0.01)
    once, thrice = (
        Runner(bench(4).bench(), MemoryJournal(), NobodyThere()).run(white_balance(replace(plan, looks=looks)))
        for looks in (1, 3)
    )
    assert once.stop is Stop.CANNOT_TELL
    assert thrice.state.worst_sd < 0.9 * once.state.worst_sd


def test_the_best_setting_is_gone_back_to(bench: Benches, monkeypatch: pytest.MonkeyPatch) -> None:
    """Whatever the planner comes to, a screen is left as well as it was at its best."""
    stand_in = bench(4)
    plan = plan_for(stand_in)
    spoil = Move((Change(plan.controls[0].role, plan.controls[0].name, plan.controls[0].value, 12),))
    proposals = iter((spoil, Stop.CANNOT_REACH))
    monkeypatch.setattr(Mover, "propose", lambda *_: next(proposals))
    journal = MemoryJournal()
    result = Runner(stand_in.bench(), journal, NobodyThere()).run(white_balance(plan))
    assert [control.value for control in result.state.controls] == [control.value for control in plan.controls]
    assert stand_in.screen.settings()[plan.controls[0].role.key] == plan.controls[0].value
    assert any("An earlier setting was better" in note for note in journal.notes.values())


def test_a_setting_that_is_as_good_is_not_gone_back_from(bench: Benches, monkeypatch: pytest.MonkeyPatch) -> None:
    stand_in = bench(4)
    plan = plan_for(stand_in)
    first = plan.controls[0]
    near = Move((Change(first.role, first.name, first.value, first.value - 1),))
    proposals = iter((near, Stop.CANNOT_TELL, Stop.CANNOT_TELL, Stop.CANNOT_TELL))
    monkeypatch.setattr(Mover, "propose", lambda *_: next(proposals))
    result = Runner(stand_in.bench(), MemoryJournal(), NobodyThere()).run(white_balance(plan))
    assert result.state.controls[0].value == first.value - 1


def test_nothing_to_put_back_is_said(bench: Benches) -> None:
    stand_in, journal = bench(4), MemoryJournal()
    plan, runner = plan_for(stand_in), Runner(stand_in.bench(), journal, NobodyThere())
    runner.wish(PutBack)
    runner.run(white_balance(plan))
    assert "There is no move to put back." in journal.notes.values()


@pytest.mark.parametrize("kept", [5, 9, 14])
def test_going_on_from_the_record_leaves_what_one_process_would_have(bench: Benches, kept: int) -> None:
    journal = MemoryJournal()
    plan = plan_for(bench(2))
    whole = Runner(bench(2).bench(), journal, NobodyThere()).run(white_balance(plan))
    results = sorted(journal.results.items())
    half = MemoryJournal()
    half.results = dict(results[:kept])
    fresh = bench(2)
    for result in half.results.values():
        if isinstance(result, Turned):
            fresh.screen.turn({change.role.key: change.to_value for change in result.move.changes})
    turned: list[Move] = []
    again = Runner(
        fresh.bench(), half, NobodyThere(),
        lambda e: turned.append(e.step.move)
        if isinstance(e, StepDone) and isinstance(e.step, Turn) and not e.replayed else None,
    ).run(white_balance(plan))  # fmt: skip
    replayed = sum(isinstance(result, Turned) for _, result in results[:kept])
    # What was on record was not turned again, and the first move after it is the one that one process made:
    # the record alone decides it.
    assert len(turned) == len(again.state.trips) - replayed
    asked = [trip.move for trip in again.state.trips]
    assert asked[:replayed] == [trip.move for trip in whole.state.trips[:replayed]]
    if isinstance(results[kept][1], Turned):
        assert turned[0] == results[kept][1].move
    assert true_worst(fresh) < 1.0


def test_a_plan_with_controls_missing_or_levels_crossed_is_refused(bench: Benches) -> None:
    plan = plan_for(bench(0))
    with pytest.raises(ValueError, match="needs the controls"):
        WhitePlan(TARGET, plan.format, plan.controls[:5], 100.0, 0.1)
    with pytest.raises(ValueError, match="must lie below the bright one"):
        WhitePlan(TARGET, plan.format, plan.controls, 100.0, 0.1, bright=30.0, dark=80.0)


def test_noise_is_learnt_from_repeats() -> None:
    sheet, rng = MeterNoise(0.01, 0.002), np.random.default_rng(8)
    model, light = NoiseModel(sheet), np.array([95.0, 100.0, 109.0])
    past = []
    for _ in range(150):
        repeats = light + rng.normal(size=(3, 3)) * sheet.sd(light, 1.0) * 2.5
        mean = repeats.mean(axis=0)
        past.append((float(mean[1]), float((((repeats - mean) / sheet.sd(mean, 1.0)) ** 2).sum()), 3))
        model.learn(*past[-1])
    assert model.factor(100.0) == pytest.approx(2.5, rel=0.1)
    assert NoiseModel(sheet, past).factor(100.0) == pytest.approx(model.factor(100.0))
    assert model.factor(0.05) == NoiseModel(sheet).factor(100.0) == 1.0


class Clumsy(NobodyThere):
    """Turns what is asked for, but slips on some trips."""

    def __init__(self, stand_in: StandInBench, *slip_on: int) -> None:
        self._stand_in, self._slip_on = stand_in, slip_on
        self.trips: list[Move] = []

    def turn(self, move: Move) -> type[Interrupt] | None:
        self.trips.append(move)
        to = {change.role.key: change.to_value for change in move.changes}
        if len(self.trips) in self._slip_on:
            furthest = max(move.changes, key=lambda change: abs(change.by))
            to[furthest.role.key] = furthest.from_value - furthest.by
        self._stand_in.screen.turn(to)
        return None


@pytest.mark.parametrize("seed", range(3))
def test_a_turn_the_other_way_is_said_and_mended(bench: Benches, seed: int) -> None:
    stand_in = bench(seed)
    plan = replace(plan_for(stand_in), by_hand=True)
    hands, journal = Clumsy(stand_in, 1), MemoryJournal()
    result = Runner(stand_in.bench(by_link=False), journal, hands).run(white_balance(plan))
    first, mended = hands.trips[:2]
    slipped = max(first.changes, key=lambda change: abs(change.by))
    assert f"{slipped.name} was turned the other way" in result.state.trips[0].surprise
    assert result.state.trips[0].surprise in journal.notes.values()
    (change,) = mended.changes
    assert (change.role, change.to_value) == (slipped.role, slipped.to_value)
    assert change.from_value == slipped.from_value - slipped.by
    # It ends as well as if nothing had happened, and the program knows where every control stands.
    assert true_worst(stand_in) < 1.0
    left = stand_in.screen.settings()
    assert {control.role: control.value for control in result.state.controls} == {
        r: left[r.key] for r in TWO_POINT
    }
    assert replay(white_balance(plan), journal.recorded())[0].words == result.words


@pytest.mark.parametrize("pair", [("gain-r", "gain-b"), ("gain-g", "gain-b"), ("bias-r", "bias-b")])
def test_by_hand_a_menu_that_lies_is_found_out_and_the_hand_believed(pair: tuple[str, str]) -> None:
    demo = load_scenario("demo")
    path = demo.screen.path.model_copy(update={"swapped": pair})
    scenario = demo.model_copy(update={"screen": demo.screen.model_copy(update={"path": path})})
    stand_in = build_bench(scenario, 3)
    plan = replace(plan_for(stand_in), by_hand=True)
    hands, journal = Clumsy(stand_in), MemoryJournal()
    result = Runner(stand_in.bench(by_link=False), journal, hands).run(white_balance(plan))
    assert any("does the work of" in note for note in journal.notes.values()), journal.notes
    assert true_worst(stand_in) < 1.2
    left = stand_in.screen.settings()
    assert {control.role: control.value for control in result.state.controls} == {
        r: left[r.key] for r in TWO_POINT
    }
    assert replay(white_balance(plan), journal.recorded())[0].words == result.words


@pytest.mark.parametrize("seed", range(4))
def test_a_hand_that_slips_again_and_again_is_no_menu_that_lies(bench: Benches, seed: int) -> None:
    stand_in = bench(seed)
    plan = replace(plan_for(stand_in), by_hand=True)
    hands, journal = Clumsy(stand_in, 1, 3), MemoryJournal()
    result = Runner(stand_in.bench(by_link=False), journal, hands).run(white_balance(plan))
    assert not any("also turned alone" in note for note in journal.notes.values()), journal.notes
    assert true_worst(stand_in) < 1.2
    left = stand_in.screen.settings()
    assert {control.role: control.value for control in result.state.controls} == {
        r: left[r.key] for r in TWO_POINT
    }


def test_a_move_can_be_watched_while_it_is_made(bench: Benches) -> None:
    stand_in = bench(4)
    plan = replace(plan_for(stand_in), by_hand=True)
    hands, journal = Watcher(stand_in, lambda told: told[-1].there and told[-1].percent == 30.0), MemoryJournal()
    hands.runner = Runner(stand_in.bench(by_link=False), journal, hands, hands.hear)
    result = hands.runner.run(white_balance(plan))
    first = hands.told[0]
    assert first.percent == plan.bright
    wanted = {change.name: change.by for change in first.move.changes}
    # Before anything is turned all is left to do, as far as a screen that is not known yet can tell.
    assert {each.name: each.steps for each in first.left} == pytest.approx(
        {each.name: wanted[each.name] for each in first.left}, abs=1.2
    )
    assert hands.told[-1].there
    assert len(hands.told) < 200
    assert {seen.percent for seen in hands.told} == {plan.bright, plan.dark}
    assert result.state.trips[0].move == first.move
    assert result.state.trips[0].surprise == ""
    assert true_worst(stand_in) < 1.0
    # The glances are in the record, and it is understood from there again.
    again, _ = replay(white_balance(plan), journal.recorded())
    assert again is not None
    assert again.words == result.words


def test_what_was_watched_and_did_not_move_is_asked_for_and_never_noted(bench: Benches) -> None:
    class Gains(Watcher):
        """Watches the gains and turns them alone; the biases wait until they are asked for again."""

        asked: ClassVar[list[Move]] = []

        def turn(self, move: Move) -> type[Interrupt] | None:
            self.asked.append(move)
            return super().turn(move)

        def hear(self, event: object) -> None:
            if self.move is not None:
                gains = tuple(change for change in self.move.changes if change.role in GAINS)
                whole, self.move = self.move, replace(self.move, changes=gains)
                super().hear(event)
                self.move = whole

    stand_in = bench(4)
    plan = replace(plan_for(stand_in), by_hand=True)
    hands, journal = Gains(stand_in, lambda told: len(told) > 40), MemoryJournal()
    hands.runner = Runner(stand_in.bench(by_link=False), journal, hands, hands.hear)
    result = hands.runner.run(white_balance(plan))
    first = hands.asked[0]
    biases = {change.name for change in first.changes if change.role not in GAINS}
    assert biases
    # Asked once more, and in the record only after that.
    assert biases <= {change.name for change in hands.asked[1].changes}
    said = [note for note in journal.notes.values() if "not seen to move" in note]
    assert len(said) == 1
    assert all(name in said[0] for name in biases)
    assert result.state.trips[0].move.changes == first.changes
    assert true_worst(stand_in) < 1.2
    left = stand_in.screen.settings()
    assert {c.role: c.value for c in result.state.controls} == {r: left[r.key] for r in TWO_POINT}
    again, _ = replay(white_balance(plan), journal.recorded())
    assert again is not None
    assert again.words == result.words


def test_a_wish_to_watch_where_nothing_is_turned_reads_again(bench: Benches) -> None:
    for kind in (Watch, Done):
        stand_in = bench(4)
        plan, runner = plan_for(stand_in), Runner(stand_in.bench(), MemoryJournal(), NobodyThere())
        runner.wish(kind)
        runner.run(white_balance(plan))
        assert true_worst(stand_in) < 1.0


@pytest.mark.parametrize("number", [603])
def test_the_shadows_do_not_pay_for_the_dark_level(number: int) -> None:
    # Screens of the zoo whose biases act on light: right at 30 %, they leave 10 % far off.
    left = []
    for watched in (False, True):
        scenario = zoo_screen(number)
        stand_in = build_bench(scenario, number)
        stand_in.screen.quieten()
        target = target_named(scenario.visit.target)
        found = stand_in.true_de2000((10.0,), target, stand_in.screen.settings())[0]
        plan = replace(plan_for(stand_in), target=target, watched=(10.0, found) if watched else None)
        journal = MemoryJournal()
        result = Runner(stand_in.bench(), journal, NobodyThere()).run(white_balance(plan))
        settings = stand_in.screen.settings()
        left.append(max(stand_in.true_de2000((80.0, 30.0, 10.0), target, settings)))
        assert {c.role.key: c.value for c in result.state.controls}.items() <= settings.items()
        assert replay(white_balance(plan), journal.recorded())[0].words == result.words  # type: ignore[union-attr]
    assert left[0] > 1.5
    assert left[1] < 0.8 * left[0]
    assert "met" not in result.words


class OddLink(StandInLink):
    """A menu in which one control is not what its name says."""

    def __init__(self, stand_in: StandInBench, kind: str) -> None:
        super().__init__(stand_in.screen, HandPart(trip_seconds=0.6, step_seconds=0.0), stand_in.clock)
        self._kind, self._found = kind, stand_in.screen.settings()

    def turn(self, settings: Mapping[str, int]) -> None:
        turned = dict(settings)
        by = {role: value - self._found[role] for role, value in settings.items()}
        if self._kind == "backwards" and Role.GAIN_B.key in turned:
            blue = Role.GAIN_B.key
            turned[blue] = self._found[blue] - by[blue]
        elif self._kind == "dead":
            turned.pop(Role.GAIN_G.key, None)
        elif self._kind == "swapped":
            red, blue = Role.GAIN_R.key, Role.GAIN_B.key
            swap = {red: blue, blue: red}
            turned = {role: value for role, value in turned.items() if role not in swap}
            turned |= {swap[role]: self._found[swap[role]] + by[role] for role in swap if role in by}
        super().turn(turned)


@pytest.mark.parametrize(
    ("kind", "words"),
    [
        ("backwards", "works backwards"),
        ("dead", "does nothing, also turned alone"),
        ("swapped", "does the work of"),
    ],
)
def test_a_control_that_is_not_what_its_name_says_is_recognised_by_link(
    bench: Benches, kind: str, words: str
) -> None:
    said, right = 0, 0
    for seed in range(3):
        stand_in = bench(seed)
        plan = plan_for(stand_in)
        ports = Bench(stand_in.meter, stand_in.source, OddLink(stand_in, kind), stand_in.clock)
        journal = MemoryJournal()
        result = Runner(ports, journal, NobodyThere()).run(white_balance(plan))
        said += any(words in note for note in journal.notes.values())
        right += true_worst(stand_in) < 1.5
        again, _ = replay(white_balance(plan), journal.recorded())
        assert again is not None
        assert again.words == result.words
    assert said >= 2
    assert right >= 2


@pytest.mark.parametrize("wanted", [90.0, 130.0])
def test_light_is_brought_to_what_is_wanted_in_the_end(bench: Benches, wanted: float) -> None:
    stand_in = bench(2)
    stand_in.screen.quieten()
    part = next(c for c in stand_in.screen.controls() if c.role == Role.LIGHT_OUTPUT.key)
    control = control_of(part).state(stand_in.screen.settings()[part.role])
    plan = replace(plan_for(stand_in), light=LightStep(control, wanted))
    journal = MemoryJournal()
    result = Runner(stand_in.bench(), journal, NobodyThere()).run(white_balance(plan))
    light = float(stand_in.screen.light_of_signal(np.ones(3))[1])
    at_end = stand_in.screen.settings()[part.role] in (control.lowest, control.highest)
    assert abs(light / wanted - 1.0) < 0.02 or at_end
    # The last word is of readings after that turn.
    assert result.state.xyz[0, 1] == pytest.approx(light, rel=0.01)
    assert any("White balance has changed the light" in note for note in journal.notes.values())
    again, _ = replay(white_balance(plan), journal.recorded())
    assert again is not None
    assert again.words == result.words


def without(role: str, *, seed: int) -> StandInBench:
    """The demo with a control that does nothing."""
    demo = load_scenario("demo")
    path = demo.screen.path.model_copy(update={"dead": (role,)})
    return build_bench(demo.model_copy(update={"screen": demo.screen.model_copy(update={"path": path})}), seed)


_SAID_TWICE = "was asked for twice, and light did not follow"


@pytest.mark.parametrize("role", ["gain-r", "gain-g", "gain-b"])
def test_by_hand_a_control_that_never_moved_light_is_said_and_left_alone_once_it_was_asked_for_twice(
    role: str,
) -> None:
    stand_in = without(role, seed=3)
    (control,) = (each for each in stand_in.screen.controls() if each.role == role)
    plan = replace(plan_for(stand_in), by_hand=True)
    hands, journal = Clumsy(stand_in), MemoryJournal()
    Runner(stand_in.bench(by_link=False), journal, hands).run(white_balance(plan))
    ((at, said),) = ((seq, note) for seq, note in journal.notes.items() if _SAID_TWICE in note)
    assert said.startswith(f"{control.name} {_SAID_TWICE}: it does nothing here, or it was not turned.")
    turns = [(seq, made.move) for seq, made in journal.results.items() if isinstance(made, Turned)]
    asked = [seq for seq, move in turns if any(change.role.key == role for change in move.changes)]
    assert len(asked) >= 2
    assert max(asked) < at


@pytest.mark.parametrize("seed", range(3))
def test_a_control_that_was_forgotten_once_is_not_said_to_do_nothing(bench: Benches, seed: int) -> None:
    stand_in = bench(seed)
    plan = replace(plan_for(stand_in), by_hand=True)

    class Forgets(Clumsy):
        def turn(self, move: Move) -> type[Interrupt] | None:
            self.trips.append(move)
            left = max(move.changes, key=lambda change: abs(change.by)).role if len(self.trips) == 1 else None
            stand_in.screen.turn({c.role.key: c.to_value for c in move.changes if c.role != left})
            return None

    journal = MemoryJournal()
    Runner(stand_in.bench(by_link=False), journal, Forgets(stand_in)).run(white_balance(plan))
    assert any("was not turned" in note for note in journal.notes.values())
    assert not any(_SAID_TWICE in note for note in journal.notes.values())


@pytest.mark.parametrize(
    ("black", "words"),
    [
        (
            0.30,
            "Contrast fell from 1\N{NO-BREAK SPACE}000 : 1 to 333 : 1, "
            "by biases that lift black and gains that take light.",
        ),
        # A fifth less contrast, and black that has not come up by what is seen, are not worth a word.
        (0.12, ""),
        (0.0, ""),
    ],
)
def test_contrast_that_the_biases_have_cost_is_said(bench: Benches, black: float, words: str) -> None:
    session = WhiteSession.begin(replace(plan_for(bench(0)), white=100.0, black=0.1))
    xyz = TARGET.grey([100.0, 80.0, 30.0], 100.0)
    session.seen = Seen(xyz, xyz * 0.001)
    session.mover = replace(session.mover, black=black)
    # Biases that stand as found cost nothing, whatever black was read to be.
    assert contrast_words(session) == ""
    session.controls = moved(session.controls, [0, 0, 0, 5, 5, 5])
    assert contrast_words(session) == words.replace(" : ", "\N{NO-BREAK SPACE}:\N{NO-BREAK SPACE}")
