"""Two-point white balance against hunting, against Newton, and against the best grey there is.

.venv/bin/python benchmarks/white_balance.py [UNITS] [hand|link] [SCENARIO ...]
"""

import sys
import time
from collections.abc import Iterable, Iterator, Mapping
from concurrent.futures import ProcessPoolExecutor
from contextlib import contextmanager
from dataclasses import dataclass
from itertools import combinations
from typing import Any

import numpy as np
from benchmarks.grey_baselines import BASELINES

from aequitone.advice.roles import TWO_POINT, Role, is_role, role_of
from aequitone.advice.two_point.mover import Mover
from aequitone.colorimetry import delta_e_itp
from aequitone.colorimetry.correction import least_squares
from aequitone.instruments.corrected import CorrectedMeter
from aequitone.instruments.ports import Bench, MeterNoise
from aequitone.logbook.records import BenchChoice
from aequitone.logbook.settings.menus import control_of
from aequitone.procedures.care import Care
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.preparation.colour_pairs import PAIR_COLOURS, read_colours
from aequitone.procedures.runner import Event, NobodyThere, Runner, StepDone
from aequitone.procedures.steps import Procedure, Read, Reading
from aequitone.procedures.white.plan import WhitePlan
from aequitone.procedures.white.session import Trip
from aequitone.procedures.white.white_balance import WhiteResult, white_balance
from aequitone.reference import Target, target_named
from aequitone.signal import grey_patch
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.devices import StandInLink, StandInMeter
from aequitone.standins.parts import ControlPart
from aequitone.standins.scenario import HandPart, Scenario, load_scenario
from aequitone.standins.shipped import shipped_scenarios

WAYS = ("ours", *BASELINES)
# By link a screen answers within a second, however far it goes.
PRICES = {"hand": HandPart(), "link": HandPart(trip_seconds=0.6, step_seconds=0.0)}
LADDER = tuple(float(percent) for percent in range(10, 101, 10))


@dataclass(frozen=True)
class Outcome:
    """One unit set in one way; ΔE against the truth, light included."""

    scenario: str
    seed: int
    way: str
    readings: int
    trips: int
    minutes: float
    adjusted: float
    """ΔE 2000, the worse of the two adjusted levels."""
    adjusted_itp: float
    ladder: float
    ladder_itp: float
    best: float
    """The smallest `adjusted` that whole steps within the end stops can give; NaN where it was not looked for."""
    stop: str = ""
    trail: tuple[tuple[int, float, float], ...] = ()
    """After each round of readings: readings and minutes until then, and `adjusted`."""
    foretold: tuple[float, ...] = ()
    """Of each move, what came less what was expected, in the ± that was told."""
    decisions: tuple[float, ...] = ()
    """Seconds that each decision took."""


class MenuLink(StandInLink):
    """A link that stays in the menu while the same control is turned again: only another one costs a trip."""

    def __init__(self, link: StandInLink, hand: HandPart) -> None:
        super().__init__(link._screen, hand, link._clock)
        self._last: frozenset[str] = frozenset()
        self.trips = 0

    def turn(self, settings: Mapping[str, int]) -> None:
        now = self._screen.settings()
        steps = sum(abs(value - now[role]) for role, value in settings.items())
        fresh = frozenset(settings) != self._last
        self.trips += fresh
        self._last = frozenset(settings)
        self._clock.sleep(self._hand.trip_seconds * fresh + self._hand.step_seconds * steps)
        self._screen.turn(settings)


def run_one(scenario: Scenario, name: str, seed: int, way: str, hand: HandPart, *, look_for_best: bool) -> Outcome:
    bench = build_bench(scenario, seed)
    bench.screen.quieten()
    link = MenuLink(bench.link, hand)
    format_ = scenario.source.format
    target = target_named(scenario.visit.target)
    settings = bench.screen.settings()
    states = {
        role_of(c.role): control_of(c).state(settings[c.role])
        for c in bench.screen.controls()
        if is_role(c.role) and role_of(c.role) in TWO_POINT
    }
    white, black = (float(bench.screen.steady(grey_patch(p, format_))[1]) for p in (100.0, 0.0))
    plan = WhitePlan(
        target,
        format_,
        tuple(states[role] for role in TWO_POINT),
        white,
        black,
        looks=3,
        technology=scenario.screen.technology,
    )
    journal = MemoryJournal()
    care = BenchChoice().suited_to(scenario.screen.technology).care
    ports = Bench(corrected(bench, care), bench.source, link, bench.clock)
    began = bench.clock.now()
    trail: list[tuple[int, float, float]] = []
    read = 0

    def hear(event: Event) -> None:
        nonlocal read
        if isinstance(event, StepDone) and isinstance(event.step, Read):
            read += 1
            if event.step.patch.percent == plan.dark:
                now = worst(bench, target, (plan.bright, plan.dark), bench.screen.settings())
                trail.append((read, (bench.clock.now() - began) / 60.0, now))

    procedure: Procedure[object] = white_balance(plan) if way == "ours" else BASELINES[way](plan)
    with timed_decisions() as decisions:
        result = Runner(ports, journal, NobodyThere(), hear, care=care).run(procedure)
    minutes = (bench.clock.now() - began) / 60.0
    readings = sum(isinstance(kept, Reading) for kept in journal.results.values())
    adjusted = (plan.bright, plan.dark)
    left = bench.screen.settings()
    return Outcome(
        name,
        seed,
        way,
        readings,
        link.trips,
        minutes,
        worst(bench, target, adjusted, left),
        float(itp(bench, target, adjusted).max()),
        float(np.mean(bench.true_de2000(LADDER, target, left))),
        float(itp(bench, target, LADDER).mean()),
        best_there_is(bench, target, adjusted) if look_for_best else float("nan"),
        result.stop.value if isinstance(result, WhiteResult) and result.stop else "",
        tuple(trail),
        foretold(result.state.trips) if isinstance(result, WhiteResult) else (),
        tuple(decisions),
    )


