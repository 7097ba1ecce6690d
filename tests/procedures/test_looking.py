"""One reading: as exact as was wanted, in no more time than it needs, and without what does not belong."""

from dataclasses import replace

import numpy as np
import pytest
from benchmarks.traps import TRAPS, said
from hypothesis import given
from hypothesis import strategies as st

from aequitone.advice.answers.answer import LOOK_PERCENTS, mapped
from aequitone.advice.answers.dark_end import DarkEnd, dark_end
from aequitone.colorimetry import REC709, delta_e_2000
from aequitone.instruments import InstrumentError, MeterNoise
from aequitone.procedures.care import RefreshFields
from aequitone.procedures.exposures import LONGEST, SHORTEST, UnsteadyError, expected_seconds, exposure, look
from aequitone.procedures.grey.first_look import (
    WrongSignalError,
    bent_greys,
    first_look,
    look_at_signal,
    mismatch_words,
)
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.noise import NoiseModel
from aequitone.procedures.policy import COLOUR_DE, ReadPolicy, policy_for, policy_for_colour
from aequitone.procedures.runner import NobodyThere, Runner
from aequitone.reference import target_named
from aequitone.signal import Container, Range, SignalFormat, Transfer
from aequitone.standins.bench import build_bench
from aequitone.standins.parts import FeaturePart
from aequitone.standins.scenario import load_scenario

SHEET = MeterNoise(0.010, 0.002, 0.003)
WHITE = np.array([0.95, 1.0, 1.09])


class Eye:
    """A meter in a few lines: Gaussian noise, and lies where they are asked for."""

    def __init__(self, light: float, seed: int = 0, factor: float = 1.0) -> None:
        self.xyz, self.rng, self.factor = WHITE * light, np.random.default_rng(seed), factor
        self.times: list[float] = []
        self.lies: list[float] = []

    def __call__(self, seconds: float) -> np.ndarray:
        self.times.append(seconds)
        lie = self.lies.pop(0) if self.lies else 1.0
        noise = self.rng.standard_normal(3) * SHEET.sd(self.xyz, seconds) * self.factor
        return np.asarray((self.xyz + noise) * lie)


@pytest.mark.parametrize("light", [0.02, 0.05, 0.5, 5.0, 100.0])
def test_the_wanted_precision_is_reached_and_told_truly(light: float) -> None:
    policy, noise = policy_for(light, 100.0), NoiseModel(SHEET)
    looked = [look(Eye(light, seed), policy, noise) for seed in range(300)]
    errors = np.array([one.xyz[1] for one in looked]) - light
    assert errors.std() < 1.15 * policy.sd
    assert np.mean([one.sd[1] for one in looked]) == pytest.approx(errors.std(), rel=0.15)
    assert all(one.rejected == 0 for one in looked)


def test_time_goes_where_the_light_is_not() -> None:
    seconds = [expected_seconds(policy_for(light, 100.0), NoiseModel(SHEET)) for light in (100.0, 5.0, 0.5)]
    assert seconds == sorted(seconds)
    assert seconds[-1] > 5 * seconds[0]


def test_what_is_expected_is_what_it_takes() -> None:
    for light in (0.05, 0.5, 5.0, 100.0):
        policy, eye = policy_for(light, 100.0), Eye(light)
        look(eye, policy, NoiseModel(SHEET))
        assert sum(eye.times) == pytest.approx(expected_seconds(policy, NoiseModel(SHEET)), rel=0.35)


def test_a_light_that_nobody_expected_is_still_read_as_exactly() -> None:
    policy = ReadPolicy(policy_for(0.5, 100.0).sd, expected=100.0)
    errors = [look(Eye(0.5, seed), policy, NoiseModel(SHEET)).xyz[1] - 0.5 for seed in range(200)]
    assert np.std(errors) < 1.15 * policy.sd


@pytest.mark.parametrize("lies", [[1.2], [1.0, 0.8], [1.0, 1.15, 1.0], [0.7, 1.3]])
def test_a_gross_outlier_is_left_out_wherever_it_comes(lies: list[float]) -> None:
    eye = Eye(50.0)
    eye.lies = list(lies)
    looked = look(eye, policy_for(50.0, 100.0), NoiseModel(SHEET))
    assert looked.xyz[1] == pytest.approx(50.0, rel=0.005)
    assert looked.rejected == sum(lie != 1.0 for lie in lies)


