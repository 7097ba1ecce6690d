"""Levels by hand: several controls a walk, a hand that turns freely, and a meter that follows it."""

import itertools
from collections.abc import Callable, Iterator
from dataclasses import replace

import pytest
from benchmarks.levels import found_anywhere
from tests.procedures.test_levels import plan_of
from tests.procedures.test_stood_elsewhere import Looks, LooksWhenTold, noted_wrong

from aequitone.advice.by_hand.standing import Standing
from aequitone.advice.moves import Move
from aequitone.advice.roles import Role
from aequitone.procedures.journal import MemoryJournal, Turned
from aequitone.procedures.levels.levels import levels
from aequitone.procedures.levels.session import Glance, LevelsState
from aequitone.procedures.replay import replay
from aequitone.procedures.runner import Event, NobodyThere, Runner, StepBegun, StepDone
from aequitone.procedures.steps import Done, Interrupt, Progress, PutBack, ReadAgain, StopHere, Watch
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import load_scenario

Answer = type[Interrupt] | Standing | None


class Hand(NobodyThere):
    """Turns what is asked; `freely` says where a control of a move is left instead."""

    def __init__(self, bench: StandInBench, freely: Callable[[Move], dict[Role, int]] = lambda _: {}) -> None:
        self.bench, self.freely = bench, freely
        self.moves: list[Move] = []

    def turn(self, move: Move) -> Answer:
        self.moves.append(move)
        told = {change.role: change.to_value for change in move.changes}
        elsewhere = self.freely(move)
        self.bench.screen.turn({role.key: value for role, value in (told | elsewhere).items()})
        return Standing(told | elsewhere) if elsewhere else None


def by_hand(
    name: str, seed: int, hand: Callable[[StandInBench], Hand]
) -> tuple[LevelsState, Hand, MemoryJournal, StandInBench]:
    """Levels with a hand, from where a stranger left them; its record says the same again."""
    bench = build_bench(load_scenario(name), seed)
    found_anywhere(bench, seed)
    plan = replace(plan_of(bench), by_link=False)
    person, journal = hand(bench), MemoryJournal()
    runner = Runner(bench.bench(by_link=False), journal, person, getattr(person, "hear", lambda _: None))
    person.runner = runner  # type: ignore[attr-defined]
    state = runner.run(levels(plan))
    again, _ = replay(levels(plan), journal.recorded())
    assert again is not None
    assert [each.control for each in again.sweeps] == [each.control for each in state.sweeps]
    return state, person, journal, bench


def test_a_walk_takes_along_what_can_be_told_apart() -> None:
    _, person, _, _ = by_hand("wide-lcd", 2, Hand)
    first = {change.role for change in person.moves[0].changes}
    assert first == {Role.LIGHT_OUTPUT, Role.BLACK_LEVEL, Role.COLOUR}
    # White tells of contrast only while light output stands, and tint needs colour about right.
    swept = [move for move in person.moves if any(c.role is Role.CONTRAST for c in move.changes)]
    assert len(swept[0].changes) > 1
    assert Role.LIGHT_OUTPUT not in {change.role for change in swept[0].changes}
    assert len(person.moves) <= 8


@pytest.mark.parametrize("by", [-3, 4])
def test_a_hand_that_turns_freely_and_says_so_ends_where_a_right_hand_ends(by: int) -> None:
    """Contrast and black's level are left elsewhere at their first turn, and read there."""
    for role in (Role.CONTRAST, Role.BLACK_LEVEL):
        left: list[int] = []

        def freely(move: Move, role: Role = role, left: list[int] = left) -> dict[Role, int]:
            mine = [change for change in move.changes if change.role is role]
            if left or not mine:
                return {}
            left.append(mine[0].to_value + by)
            return {role: left[0]}

        right, person, _, _ = by_hand("demo", 4, Hand)
        state, loose, journal, bench = by_hand("demo", 4, lambda bench, freely=freely: Hand(bench, freely))
        swept = next(each for each in state.sweeps if each.control.role is role)
        assert left[0] in [position.setting for position in swept.positions]
        # Nobody has to walk once more for it.
        assert len(loose.moves) <= len(person.moves) + 1
        made = [kept.move for kept in journal.results.values() if isinstance(kept, Turned)]
        assert left[0] in [change.to_value for move in made for change in move.changes if change.role is role]
        stands = {each.control.role: each.control.value for each in state.sweeps}
        assert bench.screen.settings()[role.key] == stands[role]
        aimed = {each.control.role: each.control.value for each in right.sweeps}
        assert abs(stands[role] - aimed[role]) <= 1


