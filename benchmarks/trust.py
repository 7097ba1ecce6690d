"""What is left of outliers, drift and dimming in a pass, with each guard on and off.

.venv/bin/python benchmarks/trust.py [SEEDS]

Errors are against what the same meter would tell, without noise, of the screen as it stood at the start:
root mean square over the levels from 10 to 90 % and over units.
"""

import sys
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from aequitone.colorimetry import uv_from_xyz
from aequitone.procedures.care import CARE, Care, RefreshFields
from aequitone.procedures.grey.grey_pass import GreyPlan, grey_pass
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.runner import NobodyThere, Runner
from aequitone.reference import target_named
from aequitone.signal import grey_patch
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.parts import DriftPart, Part, StillPart
from aequitone.standins.scenario import Scenario, load_scenario

TARGET = target_named("rec709-2.2")
REFRESH = RefreshFields(every_seconds=40.0, for_seconds=2.0, percent=50.0)


@dataclass(frozen=True)
class Left:
    """Root mean square errors of passes: light in %, chromaticity in u'v'."""

    light: float
    uv: float
    minutes: float


def with_part(scenario: Scenario, part: str, **fields: object) -> Scenario:
    """The scenario with some of a part's fields changed."""
    old: Part = getattr(scenario, part)
    return scenario.model_copy(update={part: old.model_copy(update=fields)})


def truth(bench: StandInBench, percents: tuple[float, ...]) -> np.ndarray:
    """What the meter would tell of the steady screen without noise, shape (n, 3)."""
    format_ = bench.scenario.source.format
    screen, sensor = bench.screen, bench.meter.sensor
    return np.array([sensor.seen(screen.steady_light(grey_patch(p, format_))) for p in percents])


def left(scenario: Scenario, care: Care, seeds: int, **plan_fields: Any) -> Left:
    """Run passes over `seeds` units."""
    light, uv, seconds = [], [], []
    for seed in range(seeds):
        bench = build_bench(scenario, seed)
        bench.screen.quieten()
        plan = replace(GreyPlan(TARGET, scenario.source.format, 21, anchor_every=4), **plan_fields)
        runner = Runner(bench.bench(), MemoryJournal(), NobodyThere(), care=care)
        found = runner.run(grey_pass(plan))
        true = truth(bench, found.percents)[1:-1]
        read = found.xyz[1:-1]
        light.append((read[:, 1] / true[:, 1] - 1.0) * 100.0)
        uv.append(np.linalg.norm(uv_from_xyz(read) - uv_from_xyz(true), axis=1))
        seconds.append(bench.clock.now())
    return Left(_rms(light), _rms(uv), float(np.mean(seconds)) / 60.0)


def _rms(values: list[np.ndarray]) -> float:
    return float(np.sqrt(np.mean(np.square(values))))


def drifting(scenario: Scenario, percent_a_pass: float, minutes: float) -> Scenario:
    """A screen whose light drifts so much over a pass of so many minutes, its blue a little more."""
    an_hour = percent_a_pass / 100.0 * 60.0 / minutes
    drift = DriftPart(light_share_per_hour=-an_hour, cast_share_per_hour=(0.0, 0.0, -0.3 * an_hour))
    return with_part(scenario, "screen", drift=drift)


def main() -> None:
    seeds = int(sys.argv[1]) if len(sys.argv) > 1 else 40
    demo, oled = load_scenario("demo"), load_scenario("white-oled")
    fresh_oled = with_part(oled, "screen", still=StillPart())
    calm = left(demo, CARE, seeds)
    calm_oled = left(fresh_oled, CARE, seeds)
    outliers = with_part(demo, "meter", outlier_share=0.05)
    drift = drifting(demo, 3.0, calm.minutes)
    refreshed = replace(CARE, refresh=REFRESH)
    rows = [
        ("LED-LCD, nothing wrong", calm, calm),
        ("5 % outliers, guard on", left(outliers, CARE, seeds), calm),
        ("5 % outliers, guard off", left(outliers, replace(CARE, doubt=False), seeds), calm),
        ("3 % drift, guard on", left(drift, CARE, seeds), calm),
        ("3 % drift, guard off", left(drift, CARE, seeds, take_out_drift=False), calm),
        ("white OLED that does not dim", calm_oled, calm_oled),
        (
            "dimming, refresh fields on",
            left(oled, replace(CARE, refresh=REFRESH), seeds, take_out_drift=False),
            calm_oled,
        ),
        ("dimming, anchors alone", left(oled, CARE, seeds), calm_oled),
        ("dimming, both", left(oled, refreshed, seeds), calm_oled),
        ("dimming, no guard", left(oled, CARE, seeds, take_out_drift=False), calm_oled),
    ]
    print(f"{seeds} units, 21 levels          light %   above noise     u'v'   above noise   minutes")
    for what, got, base in rows:
        print(
            f"{what:30s} {got.light:8.3f} {got.light - base.light:10.3f} {got.uv:12.5f} "
            f"{got.uv - base.uv:10.5f} {got.minutes:10.1f}"
        )


if __name__ == "__main__":
    main()
