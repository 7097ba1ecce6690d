"""Multi-point advice: the grid of controls, what their steps do, which level comes next, and smooth ramps."""

import copy
import pickle
from dataclasses import replace

import numpy as np
import pytest
from benchmarks.guards import recognised
from benchmarks.point_guards import OTHER_LEVEL, point_grounds
from hypothesis import given, settings
from hypothesis import strategies as st

from aequitone.advice.moves import ControlState, Move, trip_between
from aequitone.advice.points import (
    BEND,
    Grid,
    PointEffect,
    PointPlanner,
    Tracked,
    ladder_of,
    most_bent,
    smoothed,
    smoothing,
)
from aequitone.advice.points.level import LevelResponses, slip_words
from aequitone.advice.points.words import ended_words, promise_words, ramp_words, why_words
from aequitone.advice.roles import (
    POINT_COUNTS,
    ROLES,
    Role,
    RoleKind,
    in_ledger,
    is_role,
    point_of,
    point_percents,
    point_role,
    role_of,
    role_words,
)
from aequitone.advice.two_point.guards import Mishap, judge
from aequitone.advice.two_point.level_readings import log_light
from aequitone.colorimetry import REC709
from aequitone.colorimetry.arrays import Array
from aequitone.reference import target_named

TARGET = target_named("rec709-2.2")
WHITE, STEP = 100.0, 0.002


def controls(count: int = 10, letters: str = "rgby", at: int = 0) -> tuple[ControlState, ...]:
    return tuple(
        ControlState(point_role(letter, percent), f"{percent} % {letter.upper()}", -50, 50, 1, at)
        for percent in point_percents(count)
        for letter in letters
    )


def screen(grid: Grid, bent: Array, joined: bool = True) -> Array:
    """XYZ (L, 3) of the ladder on a screen whose controls add to the signal; `bent` (L, 3) is what is wrong."""
    percents = np.array(ladder_of(grid.controls, whole=True))
    dark_first = np.argsort(grid.signal)
    v = percents / 100.0
    added = np.stack(
        [np.interp(v, grid.signal[dark_first], grid.offsets[dark_first, c]) for c in range(3)], axis=-1
    )
    if not joined:
        added = np.where(np.isin(percents, grid.percents)[:, None], added, 0.0)
    return REC709.xyz(WHITE * np.maximum(v[:, None] + bent + STEP * added, 0.0) ** 2.2)


def known(effect: PointEffect, joined: float = 0.9) -> PointEffect:
    """The effect as usual, with hardly a doubt."""
    mean = effect.mean.copy()
    mean[len(effect.signal) + 3] = joined
    return replace(effect, mean=mean, doubt=effect.doubt * 1e-4)


def tracked(grid: Grid, xyz: Array, noise: float = 1e-6) -> Tracked:
    percents = np.array(ladder_of(grid.controls, whole=True))
    return Tracked(percents, xyz, xyz * noise, np.repeat(grid.offsets[None], len(percents), axis=0), 0.0)


def evened(grid: Grid, bent: Array, planner: PointPlanner) -> tuple[Grid, list[Move], PointEffect]:
    """Follow the advice on the made-up screen until it proposes nothing more."""
    effect, moves, found = PointEffect.prior(grid.signal, 50.0), [], grid
    for _ in range(3):
        open_levels = [i for i, percent in enumerate(grid.percents) if percent > 0]
        while open_levels:
            now = tracked(grid, screen(grid, bent))
            proposal = planner.propose(now, effect, grid, open_levels)
            if proposal is None:
                break
            level, move = proposal
            fresh = grid.moved(move.changes)
            change = log_light(screen(fresh, bent), REC709) - log_light(screen(grid, bent), REC709)
            row = int(np.flatnonzero(now.percents == grid.percents[level])[0])
            seen = change.reshape(-1, 3)[[row]]
            effect = effect.learn(grid.signal[[level]], fresh.offsets - grid.offsets, seen, np.full((1, 3), 1e-8))
            grid = fresh
            moves.append(move)
            open_levels = [i for i in open_levels if i > level]
        while (way := smoothing(effect, grid, found)) is not None:
            grid = grid.moved(way[1].changes)
            moves.append(way[1])
    return grid, moves, effect


