"""The look at another input: what is wrong is found and named, and a right one is called right."""

import numpy as np
import pytest
from benchmarks.inputs import FAULTS, run_one

from aequitone.advice.same_input import input_differences
from aequitone.logbook import Logbook, VisitRecord
from aequitone.passes import NotReadyError, begin_verify
from aequitone.reference import TARGETS

PERCENTS = np.array([100.0, 70.0, 50.0, 30.0, 10.0, 0.0])
LADDER = np.linspace(0.0, 100.0, 11)
TARGET = TARGETS["rec709-2.2"]
NOTHING = (np.zeros((0, 3)), np.zeros((0, 3)), np.zeros((0, 3)))


def greys(percents: np.ndarray, factor: float = 1.0) -> np.ndarray:
    return TARGET.grey(percents, 100.0) * factor + TARGET.white.xyz(0.05)


def told(now: np.ndarray, colours: tuple[np.ndarray, ...] = NOTHING) -> str:
    sd = np.full((6, 3), 1e-4)
    found = input_differences(PERCENTS, greys(PERCENTS), now, sd, colours, (LADDER, greys(LADDER)[:, 1]))
    return " ".join(f"{each.what} {each.likely}" for each in found)


def test_the_same_is_the_same() -> None:
    assert told(greys(PERCENTS)) == ""
    assert told(greys(PERCENTS, 1.015)) == ""


def test_both_wrong_ranges_are_named_and_nothing_else() -> None:
    stretched = greys((16.0 + 219.0 * PERCENTS / 100.0) / 2.55)
    clipped = greys(np.clip((255.0 * PERCENTS / 100.0 - 16.0) / 2.19, 0.0, 100.0))
    assert "limited codes arrive where full ones are expected" in told(stretched)
    assert "full codes arrive where limited ones are expected" in told(clipped)
    for each in (stretched, clipped):
        assert "gamma" not in told(each)


def test_a_gamma_is_no_range() -> None:
    other = TARGETS["rec709-2.4"].grey(PERCENTS, 100.0) + TARGET.white.xyz(0.05)
    assert "gamma" in told(other)
    assert "codes arrive" not in told(other)


def test_stronger_colours_are_told_from_one_that_moved() -> None:
    signal = np.array([[0.75, 0.0, 0.0], [0.0, 0.75, 0.0], [0.6, 0.4, 0.35]])
    then = TARGET.colour(signal, 100.0)
    grey = then[:, 1:2] * TARGET.white.xyz()
    sd = np.full_like(then, 1e-4)
    # Pulled towards grey, as colour turned down does.
    assert "Colours are weaker by" in told(greys(PERCENTS), (then, 0.8 * then + 0.2 * grey, sd))
    moved = then.copy()
    moved[1] = then[1] * (1.05, 1.0, 1.3)
    words = told(greys(PERCENTS), (then, moved, sd))
    assert "A colour has moved by" in words
    assert "colour management" in words
    assert told(greys(PERCENTS), (then, then * 1.01, sd)) == ""


@pytest.mark.parametrize("fault", ["", "input range", "player range", "contrast", "colour", "colour management"])
def test_an_input_of_a_stand_in(fault: str) -> None:
    assert fault in ("", *FAULTS)
    _, found, named, seconds, words = run_one("demo", 61, fault)
    assert found is bool(fault), words
    assert named, words
    assert seconds < 60.0


def test_without_a_proof_there_is_nothing_to_compare_with(logbook: Logbook, visit: VisitRecord) -> None:
    with pytest.raises(NotReadyError, match="compared with Proof"):
        begin_verify(logbook, visit.id, "HDMI 1")
