"""Why a move, in words that follow from what is known; and how far controls reach, as learnt."""

from dataclasses import replace

import numpy as np
import pytest

from aequitone.advice.moves import ControlState, Move
from aequitone.advice.roles import TWO_POINT
from aequitone.advice.two_point.explanation import explain, reach
from aequitone.advice.two_point.level_readings import Seen
from aequitone.advice.two_point.mover import Mover
from aequitone.advice.two_point.responses import Responses
from aequitone.colorimetry import REC709
from aequitone.reference import target_named

TARGET = target_named("rec709-2.2")
MOVER = Mover(TARGET, 80.0, 30.0, 0.05)
CONTROLS = tuple(ControlState(role, role.key, 0, 100, 1, 50) for role in TWO_POINT)
PRIOR = Responses.prior(CONTROLS)


def bluish(share: float) -> Seen:
    """Greys with so much more blue light than the target has."""
    xyz = REC709.xyz(REC709.rgb(TARGET.grey([100.0, 80.0, 30.0], 100.0, 0.05)) * [1.0, 1.0, 1.0 + share])
    return Seen(xyz, np.full((3, 3), 0.01), proven=np.full(3, 9.0))


def test_the_reasons_of_a_move_name_what_was_seen_what_controls_do_and_what_else_was_possible() -> None:
    seen = bluish(0.15)
    move = MOVER.propose(seen, PRIOR, CONTROLS)
    assert isinstance(move, Move)
    told = explain(MOVER, seen, PRIOR, CONTROLS, move)
    assert "80 % cool" in told
    assert "gain-b +0.9 %" in told
    assert "this one is not known yet" in told
    left = MOVER.foretold(seen, PRIOR, np.zeros(6))[0]
    assert f"nothing {left:.1f}" in told
    learnt = replace(PRIOR, covariance=PRIOR.covariance * 0.01)
    assert "not known yet" not in explain(MOVER, seen, learnt, CONTROLS, move)


def test_reach_follows_what_was_learnt() -> None:
    (gains, high, low), (biases, top, bottom) = reach(PRIOR, 80.0, 30.0)
    assert (gains, high, biases, bottom) == ("gains", 100.0, "biases", 5.0)
    # Usually a gain moves dark greys nearly as much as bright ones, and a bias little but the dark end.
    assert low == 5.0
    assert 30.0 < top < 60.0
    effect = PRIOR.effect.copy()
    for i in range(3):
        effect[6 + i, i] = 0.25 * effect[3 + i, i]
    (_, _, low), _ = reach(replace(PRIOR, effect=effect), 80.0, 30.0)
    # A quarter is left after the whole way, so half is left after half of it.
    assert low == pytest.approx(55.0)