def test_a_role_of_a_point_is_a_value_of_channel_and_level() -> None:
    role = point_role("b", 35)
    assert role == role_of("multi-b-35")
    assert role.key == "multi-b-35"
    assert role not in ROLES
    assert point_of(role) == ("b", 35)
    assert role_words(role) == "blue at 35 %"
    assert in_ledger(role)
    assert point_of(Role.GAIN_R) is None
    assert all(role_of(each.key) == each for each in ROLES)
    assert pickle.loads(pickle.dumps((role, Role.GAIN_R))) == (role, Role.GAIN_R)
    assert copy.deepcopy(role) == role
    with pytest.raises(AttributeError):
        role.level = 40  # type: ignore[misc]


@pytest.mark.parametrize(
    "nonsense", ["", "red", "gain-x", "multi-x-35", "multi-r-101", "multi-r-", "multi-r-3.5", "multi-r-035"]
)
def test_a_key_of_no_role_is_refused(nonsense: str) -> None:
    assert not is_role(nonsense)
    with pytest.raises(ValueError, match="there is no role|has no level"):
        role_of(nonsense)


@pytest.mark.parametrize(
    "wrong",
    [
        (RoleKind.GAIN, "", None),
        (RoleKind.GAIN, "y", None),
        (RoleKind.POINT, "r", None),
        (RoleKind.POINT, "r", 101),
        (RoleKind.CONTRAST, "r", None),
        (RoleKind.BIAS, "b", 30),
        (RoleKind.GAIN, "rg", None),
    ],
)
def test_a_role_has_the_channel_and_level_of_its_kind(wrong: tuple[RoleKind, str, int | None]) -> None:
    with pytest.raises(ValueError, match=f"a control of {wrong[0].value} has no"):
        Role(*wrong)


@pytest.mark.parametrize("count", POINT_COUNTS)
def test_every_number_of_levels_ends_at_white(count: int) -> None:
    percents = point_percents(count)
    assert len(set(percents)) == count
    assert percents[-1] == 100
    assert percents[0] == (0 if count in (11, 21) else round(100 / count))


def test_a_grid_reads_bright_to_dark_and_adds_the_light() -> None:
    grid = Grid.of(reversed(controls(10)))
    assert grid.percents == tuple(range(100, 0, -10))
    moved = grid.moved(grid.changes(2, np.array([2, 2, -1])))
    assert moved.offsets[2].tolist() == [2.0, 2.0, -1.0]
    assert not moved.offsets[[0, 1, 3]].any()


def test_what_the_channels_share_is_turned_as_light() -> None:
    grid = Grid.of(controls(10))
    names = [change.words for change in grid.changes(0, np.array([-3, -3, -3]))]
    assert names == ["100 % Y down 3"]
    without = Grid.of(controls(10, "rgb"))
    assert len(without.changes(0, np.array([-3, -3, -3]))) == 3


def test_end_stops_are_kept_and_light_helps_beyond_them() -> None:
    at_stop = tuple(
        ControlState(c.role, c.name, -50, 50, 1, 50 if c.role == point_role("r", 50) else 0) for c in controls(10)
    )
    grid = Grid.of(at_stop)
    level = grid.percents.index(50)
    turned = grid.moved(grid.changes(level, np.array([4, 0, 0])))
    assert turned.offsets[level].tolist() == [54.0, 0.0, 0.0]
    assert all(c.lowest <= c.value <= c.highest for c in turned.controls)
    without = Grid.of(control for control in at_stop if control.role.channel != "y")
    assert [change.words for change in without.changes(level, np.array([4, -1, 0]))] == ["50 % G down 1"]


def test_a_level_that_lacks_a_channel_is_named() -> None:
    with pytest.raises(ValueError, match="lacks B at 30 %"):
        Grid.of(c for c in controls(10) if c.role != point_role("b", 30))


