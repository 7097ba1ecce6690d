"""Do the first readings name the signal that the screen really gets? Every shipped screen, many units.

    .venv/bin/python benchmarks/first_look.py [FIRST] [SEEDS] [SCENARIO ...]

Under PQ by every way to come to the peak: a roll-off of its own, that of BT.2390, a cut, and tone mapping that
moves with the picture, which is to be found as well.
"""

import sys
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field, fields
from itertools import product

from aequitone.advice.answers.answer import Answer, RangeAnswer
from aequitone.procedures.grey.first_look import look_at_signal, mismatch_words
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.runner import NobodyThere, Runner
from aequitone.signal import Container, Range, SignalFormat, Transfer
from aequitone.standins.bench import build_bench
from aequitone.standins.parts import FeaturePart
from aequitone.standins.scenario import Scenario, load_scenario
from aequitone.standins.shipped import shipped_scenarios

MOVING = "moving"
CURVES = ("own", "spline", "clip", MOVING)


@dataclass(frozen=True)
class Case:
    """What the program believes to send, and what the screen makes of it."""

    scenario: str
    seed: int
    believed: SignalFormat
    transfer: Transfer
    range: RangeAnswer
    container: Container
    gamut: int = 0
    curve: str = ""
    """Of PQ: how the screen comes to its peak; "" for as it is."""

    @property
    def right(self) -> bool:
        format_ = self.believed
        said = (format_.transfer, RangeAnswer.RIGHT, format_.container)
        return said == (self.transfer, self.range, self.container)

    def named_by(self, answer: Answer) -> bool:
        """Whether an answer names this case."""
        return answer.clear and (answer.transfer, answer.range, answer.container) == (
            self.transfer,
            self.range,
            self.container,
        )


def cases(scenario: Scenario, name: str, seed: int) -> Iterator[Case]:
    """Every belief crossed with every truth that this screen can have."""
    screen = scenario.screen
    wide = [i for i, preset in enumerate(screen.gamut) if preset.shows == "p3"]
    for transfer, range_, wrong_range in product(Transfer, Range, (False, True)):
        if transfer is not Transfer.GAMMA and screen.hdr is None:
            continue
        taken = RangeAnswer.RIGHT
        if wrong_range:
            taken = RangeAnswer.STRETCHED if range_ is Range.LIMITED else RangeAnswer.CLIPPED
        for believed in Transfer:
            container = Container.REC709 if believed is Transfer.GAMMA else Container.REC2020
            source = scenario.source
            format_ = SignalFormat(source.depth_bit, range_, source.window_share, believed, container)
            truths = [(Container.REC709, 0)] if transfer is Transfer.GAMMA else [(c, 0) for c in Container]
            if transfer is Transfer.GAMMA and wide:
                truths.append((Container.P3, wide[0]))
            curves = CURVES if transfer is Transfer.PQ else ("",)
            for (really, gamut), curve in product(truths, curves):
                yield Case(name, seed, format_, transfer, taken, really, gamut, curve)


def answered(scenario: Scenario, case: Case) -> Answer:
    """Run the first look of a case."""
    format_ = case.believed
    other = {RangeAnswer.STRETCHED: "full", RangeAnswer.CLIPPED: "limited"}
    screen = scenario.screen.model_copy(update={"expects_range": other.get(case.range, "as sent")})
    if case.curve and screen.hdr is not None:
        curve = "spline" if case.curve == MOVING else case.curve
        moving = FeaturePart(kind="tone-mapping", name="Mapping", found_on=True, strength=0.8, seconds=1.5)
        others = tuple(part for part in screen.feature if part.kind != "tone-mapping")
        update = {
            "hdr": screen.hdr.model_copy(update={"curve": curve}),
            "feature": (*others, moving) if case.curve == MOVING else others,
        }
        screen = screen.model_copy(update=update)
    source = scenario.source.model_copy(
        update={
            "sends_transfer": case.transfer.value,
            "sends_container": case.container.value,
            "range": format_.range,
        }
    )
    bench = build_bench(scenario.model_copy(update={"screen": screen, "source": source}), case.seed)
    bench.screen.quieten()
    if screen.gamut:
        bench.screen.turn({"gamut": case.gamut})
    if case.curve == MOVING:
        bench.screen.turn({"feature-tone-mapping": 1})
    return Runner(bench.bench(), MemoryJournal(), NobodyThere()).run(look_at_signal(format_)).answer


@dataclass
class Tally:
    """What the looks of one screen, or of all of them, came to."""

    tried: int = 0
    named: int = 0
    rights: int = 0
    alarms: int = 0
    movers: int = 0
    moved: int = 0
    still: int = 0
    false_movers: int = 0
    farthest: float = 0.0
    missed: Counter[str] = field(default_factory=Counter)

    def take(self, case: Case, answer: Answer) -> None:
        good = case.named_by(answer)
        self.farthest = max(self.farthest, answer.miss)
        self.tried += 1
        self.named += int(good)
        if not good:
            told = f"{answer.transfer.value}/{answer.range.name}/{answer.container.value}"
            was = f"{case.transfer.value}/{case.range.name}/{case.container.value}"
            self.missed[f"{case.scenario}: {was} called {told}{'' if answer.clear else ' (unclear)'}"] += 1
        if case.right and case.transfer is Transfer.PQ:
            if case.curve == MOVING:
                self.movers, self.moved = self.movers + 1, self.moved + bool(answer.moves)
            else:
                self.still, self.false_movers = self.still + 1, self.false_movers + bool(answer.moves)
        if case.right and case.curve != MOVING:
            self.rights += 1
            self.alarms += bool(mismatch_words(answer, case.believed) or answer.container is not case.container)

    def add(self, other: "Tally") -> None:
        for each in fields(self):
            mine, theirs = getattr(self, each.name), getattr(other, each.name)
            setattr(self, each.name, max(mine, theirs) if each.name == "farthest" else mine + theirs)


def tally_of(name: str, seed: int) -> Tally:
    """Every look of one unit of one screen."""
    scenario, tally = load_scenario(name), Tally()
    for case in cases(scenario, name, seed):
        tally.take(case, answered(scenario, case))
    return tally


def main() -> None:
    first, seeds = (int(word) for word in (sys.argv[1:] + ["0", "20"][len(sys.argv) - 1 :])[:2])
    names = sys.argv[3:] or list(shipped_scenarios())
    units = [(name, seed) for name in names for seed in range(first, first + seeds)]
    total, by_name = Tally(), {name: Tally() for name in names}
    with ProcessPoolExecutor() as pool:
        for (name, _), tally in zip(units, pool.map(tally_of, *zip(*units, strict=True)), strict=True):
            by_name[name].add(tally)
            total.add(tally)
    for name, tally in by_name.items():
        print(f"{name:18s} {tally.named:6d} of {tally.tried:6d}  {100 * tally.named / tally.tried:6.2f} %")
    print(f"named rightly: {total.named} of {total.tried}, {100 * total.named / total.tried:.2f} %")
    print(f"false alarms among right settings: {total.alarms} of {total.rights}")
    print(
        f"moving tone mapping found: {total.moved} of {total.movers}; false: {total.false_movers} of {total.still}"
    )
    print(f"farthest miss of the best explanation: {total.farthest:.4f}")
    for what, count in total.missed.most_common(25):
        print(f"{count:5d}  {what}")


if __name__ == "__main__":
    main()
