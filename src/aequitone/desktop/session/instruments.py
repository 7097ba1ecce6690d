"""A bench from what was chosen at Arrive and at the Bench."""

import threading
from collections.abc import Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING, TypeVar

from aequitone.advice.technology import technology_of
from aequitone.desktop.session.operator import WindowOperator
from aequitone.instruments.bridges import BridgeMeter, BridgeSource, bridge_kind
from aequitone.instruments.by_hand import HandMeter, HandSource
from aequitone.instruments.corrected import CorrectedMeter
from aequitone.instruments.ports import Bench, Meter, PatternSource, ScreenLink
from aequitone.logbook import BenchChoice, Logbook
from aequitone.logbook.records import Connection
from aequitone.logbook.standin_visit import nvram_path
from aequitone.passes import Snapshot
from aequitone.standins.clock import PacedClock

if TYPE_CHECKING:
    from aequitone.instruments.line import Line
    from aequitone.instruments.line_devices import LineMeter
    from aequitone.standins.bench import StandInBench


B = TypeVar("B", BridgeMeter, BridgeSource)


@dataclass(frozen=True)
class ConnectedBench:
    """The ports, the bare meter under its correction, and the stand-ins behind them where there are any."""

    bench: Bench
    meter: Meter
    standins: "StandInBench | None"
    clock: PacedClock


