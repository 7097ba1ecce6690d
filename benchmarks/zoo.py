"""A whole memory by link on screens of the zoo: what each station did to the ladder, by the truth.

    PYTHONPATH=. .venv/bin/python benchmarks/zoo.py FIRST COUNT [kept|work] [FILE] [searched]

As found, Levels, White, Tone and Proof on COUNT screens from number FIRST on: of the third that is kept for
closing figures, or (work) of the other two. FILE: a line of JSON for each screen. For each station: mean and worst
true ΔE 2000 of the ladder from 100 to 10 %, readings, trips, minutes, and which screens it left worse. Searched:
beside the best that its controls allow, looked for on the truth (it takes as long again).
"""

import json
import sys
import tempfile
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from functools import partial
from itertools import count, islice
from pathlib import Path
from typing import Any

import numpy as np
from benchmarks.best import best_ladder
from benchmarks.white_balance import corrected

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
# A ladder that search must allow, where the end is held to 0.5.
ALLOWED = 0.3
# What was said, its ±, and what is true or came.
Figures = list[tuple[float, float, float]]


def truth(bench: StandInBench, target: str) -> tuple[float, float, float]:
    """Mean and worst ΔE 2000 of the ladder, and the light of white in cd/m²."""
    errors = bench.true_de2000(LADDER, target_named(target), bench.screen.settings())
    light = float(bench.screen.light_of_signal(np.ones(3))[1])
    return float(np.mean(errors)), float(max(errors)), light


def run_one(number: int, *, searched: bool = False) -> dict[str, Any]:
    """One screen from as found to proof."""
    scenario = zoo_screen(number)
    with tempfile.TemporaryDirectory() as folder:
        logbook = open_logbook(Path(folder) / "logbook.sqlite")
        bench = build_bench(scenario, number)
        visit = begin_standin_visit(logbook, scenario, f"zoo {number}", number)
        note_as_found(logbook, visit, bench.link.values())
        # As after a correction at Prepare: what a colorimeter's filters do to a screen is no solver's doing.
        care = logbook.visit(visit.id).bench.care
        ports = replace(bench.bench(), meter=corrected(bench, care))
        told: dict[str, Any] = {"number": number, "target": visit.target, "found": truth(bench, visit.target)}
        for kind in STATIONS:
            before = bench.clock.now()
            try:
                prepared = begin(logbook, visit.id, kind)
                result = carry_out(logbook, prepared, ports, NobodyThere(), care=care)
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
            told[kind.key]["said"] = said(kind, result, bench, visit.target)
            told[kind.key]["foretold"] = foretold(kind, result)
            told[kind.key]["gains"] = gains(kind, result)
        logbook.close()
        if searched:
            told["best"] = best_ladder(bench, target_named(visit.target), points=True)
    return told


def said(
    kind: PassType[Any, Any], result: Any, bench: StandInBench, target: str
) -> list[tuple[float, float, float]]:
    """Every figure with a ± that a station gave, with what is true of it: (said, ±, true or as it came)."""
    if kind is PROOF:
        true = float(np.mean(true_errors(bench, target, LADDER)))
        return [(result.mean, result.mean_sd, true)]
    if kind is WHITE:
        state = result.state
        true_at = true_errors(bench, target, state.percents)
        return [(max(state.errors[1:]), state.worst_sd, max(true_at[1:]))]
    if kind is TONE and result.ladder is not None:
        ladder = result.ladder
        true = float(np.mean(true_errors(bench, target, ladder.percents)))
        return [(ladder.mean, ladder.mean_sd, true)]
    return []


def foretold(kind: PassType[Any, Any], result: Any) -> Figures:
    """Every trip: what was foretold of it, its ±, and what came."""
    trips = result.state.trips if kind is WHITE else result.ladder.trips if kind is TONE and result.ladder else ()
    came = [each.worst_after if kind is WHITE else each.after for each in trips]
    return [
        (trip.move.expected.de2000_after, trip.move.expected.de2000_sd, after)
        for trip, after in zip(trips, came, strict=True)
        if trip.move.expected is not None
    ]