@contextmanager
def timed_decisions() -> Iterator[list[float]]:
    """Seconds that Mover.propose takes, each time."""
    taken: list[float] = []
    propose = Mover.propose

    def timed(self: Mover, *given: Any) -> Any:
        began = time.perf_counter()
        told = propose(self, *given)
        taken.append(time.perf_counter() - began)
        return told

    Mover.propose = timed  # type: ignore[assignment, method-assign]
    try:
        yield taken
    finally:
        Mover.propose = propose  # type: ignore[method-assign]


def foretold(trips: Iterable[Trip]) -> tuple[float, ...]:
    return tuple(
        (trip.worst_after - trip.move.expected.de2000_after) / max(trip.move.expected.de2000_sd, 1e-9)
        for trip in trips
        if trip.move.expected is not None
    )


def corrected(bench: StandInBench, care: Care) -> CorrectedMeter:
    """The meter corrected on this screen by a spectroradiometer, both without noise, before the clock starts.

    What noise does to a correction is shown by benchmarks/correction.py; here it would hide what is asked.
    """

    def seen(meter: StandInMeter) -> np.ndarray:
        noise, meter.true_noise = meter.true_noise, MeterNoise(0.0, 0.0)
        ports = Bench(meter, bench.source, None, bench.clock)
        pairs = Runner(ports, MemoryJournal(), NobodyThere(), care=care).run(
            read_colours(PAIR_COLOURS, bench.scenario.source.format)
        )
        meter.true_noise = noise
        return np.array([reading.xyz for reading in pairs])

    return CorrectedMeter(bench.meter, least_squares(seen(bench.reference_meter()), seen(bench.meter)).matrix)


def worst(bench: StandInBench, target: Target, percents: tuple[float, ...], settings: Mapping[str, int]) -> float:
    return max(bench.true_de2000(percents, target, settings))


def itp(bench: StandInBench, target: Target, percents: tuple[float, ...]) -> np.ndarray:
    signal = np.repeat(np.array([*percents, 100.0, 0.0])[:, None] / 100.0, 3, axis=1)
    light = bench.screen.light_of_signal(signal)
    aim = target.grey(percents, float(light[-2, 1]), float(light[-1, 1]))
    return np.asarray(delta_e_itp(light[:-2], aim))


def best_there_is(bench: StandInBench, target: Target, percents: tuple[float, float]) -> float:
    """Search the truth over whole steps from where it was left, by ones, twos and threes."""
    controls = {c.role: c for c in bench.screen.controls()}
    at = dict(bench.screen.settings())
    value = worst(bench, target, percents, at)
    moves = _moves()
    while True:
        around = [_moved(at, move, controls) for move in moves]
        found = [worst(bench, target, percents, settings) for settings in around]
        lowest = int(np.argmin(found))
        if found[lowest] >= value - 1e-6:
            return value
        at, value = around[lowest], found[lowest]


def _moves() -> list[dict[Role, int]]:
    singles = [{role: n} for role in TWO_POINT for n in (-2, -1, 1, 2)]
    pairs = [{a: m, b: n} for a, b in combinations(TWO_POINT, 2) for m in (-1, 1) for n in (-1, 1)]
    together = [dict.fromkeys(roles, n) for roles in (TWO_POINT[:3], TWO_POINT[3:]) for n in (-1, 1)]
    return singles + pairs + together


def _moved(at: Mapping[str, int], move: Mapping[Role, int], controls: Mapping[str, ControlPart]) -> dict[str, int]:
    moved = dict(at)
    for role, n in move.items():
        control = controls[role.key]
        to = at[role.key] + n * control.step
        moved[role.key] = min(max(to, control.lowest), control.highest)
    return moved


