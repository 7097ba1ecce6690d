"""As guards.py, at the levels of multi-point.

.venv/bin/python benchmarks/point_guards.py [MOVES_OF_EACH_KIND] [RIGHT_MOVES]
"""

import sys
from collections.abc import Mapping
from dataclasses import dataclass
from functools import partial

import numpy as np
from benchmarks.guards import Teller, recognised, report, spoilt

from aequitone.advice.moves import steps_of
from aequitone.advice.points import Grid, PointEffect, PointPlanner, Tracked, log_variance
from aequitone.advice.points.level import SURE, LevelResponses
from aequitone.advice.two_point.guards import Mishap, judge
from aequitone.advice.two_point.level_readings import log_light
from aequitone.colorimetry import REC709
from aequitone.instruments.ports import MeterNoise
from aequitone.logbook.settings.menus import control_of
from aequitone.reference import target_named
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import load_scenario
from aequitone.standins.shipped import shipped_scenarios

_NOISE, _SECONDS, _LEARNING = MeterNoise(0.010, 0.002), 4.0, 2
# In place of the mistakes that `guards.Mishap` tells: the right turns, at the level beside the one that was meant.
OTHER_LEVEL = "another level was turned"


@dataclass
class PointGround:
    """A unit after some learning, and the move that is asked for next at one level."""

    bench: StandInBench
    planner: PointPlanner
    grid: Grid
    effect: PointEffect
    tracked: Tracked
    rng: np.random.Generator
    level: int = 0
    steps: np.ndarray | None = None

    @property
    def responses(self) -> LevelResponses:
        return LevelResponses(self.effect, self.level, self.grid.light)

    def read(
        self, percents: np.ndarray, settings: Mapping[str, int], factor: float = 1.0
    ) -> tuple[np.ndarray, np.ndarray]:
        signal = np.repeat(percents[:, None], 3, axis=1) / 100.0
        light = self.bench.screen.light_of_signal(signal, settings) * factor
        sd = _NOISE.sd(light, _SECONDS)
        return light + self.rng.standard_normal(light.shape) * sd, sd

    def settings(self, level: int, steps: np.ndarray) -> dict[str, int]:
        row = self.grid.rows[level]
        moved = {c.role.key: c.value + int(n) * c.step for c, n in zip(row, steps, strict=True)}
        return self.bench.screen.settings() | {c.role.key: c.value for c in self.grid.controls} | moved

    def look(self) -> None:
        here = self.settings(0, np.zeros(len(self.grid.rows[0])))
        xyz, sd = self.read(self.tracked.percents, here)
        offsets = np.repeat(self.grid.offsets[None], len(xyz), axis=0)
        self.tracked = Tracked(self.tracked.percents, xyz, sd, offsets, self.tracked.black)

    def asked(self) -> bool:
        """Ask the planner for the next move; a level at random, so that all kinds are there."""
        levels = [i for i, percent in enumerate(self.grid.percents) if percent > 0]
        for level in self.rng.permutation(levels):
            found = self.planner.propose(self.tracked, self.effect, self.grid, [int(level)])
            if found is not None:
                self.level = found[0]
                self.steps = steps_of(found[1], self.grid.rows[self.level])
                return True
        return False

    def change(self, settings: Mapping[str, int], factor: float = 1.0) -> tuple[np.ndarray, np.ndarray]:
        """Change of log light (3,) at the level, as read, and its variance."""
        row = self.tracked.row(self.grid.percents[self.level])
        xyz, sd = self.read(self.tracked.percents[[row]], settings, factor)
        before = self.tracked.xyz[row]
        variance = log_variance(xyz[0], sd[0], REC709) + log_variance(before, self.tracked.sd[row], REC709)
        return (log_light(xyz, REC709) - log_light(before[None], REC709)).reshape(3), variance


def told_of(at: PointGround, kind: Mishap | str | None) -> tuple[Mishap | None, bool, float]:
    """What the guard says of a move, whether it names the right steps, and how far off light is by it."""
    assert at.steps is not None
    controls = at.grid.rows[at.level]
    if kind == OTHER_LEVEL:
        beside = at.level + (1 if at.level + 1 < len(at.grid.rows) else -1)
        settings, real, factor = at.settings(beside, at.steps), np.zeros(len(controls)), 1.0
    else:
        real, factor = spoilt(at.steps, kind, at.rng)  # type: ignore[arg-type]
        settings = at.settings(at.level, real)
    told = judge(at.responses, controls, at.steps, *at.change(settings, factor), sure=SURE)
    off = float(np.abs(at.responses.predict(real - at.steps)).max())
    return told.mishap, bool(np.array_equal(told.steps, real)), off


def ground(name: str, seed: int) -> PointGround | None:
    """None where the screen has no multi-point, or the planner nothing to ask for."""
    scenario = load_scenario(name)
    if scenario.screen.multi_point is None:
        return None
    bench = build_bench(scenario, seed)
    bench.screen.quieten()
    settings = bench.screen.settings()
    grid = Grid.of(control_of(c).state(settings[c.role]) for c in bench.screen.controls() if "multi" in c.role)
    percents = np.array([100.0, *(float(p) for p in grid.percents if 0 < p < 100)])
    effect = PointEffect.prior(grid.signal, grid.controls[0].steps / 2.0)
    black = float(bench.screen.light_of_signal(np.zeros((1, 3)))[0, 1])
    empty = np.zeros((len(percents), 3))
    tracked = Tracked(percents, empty, empty, empty, black)
    rng = np.random.default_rng([seed, 7])
    at = PointGround(bench, PointPlanner(target_named(scenario.visit.target), 0.02), grid, effect, tracked, rng)
    at.look()
    for _ in range(int(rng.integers(0, _LEARNING + 1))):
        if not at.asked():
            return None
        assert at.steps is not None
        change, variance = at.change(at.settings(at.level, at.steps))
        by = np.zeros((len(grid.percents), 3))
        by[at.level] = at.responses.totals(at.steps)
        at.effect = at.effect.learn(grid.signal[[at.level]], by, change[None], variance[None])
        moved = at.settings(at.level, at.steps)
        bench.screen.turn({c.role.key: moved[c.role.key] for c in grid.controls})
        at.grid = Grid.of(control_of(c).state(moved[c.role]) for c in bench.screen.controls() if "multi" in c.role)
        at.look()
    return at if at.asked() else None


def point_grounds(units: int = 24) -> list[Teller]:
    made = [ground(name, seed) for seed in range(units) for name in shipped_scenarios()]
    return [partial(told_of, at) for at in made if at is not None]


def main() -> None:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 1000
    right = int(sys.argv[2]) if len(sys.argv) > 2 else 5000
    places = point_grounds()
    report(places, count, right)
    told, _, plain = recognised(OTHER_LEVEL, count, places)
    alarm, named = (count - told[None]) / count * 100, told[Mishap.NOT_TURNED] / count * 100
    print(f"{count} × {OTHER_LEVEL}: alarm at {alarm:.1f} %, taken for not turned {named:.1f} %,")
    print(f"    alarm at {plain * 100:.1f} % of those worth over 3 % of light")


if __name__ == "__main__":
    main()