TENTHS = np.arange(10, 0, -1) / 10.0


def test_a_step_is_learnt_and_neighbours_learn_along() -> None:
    effect = PointEffect.prior(TENTHS, 50.0)
    steps = np.zeros((10, 3))
    steps[0] = [5.0, 0.0, -3.0]
    true = effect.own * 1.4
    learnt = effect.learn(TENTHS[[0]], steps, true[0] * steps[[0]], np.full((1, 3), 1e-8))
    assert learnt.predict(TENTHS[[0]], steps)[0] == pytest.approx(true[0] * steps[0], rel=0.05, abs=1e-6)
    assert abs(learnt.own[1] / true[1] - 1.0) < abs(effect.own[1] / true[1] - 1.0) / 2.0
    assert np.all(np.diag(learnt.covariance) <= np.diag(effect.covariance) + 1e-18)


@pytest.mark.parametrize("joined", [1.0, 0.0])
def test_what_lies_between_levels_is_learnt(joined: float) -> None:
    effect = PointEffect.prior(TENTHS, 50.0)
    steps = np.zeros((10, 3))
    steps[3:5] = 6.0
    # Right at 70 and 60 %, and half way between them as on such a screen.
    at = np.array([0.7, 0.65, 0.6])
    change = effect.predict(at, steps)
    change[1] = joined * change[[0, 2]].mean(axis=0)
    learnt = effect.learn(at, steps, change, np.full((3, 3), 1e-6))
    assert learnt.joined == pytest.approx(joined, abs=0.25)
    assert learnt.joined_sd < effect.joined_sd / 1.8


def test_what_leaks_and_what_acts_beside_its_name_is_learnt_from_whole_ladders() -> None:
    rng, v = np.random.default_rng(5), np.arange(20, 0, -1) / 20.0
    effect = PointEffect.prior(v, 50.0)
    leak, off = 0.12, np.where(v < 1.0, rng.uniform(-0.015, 0.015, 20), 0.0)
    dark_first = np.argsort(v)

    def true(steps: Array) -> Array:
        padded = np.pad(steps, ((1, 1), (0, 0)), mode="edge")
        acts = (1.0 - 2.0 * leak) * steps + leak * (padded[:-2] + padded[2:])
        moved = [np.interp(v, (v + off)[dark_first], acts[dark_first, c]) for c in range(3)]
        return np.stack(moved, axis=-1) * effect.usual[:, None] * 0.8

    def missed(of: PointEffect) -> float:
        steps = np.random.default_rng(6).integers(-8, 9, (20, 3)).astype(float)
        return float(np.abs(of.predict(v, steps) - true(steps)).mean())

    learnt = effect
    for _ in range(3):
        steps = rng.integers(-8, 9, (20, 3)).astype(float)
        learnt = learnt.learn(v, steps, true(steps), np.full((20, 3), 1e-6))
    assert missed(learnt) < missed(effect) / 4.0
    assert np.all(np.diag(learnt.doubt) <= np.diag(effect.doubt) + 1e-12)


def test_all_levels_at_once_even_out_a_curve_in_two_trips() -> None:
    grid = found = Grid.of(controls(20))
    v = np.array(ladder_of(grid.controls, whole=True)) / 100.0
    wrong = np.stack([0.02 * np.sin(np.pi * v), -0.01 * np.sin(np.pi * v), 0.015 * v * (1.0 - v)], axis=-1)
    planner, effect = PointPlanner(TARGET, 0.02), PointEffect.prior(grid.signal, 50.0)
    before = float(planner.delta(tracked(grid, screen(grid, wrong)), screen(grid, wrong)).mean())
    told = []
    for _ in range(2):
        now = tracked(grid, screen(grid, wrong))
        move = planner.propose_together(now, effect, grid, range(20))
        assert move is not None
        assert move.expected is not None
        fresh = grid.moved(move.changes)
        change = (log_light(screen(fresh, wrong), REC709) - log_light(screen(grid, wrong), REC709)).reshape(-1, 3)
        effect = effect.learn(v, fresh.offsets - grid.offsets, change, np.full((len(v), 3), 1e-8))
        grid = fresh
        told.append(move.expected)
    after = float(planner.delta(tracked(grid, screen(grid, wrong)), screen(grid, wrong)).mean())
    assert before > 1.5
    assert after < 0.25
    assert most_bent(effect, grid) <= BEND
    # What is foretold of a reading has the wander of light in it, which this screen has not.
    assert after < told[1].de2000_after < told[0].de2000_after
    # Before is told as it would read once more.
    assert told[0].de2000_before == pytest.approx(before, rel=1e-3)
    assert found.offsets.any() == np.False_