class Instruments:
    """Makes the bench that is asked for, and keeps it as long as the choice stays the same.

    Not for Qt's thread: the first stand-in costs the import of what checks its scenario, and an
    instrument on a line is asked who it is.
    """

    def __init__(self, logbook: Logbook, pace: float, operator: WindowOperator, patterns: PatternSource) -> None:
        self._logbook, self._pace, self._operator, self._patterns = logbook, pace, operator, patterns
        self._lock = threading.Lock()
        self._kept: tuple[BenchChoice, ConnectedBench] | None = None
        self._standins: tuple[tuple[str, int], StandInBench, PacedClock] | None = None
        self._lines: dict[str, Line] = {}
        self._bridges: dict[str, BridgeMeter | BridgeSource] = {}

    def bench(self, choice: BenchChoice) -> ConnectedBench:
        """Raises ScenarioError, InstrumentError or LookupError with a sentence."""
        with self._lock:
            if self._kept is None or self._kept[0] != choice:
                self._kept = (choice, self._made(choice))
            return self._kept[1]

    def reference(self, choice: BenchChoice, reference: str) -> Meter:
        """The meter to correct by: "by hand", "stand-in", or the number of one on the shelf."""
        if reference == Connection.BY_HAND:
            return HandMeter(self._operator.read)
        if reference == Connection.STANDIN:
            with self._lock:
                return self._stand_ins(choice)[0].reference_meter()
        with self._lock:
            return self._known_meter(int(reference))

    def turn(self, choice: BenchChoice, settings: Mapping[str, int]) -> None:
        """Set controls by link; nothing where a person turns them. For the desk: it takes as long as a menu."""
        link = self.bench(choice).bench.link if choice.by_link else None
        if link is not None:
            link.turn(settings)

    def go_to_job(self, snapshot: Snapshot) -> None:
        """Let a simulated screen show the memory of the present job, as a person would have it with the remote."""
        visit = snapshot.visit
        standins = self.bench(visit.bench).standins if visit.bench.simulated else None
        if standins is None:
            return
        there = (visit.input, visit.memory)
        if snapshot.jobs[0].id == visit.job_id and not standins.screen.has_memory(*there):
            # The memory that it was found in may have another name in the visit.
            there = standins.screen.first_memory
        if standins.screen.memory != there:
            standins.screen.choose_memory(*there)

    def go_to_memory(self, choice: BenchChoice, input_: str, memory: str) -> None:
        """Let a simulated screen show a memory of another input, as a person would have it with the remote."""
        standins = self.bench(choice).standins if choice.simulated else None
        if standins is not None:
            standins.screen.choose_memory(input_, memory)

    def hurry(self) -> None:
        """Let nothing that is only simulated be waited for any more."""
        if self._kept is not None:
            self._kept[1].clock.hurry()

    def close(self) -> None:
        """Close every instrument for good; a call that waits for one fails at once."""
        for instrument in (*self._lines.values(), *self._bridges.values()):
            instrument.hang_up()

    def _made(self, choice: BenchChoice) -> ConnectedBench:
        standins, clock = self._stand_ins(choice) if choice.simulated else (None, PacedClock(1.0))
        meter = self._meter(choice, standins)
        corrected = meter
        if choice.correction_id:
            corrected = CorrectedMeter(meter, self._logbook.shelf.correction(choice.correction_id).matrix)
        # A stand-in meter moves by itself; a real one is hung by a person.
        mount = standins.meter if choice.meter is Connection.STANDIN and standins is not None else None
        bench = Bench(corrected, self._source(choice, standins), self._link(choice, standins), clock, mount)
        return ConnectedBench(bench, meter, standins, clock)

    def _meter(self, choice: BenchChoice, standins: "StandInBench | None") -> Meter:
        if choice.meter is Connection.INSTRUMENT:
            meter = self._known_meter(choice.meter_id)
            if isinstance(meter, BridgeMeter):
                return meter
            if choice.meter_mode:
                meter.choose_mode(choice.meter_mode)
            if choice.synchronise_hz is not None:
                meter.synchronise(choice.synchronise_hz)
            return meter
        if choice.meter is Connection.STANDIN and standins is not None:
            sensor = standins.meter.sensor
            sensor.choose(technology_of(choice.meter_mode) or sensor.first_technology)
            return standins.meter
        return HandMeter(self._operator.read)

    def _source(self, choice: BenchChoice, standins: "StandInBench | None") -> PatternSource:
        if choice.patterns is Connection.INSTRUMENT:
            from aequitone.instruments.line_devices import LineSource

            address = self._address(choice.source_id)
            if bridge_kind(address):
                return self._bridged(address, BridgeSource)
            return LineSource(self._line(address, "SOURCE"))
        if choice.patterns is Connection.STANDIN and standins is not None:
            return standins.source
        return HandSource(self._operator.show) if choice.patterns is Connection.BY_HAND else self._patterns

    def _link(self, choice: BenchChoice, standins: "StandInBench | None") -> ScreenLink | None:
        if choice.link is Connection.INSTRUMENT:
            from aequitone.instruments.line_devices import LineScreen

            return LineScreen(self._line(self._address(choice.link_id), "SCREEN"))
        return standins.link if choice.link is Connection.STANDIN and standins is not None else None

    def _stand_ins(self, choice: BenchChoice) -> "tuple[StandInBench, PacedClock]":
        """The same stand-ins however the choice of instruments changes: a screen is not swapped by a setting."""
        which = (choice.scenario, choice.seed)
        if self._standins is None or self._standins[0] != which:
            from aequitone.standins.bench import build_bench
            from aequitone.standins.scenario import load_scenario

            clock = PacedClock(self._pace)
            nvram = nvram_path(self._logbook.path, choice.scenario, choice.seed)
            made = build_bench(load_scenario(choice.scenario), choice.seed, clock=clock, nvram=nvram)
            self._standins = (which, made, clock)
        return self._standins[1], self._standins[2]

    def _known_meter(self, instrument_id: int) -> "LineMeter | BridgeMeter":
        from aequitone.instruments.line_devices import LineMeter

        address = self._address(instrument_id)
        if bridge_kind(address):
            return self._bridged(address, BridgeMeter)
        return LineMeter(self._line(address, "METER"))

    def _bridged(self, address: str, make: type[B]) -> B:
        kept = self._bridges.get(address)
        if not isinstance(kept, make):
            kept = self._bridges[address] = make(address)
        return kept

    def _address(self, instrument_id: int) -> str:
        return self._logbook.shelf.instrument(instrument_id).address

    def _line(self, address: str, kind: str) -> "Line":
        from aequitone.instruments.line import Line

        if address not in self._lines or self._lines[address].kind != kind:
            self._lines[address] = Line(address, kind)
        return self._lines[address]
