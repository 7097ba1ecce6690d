"""The procedure of levels on the stand-ins: against the truth, with a person's wishes, and from its record."""

from dataclasses import replace

import numpy as np
import pytest
from benchmarks.levels import found_anywhere, light_error, run_one

from aequitone.advice.levels import LightSweep, Position
from aequitone.advice.moves import ControlState, Move
from aequitone.advice.roles import Role
from aequitone.instruments import InstrumentError
from aequitone.logbook.settings.menus import control_of
from aequitone.procedures.journal import MemoryJournal, Turned
from aequitone.procedures.levels.believed import Believed
from aequitone.procedures.levels.levels import levels, plan_white, reserve_of
from aequitone.procedures.levels.session import LEVEL_ROLES, LevelsPlan, LevelsState, best_window
from aequitone.procedures.levels.sweep import carry_out
from aequitone.procedures.levels.trips import Trips
from aequitone.procedures.replay import replay
from aequitone.procedures.runner import Event, NobodyThere, Remedy, Runner, StepBegun
from aequitone.procedures.steps import Interrupt, PutBack, Read, Reading, Show, StopHere, Turn
from aequitone.reference import target_named
from aequitone.signal import SignalFormat
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import load_scenario
from aequitone.standins.zoo import zoo_screen


@pytest.mark.parametrize("name", ["demo", "lamp-projector", "studio-tube", "wide-lcd", "rgb-oled"])
def test_levels_are_right_by_the_truth(name: str) -> None:
    outcome = run_one(name, 1)
    assert abs(outcome.black) <= 1
    assert abs(outcome.contrast) <= 2
    # Light is set once more where contrast has moved it by 2 %; White sets it to the last step.
    assert abs(outcome.light) <= 0.02
    assert all(by is None or abs(by) <= 1 for by in (outcome.colour, outcome.tint))
    # Controls that can be told apart share their walks to the menu.
    assert outcome.trips <= 8


def plan_of(bench: StandInBench, *, light: float = 100.0, windows: bool = False) -> LevelsPlan:
    now, part = bench.screen.settings(), bench.scenario
    controls = tuple(
        control_of(c).state(now[c.role])
        for c in bench.screen.controls()
        if c.role in [role.key for role in LEVEL_ROLES]
    )
    return LevelsPlan(target_named("rec709-2.2"), part.source.format, controls, light, windows)


def without_light(plan: LevelsPlan) -> LevelsPlan:
    """Black then makes its own trips."""
    return replace(plan, controls=tuple(c for c in plan.controls if c.role is not Role.LIGHT_OUTPUT))


def wishing(bench: StandInBench, plan: LevelsPlan, role: Role, wish: type[Interrupt], trip: int) -> LevelsState:
    """Run levels, with a wish before the turn number `trip` of a control."""
    turns = 0

    def hear(event: Event) -> None:
        nonlocal turns
        if isinstance(event, StepBegun) and isinstance(event.step, Turn):
            turns += event.step.move.changes[0].role == role
            if turns == trip:
                runner.wish(wish)

    runner = Runner(bench.bench(), MemoryJournal(), NobodyThere(), hear)
    return runner.run(levels(plan))


def test_put_back_leaves_the_control_where_it_was_found() -> None:
    bench = build_bench(load_scenario("demo"), 3)
    found_anywhere(bench, 3)
    found = bench.screen.settings()[Role.BLACK_LEVEL.key]
    state = wishing(bench, without_light(plan_of(bench)), Role.BLACK_LEVEL, PutBack, 2)
    black = next(s for s in state.sweeps if s.control.role == Role.BLACK_LEVEL)
    assert black.kept
    assert bench.screen.settings()[Role.BLACK_LEVEL.key] == found
    # The others are set all the same.
    assert any(s.control.role == Role.CONTRAST and s.finding for s in state.sweeps)


@pytest.mark.parametrize("wish", [PutBack, StopHere])
@pytest.mark.parametrize(
    ("name", "patch", "role"),
    [
        ("demo", "0 % black", Role.BLACK_LEVEL),
        ("studio-tube", "100 % white", Role.CONTRAST),
    ],
)
def test_a_control_that_is_refused_at_once_is_not_touched(
    name: str, patch: str, role: Role, wish: type[Interrupt]
) -> None:
    bench = build_bench(load_scenario(name), 3)
    found_anywhere(bench, 3)
    found = bench.screen.settings()
    wished = False

    def hear(event: Event) -> None:
        nonlocal wished
        if isinstance(event, StepBegun) and isinstance(event.step, Show) and event.step.patch.name == patch:
            if not wished:
                runner.wish(wish)
            wished = True

    runner = Runner(bench.bench(), MemoryJournal(), NobodyThere(), hear)
    state = runner.run(levels(plan_of(bench, light=80.0)))
    assert wished
    swept = next(s for s in state.sweeps if s.control.role == role)
    assert swept.positions == ()
    if wish is PutBack:
        assert bench.screen.settings()[role.key] == found[role.key]
        assert sum(s.control.role == role for s in state.sweeps) == 1


