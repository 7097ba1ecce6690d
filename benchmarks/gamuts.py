"""Gamut presets by measurement: is the right one chosen, and what is wrong with the others named?

    PYTHONPATH=. .venv/bin/python benchmarks/gamuts.py [UNITS]

Every shipped screen, warm, before white is set: each of its gamut presets, or its one, with a source that mixes by
the right matrix or by a wrong one. The truth is what the preset shows, by the stand-in itself, and the matrix.
"""

import sys
from collections import Counter
from concurrent.futures import ProcessPoolExecutor

import numpy as np
from benchmarks.trust import with_part

from aequitone.advice.gamuts import gamut_signals
from aequitone.advice.moves import ControlState
from aequitone.advice.roles import Role
from aequitone.logbook.settings.menus import control_of
from aequitone.procedures.care import CARE
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.preparation.presets import ChoicePlan, choose
from aequitone.procedures.runner import NobodyThere, Runner
from aequitone.reference import target_named
from aequitone.reference.colour_errors import saturation_and_hue
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import load_scenario
from aequitone.standins.shipped import shipped_scenarios

TARGET = target_named("rec709-2.2/added")
MATRICES = {"as asked": "", "bt601": "mixed by BT.601, taken apart by BT.709", "bt2020": "mixed by BT.2020"}
# Primaries further from white than this, in %, are too wide or too narrow by the truth; between the two figures
# any word is right.
_SURELY, _HARDLY = 5.0, 3.0
_PRIMARIES = [0, 2, 4]


def wide(bench: StandInBench, preset: int | None) -> float:
    """How much further from white the true primaries lie than wanted, in %, on average."""
    settings = bench.screen.settings()
    if preset is not None:
        settings["gamut"] = preset
    six = bench.screen.light_of_signal(gamut_signals(), settings) - bench.screen.light_of_signal(
        np.zeros(3), settings
    )
    grey = bench.screen.light_of_signal(np.full(3, 0.75), settings)
    seen = six * TARGET.white.xyz() * grey[1] / grey
    saturation, _ = saturation_and_hue(seen, TARGET.colour(gamut_signals(), 100.0), TARGET.white.xyz())
    return float(saturation[_PRIMARIES].mean())


def run_one(case: tuple[str, int, str]) -> list[tuple[str, bool]]:
    """The verdicts on one unit: what was asked, and whether the answer was right."""
    name, seed, matrix = case
    scenario = with_part(load_scenario(name), "source", sends_matrix=matrix)
    bench = build_bench(scenario, seed)
    bench.screen.quieten()
    part = next((control for control in bench.screen.controls() if control.role == Role.GAMUT.key), None)
    control = ControlState(Role.GAMUT, "Gamut", 0, 1, 1, 0)
    names: tuple[str, ...] = ("its own",)
    if part is not None:
        control, names = control_of(part).state(bench.screen.settings()[part.role]), part.choices
    plan = ChoicePlan(TARGET, scenario.source.format, control, tuple(range(len(names))), names, colour=True)
    state = Runner(bench.bench(), MemoryJournal(), NobodyThere(), care=CARE).run(choose(plan))
    told = []
    if part is not None and matrix == "as asked":
        shows = scenario.screen.gamut[state.order[0].track.value].shows
        told.append(("the preset of the target chosen", shows == "rec709"))
    for judged in state.order:
        if matrix != "as asked":
            told.append((f"matrix {matrix} named", MATRICES[matrix] in judged.fault))
            continue
        told.append(("no matrix named where it is right", "add up" not in judged.fault))
        true = wide(bench, judged.track.value if part is not None else None)
        if abs(true) > _SURELY:
            told.append(
                ("too wide or too narrow named", ("too wide" if true > 0 else "too narrow") in judged.fault)
            )
        elif abs(true) < _HARDLY:
            told.append(("nothing said of a right width", "too " not in judged.fault))
    return told


def main() -> None:
    units = int(sys.argv[1]) if len(sys.argv) > 1 else 20
    cases = [(name, seed, matrix) for name in shipped_scenarios() for seed in range(units) for matrix in MATRICES]
    asked: Counter[str] = Counter()
    right: Counter[str] = Counter()
    missed: Counter[str] = Counter()
    with ProcessPoolExecutor() as pool:
        for case, told in zip(cases, pool.map(run_one, cases, chunksize=4), strict=True):
            for what, good in told:
                asked[what] += 1
                right[what] += good
                missed[f"{case[0]}: {what}"] += not good
    for what, count in asked.items():
        print(f"{what:36s} {right[what]:5d} of {count:5d}, {100.0 * right[what] / count:6.2f} %")
    for what, count in missed.most_common(12):
        if count:
            print(f"{count:5d} missed  {what}")


if __name__ == "__main__":
    main()
