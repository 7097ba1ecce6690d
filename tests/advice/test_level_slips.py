"""A hand that slips in a sweep: told from the positions before, and never where the hand was right."""

from collections.abc import Callable

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from aequitone.advice.levels import BlackSweep, ClippingSweep, LightSweep, Position, Sweep, contradicted, slipped
from aequitone.advice.moves import ControlState
from aequitone.advice.roles import Role
from aequitone.colorimetry import REC709
from aequitone.colorimetry.arrays import Array

CHANNELS = np.linalg.inv(REC709.xyz_matrix)
SD = 0.0012


def control(found: int, role: Role = Role.LIGHT_OUTPUT) -> ControlState:
    return ControlState(role, "Control", 0, 100, 1, found)


def white(light: float) -> Array:
    return REC709.white.xyz()[None] * light


def sweeps(found: int, edge: float, knee: float) -> list[tuple[Sweep, Callable[[int], Array]]]:
    """Each kind of sweep, and the light of a screen."""
    return [
        (LightSweep(control(found), 110.0), lambda s: white(40.0 + 2.2 * s)),
        (
            BlackSweep(control(found, Role.BLACK_LEVEL), 100.0),
            lambda s: white(0.05 + 100.0 * max(0.0, 0.0045 * (s - edge)) ** 2.2),
        ),
        (
            ClippingSweep(control(found, Role.CONTRAST), CHANNELS, np.zeros(3), 100.0),
            lambda s: white(100.0 * (1.0 + 0.006 * (min(s, knee) - 80.0)) ** 2.2),
        ),
    ]


def follow(sweep: Sweep, light: Callable[[int], Array], rng: np.random.Generator) -> list[Position]:
    """Follow a sweep with a hand that does not slip; nothing may be suspected."""
    positions: list[Position] = []
    while (setting := sweep.next(positions)) is not None:
        positions.append(read(light, setting, setting, rng))
        assert slipped(sweep, positions) is None
    return positions


def read(light: Callable[[int], Array], asked: int, stood: int, rng: np.random.Generator) -> Position:
    xyz = light(stood)
    sd = np.maximum(SD * xyz, 0.0007)
    return Position(asked, xyz + rng.normal(0.0, 1.0, xyz.shape) * sd, sd)


@given(found=st.integers(5, 95), edge=st.floats(30.0, 60.0), knee=st.floats(70.0, 95.0), seed=st.integers(0, 999))
@settings(max_examples=80, deadline=None)
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
    positions = [read(light, setting, setting, rng) for setting in (40, 10, 70)]
    told = slipped(sweep, [*positions, read(light, asked, stood, rng)])
    assert told is not None
    # Below the lowest that was read there is nothing to go by.
    assert abs(told - max(stood, 10)) <= 1


def test_a_control_that_was_not_turned_is_noticed_at_the_first_trip() -> None:
    sweep, light = sweeps(60, 50.0, 85.0)[0]
    rng = np.random.default_rng(1)
    first = read(light, 60, 60, rng)
    setting = sweep.next([first])
    assert setting is not None
    assert setting != 60
    assert slipped(sweep, [first, read(light, setting, 60, rng)]) == 60
    assert slipped(sweep, [first, read(light, setting, setting, rng)]) is None


@given(odd=st.integers(0, 5), off=st.sampled_from([-9, -6, 6, 11]), seed=st.integers(0, 99))
@settings(max_examples=60, deadline=None)
def test_a_bend_that_one_position_alone_makes_is_that_position(odd: int, off: int, seed: int) -> None:
    sweep, light = sweeps(40, 50.0, 85.0)[0]
    rng, asked = np.random.default_rng(seed), (60, 10, 30, 36, 33, 20)
    right = [read(light, setting, setting, rng) for setting in asked]
    assert contradicted(sweep, right) is None
    assert contradicted(sweep, right[:4]) is None
    slip = [*right[:odd], read(light, asked[odd], asked[odd] + off, rng), *right[odd + 1 :]]
    told = contradicted(sweep, slip)
    # At an end of the range a bend can be the screen's own.
    assert told == odd or (told is None and asked[odd] in (10, 60))


def test_a_position_on_the_wrong_side_of_its_neighbours_is_a_slip() -> None:
    def at(setting: int, light: float) -> Position:
        return Position(setting, white(light), white(max(0.0005 * light, 0.001)))

    contrast = ClippingSweep(control(72, Role.CONTRAST), CHANNELS, np.zeros(3), 100.0)
    read_so_far = [at(72, 122.6), at(60, 95.5), at(84, 151.2), at(96, 151.3)]
    # White cannot be as dark at 83 as at 71, where it rises up to 84.
    assert slipped(contrast, [*read_so_far, at(83, 121.5)]) in (71, 72)
    assert slipped(contrast, [*read_so_far, at(83, 148.0)]) is None
    assert slipped(contrast, [*read_so_far, at(83, 151.2)]) is None
    level = BlackSweep(control(39, Role.BLACK_LEVEL), 100.0)
    black = [at(39, 0.11), at(54, 0.13), at(84, 1.89), at(68, 0.53)]
    # Black cannot be above the line to where it has risen.
    assert slipped(level, [*black, at(60, 0.52)]) in (67, 68)
    assert slipped(level, [*black, at(60, 0.22)]) is None
