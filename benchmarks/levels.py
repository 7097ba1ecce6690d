"""Levels by meter against the truth: every shipped screen, controls found anywhere, many seeds.

.venv/bin/python benchmarks/levels.py [SEEDS] [SCENARIO ...]
"""

import sys
from dataclasses import dataclass

import numpy as np
from benchmarks.white_balance import corrected

from aequitone.advice.roles import Role, is_role, role_of
from aequitone.advice.technology import dark_foot, has_fourth
from aequitone.instruments.ports import Bench
from aequitone.logbook.records import BenchChoice
from aequitone.logbook.settings.menus import control_of
from aequitone.procedures.journal import MemoryJournal, Turned
from aequitone.procedures.levels.levels import levels
from aequitone.procedures.levels.session import LEVEL_ROLES, LevelsPlan, LevelsState
from aequitone.procedures.runner import NobodyThere, Runner
from aequitone.procedures.steps import Reading
from aequitone.reference import target_named
from aequitone.signal import Container, Transfer, grey_patch
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import load_scenario
from aequitone.standins.shipped import shipped_scenarios

# What the school asks of each kind of screen; as far as the screen can.
LIGHTS = {"crt": 80.0, "dlp-wheel": 48.0, "three-panel-projector": 48.0}
FOUND_WITHIN = {Role.BLACK_LEVEL: (-12, 12), Role.CONTRAST: (-14, 8), Role.COLOUR: (-14, 14), Role.TINT: (-14, 14)}


# A step that is nearer by less than this share of the light is no better: meters are not that exact.
_HARDLY_NEARER = 0.005


@dataclass(frozen=True)
class Outcome:
    """One screen's levels, against the truth; in steps and shares. None where there is no such control."""

    scenario: str
    seed: int
    black: int | None
    contrast: int | None
    colour: int | None
    tint: int | None
    light: float
    """True white against the wanted light, as a share; 0 at the nearest step there is, or at the end stop."""
    readings: int
    grid: int
    """Readings that seven positions of each control would take."""
    minutes: float
    state: LevelsState
    trips: int = 0
    """Trips to the menu, as a person makes them."""


