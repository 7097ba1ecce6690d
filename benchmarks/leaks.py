"""The last look: whether a finished memory that another job has changed is found out, and false alarms.

    PYTHONPATH=. .venv/bin/python benchmarks/leaks.py [FIRST] [VISITS] [SCENARIO ...]

Half of the visits change nothing after the proof; the other half one thing, as turning it in another memory would
on a screen that shares it: all of white balance, one gain, one bias (by so much that 10 % moves by more than the
proof was read to), light output, the temperature or the gamma preset.
"""

import sys
import tempfile
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from typing import Any, TypeVar

import numpy as np

from aequitone.advice.roles import TWO_POINT
from aequitone.logbook import open_logbook
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.passes import AS_FOUND, LAST_LOOK, PROOF, PassType, begin, carry_out
from aequitone.procedures.runner import NobodyThere
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import load_scenario

SCREENS = ("demo", "wide-lcd", "white-oled", "mapping-lcd", "laser-projector")
LEAKS = ("white balance", "gains", "biases", "light output", "temperature", "gamma")
R = TypeVar("R")
_WARM_SECONDS, _BETWEEN_SECONDS = 5400.0, 1800.0


def change(bench: StandInBench, leak: str, rng: np.random.Generator) -> None:
    """Change one thing by as much as it may be found changed: a few steps, or another preset."""
    stands = bench.screen.settings()
    limits = {control.role: control for control in bench.screen.controls()}

    def by(role: str, steps: int) -> dict[str, int]:
        control = limits[role]
        to = stands[role] + steps * control.step
        back = stands[role] - steps * control.step
        return {role: to if control.lowest <= to <= control.highest else back}

    match leak:
        case "white balance":
            for role in TWO_POINT:
                bench.screen.turn(by(role.key, int(rng.integers(-8, 9))))
        case "gains":
            bench.screen.turn(by(f"gain-{rng.choice(list('rgb'))}", int(rng.choice([-1, 1]) * rng.integers(3, 9))))
        case "biases":
            bench.screen.turn(
                by(f"bias-{rng.choice(list('rgb'))}", int(rng.choice([-1, 1]) * rng.integers(8, 17)))
            )
        case "light output":
            bench.screen.turn(by("light-output", int(rng.choice([-1, 1])) * int(rng.integers(3, 12))))
        case _:
            bench.screen.turn(by(leak, int(rng.choice([-1, 1]))))


def run_one(name: str, unit: int, leak: str) -> tuple[str, bool, str]:
    """One visit; `leak` "" for none. Returns it, whether something was found, and the words."""
    scenario = load_scenario(name)
    with tempfile.TemporaryDirectory() as folder:
        logbook, bench = open_logbook(Path(folder) / "logbook.sqlite"), build_bench(scenario, unit)
        bench.screen.quieten()
        bench.clock.sleep(_WARM_SECONDS)
        visit = begin_standin_visit(logbook, scenario, name, unit)
        note_as_found(logbook, visit, bench.link.values())

        def measure(kind: PassType[Any, R]) -> R:
            prepared = begin(logbook, visit.id, kind)
            return carry_out(logbook, prepared, bench.bench(), NobodyThere(), care=visit.bench.care)

        measure(AS_FOUND)
        measure(PROOF)
        bench.clock.sleep(_BETWEEN_SECONDS)
        if leak:
            change(bench, leak, np.random.default_rng([unit, 5]))
        look = measure(LAST_LOOK)
        logbook.close()
    return leak, bool(look.moved), look.words


def main() -> None:
    first, visits = (int(word) for word in (sys.argv[1:] + ["0", "200"][len(sys.argv) - 1 :])[:2])
    names = sys.argv[3:] or list(SCREENS)
    jobs = [
        (names[i % len(names)], first + i, LEAKS[(i // 2) % len(LEAKS)] if i % 2 else "")
        for i in range(2 * visits)
    ]
    with ProcessPoolExecutor() as pool:
        told = list(pool.map(run_one, *zip(*jobs, strict=True)))
    found, made = Counter(leak for leak, seen, _ in told if seen), Counter(leak for leak, _, _ in told)
    for leak in ("", *LEAKS):
        print(f"{leak or 'nothing changed':16s} {found[leak]:4d} of {made[leak]:4d} found changed")
    for leak, seen, words in told:
        if seen is not bool(leak):
            print(f"  {'false alarm' if not leak else 'missed: ' + leak}: {words}")


if __name__ == "__main__":
    main()
