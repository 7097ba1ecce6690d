"""Tone by hand where a low contrast, ahead of multi-point, has its levels act elsewhere than at their names."""

import pytest
from tests.procedures.test_tone_several_levels import bent, by_hand
from tests.procedures.tone_benches import true_mean, white_set

from aequitone.standins.bench import StandInBench


def low_in_contrast(seed: int) -> StandInBench:
    """A bent screen whose contrast stands far below its usual place; white is right."""
    bench = bent(seed, points=20)
    bench.screen.turn({"contrast": bench.screen.settings()["contrast"] - 33})
    white_set(bench)
    return bench


@pytest.mark.parametrize("seed", [1, 2, 3])
def test_levels_that_act_elsewhere_are_told_and_go_back(seed: int) -> None:
    bench = low_in_contrast(seed)
    found, before = bench.screen.settings(), true_mean(bench)
    state, person, journal = by_hand(bench)
    said = list(journal.notes.values())
    assert [note for note in said if "does not act at its names" in note]
    # Nobody slipped, and nothing was noted wrong.
    assert not [note for note in said if "looks as if" in note or "noted wrong" in note or "as it did" in note]
    assert bench.screen.settings() == found
    assert true_mean(bench) == pytest.approx(before, abs=0.02)
    assert len(person.asked) <= 6
    assert state.ladder is not None


def test_where_contrast_stands_as_usual_nothing_of_it_is_said() -> None:
    bench = bent(1, points=20)
    _, _, journal = by_hand(bench)
    assert not [note for note in journal.notes.values() if "act at its names" in note]
