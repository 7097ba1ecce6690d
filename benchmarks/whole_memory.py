"""A whole SDR memory by link, without warm-up: readings and simulated minutes of each pass, by unit.

    PYTHONPATH=. .venv/bin/python benchmarks/whole_memory.py [UNITS] [SCENARIO ...]

Presets, As found, Levels, White, Tone and Proof of a warm screen with all that is automatic switched off.
"""

import sys
import tempfile
from concurrent.futures import ProcessPoolExecutor
from itertools import product
from pathlib import Path
from typing import Any

import numpy as np
from benchmarks.zoo import truth

from aequitone.logbook import open_logbook
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.passes import (
    AS_FOUND,
    GAMMA,
    LEVELS,
    PROOF,
    TEMPERATURE,
    TONE,
    WHITE,
    NotReadyError,
    PassType,
    begin,
    carry_out,
)
from aequitone.procedures.runner import NobodyThere
from aequitone.standins.bench import build_bench
from aequitone.standins.scenario import load_scenario

TELEVISIONS = ("demo", "quantum-lcd", "white-oled", "wide-lcd")
PASSES: tuple[PassType[Any, Any], ...] = (TEMPERATURE, GAMMA, AS_FOUND, LEVELS, WHITE, TONE, PROOF)
_WARM_SECONDS = 5400.0


def run_one(name: str, seed: int) -> dict[str, tuple[float, float, float, float, float]]:
    """By pass: readings, minutes, mean and worst true ΔE 2000 of the ladder after it, and white's light."""
    scenario = load_scenario(name)
    told = {}
    with tempfile.TemporaryDirectory() as folder:
        logbook = open_logbook(Path(folder) / "logbook.sqlite")
        bench = build_bench(scenario, seed)
        bench.screen.quieten()
        bench.clock.sleep(_WARM_SECONDS)
        visit = begin_standin_visit(logbook, scenario, name, seed)
        note_as_found(logbook, visit, bench.link.values())
        for kind in PASSES:
            before = bench.clock.now()
            try:
                prepared = begin(logbook, visit.id, kind)
            except NotReadyError:
                continue
            carry_out(logbook, prepared, bench.bench(), NobodyThere(), care=logbook.visit(visit.id).bench.care)
            readings = len(logbook.readings(prepared.pass_id))
            told[kind.key] = (float(readings), (bench.clock.now() - before) / 60.0, *truth(bench, visit.target))
        logbook.close()
    return told


def main() -> None:
    units = int(sys.argv[1]) if len(sys.argv) > 1 else 20
    names = sys.argv[2:] or TELEVISIONS
    for name, told in zip(names, _all(names, units), strict=True):
        print(f"{name}, {units} units")
        whole = np.array([np.sum([each[:2] for each in one.values()], axis=0) for one in told])
        for kind in PASSES:
            rows = np.array([one[kind.key] for one in told if kind.key in one])
            if len(rows):
                readings, minutes, mean, worst, light = np.median(rows, axis=0)
                print(
                    f"  {kind.key:14s} {readings:4.0f} readings {minutes:5.1f} min"
                    f"   ladder {mean:4.2f}, worst {worst:4.2f}, white {light:5.1f} cd/m²"
                )
        readings, minutes = np.median(whole, axis=0)
        print(f"  {'whole':14s} {readings:4.0f} readings {minutes:5.1f} min")


def _all(names: tuple[str, ...] | list[str], units: int) -> list[list[dict[str, Any]]]:
    pairs = list(product(names, range(units)))
    with ProcessPoolExecutor() as pool:
        told = list(pool.map(run_one, *zip(*pairs, strict=True)))
    return [told[i : i + units] for i in range(0, len(told), units)]


if __name__ == "__main__":
    main()
