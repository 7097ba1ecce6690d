"""Multi-point after two points: what the ladder comes to, what it costs, and whether a ramp stays smooth.

.venv/bin/python benchmarks/multi_point.py [UNITS] [hand|link] [SCENARIO ...]
"""

import sys
import time
from collections.abc import Mapping
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from itertools import product

import numpy as np
from benchmarks.best import bent
from benchmarks.white_balance import PRICES, MenuLink, corrected

from aequitone.advice.points import ladder_of
from aequitone.advice.points.near_black import NEAR_BLACK, wanted_light
from aequitone.advice.points.planner import PointPlanner
from aequitone.advice.roles import BIASES, TWO_POINT, Role, RoleKind, is_role, point_of, role_of
from aequitone.instruments.ports import Bench
from aequitone.logbook.records import BenchChoice
from aequitone.logbook.settings.menus import control_of
from aequitone.procedures.journal import MemoryJournal, Turned
from aequitone.procedures.runner import NobodyThere, Runner
from aequitone.procedures.steps import Reading
from aequitone.procedures.tone.multi_plan import MultiState
from aequitone.procedures.tone.tone import TonePlan, tone
from aequitone.procedures.white.plan import WhitePlan
from aequitone.procedures.white.white_balance import white_balance
from aequitone.reference import Target, target_named
from aequitone.signal import grey_patch
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import Scenario, load_scenario
from aequitone.standins.shipped import shipped_scenarios

# Black that gives less, in cd/m², the meter takes for nothing.
DETECTED = 0.002
# Levels that near black may not be had at the price of.
HELD = (80.0, 50.0, 30.0, 15.0)
LADDER = tuple(float(percent) for percent in range(100, 0, -5))


@dataclass(frozen=True)
class Outcome:
    """One unit before and after multi-point, against the truth."""

    scenario: str
    seed: int
    before: float
    """Mean ΔE 2000 over 20 levels, from 100 to 5 %."""
    after: float
    worst: float
    readings: int
    trips: int
    minutes: float
    bend: float
    """See `bent`."""
    folds: int
    """Steps of the 10-bit ramp at which light falls and did not before."""
    near_before: np.ndarray
    near_black: np.ndarray
    """Light at NEAR_BLACK against what is wanted, in %, before and after."""
    noise: np.ndarray
    """Two spreads of the meter there, in %, at the precision it was read with."""
    at_ten: float
    """Light at 10 % against the target, in %, by the truth."""
    near_best: int
    """How many of NEAR_BLACK could be right; see `most_right`."""
    words: str
    decisions: tuple[float, ...] = ()
    foretold: tuple[float, ...] = ()
    """Of each move, what came less what was expected, in the ± that was told."""


