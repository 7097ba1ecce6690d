"""A person's slips at a colour management: how often they are recognised, and how often one is seen without any.

    PYTHONPATH=. .venv/bin/python benchmarks/colour_slips.py [UNITS] [SLIPLESS] [SCENARIO ...]

On units of benchmarks/colour_management.py, by hand: on the first or the second trip one control is turned the
other way, not at all, by another number of steps, or another one instead of it. SLIPLESS: units of each screen on
which nothing slips, as many as the others where it is left out.
"""

import sys
from collections import Counter
from collections.abc import Mapping
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field

import numpy as np
from benchmarks.colour_management import Case, controls_of, faulty, plan_of, ports_of, truth, white_set
from benchmarks.guards import spoilt

from aequitone.advice.two_point.guards import Mishap
from aequitone.instruments.ports import Bench, ScreenLink
from aequitone.procedures.colour.managing import manage_colours
from aequitone.procedures.journal import MemoryJournal, Turned
from aequitone.procedures.runner import NobodyThere, Runner
from aequitone.standins.bench import build_bench

SCREENS = ("wide-lcd", "quantum-lcd")
KINDS = (None, Mishap.WRONG_WAY, Mishap.NOT_TURNED, Mishap.WRONG_COUNT, Mishap.WRONG_CONTROL)


@dataclass
class Hand:
    """Turns the controls, and slips once."""

    link: ScreenLink
    roles: tuple[str, ...]
    kind: Mishap | None
    trip: int
    rng: np.random.Generator
    trips: int = 0
    name: str = "hand"
    slipped: list[int] = field(default_factory=list)

    def values(self) -> dict[str, int]:
        return self.link.values()

    def turn(self, settings: Mapping[str, int]) -> None:
        stands, told = self.link.values(), dict(settings)
        asked = np.array([told.get(role, stands[role]) - stands[role] for role in self.roles], dtype=float)
        if self.trips >= self.trip and self.kind is not None and not self.slipped and asked.any():
            steps, _ = spoilt(asked, self.kind, self.rng)
            told = {role: stands[role] + int(n) for role, n in zip(self.roles, steps, strict=True)}
            self.slipped = [int(i) for i in np.flatnonzero(steps - asked)]
        self.trips += 1
        self.link.turn(told)


def run_one(case: tuple[str, int, Mishap | None]) -> tuple[Mishap | None, list[str], bool, float, int]:
    """One slip: what was said, whether the right control was named, what the saturations came to, turns."""
    name, seed, kind = case
    scenario = faulty(name, seed, 0.03)
    bench = build_bench(scenario, seed)
    bench.screen.quieten()
    white_set(bench)
    controls, ports = controls_of(bench), ports_of(bench, scenario)
    assert ports.link is not None
    rng = np.random.default_rng([seed, 5])
    hand = Hand(ports.link, tuple(c.role.key for c in controls), kind, int(rng.integers(2)), rng)
    journal = MemoryJournal()
    plan = plan_of(Case(name, seed, by_hand=True), scenario, controls)
    Runner(Bench(ports.meter, ports.source, hand, ports.clock), journal, NobodyThere()).run(manage_colours(plan))
    said = [note for note in journal.notes.values() if note.startswith("It looks as if")]
    right = any(controls[i].name in note for i in hand.slipped for note in said)
    turns = sum(len(kept.move.changes) for kept in journal.results.values() if isinstance(kept, Turned))
    return kind, said, right, truth(bench)[0], turns


def main() -> None:
    units = int(sys.argv[1]) if len(sys.argv) > 1 else 10
    slipless = int(sys.argv[2]) if len(sys.argv) > 2 else units
    names = sys.argv[3:] or SCREENS
    counts = {kind: slipless if kind is None else units for kind in KINDS}
    cases = [(name, 500 + seed, kind) for kind in KINDS for name in names for seed in range(counts[kind])]
    named: Counter[Mishap | None] = Counter()
    spoke: Counter[Mishap | None] = Counter()
    left: dict[Mishap | None, list[float]] = {}
    turned: Counter[Mishap | None] = Counter()
    with ProcessPoolExecutor() as pool:
        for kind, said, right, came, turns in pool.map(run_one, cases, chunksize=4):
            named[kind] += right
            spoke[kind] += bool(said)
            turned[kind] += turns
            left.setdefault(kind, []).append(came)
    for kind in KINDS:
        count = counts[kind] * len(names)
        if not count:
            continue
        what, came = kind.value if kind else f"no slip in {turned[kind]} turns", np.median(left[kind])
        print(f"{what:36s} spoken of {spoke[kind]:3d}, rightly {named[kind]:3d} of {count}; left {came:.2f}")


if __name__ == "__main__":
    main()
