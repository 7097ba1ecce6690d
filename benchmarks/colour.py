"""Colour management on faults drawn at random: what it brings, and whether it leaves off what cannot help.

    PYTHONPATH=. .venv/bin/python benchmarks/colour.py [UNITS] [SCENARIO ...]

Every shipped screen with a block, of both kinds, with white set. Each unit's primaries and secondaries are off by
themselves, at full and at half saturation; controls leak to their neighbours, weaken towards their stops, and one
in ten units has one that is dead or two that are exchanged. By the truth, over 24 saturations and 40 everyday
colours.
"""

import sys
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass

import numpy as np
from benchmarks.trust import with_part
from benchmarks.white_balance import corrected

from aequitone.advice.roles import is_role, role_of
from aequitone.colorimetry import delta_e_2000
from aequitone.instruments.ports import Bench
from aequitone.logbook.records import BenchChoice
from aequitone.logbook.standin_visit import control_of
from aequitone.procedures.colour.managing import Managed, ManagePlan, manage_colours
from aequitone.procedures.colour.samples import Length, samples
from aequitone.procedures.journal import MemoryJournal
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
# Linear light that primaries and secondaries are off by, and what of it is at half saturation.
_SPREAD, _PALE = 0.03, 0.012
_AMOUNTS = {"mix": ("r", "g", "b"), "hue-saturation-lightness": ("hue", "saturation", "lightness")}


@dataclass(frozen=True)
class Told:
    """Truth before and after: mean and worst of the saturations, of everyday colours, and what it cost."""

    before: tuple[float, float, float, float]
    after: tuple[float, float, float, float]
    grey: float
    """How far the worst grey has moved, ΔE 2000."""
    readings: int
    trips: int
    minutes: float
    words: str
    foretold: tuple[tuple[float, float, float], ...]


def faulty(name: str, seed: int, spread: float) -> Scenario:
    """A screen whose colours are off, with white as it is after White."""
    scenario, rng = load_scenario(name), np.random.default_rng([seed, 17])
    kind = scenario.screen.colour_management or ColourManagementPart()
    roles = [
        f"cms-{c}-{a}" for c in ("red", "green", "blue", "cyan", "magenta", "yellow") for a in _AMOUNTS[kind.kind]
    ]
    one, other = rng.choice(len(roles), 2, replace=False)
    odd = rng.random()
    part = kind.model_copy(
        update={
            "leak_share": float(rng.uniform(0.0, 0.12)),
            "weakens_share": float(rng.uniform(0.0, 0.3)),
            "effect_per_step": kind.effect_per_step * float(np.exp(rng.normal(0.0, 0.35))),
            "dead": (roles[one],) if odd < 0.05 else (),
            "swapped": (roles[one], roles[other]) if 0.05 <= odd < 0.1 else None,
        }
    )
    white = ((0.3127, 0.3290),) * len(scenario.screen.temperatures_xy)
    unit = scenario.screen.unit.model_copy(update={"preset": 0.0, "preset_bend": 0.0, "neutral_steps": 0.0})
    fault = ColourFaultPart(spread=spread, pale_spread=spread * _PALE / _SPREAD)
    return with_part(
        scenario, "screen", colour_management=part, colour_fault=fault, temperatures_xy=white, unit=unit
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


def run_one(case: tuple[str, int, bool, float]) -> Told:
    """One unit: its name, seed, whether a person turns, and how far its colours are off."""
    name, seed, by_hand, spread = case
    scenario = faulty(name, seed, spread)
    bench = build_bench(scenario, seed)
    bench.screen.quieten()
    white_set(bench)
    settings = bench.screen.settings()
    controls = tuple(
        control_of(part).state(settings[part.role])
        for part in bench.screen.controls()
        if part.role.startswith("cms-") and is_role(part.role) and role_of(part.role)
    )
    care = BenchChoice().suited_to(scenario.screen.technology).care
    ports = Bench(corrected(bench, care), bench.source, bench.link, bench.clock)
    plan = ManagePlan(TARGET, scenario.source.format, controls, by_hand=by_hand, trip_seconds=12.0)
    before, grey, began = truth(bench), bench.screen.light_of_signal(_GREYS), bench.clock.now()
    journal = MemoryJournal()
    state: Managed = Runner(ports, journal, NobodyThere(), care=care).run(manage_colours(plan))
    white = TARGET.white.xyz(float(grey[-1, 1]))
    moved = float(delta_e_2000(bench.screen.light_of_signal(_GREYS), grey, white).max())
    readings = sum(isinstance(kept, Reading) for kept in journal.results.values())
    told = tuple(
        (trip.move.expected.de2000_after, trip.move.expected.de2000_sd, trip.after)
        for trip in state.trips
        if trip.move.expected is not None
    )
    minutes = (bench.clock.now() - began) / 60.0
    return Told(before, truth(bench), moved, readings, len(state.trips), minutes, state.words, told)


def main() -> None:
    units = int(sys.argv[1]) if len(sys.argv) > 1 else 10
    names = sys.argv[2:] or SCREENS
    heads = (
        "found",
        "worst",
        "left",
        "worst",
        "everyday",
        "worst",
        "left",
        "worst",
        "grey",
        "readings",
        "trips",
        "min",
    )
    print(f"{'':24s}" + "".join(f"{head:>9s}" for head in heads))
    with ProcessPoolExecutor() as pool:
        for by_hand in (False, True):
            foretold: list[tuple[float, float, float]] = []
            worse = 0
            for name in names:
                told = list(pool.map(run_one, [(name, seed, by_hand, _SPREAD) for seed in range(units)]))
                rows = [
                    (
                        *t.before[:2],
                        *t.after[:2],
                        *t.before[2:],
                        *t.after[2:],
                        t.grey,
                        t.readings,
                        t.trips,
                        t.minutes,
                    )
                    for t in told
                ]
                # Found and left side by side.
                told_rows = np.median(np.array(rows), axis=0)
                print(
                    f"{name:16s}{'by hand' if by_hand else 'by link':8s}" + "".join(f"{v:9.2f}" for v in told_rows)
                )
                foretold += [each for t in told for each in t.foretold]
                worse += sum(t.after[0] > t.before[0] + 0.1 or t.after[2] > t.before[2] + 0.1 for t in told)
            said, sd, came = np.array(foretold).T
            within = [float((np.abs(said - came) <= times * sd).mean()) * 100.0 for times in (1.0, 2.0)]
            print(
                f"trips foretold within ± and twice that: {within[0]:.0f} and {within[1]:.0f} % of {len(said)}; ",
                end="",
            )
            print(f"left worse: {worse} of {units * len(names)}")
        off = list(pool.map(run_one, [(name, seed, False, 0.0) for name in names for seed in range(units)]))
        left = [t for t in off if t.after[0] <= t.before[0] + 0.02]
        print(f"sound colours: left as found or no worse in {len(left)} of {len(off)}")


if __name__ == "__main__":
    main()