class Watcher(Hand):
    """Watches the first move, and says that all is turned once it was looked at; `lazy`: without turning."""

    def __init__(self, bench: StandInBench, *, lazy: bool = False) -> None:
        super().__init__(bench)
        self.lazy, self.watched, self.runner = lazy, False, None
        self.glances: list[Glance] = []

    def turn(self, move: Move) -> Answer:
        if not self.watched:
            self.watched = True
            return Watch
        return super().turn(move)

    def hear(self, event: Event) -> None:
        match event:
            case StepDone(step=Progress(value=LevelsState(glance=Glance() as glance))) if not glance.still:
                if not self.glances and not self.lazy:
                    self.bench.screen.turn({c.role.key: c.to_value for c in glance.move.changes})
                self.glances.append(glance)
                if len(self.glances) > 2 and self.runner is not None:
                    self.runner.wish(Done)


def test_a_move_that_is_watched_is_followed_and_noted() -> None:
    state, person, journal, bench = by_hand("demo", 4, Watcher)
    assert isinstance(person, Watcher)
    first, *_, last = person.glances
    assert first.patch == "100 % white"
    assert abs(last.light / last.before - 1.0) > 0.05
    assert last.wanted == state.wanted
    # The move was made while it was watched: nobody was asked for it again.
    made = [kept.move for kept in journal.results.values() if isinstance(kept, Turned)]
    assert made[0].changes == first.move.changes
    assert person.moves[0].changes != first.move.changes
    assert not [note for note in journal.notes.values() if "not seen to move" in note]
    stands = {each.control.role.key: each.control.value for each in state.sweeps}
    assert all(bench.screen.settings()[key] == value for key, value in stands.items())


def test_what_was_watched_and_did_not_move_is_asked_for_once_more() -> None:
    _, person, journal, _ = by_hand("demo", 4, lambda bench: Watcher(bench, lazy=True))
    assert isinstance(person, Watcher)
    (said,) = [note for note in journal.notes.values() if "not seen to move" in note]
    assert "Panel light" in said
    assert person.moves[0].changes == person.glances[0].move.changes


class Wishing(Hand):
    """Slips once with black's level, and wishes for something at every move that is asked for again."""

    def __init__(self, bench: StandInBench, wish: type[Interrupt]) -> None:
        super().__init__(bench)
        self.wish, self.slipped, self.wished = wish, False, 0

    def turn(self, move: Move) -> Answer:
        again = bool(self.moves) and self.wished < 3 and self.slipped
        if again and len(move.changes) == 1 and move.changes[0].role is Role.BLACK_LEVEL:
            self.wished += 1
            return self.wish
        answer = super().turn(move)
        last = [change for change in move.changes if change.role is Role.CONTRAST]
        if last and not self.slipped and last[0].by < 0:
            self.slipped = True
            stands = self.bench.screen.settings()[Role.BLACK_LEVEL.key]
            self.bench.screen.turn({Role.BLACK_LEVEL.key: stands + 12})
        return answer


