"""A preset that was never chosen, by hand: suspected by what it reads like, and asked for once more."""

from collections.abc import Callable

import numpy as np
import pytest

from aequitone.advice.moves import ControlState, Move
from aequitone.advice.presets import Track, alike
from aequitone.advice.roles import Role
from aequitone.procedures.journal import MemoryJournal, Turned
from aequitone.procedures.preparation.presets import ChoicePlan, ChoiceState, choose, recovered
from aequitone.procedures.preparation.watching import PresetGlance
from aequitone.procedures.runner import Event, NobodyThere, Runner, StepDone
from aequitone.procedures.steps import Done, Interrupt, Progress, Watch
from aequitone.reference import target_named
from aequitone.signal import SignalFormat
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import load_scenario

NAMES = ("Cold", "Neutral", "Soft")


class Person(NobodyThere):
    """Chooses what is asked, but not at the trips that are slips."""

    def __init__(self, bench: StandInBench, slips: dict[int, int | None]) -> None:
        self.bench, self.slips = bench, slips
        self.asked: list[int] = []

    def turn(self, move: Move) -> None:
        (change,) = move.changes
        self.asked.append(change.to_value)
        to = self.slips.get(len(self.asked), change.to_value)
        if to is not None:
            self.bench.link.turn({change.role.key: to})


def chosen(
    bench: StandInBench, slips: dict[int, int | None]
) -> tuple[ChoiceState, list[int], list[str], ChoiceState]:
    """The state, the settings asked for, what was said, and the state as the record has it."""
    control = ControlState(Role.TEMPERATURE, "Colour tone", 0, 2, 1, 1)
    plan = ChoicePlan(target_named("rec709-2.2"), SignalFormat(10), control, (0, 1, 2), NAMES, by_hand=True)
    journal, person = MemoryJournal(), Person(bench, slips)
    state = Runner(bench.bench(by_link=False), journal, person).run(choose(plan))
    told = recovered(plan, list(journal.results.values()), state.words)
    assert told is not None
    return state, person.asked, list(journal.notes.values()), told


@pytest.fixture
def right(bench: Callable[[int], StandInBench]) -> ChoiceState:
    """The choice of a person who makes no mistake."""
    return chosen(bench(4), {})[0]


def test_who_makes_no_mistake_is_asked_nothing_twice(bench: Callable[[int], StandInBench]) -> None:
    for seed in range(4, 14):
        state, asked, notes, told = chosen(bench(seed), {})
        assert asked[:2] == [0, 2]
        assert len(asked) <= 3
        assert not [note for note in notes if "may not have been chosen" in note]
        assert told.order[0].score == pytest.approx(state.order[0].score)


@pytest.mark.parametrize("slip", [1, 2])
def test_one_that_was_never_chosen_is_asked_for_again(
    bench: Callable[[int], StandInBench], right: ChoiceState, slip: int
) -> None:
    stand_ins = bench(4)
    state, asked, notes, told = chosen(stand_ins, {slip: None})
    wanted = (0, 2)[slip - 1]
    assert asked[slip - 1 : slip + 1] == [wanted, wanted]
    before = ("Neutral", "Cold")[slip - 1]
    assert f"{NAMES[wanted]} reads like {before}: it may not have been chosen. Look at the menu." in notes
    assert [each.track.name for each in state.order] == [each.track.name for each in right.order]
    assert stand_ins.screen.settings()["temperature"] == state.control.value == right.control.value
    # Not what was read at first.
    assert [each.score for each in told.order] == pytest.approx([each.score for each in state.order])


def test_the_best_that_was_not_gone_to_is_asked_for_again(
    bench: Callable[[int], StandInBench], right: ChoiceState
) -> None:
    # Found on the best: it is gone back to at the end.
    stand_ins, best = bench(4), right.control.value
    others = [value for value in (0, 1, 2) if value != best]
    control = ControlState(Role.TEMPERATURE, "Colour tone", 0, 2, 1, best)
    stand_ins.screen.turn({"temperature": best})
    plan = ChoicePlan(target_named("rec709-2.2"), SignalFormat(10), control, (0, 1, 2), NAMES, by_hand=True)
    journal, person = MemoryJournal(), Person(stand_ins, {3: None})
    state = Runner(stand_ins.bench(by_link=False), journal, person).run(choose(plan))
    assert person.asked == [*others, best, best]
    said = [note for note in journal.notes.values() if "may not have been chosen" in note]
    assert said == [
        f"This does not read like {NAMES[best]}, but like {NAMES[others[-1]]}: "
        "it may not have been chosen. Look at the menu."
    ]
    assert stand_ins.screen.settings()["temperature"] == state.control.value == best


def test_two_settings_that_are_the_same_are_taken_as_such_after_one_more_trip(
    bench: Callable[[int], StandInBench],
) -> None:
    # Whoever cannot find it in the menu leaves it both times.
    state, asked, notes, _ = chosen(bench(4), {1: None, 2: None})
    assert asked[:3] == [0, 0, 2]
    assert sum("may not have been chosen" in note for note in notes) == 1
    assert len(state.order) == 3


