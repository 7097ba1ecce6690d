"""Which control, how far, and when to stop: on made-up screens, without any stand-in."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from aequitone.advice.moves import ControlState, Expectation, Move, trip_between
from aequitone.advice.roles import TWO_POINT, Role
from aequitone.advice.two_point.level_readings import WANDER, Seen, believed, log_light
from aequitone.advice.two_point.mover import Mover, Stop
from aequitone.advice.two_point.responses import Responses
from aequitone.advice.two_point.surprises import Surprises
from aequitone.advice.two_point.words import stop_words
from aequitone.colorimetry import REC709
from aequitone.reference import target_named

TARGET = target_named("rec709-2.2")
MOVER = Mover(TARGET, 80.0, 30.0, 0.05)
LEVELS = [100.0, 80.0, 30.0]
AIM = TARGET.grey(LEVELS, 120.0)


def controls(value: int = 50) -> tuple[ControlState, ...]:
    return tuple(ControlState(role, role.key, 0, 100, 1, value) for role in TWO_POINT)


def seen(off: np.ndarray, noise: float = 0.0005) -> Seen:
    """A screen whose log light is off the target by `off` (9,)."""
    xyz = REC709.xyz(np.exp(log_light(AIM, REC709) + off).reshape(3, 3))
    return Seen(xyz, xyz * noise)


def sure(responses: Responses) -> Responses:
    """The same responses, with nearly no doubt."""
    return replace(responses, covariance=responses.covariance * 1e-4)


PRIOR = Responses.prior(controls())


def test_on_target_there_is_nothing_to_turn() -> None:
    assert MOVER.propose(seen(np.zeros(9)), PRIOR, controls()) is Stop.MET


@pytest.mark.parametrize("noise", [1e-6, 0.0005, 0.003])
def test_a_screen_is_known_no_better_than_its_light_stands_still(noise: float) -> None:
    rng, reads = np.random.default_rng(5), seen(np.tile([0.01, -0.01, 0.03], 3), noise)
    # Two looks at a screen that wanders so much differ by WANDER, half of it in all channels of a level alike.
    wandered = rng.normal(0.0, WANDER / 2.0, (400, 9)) + np.repeat(
        rng.normal(0.0, WANDER / 2.0, (400, 3)), 3, axis=1
    )
    noisy = [seen(off + np.tile([0.01, -0.01, 0.03], 3)).xyz for off in wandered]
    worse = [MOVER.errors(xyz * (1.0 + noise * rng.standard_normal((3, 3))))[1:].max() for xyz in noisy]
    assert MOVER.doubt(reads) == pytest.approx(np.std(worse), rel=0.2)
    # So few draws leave a tenth of a spread uncertain.
    assert MOVER.worst_sd(reads) < 1.1 * MOVER.doubt(reads)


@given(st.integers(0, 10_000))
@settings(max_examples=40, deadline=None)
def test_what_known_controls_did_is_taken_back_in_one_trip(seed: int) -> None:
    steps = np.random.default_rng(seed).integers(-9, 10, 6).astype(float)
    # A screen that was seen to have room above.
    roomy = replace(seen(PRIOR.predict(steps)), proven=np.full(3, 9.0))
    move = MOVER.propose(roomy, sure(PRIOR), controls())
    if isinstance(move, Stop):
        assert move is Stop.MET
        return
    taken = {change.role: change.by for change in move.changes}
    back = np.array([taken.get(role, 0) for role in TWO_POINT], dtype=float)
    after = seen(PRIOR.predict(steps + back))
    assert MOVER.score(after) <= MOVER.stop_at + 0.1
    assert move.expected is not None
    assert move.expected.de2000_after == pytest.approx(MOVER.worst(after), abs=0.1 + 2.0 * move.expected.de2000_sd)


@given(st.integers(0, 2), st.floats(0.03, 0.3), st.booleans(), st.integers(0, 1000))
@settings(max_examples=60, deadline=None)
def test_no_move_is_asked_for_that_turns_nothing(channel: int, falls: float, surely: bool, seed: int) -> None:
    # 100 % of one channel rolls off, and was seen to give more once; the adjusted levels are right.
    off = np.random.default_rng(seed).normal(0.0, 0.002, 9)
    off[channel] -= falls
    rolling = replace(seen(off), proven=np.full(3, 9.0))
    proposal = MOVER.propose(rolling, sure(PRIOR) if surely else PRIOR, controls())
    assert isinstance(proposal, Stop) or proposal.changes


@pytest.mark.parametrize("noise", [1e-4, 2e-3, 6e-3])
def test_no_move_is_foretold_to_be_worse(noise: float) -> None:
    rng = np.random.default_rng(8)
    proposed = 0
    for _ in range(60):
        off = rng.normal(0.0, 0.02, (3, 3))
        xyz = REC709.xyz(REC709.rgb(MOVER.target.grey([100.0, 80.0, 30.0], 100.0)) * np.exp(off))
        move = MOVER.propose(Seen(xyz, xyz * noise), PRIOR, controls())
        if isinstance(move, Move):
            assert move.expected is not None
            assert move.expected.de2000_after <= move.expected.de2000_before
            proposed += 1
    assert proposed > 30


def test_a_screen_that_has_surprised_is_told_with_more_doubt_and_none_with_less() -> None:
    reads, steps = seen(np.tile([0.03, -0.02, 0.01], 3)), np.array([3.0, 0, 0, 0, 0, 0])
    mover, doubts = MOVER, list[float]()
    for off in (0.0, 3.0, 0.0):
        told, doubt = mover.foretold(reads, PRIOR, steps)
        doubts.append(doubt)
        expected = Expectation(4.0, told, doubt, 0.0)
        mover = replace(mover, surprises=mover.surprises.with_trip(expected, told + off * doubt))
    told, doubt = mover.foretold(reads, PRIOR, steps)
    # What came as foretold proves little; a trip that was three spreads off counts, and less as others keep to it.
    assert doubts[1] == pytest.approx(doubts[0])
    assert doubts[2] > 1.5 * doubts[1]
    assert doubts[0] < doubt < doubts[2]
    # What is foretold itself is not moved by it.
    assert told == pytest.approx(expected.de2000_after)


@given(st.lists(st.floats(-4.0, 4.0), min_size=1, max_size=12))
def test_surprises_do_not_feed_on_the_spread_that_they_have_widened(off: list[float]) -> None:
    surprises = Surprises()
    for each in off:
        expected = Expectation(4.0, 1.0, 0.5 * surprises.factor, 0.0)
        surprises = surprises.with_trip(expected, 1.0 + 0.5 * each)
    assert surprises.squares == pytest.approx(float(np.square(off).sum()))
    assert surprises.factor >= 1.0


def test_a_trip_between_settings_knows_controls_by_their_role() -> None:
    there = tuple(replace(control, value=control.value + i) for i, control in enumerate(controls()))
    trip = trip_between(controls(), tuple(reversed(there)))
    assert [(change.role, change.by) for change in trip.changes] == [
        (control.role, i) for i, control in enumerate(controls()) if i
    ]
    with pytest.raises(ValueError, match="same controls"):
        trip_between(controls(), there[:3])


def test_doubt_makes_the_first_move_shorter() -> None:
    off = seen(PRIOR.predict(np.array([0.0, 0, 20, 0, 0, 0])))
    careful, bold = (MOVER.propose(off, r, controls()) for r in (PRIOR, sure(PRIOR)))
    assert isinstance(careful, Move)
    assert isinstance(bold, Move)
    blue = {
        name: next(c.by for c in m.changes if c.role == Role.GAIN_B) for name, m in (("c", careful), ("b", bold))
    }
    assert blue["b"] < blue["c"] < 0


@given(st.integers(0, 10_000), st.floats(0.0005, 0.004), st.floats(0.001, 0.01))
@settings(max_examples=60, deadline=None)
def test_what_was_read_and_what_was_expected_are_believed_by_how_sure_they_are(
    seed: int, noise: float, doubt: float
) -> None:
    rng = np.random.default_rng(seed)
    off = 0.02 * rng.standard_normal(9)
    true = seen(off, noise)
    read = replace(true, xyz=true.xyz + true.sd * rng.standard_normal((3, 3)))
    expected = true.log_light + doubt * rng.standard_normal(9)
    told = believed(read, expected, np.full(9, doubt**2))
    assert np.all(told.sd[1:] < read.sd[1:])
    assert told.xyz[0] == pytest.approx(read.xyz[0])
    # Surely expected, it is what was expected; not expected at all, it is what was read.
    sure_of_it = believed(read, expected, np.full(9, 1e-14))
    assert sure_of_it.log_light[3:] == pytest.approx(expected[3:], abs=1e-6)
    knows_nothing = believed(read, expected, np.full(9, 1e6))
    assert knows_nothing.xyz == pytest.approx(read.xyz, rel=1e-6)


def test_what_is_believed_lies_nearer_to_the_truth_than_what_was_read() -> None:
    rng = np.random.default_rng(5)
    true = seen(0.01 * rng.standard_normal(9), 0.002)
    far, near = [], []
    for _ in range(200):
        read = replace(true, xyz=true.xyz + true.sd * rng.standard_normal((3, 3)))
        expected = true.log_light + 0.004 * rng.standard_normal(9)
        told = believed(read, expected, np.full(9, 0.004**2))
        far.append(np.abs(read.log_light - true.log_light)[3:])
        near.append(np.abs(told.log_light - true.log_light)[3:])
    assert np.mean(near) < 0.75 * np.mean(far)


def test_of_two_moves_that_do_the_same_the_shorter_is_taken() -> None:
    # A cast that one gain makes can be taken out by it, or by the two others and some light.
    steps = np.array([6.0, 0.0, 0.0, 0.0, 0.0, 0.0])
    roomy = replace(seen(PRIOR.predict(steps)), proven=np.full(3, 9.0))
    move = MOVER.propose(roomy, sure(PRIOR), controls())
    assert isinstance(move, Move)
    assert sum(abs(change.by) for change in move.changes) <= 7


def test_end_stops_are_respected_and_said() -> None:
    off = seen(PRIOR.predict(np.array([0.0, 0, 30, 0, 0, 0])))
    stuck = tuple(replace(c, lowest=50) if c.role == Role.GAIN_B else c for c in controls())
    move = MOVER.propose(off, sure(PRIOR), stuck)
    assert isinstance(move, Move)
    limits = {state.role: (state.lowest, state.highest) for state in stuck}
    assert all(limits[c.role][0] <= c.to_value <= limits[c.role][1] for c in move.changes)
    assert all(c.by >= 0 for c in move.changes if c.role == Role.GAIN_B)


def test_controls_with_nothing_useful_left_end_it_with_a_reason() -> None:
    # Two settings each, of which the other is far too much.
    switches = tuple(ControlState(role, role.key, 0, 1, 1, 0) for role in TWO_POINT)
    off = seen(np.tile([0.0, 0.0, 0.08], 3))
    assert MOVER.propose(off, sure(Responses.prior(switches)), switches) is Stop.CANNOT_REACH


def test_light_is_held_when_grey_does_not_ask_for_it() -> None:
    move = MOVER.propose(seen(PRIOR.predict(np.array([0.0, 0, 20, 0, 0, 0]))), sure(PRIOR), controls())
    assert isinstance(move, Move)
    assert move.expected is not None
    assert abs(move.expected.light_percent) < 5.0


def test_it_stops_when_the_meter_cannot_tell() -> None:
    off = seen(np.array([0, 0, 0, 0.02, 0, 0, 0.02, 0, 0.0]), noise=0.03)
    assert MOVER.score(off) > MOVER.stop_at
    assert MOVER.propose(off, sure(PRIOR), controls()) is Stop.CANNOT_TELL


def test_coarse_controls_that_cannot_do_better_are_left_alone() -> None:
    coarse = tuple(ControlState(role, role.key, 0, 10, 1, 5) for role in TWO_POINT)
    off = seen(np.array([0.02, 0, -0.02, 0.02, 0, -0.02, 0, 0, 0]))
    assert MOVER.score(off) > MOVER.stop_at
    assert MOVER.propose(off, sure(Responses.prior(coarse)), coarse) is Stop.CANNOT_REACH


def test_a_channel_that_clips_is_seen_and_not_pushed() -> None:
    # Red stands 8 % short at 100 % while 80 and 30 % are right: more red gain would not raise it.
    off = np.zeros(9)
    off[0] = -0.08
    clipped = seen(off)
    assert clipped.clipped.tolist() == [True, False, False]
    move = MOVER.propose(clipped, sure(PRIOR), controls())
    assert isinstance(move, Move)
    gains = {c.role: c.by for c in move.changes}
    assert gains[Role.GAIN_G] < 0
    assert gains[Role.GAIN_B] < 0
    assert gains[Role.GAIN_R] < 0


def test_nothing_clips_on_a_sound_screen() -> None:
    assert not seen(np.full(9, 0.01)).clipped.any()
    sound = seen(np.zeros(9))
    assert np.isinf(sound.clips_at).all()
    # Nobody knows yet what is above the brightest that was seen, so little is counted on.
    assert sound.ceilings == pytest.approx(sound.log_light[:3] + 0.01)
    brighter = seen(np.full(9, 0.05))
    assert (brighter.ceilings > sound.ceilings).all()


def test_white_alone_is_allowed_a_little_more() -> None:
    off = np.zeros(9)
    off[2] = 0.02
    white_off = seen(off)
    assert MOVER.worst(white_off) > MOVER.score(white_off) > 0


@pytest.mark.parametrize(
    ("stop", "words"),
    [
        (Stop.MET, "The target is met as far as the meter can tell: ΔE 0.73 ± 0.08"),
        (Stop.CANNOT_TELL, "The meter cannot tell any more"),
        (Stop.CANNOT_REACH, "promises more"),
        (Stop.LONG_ENOUGH, "limit of trips"),
        (Stop.WISHED, "Stopped by you"),
    ],
)
def test_every_stop_says_why_with_its_figure(stop: Stop, words: str) -> None:
    told = stop_words(stop, (0.9, 0.73, 0.4), 0.08, 0.5)
    assert words in told
    assert "ΔE 0.73 ± 0.08 at the worse of the two levels, 0.90 at 100 %" in told
    assert stop_words(Stop.MET, (0.9, 0.4, 0.3), 0.08, 0.5).startswith("The target is met: ΔE 0.40")
