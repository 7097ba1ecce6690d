"""Grey in HDR on every HDR screen: peak and knee against the truth, ΔE ITP of grey before and after, minutes.

    PYTHONPATH=. .venv/bin/python benchmarks/hdr.py [link|hand] [FIRST] [UNITS] [SCENARIO ...]

As found, Peak, White and Tone of a warm screen with all that is automatic switched off. Gains and biases
of its HDR memory are found off by up to six steps. The true mean of grey is over 21 levels up to the knee; that of
colours, which are not set, over those that do not lie beyond the screen.
"""

import sys
import tempfile
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from functools import partial
from itertools import product
from pathlib import Path
from typing import Any

import numpy as np

from aequitone.advice.roles import BIASES, GAINS
from aequitone.colorimetry.transfer import pq_encode, roll_off_from
from aequitone.logbook import open_logbook
from aequitone.logbook.records import Connection
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.passes import (
    AS_FOUND,
    PEAK,
    PROOF,
    TONE,
    WHITE,
    NotReadyError,
    PassType,
    begin,
    carry_out,
    colour_plan,
    load_snapshot,
)
from aequitone.procedures.colour.colour_pass import ColourPlan
from aequitone.procedures.runner import NobodyThere
from aequitone.reference import Target, colour_errors, grey_errors, target_named
from aequitone.signal import SignalFormat, colour_patch, grey_patch
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import Scenario, load_scenario

SCREENS = ("wide-lcd", "quantum-lcd", "white-oled", "rgb-oled", "mapping-lcd", "laser-projector")
TARGET, MEMORY = "p3in2020-pq/added", "HDR film"
PASSES: tuple[PassType[Any, Any], ...] = (AS_FOUND, PEAK, WHITE, TONE, PROOF)
_LEVELS = 21
VERBOSE = False
_FOUND_OFF = 6
_WARM_SECONDS = 5400.0


@dataclass(frozen=True)
class Run:
    """One unit: true mean and worst ΔE ITP up to the knee after each pass, and what Peak said."""

    means: tuple[float, ...]
    worsts: tuple[float, ...]
    peak: float
    knee: float
    kind: str
    right: bool
    saturations: float
    everyday: float
    readings: int
    minutes: float


def true_knee(scenario: Scenario) -> tuple[float, str]:
    """The signal at which a screen of this scenario leaves PQ, and by which curve."""
    hdr, peak = scenario.screen.hdr, scenario.screen.peak_cd_m2
    assert hdr is not None
    match hdr.curve:
        case "clip":
            return float(pq_encode(peak)), "CLIP"
        case "spline":
            return roll_off_from(hdr.maps_from_cd_m2, peak), "SPLINE"
    return float(pq_encode(hdr.knee_share * peak)), "OWN"


def errors_of(bench: StandInBench, target: Target, format_: SignalFormat, top: float) -> np.ndarray:
    """True ΔE ITP at 21 levels from 5 % to just below `top` (signal)."""
    percents = np.linspace(5.0, 99.0 * top, _LEVELS)
    xyz = np.array([bench.screen.steady(grey_patch(float(percent), format_)) for percent in percents])
    white, black = (bench.screen.steady(grey_patch(percent, format_))[1] for percent in (100.0, 0.0))
    sent = np.array([grey_patch(float(percent), format_).signal[0] for percent in percents]) * 100.0
    return np.asarray(grey_errors(sent, xyz, target, white=float(white), black=float(black)).deitp)


def colours_of(bench: StandInBench, plan: ColourPlan) -> tuple[float, float]:
    """True mean ΔE ITP of the saturations and of the everyday colours that the screen can show."""
    patches = [colour_patch(sample.name, sample.signal, plan.format) for sample in plan.samples]
    xyz = np.array([bench.screen.steady(patch) for patch in patches])
    white, black = (bench.screen.steady(grey_patch(percent, plan.format))[1] for percent in (100.0, 0.0))
    signal = np.array([patch.signal for patch in patches])
    errors = colour_errors(signal, xyz, plan.target, white=float(white), black=float(black)).deitp
    everyday = np.array([sample.is_everyday for sample in plan.samples])
    return float(np.nanmean(errors[~everyday])), float(np.nanmean(errors[everyday]))