def looks_of(journal: MemoryJournal) -> list[list[str]]:
    """What was read before the first turn, and after each."""
    looks: list[list[str]] = [[]]
    for kept in journal.results.values():
        if isinstance(kept, Reading):
            looks[-1].append(kept.patch.name)
        elif isinstance(kept, Turned):
            looks.append([])
    return looks


def test_colour_and_tint_that_are_right_are_read_once_and_not_turned() -> None:
    bench = build_bench(load_scenario("wide-lcd"), 2)
    bench.screen.quieten()
    found, journal = bench.screen.settings(), MemoryJournal()
    state = Runner(bench.bench(), journal, NobodyThere()).run(levels(replace(plan_of(bench), by_link=True)))
    ended = {swept.control.role: swept for swept in state.sweeps}
    for role in (Role.COLOUR, Role.TINT):
        assert ended[role].finding is not None
        assert "is right at" in ended[role].finding.words  # type: ignore[union-attr]
        assert bench.screen.settings()[role.key] == found[role.key]
    first, *later = looks_of(journal)
    assert first.count("magenta 75 %") == 1
    assert not any("magenta 75 %" in look for look in later)


@pytest.mark.parametrize("by", [-14, 9])
def test_colour_that_was_right_beside_a_tint_that_was_not_is_looked_for_after_it(by: int) -> None:
    bench = build_bench(load_scenario("wide-lcd"), 2)
    bench.screen.quieten()
    right = bench.screen.settings()
    bench.screen.turn({Role.TINT.key: right[Role.TINT.key] + by})
    Runner(bench.bench(), MemoryJournal(), NobodyThere()).run(levels(replace(plan_of(bench), by_link=True)))
    left = bench.screen.settings()
    assert abs(left[Role.TINT.key] - right[Role.TINT.key]) <= 1
    assert abs(left[Role.COLOUR.key] - right[Role.COLOUR.key]) <= 1


def test_colour_that_was_stopped_after_one_look_is_left_whatever_tint_does() -> None:
    bench = build_bench(load_scenario("wide-lcd"), 2)
    bench.screen.quieten()
    right = bench.screen.settings()
    found = {Role.COLOUR.key: right[Role.COLOUR.key] - 14, Role.TINT.key: right[Role.TINT.key] + 9}
    bench.screen.turn(found)
    plan = replace(plan_of(bench), by_link=True)
    both = tuple(control for control in plan.controls if control.role in (Role.COLOUR, Role.TINT))
    state = wishing(bench, replace(plan, controls=both), Role.COLOUR, StopHere, 1)
    colour, tint = (
        next(s for s in reversed(state.sweeps) if s.control.role is r) for r in (Role.COLOUR, Role.TINT)
    )
    assert len(colour.positions) == 1
    assert len(tint.positions) > 1
    assert bench.screen.settings()[Role.COLOUR.key] == found[Role.COLOUR.key]
    assert bench.screen.settings()[Role.TINT.key] != found[Role.TINT.key]


def test_white_and_black_are_not_read_twice_before_the_first_turn_nor_after_the_last() -> None:
    bench = build_bench(load_scenario("demo"), 3)
    bench.screen.quieten()
    journal = MemoryJournal()
    state = Runner(bench.bench(), journal, NobodyThere()).run(levels(replace(plan_of(bench), by_link=True)))
    for look in (looks_of(journal)[0], looks_of(journal)[-1]):
        assert sorted(name.split(" %")[0] for name in look if name.startswith(("0 %", "100 %"))) == ["0", "100"]
    # What is told of both is what was read last.
    assert state.white is not None
    assert state.black is not None
    light = bench.screen.light_of_signal
    assert state.white[1] == pytest.approx(light(np.ones(3))[1], rel=0.01)
    assert state.black[1] == pytest.approx(light(np.zeros(3))[1], rel=0.1)


def test_stop_here_takes_what_is_known_by_then() -> None:
    bench = build_bench(load_scenario("demo"), 3)
    found_anywhere(bench, 3)
    state = wishing(bench, without_light(plan_of(bench)), Role.BLACK_LEVEL, StopHere, 1)
    black = next(s for s in state.sweeps if s.control.role == Role.BLACK_LEVEL)
    assert black.finding is not None
    assert len(black.positions) == 1
    assert bench.screen.settings()[Role.BLACK_LEVEL.key] == black.finding.setting