def run_one(name: str, seed: int, price: str, scenario: Scenario | None = None) -> Outcome:
    scenario = scenario or load_scenario(name)
    bench = build_bench(scenario, seed)
    bench.screen.quieten()
    link = MenuLink(bench.link, PRICES[price])
    care = BenchChoice().suited_to(scenario.screen.technology).care
    ports = Bench(corrected(bench, care), bench.source, link, bench.clock)
    format_, target = scenario.source.format, target_named(scenario.visit.target)
    now = bench.screen.settings()
    states = {
        role_of(c.role): control_of(c).state(now[c.role])
        for c in bench.screen.controls()
        if is_role(c.role) and role_of(c.role).kind in (RoleKind.GAIN, RoleKind.BIAS, RoleKind.POINT)
    }
    white, black = (float(bench.screen.steady(grey_patch(p, format_))[1]) for p in (100.0, 0.0))
    two = tuple(states[role] for role in TWO_POINT)
    white_result = Runner(ports, MemoryJournal(), NobodyThere(), care=care).run(
        white_balance(WhitePlan(target, format_, two, white, black, technology=scenario.screen.technology))
    )
    points = tuple(state for role, state in states.items() if point_of(role))
    before, ramp, near_before = true_mean(bench, target), slopes(bench), near_black(bench, target)[0]
    began, journal = bench.clock.now(), MemoryJournal()
    white = float(bench.screen.steady(grey_patch(100.0, format_))[1])
    taken: list[float] = []
    propose = PointPlanner.propose_together

    def timed(self: PointPlanner, *given: object) -> object:
        start = time.perf_counter()
        told = propose(self, *given)  # type: ignore[arg-type]
        taken.append(time.perf_counter() - start)
        return told

    PointPlanner.propose_together = timed  # type: ignore[assignment, method-assign]
    try:
        plan = TonePlan(
            target,
            format_,
            white,
            white_result.state.controls[3:],
            white_result.state.responses.bias_light,
            points,
            ladder_of(points, whole=True) if points else (),
            by_hand=price == "hand",
            trip_seconds=PRICES[price].trip_seconds,
        )
        result = Runner(ports, journal, NobodyThere(), care=care).run(tone(plan))
    finally:
        PointPlanner.propose_together = propose  # type: ignore[method-assign]
    errors = np.array(bench.true_de2000(LADDER, target, bench.screen.settings()))
    after = slopes(bench)
    assert result.foot is not None
    near_after, near_wanted = near_black(bench, target)
    noise = 200.0 * result.foot.sd[:, 1] / near_wanted
    return Outcome(
        name,
        seed,
        before,
        float(errors.mean()),
        float(errors.max()),
        sum(isinstance(kept, Reading) for kept in journal.results.values()),
        sum(isinstance(kept, Turned) for kept in journal.results.values()),
        (bench.clock.now() - began) / 60.0,
        bent(bench, bench.screen.settings()),
        int(((after < 0.0) & (ramp >= 0.0)).sum()),
        near_before,
        near_after,
        noise,
        ten_off(bench, target),
        most_right(bench, target, noise),
        result.words,
        tuple(taken),
        foretold(result.ladder),
    )


def foretold(ladder: MultiState | None) -> tuple[float, ...]:
    if ladder is None:
        return ()
    return tuple(
        (trip.after - trip.move.expected.de2000_after) / max(trip.move.expected.de2000_sd, 1e-9)
        for trip in ladder.trips
        if trip.move.expected is not None
    )


def ten_off(bench: StandInBench, target: Target) -> float:
    white, ten, black = bench.screen.light_of_signal(np.array([[1.0] * 3, [0.1] * 3, [0.0] * 3]))[:, 1]
    wanted = float(target.luminance(0.1, white, black if black > DETECTED else 0.0))
    return float(ten / wanted - 1.0) * 100.0


def true_mean(bench: StandInBench, target: Target) -> float:
    return float(np.mean(bench.true_de2000(LADDER, target, bench.screen.settings())))


def near_black(
    bench: StandInBench, target: Target, settings: Mapping[str, int] | None = None
) -> tuple[np.ndarray, np.ndarray]:
    """Light at NEAR_BLACK against what is wanted above black, in %, and what is wanted, cd/m²."""
    signal = np.repeat(np.array([100.0, 0.0, *NEAR_BLACK])[:, None], 3, axis=1) / 100.0
    white, black, *light = bench.screen.light_of_signal(signal, settings)[:, 1]
    wanted = wanted_light(target, np.array(NEAR_BLACK), float(white), black if black > DETECTED else 0.0)
    return (np.array(light) / wanted - 1.0) * 100.0, wanted


def most_right(bench: StandInBench, target: Target, noise: np.ndarray) -> int:
    """How many of NEAR_BLACK could be right by the truth, from where the screen stands, if anyone knew it.

    Searched are all biases together and black level, by up to so many steps each way, that leave no other level
    further off than ΔE 2000 1, or than it is.
    """
    parts, now = {c.role: c for c in bench.screen.controls()}, bench.screen.settings()
    held = np.maximum(bench.true_de2000(HELD, target, now), 1.0)
    most = 0
    for lift, shift in product(range(-2, 3), range(-15, 16)):
        tried = now | {role.key: now[role.key] + shift * parts[role.key].step for role in BIASES}
        tried[Role.BLACK_LEVEL.key] = now[Role.BLACK_LEVEL.key] + lift * parts[Role.BLACK_LEVEL.key].step
        right = int((np.abs(near_black(bench, target, tried)[0]) <= np.maximum(10.0, noise)).sum())
        if right > most and (np.array(bench.true_de2000(HELD, target, tried)) <= held + 1e-9).all():
            most = right
    return most


