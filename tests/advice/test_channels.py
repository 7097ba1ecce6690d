"""Channels are told by the primaries of what is sent: a step of red is red alone, in SDR and in HDR."""

from dataclasses import replace

import numpy as np
import pytest

from aequitone.advice.moves import ControlState
from aequitone.advice.points import Grid, PointEffect, PointPlanner, Tracked
from aequitone.advice.points.belief import Belief
from aequitone.advice.roles import point_role
from aequitone.advice.two_point.level_readings import Seen
from aequitone.colorimetry import P3, REC709, REC2020, Gamut
from aequitone.procedures.steps import Purpose, Reading
from aequitone.procedures.white.session import seen_of
from aequitone.reference import target_named
from aequitone.signal import SignalFormat, grey_patch

SDR, HDR = target_named("rec709-2.2/added"), target_named("p3in2020-pq/added")
LEVELS = (60, 40, 20)
PERCENTS = np.array([100.0, 60.0, 40.0, 20.0])


@pytest.mark.parametrize("gamut", [REC709, P3, REC2020])
@pytest.mark.parametrize("channel", range(3))
def test_a_channel_that_was_turned_has_moved_alone(gamut: Gamut, channel: int) -> None:
    before = Seen(
        np.array([[95.0, 100.0, 108.0], [50.0, 53.0, 58.0], [9.0, 9.5, 10.4]]), np.ones((3, 3)), gamut=gamut
    )
    rgb = gamut.rgb(before.xyz)
    rgb[:, channel] *= 1.05
    moved = (replace(before, xyz=gamut.xyz(rgb)).log_light - before.log_light).reshape(3, 3)
    expected = np.where(np.arange(3) == channel, np.log(1.05), 0.0)
    np.testing.assert_allclose(moved, np.tile(expected, (3, 1)), atol=1e-9)


@pytest.mark.parametrize(("target", "gamut"), [(SDR, REC709), (HDR, REC2020)])
def test_white_sees_the_channels_of_what_is_sent(target, gamut: Gamut) -> None:  # type: ignore[no-untyped-def]
    readings = [
        Reading(grey_patch(p, SignalFormat()), Purpose.ADJUST, 95.0, 100.0, 108.0, 1, 1, 1, 1, 1, 1, 0)
        for p in (100, 80, 30)
    ]
    assert seen_of(readings, target).gamut == gamut


@pytest.mark.parametrize(("target", "gamut"), [(SDR, REC709), (HDR, REC2020)])
@pytest.mark.parametrize("channel", range(3))
def test_tone_expects_of_a_step_what_a_step_of_that_channel_does(target, gamut: Gamut, channel: int) -> None:  # type: ignore[no-untyped-def]
    rows = tuple(
        ControlState(point_role(letter, p), f"{p} % {letter}", -50, 50, 1, 0) for p in LEVELS for letter in "rgb"
    )
    grid = Grid.of(rows)
    aim = target.grey(PERCENTS, 800.0, 0.0)
    read = Tracked(PERCENTS, aim, 1e-6 * aim, np.zeros((len(PERCENTS), *grid.offsets.shape)), 0.0)
    planner, effect = PointPlanner(target, 0.1), PointEffect.prior(grid.signal, 50.0)
    by = np.zeros_like(grid.offsets)
    by[0, channel] = 4.0
    went = np.log(gamut.rgb(planner.now(read, effect, by)) / gamut.rgb(aim))
    assert went[1, channel] > 0.01
    np.testing.assert_allclose(np.delete(went, channel, axis=1), 0.0, atol=1e-9)
    # What is believed of a ladder is told in the same channels.
    assert Belief.of(planner, read, aim).gamut == gamut
