"""Stand-ins for Tone: at rest, bent, with white right by the truth."""

from dataclasses import replace

import numpy as np

from aequitone.advice.points import ladder_of
from aequitone.advice.roles import BIASES, Role, is_role, point_of, role_of
from aequitone.logbook.settings.menus import control_of
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.runner import NobodyThere, Runner
from aequitone.procedures.tone.tone import TonePlan, ToneState, tone
from aequitone.reference import target_named
from aequitone.signal import grey_patch
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.parts import MultiPointPart
from aequitone.standins.scenario import load_scenario

LADDER = tuple(float(percent) for percent in range(100, 0, -5))
# What a step of a stand-in's biases does to light at 30 %: three halves of a tenth of a percent of drive.
BIAS_LIGHT = 2.2 * 0.0009 * 0.7 / 0.3


def bench_of(name: str = "wide-lcd", seed: int = 1, *, sag: float = 0.03, **points: object) -> StandInBench:
    """A stand-in at rest, its grey bent by `sag`, with a meter that is a spectroradiometer's equal."""
    scenario = load_scenario(name)
    screen = scenario.screen
    part = screen.multi_point.model_copy(update=points) if screen.multi_point else MultiPointPart(**points)
    fault = screen.fault.model_copy(update={"sag": sag})
    bent = screen.model_copy(update={"multi_point": part, "fault": fault})
    return at_rest(build_bench(scenario.model_copy(update={"screen": bent}), seed))


def at_rest(bench: StandInBench) -> StandInBench:
    """Nothing automatic on, and a meter that is a spectroradiometer's equal."""
    bench.screen.quieten()
    return replace(bench, meter=bench.reference_meter())


def white_set(bench: StandInBench) -> None:
    """Bring 100 % to the target by the gains, on the truth: White's work, which is not in question here."""
    target = target_named(bench.scenario.visit.target).white.xyz()
    for _ in range(60):
        white = bench.screen.light_of_signal(np.ones((1, 3)))[0]
        rgb = bench.screen.unit.gamut.rgb(white / white[1]) / bench.screen.unit.gamut.rgb(target)
        most = int(np.argmax(rgb))
        role = f"gain-{'rgb'[most]}"
        if rgb[most] / rgb.min() < 1.006:
            return
        bench.screen.turn({role: bench.screen.settings()[role] - 1})


def plan_for(bench: StandInBench, *, near_black: bool = False, **more: object) -> TonePlan:
    settings = bench.screen.settings()
    menu = {
        role_of(part.role): control_of(part).state(settings[part.role])
        for part in bench.screen.controls()
        if is_role(part.role)
    }
    points = tuple(state for role, state in menu.items() if point_of(role))
    format_ = bench.scenario.source.format
    return TonePlan(
        target_named(bench.scenario.visit.target),
        format_,
        float(bench.screen.steady(grey_patch(100.0, format_))[1]),
        tuple(menu[role] for role in BIASES),
        BIAS_LIGHT,
        points,
        ladder_of(points, whole=True) if points else (),
        near_black=near_black,
        **more,  # type: ignore[arg-type]
    )


def run(bench: StandInBench, plan: TonePlan, journal: MemoryJournal | None = None, **more: object) -> ToneState:
    return Runner(bench.bench(), journal or MemoryJournal(), NobodyThere(), **more).run(tone(plan))


def known(state: ToneState) -> dict[Role, int]:
    """Where the program believes the controls to stand."""
    assert state.ladder is not None
    return {control.role: control.value for control in state.ladder.controls}


def standing(bench: StandInBench, state: ToneState) -> dict[Role, int]:
    """Where they really stand."""
    left = bench.screen.settings()
    return {role: left[role.key] for role in known(state)}


def true_mean(bench: StandInBench) -> float:
    target = target_named(bench.scenario.visit.target)
    return float(np.mean(bench.true_de2000(LADDER, target, bench.screen.settings())))
