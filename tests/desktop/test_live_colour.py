"""A colour among the readings of a pass: shown as one, and never taken for white or for a level."""

import numpy as np
import pytest

from aequitone.desktop.session.live import LiveTracker
from aequitone.procedures.policy import ReadPolicy
from aequitone.procedures.runner import StepDone
from aequitone.procedures.steps import Purpose, Read, Reading
from aequitone.reference import colour_errors, grey_errors, target_named
from aequitone.signal import Patch, SignalFormat, colour_patch, grey_patch

TARGET = target_named("rec709-2.2/added")
FORMAT = SignalFormat(10)


def reading(patch: Patch, xyz: np.ndarray) -> StepDone:
    X, Y, Z = (float(value) for value in xyz)
    told = Reading(patch, Purpose.LEVEL, X, Y, Z, 0.01, 0.01, 0.01, 1, 0.5, 1.0, 0.0)
    return StepDone(1, Read(patch, ReadPolicy(0.1), Purpose.LEVEL), told, replayed=False)


def test_red_is_not_white() -> None:
    tracker = LiveTracker(TARGET, 11)
    white = tracker.hear(reading(grey_patch(100.0, FORMAT), TARGET.grey(100.0, 120.0)))
    assert white is not None
    assert white.white == 120.0
    red = colour_patch("red", (100.0, 0.0, 0.0), FORMAT)
    seen = TARGET.colour([1.0, 0.0, 0.0], 120.0)
    moment = tracker.hear(reading(red, seen))
    assert moment is not None
    assert moment.white == 120.0
    assert moment.rows == white.rows
    assert moment.reading is not None
    assert moment.reading.label == "Read: red"
    assert moment.delta is not None
    assert moment.delta.value < 0.5
    off = tracker.hear(reading(red, seen * [1.0, 1.2, 1.0]))
    assert off is not None
    assert off.delta is not None
    assert off.delta.value > 3.0


def test_a_colour_before_white_is_read_without_an_error() -> None:
    tracker = LiveTracker(TARGET, 11)
    moment = tracker.hear(reading(colour_patch("blue", (0.0, 0.0, 100.0), FORMAT), np.array([10.0, 4.0, 50.0])))
    assert moment is not None
    assert (moment.white, moment.delta) == (None, None)


def test_errors_of_a_grey_are_the_same_by_both_ways() -> None:
    percents, rng = np.array([100.0, 60.0, 20.0, 5.0]), np.random.default_rng(3)
    xyz = TARGET.grey(percents, 110.0, 0.04) * (1.0 + 0.02 * rng.standard_normal((4, 3)))
    greys = grey_errors(percents, xyz, TARGET, white=110.0, black=0.04, sd=xyz * 0.01)
    signal = np.repeat(percents[:, None] / 100.0, 3, axis=1)
    colours = colour_errors(signal, xyz, TARGET, white=110.0, black=0.04, sd=xyz * 0.01)
    assert colours.de2000 == pytest.approx(greys.de2000)
    assert colours.de2000_sd == pytest.approx(greys.de2000_sd)
    assert colours.deitp == pytest.approx(greys.deitp)
