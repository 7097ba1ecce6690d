"""Colour management on faults drawn at random: what it brings, and whether it leaves off what cannot help.

    PYTHONPATH=. .venv/bin/python benchmarks/colour_management.py [UNITS] [hand|link] [SCENARIO ...]

Every shipped screen with a block, of both kinds, with white set. Each unit's primaries and secondaries are off by
themselves, at full and at half saturation; controls leak to their neighbours, weaken towards their stops, and one
in ten units has one that is dead or two that are exchanged. By the truth, over 24 saturations and 40 everyday
colours, and along fine ramps; these also on units that band where a control is turned far.
"""

import sys
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace

import numpy as np
from benchmarks.colour_baselines import BASELINES, best_colours
from benchmarks.trust import with_part
from benchmarks.white_balance import corrected

from aequitone.advice.colours.ramp import RAMP, largest_step
from aequitone.advice.moves import ControlState, Move
from aequitone.advice.roles import COLOUR_ORDER
from aequitone.colorimetry import delta_e_2000
from aequitone.instruments.ports import Bench
from aequitone.logbook.records import BenchChoice
from aequitone.logbook.settings.menus import control_of
from aequitone.procedures.care import Care
from aequitone.procedures.colour.colour_pass import ColourPlan, colour_pass
from aequitone.procedures.colour.manage_plan import KnownColours, ManagePlan
from aequitone.procedures.colour.managing import manage_colours
from aequitone.procedures.colour.samples import Length, samples
from aequitone.procedures.journal import MemoryJournal, Turned
from aequitone.procedures.runner import NobodyThere, Runner
from aequitone.procedures.steps import Reading
from aequitone.reference import target_named
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.parts import ColourFaultPart, ColourManagementPart
from aequitone.standins.scenario import Scenario, load_scenario

SCREENS = ("wide-lcd", "quantum-lcd", "plasma", "lamp-projector", "laser-projector")
TARGET = target_named("rec709-2.2/added")
_SIX = np.array([each.signal for each in samples(Length.USUAL, 75.0) if not each.is_everyday]) / 100.0
_EVERYDAY = np.array([each.signal for each in samples(Length.USUAL, 75.0) if each.is_everyday]) / 100.0
_GREYS = np.repeat(np.linspace(0.1, 1.0, 10)[:, None], 3, axis=1)
# A person's seconds: the way to the menu, the way to a control, a step.
_WAY_SECONDS, _CONTROL_SECONDS, _STEP_SECONDS = 10.0, 2.0, 0.4
# Everyday colours that search must allow, where ours are held to 1.0.
_ABLE = 0.7
# Linear light that primaries and secondaries are off by, and what of it is at half saturation.
_SPREAD, _PALE = 0.03, 0.012
# Steps of a control beyond which a unit may band.
_BANDS_FROM = (3, 13)
# ΔE between neighbours of a fine ramp from which an eye sees an edge.
_SEEN = 1.0
_AMOUNTS = {"mix": ("r", "g", "b"), "hue-saturation-lightness": ("hue", "saturation", "lightness")}


@dataclass(frozen=True)
class Told:
    """Truth: mean and worst of the saturations, of everyday colours; how far grey has moved; and what it cost."""

    colours: tuple[float, float, float, float]
    grey: float
    """How much worse the ladder's mean ΔE 2000 is than before."""
    readings: int = 0
    trips: int = 0
    minutes: float = 0.0
    words: str = ""
    foretold: tuple[tuple[float, float, float], ...] = ()
    ramps: frozenset[str] = frozenset()
    """Colours whose fine ramp has a step that is seen."""


