"""A whole memory by link on screens of the zoo: what each station did to the ladder, by the truth.

    PYTHONPATH=. .venv/bin/python benchmarks/zoo.py FIRST COUNT [kept|work] [FILE]

As found, Levels, White, Tone and Proof on COUNT screens from number FIRST on: of the third that is kept for
closing figures, or (work) of the other two. FILE: a line of JSON for each screen. For each station: mean and worst
true ΔE 2000 of the ladder from 100 to 10 %, readings, trips, minutes, and which screens it left worse.
"""

import json
import sys
import tempfile
from concurrent.futures import ProcessPoolExecutor
from itertools import count, islice
from pathlib import Path
from typing import Any

import numpy as np

from aequitone.logbook import open_logbook
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.passes import AS_FOUND, LEVELS, PROOF, TONE, WHITE, NotReadyError, PassType, begin, carry_out
from aequitone.procedures.runner import NobodyThere
from aequitone.reference import target_named
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.zoo import is_kept, zoo_screen

LADDER = tuple(float(percent) for percent in range(100, 0, -10))
STATIONS: tuple[PassType[Any, Any], ...] = (AS_FOUND, LEVELS, WHITE, TONE, PROOF)
# A station may leave the ladder worse by so much, in mean and at its worst level.
WORSE_MEAN, WORSE_LEVEL = 0.1, 0.5


def truth(bench: StandInBench, target: str) -> tuple[float, float, float]:
    """Mean and worst ΔE 2000 of the ladder, and the light of white in cd/m²."""
    errors = bench.true_de2000(LADDER, target_named(target), bench.screen.settings())
    light = float(bench.screen.light_of_signal(np.ones(3))[1])
    return float(np.mean(errors)), float(max(errors)), light


def run_one(number: int) -> dict[str, Any]:
    """One screen from as found to proof."""
    scenario = zoo_screen(number)
    with tempfile.TemporaryDirectory() as folder:
        logbook = open_logbook(Path(folder) / "logbook.sqlite")
        bench = build_bench(scenario, number)
        visit = begin_standin_visit(logbook, scenario, f"zoo {number}", number)
        note_as_found(logbook, visit, bench.link.values())
        told: dict[str, Any] = {"number": number, "target": visit.target, "found": truth(bench, visit.target)}
        for kind in STATIONS:
            before = bench.clock.now()
            try:
                prepared = begin(logbook, visit.id, kind)
                result = carry_out(
                    logbook, prepared, bench.bench(), NobodyThere(), care=logbook.visit(visit.id).bench.care
                )
            except NotReadyError as error:
                told[kind.key] = {"left out": str(error)}
                continue
            except Exception as error:
                told[kind.key] = {"failed": f"{type(error).__name__}: {error}"}
                continue
            moves = [each for each in logbook.recorded(prepared.pass_id).values() if hasattr(each, "move")]
            told[kind.key] = {
                "truth": truth(bench, visit.target),
                "readings": len(logbook.readings(prepared.pass_id)),
                "trips": len(moves),
                "minutes": (bench.clock.now() - before) / 60.0,
                "words": kind.words(result),
                "notes": logbook.notes(prepared.pass_id),
            }
            if kind is PROOF:
                told[kind.key]["mean"] = result.mean_de2000
        logbook.close()
    return told


def chosen(first: int, amount: int, *, kept: bool) -> list[int]:
    """So many numbers of the zoo, of the kept third or of the others."""
    return list(islice((n for n in count(first) if is_kept(n) is kept), amount))


def report(told: list[dict[str, Any]]) -> None:
    """What is printed: a line for each station, and the screens that it left worse."""
    found = np.array([each["found"] for each in told])
    print(f"{len(told)} screens, as found: mean {np.median(found[:, 0]):.2f}, worst {np.median(found[:, 1]):.2f}")
    heads = (("mean: 50 %", 10), ("95 %", 6), ("worst: 50 %", 12), ("95 %", 6), ("readings", 9), ("trips", 6))
    print(f"{'':10s} {' '.join(f'{head:>{width}s}' for head, width in heads)} {'minutes':>8s}  left worse")
    for before, kind in zip(("found", *(kind.key for kind in STATIONS)), STATIONS, strict=False):
        done = [each for each in told if "truth" in each[kind.key]]
        after = np.array([each[kind.key]["truth"] for each in done])
        was = np.array([_truth_before(each, before) for each in done])
        worse = (after[:, 0] > was[:, 0] + WORSE_MEAN) | (after[:, 1] > was[:, 1] + WORSE_LEVEL)
        mean, level = after[:, 0], after[:, 1]
        figures = [np.median([each[kind.key][what] for each in done]) for what in ("readings", "trips", "minutes")]
        names = " ".join(str(each["number"]) for each, bad in zip(done, worse, strict=True) if bad)
        print(
            f"{kind.key:10s} {np.median(mean):10.2f} {np.percentile(mean, 95):6.2f} {np.median(level):12.2f}"
            f" {np.percentile(level, 95):6.2f} {figures[0]:9.0f} {figures[1]:6.0f} {figures[2]:8.1f}"
            f"  {int(worse.sum())} of {len(done)}: {names}"
        )
    said, true = diagnoses(told)
    print(f"said of a control, tried alone, that it is not what its name says: {said} times, rightly {true}")
    for each in told:
        for kind in STATIONS:
            if "failed" in each[kind.key]:
                print(f"{each['number']}: {kind.key} {each[kind.key]['failed']}")


def diagnoses(told: list[dict[str, Any]]) -> tuple[int, int]:
    """How often a control was said to be dead, backwards or another, and how often that was so."""
    said = true = 0
    for each in told:
        screen = zoo_screen(each["number"]).screen
        odd = {*screen.path.dead, *screen.path.swapped}
        names = {control.name for control in screen.control if control.role in odd}
        for note in each[WHITE.key].get("notes", ()):
            if "also when it is turned alone" in note:
                said += 1
                true += any(note.startswith(name) for name in names)
    return said, true


def _truth_before(told: dict[str, Any], key: str) -> tuple[float, float, float]:
    if key == "found" or "truth" not in told[key]:
        kinds = [kind.key for kind in STATIONS]
        at = kinds.index(key) if key in kinds else 0
        earlier = [told[k]["truth"] for k in kinds[:at] if "truth" in told[k]]
        found: tuple[float, float, float] = earlier[-1] if earlier else told["found"]
        return found
    before: tuple[float, float, float] = told[key]["truth"]
    return before


def main() -> None:
    first, amount = int(sys.argv[1]), int(sys.argv[2])
    kept = "work" not in sys.argv[3:]
    with ProcessPoolExecutor() as pool:
        told = list(pool.map(run_one, chosen(first, amount, kept=kept)))
    report(told)
    for name in sys.argv[4:5]:
        Path(name).write_text("\n".join(json.dumps(each) for each in told) + "\n", "utf-8")


if __name__ == "__main__":
    main()
