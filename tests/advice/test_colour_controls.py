"""Colour management: what controls do is learnt, moves bring colours nearer, odd controls and slips are told."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from aequitone.advice.colours import (
    Belief,
    ColourEffect,
    ColourPlanner,
    Observation,
    Oddity,
    Seen,
    explain,
    judge_turning,
)
from aequitone.advice.colours.effect import colour_shares, direction
from aequitone.advice.colours.explanation import direction_words
from aequitone.advice.colours.planner import MOST_ADDED
from aequitone.advice.moves import ControlState, moved, steps_of
from aequitone.advice.roles import COLOUR_ORDER, Role, RoleKind
from aequitone.advice.two_point.guards import Mishap
from aequitone.advice.two_point.guards import words as guard_words
from aequitone.colorimetry.arrays import Array
from aequitone.reference import target_named
from aequitone.reference.saturations import MIXED, SIX

TARGET = target_named("rec709-2.2/added")
_WHITE = np.ones((1, 3))
NAMES = [f"{name} {share}" for name in COLOUR_ORDER for share in (25, 50, 75, 100)]


def control(colour: str, amount: str, value: int = 0, most: int = 50) -> ControlState:
    role = Role(RoleKind.COLOUR_MANAGEMENT, colour, amount=amount)
    return ControlState(role, f"{colour} {amount}", -most, most, 1, value)


def controls(*amounts: str, most: int = 50) -> tuple[ControlState, ...]:
    return tuple(control(colour, amount, most=most) for colour in COLOUR_ORDER for amount in amounts)


HSL = controls("hue", "saturation", "lightness")


def colours() -> Array:
    """Four saturations of each of the six in linear light, and white last."""
    full = np.array([MIXED[name] for name in COLOUR_ORDER])
    pale = [(1.0 - share) + share * full for share in (0.25, 0.5, 0.75, 1.0)]
    return np.vstack([0.5 * np.stack(pale, axis=1).reshape(-1, 3), _WHITE])


def did(steps: Array, block: Array | None = None, step: float = 0.005, as_named: Array | None = None) -> Array:
    """What a block adds by the truth: each control its share of the colour, and nothing else."""
    linear = colours() @ (np.eye(3) if block is None else block).T
    rows = [COLOUR_ORDER.index(each.role.channel) for each in HSL]
    along = np.array([direction(each.role) for each in HSL])
    works = steps if as_named is None else as_named @ steps
    return np.asarray((colour_shares(linear)[:, rows] * works) @ along * step)


def told(steps: Array, change: Array) -> Observation:
    every = np.repeat(steps[None], len(change), axis=0)
    return Observation(colours(), every, change, np.full(change.shape, 4e-8))


def steps_for(seed: int) -> Array:
    return np.rint(np.random.default_rng(seed).normal(0.0, 6.0, len(HSL)))


@settings(deadline=None, max_examples=50)
@given(st.tuples(*[st.floats(0.0, 1.0)] * 3))
def test_a_colour_is_its_grey_its_secondary_and_its_primary(rgb: tuple[float, float, float]) -> None:
    linear = np.array([rgb])
    shares = colour_shares(linear)
    mixed = shares @ np.array([MIXED[name] for name in COLOUR_ORDER]) + linear.min()
    if len({*rgb}) == 3:
        assert mixed == pytest.approx(linear, abs=1e-12)
        assert (shares > 0.0).sum() <= 2


def test_the_colours_that_have_controls_are_those_that_are_read() -> None:
    assert COLOUR_ORDER == SIX


def test_what_controls_do_is_learnt_from_a_few_moves() -> None:
    belief = Belief.prior(HSL)
    unsure = belief.best.doubt
    for seed in range(3):
        belief = belief.learn(told(steps_for(seed), did(steps_for(seed))))
    steps = steps_for(9)
    assert belief.change(colours(), steps[None]) == pytest.approx(did(steps), abs=0.004)
    assert (belief.best.doubt < unsure).mean() > 0.9
    # And how sure it is holds.
    off = np.abs(belief.change(colours(), steps[None]) - did(steps))
    assert (off <= 3.0 * np.sqrt(belief.variance(colours(), steps[None]))).mean() > 0.95


def test_moves_together_alone_and_of_each_colour_are_foretold_alike() -> None:
    effect = Belief.prior(HSL).learn(told(steps_for(1), did(steps_for(1)))).best
    reach, moves = effect.reach(colours()), np.array([steps_for(seed) for seed in range(4)])
    together = moves[:, None]
    each = np.repeat(together, len(colours()), axis=1)
    assert reach.change(together) == pytest.approx(reach.change(each), abs=1e-12)
    assert reach.variance(together) == pytest.approx(reach.variance(each), abs=1e-12)
    assert reach.variance(together)[2] == pytest.approx(reach.variance(moves[2][None]), abs=1e-12)
    # Twice as far moves colours twice as much; a move that turns nothing has no doubt.
    assert reach.change(2.0 * together) == pytest.approx(2.0 * reach.change(together))
    assert not reach.variance(np.zeros((1, len(HSL)))).any()


@pytest.mark.parametrize(("red", "blue"), [(0.1, -0.3), (-0.15, 0.1), (0.0, 0.0)])
def test_what_white_is_to_the_block_is_found(red: float, blue: float) -> None:
    white = np.exp([red, 0.0, blue])
    block = np.diag(white / white.max())
    belief = Belief.prior(HSL)
    for seed in range(3):
        belief = belief.learn(told(steps_for(seed), did(steps_for(seed), block)))
    seen = np.diag(belief.best.block)
    assert seen == pytest.approx(np.diag(block), abs=0.03)


def test_exchanged_and_dead_controls_are_told_and_sound_ones_are_not() -> None:
    exchanged, dead = np.eye(len(HSL)), np.eye(len(HSL))
    exchanged[[4, 16]] = exchanged[[16, 4]]
    dead[3, 3] = 0.0
    for wiring, odd in ((exchanged, Oddity(4, 16)), (dead, Oddity(3, works=False)), (np.eye(len(HSL)), None)):
        belief = Belief.prior(HSL)
        alone = np.zeros(len(HSL))
        alone[3], alone[4] = 8.0, 9.0
        for steps in (steps_for(1), steps_for(2), alone):
            belief = belief.learn(told(steps, did(steps, as_named=wiring)))
        found, odds = belief.suspected()
        assert (found and replace(found, odds=1.0)) == odd
        if found is not None:
            # A control that does little is expected of some screens, so a dead one is proven by less.
            assert odds > (200.0 if found.works else 1.0)
            under = belief.under(found)
            change = under.change(colours(), alone[None])
            assert change == pytest.approx(did(alone, as_named=wiring), abs=0.004)
            assert HSL[found.first].name in found.words(HSL)


def seen(off: Array) -> Seen:
    wanted = colours()
    return Seen(wanted + off, wanted)


def planner(least_gain: float = 0.1) -> ColourPlanner:
    return ColourPlanner(TARGET, np.ones(len(colours())), least_gain)


def test_a_move_brings_colours_nearer_and_keeps_white() -> None:
    wrong = steps_for(4)
    stands = seen(-did(wrong))
    belief = Belief.prior(HSL)
    move = planner().propose(stands, belief, HSL)
    assert move is not None
    assert move.expected is not None
    assert move.expected.de2000_after < move.expected.de2000_before
    steps = steps_of(move, HSL)
    before, after = (planner().errors(at, stands.wanted) for at in (stands.linear, stands.linear + did(steps)))
    assert after.mean() < 0.6 * before.mean()
    assert after[-1] < 0.05


def test_no_move_where_nothing_is_wrong_and_none_of_other_controls() -> None:
    assert planner().propose(seen(np.zeros((25, 3))), Belief.prior(HSL), HSL) is None
    move = planner(0.01).propose(seen(-did(steps_for(4))), Belief.prior(HSL), HSL, free=[0, 1, 2])
    assert move is not None
    assert {change.role.channel for change in move.changes} == {"red"}


@settings(deadline=None, max_examples=4)
@given(seed=st.integers(0, 500), most=st.sampled_from([4, 10, 50]))
def test_a_move_stays_within_end_stops_and_the_bound_of_ramps(seed: int, most: int) -> None:
    block = controls("hue", "saturation", "lightness", most=most)
    belief = Belief.prior(block)
    move = planner(0.0).propose(seen(-3.0 * did(steps_for(seed))), belief, block)
    if move is None:
        return
    to = moved(block, steps_of(move, block))
    assert all(each.lowest <= each.value <= each.highest for each in to)
    added = np.abs(belief.best.full) * np.abs([[each.value] for each in to])
    assert added.max() <= MOST_ADDED + 1e-9


def test_a_step_that_everything_hangs_on_is_not_taken_for_a_slip() -> None:
    effect, asked = ColourEffect.prior(HSL), steps_for(6)
    judged = judge_turning(effect, HSL, asked, told(asked, did(asked, step=0.006)))
    assert judged.mishap is None
    assert guard_words(judged, HSL, asked) == ""


def test_a_control_that_was_turned_the_other_way_is_told() -> None:
    belief = Belief.prior(HSL)
    for seed in range(5):
        belief = belief.learn(told(steps_for(seed), did(steps_for(seed))))
    asked = np.zeros(len(HSL))
    asked[[0, 1, 5]] = 9.0, 4.0, -6.0
    turned = asked.copy()
    turned[0] = -9.0
    judged = judge_turning(belief.best, HSL, asked, told(asked, did(turned)))
    assert judged.mishap is Mishap.WRONG_WAY
    assert judged.steps.tolist() == turned.tolist()
    assert HSL[0].name in guard_words(judged, HSL, asked)


@pytest.mark.parametrize(
    ("role", "sign", "words"),
    [
        (("red", "hue"), 1.0, "towards yellow"),
        (("red", "hue"), -1.0, "towards magenta"),
        (("green", "hue"), 1.0, "towards cyan"),
        (("blue", "saturation"), -1.0, "paler"),
        (("cyan", "saturation"), 1.0, "stronger"),
        (("yellow", "lightness"), -1.0, "darker"),
    ],
)
def test_a_turn_is_said_as_a_direction(role: tuple[str, str], sign: float, words: str) -> None:
    change = direction(control(*role).role)
    assert direction_words(planner(), control(*role).role, 0.02 * sign * change) == words


def test_the_reasons_name_what_is_furthest_off_and_what_else_there_was() -> None:
    stands, belief = seen(-did(steps_for(4))), Belief.prior(HSL)
    move = planner().propose(stands, belief, HSL)
    assert move is not None
    words = explain(planner(), stands, belief, HSL, move, NAMES)
    worst = NAMES[int(planner().errors(stands.linear, stands.wanted)[:-1].argmax())]
    assert words.startswith(f"Furthest off: {worst} ΔE")
    assert "Turning this leaves ΔE" in words
    assert "nothing" in words
    assert "half of it" in words
