"""A whole SDR memory by hand, by a person who slips and mistypes, beside the same person without slips.

    PYTHONPATH=. .venv/bin/python benchmarks/by_hand.py [FIRST] [UNITS] [SCENARIO ...]

Prepare (mode and presets), As found, Levels, White, Tone, Colour and Proof of a warm screen with all that is
automatic switched off. Of the controls that are asked for, one in twenty is turned wrong: another one instead, the
other way, one or five steps off, or not at all; another preset than the one that is asked for. One in a hundred
figures that are typed is off by ten, or has its digits exchanged. Once a slip is suspected in words, they look
at the menu and say where the controls stand; otherwise every other wrong start is noticed. An alarm is false where
no control stands wrong, and no slip that was not spoken of yet is behind it (one at a control of the last move,
which that move has set right, but not what was read before), nor a figure noted wrong that it names.
What luck alone does is told beside: the same evening without slips, the meter having looked once more before it,
so that its noise comes out otherwise.
"""

import sys
import tempfile
from collections import Counter
from collections.abc import Mapping, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field
from itertools import product
from pathlib import Path
from typing import Any

import numpy as np
from benchmarks.zoo import truth

from aequitone.advice.by_hand.standing import Standing
from aequitone.advice.moves import Change, Move
from aequitone.advice.roles import TWO_POINT
from aequitone.advice.two_point.guards import WAS_NOTED_WRONG
from aequitone.logbook import Logbook, open_logbook
from aequitone.logbook.records import Connection
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.passes import (
    AS_FOUND,
    COLOURS_FOUND,
    GAMMA,
    GAMUT,
    LEVELS,
    MANAGEMENT,
    MODE,
    PROOF,
    TEMPERATURE,
    TONE,
    WHITE,
    NotReadyError,
    PassType,
    begin,
    carry_out,
)
from aequitone.procedures.runner import Event, NobodyThere, StepBegun
from aequitone.procedures.steps import Note
from aequitone.signal import grey_patch
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import load_scenario

SCREENS = (
    "demo", "wide-lcd", "quantum-lcd", "white-oled", "rgb-oled", "laser-projector", "lamp-projector", "plasma",
    "desk-monitor", "wheel-projector", "studio-tube", "family-tube", "coarse", "mapping-lcd",
)  # fmt: skip
STATIONS: dict[str, tuple[PassType[Any, Any], ...]] = {
    "prepare": (MODE, TEMPERATURE, GAMMA, GAMUT),
    "as found": (AS_FOUND, COLOURS_FOUND),
    "levels": (LEVELS,),
    "white": (WHITE,),
    "tone": (TONE,),
    "colour": (MANAGEMENT,),
    "proof": (PROOF,),
}
_SLIPS, _MISTYPED, _NOTICED = 0.05, 0.01, 0.5
_WARM_SECONDS = 5400.0
_LOOKED_AT = 50.0
# Without slips, with them, and without once more under other noise.
_RUNS = ((0.0, 0), (_SLIPS, 0), (0.0, 1))
# Words that suspect a slip.
SUSPECTED = (
    "looks as if", "may not have been chosen", "not seen to move", "does not fit what was read before",
    "read as they did", "read as it did", "was noted wrong:", "stood elsewhere: colours",
)  # fmt: skip
_PRESETS = ("picture-mode", "temperature", "gamma", "gamut")


