"""What a four-colour correction leaves on colours that were not used to make it.

.venv/bin/python benchmarks/correction.py [SEEDS]

A spectroradiometer is the reference; a filter colorimeter, set to the wrong screen technology, the field
meter. Thirty colours at random, none of them used; distances in u'v' between the two meters.
"""

import sys
from dataclasses import replace

import numpy as np

from aequitone.colorimetry import uv_from_xyz
from aequitone.colorimetry.correction import four_colour, least_squares
from aequitone.procedures.care import Care, RefreshFields
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.pairs import PAIR_COLOURS, read_colours
from aequitone.procedures.runner import NobodyThere, Runner
from aequitone.signal import colour_patch
from aequitone.standins.bench import build_bench
from aequitone.standins.scenario import load_scenario

CARE = Care(refresh=RefreshFields(30.0, 2.0, 50.0))
SCREENS = (("wide-lcd", "led-lcd"), ("white-oled", "led-lcd"), ("laser-projector", "wide-lcd"), ("plasma", "crt"))


def main() -> None:
    seeds = int(sys.argv[1]) if len(sys.argv) > 1 else 20
    print(f"{seeds} units; u'v' on 30 colours not used: before, four colours, least squares over 8")
    for name, wrong in SCREENS:
        before, four, many = [], [], []
        for seed in range(seeds):
            scenario = load_scenario(name)
            technology = scenario.screen.technology
            reference = scenario.meter.model_copy(
                update={"kind": "spectroradiometer", "technology": technology, "serial": "R"}
            )
            field = scenario.meter.model_copy(update={"technology": wrong})
            rng = np.random.default_rng(seed)
            random = [
                colour_patch(f"colour {i}", tuple(rng.uniform(25.0, 100.0, 3)), scenario.source.format)
                for i in range(30)
            ]
            readings = {}
            for key, meter in (("reference", reference), ("field", field)):
                bench = build_bench(scenario.model_copy(update={"meter": meter}), seed)
                run = Runner(bench.bench(), MemoryJournal(), NobodyThere(), care=CARE).run
                pairs = np.array([r.xyz for r in run(read_colours(PAIR_COLOURS, scenario.source.format))])
                bench.meter.true_noise = replace(bench.meter.true_noise, shot=0.0, floor=0.0, read=0.0)
                others = []
                for patch in random:
                    bench.source.show(patch)
                    others.append(bench.meter.measure(patch, 1.0).xyz)
                readings[key] = (pairs, np.array(others))
            (wanted, true), (seen, told) = readings["reference"], readings["field"]
            before.append(_apart(told, true))
            four.append(_apart(told @ four_colour(wanted[:4], seen[:4]).matrix.T, true))
            many.append(_apart(told @ least_squares(wanted, seen).matrix.T, true))
        print(f"{name:16s} in the mode for {wrong:10s} {_words(before)}   {_words(four)}   {_words(many)}")


def _apart(a: np.ndarray, b: np.ndarray) -> np.ndarray:
    return np.linalg.norm(uv_from_xyz(a) - uv_from_xyz(b), axis=1)


def _words(distances: list[np.ndarray]) -> str:
    each = np.array(distances)
    return f"{each.mean():.5f} (worst {each.max():.5f})"


if __name__ == "__main__":
    main()
