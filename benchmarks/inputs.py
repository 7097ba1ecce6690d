"""The look at another input: whether what differs is found, what it is taken for, and false alarms.

    PYTHONPATH=. .venv/bin/python benchmarks/inputs.py [FIRST] [INPUTS] [SCENARIO ...]

A memory is proven, with its colours; half an hour later the same memory is looked at through another source. Half
of the inputs are right; of the others each has one thing wrong: the range of the input or of the player, an
enhancement of contrast or colour in the player, another white, gamma, temperature or light in the memory of this
input, or colour management that copying has left behind.
"""

import sys
import tempfile
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from pathlib import Path

import numpy as np
from benchmarks.leaks import change

from aequitone.advice.roles import is_of_colours, role_of
from aequitone.logbook import open_logbook
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.passes import AS_FOUND, COLOURS_LEFT, PROOF, begin, begin_verify, carry_out
from aequitone.procedures.runner import NobodyThere
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.devices import StandInSource
from aequitone.standins.scenario import load_scenario

SCREENS = ("demo", "wide-lcd", "white-oled", "rgb-oled", "laser-projector", "lamp-projector")
FAULTS = (
    "input range", "player range", "contrast", "colour", "white balance", "gamma", "temperature", "light output",
    "colour management",
)  # fmt: skip
_WARM_SECONDS, _BETWEEN_SECONDS = 5400.0, 1800.0
# What the words must hold to name the cause.
_NAMED = {
    "input range": "range",
    "player range": "range",
    "contrast": "player",
    "colour": "player",
    "white balance": "gains",
    "gamma": "gamma",
    "temperature": "temperature",
    "light output": "light output",
    "colour management": "colour management",
}


def spoil(bench: StandInBench, fault: str, rng: np.random.Generator) -> StandInBench:
    """The bench with the fault in it."""
    sign = int(rng.choice([-1, 1]))
    part = bench.scenario.source
    match fault:
        case "":
            pass
        case "input range":
            bench.screen.part = bench.screen.part.model_copy(update={"expects_range": "full"})
            # What it shows is worked out anew.
            bench.screen.turn({})
        case "player range":
            part = part.model_copy(update={"sends_range": "full"})
        case "contrast":
            part = part.model_copy(update={"contrast_share": float(rng.uniform(0.1, 0.35))})
        case "colour":
            part = part.model_copy(update={"colour_share": float(rng.uniform(0.08, 0.3))})
        case "colour management":
            _turn_colours(bench, rng, sign)
        case _:
            change(bench, fault, rng)
    source = StandInSource(part, bench.screen, bench.clock, bench.seed + 17)
    return replace(bench, source=source)


def _turn_colours(bench: StandInBench, rng: np.random.Generator, sign: int) -> None:
    """As copying leaves it behind: every control of colour management a few steps off."""
    stands = bench.screen.settings()
    turned = {}
    for control in bench.screen.controls():
        if is_of_colours(role_of(control.role)):
            steps = sign * int(rng.integers(4, 11)) * control.step
            to = stands[control.role] + steps
            turned[control.role] = to if control.lowest <= to <= control.highest else stands[control.role] - steps
    bench.screen.turn(turned)


def run_one(name: str, unit: int, fault: str) -> tuple[str, bool, bool, float, str]:
    """One input; `fault` "" for none. Returns it, whether it was found, named, the seconds, and the words."""
    scenario = load_scenario(name)
    rng = np.random.default_rng([unit, 7])
    with tempfile.TemporaryDirectory() as folder:
        logbook, bench = open_logbook(Path(folder) / "logbook.sqlite"), build_bench(scenario, unit)
        bench.screen.quieten()
        bench.clock.sleep(_WARM_SECONDS)
        visit = begin_standin_visit(logbook, scenario, name, unit)
        note_as_found(logbook, visit, bench.link.values())
        care = visit.bench.care
        for kind in (AS_FOUND, COLOURS_LEFT, PROOF):
            carry_out(logbook, begin(logbook, visit.id, kind), bench.bench(), NobodyThere(), care=care)
        bench.clock.sleep(_BETWEEN_SECONDS)
        other = spoil(bench, fault, rng)
        begun = bench.clock.now()
        found = carry_out(
            logbook, begin_verify(logbook, visit.id, "HDMI 1, player"), other.bench(), NobodyThere(), care=care
        )
        seconds = bench.clock.now() - begun
        logbook.close()
    named = not fault or _NAMED[fault] in found.words
    return fault, not found.same, named, seconds, found.words


def main() -> None:
    first = int(sys.argv[1]) if len(sys.argv) > 1 else 0
    count = int(sys.argv[2]) if len(sys.argv) > 2 else 120
    screens = sys.argv[3:] or list(SCREENS)
    colours = {name for name in screens if load_scenario(name).screen.colour_management is not None}
    gammas = {name for name in screens if len(load_scenario(name).screen.gammas) > 1}
    wanted = []
    for i in range(count):
        # Every fault on every screen, and every screen right as often as wrong.
        pair = i // 2
        name = screens[(pair + pair // len(FAULTS)) % len(screens)]
        fault = FAULTS[pair % len(FAULTS)] if i % 2 else ""
        if (fault == "colour management" and name not in colours) or (fault == "gamma" and name not in gammas):
            fault = "white balance"
        wanted.append((name, first + i, fault))
    with ProcessPoolExecutor() as pool:
        runs = list(pool.map(run_one, *zip(*wanted, strict=True)))
    right = [run for run in runs if not run[0]]
    wrong = [run for run in runs if run[0]]
    print(f"{len(right)} right inputs, false alarms {sum(run[1] for run in right)}")
    found, named = sum(run[1] for run in wrong), sum(run[1] and run[2] for run in wrong)
    print(f"{len(wrong)} wrong ones, found {found}, cause named {named}")
    for fault in FAULTS:
        these = [run for run in wrong if run[0] == fault]
        if these:
            seen, known = sum(r[1] for r in these), sum(r[1] and r[2] for r in these)
            print(f"  {fault:18} found {seen}, named {known} of {len(these)}")
    print(f"seconds: median {np.median([run[3] for run in runs]):.0f}, most {max(run[3] for run in runs):.0f}")
    odd = Counter(run[4] for run in right if run[1]) + Counter(
        f"[{r[0]}] {r[4]}" for r in wrong if not (r[1] and r[2])
    )
    for words, times in odd.most_common(12):
        print(f"  {times}  {words}")


if __name__ == "__main__":
    main()
