"""What one sweep has found is turned along with the next: one walk to the menu for both."""

from contextlib import suppress

from aequitone.advice.moves import ControlState, Move
from aequitone.advice.roles import Role
from aequitone.procedures.levels.trips import Trips
from aequitone.procedures.steps import Procedure, PutBack, Turn

BLACK = ControlState(Role.BLACK_LEVEL, "Black", 0, 100, 1, 50)
CONTRAST = ControlState(Role.CONTRAST, "Contrast", 0, 100, 1, 85)


def moves(procedure: Procedure[None]) -> list[Move]:
    """The moves that are asked for, each made as it was asked."""
    told: list[Move] = []
    with suppress(StopIteration):
        while True:
            step = procedure.send(told[-1] if told else None)
            assert isinstance(step, Turn)
            told.append(step.move)
    return told


def test_a_turn_waits_for_the_next() -> None:
    trips = Trips(together=True)
    assert moves(trips.turn_later((BLACK, 53))) == []
    (move,) = moves(trips.turn((CONTRAST, 97)))
    assert {(c.name, c.from_value, c.to_value) for c in move.changes} == {("Black", 50, 53), ("Contrast", 85, 97)}
    assert moves(trips.settle()) == []


def test_what_waits_is_turned_before_anything_is_read() -> None:
    trips = Trips(together=True)
    assert moves(trips.turn_later((BLACK, 53))) == []
    (move,) = moves(trips.settle())
    assert move.words == "Black up 3"


def test_a_control_that_waits_and_goes_elsewhere_is_turned_once() -> None:
    trips = Trips(together=True)
    lifted = ControlState(Role.BLACK_LEVEL, "Black", 0, 100, 1, 53)
    assert moves(trips.turn_later((BLACK, 53))) == []
    (move,) = moves(trips.turn((lifted, 60)))
    assert move.words == "Black up 10"
    assert moves(trips.turn_later((BLACK, 53))) == []
    # Back where it was: there is nothing to turn.
    assert moves(trips.turn_later((lifted, 50))) == []
    assert moves(trips.settle()) == []


def test_a_person_turns_at_once() -> None:
    (move,) = moves(Trips(together=False).turn_later((BLACK, 53)))
    assert move.words == "Black up 3"


def test_a_wish_does_not_lose_what_waits() -> None:
    trips = Trips(together=True)
    assert moves(trips.turn_later((BLACK, 53))) == []
    asked = trips.turn((CONTRAST, 97))
    next(asked)
    with suppress(PutBack):
        asked.throw(PutBack())
    (move,) = moves(trips.settle())
    assert move.words == "Black up 3"