@dataclass
class Person(NobodyThere):
    """Turns what is asked, and slips now and then."""

    bench: StandInBench
    rng: np.random.Generator
    slips: float
    believed: dict[str, int]
    """Where the program has every control."""
    station: str = ""
    suspected: bool = False
    """Whether a slip was suspected since the last turn: the menu is looked at."""
    trips: Counter[str] = field(default_factory=Counter)
    turns: Counter[str] = field(default_factory=Counter)
    made: Counter[str] = field(default_factory=Counter)
    found: Counter[str] = field(default_factory=Counter)
    false: list[str] = field(default_factory=list)
    late: int = 0
    """Alarms of a slip that the last move has set right."""
    asked: set[str] = field(default_factory=set)
    """The controls of the last move."""
    mistyped: set[str] = field(default_factory=set)
    """The controls that were noted wrong."""
    open: list[tuple[str, frozenset[str]]] = field(default_factory=list)
    """Slips that nobody has spoken of yet: the station each was made at, and the controls it left wrong."""

    def wrong(self) -> set[str]:
        """The controls that stand elsewhere than the program believes."""
        stands = self.bench.screen.settings()
        return {role for role, value in self.believed.items() if stands.get(role, value) != value}

    def turn(self, move: Move) -> Standing | None:  # type: ignore[override]
        stands = self.bench.screen.settings()
        seen = {change.role: stands[change.role.key] for change in move.changes}
        elsewhere = any(seen[change.role] != change.from_value for change in move.changes)
        noticed = self.suspected or self.rng.random() < _NOTICED
        if elsewhere and noticed:
            self.suspected = False
            self.believed |= {role.key: value for role, value in seen.items()}
            # What they have said themselves needs no word of the program any more.
            named, wrong = {role.key for role in seen}, self.wrong()
            self.open = [slip for slip in self.open if slip[1] & wrong or not slip[1] & named]
            return Standing(seen)
        self.suspected = False
        self.asked = {change.role.key for change in move.changes}
        self.trips[self.station] += 1
        self.turns[self.station] += len(move.changes)
        for change in move.changes:
            self.believed[change.role.key] = change.to_value
            told = self._turned(change, stands)
            self.bench.link.turn(told)
        return None

    def _turned(self, change: Change, stands: Mapping[str, int]) -> dict[str, int]:
        """Where the person leaves a control, or another one instead of it."""
        key, to = change.role.key, change.to_value
        if self.rng.random() >= self.slips:
            return {key: to}
        at = stands[key]
        others = self._others(key)
        kinds = ["not turned"] if key in _PRESETS else ["not turned", "other way", "off", "off"]
        if others and key not in _PRESETS:
            kinds.append("other control")
        kind = kinds[int(self.rng.integers(len(kinds)))]
        control = next(each for each in self.bench.screen.controls() if each.role == key)
        if key in _PRESETS and self.rng.random() < 0.5:
            wrong = [v for v in range(control.lowest, control.highest + 1, control.step) if v != to]
            told = {key: int(self.rng.choice(wrong))}
        elif kind == "not turned":
            told = {}
        elif kind == "other way":
            told = {key: 2 * at - to}
        elif kind == "off":
            told = {key: to + int(self.rng.choice([-5, -1, 1, 5])) * control.step}
        else:
            other = str(self.rng.choice(others))
            told = {other: stands[other] + to - at}
        before = self.bench.screen.settings()
        limits = {each.role: (each.lowest, each.highest) for each in self.bench.screen.controls()}
        told = {role: int(np.clip(value, *limits[role])) for role, value in told.items()}
        if (before | told) != before | {key: to}:
            self.made[self.station] += 1
            self.open.append((self.station, frozenset({key, *told})))
        return told

    def _others(self, key: str) -> list[str]:
        """Controls that stand beside one in the menu."""
        present = [each.role for each in self.bench.screen.controls() if each.role != key]
        two_point = {role.key for role in TWO_POINT}
        if key in two_point:
            return [role for role in present if role in two_point]
        if key.startswith(("multi-", "cms-")):
            *_, last = key.split("-")
            beside = key.removesuffix(last) if key.startswith("cms-") else f"-{last}"
            return [role for role in present if role.startswith(key[:4]) and beside in role]
        return [role for role in present if role in ("contrast", "black-level", "light-output", "colour", "tint")]

    def hear(self, event: Event) -> None:
        """Listen to what is said of slips."""
        if not (isinstance(event, StepBegun) and isinstance(event.step, Note)):
            return
        if not any(words in event.step.text for words in SUSPECTED):
            return
        self.suspected = True
        wrong = self.wrong()
        behind = [slip for slip in self.open if slip[1] & (wrong | self.asked)]
        names = [each.name for each in self.bench.screen.controls() if each.role in self.mistyped]
        is_so = WAS_NOTED_WRONG in event.step.text and any(name in event.step.text for name in names)
        if not wrong and not behind and not is_so:
            self.false.append(f"{self.station}: {event.step.text}")
        self.late += not wrong and (bool(behind) or is_so)
        for slip in behind:
            self.open.remove(slip)
            self.found[slip[0]] += 1


@dataclass(frozen=True)
class Visit:
    """What came of one visit."""

    ladders: Mapping[str, float]
    """True mean ΔE 2000 from 10 to 100 %, after each station."""
    found: float
    trips: Counter[str]
    turns: Counter[str]
    made: Counter[str]
    seen: Counter[str]
    false: tuple[str, ...]
    late: int
    minutes: float

    @property
    def ladder(self) -> float:
        """The ladder as it was left."""
        return self.ladders["proof"]


def typed(values: Mapping[str, int], rng: np.random.Generator, share: float) -> dict[str, int]:
    """Figures as a person types them."""
    told = {}
    for role, value in values.items():
        wrong = rng.random() < share
        swapped = int(str(value)[::-1]) if len(str(value)) == 2 and value > 0 else value + 10
        told[role] = swapped if wrong else value
    return told


def note(logbook: Logbook, visit_id: int, bench: StandInBench, person: Person) -> None:
    """Write down the menu as it stands, mistakes and all; a figure that cannot be is refused and typed again."""
    limits = {each.role: (each.lowest, each.highest) for each in bench.screen.controls()}
    share = _MISTYPED if person.slips else 0.0
    stands = bench.link.values()
    values = typed(stands, person.rng, share)
    values = {
        role: value if role not in limits or limits[role][0] <= value <= limits[role][1] else stands[role]
        for role, value in values.items()
    }
    mistyped = [role for role in values if values[role] != stands[role]]
    person.made["typed"] += len(mistyped)
    person.mistyped.update(mistyped)
    person.open += [("typed", frozenset({role})) for role in mistyped]
    person.believed = dict(values)
    note_as_found(logbook, logbook.visit(visit_id), values)