def faulty(name: str, seed: int, spread: float, *, bands: bool = False) -> Scenario:
    """A screen whose colours are off, with white as it is after White; with `bands` it bands beyond some steps."""
    scenario, rng = load_scenario(name), np.random.default_rng([seed, 17])
    kind = scenario.screen.colour_management or ColourManagementPart()
    roles = [
        f"cms-{c}-{a}" for c in ("red", "green", "blue", "cyan", "magenta", "yellow") for a in _AMOUNTS[kind.kind]
    ]
    one, other = rng.choice(len(roles), 2, replace=False)
    odd = rng.random()
    part = kind.model_copy(
        update={
            "place": "before-gains" if rng.random() < 0.5 else "after-gains",
            "leak_share": float(rng.uniform(0.0, 0.12)),
            "weakens_share": float(rng.uniform(0.0, 0.3)),
            "effect_per_step": kind.effect_per_step * float(np.exp(rng.normal(0.0, 0.35))),
            "dead": (roles[one],) if odd < 0.05 else (),
            "swapped": (roles[one], roles[other]) if 0.05 <= odd < 0.1 else None,
        }
    )
    if bands:
        part = part.model_copy(update={"bands_from": int(rng.integers(*_BANDS_FROM))})
    white = ((0.3127, 0.3290),) * len(scenario.screen.temperatures_xy)
    unit = scenario.screen.unit.model_copy(update={"preset": 0.0, "preset_bend": 0.0, "neutral_steps": 0.0})
    warm = scenario.screen.warm_up.model_copy(update={"already_minutes": 60.0})
    fault = ColourFaultPart(spread=spread, pale_spread=spread * _PALE / _SPREAD)
    return with_part(
        scenario,
        "screen",
        colour_management=part,
        colour_fault=fault,
        temperatures_xy=white,
        unit=unit,
        warm_up=warm,
    )


def truth(bench: StandInBench) -> tuple[float, float, float, float]:
    """Mean and worst true ΔE 2000 of the saturations, and of the everyday colours."""
    light = bench.screen.light_of_signal
    white, black = float(light(np.ones(3))[1]), float(light(np.zeros(3))[1])
    told: list[float] = []
    for signal in (_SIX, _EVERYDAY):
        errors = delta_e_2000(light(signal), TARGET.colour(signal, white, black), TARGET.white.xyz(white))
        told += [float(errors.mean()), float(errors.max())]
    return told[0], told[1], told[2], told[3]


def stepped(bench: StandInBench, plan: ManagePlan) -> frozenset[str]:
    """Colours whose fine ramp has a step that an eye sees, by the truth."""
    light = bench.screen.light_of_signal
    white, black = float(light(np.ones(3))[1]), float(light(np.zeros(3))[1])
    told = set()
    for colour in COLOUR_ORDER:
        signals = np.array([plan.six_signal(colour, at) for at in RAMP]) / 100.0
        xyz, wanted = light(signals), TARGET.colour(signals, white, black)
        if largest_step(xyz, wanted, np.zeros_like(xyz), TARGET.white.xyz(white)).size > _SEEN:
            told.add(colour)
    return frozenset(told)


def white_set(bench: StandInBench) -> None:
    """Bring 100 % to the target's white by the gains, on the truth: White's work, which is not in question."""
    wanted = bench.screen.unit.gamut.rgb(TARGET.white.xyz())
    for _ in range(80):
        white = bench.screen.light_of_signal(np.ones(3))
        rgb = bench.screen.unit.gamut.rgb(white / white[1]) / wanted
        most = int(np.argmax(rgb))
        if rgb[most] / rgb.min() < 1.006:
            return
        role = f"gain-{'rgb'[most]}"
        bench.screen.turn({role: bench.screen.settings()[role] - 1})


def ladder(bench: StandInBench) -> float:
    """Mean true ΔE 2000 of greys, against white's own light and without light: what the block may tint."""
    light = bench.screen.light_of_signal(_GREYS)
    wanted = TARGET.white.xyz() * light[:, 1:2]
    return float(delta_e_2000(light, wanted, TARGET.white.xyz(float(light[-1, 1]))).mean())


def seconds_of(move: Move, *, staying: bool) -> float:
    """What a person needs to turn a move: the way to the menu unless they are there, each control, each step."""
    way = 0.0 if staying else _WAY_SECONDS
    return way + sum(_CONTROL_SECONDS + _STEP_SECONDS * abs(change.by) for change in move.changes)


