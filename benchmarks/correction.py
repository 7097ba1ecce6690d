"""What a four-colour correction leaves on colours that were not used to make it.

.venv/bin/python benchmarks/correction.py [SEEDS]

A spectroradiometer is the reference; a filter colorimeter, set to the wrong screen technology, the field
meter. Thirty colours at random, none of them used; distances in u'v' between the two meters.
"""

import sys
from dataclasses import dataclass, replace

import numpy as np

from aequitone.colorimetry import uv_from_xyz
from aequitone.colorimetry.correction import four_colour, least_squares
from aequitone.procedures.care import Care, RefreshFields
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.preparation.colour_pairs import PAIR_COLOURS, read_colours
from aequitone.procedures.runner import NobodyThere, Runner
from aequitone.signal import colour_patch
from aequitone.standins.bench import build_bench
from aequitone.standins.bench_parts import MeterPart
from aequitone.standins.scenario import Scenario, load_scenario

CARE = Care(refresh=RefreshFields(30.0, 2.0, 50.0))
SCREENS = (("wide-lcd", "led-lcd"), ("white-oled", "led-lcd"), ("laser-projector", "wide-lcd"), ("plasma", "crt"))


@dataclass(frozen=True)
class Residuals:
    """Distances in u'v' on colours that were not used, shape (seeds, 30): before, and after each method."""

    before: np.ndarray
    four: np.ndarray
    many: np.ndarray


def residuals(name: str, wrong: str, seeds: int) -> Residuals:
    """Correct a colorimeter in the wrong mode by a spectroradiometer, over units of a screen."""
    scenario = load_scenario(name)
    reference = scenario.meter.model_copy(
        update={"kind": "spectroradiometer", "technology": scenario.screen.technology, "serial": "R"}
    )
    field = scenario.meter.model_copy(update={"technology": wrong})
    before, four, many = [], [], []
    for seed in range(seeds):
        wanted, true = _readings(scenario, reference, seed)
        seen, told = _readings(scenario, field, seed)
        before.append(_apart(told, true))
        four.append(_apart(told @ four_colour(wanted[:4], seen[:4]).matrix.T, true))
        many.append(_apart(told @ least_squares(wanted, seen).matrix.T, true))
    return Residuals(np.array(before), np.array(four), np.array(many))


def _readings(scenario: Scenario, meter: MeterPart, seed: int) -> tuple[np.ndarray, np.ndarray]:
    """The pairs as a procedure reads them, and thirty other colours without noise."""
    bench = build_bench(scenario.model_copy(update={"meter": meter}), seed)
    format_, rng = scenario.source.format, np.random.default_rng(seed)
    pairs = Runner(bench.bench(), MemoryJournal(), NobodyThere(), care=CARE).run(
        read_colours(PAIR_COLOURS, format_)
    )
    bench.meter.true_noise = replace(bench.meter.true_noise, shot=0.0, floor=0.0, read=0.0)
    others = []
    for i in range(30):
        patch = colour_patch(f"colour {i}", tuple(rng.uniform(25.0, 100.0, 3)), format_)
        bench.source.show(patch)
        others.append(bench.meter.measure(patch, 1.0).xyz)
    return np.array([reading.xyz for reading in pairs]), np.array(others)


def main() -> None:
    seeds = int(sys.argv[1]) if len(sys.argv) > 1 else 20
    print(f"{seeds} units; u'v' on 30 colours not used: before, four colours, least squares over 8")
    for name, wrong in SCREENS:
        left = residuals(name, wrong, seeds)
        words = "   ".join(f"{d.mean():.5f} (worst {d.max():.5f})" for d in (left.before, left.four, left.many))
        print(f"{name:16s} in the mode for {wrong:10s} {words}")


def _apart(a: np.ndarray, b: np.ndarray) -> np.ndarray:
    return np.asarray(np.linalg.norm(uv_from_xyz(a) - uv_from_xyz(b), axis=1))


if __name__ == "__main__":
    main()