def test_a_ramp_is_smoothed_by_as_little_as_it_takes() -> None:
    found = Grid.of(controls(20))
    effect = PointEffect.prior(found.signal, 50.0)
    offsets = np.zeros((20, 3))
    offsets[5:15] = 4.0
    offsets[9, 1] = 12.0
    bent = found.stood_at(offsets)
    assert most_bent(effect, bent) > BEND
    smooth = smoothed(effect, bent, found)
    assert most_bent(effect, smooth) <= BEND
    moved = np.abs(smooth.offsets - bent.offsets)
    assert moved[:, 1].sum() > 0.0
    # Red and blue bend at their ends alone; the step in green goes back and is not put on the others.
    assert moved.sum() < np.abs(bent.offsets).sum() / 3.0
    assert smoothed(effect, found, found) == found


def test_a_bent_curve_is_evened_out_and_stays_smooth() -> None:
    grid = Grid.of(controls(20))
    percents = np.array(ladder_of(grid.controls, whole=True))
    v = percents / 100.0
    wrong = np.stack([0.02 * np.sin(np.pi * v), -0.01 * np.sin(np.pi * v), 0.015 * v * (1.0 - v)], axis=-1)
    planner = PointPlanner(TARGET, 0.02)
    before = planner.delta(tracked(grid, screen(grid, wrong)), screen(grid, wrong))
    after_grid, moves, effect = evened(grid, wrong, planner)
    after = planner.delta(tracked(after_grid, screen(after_grid, wrong)), screen(after_grid, wrong))
    assert before.mean() > 1.5
    assert after.mean() < 0.25
    assert most_bent(effect, after_grid) <= BEND
    first = [point_of(move.changes[0].role)[1] for move in moves][:5]  # type: ignore[index]
    assert first == sorted(first, reverse=True)


@settings(max_examples=10, deadline=None)
@given(st.lists(st.floats(-0.03, 0.03), min_size=10, max_size=10), st.sampled_from(("r", "g", "b")))
def test_no_jagged_error_is_copied_into_the_ramp(jags: list[float], channel: str) -> None:
    grid = Grid.of(controls(10))
    percents = np.array(ladder_of(grid.controls, whole=True))
    wrong = np.zeros((len(percents), 3))
    wrong[:, "rgb".index(channel)] = np.interp(percents / 100.0, np.arange(1, 11) / 10.0, jags)
    wrong[0] = 0.0
    after, _, effect = evened(grid, wrong, PointPlanner(TARGET, 0.02))
    assert most_bent(effect, after) <= BEND + 0.02


def test_bumps_of_their_own_are_kept_small() -> None:
    grid = Grid.of(controls(10))
    effect = known(PointEffect.prior(grid.signal, 50.0), joined=0.0)
    wrong = np.zeros((len(ladder_of(grid.controls, whole=True)), 3))
    wrong[8] = 0.08
    now = tracked(grid, screen(grid, wrong, joined=False))
    for level in range(10):
        proposal = PointPlanner(TARGET, 0.02).propose(now, effect, grid, [level])
        if proposal is not None:
            grid_after = grid.moved(proposal[1].changes)
            assert most_bent(effect, grid_after) <= BEND


