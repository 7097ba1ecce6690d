"""Speed of what the person waits for: `make bench`."""

import itertools
from typing import Any

import numpy as np

from aequitone.advice.answers.answer import LOOK_PERCENTS, recognise
from aequitone.advice.moves import ControlState
from aequitone.advice.roles import TWO_POINT
from aequitone.advice.two_point.level_readings import Seen
from aequitone.advice.two_point.mover import Mover
from aequitone.advice.two_point.responses import Responses
from aequitone.colorimetry import D65, delta_e_2000
from aequitone.instruments.line import Line
from aequitone.instruments.line_devices import LineMeter, LineSource
from aequitone.procedures.grey.grey_pass import GreyPlan, grey_pass
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.replay import replay
from aequitone.procedures.runner import NobodyThere, Runner
from aequitone.reference import TARGETS, grey_errors
from aequitone.signal import Patch, Range, SignalFormat, Transfer, grey_levels, grey_patch
from aequitone.standins.bench import build_bench
from aequitone.standins.scenario import load_scenario
from aequitone.standins.service.server import BenchServer

TARGET = TARGETS["rec709-2.2"]


def test_delta_e_2000_of_a_hundred_thousand(benchmark: Any) -> None:
    xyz = np.random.default_rng(1).uniform(1.0, 90.0, (100_000, 3))
    result = benchmark(delta_e_2000, xyz, xyz[::-1], D65.xyz(100.0))
    assert result.shape == (100_000,)


def test_errors_of_a_ladder_with_their_spread(benchmark: Any) -> None:
    levels = grey_levels(21)
    xyz = TARGET.grey(levels, 120.0) * [0.97, 1.0, 1.1]
    errors = benchmark(grey_errors, levels, xyz, TARGET, white=120.0, sd=xyz * 0.002)
    assert len(errors.de2000) == 21


def test_the_next_move(benchmark: Any) -> None:
    controls = tuple(ControlState(role, role.key, 0, 100, 1, 50) for role in TWO_POINT)
    xyz = TARGET.grey([100.0, 80.0, 30.0], 120.0) * [0.96, 1.0, 1.2]
    mover, responses = Mover(TARGET, 80.0, 30.0, 0.05), Responses.prior(controls)
    assert benchmark(mover.propose, Seen(xyz, xyz * 0.001), responses, controls)


def test_a_simulated_reading(benchmark: Any) -> None:
    stand_in = build_bench(load_scenario("demo"), 0)
    patch = grey_patch(50.0, SignalFormat(10))
    stand_in.source.show(patch)
    assert benchmark(stand_in.meter.measure, patch, 1.0).Y > 0


def test_showing_and_reading_a_fresh_patch(benchmark: Any) -> None:
    """In process, every effect at work, no patch twice: operations a second are readings a second."""
    stand_in = build_bench(load_scenario("white-oled"), 0)
    levels = range(64, 940, 5)
    codes = itertools.product(levels, levels, levels)

    def read() -> float:
        patch = Patch("fresh", 0.0, next(codes), SignalFormat(10))
        stand_in.source.show(patch)
        return float(stand_in.meter.measure(patch, 0.5).Y)

    assert benchmark(read) is not None


def test_a_reading_over_the_socket(benchmark: Any) -> None:
    """Through PyVISA, the protocol and back; the stand-ins' clock waits for nothing."""
    stand_in = build_bench(load_scenario("demo"), 0)
    patch = grey_patch(50.0, SignalFormat(10))
    with BenchServer(stand_in) as server:
        meter = LineMeter(Line(server.addresses[0], "METER"))
        LineSource(Line(server.addresses[1], "SOURCE")).show(patch)
        assert benchmark(meter.measure, patch, 0.5).Y > 0
        meter.line.close()


def test_the_answer_to_the_first_look(benchmark: Any) -> None:
    grey = TARGET.grey(np.maximum(LOOK_PERCENTS, 0.0), 120.0) + 0.05
    assert benchmark(recognise, grey, grey[4:7], Range.LIMITED).transfer is Transfer.GAMMA


def test_a_pass_out_of_its_record(benchmark: Any) -> None:
    stand_in, journal = build_bench(load_scenario("demo"), 0), MemoryJournal()
    plan = GreyPlan(TARGET, stand_in.scenario.source.format)
    Runner(stand_in.bench(), journal, NobodyThere()).run(grey_pass(plan))
    value, _ = benchmark(lambda: replay(grey_pass(plan), journal.recorded()))
    assert value is not None
