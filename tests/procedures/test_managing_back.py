"""Going back with a colour management by hand: what was not turned back is seen, and asked for once more."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

import numpy as np
import pytest
from tests.procedures.test_managing import by_hand, unit

from aequitone.advice.by_hand.standing import Standing
from aequitone.advice.moves import Move
from aequitone.instruments.ports import Bench, ScreenLink
from aequitone.procedures.colour.manage_plan import Managed
from aequitone.procedures.colour.managing import manage_colours
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.replay import replay
from aequitone.procedures.runner import Event, NobodyThere, Runner, StepBegun
from aequitone.procedures.steps import PutBack, StopHere, Turn


@dataclass
class Forgetful:
    """Turns what is asked; on the way back it leaves the control that has the furthest to go, once.

    Or it turns another control with it, which it sets right when it is asked to look.
    """

    link: ScreenLink
    found: Mapping[str, int]
    forgets: bool
    beside: Mapping[str, int] = field(default_factory=dict)
    name: str = "hand"
    asked: list[dict[str, int]] = field(default_factory=list)
    left: str = ""
    is_back: bool = False
    """Whether it went back before."""

    def values(self) -> dict[str, int]:
        return self.link.values()

    def turn(self, settings: Mapping[str, int]) -> None:
        stands, told = self.link.values(), dict(settings)
        self.asked.append(dict(told))
        if self.forgets and not self.left and all(self.found[role] == to for role, to in told.items()):
            self.left = max(told, key=lambda role: abs(stands[role] - told[role]))
            del told[self.left]
        if self.beside and all(self.found[role] == to for role, to in told.items()):
            told |= {role: self.found[role] + (0 if self.is_back else by) for role, by in self.beside.items()}
            self.is_back = True
        self.link.turn(told)


def gone_back(
    *, forgets: bool = False, beside: Mapping[str, int] | None = None, noted: Mapping[str, int] | None = None
) -> tuple[Forgetful, Managed, list[str]]:
    """One trip that is put back by wish, and what was said; `noted`: by how much controls were noted wrong."""
    bench, ports, plan = unit()
    assert ports.link is not None
    off = noted or {}
    controls = tuple(replace(each, value=each.value + off.get(each.role.key, 0)) for each in plan.controls)
    plan = replace(by_hand(plan), controls=controls)
    hand = Forgetful(ports.link, ports.link.values(), forgets, beside or {})
    journal = MemoryJournal()

    def hear(event: Event) -> None:
        if isinstance(event, StepBegun) and isinstance(event.step, Turn):
            runner.wish(PutBack if len(hand.asked) == 0 else StopHere)

    runner = Runner(Bench(ports.meter, ports.source, hand, ports.clock), journal, NobodyThere(), hear)
    managed = runner.run(manage_colours(plan))
    again = replay(manage_colours(plan), journal.recorded())[0]
    assert again is not None
    assert again.words == managed.words
    stands = bench.screen.settings()
    assert all(stands[each.role.key] == each.value for each in managed.controls)
    return hand, managed, list(journal.notes.values())


def test_a_control_that_was_left_on_the_way_back_is_asked_for_again() -> None:
    hand, managed, notes = gone_back(forgets=True)
    assert hand.left
    colour = hand.left.split("-")[1]
    said = [note for note in notes if "as it did at these settings" in note or "as they did" in note]
    assert len(said) == 1 or any("looks as if" in note for note in notes)
    assert hand.left in hand.asked[-1]
    assert colour in " ".join(notes).lower()
    stands = hand.values()
    assert all(stands[control.role.key] == control.value for control in managed.controls)
    assert stands == hand.found


def test_who_goes_back_as_asked_is_asked_nothing_more() -> None:
    hand, managed, notes = gone_back(forgets=False)
    assert len(hand.asked) == 2
    assert not [note for note in notes if "as it did" in note or "as they did" in note]
    stands = hand.values()
    assert np.array_equal(
        [stands[control.role.key] for control in managed.controls],
        [hand.found[control.role.key] for control in managed.controls],
    )


def test_a_control_that_tints_white_on_the_way_back_is_seen() -> None:
    hand, _, notes = gone_back(beside={"gain-b": -8})
    assert any("White" in note and "every control stands as listed" in note for note in notes)
    assert len(hand.asked) == 3
    assert hand.values() == hand.found


def test_a_control_that_was_no_part_of_the_move_is_listed_with_its_colour() -> None:
    first, *_ = gone_back()
    turned = set(first.asked[0])
    # One that nobody was asked for, of a colour that is seen.
    aside = next(role for role in first.found if role.startswith("cms-") and role not in turned)
    hand, _, notes = gone_back(beside={aside: 14})
    assert any("every control stands as listed" in note for note in notes)
    assert aside in hand.asked[2]
    assert hand.asked[2][aside] == hand.found[aside]
    assert hand.values() == hand.found


@pytest.mark.parametrize("role", ["cms-magenta-saturation", "cms-cyan-hue", "cms-green-saturation"])
def test_a_control_that_was_noted_wrong_goes_back_to_where_it_stood(role: str) -> None:
    hand, managed, notes = gone_back(noted={role: 10})
    assert hand.asked[1][role] == hand.found[role] + 10
    assert abs(hand.values()[role] - hand.found[role]) <= 4
    told = [note for note in notes if "was noted wrong: colours read as if" in note]
    assert len(told) == 1
    # Nothing else was turned on its account, and as found is where it stood.
    assert list(hand.asked[-1]) == [role]
    assert {**hand.values(), role: 0} == {**hand.found, role: 0}
    assert "of the colour management is worth a trip" in managed.words or "Stopped by you" in managed.words


def test_what_was_turned_to_see_and_was_not_it_goes_back() -> None:
    # Where the block sends hues of full red beyond what the screen can show, they do not move as they are turned.
    hand, _, notes = gone_back(noted={"cms-red-hue": 10})
    told = [note for note in notes if "was noted wrong: colours read as if" in note]
    assert told
    assert notes[-1].startswith("That was not it")
    assert hand.values() == {**hand.found, "cms-red-hue": hand.found["cms-red-hue"] + 10}


class SlipsAgain(NobodyThere):
    """Leaves a control on the way back, turns it too far as it is mended, and says where controls stand."""

    def __init__(self, link: ScreenLink) -> None:
        self.link, self.found, self.left, self.times_seen, self.slipped = link, link.values(), "", 0, False

    def turn(self, move: Move) -> Standing | None:  # type: ignore[override]
        stands = self.link.values()
        told = {change.role.key: change.to_value for change in move.changes}
        elsewhere = any(stands[change.role.key] != change.from_value for change in move.changes)
        if move.is_untouched or elsewhere:
            self.times_seen += move.is_untouched
            if elsewhere:
                return Standing({change.role: stands[change.role.key] for change in move.changes})
        elif not self.left and all(self.found[role] == to for role, to in told.items()):
            self.left = max(told, key=lambda role: abs(stands[role] - told[role]))
            del told[self.left]
        elif list(told) == [self.left] and not self.slipped:
            self.slipped = True
            told = {self.left: 2 * stands[self.left] - told[self.left]}
        self.link.turn(told)
        return None


def test_who_slips_as_they_mend_it_is_asked_to_look_once_more() -> None:
    bench, ports, plan = unit()
    assert ports.link is not None
    hand, journal = SlipsAgain(ports.link), MemoryJournal()
    turns = 0

    def hear(event: Event) -> None:
        nonlocal turns
        if isinstance(event, StepBegun) and isinstance(event.step, Turn):
            turns += 1
            runner.wish(PutBack if turns == 1 else StopHere)

    runner = Runner(Bench(ports.meter, ports.source, None, ports.clock), journal, hand, hear)
    runner.run(manage_colours(by_hand(plan)))
    assert hand.left
    assert hand.slipped
    assert hand.times_seen >= 2
    assert bench.screen.settings() == hand.found
