"""Watching a control while it is turned: how many steps are left, and in which words."""

from collections.abc import Sequence

import numpy as np
import pytest

from aequitone.advice.by_hand.watching import (
    THERE,
    Left,
    Watched,
    first_level,
    level_steps_left,
    steps_left,
    watched_changes,
)
from aequitone.advice.moves import Change, ControlState, Move
from aequitone.advice.points import PointEffect
from aequitone.advice.points.level import LevelResponses
from aequitone.advice.roles import TWO_POINT, point_role
from aequitone.advice.two_point.responses import Responses

CONTROLS = tuple(ControlState(role, role.key, 0, 100, 1, 50) for role in TWO_POINT)
QUIET = np.full(3, 1e-6)


def move_of(**by: int) -> Move:
    roles = {role.key.replace("-", "_"): role for role in TWO_POINT}
    return Move(tuple(Change(roles[name], name, 50, 50 + n) for name, n in by.items()))


def steps_of(move: Move) -> Sequence[int]:
    by = {change.role: change.by for change in move.changes}
    return [by.get(role, 0) for role in TWO_POINT]


def left(move: Move, made: Sequence[int], *, bright: bool) -> list[float]:
    """What is told once `made` (6,) steps are done, on a screen that does what is believed of it."""
    responses = Responses.prior(CONTROLS)
    rows = slice(3, 6) if bright else slice(6, 9)
    change = responses.effect[rows] @ np.asarray(made, dtype=float)
    told = steps_left(responses, move, change, QUIET, steps_of(move), bright=bright)
    return [each.steps for each in told]


@pytest.mark.parametrize("made", [0, 1, 3, 5, 8])
def test_steps_are_counted_from_the_light(made: int) -> None:
    move = move_of(gain_r=5)
    assert left(move, [made, 0, 0, 0, 0, 0], bright=True) == pytest.approx([5 - made], abs=0.25)


def test_each_control_of_a_move_is_told_apart() -> None:
    move = move_of(gain_r=5, gain_b=-4)
    assert left(move, [2, 0, -4, 0, 0, 0], bright=True) == pytest.approx([3.0, 0.0], abs=0.25)


def test_biases_follow_gains_that_are_turned_already() -> None:
    move = move_of(gain_r=5, gain_g=-3, bias_b=6)
    assert first_level(move)
    assert [change.name for change in watched_changes(move, bright=True)] == ["gain_r", "gain_g"]
    assert [change.name for change in watched_changes(move, bright=False)] == ["bias_b"]
    assert left(move, [5, -3, 0, 0, 0, 4], bright=False) == pytest.approx([2.0], abs=0.3)
    assert not first_level(move_of(bias_r=2))


def test_noise_alone_does_not_send_the_hand_on() -> None:
    noisy = np.full(3, 0.02**2)
    responses = Responses.prior(CONTROLS)
    (told,) = steps_left(responses, move_of(gain_g=3), np.zeros(3), noisy, [0, 3, 0, 0, 0, 0], bright=True)
    assert told.steps == pytest.approx(3.0, abs=0.5)


@pytest.mark.parametrize(
    ("steps", "up", "words"),
    [
        (2.1, True, "two more"), (-1.0, True, "one back"), (-2.0, False, "two more"), (1.2, False, "one back"),
        (0.4, True, "there"), (-0.59, False, "there"), (0.61, True, "one more"), (14.0, True, "14 more"),
    ],
)  # fmt: skip
def test_what_is_left_is_said_as_a_hand_needs_it(steps: float, up: bool, words: str) -> None:
    assert Left("R gain", steps, 0.0, up).words == words


def test_a_screen_that_is_not_known_is_about_there_sooner() -> None:
    move = move_of(gain_b=-20)
    change = Responses.prior(CONTROLS).effect[3:6] @ np.array([0, 0, -17, 0, 0, 0.0])
    (told,) = steps_left(Responses.prior(CONTROLS), move, change, QUIET, steps_of(move), bright=True)
    assert told.sd > 2.0
    assert told.words == "about there"
    assert Left("B gain", -3.0, 0.2, False).words == "three more"


def test_a_glance_knows_when_all_is_there() -> None:
    move = move_of(gain_r=2, gain_b=1)
    red, blue = Left("gain_r", 0.2, 0.0, True), Left("gain_b", THERE - 0.01, 0.0, True)
    assert Watched(move, 80.0, np.ones(3), 0.4, 0.1, (red, blue)).there
    assert not Watched(move, 80.0, np.ones(3), 0.4, 0.1, (red, Left("gain_b", -1.0, 0.0, True))).there


@pytest.mark.parametrize("made", [(0, 0, 0, 0), (2, 0, 0, 1), (4, 0, -3, 2), (6, 0, -3, 2)])
def test_at_a_level_of_multi_point_light_is_told_from_channels(made: tuple[int, ...]) -> None:
    controls = tuple(ControlState(point_role(letter, 50), f"50 % {letter}", -50, 50, 1, 0) for letter in "rgby")
    signal = np.arange(10, 0, -1) / 10.0
    responses = LevelResponses(PointEffect.prior(signal, 50.0), 5, light=True)
    by = {"r": 4, "b": -3, "y": 2}
    move = Move(tuple(Change(c.role, c.name, 0, by[c.name[-1]]) for c in controls if c.name[-1] in by))
    told = level_steps_left(responses, controls, move, responses.predict(np.array(made, float)), QUIET)
    wanted = [4 - made[0], -3 - made[2], 2 - made[3]]
    assert [each.steps for each in told] == pytest.approx(wanted, abs=0.8)