def run_one(name: str, unit: int, by_hand: bool = False) -> Run:
    """Do one unit's HDR memory; `by_hand`: as it is asked of a person, who makes no mistake."""
    scenario = load_scenario(name)
    wanted = {"target": TARGET, "memory": MEMORY}
    scenario = scenario.model_copy(update={"visit": scenario.visit.model_copy(update=wanted)})
    target = target_named(TARGET)
    with tempfile.TemporaryDirectory() as folder:
        logbook = open_logbook(Path(folder) / "logbook.sqlite")
        bench = build_bench(scenario, unit)
        bench.clock.sleep(_WARM_SECONDS)
        visit = begin_standin_visit(logbook, scenario, name, unit)
        link = Connection.BY_HAND if by_hand else visit.bench.link
        logbook.choose_bench(visit.id, replace(visit.bench, depth=10, link=link))
        visit = logbook.visit(visit.id)
        bench.screen.choose_memory(visit.input, MEMORY)
        bench.screen.quieten()
        stands = bench.screen.settings()
        rng = np.random.default_rng([unit, 77])
        off = rng.integers(-_FOUND_OFF, _FOUND_OFF + 1, len(GAINS + BIASES))
        full = {"light-output": max(c.highest for c in bench.screen.controls() if c.role == "light-output")}
        bench.screen.turn(
            {role.key: stands[role.key] + int(by) for role, by in zip(GAINS + BIASES, off, strict=True)}
            | {role: value for role, value in full.items() if role in stands}
        )
        note_as_found(logbook, visit, bench.link.values())
        knee, kind = true_knee(scenario)
        rows = [errors_of(bench, target, visit.bench.format, knee)]
        seen = float(bench.screen.steady(grey_patch(100.0, visit.bench.format))[1])
        start, readings = bench.clock.now(), 0
        for each in PASSES:
            try:
                prepared = begin(logbook, visit.id, each)
            except NotReadyError:
                continue
            carry_out(logbook, prepared, bench.bench(), NobodyThere(), care=logbook.visit(visit.id).bench.care)
            if VERBOSE:
                print(load_snapshot(logbook, visit.id).words(each), round((bench.clock.now() - start) / 60, 1))
            readings += len(logbook.readings(prepared.pass_id))
            rows.append(errors_of(bench, target, visit.bench.format, knee))
        snapshot = load_snapshot(logbook, visit.id)
        peak, colours = snapshot.result(PEAK), colours_of(bench, colour_plan(snapshot))
        assert peak is not None and peak.shoulder is not None
        logbook.close()
        return Run(
            tuple(float(np.nanmean(row)) for row in rows),
            tuple(float(np.nanmax(row)) for row in rows),
            peak.shoulder.peak / seen - 1.0,
            peak.shoulder.knee - knee,
            peak.shoulder.kind.name,
            peak.shoulder.kind.name == kind,
            *colours,
            readings,
            (bench.clock.now() - start) / 60.0,
        )


def main() -> None:
    way, *words = sys.argv[1:] or ["link"]
    first, units = (int(word) for word in (words + ["0", "20"][len(words) :])[:2])
    names = words[2:] or SCREENS
    with ProcessPoolExecutor() as pool:
        pairs = list(product(names, range(first, first + units)))
        runs = list(pool.map(partial(run_one, by_hand=way == "hand"), *zip(*pairs, strict=True)))
    for i, name in enumerate(names):
        told = runs[i * units : (i + 1) * units]
        print(f"{name}, {units} units by {way}; true ΔE ITP up to the knee, mean and worst, medians")
        for at, label in enumerate(("found", "as found", "peak", "white", "tone", "proof")):
            means, worsts = (np.array([getattr(run, what)[at] for run in told]) for what in ("means", "worsts"))
            print(f"  {label:9s} {np.median(means):5.2f} {np.median(worsts):5.2f}   most {means.max():5.2f}")
        worse = sum(run.means[-1] > run.means[0] + 0.1 for run in told)
        peaks, knees = (np.abs([getattr(run, what) for run in told]) for what in ("peak", "knee"))
        print(
            f"  left worse {worse}; peak off {np.median(peaks) * 100:.2f} % (most {peaks.max() * 100:.2f}), knee "
            f"off {np.median(knees) * 100:.2f} % of the signal (most {knees.max() * 100:.2f}), kind right "
            f"{sum(run.right for run in told)} of {units}; colours, saturations "
            f"{np.median([r.saturations for r in told]):.2f}, everyday "
            f"{np.median([r.everyday for r in told]):.2f}; {np.median([r.readings for r in told]):.0f} readings, "
            f"{np.median([r.minutes for r in told]):.1f} min"
        )


if __name__ == "__main__":
    main()
