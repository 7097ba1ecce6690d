"""Where controls really stand, as people type it."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from aequitone.advice.by_hand.standing import Standing, standing_typed
from aequitone.advice.moves import Change, Move
from aequitone.advice.roles import Role

RED, GREEN = Change(Role.GAIN_R, "R gain", 50, 55), Change(Role.GAIN_G, "G gain", 50, 47)
ONE, TWO = Move((RED,)), Move((RED, GREEN))
LIMITS = {Role.GAIN_R: (0, 100), Role.GAIN_G: (0, 100)}


@pytest.mark.parametrize(
    ("words", "at"),
    [
        ("12, 7", {Role.GAIN_R: 12, Role.GAIN_G: 7}),
        ("12 7", {Role.GAIN_R: 12, Role.GAIN_G: 7}),
        (" 12 ;7 ", {Role.GAIN_R: 12, Role.GAIN_G: 7}),
        ("r gain 12", {Role.GAIN_R: 12}),
        ("G: 7, R gain = 12", {Role.GAIN_R: 12, Role.GAIN_G: 7}),
    ],
)
def test_figures_in_order_or_by_name(words: str, at: dict[Role, int]) -> None:
    assert standing_typed(words, TWO, LIMITS).at == at


@pytest.mark.parametrize(
    ("words", "said"),
    [
        ("", "type where it stands"),
        ("12", "2 figures are wanted, in this order: R gain, G gain"),
        ("1 2 3", "2 figures are wanted"),
        ("12, 700", "G gain goes from 0 to 100, so it cannot stand at 700"),
        ("bias 7", "could be none of R gain, G gain"),
        ("gain", "is no figure"),
        ("12.5, 3", "is no figure"),
    ],
)
def test_what_cannot_be_is_refused_with_a_sentence(words: str, said: str) -> None:
    with pytest.raises(ValueError, match=said):
        standing_typed(words, TWO, LIMITS)


def test_of_one_control_one_figure_is_enough() -> None:
    assert standing_typed("12", ONE, LIMITS).at == {Role.GAIN_R: 12}
    with pytest.raises(ValueError, match="one figure is wanted"):
        standing_typed("12, 13", ONE, LIMITS)


@given(st.integers(0, 100), st.integers(0, 100))
def test_what_is_left_ends_where_the_move_was_to_end(red: int, green: int) -> None:
    rest = Standing({Role.GAIN_R: red, Role.GAIN_G: green}).rest_of(TWO)
    assert {change.role: change.to_value for change in rest.changes}.items() <= {
        Role.GAIN_R: 55,
        Role.GAIN_G: 47,
    }.items()
    assert all(change.by for change in rest.changes)
    assert bool(rest.changes) is ((red, green) != (55, 47))


@given(st.text(max_size=40))
def test_whatever_is_typed_gets_a_sentence_or_a_place(words: str) -> None:
    try:
        at = standing_typed(words, TWO, LIMITS).at
    except ValueError as error:
        assert str(error)
    else:
        assert set(at) <= {Role.GAIN_R, Role.GAIN_G}


@pytest.mark.parametrize(
    ("at", "astray"),
    [
        ({Role.GAIN_R: 50}, False),
        ({Role.GAIN_R: 53}, False),
        ({Role.GAIN_R: 55}, False),
        ({Role.GAIN_R: 57}, False),
        ({Role.GAIN_R: 58}, True),
        ({Role.GAIN_R: 49}, True),
        ({Role.GAIN_G: 56}, True),
    ],
)
def test_no_part_of_a_turn_is_astray(at: dict[Role, int], astray: bool) -> None:
    assert Standing(at).is_astray(TWO) is astray


@given(st.integers(0, 100))
def test_of_an_untouched_move_nothing_is_turned_and_what_was_said_is_kept(red: int) -> None:
    left = Standing({Role.GAIN_R: red}).untouched(TWO)
    assert left.is_untouched
    assert [change.to_value for change in left.changes] == [red, 50]
    assert [change.stood for change in left.changes] == [red if red != 50 else None, None]