@dataclass(frozen=True)
class Case:
    """One unit, and who turns."""

    name: str
    seed: int
    spread: float = _SPREAD
    by_hand: bool = False
    ways: tuple[str, ...] = ("ours",)
    bands: bool = False
    settled: bool = False
    """Whether colours are set as well as can be, by the truth, before anything begins."""


def controls_of(bench: StandInBench) -> tuple[ControlState, ...]:
    """The controls of a unit's colour management as they stand."""
    settings = bench.screen.settings()
    parts = [part for part in bench.screen.controls() if part.role.startswith("cms-")]
    return tuple(control_of(part).state(settings[part.role]) for part in parts)


def care_of(scenario: Scenario) -> Care:
    """What is observed on a screen of this kind."""
    return BenchChoice().suited_to(scenario.screen.technology).care


def ports_of(bench: StandInBench, scenario: Scenario) -> Bench:
    """The instruments, the meter corrected on the screen."""
    return Bench(corrected(bench, care_of(scenario)), bench.source, bench.link, bench.clock)


def plan_of(case: Case, scenario: Scenario, controls: tuple[ControlState, ...]) -> ManagePlan:
    """What is wanted: a trip to the menu takes some seconds, by link too."""
    return ManagePlan(TARGET, scenario.source.format, controls, by_hand=case.by_hand, trip_seconds=12.0)


def run_one(case: Case) -> dict[str, Told]:
    """One unit as found, after each way to set it, and at the best there is."""
    scenario = faulty(case.name, case.seed, case.spread, bands=case.bands)
    told: dict[str, Told] = {}
    for way in case.ways:
        bench = build_bench(scenario, case.seed)
        bench.screen.quieten()
        white_set(bench)
        if case.settled:
            bench.screen.turn(_best(bench, controls_of(bench)))
        controls = controls_of(bench)
        before = ladder(bench)
        plan = plan_of(case, scenario, controls)
        told["found"] = Told(truth(bench), 0.0, ramps=stepped(bench, plan))
        if way == "best":
            bench.screen.turn(_best(bench, controls))
            told[way] = Told(truth(bench), ladder(bench) - before)
            continue
        ports = ports_of(bench, scenario)
        care, ours = care_of(scenario), None
        if way == "ours":
            # As in a visit: the colours were read as found before this station begins.
            found = Runner(ports, MemoryJournal(), NobodyThere(), care=care).run(
                colour_pass(ColourPlan(plan.target, plan.format))
            )
            plan = replace(plan, known=KnownColours.of(found))
        journal, began = MemoryJournal(), bench.clock.now()
        runner = Runner(ports, journal, NobodyThere(), care=care)
        if way == "ours":
            ours = runner.run(manage_colours(plan))
        else:
            runner.run(BASELINES[way](plan))
        seconds = bench.clock.now() - began
        moves = [kept.move for kept in journal.results.values() if isinstance(kept, Turned)]
        if case.by_hand:
            seconds += sum(seconds_of(move, staying=way == "hunter") for move in moves)
        readings = sum(isinstance(kept, Reading) for kept in journal.results.values())
        foretold = tuple(
            (trip.move.expected.de2000_after, trip.move.expected.de2000_sd, trip.after)
            for trip in (ours.trips if ours else ())
            if trip.move.expected is not None
        )
        words = ours.words if ours else ""
        told[way] = Told(
            truth(bench),
            ladder(bench) - before,
            readings,
            len(moves),
            seconds / 60.0,
            words,
            foretold,
            stepped(bench, plan),
        )
    return told


def _best(bench: StandInBench, controls: tuple[ControlState, ...]) -> dict[str, int]:
    roles = tuple(control.role.key for control in controls)
    return dict(best_colours(bench, TARGET, roles, np.vstack([_SIX, _EVERYDAY])))


def line(name: str, rows: list[Told]) -> str:
    """The medians of one way on one screen, and the worst grey."""
    figures = np.median([(*t.colours, t.readings, t.trips, t.minutes) for t in rows], axis=0)
    return f"{name:26s}" + "".join(f"{v:9.2f}" for v in (*figures, max(t.grey for t in rows)))