def test_what_the_meter_cannot_see_is_not_turned() -> None:
    grid = Grid.of(controls(10))
    wrong = np.zeros((len(ladder_of(grid.controls, whole=True)), 3))
    wrong[6, 0] = 0.0025
    exact, noisy = tracked(grid, screen(grid, wrong)), tracked(grid, screen(grid, wrong), noise=0.02)
    planner, effect = PointPlanner(TARGET, 0.02), PointEffect.prior(grid.signal, 50.0)
    assert planner.propose(exact, effect, grid, range(10)) is not None
    assert planner.propose(noisy, effect, grid, range(10)) is None


@pytest.mark.parametrize(("channel", "off", "turned"), [(2, 0.01, True), (2, -0.01, False)])
def test_white_is_only_taken_from(channel: int, off: float, turned: bool) -> None:
    grid = Grid.of(controls(10))
    wrong = np.zeros((len(ladder_of(grid.controls, whole=True)), 3))
    wrong[0, channel] = off
    now, effect = tracked(grid, screen(grid, wrong)), PointEffect.prior(grid.signal, 50.0)
    proposal = PointPlanner(TARGET, 0.02).propose(now, effect, grid, [0])
    assert (proposal is not None) is turned
    if proposal is not None:
        assert (grid.moved(proposal[1].changes).offsets[0] <= 0.0).all()


def test_a_black_that_came_up_shuts_the_darkest_level() -> None:
    grid = Grid.of(controls(20))
    wrong = np.zeros((20, 3))
    wrong[-1] = -0.02
    now, effect = tracked(grid, screen(grid, wrong)), PointEffect.prior(grid.signal, 50.0)
    assert PointPlanner(TARGET, 0.02).propose(now, effect, grid, [19]) is not None
    assert PointPlanner(TARGET, 0.02, floor=True).propose(now, effect, grid, [19]) is None


def test_levels_between_are_read_only_where_controls_are_few() -> None:
    assert ladder_of(controls(10), whole=True) == tuple(float(p) for p in range(100, 0, -5))
    assert ladder_of(controls(10), whole=False) == tuple(float(p) for p in range(100, 0, -10))
    assert len(ladder_of(controls(42), whole=True)) == 42
    assert 0.0 not in ladder_of(controls(11), whole=True)


@pytest.mark.parametrize(
    ("real", "mishap", "said"),
    [
        ((4, -4, 0, 0), None, ""),
        ((0, 0, 0, 0), Mishap.NOT_TURNED, "Light at 50 % did not move as it should"),
        ((-4, 4, 0, 0), Mishap.WRONG_WAY, "all was turned the other way. The next move takes that back"),
        ((0, -4, 4, 0), Mishap.WRONG_CONTROL, "50 % B was turned by +4 instead of 50 % R"),
        ((4, 0, 0, 0), Mishap.NOT_TURNED, "50 % G was not turned"),
        ((8, -4, 0, 0), Mishap.WRONG_COUNT, "50 % R was turned by +8 steps instead of +4"),
    ],
)
def test_slips_are_told_from_what_light_did(real: tuple[int, ...], mishap: Mishap | None, said: str) -> None:
    grid = Grid.of(controls(10))
    effect = known(PointEffect.prior(grid.signal, 50.0))
    responses, asked = LevelResponses(effect, 5, grid.light), np.array([4.0, -4.0, 0.0, 0.0])
    told = judge(responses, grid.rows[5], asked, responses.predict(np.array(real, float)), np.full(3, 1e-6))
    assert told.mishap is mishap
    assert told.steps.tolist() == list(real)
    if said:
        assert said in slip_words(told, grid.rows[5], asked, 50)


def test_a_bump_at_one_level_is_no_turn() -> None:
    grid = Grid.of(controls(10))
    effect = PointEffect.prior(grid.signal, 50.0)
    responses, asked = LevelResponses(effect, 5, grid.light), np.array([2.0, 0.0, 0.0, 0.0])
    told = judge(responses, grid.rows[5], asked, responses.predict(asked) - 0.15, np.full(3, 1e-6))
    assert told.mishap is Mishap.BUMP
    assert "The ladder is read from the start" in slip_words(told, grid.rows[5], asked, 50)