def test_an_interrupted_run_goes_on_from_its_record() -> None:
    whole = MemoryJournal()
    bench = build_bench(load_scenario("lamp-projector"), 2)
    found_anywhere(bench, 2)
    plan = replace(plan_of(bench, light=48.0), windows=True)
    value = Runner(bench.bench(), whole, NobodyThere()).run(levels(plan))
    again, progress = replay(levels(plan), whole.recorded())
    assert again is not None
    assert [s.control for s in again.sweeps] == [s.control for s in value.sweeps]
    half = dict(sorted(whole.recorded().items())[: len(whole.results) // 2])
    unfinished, progress = replay(levels(plan), half)
    assert unfinished is None
    assert isinstance(progress, LevelsState)
    assert progress.sweeps
    assert progress.sweeps[-1].finding is None or len(progress.sweeps) < len(value.sweeps)


def test_light_that_goes_along_with_contrast_is_told_as_it_stands() -> None:
    told = []
    for seed in range(4):
        bench = build_bench(load_scenario("quantum-lcd"), seed)
        found_anywhere(bench, seed)
        state = Runner(bench.bench(), MemoryJournal(), NobodyThere()).run(levels(plan_of(bench)))
        light = [swept for swept in state.sweeps if swept.control.role is Role.LIGHT_OUTPUT][-1]
        assert light.finding is not None
        assert light.control.value == light.finding.setting == bench.screen.settings()[Role.LIGHT_OUTPUT.key]
        gives = float(light.finding.words.partition("gives ")[2].split()[0])
        assert gives == pytest.approx(float(bench.screen.light_of_signal(np.ones(3))[1]), rel=0.025)
        told.append("turned along with contrast" in light.finding.words)
    assert any(told)


def test_windows_show_the_power_limit() -> None:
    bench = build_bench(load_scenario("plasma"), 0)
    state = Runner(bench.bench(), MemoryJournal(), NobodyThere()).run(levels(plan_of(bench, windows=True)))
    assert state.windows[0][1] > 1.5 * state.windows[-1][1]
    assert state.window is not None
    assert 0.1 <= state.window < 0.6
    assert state.contrast is not None


def test_the_largest_window_that_is_not_limited() -> None:
    assert best_window(((0.02, 100.0), (0.1, 99.5), (0.3, 80.0), (1.0, 30.0))) == 0.1
    assert best_window(((0.02, 100.0), (1.0, 99.0))) == 1.0


def test_the_reserve_is_what_the_weakest_channel_leaves() -> None:
    matrix = np.eye(3)
    wanted = np.array([1.0, 1.0, 1.0])
    # Twice too much blue: taking it down costs only blue's own share, here a third channel read as Z.
    assert reserve_of(matrix, np.array([100.0, 100.0, 200.0]), wanted) == 0.0
    # Too little red by a tenth: green and blue must come down to it.
    assert reserve_of(matrix, np.array([90.0, 100.0, 100.0]), wanted) == pytest.approx(1.0 / 9.0)
    assert reserve_of(None, np.array([90.0, 100.0, 100.0]), plan_white(target_named("rec709-2.2"))) == 0.0


def test_plans_that_cannot_be() -> None:
    bench = build_bench(load_scenario("demo"), 0)
    with pytest.raises(ValueError, match="above 0"):
        plan_of(bench, light=0.0)
    gain = next(control_of(c).state(50) for c in bench.screen.controls() if c.role == Role.GAIN_R.key)
    with pytest.raises(ValueError, match="not set with R gain"):
        LevelsPlan(target_named("rec709-2.2"), bench.scenario.source.format, (gain,), 100.0)


@pytest.mark.parametrize("number", [7, 41])
def test_black_that_was_moved_a_little_and_makes_the_shadows_worse_goes_back(number: int) -> None:
    # Tones on which the edge of black comes out beside where it is.
    scenario = zoo_screen(number)
    target, left = target_named(scenario.visit.target), {}
    for watch in (False, True):
        bench = build_bench(scenario, number)
        (found,) = bench.true_de2000((10.0,), target, bench.screen.settings())
        plan = replace(plan_of(bench), target=target, watched=(10.0, found) if watch else None)
        journal = MemoryJournal()
        state = Runner(bench.bench(), journal, NobodyThere()).run(levels(plan))
        (now,) = bench.true_de2000((10.0,), target, bench.screen.settings())
        left[watch] = now - found
        last = [each for each in state.sweeps if each.control.role == Role.BLACK_LEVEL][-1]
        assert bench.screen.settings()[Role.BLACK_LEVEL.key] == last.control.value
        assert any("it stays at" in note for note in journal.notes.values()) is watch
    assert left[False] > 0.35
    assert left[True] < 0.3


class Slipping:
    """A person who turns one trip of a control further than asked, and everything else as asked."""

    def __init__(self, bench: StandInBench, role: Role, trip: int, off: int) -> None:
        self.bench, self.role, self.trip, self.off, self.made = bench, role, trip, off, 0
        self.asked: list[str] = []

    def turn(self, move: Move) -> None:
        settings = {change.role.key: change.to_value for change in move.changes}
        if self.role.key in settings:
            self.made += 1
            self.asked.append(move.words)
            if self.made == self.trip:
                settings[self.role.key] += self.off
        self.bench.screen.turn(settings)

    def place(self, step: object) -> None: ...

    def trouble(self, error: InstrumentError) -> Remedy:
        raise error


@pytest.mark.parametrize("off", [8, -5, 0])
def test_a_slip_in_the_light_ends_where_a_right_hand_ends(off: int) -> None:
    scenario = load_scenario("wide-lcd")
    bench = build_bench(scenario, 1)
    found_anywhere(bench, 1)
    plan = plan_of(bench)
    hand, journal = Slipping(bench, Role.LIGHT_OUTPUT, 2, off), MemoryJournal()
    state = Runner(replace(bench.bench(), link=None), journal, hand).run(levels(plan))
    assert abs(light_error(bench, state.wanted, Role.LIGHT_OUTPUT)) <= 0.02
    stands = bench.screen.settings()
    assert all(stands[swept.control.role.key] == swept.control.value for swept in state.sweeps[-3:])
    assert replay(levels(plan), journal.results)[0].wanted == state.wanted


def test_a_position_that_the_others_contradict_is_turned_to_once_more() -> None:
    scenario = load_scenario("wide-lcd")
    bench = build_bench(scenario, 1)
    found_anywhere(bench, 1)
    plan = plan_of(bench)
    # Black's third position: asked for below the second, and turned far above it.
    hand, journal = Slipping(bench, Role.BLACK_LEVEL, 2, 25), MemoryJournal()
    state = Runner(replace(bench.bench(), link=None), journal, hand).run(levels(plan))
    said = [words for words in journal.notes.values() if "does not fit what was read before" in words]
    assert len(said) == 1
    assert "Brightness at" in said[0]
    neutral = next(c.factory for c in bench.screen.controls() if c.role == Role.BLACK_LEVEL.key)
    assert abs(bench.screen.settings()["black-level"] - neutral - bench.screen.unit.neutral["black-level"]) <= 1
    assert bench.screen.settings()["black-level"] == next(
        swept.control.value for swept in reversed(state.sweeps) if swept.control.role == Role.BLACK_LEVEL
    )


def test_a_screen_that_really_bends_at_one_setting_is_believed_at_the_second_reading() -> None:
    asked: list[int] = []

    def light(setting: int) -> float:
        return (40.0 + 2.0 * setting) * (0.5 if setting == 30 else 1.0)

    sweep = LightSweep(ControlState(Role.LIGHT_OUTPUT, "Light", 0, 100, 1, 60), 70.0)
    known = Believed(60, tuple(_position(setting, light(setting)) for setting in (60, 45, 20, 10, 30)))
    steps = carry_out(sweep, SignalFormat(), lambda swept: swept, Trips(together=False), known, by_hand=True)
    step = next(steps)
    for _ in range(60):
        result = None
        if isinstance(step, Turn):
            asked.append(step.move.changes[0].to_value)
            result = step.move
        if isinstance(step, Read):
            xyz = light(asked[-1] if asked else 60) * np.array([0.95, 1.0, 1.09])
            result = Reading(step.patch, step.purpose, *xyz, *(0.001 * xyz), 1, 1.0, 1.0, 0.0)
        try:
            step = steps.send(result)
        except StopIteration:
            break
    else:
        raise AssertionError(f"it goes on for ever: {asked}")
    assert len(asked) < 8


@pytest.mark.parametrize("name", ["studio-tube", "family-tube"])
@pytest.mark.parametrize("seed", [3, 7])
def test_where_contrast_sets_the_light_it_is_brought_there_from_what_greys_told(name: str, seed: int) -> None:
    bench = build_bench(load_scenario(name), seed)
    plan = replace(plan_of(bench, light=60.0), by_link=False)
    state = Runner(bench.bench(), MemoryJournal(), NobodyThere()).run(levels(plan))
    light = next(each for each in state.sweeps if each.finding is not None and "are wanted" in each.finding.words)
    assert light.control.role is Role.CONTRAST
    assert state.white is not None
    assert state.white[1] == pytest.approx(state.wanted, rel=0.03)
    # Where it stood and two turns: straight there, and one step to the nearest.
    assert len(light.positions) <= 3
    assert min(position.setting for position in light.positions) >= light.control.value - 4


def _position(setting: int, light: float) -> Position:
    xyz = np.array([[0.95, 1.0, 1.09]]) * light
    return Position(setting, xyz, 0.001 * xyz)
