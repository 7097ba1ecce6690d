"""What each way to treat black asks for, and what comes of it: White and Tone with all of them.

    .venv/bin/python benchmarks/black_references.py [UNITS] [SCENARIO...]

For each scenario and black reference, by the truth of the stand-in after White and Tone by link: the mean
ΔE 2000 of the ladder against that target, light at 10 % and the worst of 7 to 1 % against it, and trips. Where
ladder and near black pull against each other, light at 10 % or near black stays off.
"""

import sys

import numpy as np
from benchmarks.multi_point import run_one
from benchmarks.white_balance import PRICES

from aequitone.reference import BlackReference, Power, target_named
from aequitone.standins.scenario import load_scenario
from aequitone.standins.shipped import shipped_scenarios


def names_of(target: str) -> list[str]:
    """The targets to try: the tone with each black reference that it can have, and as earlier versions had it."""
    head = target.partition("/")[0]
    if not isinstance(target_named(head).tone, Power):
        return [head]
    return [f"{head}/{black.value}" if black.value else head for black in BlackReference]


def main() -> None:
    units = int(sys.argv[1]) if len(sys.argv) > 1 else 3
    price = "link"
    assert price in PRICES
    print(f"{'':20s} {'black':10s} {'ladder ΔE':>10s} {'10 % light':>11s} {'near black':>11s} {'trips':>6s}")
    for name in sys.argv[2:] or shipped_scenarios():
        scenario = load_scenario(name)
        for target in names_of(scenario.visit.target):
            wanted = scenario.model_copy(update={"visit": scenario.visit.model_copy(update={"target": target})})
            made = [run_one(name, seed, price, wanted) for seed in range(units)]
            print(
                f"{name:20s} {target_named(target).black.label or 'earlier':15s}"
                f" {np.mean([each.after for each in made]):6.2f}"
                f" {np.mean([abs(each.at_ten) for each in made]):9.1f} %"
                f" {np.mean([np.abs(each.near_black).max() for each in made]):9.1f} %"
                f" {np.mean([each.trips for each in made]):6.1f}"
            )


if __name__ == "__main__":
    main()
