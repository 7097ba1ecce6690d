"""Going back with a colour management by hand: what was not turned back is seen, and asked for once more."""

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np
from tests.procedures.test_managing import by_hand, unit

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

    def values(self) -> dict[str, int]:
        return self.link.values()

    def turn(self, settings: Mapping[str, int]) -> None:
        stands, told = self.link.values(), dict(settings)
        self.asked.append(dict(told))
        if self.forgets and not self.left and all(self.found[role] == to for role, to in told.items()):
            self.left = max(told, key=lambda role: abs(stands[role] - told[role]))
            del told[self.left]
        if self.beside and all(self.found[role] == to for role, to in told.items()):
            first = self.asked[-1] not in self.asked[:-1]
            told |= {role: self.found[role] + (by if first else 0) for role, by in self.beside.items()}
        self.link.turn(told)


def gone_back(
    *, forgets: bool = False, beside: Mapping[str, int] | None = None
) -> tuple[Forgetful, Managed, list[str]]:
    """One trip that is put back by wish, and what was said."""
    bench, ports, plan = unit()
    assert ports.link is not None
    plan = by_hand(plan)
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
    assert bench.screen.settings() == hand.link.values()
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
