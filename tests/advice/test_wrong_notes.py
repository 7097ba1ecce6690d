"""A control that was noted wrong: told from a slip of the hand, and where it really stood."""

import numpy as np
import pytest

from aequitone.advice.moves import ControlState, moved
from aequitone.advice.points import Grid, PointEffect
from aequitone.advice.points.level import SURE, LevelResponses
from aequitone.advice.roles import TWO_POINT, point_role
from aequitone.advice.two_point.guards import Mishap, judge, words
from aequitone.advice.two_point.notes import SURE_OF_A_NOTE, wrong_note
from aequitone.advice.two_point.responses import Responses
from aequitone.advice.two_point.wiring import NAMED, MoveMade, evidence_of
from aequitone.colorimetry.arrays import Array

CONTROLS = tuple(ControlState(role, role.key, 0, 100, 1, 50) for role in TWO_POINT)
PRIOR = Responses.prior(CONTROLS)
NOISE = np.full(9, 0.002**2)
ASKED = (np.array([-8.0, 0, -20, 0, -3, 0]), np.array([3.0, 0, 6, 5, 0, -4]), np.array([0.0, 0, -4, 0, 2, 0]))


def turns(off: Array, rng: np.random.Generator, count: int = 3) -> list[MoveMade]:
    """Turns as asked on a screen near the usual; its controls stood `off` steps from where they were noted."""
    effect = PRIOR.effect * (1.0 + 0.15 * rng.standard_normal(PRIOR.effect.shape))
    screen = Responses(effect, PRIOR.covariance)
    told, stood, left = [], CONTROLS, off.copy()
    for asked in ASKED[:count]:
        steps = asked - np.where(asked != 0.0, left, 0.0)
        left = np.where(asked != 0.0, 0.0, left)
        noise = rng.standard_normal(9) * np.sqrt(NOISE)
        told.append(MoveMade(stood, asked, screen.predict(steps) + noise, NOISE))
        stood = moved(stood, asked)
    return told


@pytest.mark.parametrize("column", [0, 2])
@pytest.mark.parametrize("by", [-20, -14, 14, 20])
def test_a_gain_that_was_noted_wrong_is_found_with_where_it_stood(column: int, by: int) -> None:
    found = 0
    for seed in range(5):
        made = turns(np.eye(6)[column] * by, np.random.default_rng(seed))
        note = wrong_note(PRIOR, made, CONTROLS)
        assert note is not None
        sure = note.evidence > evidence_of(NAMED, PRIOR, made) + SURE_OF_A_NOTE
        found += sure and note.column == column and abs(note.off - by) <= max(3, abs(by) / 3)
    assert found >= 4


def test_where_all_was_noted_right_no_note_is_doubted() -> None:
    for seed in range(20):
        made = turns(np.zeros(6), np.random.default_rng(seed))
        note = wrong_note(PRIOR, made, CONTROLS)
        assert note is None or note.evidence < evidence_of(NAMED, PRIOR, made) + SURE_OF_A_NOTE


def test_the_turns_are_corrected_up_to_the_first_of_that_control_and_no_further() -> None:
    made = turns(np.array([0.0, 0, 0, 10, 0, 0]), np.random.default_rng(1))
    note = wrong_note(PRIOR, made, CONTROLS)
    assert note is not None
    told = note.corrected(made)
    changed = [not np.array_equal(a.steps, b.steps) for a, b in zip(made, told, strict=True)]
    first = next(i for i, turn in enumerate(made) if turn.steps[note.column])
    assert changed == [i == first for i in range(len(made))]
    for i, (before, after) in enumerate(zip(made, told, strict=True)):
        off = after.stood[note.column].value - before.stood[note.column].value
        assert off == (note.off if i <= first else 0)
    # Once turned, it stands where it was asked to go.
    assert moved(told[first].stood, told[first].steps) == moved(made[first].stood, made[first].steps)
    assert f"noted wrong: light moved as if it had stood at about {50 + note.off}, not at 50" in note.words(
        CONTROLS
    )


def level_responses() -> tuple[LevelResponses, tuple[ControlState, ...]]:
    grid = Grid.of(
        ControlState(point_role(letter, percent), f"{percent} % {letter}", -50, 50, 1, 0)
        for percent in (100, 80, 60, 40, 20)
        for letter in "rgb"
    )
    effect = PointEffect.prior(grid.signal, 50.0)
    sure = PointEffect(effect.signal, effect.usual, effect.mean, effect.doubt * 0.01, effect.drive)
    return LevelResponses(sure, 2, light=False), grid.rows[2]


@pytest.mark.parametrize("stood", [-17, -11, 21])
def test_at_a_level_a_wrong_note_is_told_only_where_the_control_was_not_turned_yet(stood: int) -> None:
    responses, row = level_responses()
    asked, noise = np.array([0.0, 6.0, 0.0]), np.full(3, 0.001**2)
    change = responses.predict(asked - np.array([0.0, stood, 0.0]))
    told = judge(responses, row, asked, change, noise, sure=SURE, bumps=False, noted=row)
    assert told.mishap is Mishap.NOTED_WRONG
    assert abs(np.asarray(told.off)[1] - stood) <= 2
    # It stands where it was asked to go.
    assert (told.off + told.steps == asked).all()
    assert "60 % g was noted wrong" in words(told, row, asked)
    turned = moved(row, np.array([0.0, 5.0, 0.0]))
    again = judge(responses, turned, asked, change, noise, sure=SURE, bumps=False, noted=row)
    assert again.mishap is not Mishap.NOTED_WRONG


def test_at_a_level_a_turn_the_other_way_is_still_a_slip() -> None:
    responses, row = level_responses()
    asked, noise = np.array([0.0, 6.0, 0.0]), np.full(3, 0.001**2)
    told = judge(responses, row, asked, responses.predict(-asked), noise, sure=SURE, bumps=False, noted=row)
    assert told.mishap is Mishap.WRONG_WAY
