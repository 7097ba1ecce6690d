"""The compromise: clipped and darker shares told of three scenes from measured greys, against the truth.

PYTHONPATH=. .venv/bin/python benchmarks/compromise.py [UNITS] [SCENARIO ...]
"""

import sys
import tempfile
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from itertools import product
from pathlib import Path

import numpy as np
from benchmarks.hdr import MEMORY, SCREENS, TARGET

from aequitone.advice.answers.compromise import LightCurve, made_of
from aequitone.logbook import open_logbook
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.passes import PEAK, begin, carry_out
from aequitone.procedures.hdr.peak import PeakPass
from aequitone.procedures.runner import NobodyThere
from aequitone.signal import grey_patch
from aequitone.signal.pictures.hdr_scenes import HDR_SCENES
from aequitone.standins.bench import build_bench
from aequitone.standins.scenario import load_scenario

_WARM_SECONDS = 5400.0


def run_one(name: str, unit: int) -> list[tuple[float, float]]:
    """By scene: how far the clipped and the darker share that are told lie off the truth."""
    scenario = load_scenario(name)
    wanted = {"target": TARGET, "memory": MEMORY}
    scenario = scenario.model_copy(update={"visit": scenario.visit.model_copy(update=wanted)})
    with tempfile.TemporaryDirectory() as folder:
        logbook, bench = open_logbook(Path(folder) / "logbook.sqlite"), build_bench(scenario, unit)
        bench.clock.sleep(_WARM_SECONDS)
        visit = begin_standin_visit(logbook, scenario, name, unit)
        logbook.choose_bench(visit.id, replace(visit.bench, depth=10))
        bench.screen.choose_memory(visit.input, MEMORY)
        bench.screen.quieten()
        note_as_found(logbook, visit, bench.link.values())
        prepared = begin(logbook, visit.id, PEAK)
        found: PeakPass = carry_out(logbook, prepared, bench.bench(), NobodyThere(), care=visit.bench.care)
        format_ = logbook.visit(visit.id).bench.format
        logbook.close()
    told = LightCurve.of_greys(np.array(found.percents) / 100.0, np.array(found.light), found.black)
    signal = np.arange(0.0, 1.0001, 0.005)
    light = np.array([bench.screen.steady(grey_patch(100.0 * float(v), format_))[1] for v in signal])
    sent = np.array([grey_patch(100.0 * float(v), format_).signal[0] for v in signal])
    true = LightCurve.of_greys(sent, light, float(light[0]))
    pairs = [(made_of(scene.light, told), made_of(scene.light, true)) for scene in HDR_SCENES]
    return [(a.clipped - b.clipped, a.darker - b.darker) for a, b in pairs]


def main() -> None:
    units = int(sys.argv[1]) if len(sys.argv) > 1 else 10
    names = sys.argv[2:] or SCREENS
    with ProcessPoolExecutor() as pool:
        told = list(pool.map(run_one, *zip(*product(names, range(units)), strict=True)))
    for i, name in enumerate(names):
        off = np.abs(np.array(told[i * units : (i + 1) * units])) * 100.0
        for k, scene in enumerate(HDR_SCENES):
            (clipped, darker), (most, most_darker) = np.median(off[:, k], axis=0), off[:, k].max(axis=0)
            print(
                f"{name:16s} {scene.name:20s} clipped off by {clipped:4.2f} (most {most:4.2f}), "
                f"darker by {darker:4.2f} (most {most_darker:4.2f}) % of the pixels"
            )


if __name__ == "__main__":
    main()
