"""Where a control stood when it was last read: told from the light, once a person has said where it stands."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from aequitone.advice.by_hand.stood import stood_before
from aequitone.advice.moves import Change, ControlState, Move, stood_off
from aequitone.advice.roles import TWO_POINT
from aequitone.advice.two_point.responses import Responses

CONTROLS = tuple(ControlState(role, role.key, 0, 100, 2, 50) for role in TWO_POINT)
PRIOR = Responses.prior(CONTROLS)
NOISE = np.full(9, 0.001**2)
ASKED = np.array([6.0, 0.0, -4.0, 0.0, 0.0, 5.0])


def told(off: list[float], real: list[float]) -> list[float]:
    """What is believed of `off` as said, where the controls stood `real` steps elsewhere."""
    change = PRIOR.predict(ASKED - np.array(real))
    return [float(each) for each in stood_before(PRIOR, ASKED, np.array(off), change, NOISE)]


@pytest.mark.parametrize("off", [[6, 0, 0, 0, 0, 0], [-6, 0, 3, 0, 0, 0], [0, 0, 0, 0, 0, -8], [4, 0, 4, 0, 0, 5]])
def test_a_slip_that_was_found_before_the_turn_is_told_from_its_middle(off: list[float]) -> None:
    assert told(off, off) == off
    assert told(off, [0.0] * 6) == [0.0] * 6


def test_of_two_controls_one_may_have_stood_elsewhere_and_the_other_been_half_turned() -> None:
    assert told([-6, 0, 4, 0, 0, 0], [-6, 0, 0, 0, 0, 0]) == [-6, 0, 0, 0, 0, 0]
    assert told([-6, 0, 4, 0, 0, 0], [0, 0, 4, 0, 0, 0]) == [0, 0, 4, 0, 0, 0]


def test_of_many_controls_all_or_none_are_believed() -> None:
    off = [3.0, 2.0, -3.0, 2.0, 4.0, -3.0]
    assert told(off, off) == off
    assert told(off, [0.0] * 6) == [0.0] * 6


@given(st.integers(0, 10_000), st.booleans())
@settings(max_examples=80, deadline=None)
def test_what_the_controls_are_not_known_to_do_does_not_mislead(seed: int, before: bool) -> None:
    rng = np.random.default_rng(seed)
    column, by = int(rng.choice(np.flatnonzero(ASKED))), float(rng.choice([-1.0, 1.0]) * rng.integers(5, 12))
    off = np.eye(6)[column] * by
    change = PRIOR.predict(ASKED - before * off)
    change = change + rng.standard_normal(9) * 0.1 * np.abs(change)
    assert (stood_before(PRIOR, ASKED, off, change, NOISE) == before * off).all()


def test_what_a_person_said_is_counted_in_steps_of_each_control() -> None:
    gain, bias = CONTROLS[0], CONTROLS[3]
    changes = (Change(gain.role, gain.name, 50, 60, stood=44), Change(bias.role, bias.name, 50, 52))
    assert stood_off(Move(changes), CONTROLS).tolist() == [-3, 0, 0, 0, 0, 0]