def run_scenario(name: str, units: int, price: str, *, look_for_best: bool = True) -> list[Outcome]:
    """Every way on so many units of one screen."""
    scenario = load_scenario(name)
    return [
        run_one(scenario, name, seed, way, PRICES[price], look_for_best=look_for_best and way == "ours")
        for seed in range(units)
        for way in WAYS
    ]


def table(told: list[Outcome]) -> str:
    """Medians for each screen and way, and how ours compares."""
    lines = [
        f"{'screen':18s} {'way':7s} readings  trips  minutes  ΔE2000   95 %  ΔE ITP  ladder  ladder ITP  gap",
    ]
    for name in [*dict.fromkeys(outcome.scenario for outcome in told), "all"]:
        for way in WAYS:
            rows = [o for o in told if o.way == way and name in (o.scenario, "all")]
            gaps = [o.adjusted - o.best for o in rows if not np.isnan(o.best)]
            gap = f"{np.median(gaps):5.2f}" if gaps else "     "

            def middle(what: str, rows: list[Outcome] = rows) -> float:
                return float(np.median([getattr(o, what) for o in rows]))

            lines.append(
                f"{name if way == 'ours' else '':18s} {way:7s} {middle('readings'):8.0f} {middle('trips'):6.0f} "
                f"{middle('minutes'):8.2f} {middle('adjusted'):7.2f} "
                f"{np.percentile([o.adjusted for o in rows], 95):6.2f} {middle('adjusted_itp'):7.2f} "
                f"{middle('ladder'):7.2f} {middle('ladder_itp'):11.2f} {gap}"
            )
    return "\n".join(lines)


def shares(told: list[Outcome]) -> str:
    """Ours over each baseline, unit by unit, and what is out of reach."""
    ours = {(o.scenario, o.seed): o for o in told if o.way == "ours"}
    lines = []
    for way in BASELINES:
        pairs = [(ours[o.scenario, o.seed], o) for o in told if o.way == way]
        readings = np.median([mine.readings / theirs.readings for mine, theirs in pairs])
        minutes = np.median([mine.minutes / theirs.minutes for mine, theirs in pairs])
        lines.append(f"ours over {way}, median: {readings:.2f} of the readings, {minutes:.2f} of the minutes")
    mine = list(ours.values())
    reachable = [o for o in mine if o.best <= 0.3]
    left = [o.adjusted for o in reachable]
    lines.append(
        f"best grey there is within 0.3 on {len(reachable)} of {len(mine)}: there ΔE 2000 median "
        f"{np.median(left):.2f}, 95 % {np.percentile(left, 95):.2f}"
    )
    lines.append(_caught_up(ours, told))
    lines.append(_foretold(mine))
    decisions = np.array([seconds for o in mine for seconds in o.decisions]) * 1000.0
    lines.append(
        f"{len(decisions)} decisions: median {np.median(decisions):.0f} ms, longest {decisions.max():.0f} ms"
    )
    for stop in sorted({o.stop for o in mine}):
        lines.append(f"{sum(o.stop == stop for o in mine):4d} ended: {stop}")
    return "\n".join(lines)


def _caught_up(ours: dict[tuple[str, int], Outcome], told: list[Outcome]) -> str:
    """How soon ours was as good as the hunter was in the end."""
    readings, minutes, never = [], [], 0
    for theirs in (o for o in told if o.way == "hunter"):
        mine = ours[theirs.scenario, theirs.seed]
        at = next(((n, m) for n, m, de in mine.trail if de <= theirs.adjusted), None)
        if at is None:
            never += 1
            continue
        readings.append(at[0] / theirs.readings)
        minutes.append(at[1] / theirs.minutes)
    return (
        f"as good as the hunter in the end: after {np.median(readings):.2f} of the hunter's readings and "
        f"{np.median(minutes):.2f} of the minutes; never on {never} of {len(ours)}"
    )


def _foretold(mine: list[Outcome]) -> str:
    """How often a move came out within what was foretold of it."""
    z = np.array([z for o in mine for z in o.foretold])
    return (
        f"{len(z)} moves: {np.mean(np.abs(z) <= 1.0) * 100:.0f} % came out within one foretold ±, "
        f"{np.mean(np.abs(z) <= 1.96) * 100:.0f} % within 1.96; on average {z.mean():+.2f}"
    )


def main() -> None:
    units = int(sys.argv[1]) if len(sys.argv) > 1 else 20
    price = sys.argv[2] if len(sys.argv) > 2 else "hand"
    names = sys.argv[3:] or list(shipped_scenarios())
    with ProcessPoolExecutor(max_workers=2) as pool:
        jobs = [pool.submit(run_scenario, name, units, price) for name in names]
        told = [outcome for job in jobs for outcome in job.result()]
    print(f"{units} units of each screen, prices by {price}")
    print(table(told))
    print(shares(told))


if __name__ == "__main__":
    main()