def gains(kind: PassType[Any, Any], result: Any) -> list[float]:
    """What each trip of Tone took off the mean of the ladder, as read."""
    if kind is not TONE or result.ladder is None:
        return []
    return [trip.before - trip.after for trip in result.ladder.trips if not trip.move.undoes]


def true_errors(bench: StandInBench, target: str, percents: tuple[float, ...]) -> list[float]:
    return bench.true_de2000(tuple(percents), target_named(target), bench.screen.settings())


def within(rows: Figures) -> str:
    """How many of figures with a ± were within one and two of it, and how far off they were on average."""
    if not rows:
        return "none"
    said, sd, true = np.array(rows).T
    off = np.abs(said - true)
    shares = (float((off <= times * sd).mean()) * 100.0 for times in (1.0, 2.0))
    return (
        "{:.0f} and {:.0f} %".format(*shares) + f" of {len(rows)}, too high by {float((said - true).mean()):+.3f}"
    )


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
    for kind in (WHITE, TONE, PROOF):
        done = [each[kind.key] for each in told if "truth" in each[kind.key]]
        last = [tuple(row) for each in done for row in each["said"]]
        trips = [tuple(row) for each in done for row in each["foretold"]]
        print(f"{kind.key}: last word within ± and twice that: {within(last)}; trips foretold: {within(trips)}")
    print(f"tone, gain of the first trip, the second and so on, as read, median: {gains_by_trip(told)}")
    beside_the_best(told)
    named, rightly = diagnoses(told)
    print(f"said of a control, tried alone, that it is not what its name says: {named} times, rightly {rightly}")
    for each in told:
        for kind in STATIONS:
            if "failed" in each[kind.key]:
                print(f"{each['number']}: {kind.key} {each[kind.key]['failed']}")


def gains_by_trip(told: list[dict[str, Any]]) -> str:
    """The median of what Tone's trips took off the ladder's mean, by their order, and of how many screens."""
    every = [each[TONE.key]["gains"] for each in told if "gains" in each[TONE.key]]
    rows = [[one[i] for one in every if i < len(one)] for i in range(max(map(len, every), default=0))]
    return ", ".join(f"{np.median(row):.2f} ({len(row)})" for row in rows) or "none"


def beside_the_best(told: list[dict[str, Any]]) -> None:
    """The end beside what search allows: over all, and where it allows a ladder of 0.3."""
    for name, most in (("all", np.inf), ("where search allows 0.3", ALLOWED)):
        done = [each for each in told if "best" in each and each["best"][0] <= most]
        if not done:
            continue
        best = np.array([each["best"][0] for each in done])
        last = ([each[kind.key]["truth"] for kind in STATIONS if "truth" in each[kind.key]] for each in done)
        left = np.array([truths[-1][0] for truths in last])
        shares = " and ".join(f"{np.median(v):.2f}, {np.percentile(v, 95):.2f}" for v in (left, best))
        print(f"mean at the end and by search, median and 95 %, {name}: {shares} ({len(done)} screens)")


def diagnoses(told: list[dict[str, Any]]) -> tuple[int, int]:
    """How often a control was said to be dead, backwards or another, and how often that was so."""
    named = rightly = 0
    for each in told:
        screen = zoo_screen(each["number"]).screen
        odd = {*screen.path.dead, *screen.path.swapped}
        names = {control.name for control in screen.control if control.role in odd}
        for note in each[WHITE.key].get("notes", ()):
            if "also turned alone" in note:
                named += 1
                rightly += any(note.startswith(name) for name in names)
    return named, rightly


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
    words = sys.argv[3:]
    kept, searched = "work" not in words, "searched" in words
    with ProcessPoolExecutor() as pool:
        told = list(pool.map(partial(run_one, searched=searched), chosen(first, amount, kept=kept)))
    report(told)
    for name in (word for word in words if word not in ("kept", "work", "searched")):
        Path(name).write_text("\n".join(json.dumps(each) for each in told) + "\n", "utf-8")


if __name__ == "__main__":
    main()