def track(xyz: np.ndarray, sd: float = 0.01, primaries: np.ndarray | None = None) -> Track:
    return Track(0, "one", np.array([100.0, 60.0]), xyz, np.full_like(xyz, sd), primaries)


def test_alike_is_within_noise_on_every_level_and_in_every_colour() -> None:
    xyz = np.array([[95.0, 100.0, 109.0], [31.0, 33.0, 36.0]])
    reds = np.array([[41.0, 21.0, 2.0], [36.0, 72.0, 12.0], [18.0, 7.0, 95.0]])
    assert alike(track(xyz), track(xyz * 1.003))
    assert not alike(track(xyz), track(xyz * 1.02))
    # Where the screen moves the light by itself, colour alone tells.
    assert alike(track(xyz), track(xyz * 1.02), light=False)
    assert not alike(track(xyz), track(xyz * [1.02, 1.0, 0.98]), light=False)
    # A level that only one of them has tells nothing.
    one = Track(0, "one", np.array([40.0]), xyz[:1], np.full((1, 3), 0.01))
    assert not alike(track(xyz), one)
    assert alike(track(xyz, primaries=reds), track(xyz, primaries=reds * 1.001))
    assert not alike(track(xyz, primaries=reds), track(xyz, primaries=reds[[1, 0, 2]]))


class Watcher(Person):
    """Watches the first choice, and says that it is made once it was looked at; `lazy`: without choosing."""

    def __init__(self, bench: StandInBench, *, lazy: bool) -> None:
        super().__init__(bench, {})
        self.lazy, self.watched, self.runner = lazy, False, None
        self.glances: list[PresetGlance] = []

    def turn(self, move: Move) -> type[Interrupt] | None:  # type: ignore[override]
        if not self.watched:
            self.watched = True
            return Watch
        super().turn(move)
        return None

    def hear(self, event: Event) -> None:
        if isinstance(event, StepDone) and isinstance(event.step, Progress):
            glance = event.step.value
            if isinstance(glance, PresetGlance):
                self.glances.append(glance)
                if len(self.glances) == 1 and not self.lazy:
                    super().turn(glance.move)
                if len(self.glances) > 2 and self.runner is not None:
                    self.runner.wish(Done)


def watched(bench: StandInBench, role: Role, *, lazy: bool) -> tuple[ChoiceState, Watcher, MemoryJournal]:
    part = next(each for each in bench.screen.controls() if each.role == role.key)
    found = bench.screen.settings()[role.key]
    control = ControlState(role, part.name, part.lowest, part.highest, part.step, found)
    values = tuple(range(part.lowest, part.highest + 1))
    names = tuple(f"Preset {value}" for value in values)
    colour, tone = role == Role.GAMUT, role == Role.GAMMA
    plan = ChoicePlan(
        target_named("rec709-2.2"),
        SignalFormat(10),
        control,
        values,
        names,
        colour=colour,
        tone=tone,
        by_hand=True,
    )
    journal, person = MemoryJournal(), Watcher(bench, lazy=lazy)
    runner = person.runner = Runner(bench.bench(by_link=False), journal, person, person.hear)
    state = runner.run(choose(plan))
    told = recovered(plan, list(journal.results.values()), state.words)
    assert told is not None
    assert told.words == state.words
    return state, person, journal


def found_wrong(role: Role) -> StandInBench:
    """A screen whose preset is not right as found, so that others are tried."""
    bench = build_bench(load_scenario("wide-lcd"), 5)
    bench.screen.quieten()
    part = next(each for each in bench.screen.controls() if each.role == role.key)
    bench.screen.turn({role.key: part.highest})
    return bench


@pytest.mark.parametrize("role", [Role.TEMPERATURE, Role.GAMMA, Role.GAMUT])
def test_a_choice_that_is_watched_is_followed_and_not_asked_for_again(role: Role) -> None:
    _, person, journal = watched(found_wrong(role), role, lazy=False)
    first, *_, last = person.glances
    assert first.is_still
    assert not last.is_still
    made = [kept.move for kept in journal.results.values() if isinstance(kept, Turned)]
    assert made[0].changes == first.move.changes
    # Once, when it was chosen under the eyes of the meter.
    assert person.asked.count(first.move.changes[0].to_value) <= 2
    assert not [note for note in journal.notes.values() if "not seen to change" in note]


def test_a_choice_that_was_watched_and_not_made_is_asked_for_once_more() -> None:
    state, person, journal = watched(found_wrong(Role.TEMPERATURE), Role.TEMPERATURE, lazy=True)
    (said,) = [note for note in journal.notes.values() if "not seen to change" in note]
    assert state.control.name in said
    assert person.glances
    assert all(glance.is_still for glance in person.glances)
    assert person.asked[0] == person.glances[0].move.changes[0].to_value
    assert state.order
