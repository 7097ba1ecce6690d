"""Putting back: in the right order, one after another, with a way back and a way out."""

import pytest

from aequitone.advice.moves import ControlState
from aequitone.advice.roles import Role
from aequitone.procedures.preparation.restore import PutBackPlan, PutBackState, put_back
from aequitone.procedures.steps import Interrupt, PutBack, StopHere, Turn

PLAN = PutBackPlan(
    (
        ControlState(Role.MOTION, "Smooth", 0, 1, 1, 0),
        ControlState(Role.CONTRAST, "Contrast", 0, 100, 1, 85),
        ControlState(Role.PICTURE_MODE, "Mode", 0, 3, 1, 2),
        ControlState(Role.TINT, "Tint", -50, 50, 1, 4),
    ),
    (1, 80, 0, 4),
    "as found",
)


def carried_out(wishes: dict[int, type[Interrupt]]) -> tuple[list[str], PutBackState]:
    """What is turned, in order, and what comes of it; `wishes` instead of the turns of that number."""
    told: list[str] = []
    procedure, answer, asked = put_back(PLAN), None, 0
    step = next(procedure)
    while True:
        try:
            if isinstance(step, Turn):
                wish = wishes.get(asked)
                asked += 1
                if wish is not None:
                    step = procedure.throw(wish())
                    continue
                (change,) = step.move.changes
                told.append(f"{change.name} {change.to_value}")
            step = procedure.send(answer)
        except StopIteration as end:
            return told, end.value


def test_the_mode_goes_first_and_what_acts_by_itself_last() -> None:
    told, state = carried_out({})
    assert told == ["Mode 0", "Contrast 80", "Smooth 1"]
    assert state.words == "Everything is back to how it stood as found."


def test_a_turn_can_be_taken_back_and_is_asked_again() -> None:
    told, state = carried_out({1: PutBack})
    assert told == ["Mode 0", "Mode 2", "Mode 0", "Contrast 80", "Smooth 1"]
    assert state.left == ()


def test_stopping_leaves_the_rest_and_says_so() -> None:
    told, state = carried_out({1: StopHere})
    assert told == ["Mode 0"]
    assert state.words == "1 put back, 2 left as they stand: Contrast, Smooth."


def test_a_plan_that_does_not_fit_is_refused() -> None:
    with pytest.raises(ValueError, match="1 controls to put back, but 2 settings"):
        PutBackPlan(PLAN.controls[:1], (1, 2), "as found")