def test_without_the_guard_the_outlier_goes_in() -> None:
    eye = Eye(50.0)
    eye.lies = [1.2]
    assert look(eye, policy_for(50.0, 100.0), NoiseModel(SHEET), doubt=False).xyz[1] > 53.0


def test_light_that_never_agrees_is_no_reading() -> None:
    eye = Eye(50.0)
    eye.lies = [0.5 + 0.1 * i for i in range(12)]
    with pytest.raises(UnsteadyError):
        look(eye, policy_for(50.0, 100.0), NoiseModel(SHEET))


def test_light_that_wanders_a_little_is_read_with_that_doubt() -> None:
    eye = Eye(50.0)
    eye.lies = [1.0 - 0.005 * i for i in range(12)]
    looked = look(eye, ReadPolicy(0.001, 50.0), NoiseModel(MeterNoise(1e-5, 1e-6)))
    assert looked.sd[1] > 0.1
    assert looked.xyz[1] == pytest.approx(49.5, rel=0.02)


def test_a_meter_much_noisier_than_it_says_is_learnt_and_not_refused() -> None:
    noise, eye = NoiseModel(SHEET), Eye(100.0, 3, factor=12.0)
    policy = policy_for(100.0, 100.0)
    looked = [look(eye, policy, noise) for _ in range(12)]
    assert noise.factor(100.0) > 5.0
    assert np.mean([abs(one.xyz[1] - 100.0) for one in looked[3:]]) < 3.0 * policy.sd * 12.0
    assert all(abs(one.xyz[1] - 100.0) < 5.0 * one.sd[1] for one in looked)


def test_a_person_is_asked_once() -> None:
    eye = Eye(50.0)
    looked = look(eye, policy_for(50.0, 100.0), NoiseModel(SHEET), repeats=False)
    assert (looked.repeats, len(eye.times)) == (1, 1)


def test_noise_is_learnt_at_each_level_of_light() -> None:
    noise = NoiseModel(SHEET)
    for seed in range(150):
        look(Eye(50.0, seed, factor=2.0), ReadPolicy(0.2, 50.0), noise)
        look(Eye(0.05, seed), ReadPolicy(0.002, 0.05), noise)
    assert noise.factor(50.0) == pytest.approx(2.0, rel=0.15)
    assert noise.factor(0.05) == pytest.approx(1.0, rel=0.15)
    assert [band.repeats > 0 for band in noise.bands()] == [True, False, False, True]


def test_the_darkest_light_falls_with_time() -> None:
    noise = NoiseModel(SHEET)
    assert noise.darkest(4.0) < noise.darkest(1.0)
    assert noise.darkest(1.0) == pytest.approx(3.0 * np.hypot(0.002, 0.003))


@given(st.floats(0.0, 500.0), st.floats(1e-6, 10.0))
def test_an_exposure_gives_the_information_that_was_asked_for(light: float, sd: float) -> None:
    noise = NoiseModel(SHEET)
    seconds = exposure(noise, light, 1.0 / sd**2)
    assert SHORTEST <= seconds <= LONGEST
    got = float(noise.variance(np.full(3, light), seconds)[1]) ** 0.5
    if SHORTEST < seconds < LONGEST:
        assert got == pytest.approx(sd, rel=1e-6)


@given(st.floats(0.01, 1000.0), st.floats(0.0, 1.0))
def test_precision_follows_the_eye(white: float, share: float) -> None:
    policy = policy_for(share * white, white)
    assert 0.0 < policy.sd <= policy_for(white, white).sd * (1.0 + 1e-9)


COLOURS = [
    (1.0, 0.0, 0.0),
    (0.0, 0.0, 1.0),
    (0.0, 1.0, 1.0),
    (0.5, 0.02, 0.02),
    (0.02, 0.03, 0.2),
    (0.6, 0.4, 0.3),
]