def test_on_the_stand_ins_slips_at_a_level_are_seen_and_right_moves_are_left_alone() -> None:
    places = point_grounds(units=3)
    right, _, _ = recognised(None, 200, places)
    assert 200 - right[None] <= 2
    ways, _, plain = recognised(Mishap.WRONG_WAY, 100, places)
    assert ways[Mishap.WRONG_WAY] > 40
    assert plain > 0.4
    other, _, _ = recognised(OTHER_LEVEL, 100, places)
    assert other[Mishap.NOT_TURNED] > 30


def test_what_is_said() -> None:
    grid = Grid.of(controls(10))
    wrong = np.zeros((len(ladder_of(grid.controls, whole=True)), 3))
    wrong[10] = [0.02, 0.0, 0.0]
    now, effect, planner = (
        tracked(grid, screen(grid, wrong)),
        PointEffect.prior(grid.signal, 50.0),
        PointPlanner(TARGET, 0.02),
    )
    level = grid.percents.index(50)
    proposal = planner.propose(now, effect, grid, [level])
    assert proposal is not None
    why = why_words(planner, now, effect, grid, *proposal)
    assert why.startswith("Seen: 50 % warm")
    # The light that is named is that of the reading, against the target beside the same white.
    seen, row = screen(grid, wrong)[:, 1], list(now.percents).index(50)
    light = (seen[row] / (seen[list(now.percents).index(100)] * 0.5**2.2) - 1.0) * 100.0
    assert abs(float(why.partition("light ")[2].partition(" %")[0]) - light) < 0.3
    assert "this screen is not known yet" in why
    assert "promises enough to be worth a trip" in promise_words(0.4, 0.5, 0.5, 0, 0, 1.0)
    told = promise_words(0.4, 0.5, 0.2, 1, 2, 6.4)
    assert "reads ΔE 0.50 on average, 0.40 without the meter's noise" in told
    assert "Turning 1 level should bring the reading to about 0.20, in about 2 trips and 6 min." in told
    assert ended_words(0.5, 0.3, 0.05, (50.0, 0.4), 0, "").startswith("No level was turned")
    ended = ended_words(0.5, 0.3, 0.05, (50.0, 0.4), 3, "Ramps.")
    assert ended.endswith("at worst 0.40 at 50 %, with 3 trips to the menu. Ramps.")


def test_a_ramp_is_called_smooth_only_where_it_is_known_that_levels_are_joined() -> None:
    grid = Grid.of(controls(10))
    offsets = np.zeros((10, 3))
    offsets[4] = 2.0
    gently, prior = grid.stood_at(offsets), PointEffect.prior(grid.signal, 50.0)
    steeply = grid.stood_at(10.0 * offsets)
    assert ramp_words(known(prior), gently).startswith("Ramps stay smooth: their slope changes by 8 % at most")
    assert ramp_words(known(prior), steeply).startswith("Look at a ramp: its slope changes by 80 % at most")
    assert "was not seen. If so, its slope changes by 8 %" in ramp_words(prior, gently)
    assert ramp_words(known(prior, joined=0.1), gently).startswith("Each level acts by itself here")


def test_a_trip_of_many_levels_is_told_by_what_they_are() -> None:
    grid = Grid.of(controls(10))
    offsets = np.zeros((10, 3))
    offsets[2:7] = [1.0, 1.0, -2.0]
    together = trip_between(grid.controls, grid.stood_at(offsets).controls)
    assert together.levels == (80, 70, 60, 50, 40)
    assert together.summary == "5 levels from 80 to 40 %, 10 controls"
    one = Move(grid.changes(3, np.array([0.0, 2.0, 0.0])))
    assert one.summary == one.words == "70 % G up 2"


def test_no_levels_have_no_light() -> None:
    # Nothing was read again after a trip that only undid another.
    assert log_light(np.zeros((0, 1, 3)), REC709).shape == (0, 3)
