"""The choice of the picture mode, of the temperature preset and of the gamma preset, against the truth.

.venv/bin/python benchmarks/choosing.py [SEEDS]

The truth is the same judgement on light without noise, at 33 levels instead of 5.
"""

import sys
from dataclasses import dataclass

import numpy as np

from aequitone.advice.presets import Track, judged, judged_by_tone
from aequitone.advice.roles import Role
from aequitone.logbook.records import BenchChoice
from aequitone.logbook.settings.menus import control_of
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.preparation.presets import ChoicePlan, choose
from aequitone.procedures.runner import NobodyThere, Runner
from aequitone.reference import Target, target_named
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import load_scenario
from aequitone.standins.shipped import shipped_scenarios

# How unevenly the presets of these units run: more than the shipped screens do of themselves.
BEND = 0.02
FINE = np.linspace(100.0, 12.5, 33)


@dataclass(frozen=True)
class Choice:
    """What was chosen, and what was best by the truth."""

    scenario: str
    seed: int
    chosen: str
    best: str
    loss: float
    """True score of the chosen above that of the best: thousandths of u'v', of a gamma preset ΔE 2000."""


def choose_one(name: str, seed: int, role: Role) -> Choice | None:
    """None where the screen has no such control."""
    scenario = load_scenario(name)
    unit = scenario.screen.unit.model_copy(update={"preset_bend": BEND})
    scenario = scenario.model_copy(update={"screen": scenario.screen.model_copy(update={"unit": unit})})
    bench = build_bench(scenario, seed)
    part = next((c for c in bench.screen.controls() if c.role == role.key), None)
    if part is None:
        return None
    primaries = role == Role.PICTURE_MODE
    if not primaries:
        # A mode is chosen before anything is switched off in it; a preset after.
        bench.screen.quieten()
    control = control_of(part)
    values = tuple(range(part.lowest, part.highest + 1))
    target = target_named(scenario.visit.target)
    names = tuple(control.shown(value) for value in values)
    now = bench.screen.settings()[role.key]
    tone = role == Role.GAMMA
    plan = ChoicePlan(
        target, scenario.source.format, control.state(now), values, names, primaries, once=primaries, tone=tone
    )
    care = BenchChoice().suited_to(scenario.screen.technology).care
    state = Runner(bench.bench(), MemoryJournal(), NobodyThere(), care=care).run(choose(plan))
    truth = {value: true_score(bench, target, role, value, primaries) for value in values}
    best = min(truth, key=lambda value: truth[value])
    chosen = state.control.value
    return Choice(name, seed, names[chosen], names[best], truth[chosen] - truth[best])


def true_score(bench: StandInBench, target: Target, role: Role, value: int, primaries: bool) -> float:
    screen = bench.screen
    before = screen.settings()[role.key]
    screen.turn({role.key: value})
    grey = screen.light_of_signal(np.repeat(FINE[:, None] / 100.0, 3, axis=1))
    colours = screen.light_of_signal(np.eye(3)) if primaries else None
    screen.turn({role.key: before})
    track = Track(value, "", FINE, grey, np.zeros_like(grey), colours)
    if role == Role.GAMMA:
        return judged_by_tone(track, target).score
    return judged(track, np.asarray(target.white.xyz()), target.gamut.xyz_matrix.T).score


def main() -> None:
    seeds = int(sys.argv[1]) if len(sys.argv) > 1 else 20
    for role in (Role.TEMPERATURE, Role.GAMMA, Role.PICTURE_MODE):
        made = [choose_one(name, seed, role) for name in shipped_scenarios() for seed in range(seeds)]
        told = [choice for choice in made if choice is not None]
        if not told:
            continue
        right = np.mean([choice.chosen == choice.best for choice in told])
        print(f"{role.key}: {len(told)} choices, {right * 100:.1f} % as the truth has it")
        for choice in told:
            if choice.chosen != choice.best:
                print(
                    f"  {choice.scenario} seed {choice.seed}: {choice.chosen} instead of {choice.best}, "
                    f"worse by {choice.loss:.2f} thousandths of u'v'"
                )


if __name__ == "__main__":
    main()