def found_anywhere(bench: StandInBench, seed: int) -> None:
    """Turn the level controls to where a stranger may have left them, and everything automatic off."""
    rng = np.random.default_rng([seed, 77])
    screen = bench.screen
    screen.quieten()
    settings: dict[str, int] = {}
    for control in screen.controls():
        within = FOUND_WITHIN.get(role_of(control.role)) if is_role(control.role) else None
        if within is not None:
            right = control.factory + screen.unit.neutral[control.role] * control.step
            settings[control.role] = right + int(rng.integers(within[0], within[1] + 1)) * control.step
        elif control.role == Role.LIGHT_OUTPUT.key:
            settings[control.role] = int(rng.integers(control.highest // 5, control.highest + 1))
    screen.turn(settings)


def true_contrast(bench: StandInBench) -> int:
    """The highest setting at which every channel of white still rises, the other controls as they are."""
    screen, settings = bench.screen, bench.screen.settings()
    control = next(c for c in screen.controls() if c.role == Role.CONTRAST.key)
    values = range(control.lowest, control.highest + 1, control.step)
    lights = np.array(
        [
            screen.path.linear(
                np.ones(3), screen.path.settled(settings | {"contrast": value}), Transfer.GAMMA, Container.REC709
            )
            for value in values
        ]
    )
    rise = np.diff(np.log(np.maximum(lights, 1e-9)), axis=0)
    usual = rise[len(rise) // 3]
    rising = np.all(rise >= 0.5 * usual, axis=1)
    return values[int(np.flatnonzero(rising)[-1]) + 1] if rising.any() else control.lowest


def run_one(name: str, seed: int) -> Outcome:
    """Set the levels of one unit, and look at the truth afterwards."""
    scenario = load_scenario(name)
    bench = build_bench(scenario, seed)
    found_anywhere(bench, seed)
    screen, now = bench.screen, bench.screen.settings()
    controls = tuple(
        control_of(part).state(now[part.role])
        for part in screen.controls()
        if part.role in [role.key for role in LEVEL_ROLES]
    )
    care = BenchChoice().suited_to(scenario.screen.technology).care
    journal = MemoryJournal()
    light = LIGHTS.get(scenario.screen.technology, 100.0)
    plan = LevelsPlan(
        target_named(scenario.visit.target),
        scenario.source.format,
        controls,
        light,
        fourth=has_fourth(scenario.screen.technology),
        dark_foot=dark_foot(scenario.screen.technology),
    )
    ports = Bench(corrected(bench, care), bench.source, bench.link, bench.clock)
    began = bench.clock.now()
    state = Runner(ports, journal, NobodyThere(), care=care).run(levels(plan))
    left = screen.settings()

    def off(role: Role) -> int | None:
        control = next((c for c in screen.controls() if c.role == role.key), None)
        if control is None:
            return None
        return (left[role.key] - control.factory) // control.step - screen.unit.neutral[role.key]

    roles = {control.role for control in controls}
    limited = Role.LIGHT_OUTPUT not in roles
    # Where contrast is the only control of light it is turned down again: what counts is the limit it found.
    swept = next(s.finding for s in state.sweeps if s.control.role == Role.CONTRAST and s.finding)
    contrast = swept.setting - true_contrast(bench)
    taken = [result for result in journal.results.values() if isinstance(result, Reading)]
    looks = {Role.COLOUR: 3, Role.TINT: 2}
    return Outcome(
        name,
        seed,
        off(Role.BLACK_LEVEL),
        contrast,
        off(Role.COLOUR),
        off(Role.TINT),
        light_error(bench, state.wanted, Role.CONTRAST if limited else Role.LIGHT_OUTPUT),
        len(taken),
        sum(7 * looks.get(role, 1) for role in roles),
        (bench.clock.now() - began) / 60.0,
        state,
        sum(isinstance(result, Turned) for result in journal.results.values()),
    )


def light_now(bench: StandInBench, settings: dict[str, int] | None = None) -> float:
    """True luminance of 100 % white."""
    screen = bench.screen
    before = screen.settings()
    if settings is not None:
        screen.turn(settings)
    light = float(screen.steady(grey_patch(100.0, bench.scenario.source.format))[1])
    screen.turn(before)
    return light


def light_error(bench: StandInBench, wanted: float, role: Role) -> float:
    """How far white is off; 0 where the neighbouring steps are further off, or an end stop was reached."""
    control = next(c for c in bench.screen.controls() if c.role == role.key)
    at = bench.screen.settings()[role.key]
    error = light_now(bench) / wanted - 1.0
    if (at == control.highest and error < 0) or (at == control.lowest and error > 0):
        return 0.0
    if role == Role.CONTRAST and error < 0 and at >= true_contrast(bench) - 2 * control.step:
        return 0.0
    others = [abs(light_now(bench, {role.key: at + by}) / wanted - 1.0) for by in (-control.step, control.step)]
    return 0.0 if abs(error) <= min(others) + _HARDLY_NEARER else error


def main() -> None:
    seeds = int(sys.argv[1]) if len(sys.argv) > 1 else 20
    names = sys.argv[2:] or list(shipped_scenarios())
    print(f"{'screen':18s} black≤1   contr.≤2  colour≤1  tint≤1    light≤1 %  readings     grid  minutes    trips")
    every: list[Outcome] = []
    for name in names:
        told = [run_one(name, seed) for seed in range(seeds)]
        every += told
        print(f"{name:18s} {_row(told)}", flush=True)
    print(f"{'all':18s} {_row(every)}")
    for outcome in every:
        worst = _misses(outcome)
        if worst:
            print(f"  {outcome.scenario} seed {outcome.seed}: {', '.join(worst)}")


def _misses(outcome: Outcome) -> list[str]:
    limits = (("black", 1), ("contrast", 2), ("colour", 1), ("tint", 1))
    missed = [
        f"{what} {getattr(outcome, what):+d}" for what, most in limits if abs(getattr(outcome, what) or 0) > most
    ]
    return missed + ([f"light {outcome.light * 100:+.1f} %"] if abs(outcome.light) > 0.01 else [])


def _row(told: list[Outcome]) -> str:
    def share(what: str, most: float) -> str:
        values = [getattr(outcome, what) for outcome in told if getattr(outcome, what) is not None]
        return f"{100 * np.mean([abs(value) <= most for value in values]):5.1f} %" if values else "      –"

    shares = [share("black", 1), share("contrast", 2), share("colour", 1), share("tint", 1), share("light", 0.01)]
    costs = [
        np.mean([getattr(outcome, what) for outcome in told]) for what in ("readings", "grid", "minutes", "trips")
    ]
    return "   ".join(shares) + "".join(f"{cost:9.1f}" for cost in costs)


if __name__ == "__main__":
    main()
