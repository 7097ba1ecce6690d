"""Levels by eye: answers lead to the right setting, whatever the control's range, and come to an end."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from aequitone.advice.by_eye import QUESTIONS, EyeAnswer, EyeSearch, questions_for
from aequitone.advice.moves import ControlState
from aequitone.advice.roles import Role
from aequitone.signal.pictures import picture_named

ASKED = {question.role: question for question in QUESTIONS}


def honest(search: EyeSearch, right: int) -> EyeAnswer:
    """What somebody with good eyes says: the answer whose steps come nearest to how far it is off."""
    assert search.control is not None
    off = (search.control.value - right) / search.control.steps * 100
    if search.control.value == right:
        return search.question.answers[0]
    sided = [a for a in search.question.answers if a.too_high * off > 0]
    return min(sided, key=lambda a: abs(a.too_high - off))


@given(
    role=st.sampled_from([Role.BLACK_LEVEL, Role.SHARPNESS, Role.COLOUR, Role.TINT]),
    right=st.integers(0, 40),
    found=st.integers(0, 40),
    step=st.sampled_from([1, 2]),
)
def test_honest_answers_end_at_the_right_setting(role: Role, right: int, found: int, step: int) -> None:
    control = ControlState(role, "Control", 0, 40 * step, step, found * step)
    search, asked = EyeSearch(ASKED[role], control), 0
    while not search.done:
        search, move = search.answered(honest(search, right * step))
        assert move is None or move.changes[0].to_value == search.control.value
        asked += 1
        assert asked < 30
    assert search.control is not None
    assert search.control.value == right * step


def test_contrast_goes_down_until_the_bars_stay_apart() -> None:
    search = EyeSearch(ASKED[Role.CONTRAST], ControlState(Role.CONTRAST, "Contrast", 0, 100, 1, 98))
    while not search.done:
        assert search.control is not None
        over = search.control.value - 85
        answer = search.question.answers[0] if over <= 0 else honest(search, 85)
        search, _ = search.answered(answer)
    assert search.control is not None
    assert 79 <= search.control.value <= 85


def test_answers_that_contradict_each_other_come_to_an_end() -> None:
    search = EyeSearch(ASKED[Role.BLACK_LEVEL], ControlState(Role.BLACK_LEVEL, "Brightness", 0, 100, 1, 50))
    high, low = search.question.answers[1], search.question.answers[2]
    moves = []
    for i in range(20):
        search, move = search.answered(high if i % 2 else low)
        moves.append(move)
        if search.done:
            break
    assert search.done
    assert "between" in search.words
    assert search.low is not None
    assert search.high == search.low + 1
    assert search.control is not None
    # Shadows are kept: the upper of the two.
    assert search.control.value == search.high


def test_the_end_stop_is_said() -> None:
    search = EyeSearch(ASKED[Role.BLACK_LEVEL], ControlState(Role.BLACK_LEVEL, "Brightness", 0, 100, 1, 100))
    search, move = search.answered(search.question.answers[-1])
    assert (search.done, move) == (True, None)
    assert "highest" in search.words


def test_geometry_has_no_control_and_is_asked_again_until_it_is_right() -> None:
    geometry = questions_for({})
    assert [search.question.role for search in geometry] == [None]
    again, move = geometry[0].answered(geometry[0].question.answers[1])
    assert (again.done, move) == (False, None)
    assert again.answered(again.question.answers[0])[0].done


def test_every_question_has_its_picture_and_a_hoped_for_answer() -> None:
    for question in QUESTIONS:
        assert picture_named(question.picture).still in ("", question.picture)
        assert question.answers[0].too_high == 0
        assert len(question.answers) <= 9
    controls = {Role.TINT: ControlState(Role.TINT, "Tint", -50, 50, 1, 0)}
    assert [search.question.role for search in questions_for(controls)] == [None, Role.TINT]


@pytest.mark.parametrize("steps", [20, 100, 400])
def test_moves_are_shares_of_the_range(steps: int) -> None:
    control = ControlState(Role.BLACK_LEVEL, "Brightness", 0, steps, 1, steps // 2)
    search = EyeSearch(ASKED[Role.BLACK_LEVEL], control)
    _, move = search.answered(search.question.answers[-1])
    assert move is not None
    assert move.changes[0].by == steps // 10
    assert replace(control, value=0).snapped(steps * 2) == steps