@pytest.mark.parametrize("rgb", COLOURS)
def test_a_colour_is_read_as_exactly_as_its_difference_is_wanted(rgb: tuple[float, float, float]) -> None:
    white = REC709.xyz(np.ones(3)) * 100.0
    xyz = REC709.xyz(np.array(rgb)) * 100.0

    def spread(policy: ReadPolicy) -> float:
        eyes = [Eye(0.0, seed) for seed in range(120)]
        for eye in eyes:
            eye.xyz = xyz
        read = np.array([look(eye, policy, NoiseModel(SHEET)).xyz for eye in eyes])
        return float(np.sqrt((delta_e_2000(read, xyz, white) ** 2).mean()))

    by_colour = policy_for_colour(xyz, white)
    assert spread(by_colour) < 1.15 * np.sqrt(3.0) * COLOUR_DE
    # A neutral would have been read no worse for it, and a reading has an end.
    assert expected_seconds(by_colour, NoiseModel(SHEET)) <= by_colour.most_seconds
    looser = by_colour.coarser(2.0)
    assert looser.sd == 2.0 * by_colour.sd
    assert expected_seconds(looser, NoiseModel(SHEET)) <= expected_seconds(by_colour, NoiseModel(SHEET))


def test_light_alone_does_not_tell_what_a_red_needs() -> None:
    white, red = REC709.xyz(np.ones(3)) * 100.0, REC709.xyz(np.array([0.5, 0.001, 0.001])) * 100.0
    wish = policy_for_colour(red, white).colour
    assert wish is not None
    # Little Z: its noise moves b* the most.
    assert wish.sd_Z < 0.5 * policy_for(float(red[1]), 100.0, COLOUR_DE).sd


def test_what_cannot_be_wanted_is_refused() -> None:
    with pytest.raises(ValueError, match="precision and a time above 0"):
        ReadPolicy(0.0)
    with pytest.raises(ValueError, match="stands for 1 s or more"):
        RefreshFields(for_seconds=0.2)
    with pytest.raises(ValueError, match="leave time between"):
        RefreshFields(every_seconds=2.0, for_seconds=2.0)
    with pytest.raises(ValueError, match="above 0 and up to 100"):
        RefreshFields(percent=0.0)


@pytest.mark.parametrize("name", ["demo", "wide-lcd", "white-oled", "plasma"])
@pytest.mark.parametrize(
    ("asked", "sends", "said"),
    [
        (Range.LIMITED, Range.FULL, ("Dark steps are black", "the source stretches what it sends")),
        (Range.FULL, Range.LIMITED, ("Black is grey", "the source squeezes what it sends")),
    ],
)
def test_a_source_that_changes_the_range_by_itself_is_named(
    name: str, asked: Range, sends: Range, said: tuple[str, str]
) -> None:
    scenario = load_scenario(name)
    source = scenario.source.model_copy(update={"sends_range": sends.value})
    bench = build_bench(scenario.model_copy(update={"source": source}), 3)
    bench.screen.quieten()
    format_ = replace(scenario.source.format, range=asked)
    answer = Runner(bench.bench(), MemoryJournal(), NobodyThere()).run(look_at_signal(format_)).answer
    words = mismatch_words(answer, format_)
    assert all(part in words for part in said)
    # An input that is set wrongly cannot be the cause, and is not named.
    assert "HDMI black level" not in words


def test_an_input_that_is_set_wrongly_is_named_with_what_looks_the_same() -> None:
    scenario = load_scenario("demo")
    screen = scenario.screen.model_copy(update={"expects_range": "full"})
    bench = build_bench(scenario.model_copy(update={"screen": screen}), 1)
    bench.screen.quieten()
    look = Runner(bench.bench(), MemoryJournal(), NobodyThere()).run(look_at_signal(scenario.source.format))
    words = mismatch_words(look.answer, scenario.source.format)
    assert "the input's range" in words
    assert "or the source squeezes" in words
    assert "Set the input to limited: if that puts it right it was the screen" in words


