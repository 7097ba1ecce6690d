"""Visits with a meter whose display a person reads and types, turned by hand: what they bring, and what they cost.

    PYTHONPATH=. .venv/bin/python benchmarks/typed.py [FIRST] [UNITS] [SCENARIO ...]

As found, Levels, White, Tone and Proof of a warm screen with all that is automatic switched off; nobody slips. The
meter integrates for a second, in the dark for four, and is corrected on the screen; its display shows four digits.
"""

import sys
import tempfile
from collections import defaultdict
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from itertools import product
from pathlib import Path

import numpy as np
from benchmarks.colour_management import seconds_of
from benchmarks.white_balance import corrected
from benchmarks.zoo import STATIONS, truth

from aequitone.advice.moves import Move
from aequitone.colorimetry import xyY_from_xyz
from aequitone.instruments.by_hand import HandEntry, HandMeter
from aequitone.instruments.ports import Meter
from aequitone.logbook import open_logbook
from aequitone.logbook.records import Connection
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.passes import NotReadyError, begin, carry_out
from aequitone.procedures.runner import NobodyThere
from aequitone.signal import Patch
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import load_scenario

SCREENS = (
    "demo", "wide-lcd", "quantum-lcd", "white-oled", "rgb-oled", "laser-projector", "lamp-projector",
    "desk-monitor", "family-tube", "mapping-lcd",
)  # fmt: skip
_WARM_SECONDS = 5400.0
# To read a display and type what it shows; how long the meter integrates, in the light, and below so much of it.
_TYPING_SECONDS, _LIT_SECONDS, _DARK_SECONDS, _DARK = 8.0, 1.0, 4.0, 5.0
_DIGITS = 4


@dataclass(frozen=True)
class Station:
    """What one station cost a person, and how the ladder then truly was."""

    mean: float
    worst: float
    readings: int
    trips: int
    minutes: float


class Person(NobodyThere):
    """Turns what is asked, in the time that it takes."""

    def __init__(self, bench: StandInBench) -> None:
        self.bench = bench
        self.trips = 0

    def turn(self, move: Move) -> None:
        self.trips += 1
        self.bench.clock.sleep(seconds_of(move, staying=False))
        self.bench.screen.turn({change.role.key: change.to_value for change in move.changes})


def typing(bench: StandInBench, meter: Meter) -> HandMeter:
    """A meter whose display is read and typed."""

    def ask(patch: Patch) -> HandEntry:
        bench.clock.sleep(_TYPING_SECONDS)
        light = meter.measure(patch, _LIT_SECONDS)
        if light.Y < _DARK:
            light = meter.measure(patch, _DARK_SECONDS)
        x, y, Y = (float(each) for each in xyY_from_xyz([light.X, light.Y, light.Z]))
        return HandEntry(round(x, _DIGITS), round(y, _DIGITS), float(f"{max(Y, 0.0):.{_DIGITS}g}"))

    return HandMeter(ask)


def run_one(name: str, unit: int) -> dict[str, Station]:
    """One unit from as found to proof."""
    scenario, told = load_scenario(name), {}
    with tempfile.TemporaryDirectory() as folder:
        logbook = open_logbook(Path(folder) / "logbook.sqlite")
        bench = build_bench(scenario, unit)
        bench.clock.sleep(_WARM_SECONDS)
        visit = begin_standin_visit(logbook, scenario, name, unit)
        choice = replace(visit.bench, meter=Connection.BY_HAND, link=Connection.BY_HAND)
        logbook.choose_bench(visit.id, choice)
        bench.screen.quieten()
        note_as_found(logbook, visit, bench.link.values())
        ports = replace(bench.bench(by_link=False), meter=typing(bench, corrected(bench, choice.care)))
        for kind in STATIONS:
            began, person = bench.clock.now(), Person(bench)
            try:
                prepared = begin(logbook, visit.id, kind)
            except NotReadyError:
                continue
            carry_out(logbook, prepared, ports, person, care=choice.care)
            mean, worst, _ = truth(bench, visit.target)
            minutes = (bench.clock.now() - began) / 60.0
            readings = len(logbook.readings(prepared.pass_id))
            told[kind.key] = Station(mean, worst, readings, person.trips, minutes)
        logbook.close()
    return told


def main() -> None:
    first, units = (int(word) for word in (sys.argv[1:3] + ["0", "20"][len(sys.argv[1:3]) :]))
    names = tuple(sys.argv[3:]) or SCREENS
    pairs = list(product(names, range(first, first + units)))
    with ProcessPoolExecutor() as pool:
        runs = list(pool.map(run_one, *zip(*pairs, strict=True)))
    for i, name in enumerate(names):
        rows = defaultdict(list)
        for run in runs[i * units : (i + 1) * units]:
            for key, station in run.items():
                rows[key].append(station)
        print(f"{name}, {units} units; true ΔE of the ladder mean and worst, readings, trips, minutes: medians")
        for key, stations in rows.items():
            figures = np.array([[s.mean, s.worst, s.readings, s.trips, s.minutes] for s in stations])
            mean, worst, *cost = np.median(figures, axis=0)
            told = " ".join(f"{figure:6.1f}" for figure in cost)
            print(f"  {key:9s} {mean:5.2f} (most {figures[:, 0].max():5.2f}) {worst:6.2f} {told}")
        white, tone = (np.array([s.mean for s in rows[key]]) for key in ("white", "tone"))
        if len(white) == len(tone):
            print(f"  Tone brought {np.median(white - tone):.2f} (least {min(white - tone):.2f})")


if __name__ == "__main__":
    main()
