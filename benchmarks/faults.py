"""Passes over the sockets while everything goes wrong: time-outs, half answers, rubbish, lost connections.

.venv/bin/python benchmarks/faults.py [RUNS]

The program is also killed at random and started again. Each pass must end, or stop where it can be gone on
with; no reading may be lost, doubled, or belong to another patch than it says.
"""

import sys
from dataclasses import dataclass, field

import numpy as np

from aequitone.instruments import Bench, InstrumentError
from aequitone.instruments.line import Line
from aequitone.instruments.line_devices import LineMeter, LineSource
from aequitone.procedures.grey.grey_pass import GreyPlan, grey_pass
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.runner import Event, NobodyThere, Remedy, Runner, StepDone
from aequitone.procedures.steps import Read, Reading
from aequitone.reference import target_named
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.clock import VirtualClock
from aequitone.standins.scenario import load_scenario
from aequitone.standins.service.server import BenchServer

PLAN = GreyPlan(target_named("rec709-2.2"), load_scenario("demo").source.format, anchor_every=4)
METER = {"timeout_share": 0.03, "half_answer_share": 0.02, "rubbish_share": 0.02, "disconnect_share": 0.02}
SOURCE = {"timeout_share": 0.03, "disconnect_share": 0.02}
# Time-outs of the protocol are seconds; on loopback a fortieth is plenty.
PATIENCE = 0.03
HANG_UP_SHARE, KILL_SHARE = 0.02, 0.02
MOST_STARTS = 60


class Killed(BaseException):
    """The process is gone, between two of its instructions."""


@dataclass
class Told:
    """What became of one pass."""

    starts: int = 0
    troubles: int = 0
    hang_ups: int = 0
    faults: list[str] = field(default_factory=list)
    """What must not happen."""


class Patient(NobodyThere):
    """An operator who tries again twice, then gives up for now."""

    def __init__(self, told: Told) -> None:
        self._told, self._left = told, 2

    def trouble(self, error: InstrumentError) -> Remedy:
        self._told.troubles += 1
        self._left -= 1
        return Remedy.TRY_AGAIN if self._left >= 0 else Remedy.GIVE_UP


def one_pass(seed: int) -> Told:
    """Run one pass to its end through everything that goes wrong, and say what must not have happened."""
    demo = load_scenario("demo")
    scenario = demo.model_copy(
        update={"meter": demo.meter.model_copy(update=METER), "source": demo.source.model_copy(update=SOURCE)}
    )
    told, journal, rng = Told(), MemoryJournal(), np.random.default_rng(seed)
    standins = build_bench(scenario, seed)
    standins.screen.quieten()
    with BenchServer(standins) as server:

        def listen(event: Event) -> None:
            if rng.random() < HANG_UP_SHARE:
                told.hang_ups += 1
                server.hang_up()
            if rng.random() < KILL_SHARE:
                raise Killed
            if isinstance(event, StepDone) and isinstance(event.step, Read) and not event.replayed:
                live.append(event.seq)

        live: list[int] = []
        found = None
        while found is None and told.starts < MOST_STARTS:
            told.starts += 1
            before = dict(journal.recorded())
            try:
                meter = LineMeter(Line(server.addresses[0], "METER", patience=PATIENCE))
                source = LineSource(Line(server.addresses[1], "SOURCE", patience=PATIENCE))
                bench = Bench(meter, source, None, VirtualClock())
                found = Runner(bench, journal, Patient(told), listen).run(grey_pass(PLAN))
            except (InstrumentError, Killed):
                pass
            kept = journal.recorded()
            told.faults += [f"step {seq} was changed" for seq in before if kept.get(seq) != before[seq]]
        if found is None:
            told.faults.append(f"not ended after {MOST_STARTS} starts")
        told.faults += [f"step {seq} was read twice" for seq in {s for s in live if live.count(s) > 1}]
        told.faults += _wrong_patches(standins, journal)
        if found is not None and len(journal.results) < PLAN.readings:
            told.faults.append(f"{len(journal.results)} readings of {PLAN.readings}")
    return told


def _wrong_patches(standins: StandInBench, journal: MemoryJournal) -> list[str]:
    wrong = []
    for reading in journal.results.values():
        assert isinstance(reading, Reading)
        true = standins.meter.sensor.seen(standins.screen.steady_light(reading.patch))
        if np.any(np.abs(reading.xyz - true) > 7.0 * reading.sd + 1e-3 * true):
            wrong.append(f"{reading.patch.name} has the light of another: {reading.Y:.3f} for {true[1]:.3f}")
    return wrong


def main() -> None:
    runs = int(sys.argv[1]) if len(sys.argv) > 1 else 200
    told = [one_pass(seed) for seed in range(runs)]
    print(f"{runs} passes of {PLAN.readings} readings, all ended" if not any(t.faults for t in told) else "FAULTS")
    print(f"starts: {sum(t.starts for t in told)}, the most in one pass {max(t.starts for t in told)}")
    print(f"troubles told to the operator: {sum(t.troubles for t in told)}")
    print(f"connections cut from outside: {sum(t.hang_ups for t in told)}")
    for seed, each in enumerate(told):
        for fault in each.faults:
            print(f"run {seed}: {fault}")


if __name__ == "__main__":
    main()