@pytest.mark.parametrize(
    "feature",
    [
        {"kind": "dynamic-contrast"},
        {"kind": "dynamic-contrast", "steps": 4},
        {"kind": "dynamic-contrast", "follows": "average"},
        {"kind": "dynamic-contrast", "seconds": 5.0},
        {"kind": "dynamic-iris"},
        {"kind": "zone-dimming"},
    ],
)
def test_light_that_follows_the_picture_is_named(feature: dict[str, object]) -> None:
    scenario = load_scenario("wide-lcd")
    part = FeaturePart.model_validate({"name": "By itself", "found_on": True, "strength": 0.25, **feature})
    bench = build_bench(
        scenario.model_copy(update={"screen": scenario.screen.model_copy(update={"feature": (part,)})}), 2
    )
    look = Runner(bench.bench(), MemoryJournal(), NobodyThere()).run(look_at_signal(scenario.source.format))
    assert look.answer.follows > 0.02
    bench.screen.quieten()
    look = Runner(bench.bench(), MemoryJournal(), NobodyThere()).run(look_at_signal(scenario.source.format))
    assert look.answer.follows == 0.0


def test_a_panel_that_dims_under_a_still_picture_is_not_taken_for_one_that_follows_it() -> None:
    scenario = load_scenario("white-oled")
    still = scenario.screen.still.model_copy(update={"share": 0.3, "after_seconds": 5.0})
    screen = scenario.screen.model_copy(update={"still": still})
    bench = build_bench(scenario.model_copy(update={"screen": screen}), 3)
    bench.screen.quieten()
    journal = MemoryJournal()
    look = Runner(bench.bench(), journal, NobodyThere()).run(look_at_signal(scenario.source.format))
    fifties = [kept.Y for kept in journal.results.values() if kept.patch.percent == 50.0]  # type: ignore[union-attr]
    assert min(fifties) < 0.97 * fifties[0]
    assert look.answer.follows == 0.0


def test_a_light_that_changes_by_itself_is_not_called_another_signal() -> None:
    scenario = load_scenario("demo")
    part = FeaturePart(kind="ambient-sensor", name="Sensor", found_on=True, strength=0.6)
    bench = build_bench(
        scenario.model_copy(update={"screen": scenario.screen.model_copy(update={"feature": (part,)})}), 4
    )
    run = Runner(bench.bench(), MemoryJournal(), NobodyThere()).run
    with pytest.raises((WrongSignalError, InstrumentError), match=r"room sensor|the room \(a sensor\)"):
        run(first_look(scenario.source.format, target_named("rec709-2.2")))


@pytest.mark.parametrize(
    ("name", "unit", "curve", "moves"),
    [
        # Where everything above 65 % is cut off, the greys of a first look leave nothing between.
        ("white-oled", 4, "spline", True),
        ("wide-lcd", 18, "spline", True),
        # A limit of power holds white back more than a grey, and a panel dims under what stands still.
        ("white-oled", 6, "own", False),
        ("white-oled", 17, "clip", False),
    ],
)
def test_tones_that_are_mapped_by_the_picture_are_told_from_a_limit_of_power(
    name: str, unit: int, curve: str, moves: bool
) -> None:
    scenario = load_scenario(name)
    assert scenario.screen.hdr is not None
    mapping = FeaturePart(kind="tone-mapping", name="Mapping", found_on=True, strength=0.8, seconds=1.5)
    others = tuple(part for part in scenario.screen.feature if part.kind != "tone-mapping")
    update = {
        "hdr": scenario.screen.hdr.model_copy(update={"curve": curve}),
        "feature": (*others, mapping) if moves else others,
    }
    screen = scenario.screen.model_copy(update=update)
    source = scenario.source.model_copy(update={"sends_transfer": "pq", "sends_container": "rec2020"})
    bench = build_bench(scenario.model_copy(update={"screen": screen, "source": source}), unit)
    bench.screen.quieten()
    if moves:
        bench.screen.turn({"feature-tone-mapping": 1})
    format_ = SignalFormat(
        scenario.source.depth_bit, Range.LIMITED, scenario.source.window_share, Transfer.PQ, Container.REC2020
    )
    look = Runner(bench.bench(), MemoryJournal(), NobodyThere()).run(look_at_signal(format_))
    assert bool(look.answer.moves) is moves
    assert mismatch_words(look.answer, format_) == ""


