"""A bench from what was chosen at Arrive."""

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from aequitone.desktop.people import Person
from aequitone.instruments.by_hand import HandMeter
from aequitone.instruments.ports import Bench, Meter, PatternSource
from aequitone.logbook import BenchChoice
from aequitone.logbook.standin_visit import nvram_path
from aequitone.standins import PacedClock, StandInBench, build_bench, load_scenario


@dataclass(frozen=True)
class Benched:
    """The ports, and the stand-ins behind them where there are any (for the remote)."""

    bench: Bench
    standins: StandInBench | None


def make_bench(
    choice: BenchChoice, logbook: Path, pace: float, person: Person, patterns: Callable[[str], PatternSource]
) -> Benched:
    """Raises ScenarioError with a sentence. `patterns` opens the pattern window on a screen."""
    standins = None
    clock = PacedClock(pace if choice.simulated else 1.0)
    if choice.simulated:
        scenario = load_scenario(choice.scenario)
        nvram = nvram_path(logbook, choice.scenario, choice.seed)
        standins = build_bench(scenario, choice.seed, clock=clock, nvram=nvram)
    meter: Meter = HandMeter(person.read)
    source: PatternSource
    if standins is not None and choice.meter == "stand-in":
        meter = standins.meter
    source = (
        standins.source if standins is not None and choice.patterns == "stand-in" else patterns(choice.display)
    )
    link = standins.link if standins is not None and choice.link == "stand-in" else None
    return Benched(Bench(meter, source, link, clock), standins)
