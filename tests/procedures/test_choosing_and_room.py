"""Choosing a preset by its tracking, and how dark the room is."""

from collections.abc import Collection
from dataclasses import replace

import numpy as np
import pytest
from benchmarks.choosing import choose_one

from aequitone.advice.moves import ControlState, Move
from aequitone.advice.presets import LEVELS, Track, is_enough, judged, ranked, ranked_by_tone, why
from aequitone.advice.roles import Role
from aequitone.colorimetry import D65
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.journal import MemoryJournal, Turned
from aequitone.procedures.preparation.presets import ChoicePlan, ChoiceState, choose, recovered
from aequitone.procedures.preparation.room_light import RoomLight, RoomPlan, room_light
from aequitone.procedures.replay import replay
from aequitone.procedures.runner import Event, NobodyThere, Runner, StepBegun
from aequitone.procedures.steps import Interrupt, PassOver, PutBack, Reading, StopHere, Turn
from aequitone.reference import target_named
from aequitone.signal import SignalFormat
from aequitone.standins.bench import StandInBench

from .fakes import FakeBench

WHITE = np.asarray(D65.xyz())


def track(name: str, casts: Array, sd: float = 1e-4) -> Track:
    """Greys whose X and Z are off by these shares, (levels, 2)."""
    light = 100.0 * (np.array(LEVELS) / 100.0) ** 2.2
    xyz = light[:, None] * WHITE
    xyz[:, 0] *= 1.0 + casts[:, 0]
    xyz[:, 2] *= 1.0 + casts[:, 1]
    return Track(0, name, np.array(LEVELS), xyz, sd * xyz)


def test_a_cool_preset_that_tracks_evenly_beats_a_closer_one_that_wanders() -> None:
    even = track("Even", np.tile([0.0, 0.06], (5, 1)))
    wandering = track("Wandering", np.array([[0.0, 0.0], [0.0, 0.05], [0.0, 0.1], [0.02, 0.15], [0.03, 0.25]]))
    assert np.linalg.norm(wandering.xyz[0] - 100.0 * WHITE) < np.linalg.norm(even.xyz[0] - 100.0 * WHITE)
    order = ranked([wandering, even], WHITE)
    assert order[0].track.name == "Even"
    assert "stays more even from dark to light" in why(order)
    assert judged(track("Right", np.zeros((5, 2))), WHITE).score == pytest.approx(0.0, abs=1e-9)


def test_presets_that_the_meter_cannot_tell_apart_are_said_to_be_so() -> None:
    a, b = track("A", np.full((5, 2), 0.01), sd=0.02), track("B", np.full((5, 2), 0.0101), sd=0.02)
    assert "cannot be told apart" in why(ranked([a, b], WHITE))


@pytest.mark.parametrize("name", ["demo", "lamp-projector", "white-oled"])
def test_the_choice_is_that_of_the_truth(name: str) -> None:
    choice = choose_one(name, 1, Role.TEMPERATURE)
    assert choice is not None
    assert choice.chosen == choice.best


def toned(name: str, gamma: float) -> Track:
    light = 100.0 * (np.array(LEVELS) / 100.0) ** gamma
    # Tinted alike: a gamma preset is not to blame for it, nor to be praised.
    xyz = light[:, None] * WHITE * np.array([1.02, 1.0, 1.3])
    return Track(0, name, np.array(LEVELS), xyz, 1e-4 * xyz)


@pytest.mark.parametrize(("target", "best"), [("rec709-2.2", "Mid"), ("rec709-2.4", "Deep")])
def test_gamma_presets_are_compared_by_their_light_alone(target: str, best: str) -> None:
    wanted = target_named(target)
    order = ranked_by_tone([toned("Light", 2.0), toned("Mid", 2.22), toned("Deep", 2.41)], wanted)
    assert order[0].track.name == best
    assert order[0].tone is not None
    assert order[0].tone < 0.5
    assert order[0].gamma == pytest.approx({"Mid": 2.22, "Deep": 2.41}[best])
    assert f"{best} follows the target tone more closely" in why(order)
    assert "tone like gamma" in order[-1].words
    alike = ranked_by_tone([toned("A", 2.2), toned("B", 2.201)], wanted)
    assert "cannot be told apart" in why(alike)


@pytest.mark.parametrize("name", ["demo", "rgb-oled"])
def test_the_gamma_preset_is_that_of_the_truth(name: str) -> None:
    choice = choose_one(name, 3, Role.GAMMA)
    assert choice is not None
    assert choice.chosen == choice.best


