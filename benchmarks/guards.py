"""Moves that went wrong on purpose: how many are recognised, and how many right ones are called wrong.

.venv/bin/python benchmarks/guards.py [MOVES_OF_EACH_KIND] [RIGHT_MOVES]

Moves are the planner's own at two points, on units of every shipped screen, after up to two moves to learn from.
"""

import sys
from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import Any

import numpy as np

from aequitone.advice.moves import ControlState, steps_of
from aequitone.advice.roles import TWO_POINT
from aequitone.advice.two_point.guards import Mishap, judge
from aequitone.advice.two_point.level_readings import Seen
from aequitone.advice.two_point.mover import Mover, Stop
from aequitone.advice.two_point.responses import Responses
from aequitone.instruments.ports import MeterNoise
from aequitone.logbook.settings.menus import control_of
from aequitone.reference import target_named
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import load_scenario
from aequitone.standins.shipped import shipped_scenarios

LEVELS = np.repeat(np.array([1.0, 0.8, 0.3])[:, None], 3, axis=1)
_NOISE, _SECONDS = MeterNoise(0.010, 0.002), 4.0
_LEARNING = 2
Teller = Callable[[Any], tuple[Mishap | None, bool, float]]
"""See `told_of`, of one place."""


@dataclass
class Ground:
    """A unit after some learning, and the move that is asked for next."""

    bench: StandInBench
    mover: Mover
    controls: tuple[ControlState, ...]
    responses: Responses
    seen: Seen
    steps: np.ndarray
    rng: np.random.Generator

    def read(self, controls: tuple[ControlState, ...], factor: float = 1.0) -> Seen:
        settings = self.bench.screen.settings() | {control.role.key: control.value for control in controls}
        light = self.bench.screen.light_of_signal(LEVELS, settings) * factor
        sd = _NOISE.sd(light, _SECONDS)
        return Seen(light + self.rng.standard_normal((3, 3)) * sd, sd)


def ground(name: str, seed: int) -> Ground | None:
    """None where the planner has nothing left to ask for."""
    scenario = load_scenario(name)
    bench = build_bench(scenario, seed)
    bench.screen.quieten()
    parts = {part.role: part for part in bench.screen.controls()}
    settings = bench.screen.settings()
    controls = tuple(control_of(parts[role.key]).state(settings[role.key]) for role in TWO_POINT)
    target = target_named(scenario.visit.target)
    black = float(bench.screen.light_of_signal(np.zeros((1, 3)))[0, 1])
    at = Ground(
        bench,
        Mover(target, 80.0, 30.0, black, stop_at=0.05),
        controls,
        Responses.prior(controls, scenario.screen.technology),
        Seen(np.ones((3, 3)), np.ones((3, 3))),
        np.zeros(6),
        np.random.default_rng([seed, 5]),
    )
    at.seen = at.read(at.controls)
    for _ in range(int(at.rng.integers(0, _LEARNING + 1))):
        if not asked(at):
            return None
        after = moved(at.controls, at.steps)
        seen = at.read(after)
        at.responses = at.responses.learn(at.steps, seen.log_light - at.seen.log_light, _variance(at.seen, seen))
        at.controls, at.seen = after, seen
    return at if asked(at) else None


def asked(at: Ground) -> bool:
    """Ask the planner for the next move."""
    move = at.mover.propose(at.seen, at.responses, at.controls)
    if isinstance(move, Stop):
        return False
    at.steps = steps_of(move, at.controls)
    return True


def moved(controls: tuple[ControlState, ...], steps: np.ndarray) -> tuple[ControlState, ...]:
    return tuple(
        replace(c, value=int(np.clip(c.value + n * c.step, c.lowest, c.highest)))
        for c, n in zip(controls, steps, strict=True)
    )


def _variance(before: Seen, after: Seen) -> np.ndarray:
    """Of the change; what clips at 100 % says nothing of its control."""
    silent = np.concatenate([before.clipped | after.clipped, np.zeros(6, dtype=bool)])
    return np.where(silent, 1e6, before.variance + after.variance)


def spoilt(asked: np.ndarray, kind: Mishap | None, rng: np.random.Generator) -> tuple[np.ndarray, float]:
    """The steps that are really turned, and the factor on all light, for one mistake."""
    steps = asked.copy()
    turned = np.flatnonzero(steps)
    i = int(rng.choice(turned))
    if kind is Mishap.BUMP:
        return steps, float(np.exp(rng.choice([-1, 1]) * rng.uniform(0.03, 0.2)))
    if kind is Mishap.WRONG_CONTROL:
        j = int(rng.choice([j for j in range(len(steps)) if j != i]))
        steps[i], steps[j] = 0.0, asked[j] + asked[i]
    elif kind is Mishap.WRONG_WAY:
        steps[i] = -steps[i]
    elif kind is Mishap.NOT_TURNED:
        steps[i] = 0.0
    elif kind is Mishap.WRONG_COUNT:
        off = [m for m in (-3, -2, -1, 1, 2, 3) if steps[i] + m != 0 and (steps[i] + m) * steps[i] > 0]
        steps[i] += int(rng.choice(off))
    return steps, 1.0


def told_of(at: Ground, kind: Mishap | None) -> tuple[Mishap | None, bool, float]:
    """What the guard says of a move, whether it names the right steps, and how far off light is by it."""
    steps, factor = spoilt(at.steps, kind, at.rng)
    after = moved(at.controls, steps)
    real = np.array([(a.value - b.value) / b.step for a, b in zip(after, at.controls, strict=True)])
    seen = at.read(after, factor)
    change, variance = seen.log_light - at.seen.log_light, _variance(at.seen, seen)
    told = judge(at.responses, at.controls, at.steps, change, variance)
    off = float(np.abs(at.responses.predict(real - at.steps)[3:]).max())
    return told.mishap, bool(np.array_equal(told.steps, real)), off


def grounds(units: int = 12) -> list[Teller]:
    made = [ground(name, seed) for seed in range(units) for name in shipped_scenarios()]
    return [partial(told_of, at) for at in made if at is not None]


def recognised(
    kind: Mishap | str | None, count: int, places: Sequence[Teller]
) -> tuple[Counter[Mishap | None], float, float]:
    """What was said of so many moves, the share with exact steps, and of plain mistakes that with an alarm."""
    told: Counter[Mishap | None] = Counter()
    exact = plain = alarmed = 0
    for n in range(count):
        said, right, off = places[n % len(places)](kind)
        told[said] += 1
        exact += right
        if off > 0.03:
            plain += 1
            alarmed += said is not None
    return told, exact / count, alarmed / max(1, plain)


def main() -> None:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 1000
    right = int(sys.argv[2]) if len(sys.argv) > 2 else 5000
    report(grounds(), count, right)


def report(places: Sequence[Teller], count: int, right: int) -> None:
    told, _, _ = recognised(None, right, places)
    print(f"{right} right moves: {right - told[None]} called wrong ({(right - told[None]) / right * 100:.2f} %)")
    for kind in Mishap:
        told, exact, plain = recognised(kind, count, places)
        alarm, named = (count - told[None]) / count * 100, told[kind] / count * 100
        print(f"{count} × {kind.value}: alarm at {alarm:.1f} %, named so {named:.1f} %,")
        print(
            f"    steps exact {exact * 100:.1f} %; alarm at {plain * 100:.1f} % of those worth over 3 % of light"
        )


if __name__ == "__main__":
    main()
