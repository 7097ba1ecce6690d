"""A whole bench from a scenario, and the truth behind it."""

from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from aequitone.advice.answers.encoding import container_of, transfer_of
from aequitone.instruments.ports import Bench, Clock
from aequitone.reference import GreyErrors, Target, grey_errors
from aequitone.standins.bench_parts import MeterPart
from aequitone.standins.clock import VirtualClock
from aequitone.standins.devices import StandInLink, StandInMeter, StandInSource
from aequitone.standins.nvram import Nvram
from aequitone.standins.scenario import Scenario
from aequitone.standins.screen import StandInScreen


@dataclass(frozen=True)
class StandInBench:
    """The devices, and the screen behind them for the stand-in remote and for the truth."""

    scenario: Scenario
    screen: StandInScreen
    meter: StandInMeter
    source: StandInSource
    link: StandInLink
    clock: Clock
    seed: int = 0

    def bench(self, *, by_link: bool = True) -> Bench:
        """The ports; without the link a person turns the controls."""
        return Bench(self.meter, self.source, self.link if by_link else None, self.clock, self.meter)

    def reference_meter(self) -> StandInMeter:
        """A spectroradiometer that looks at the same screen, slower and without filters: to correct by."""
        part = MeterPart(
            name="Stand-in spectroradiometer",
            serial="0002",
            kind="spectroradiometer",
            shot_noise=0.012,
            floor_noise_cd_m2=0.006,
            overhead_seconds=1.0,
        )
        return StandInMeter(part, self.screen, self.clock, self.seed + 1)

    def true_errors(self, percents: tuple[float, ...], target: Target, settings: Mapping[str, int]) -> GreyErrors:
        """Errors of greys without noise, at settings, under the target's signal. Tests and summaries only."""
        signal = np.repeat(np.array([*percents, 100.0, 0.0])[:, None] / 100.0, 3, axis=1)
        light = self.screen.light_of_signal(signal, settings, transfer_of(target), container_of(target))
        return grey_errors(percents, light[:-2], target, white=float(light[-2, 1]), black=float(light[-1, 1]))

    def true_de2000(self, percents: tuple[float, ...], target: Target, settings: Mapping[str, int]) -> list[float]:
        """ΔE 2000 (light included, relative white) of `true_errors`."""
        return [float(value) for value in self.true_errors(percents, target, settings).de2000]


def build_bench(
    scenario: Scenario, seed: int, *, clock: Clock | None = None, nvram: Path | None = None
) -> StandInBench:
    """The stand-ins of a scenario. Same seed, same unit, same noise. Default clock: virtual."""
    clock = clock or VirtualClock()
    screen = StandInScreen(scenario, seed, clock, Nvram(nvram))
    source = StandInSource(scenario.source, screen, clock, seed)
    meter = StandInMeter(scenario.meter, screen, clock, seed)
    return StandInBench(scenario, screen, meter, source, StandInLink(screen, scenario.hand, clock), clock, seed)