def main() -> None:
    units = int(sys.argv[1]) if len(sys.argv) > 1 else 10
    names = [name for name in sys.argv[2:] if name not in ("hand", "link")] or SCREENS
    hands = [by_hand for by_hand, left_out in ((False, "hand"), (True, "link")) if left_out not in sys.argv[2:]]
    heads = ("six", "worst", "everyday", "worst", "readings", "trips", "minutes", "grey +")
    print(f"{'medians by the truth':26s}" + "".join(f"{head:>9s}" for head in heads))
    with ProcessPoolExecutor() as pool:
        for by_hand in hands:
            ways = ("ours", "hunter", "newton", "best") if not by_hand else ("ours", "hunter")
            every: list[dict[str, Told]] = []
            for name in names:
                cases = [Case(name, seed, by_hand=by_hand, ways=ways) for seed in range(units)]
                told = list(pool.map(run_one, cases))
                every += told
                for way in ("found", *ways):
                    print(line(f"{name} {'hand' if by_hand else 'link'} {way}", [each[way] for each in told]))
            summed(every, by_hand=by_hand)
        if "hand" in sys.argv[2:]:
            return
        told = list(pool.map(run_one, [Case(name, seed, bands=True) for name in names for seed in range(units)]))
        print(f"units that band: {steps_words(told)}")
        for what, spread, settled in (("sound colours", 0.0, False), ("set as well as can be", _SPREAD, True)):
            cases = [Case(name, seed, spread, settled=settled) for name in names for seed in range(units)]
            off = [(t["found"].colours, t["ours"].colours) for t in pool.map(run_one, cases)]
            left = sum(found == ours for found, ours in off)
            worse = sum(ours[0] > found[0] + 0.02 or ours[2] > found[2] + 0.02 for found, ours in off)
            print(f"{what}: left as found in {left} of {len(off)}, worse in {worse}")


def summed(every: list[dict[str, Told]], *, by_hand: bool) -> None:
    """What the runs together show."""
    ours = [each["ours"] for each in every]
    said, sd, came = np.array([row for each in ours for row in each.foretold]).T
    off = np.abs(said - came)
    shares = " and ".join(f"{float((off <= times * sd).mean()) * 100.0:.0f} %" for times in (1.0, 2.0))
    print(
        f"trips foretold within ± and twice that: {shares} of {len(said)}, too high by {(said - came).mean():+.2f}"
    )
    print(steps_words(every))
    worse = sum(each["ours"].colours[k] > each["found"].colours[k] + 0.1 for each in every for k in (0, 2))
    print(f"left worse by 0.1, of saturations or of everyday colours: {worse} of {2 * len(every)}")
    minutes = np.median([each["ours"].minutes / each["hunter"].minutes for each in every])
    print(f"minutes, of the hunter's: {minutes:.2f}")
    if by_hand:
        return
    readings = np.median([each["ours"].readings / each["newton"].readings for each in every])
    gap = np.median([each["ours"].colours[2] - each["best"].colours[2] for each in every])
    print(f"readings, of Newton's: {readings:.2f}; everyday colours above the best there is: {gap:+.2f}")
    able = [each["ours"].colours[2] for each in every if each["best"].colours[2] <= _ABLE]
    if able:
        middle, most = np.percentile(able, (50.0, 95.0))
        print(f"everyday colours where the best allows {_ABLE}: {middle:.2f}, 95 % {most:.2f} of {len(able)}")
    middle, most = np.percentile([t.grey for t in ours], (50.0, 95.0))
    worse = sum(t.grey > 0.1 for t in ours)
    print(f"grey worse by over 0.1: {worse} of {len(ours)}; by {middle:+.2f}, 95 % {most:+.2f}")


def steps_words(told: list[dict[str, Told]]) -> str:
    """On how many units ours has left a step in a ramp that had none."""
    made = [each["ours"].ramps - each["found"].ramps for each in told]
    return f"a new step in a ramp on {sum(map(bool, made))} of {len(made)} ({sum(map(len, made))} ramps)"


if __name__ == "__main__":
    main()
