"""A hand that slips in a sweep: told from the positions before, and never where the hand was right."""

from collections.abc import Callable
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from aequitone.advice.levels import (
    Ask,
    BlackSweep,
    ClippingSweep,
    LightSweep,
    Position,
    Sweep,
    black,
    clipping,
    contradicted,
    slipped,
)
from aequitone.advice.levels.sweep import WHITE
from aequitone.advice.moves import ControlState
from aequitone.advice.roles import Role
from aequitone.colorimetry import REC709
from aequitone.colorimetry.arrays import Array

Light = Callable[[int, float], float]
CHANNELS = np.linalg.inv(REC709.xyz_matrix)
SD = 0.0012


def control(found: int, role: Role = Role.LIGHT_OUTPUT) -> ControlState:
    return ControlState(role, "Control", 0, 100, 1, found)


def white(light: float) -> Array:
    return REC709.white.xyz()[None] * light


def sweeps(found: int, edge: float, knee: float) -> list[tuple[Sweep, Light]]:
    """Each kind of sweep, and the light of a screen at a setting, for a signal."""
    return [
        (LightSweep(control(found), 110.0), lambda s, _: 40.0 + 2.2 * s),
        (
            BlackSweep(control(found, Role.BLACK_LEVEL), 100.0),
            lambda s, v: 0.05 + 100.0 * max(0.0, v + 0.0045 * (s - edge)) ** 2.2,
        ),
        (
            ClippingSweep(control(found, Role.CONTRAST), CHANNELS, np.zeros(3), 100.0),
            lambda s, v: 100.0 * min(v * (1.0 + 0.006 * (s - 80.0)), 1.0 + 0.006 * (knee - 80.0)) ** 2.2,
        ),
    ]


def follow(sweep: Sweep, light: Light, rng: np.random.Generator) -> list[Position]:
    """Follow a sweep with a hand that does not slip; nothing may be suspected."""
    positions: list[Position] = []
    while (ask := sweep.next(positions)) is not None:
        positions.append(read(light, ask, ask.setting, rng))
        assert slipped(sweep, positions) is None
    return positions


def read(light: Light, ask: Ask, stood: int, rng: np.random.Generator) -> Position:
    xyz = np.concatenate([white(light(stood, look.percents[0] / 100.0)) for look in ask.looks])
    sd = np.maximum(SD * xyz, 0.0007)
    return Position(ask.setting, xyz + rng.normal(0.0, 1.0, xyz.shape) * sd, sd, ask.looks)


def lit(light: Light, asked: int, stood: int, rng: np.random.Generator) -> Position:
    """White, for a sweep of light output."""
    return read(light, Ask(asked, (WHITE,)), stood, rng)


@given(found=st.integers(5, 95), edge=st.floats(30.0, 60.0), knee=st.floats(70.0, 95.0), seed=st.integers(0, 999))
@settings(max_examples=50, deadline=None)
def test_a_right_hand_is_never_suspected(found: int, edge: float, knee: float, seed: int) -> None:
    for sweep, light in sweeps(found, edge, knee):
        follow(sweep, light, np.random.default_rng(seed))


@given(
    asked=st.integers(42, 68), stood=st.one_of(st.integers(0, 35), st.integers(75, 100)), seed=st.integers(0, 99)
)
@settings(max_examples=80, deadline=None)
def test_light_that_is_out_of_order_tells_where_it_stood(asked: int, stood: int, seed: int) -> None:
    sweep, light = sweeps(40, 50.0, 85.0)[0]
    rng = np.random.default_rng(seed)
    positions = [lit(light, setting, setting, rng) for setting in (40, 10, 70)]
    told = slipped(sweep, [*positions, lit(light, asked, stood, rng)])
    assert told is not None
    # Below the lowest that was read there is nothing to go by.
    assert abs(told - max(stood, 10)) <= 1


@pytest.mark.parametrize("kind", [0, 1, 2])
def test_a_control_that_was_not_turned_is_noticed_at_the_first_trip(kind: int) -> None:
    sweep, light = sweeps((60, 40, 70)[kind], 50.0, 85.0)[kind]
    rng, found = np.random.default_rng(1), sweep.control.value
    start = sweep.next([])
    assert start is not None
    first = read(light, start, found, rng)
    ask = sweep.next([first])
    assert ask is not None
    assert ask.setting != found
    assert slipped(sweep, [first, read(light, ask, found, rng)]) == found
    assert slipped(sweep, [first, read(light, ask, ask.setting, rng)]) is None


@given(odd=st.integers(0, 5), off=st.sampled_from([-9, -6, 6, 11]), seed=st.integers(0, 99))
@settings(max_examples=60, deadline=None)
def test_a_bend_that_one_position_alone_makes_is_that_position(odd: int, off: int, seed: int) -> None:
    sweep, light = sweeps(40, 50.0, 85.0)[0]
    rng, asked = np.random.default_rng(seed), (60, 10, 30, 36, 33, 20)
    right = [lit(light, setting, setting, rng) for setting in asked]
    assert contradicted(sweep, right) is None
    assert contradicted(sweep, right[:4]) is None
    slip = [*right[:odd], lit(light, asked[odd], asked[odd] + off, rng), *right[odd + 1 :]]
    told = contradicted(sweep, slip)
    # At an end of the range a bend can be the screen's own.
    assert told == odd or (told is None and asked[odd] in (10, 60))


def test_a_position_on_the_wrong_side_of_its_neighbours_is_a_slip() -> None:
    rng = np.random.default_rng(3)
    contrast, bright = sweeps(72, 50.0, 85.0)[2]
    known = [read(bright, Ask(setting, clipping.RAMP), setting, rng) for setting in (60, 72, 96)]
    assert slipped(contrast, [*known, read(bright, Ask(84, clipping.RAMP), 60, rng)]) in range(59, 62)
    assert slipped(contrast, [*known, read(bright, Ask(84, clipping.RAMP), 94, rng)]) in range(92, 97)
    assert slipped(contrast, [*known, read(bright, Ask(84, clipping.RAMP), 84, rng)]) is None
    level, dark = sweeps(39, 50.0, 85.0)[1]
    known = [read(dark, Ask(setting, black.RAMP), setting, rng) for setting in (39, 60)]
    assert slipped(level, [*known, read(dark, Ask(52, black.RAMP), 60, rng)]) in range(59, 62)
    assert slipped(level, [*known, read(dark, Ask(52, black.RAMP), 52, rng)]) is None


@given(lamp=st.floats(0.2, 4.0), setting=st.integers(42, 60), seed=st.integers(0, 99))
@settings(max_examples=40, deadline=None)
def test_light_output_that_was_turned_along_is_no_slip_of_black(lamp: float, setting: int, seed: int) -> None:
    sweep, dark = sweeps(40, 46.0, 85.0)[1]
    rng = np.random.default_rng(seed)
    first = replace(read(dark, Ask(40, black.RAMP), 40, rng), white=100.0)
    second = read(lambda s, v: lamp * dark(s, v), Ask(setting, black.RAMP), setting, rng)
    assert slipped(sweep, [first, replace(second, white=100.0 * lamp)]) is None