@pytest.mark.parametrize(("found", "walks"), [(1, 0), (0, 2)])
def test_a_gamma_preset_that_is_right_is_not_left_to_try_the_others(bench, found: int, walks: int) -> None:
    stand_ins, journal = bench(4), MemoryJournal()
    stand_ins.screen.quieten()
    stand_ins.screen.turn({"gamma": found})
    control, target = ControlState(Role.GAMMA, "Gamma", 0, 2, 1, found), target_named("rec709-2.2")
    names = ("2.0", "2.2", "2.4")
    plan = ChoicePlan(target, SignalFormat(10), control, (0, 1, 2), names, tone=True, by_hand=True)
    state = Runner(stand_ins.bench(), journal, NobodyThere()).run(choose(plan))
    assert state.on == "2.2"
    assert sum(isinstance(kept, Turned) for kept in journal.results.values()) < walks + 1
    assert state.words.endswith("no other was tried.")
    told = recovered(plan, list(journal.results.values()), state.words)
    assert told is not None
    assert (told.control, told.words) == (state.control, state.words)


def test_a_preset_of_white_that_is_right_is_enough_unless_it_wanders_or_a_mode_was_read() -> None:
    right = judged(track("Right", np.full((5, 2), 0.01)), WHITE)
    assert is_enough(right)
    assert not is_enough(judged(track("Warm", np.full((5, 2), 0.04)), WHITE))
    wandering = np.linspace(-0.03, 0.03, 5)[:, None] * np.ones(2)
    assert not is_enough(judged(track("Wandering", wandering), WHITE))
    # Modes differ in more than white; and one level tells nothing of the others.
    assert not is_enough(replace(right, gamut=0.001))
    assert not is_enough(replace(right, track=replace(right.track, percents=np.array([60.0]))))


def test_a_gamut_with_a_fault_is_not_enough() -> None:
    near = replace(judged(track("Right", np.zeros((5, 2))), WHITE), colour=1.2)
    assert is_enough(near)
    assert not is_enough(replace(near, fault="too wide: primaries +12 % from white"))
    assert not is_enough(replace(near, colour=2.6))


def test_picture_modes_are_chosen_too() -> None:
    choice = choose_one("wide-lcd", 2, Role.PICTURE_MODE)
    assert choice is not None
    assert choice.chosen == choice.best
    assert choose_one("studio-tube", 0, Role.PICTURE_MODE) is None


def run(
    bench: StandInBench, wish: type[Interrupt] | None = None, at: Collection[int] = (2,)
) -> tuple[ChoiceState, MemoryJournal, ChoicePlan]:
    """`wish`: what is wished at those turns, and so before what follows them."""
    control = ControlState(Role.TEMPERATURE, "Colour tone", 0, 2, 1, 1)
    target = target_named("rec709-2.2")
    plan = ChoicePlan(target, SignalFormat(10), control, (0, 1, 2), ("Cold", "Neutral", "Soft"))
    turns = 0

    def hear(event: Event) -> None:
        nonlocal turns
        if isinstance(event, StepBegun) and isinstance(event.step, Turn):
            turns += 1
            if turns in at and wish is not None:
                runner.wish(wish)

    journal = MemoryJournal()
    runner = Runner(bench.bench(), journal, NobodyThere(), hear)
    return runner.run(choose(plan)), journal, plan


def test_the_best_is_turned_to_and_the_record_says_the_same(bench) -> None:
    stand_ins = bench(4)
    state, journal, plan = run(stand_ins)
    assert stand_ins.screen.settings()["temperature"] == state.control.value == state.order[0].track.value
    assert len(state.order) == 3
    # The one that was on is read first: it costs no trip.
    again, _ = replay(choose(plan), journal.recorded())
    assert again is not None
    assert again.words == state.words


def test_a_preset_that_cannot_be_the_best_is_read_once(bench) -> None:
    state, journal, plan = run(bench(4))
    readings = [kept for kept in journal.results.values() if isinstance(kept, Reading)]
    far = [each for each in state.order if len(each.track.percents) == 1]
    assert [each.track.name for each in far] == ["Cold"]
    assert "at 60 %, too much" in far[0].words
    assert len(readings) == 2 * len(LEVELS) + 1 < plan.readings
    # Read whole, it would not have been the best either: the score only grows with wandering.
    assert far[0].score > state.order[0].score


