"""Slips at the menu: told from the light, and never told of a right move for long."""

import numpy as np
import pytest
from benchmarks.guards import grounds, recognised
from hypothesis import given, settings
from hypothesis import strategies as st

from aequitone.advice.moves import ControlState
from aequitone.advice.roles import TWO_POINT
from aequitone.advice.two_point.guards import Judgement, Mishap, judge, words
from aequitone.advice.two_point.responses import Responses

CONTROLS = tuple(ControlState(role, role.key, 0, 100, 1, 50) for role in TWO_POINT)
PRIOR = Responses.prior(CONTROLS)
SURE = Responses(PRIOR.effect, PRIOR.covariance * 0.01)
NOISE = np.full(9, 0.001**2)
ASKED = np.array([6.0, 0.0, -4.0, 0.0, 0.0, 5.0])


def judged(steps: list[float], bump: float = 0.0) -> Judgement:
    return judge(SURE, CONTROLS, ASKED, SURE.predict(np.array(steps)) + bump, NOISE)


@pytest.mark.parametrize(
    ("steps", "mishap", "said"),
    [
        ([-6, 0, -4, 0, 0, 5], Mishap.WRONG_WAY, "gain-r was turned the other way: -6 instead of +6"),
        ([0, 0, -4, 0, 0, 5], Mishap.NOT_TURNED, "gain-r was not turned; +6 was asked for"),
        ([3, 0, -4, 0, 0, 5], Mishap.WRONG_COUNT, "gain-r was turned by +3 steps instead of +6"),
        ([0, 6, -4, 0, 0, 5], Mishap.WRONG_CONTROL, "gain-g was turned by +6 instead of gain-r"),
        ([6, 0, -4, 0, 0, 10], Mishap.WRONG_COUNT, "bias-b was turned by +10 steps instead of +5"),
        ([6, 0, 1, 0, 0, 0], Mishap.WRONG_CONTROL, "gain-b was turned by +5 instead of bias-b"),
    ],
)
def test_each_slip_is_recognised_and_said(steps: list[float], mishap: Mishap, said: str) -> None:
    told = judged(steps)
    assert told.mishap is mishap
    assert told.steps.tolist() == steps
    assert said in words(told, CONTROLS, ASKED)


def test_a_bump_is_told_from_a_turn_and_taken_out() -> None:
    told = judged(ASKED.tolist(), bump=-0.08)
    assert told.mishap is Mishap.BUMP
    assert told.steps.tolist() == ASKED.tolist()
    assert told.bump == pytest.approx(np.full(9, -0.08), abs=0.01)
    assert "All light changed by -8" in words(told, CONTROLS, ASKED) or "-7" in words(told, CONTROLS, ASKED)


@given(st.integers(0, 10_000))
@settings(max_examples=60, deadline=None)
def test_a_right_move_within_the_doubt_is_no_slip(seed: int) -> None:
    rng = np.random.default_rng(seed)
    steps = rng.integers(-12, 13, 6).astype(float)
    # Controls that are as uneven as the doubt about them says.
    change = PRIOR.predict(steps) + rng.standard_normal(9) * np.sqrt(PRIOR.variance(steps) + NOISE) * 0.7
    told = judge(PRIOR, CONTROLS, steps, change, NOISE)
    assert told.mishap is None
    assert words(told, CONTROLS, steps) == ""


def test_a_turn_beyond_the_end_stop_is_not_imagined() -> None:
    at_stop = tuple(
        ControlState(c.role, c.name, c.lowest, c.highest, 1, 97 if c.role == TWO_POINT[0] else 50)
        for c in CONTROLS
    )
    asked = np.array([3.0, 0.0, 0.0, 0.0, 0.0, 0.0])
    told = judge(SURE, at_stop, asked, SURE.predict(2 * asked), NOISE)
    assert told.steps[0] <= 3.0


def test_on_the_stand_ins_slips_that_can_be_seen_are_seen_and_right_moves_are_left_alone() -> None:
    places = grounds(units=2)
    right, _, _ = recognised(None, 260, places)
    assert 260 - right[None] <= 3
    ways, _, plain = recognised(Mishap.WRONG_WAY, 130, places)
    assert plain > 0.7
    bumps, _, _ = recognised(Mishap.BUMP, 65, places)
    assert bumps[Mishap.BUMP] >= 60
    assert ways[Mishap.WRONG_WAY] > 65
