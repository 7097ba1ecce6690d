"""A bench from what was chosen at Arrive."""

import threading
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

from aequitone.desktop.people import Person
from aequitone.instruments.by_hand import HandMeter
from aequitone.instruments.ports import Bench, Meter, PatternSource
from aequitone.logbook import BenchChoice
from aequitone.logbook.standin_visit import nvram_path
from aequitone.standins.clock import PacedClock

if TYPE_CHECKING:
    from aequitone.standins.bench import StandInBench


@dataclass(frozen=True)
class Benched:
    """The ports, and the stand-ins behind them where there are any (for the remote)."""

    bench: Bench
    standins: "StandInBench | None"
    clock: PacedClock


class BenchKeeper:
    """Makes the bench that is asked for, and keeps it as long as the choice stays the same.

    Not for Qt's thread: the first stand-in costs the import of what checks its scenario.
    """

    def __init__(self, logbook: Path, pace: float, person: Person, patterns: PatternSource) -> None:
        self._logbook, self._pace, self._person, self._patterns = logbook, pace, person, patterns
        self._lock = threading.Lock()
        self._kept: tuple[BenchChoice, Benched] | None = None

    def bench(self, choice: BenchChoice) -> Benched:
        """Raises ScenarioError with a sentence."""
        with self._lock:
            if self._kept is None or self._kept[0] != choice:
                self._kept = (choice, _made(choice, self._logbook, self._pace, self._person, self._patterns))
            return self._kept[1]

    def hurry(self) -> None:
        """Let nothing that is only simulated be waited for any more."""
        if self._kept is not None:
            self._kept[1].clock.hurry()


def _made(choice: BenchChoice, logbook: Path, pace: float, person: Person, patterns: PatternSource) -> Benched:
    standins = None
    clock = PacedClock(pace if choice.simulated else 1.0)
    if choice.simulated:
        from aequitone.standins.bench import build_bench
        from aequitone.standins.scenario import load_scenario

        scenario = load_scenario(choice.scenario)
        nvram = nvram_path(logbook, choice.scenario, choice.seed)
        standins = build_bench(scenario, choice.seed, clock=clock, nvram=nvram)
    meter: Meter = HandMeter(person.read)
    source = patterns
    if standins is not None and choice.meter == "stand-in":
        meter = standins.meter
    if standins is not None and choice.patterns == "stand-in":
        source = standins.source
    link = standins.link if standins is not None and choice.link == "stand-in" else None
    return Benched(Bench(meter, source, link, clock), standins, clock)