def test_a_choice_is_told_from_its_record_alone(bench) -> None:
    state, journal, plan = run(bench(4))
    told = recovered(plan, list(journal.results.values()), "as it was said")
    assert told is not None
    assert told.words == "as it was said"
    assert told.control == state.control
    assert [each.track.name for each in told.order] == [each.track.name for each in state.order]
    assert [each.score for each in told.order] == pytest.approx([each.score for each in state.order])
    assert recovered(plan, [], "") is None


@pytest.mark.parametrize(("wish", "read"), [(StopHere, 2), (PutBack, 2)])
def test_stop_chooses_among_those_read_and_put_back_goes_back(bench, wish: type[Interrupt], read: int) -> None:
    stand_ins = bench(4)
    state, _, _ = run(stand_ins, wish)
    assert len(state.order) == read
    left = stand_ins.screen.settings()["temperature"]
    assert left == (1 if wish is PutBack else state.order[0].track.value)


def test_one_that_is_greyed_out_is_passed_over(bench) -> None:
    usual, _, _ = run(bench(4))
    stand_ins = bench(4)
    state, journal, plan = run(stand_ins, PassOver)
    assert {judged.track.name for judged in state.order} == {"Neutral", "Cold"}
    assert state.words.endswith("Passed over, as greyed out: Soft.")
    assert stand_ins.screen.settings()["temperature"] == state.control.value != 2
    again, _ = replay(choose(plan), journal.recorded())
    assert again is not None
    assert again.words == state.words
    assert usual.order[0].track.name == "Soft"


def test_the_best_that_turns_out_to_be_greyed_out_gives_way_to_the_next(bench) -> None:
    stand_ins = bench(4)
    wished = [PassOver]

    class Person(NobodyThere):
        def turn(self, move: Move) -> type[Interrupt] | None:
            if move.changes[0].to_value == 2 and stand_ins.screen.settings()["temperature"] != 2 and turned[2:]:
                return wished.pop()
            turned.append(move.changes[0].to_value)
            stand_ins.link.turn({c.role.key: c.to_value for c in move.changes})
            return None

    turned: list[int] = []
    control = ControlState(Role.TEMPERATURE, "Colour tone", 0, 2, 1, 2)
    target = target_named("rec709-2.2")
    stand_ins.screen.turn({"temperature": 2})
    plan = ChoicePlan(target, SignalFormat(10), control, (0, 1, 2), ("Cold", "Neutral", "Soft"))
    turned.append(2)
    state = Runner(stand_ins.bench(by_link=False), MemoryJournal(), Person()).run(choose(plan))
    assert not wished
    assert state.words.endswith("Passed over, as greyed out: Soft.")
    assert stand_ins.screen.settings()["temperature"] == state.order[0].track.value == state.control.value


def test_where_all_others_are_greyed_out_the_one_found_is_kept(bench) -> None:
    stand_ins = bench(4)
    state, _, _ = run(stand_ins, PassOver, at=(1, 2, 3))
    assert stand_ins.screen.settings()["temperature"] == 1
    assert [judged.track.name for judged in state.order] == ["Neutral"]


def test_a_room_that_is_not_dark_says_what_to_do() -> None:
    assert RoomLight(0.2, 0.001, 0.01).words.endswith("dim the room, or put a cloth over screen and meter.")
    assert RoomLight(0.011, 0.002, 0.01).dark
    with pytest.raises(ValueError, match="3 settings to compare, but 2 names"):
        ChoicePlan(
            target_named("rec709-2.2"),
            SignalFormat(10),
            ControlState(Role.TEMPERATURE, "Tone", 0, 2, 1, 0),
            (0, 1, 2),
            ("A", "B"),
        )


@pytest.mark.parametrize(("black", "room", "off"), [(0.0005, 0.002, False), (0.06, 0.002, True), (0.0, 0.3, True)])
def test_a_screen_is_switched_off_only_where_its_black_leaves_the_room_in_doubt(
    black: float, room: float, off: bool
) -> None:
    def powered() -> bool:
        return not bench.turned or bench.turned[-1][Role.POWER.key] == 1

    bench = FakeBench(lambda _percent: np.full(3, room + (black if powered() else 0.0)))
    journal = MemoryJournal()
    found = Runner(bench.bench, journal, NobodyThere()).run(room_light(RoomPlan(SignalFormat())))
    assert found.lit is not off
    assert found.dark is (room < 0.01)
    assert found.light == pytest.approx(room + (0.0 if off else black), abs=0.002)
    assert ("With the screen off" in found.words) is off
    assert powered()
    assert bool(bench.turned) is off
