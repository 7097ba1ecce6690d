"""Do the first readings name the signal that the screen really gets? Every shipped screen, many units.

    .venv/bin/python benchmarks/first_look.py [SEEDS] [SCENARIO ...]

Under PQ by every way to come to the peak: a roll-off of its own, that of BT.2390, a cut, and tone mapping that
moves with the picture, which is to be found as well.
"""

import sys
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import product

from aequitone.advice.answer import Answer, RangeAnswer
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


def main() -> None:
    seeds = int(sys.argv[1]) if len(sys.argv) > 1 else 20
    tried: Counter[str] = Counter()
    named: Counter[str] = Counter()
    missed: Counter[str] = Counter()
    rights = alarms = 0
    farthest = 0.0
    movers = moved = still = false_movers = 0
    for name in sys.argv[2:] or shipped_scenarios():
        scenario = load_scenario(name)
        for seed in range(seeds):
            for case in cases(scenario, name, seed):
                answer = answered(scenario, case)
                good = case.named_by(answer)
                farthest = max(farthest, answer.miss)
                tried[name] += 1
                named[name] += int(good)
                if not good:
                    told = f"{answer.transfer.value}/{answer.range.name}/{answer.container.value}"
                    was = f"{case.transfer.value}/{case.range.name}/{case.container.value}"
                    missed[f"{name}: {was} called {told}{'' if answer.clear else ' (unclear)'}"] += 1
                if case.right and case.transfer is Transfer.PQ:
                    if case.curve == MOVING:
                        movers, moved = movers + 1, moved + bool(answer.moves)
                    else:
                        still, false_movers = still + 1, false_movers + bool(answer.moves)
                if case.right and case.curve != MOVING:
                    rights += 1
                    alarms += bool(mismatch_words(answer, case.believed) or answer.container is not case.container)
    for name in tried:
        print(f"{name:18s} {named[name]:6d} of {tried[name]:6d}  {100 * named[name] / tried[name]:6.2f} %")
    total, rightly = sum(tried.values()), sum(named.values())
    print(f"named rightly: {rightly} of {total}, {100 * rightly / total:.2f} %")
    print(f"false alarms among right settings: {alarms} of {rights}")
    print(f"moving tone mapping found: {moved} of {movers}; false: {false_movers} of {still}")
    print(f"farthest miss of the best explanation: {farthest:.4f}")
    for what, count in missed.most_common(25):
        print(f"{count:5d}  {what}")


if __name__ == "__main__":
    main()