def slopes(bench: StandInBench) -> np.ndarray:
    """Steps of light (876,) of a 10-bit ramp, cd/m²."""
    codes = np.arange(877) / 876.0
    return np.diff(bench.screen.light_of_signal(np.repeat(codes[:, None], 3, axis=1))[:, 1])


def run_scenario(name: str, units: int, price: str) -> list[Outcome]:
    return [run_one(name, seed, price) for seed in range(units)]


def main() -> None:
    units = int(sys.argv[1]) if len(sys.argv) > 1 else 10
    price = sys.argv[2] if len(sys.argv) > 2 else "link"
    names = sys.argv[3:] or shipped_scenarios()
    with ProcessPoolExecutor(max_workers=2) as pool:
        jobs = [pool.submit(run_scenario, name, units, price) for name in names]
        told = [outcome for job in jobs for outcome in job.result()]
    print(f"{units} units of each screen, prices by {price}; ΔE 2000 over 21 levels, medians (95 %)")
    print(
        "screen             before        after          worst readings  trips  minutes  bend (most) folds <= 0.6"
    )
    for name in names:
        rows = [o for o in told if o.scenario == name]

        def middle(what: str, share: float = 50.0, rows: list[Outcome] = rows) -> float:
            return float(np.percentile([getattr(o, what) for o in rows], share))

        print(
            f"{name:17s} {middle('before'):5.2f} ({middle('before', 95):4.2f})  "
            f"{middle('after'):5.2f} ({middle('after', 95):4.2f})  {middle('worst'):6.2f} "
            f"{middle('readings'):8.0f} "
            f"{middle('trips'):6.0f} {middle('minutes'):8.2f} {middle('bend'):8.2f} ({middle('bend', 100):4.2f}) "
            f"{sum(o.folds for o in rows):6d} {np.mean([o.after <= 0.6 for o in rows]) * 100:6.0f} %"
        )
    print("light near black within a tenth, or two spreads of the meter: % of units before, and after, at")
    levels = " ".join(f"{p:3g}" for p in NEAR_BLACK)
    print(" " * 17, levels, "   ", levels, "    all, and what could be")
    for name in (*names, "all"):
        rows = [o for o in told if name in (o.scenario, "all")]
        noise = np.array([o.noise for o in rows])
        shares = []
        for off in (np.array([o.near_before for o in rows]), np.array([o.near_black for o in rows])):
            right = np.abs(off) <= np.maximum(10.0, noise)
            shares.append(" ".join(f"{share * 100.0:3.0f}" for share in right.mean(axis=0)))
        best = np.mean([o.near_best for o in rows]) / len(NEAR_BLACK) * 100.0
        print(f"{name:17s} {shares[0]}     {shares[1]}     {right.mean() * 100.0:3.0f} of {best:3.0f}")
    decisions = np.array([seconds for o in told for seconds in o.decisions]) * 1000.0
    print(
        f"{len(decisions)} decisions: median {np.median(decisions):.1f} ms, longest {decisions.max():.0f} ms; "
        f"{sum(o.after <= 0.6 for o in told)} of {len(told)} at most 0.6"
    )
    z = np.abs([z for o in told for z in o.foretold])
    print(
        f"{len(z)} moves: {np.mean(z <= 1.0) * 100:.0f} % came out within one foretold ±, "
        f"{np.mean(z <= 1.96) * 100:.0f} % within 1.96"
    )


if __name__ == "__main__":
    main()
