"""By hand, the last look at levels: a last turn that slipped is told from what is read, and asked for again."""

from dataclasses import replace

import pytest
from benchmarks.levels import found_anywhere
from tests.procedures.test_levels import plan_of

from aequitone.advice.moves import Move
from aequitone.advice.roles import Role
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.levels.levels import levels
from aequitone.procedures.levels.session import LevelsState
from aequitone.procedures.replay import replay
from aequitone.procedures.runner import NobodyThere, Runner
from aequitone.reference import target_named
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import load_scenario


class Person(NobodyThere):
    """Turns what is asked; at a certain turn of one control it ends up some steps beside."""

    def __init__(self, bench: StandInBench, role: Role, at: int, by: int, beside: Role | None = None) -> None:
        self.bench, self.role, self.at, self.by = bench, role, at, by
        self.slips = beside or role
        """The control that goes astray then: another one, where a hand is a line too low."""
        self.turns = 0

    def turn(self, move: Move) -> None:
        told = {change.role.key: change.to_value for change in move.changes}
        if self.role.key in told:
            self.turns += 1
            if self.turns == self.at:
                key = self.slips.key
                control = next(each for each in self.bench.screen.controls() if each.role == key)
                at = told.get(key, self.bench.screen.settings()[key])
                told[key] = min(max(at + self.by, control.lowest), control.highest)
        self.bench.link.turn(told)


def set_by_hand(
    name: str, seed: int, role: Role, at: int = 0, by: int = 0, beside: Role | None = None
) -> tuple[LevelsState, Person, list[str], dict[str, int]]:
    """Levels, how the person turned, what was said, and where everything stands."""
    bench = build_bench(load_scenario(name), seed)
    bench.screen.quieten()
    found_anywhere(bench, seed)
    plan = replace(plan_of(bench), by_link=False, watched=(10.0, 0.5))
    person, journal = Person(bench, role, at, by, beside), MemoryJournal()
    state = Runner(bench.bench(by_link=False), journal, person).run(levels(plan))
    again = replay(levels(plan), journal.recorded())[0]
    assert again is not None
    assert [each.control for each in again.sweeps] == [each.control for each in state.sweeps]
    return state, person, list(journal.notes.values()), bench.screen.settings()


@pytest.mark.parametrize(("role", "by"), [(Role.BLACK_LEVEL, 14), (Role.CONTRAST, -12), (Role.CONTRAST, 14)])
@pytest.mark.parametrize("name", ["demo", "rgb-oled", "quantum-lcd"])
def test_a_last_turn_that_slipped_is_asked_for_again(name: str, role: Role, by: int) -> None:
    _, person, notes, right = set_by_hand(name, 3, role)
    assert not [note for note in notes if "should stand at" in note]
    last = person.turns
    assert last
    slipped, person, notes, left = set_by_hand(name, 3, role, last, by)
    if role is Role.BLACK_LEVEL:
        # Contrast is read where it is left, so that its last turn may be made up for by the sweep itself.
        assert person.turns > last
        assert [note for note in notes if "looks as if" in note]
    stands = {each.control.role.key: each.control.value for each in slipped.sweeps}
    assert left[role.key] == stands[role.key]
    assert abs(left[role.key] - right[role.key]) <= 1


@pytest.mark.parametrize("name", ["demo", "wide-lcd", "quantum-lcd"])
def test_a_black_level_that_was_turned_by_mistake_is_seen_in_the_shadows(name: str) -> None:
    _, person, _, right = set_by_hand(name, 3, Role.CONTRAST)
    # With the last turn of contrast the line below it goes along: black's level, far too low.
    _, _, notes, left = set_by_hand(name, 3, Role.CONTRAST, person.turns, -30, Role.BLACK_LEVEL)
    # The greys that are read after contrast come upon it, or the last look.
    assert [note for note in notes if "stands lower than" in note or "Dark greys read as if" in note]
    assert abs(left["black-level"] - right["black-level"]) <= 1


def test_nothing_is_said_where_nobody_slipped() -> None:
    # On a tube contrast sets the light, and black does not go along.
    for name in ("demo", "wide-lcd", "white-oled", "lamp-projector", "laser-projector", "family-tube"):
        for seed in (5, 6):
            _, _, notes, _ = set_by_hand(name, seed, Role.CONTRAST)
            said = [note for note in notes if "should stand at" in note or "stands lower than" in note]
            assert not said, (name, said)


def test_shadows_that_may_have_been_as_dark_before_accuse_nobody() -> None:
    """A tube whose dark greys have half the light that BT.1886 asks for, wherever contrast stands."""
    bench = build_bench(load_scenario("studio-tube"), 25)
    bench.screen.quieten()
    target = target_named("rec709-bt1886")
    plan = replace(plan_of(bench), by_link=False, watched=(10.0, 2.0), target=target, light=65.0)
    journal = MemoryJournal()
    Runner(bench.bench(by_link=False), journal, Person(bench, Role.CONTRAST, 0, 0)).run(levels(plan))
    assert bench.true_errors((10.0,), target, bench.screen.settings()).de2000[0] > 2.0 + 1.5
    assert not [note for note in journal.notes.values() if "stands lower than" in note]
