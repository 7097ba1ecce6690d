"""Grey in HDR on every HDR screen: peak and knee against the truth, ΔE ITP of grey before and after, minutes.

    PYTHONPATH=. .venv/bin/python benchmarks/hdr.py [link|hand] [FIRST] [UNITS] [SCENARIO ...]

As found, Peak, White and Tone of a warm screen with all that is automatic switched off, by a corrected meter.
Gains and biases of its HDR memory are found off by up to six steps. The true mean of grey is over 21 levels up to
the knee; that of colours, before and after its colour management, over those that mean no more light than the
knee, and again over those of them that the panel can show at all: that some signal, found on the truth, gives.
"""

import sys
import tempfile
from collections import Counter
from collections.abc import Mapping
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field, replace
from functools import partial
from itertools import product
from pathlib import Path
from typing import Any

import numpy as np
from benchmarks.best import Judged, best_grey
from benchmarks.by_hand import SUSPECTED
from benchmarks.white_balance import corrected
from scipy.optimize import least_squares

from aequitone.advice.moves import Move
from aequitone.advice.roles import BIASES, GAINS
from aequitone.colorimetry import ITP_SCALE, Formula, ictcp_from_xyz
from aequitone.colorimetry.arrays import Array, Mask
from aequitone.colorimetry.transfer import pq_encode, roll_off_from
from aequitone.logbook import open_logbook
from aequitone.logbook.records import Connection
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.passes import (
    AS_FOUND,
    COLOURS_FOUND,
    MANAGEMENT,
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
from aequitone.procedures.runner import Event, NobodyThere, StepBegun
from aequitone.procedures.steps import Note
from aequitone.reference import Target, colour_errors, grey_errors, target_named
from aequitone.signal import SignalFormat, colour_patch, grey_patch
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import Scenario, load_scenario

SCREENS = ("wide-lcd", "quantum-lcd", "white-oled", "rgb-oled", "mapping-lcd", "laser-projector")
TARGET, MEMORY = "p3in2020-pq/added", "HDR film"
PASSES: tuple[PassType[Any, Any], ...] = (AS_FOUND, PEAK, WHITE, TONE, COLOURS_FOUND, MANAGEMENT, PROOF)
_LEVELS = 21
VERBOSE = False
_FOUND_OFF = 6
_NEAR_BLACK, _A_TENTH = (4.0, 3.0, 2.0), 0.1
_WARM_SECONDS = 5400.0
# A colour is shown where ΔE ITP can be brought to this; how it is looked for: signals begun inside, nudged by so
# much, so often.
_SHOWN, _INSIDE, _NUDGE, _TRIES = 1.0, (0.02, 0.98), 1e-3, 30


@dataclass(frozen=True)
class Run:
    """One unit: true mean and worst ΔE ITP up to the knee after each pass, and what Peak said."""

    means: tuple[float, ...]
    worsts: tuple[float, ...]
    peak: float
    knee: float
    kind: str
    right: bool
    colours: tuple[tuple[float, float, float, float], ...]
    """Saturations and everyday colours, and those that can be shown, before and after the colour management."""
    readings: int
    minutes: float
    best: float
    """The least mean that search on the truth finds."""
    turns: int = 0
    """Controls that were asked for by hand."""
    false: tuple[str, ...] = ()
    """What was said of a slip, or a figure noted wrong: nobody slips here."""


@dataclass
class Person(NobodyThere):
    """Turns what is asked, and hears what is said of slips."""

    bench: StandInBench
    turns: int = 0
    accused: list[str] = field(default_factory=list)

    def turn(self, move: Move) -> None:
        self.turns += len(move.changes)
        self.bench.link.turn({change.role.key: change.to_value for change in move.changes})

    def hear(self, event: Event) -> None:
        """Keep what is said of slips."""
        if not (isinstance(event, StepBegun) and isinstance(event.step, Note)):
            return
        if any(words in event.step.text for words in SUSPECTED):
            self.accused.append(event.step.text)


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


def best_of(bench: StandInBench, target: Target, format_: SignalFormat, top: float) -> float:
    """The least true mean ΔE ITP up to `top` that search on the truth finds for this screen's own controls.

    Near black light may then be no further off than it was left.
    """
    levels = tuple(float(percent) for percent in np.linspace(99.0 * top, 5.0, _LEVELS))
    sent = np.array([grey_patch(percent, format_).signal[0] for percent in levels]) * 100.0
    signal = np.repeat(np.append(sent, [100.0, 0.0])[:, None] / 100.0, 3, axis=1)

    def light(signals: Array, settings: Mapping[str, int]) -> Array:
        return bench.screen.light_of_signal(signals, settings, format_.transfer, format_.container)

    def errors(settings: Mapping[str, int]) -> Array:
        xyz = light(signal, settings)
        white, black = float(xyz[-2, 1]), float(xyz[-1, 1])
        return np.asarray(grey_errors(sent, xyz[:-2], target, white=white, black=black).deitp)

    near = np.repeat(np.array(_NEAR_BLACK)[:, None] / 100.0, 3, axis=1)

    def off(settings: Mapping[str, int]) -> Array:
        aim = target.luminance(near[:, 0], float(light(signal[-2:], settings)[0, 1]), 0.0)
        return np.asarray(np.abs(np.log(np.maximum(light(near, settings)[:, 1], 1e-6) / aim)))

    left = np.maximum(off(bench.screen.settings()), _A_TENTH)

    def spoilt(settings: Mapping[str, int]) -> float:
        """Light near black that is further off than it was left, and than a tenth."""
        return float(np.maximum(off(settings) - left, 0.0).sum() / _A_TENTH)

    return best_grey(bench, target, Judged(levels, errors, light, Formula.ITP.unit, spoilt), points=True)[0]


def shown_at_best(bench: StandInBench, plan: ColourPlan, wanted: Array, signal: Array) -> float:
    """The least ΔE ITP to a colour, XYZ (3,) in cd/m², that any signal gives; looked for from its own, (3,)."""
    aim, format_ = ictcp_from_xyz(wanted), plan.format

    def off(sent: Array) -> Array:
        light = bench.screen.light_of_signal(sent, None, format_.transfer, format_.container)
        return np.asarray((ictcp_from_xyz(light) - aim) * ITP_SCALE)

    start = np.clip(signal, *_INSIDE)
    found = least_squares(off, start, bounds=(0.0, 1.0), diff_step=_NUDGE, max_nfev=_TRIES)
    return float(np.linalg.norm(found.fun))


@dataclass(frozen=True, eq=False)
class Colours:
    """Colours as they truly are: ΔE ITP (n,), nan above the knee; XYZ wanted, and signals, (n, 3)."""

    errors: Array
    wanted: Array
    signal: Array

    @classmethod
    def of(cls, bench: StandInBench, plan: ColourPlan, knee: float) -> "Colours":
        """As the screen stands now."""
        patches = [colour_patch(sample.name, sample.signal, plan.format) for sample in plan.samples]
        xyz = np.array([bench.screen.steady(patch) for patch in patches])
        white, black = (bench.screen.steady(grey_patch(percent, plan.format))[1] for percent in (100.0, 0.0))
        signal = np.array([patch.signal for patch in patches])
        told = colour_errors(signal, xyz, plan.target, white=float(white), black=float(black))
        return cls(np.where(signal.max(axis=-1) <= knee, told.deitp, np.nan), told.target, signal)

    def shown(self, bench: StandInBench, plan: ColourPlan) -> Mask:
        """Which of them the panel can show at all, as the screen stands now, (n,)."""
        rows = np.flatnonzero(~np.isnan(self.errors))
        least = [shown_at_best(bench, plan, self.wanted[row], self.signal[row]) for row in rows]
        return np.isin(np.arange(len(self.errors)), rows[np.array(least) <= _SHOWN])

    def means(self, everyday: Mask) -> tuple[float, float]:
        """The mean of saturations and of everyday colours; `everyday` (n,)."""
        return float(np.nanmean(self.errors[~everyday])), float(np.nanmean(self.errors[everyday]))

    def among(self, shown: Mask) -> "Colours":
        """Those of them that can be shown, (n,)."""
        return replace(self, errors=np.where(shown, self.errors, np.nan))


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
        care = logbook.visit(visit.id).bench.care
        # As after a correction at Prepare: what a colorimeter's filters do to a screen is no solver's doing.
        ports = replace(bench.bench(by_link=not by_hand), meter=corrected(bench, care))
        start, readings, colours, person = bench.clock.now(), 0, [], Person(bench)
        for each in PASSES:
            try:
                prepared = begin(logbook, visit.id, each)
            except NotReadyError:
                continue
            if each is MANAGEMENT:
                colours.append(Colours.of(bench, colour_plan(load_snapshot(logbook, visit.id)), knee))
            carry_out(logbook, prepared, ports, person, person.hear, care=care)
            if VERBOSE:
                print(load_snapshot(logbook, visit.id).words(each), round((bench.clock.now() - start) / 60, 1))
            readings += len(logbook.readings(prepared.pass_id))
            if each is not COLOURS_FOUND and each is not MANAGEMENT:
                rows.append(errors_of(bench, target, visit.bench.format, knee))
        snapshot = load_snapshot(logbook, visit.id)
        peak = snapshot.result(PEAK)
        plan = colour_plan(snapshot)
        colours.append(Colours.of(bench, plan, knee))
        shown = colours[-1].shown(bench, plan)
        everyday = np.array([sample.is_everyday for sample in plan.samples])
        assert peak is not None and peak.shoulder is not None
        logbook.close()
        minutes = (bench.clock.now() - start) / 60.0
        return Run(
            tuple(float(np.nanmean(row)) for row in rows),
            tuple(float(np.nanmax(row)) for row in rows),
            peak.shoulder.peak / seen - 1.0,
            peak.shoulder.knee - knee,
            peak.shoulder.kind.name,
            peak.shoulder.kind.name == kind,
            tuple(
                (*each.means(everyday), *each.among(shown).means(everyday)) for each in (colours[0], colours[-1])
            ),
            readings,
            minutes,
            best_of(bench, target, visit.bench.format, knee),
            person.turns,
            tuple(person.accused),
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
            f"{sum(run.right for run in told)} of {units}; {np.median([r.readings for r in told]):.0f} readings, "
            f"{np.median([r.minutes for r in told]):.1f} min"
        )
        false = [words for run in told for words in run.false]
        print(f"  said of slips, of which there were none: {len(false)} in {sum(run.turns for run in told)} turns")
        for words_, count in Counter(false).most_common(6):
            print(f"    {count}  {words_}")
        bests = np.array([run.best for run in told])
        gaps = np.array([run.means[-1] for run in told]) - bests
        print(f"  best by search {np.median(bests):.2f}, gap {np.median(gaps):.2f}, most {gaps.max():.2f}")

        found, left = (np.array([run.colours[at] for run in told]) for at in (0, 1))
        kinds = ("saturations", "everyday", "saturations that can be shown", "everyday that can be shown")
        for at, what in enumerate(kinds):
            print(
                f"  {what}: {np.median(found[:, at]):.2f} -> {np.median(left[:, at]):.2f}, most "
                f"{left[:, at].max():.2f}, worse {int((left[:, at] > found[:, at] + 0.3).sum())}"
            )


if __name__ == "__main__":
    main()