def run_one(name: str, unit: int, slips: float, looks: int = 0) -> Visit:
    """One memory from Prepare to Proof, with or without slips; the meter has looked so often before."""
    scenario = load_scenario(name)
    with tempfile.TemporaryDirectory() as folder:
        logbook = open_logbook(Path(folder) / "logbook.sqlite")
        bench = build_bench(scenario, unit)
        bench.clock.sleep(_WARM_SECONDS)
        visit = begin_standin_visit(logbook, scenario, name, unit, link=Connection.BY_HAND)
        bench.screen.quieten()
        for _ in range(looks):
            patch = grey_patch(_LOOKED_AT, visit.bench.format)
            bench.source.show(patch)
            bench.meter.measure(patch, 1.0)
        found = truth(bench, visit.target)[0]
        person = Person(bench, np.random.default_rng([unit, 2020]), slips, {})
        note(logbook, visit.id, bench, person)
        start, ladders = bench.clock.now(), {}
        for station, kinds in STATIONS.items():
            person.station = station
            for kind in kinds:
                try:
                    prepared = begin(logbook, visit.id, kind)
                except NotReadyError:
                    continue
                care = logbook.visit(visit.id).bench.care
                carry_out(logbook, prepared, bench.bench(by_link=False), person, person.hear, care=care)
                if kind is MODE:
                    bench.screen.quieten()
                    note(logbook, visit.id, bench, person)
            ladders[station] = truth(bench, visit.target)[0]
        logbook.close()
        told = person.trips, person.turns, person.made, person.found, tuple(person.false), person.late
        return Visit(ladders, found, *told, (bench.clock.now() - start) / 60.0)


def worse_words(without: Sequence[Visit], with_: Sequence[Visit], again: Sequence[Visit]) -> str:
    """By how much ladders are worse with slips, and by how much under other noise without any."""
    worse, luck = (
        np.array([b.ladder - a.ladder for a, b in zip(without, other, strict=True)]) for other in (with_, again)
    )
    told = [
        f"{np.median(each):+.2f}, 95 % {np.percentile(each, 95.0):+.2f}, most {each.max():+.2f}"
        for each in (worse, luck)
    ]
    either = np.percentile(np.abs(luck), 95.0)
    return f"worse by {told[0]}; by luck alone {told[1]}, 95 % of it within {either:.2f} either way"


def main() -> None:
    words = sys.argv[1:]
    first, units = (int(word) for word in (words + ["0", "20"][len(words) :])[:2])
    names = words[2:] or SCREENS
    pairs = list(product(names, range(first, first + units)))
    with ProcessPoolExecutor() as pool:
        runs = [
            list(pool.map(run_one, *zip(*pairs, strict=True), [slips] * len(pairs), [looks] * len(pairs)))
            for slips, looks in _RUNS
        ]
    for i, name in enumerate(names):
        without, with_, again = (told[i * units : (i + 1) * units] for told in runs)
        print(f"{name}, {units} units; true mean ΔE 2000, found {np.median([v.found for v in without]):.2f}")
        a, b = (float(np.median([visit.ladder for visit in told])) for told in (without, with_))
        print(f"  without slips {a:.2f}, with {b:.2f}; {worse_words(without, with_, again)}")
        for label, told in (("without", without), ("with", with_)):
            after = {s: np.array([v.ladders[s] for v in told]) for s in ("levels", "white", "tone", "colour")}
            steps = ", ".join(f"{s} {np.median(n):.2f} (most {n.max():.2f})" for s, n in after.items())
            print(f"  {label:8s} ladder after {steps}")
            trips = {s: float(np.median([v.trips[s] for v in told])) for s in STATIONS}
            whole = float(np.median([sum(v.trips.values()) for v in told]))
            minutes = float(np.median([v.minutes for v in told]))
            print(
                f"  {label:8s} trips {whole:.0f}: "
                + ", ".join(f"{s} {n:g}" for s, n in trips.items() if n)
                + f"; {np.median([sum(v.turns.values()) for v in told]):.0f} turns, {minutes:.0f} min"
            )
    print(f"all {len(pairs)} units: {worse_words(*runs)}")
    whole_made, whole_found = Counter[str](), Counter[str]()
    for run in runs[1]:
        whole_made += run.made
        whole_found += run.seen
    spoken = ", ".join(f"{station} {whole_found[station]} of {count}" for station, count in whole_made.items())
    print(f"slips made and spoken of: {spoken}")
    false = [words for told in runs for run in told for words in run.false]
    turns = sum(sum(run.turns.values()) for told in runs for run in told)
    late = sum(run.late for told in runs for run in told)
    print(f"false alarms {len(false)} in {turns} turns; alarms of a slip that was set right meanwhile {late}")
    for words_, count in Counter(false).most_common(12):
        print(f"  {count}  {words_}")


if __name__ == "__main__":
    main()