@pytest.mark.parametrize("wish", [PutBack, StopHere, ReadAgain])
def test_a_wish_at_a_move_that_mends_a_slip_does_not_end_the_pass(wish: type[Interrupt]) -> None:
    _, person, journal, bench = by_hand("demo", 4, lambda bench: Wishing(bench, wish))
    assert isinstance(person, Wishing)
    assert person.slipped
    assert [note for note in journal.notes.values() if "looks as if" in note]
    neutral = next(c for c in bench.screen.controls() if c.role == Role.BLACK_LEVEL.key)
    right = neutral.factory + bench.screen.unit.neutral[Role.BLACK_LEVEL.key]
    assert abs(bench.screen.settings()[Role.BLACK_LEVEL.key] - right) <= 1


@pytest.mark.parametrize("wish", [PutBack, StopHere, ReadAgain, Done])
def test_a_wish_at_any_step_never_ends_the_pass_with_a_fault(wish: type[Interrupt]) -> None:
    for at in range(3, 130, 21):
        bench = build_bench(load_scenario("wide-lcd"), 3)
        found_anywhere(bench, 3)
        plan, journal, runners = replace(plan_of(bench), by_link=False), MemoryJournal(), list[Runner]()
        steps = itertools.count(1)

        def hear(
            event: Event, at: int = at, steps: Iterator[int] = steps, runners: list[Runner] = runners
        ) -> None:
            if isinstance(event, StepBegun) and next(steps) == at:
                runners[0].wish(wish)

        runners.append(Runner(bench.bench(by_link=False), journal, Hand(bench), hear))
        state = runners[0].run(levels(plan))
        stands = bench.screen.settings()
        assert all(stands[each.control.role.key] == each.control.value for each in state.sweeps[-1:])
        again, _ = replay(levels(plan), journal.recorded())
        assert again is not None
        assert [each.control for each in again.sweeps] == [each.control for each in state.sweeps]


@pytest.mark.parametrize(
    ("name", "by"),
    [
        ("wide-lcd", -45),
        ("wide-lcd", 10),
        ("wide-lcd", 40),
        ("laser-projector", -36),
        ("laser-projector", 20),
        ("white-oled", -36),
        ("white-oled", 40),
    ],
)
def test_a_black_level_that_was_noted_wrong_does_not_bury_or_lift_black(name: str, by: int) -> None:
    bench = build_bench(load_scenario(name), 3)
    bench.screen.quieten()
    control = next(each for each in bench.screen.controls() if each.role == Role.BLACK_LEVEL.key)
    right = control.factory + bench.screen.unit.neutral[control.role] * control.step
    plan = replace(plan_of(bench), by_link=False)
    plan = replace(plan, controls=noted_wrong(plan.controls, by, Role.BLACK_LEVEL))
    person, journal = LooksWhenTold(bench), MemoryJournal()
    state = Runner(bench.bench(by_link=False), journal, person, person.hear).run(levels(plan))
    assert abs(bench.screen.settings()[Role.BLACK_LEVEL.key] - right) <= 2
    said = [note for note in journal.notes.values() if "noted wrong" in note or "as found, so what" in note]
    assert len(said) == 1
    again, _ = replay(levels(plan), journal.recorded())
    assert again is not None
    assert [each.control for each in again.sweeps] == [each.control for each in state.sweeps]


def test_a_black_level_is_where_the_person_says_though_it_was_noted_elsewhere() -> None:
    bench = build_bench(load_scenario("white-oled"), 3)
    bench.screen.quieten()
    control = next(each for each in bench.screen.controls() if each.role == Role.BLACK_LEVEL.key)
    right = control.factory + bench.screen.unit.neutral[control.role] * control.step
    plan = replace(plan_of(bench), by_link=False)
    plan = replace(plan, controls=noted_wrong(plan.controls, -45, Role.BLACK_LEVEL))
    person, journal = Looks(bench), MemoryJournal()
    Runner(bench.bench(by_link=False), journal, person).run(levels(plan))
    # Dark greys read there as they did as found: it stands where it stood, and was noted wrong.
    assert person.said >= 1
    assert abs(bench.screen.settings()[Role.BLACK_LEVEL.key] - right) <= 2