def test_greys_that_a_roll_off_moves_lie_between_the_last_bright_one_and_the_end() -> None:
    # Nothing was read between 53 % of white's light and white: two greys are put there.
    cut = [(100.0, 600.0), (95.0, 600.0), (80.0, 598.0), (65.0, 318.0), (50.0, 92.0)]
    assert [percent for percent, _ in bent_greys(cut)] == [100.0, 74.0, 70.0, 65.0]
    gentle = [(100.0, 800.0), (95.0, 760.0), (80.0, 500.0), (65.0, 300.0)]
    assert [percent for percent, _ in bent_greys(gentle)] == [100.0, 95.0, 88.0, 80.0]


def test_a_grey_that_a_limit_of_power_spares_is_not_mapped() -> None:
    sd = np.full(2, 0.002)
    # White loses 10 % in the bright picture, and the grey 4 %: between nothing and what white loses.
    assert mapped(np.array([540.0, 288.0]), np.array([600.0, 300.0]), sd)[0] == 0.0
    # A grey that gains more than any limit took from it is mapped.
    share, row = mapped(np.array([540.0, 288.0]), np.array([600.0, 345.0]), sd)
    assert (share, row) == (pytest.approx(0.078, abs=0.002), 1)


@pytest.mark.parametrize(
    ("number", "name", "told"),
    [(115, "source stretches", "Dark steps are black"), (22, "source squeezes", "Black is grey")],
)
def test_a_range_that_may_be_a_black_level_is_said_as_a_doubt(number: int, name: str, told: str) -> None:
    trap = next(each for each in TRAPS if each.name == name)
    doubts = [note for note in said(number, trap) if note.startswith(told)]
    assert len(doubts) == 1
    # Both causes are named, and what tells them apart.
    assert "black level is set too" in doubts[0]
    assert "Change the source's range setting" in doubts[0]
    assert not any(note.startswith(told) for note in said(number, None))


@given(st.floats(1.8, 2.6), st.floats(0.0, 1.0 / 700.0), st.floats(30.0, 500.0))
def test_the_dark_end_of_a_sound_screen_leaves_no_doubt(gamma: float, black: float, white: float) -> None:
    signal = np.maximum(np.array(LOOK_PERCENTS), 0.0) / 100.0
    light = white * (black + (1.0 - black) * signal**gamma)
    sd = 0.001 * light + 1e-5 * white
    assert dark_end(light, sd) is None
    # A meter that cannot tell 5 % from nothing leaves nothing in doubt either.
    assert dark_end(light, sd + 3e-4 * white) is None
    swallowed = light.copy()
    swallowed[LOOK_PERCENTS.index(5.0)] = light[LOOK_PERCENTS.index(0.0)]
    assert dark_end(swallowed, sd) is DarkEnd.SWALLOWED
    assert dark_end(light + white / 300.0, sd) is DarkEnd.GREY


@pytest.mark.parametrize("most", [1.0, 3.0, 5.0])
def test_two_exposures_take_no_longer_together_than_was_allowed(most: float) -> None:
    policy = ReadPolicy(1e-5, 0.4, most)
    looked = look(Eye(0.4, 1), policy, NoiseModel(SHEET))
    assert looked.repeats == 2
    assert looked.repeats * looked.seconds == pytest.approx(most, abs=0.2)
    assert expected_seconds(policy, NoiseModel(SHEET)) == pytest.approx(most, abs=0.2)


def test_two_wrong_answers_of_three_are_no_unsteady_light() -> None:
    policy, eye = ReadPolicy(1e-4, 0.5, 4.0), Eye(0.5, 3)
    eye.lies = [1.0, 1.3, 0.8]
    looked = look(eye, policy, NoiseModel(SHEET))
    assert looked.rejected == 2
    assert looked.xyz[1] == pytest.approx(0.5, rel=0.02)
    # Light that moves all the time is still called so.
    eye.lies = [1.0, 1.3, 0.8, 1.6, 0.6, 1.45, 0.7, 1.15, 0.9]
    with pytest.raises(UnsteadyError):
        look(eye, policy, NoiseModel(SHEET))
