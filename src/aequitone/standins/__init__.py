"""A simulated bench: a screen with a hidden truth, a meter and a pattern source, from a scenario file.

Nothing here is asked for its truth but by tests and by the summary of a simulated run.
"""

from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.clock import PacedClock, VirtualClock
from aequitone.standins.scenario import Scenario, ScenarioError, load_scenario, shipped_scenarios

__all__ = [
    "PacedClock",
    "Scenario",
    "ScenarioError",
    "StandInBench",
    "VirtualClock",
    "build_bench",
    "load_scenario",
    "shipped_scenarios",
]
