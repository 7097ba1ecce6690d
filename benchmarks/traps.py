"""Traps on screens of the zoo: how often what is wrong is named before time is spent, and how often nothing is.

    PYTHONPATH=. .venv/bin/python benchmarks/traps.py FIRST COUNT [kept|work] [SOUND]

Each trap is set on COUNT screens from number FIRST on, of the third that is kept or (work) of the other two; the
pass as found is begun there. SOUND: how many screens without a trap are looked at for false alarms.
"""

import sys
import tempfile
from collections import Counter
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import numpy as np
from benchmarks.trust import with_part
from benchmarks.zoo import chosen

from aequitone.advice.roles import Role
from aequitone.advice.technology import Technology, suspect
from aequitone.instruments.errors import InstrumentError
from aequitone.instruments.ports import MeterNoise
from aequitone.logbook import open_logbook
from aequitone.logbook.health import BenchConditions, ailments
from aequitone.logbook.records import BenchChoice
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.passes import AS_FOUND, LEVELS, PassType, begin, carry_out
from aequitone.procedures.grey.first_look import WrongSignalError
from aequitone.procedures.grey.grey_pass import GreyPlan, grey_pass
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.runner import NobodyThere, Runner
from aequitone.reference import target_named
from aequitone.signal import Range, SignalFormat, Transfer, colour_patch, grey_patch
from aequitone.standins.bench import build_bench
from aequitone.standins.parts import FeaturePart, HdrPart
from aequitone.standins.scenario import Scenario
from aequitone.standins.zoo import zoo_screen

# Energy saving takes this share of the light; this share of what a screen gives without it is wanted.
_SAVED, _WANTED = (0.2, 0.5), 0.9
_STATIONS: tuple[PassType[Any, Any], ...] = (AS_FOUND, LEVELS)
# Words of which one must be said of a dynamic feature.
_RAISED = "black not raised"
_MOVED, _NOTED_AS = "White moved", "is the screen what it is noted as"
_AUTOMATIC = "something automatic is still on"
_FOLLOWS = ("follows the picture", "dynamic contrast")


@dataclass(frozen=True)
class Trap:
    """What is set wrongly, and the words of which one must be said."""

    name: str
    words: tuple[str, ...]
    set: Callable[[Scenario, np.random.Generator], Scenario] = lambda scenario, _: scenario
    format: Callable[[SignalFormat], SignalFormat] = lambda format_: format_


def _feature(**fields: Any) -> Callable[[Scenario, np.random.Generator], Scenario]:
    def on(scenario: Scenario, rng: np.random.Generator) -> Scenario:
        strength = round(float(rng.uniform(0.1, 0.5)), 3)
        # A feature that takes less than a tenth of the light spoils nothing.
        part = FeaturePart.model_validate({"name": "By itself", "found_on": True, "strength": strength, **fields})
        return with_part(scenario, "screen", feature=(part,))

    return on


def _hdr(scenario: Scenario, transfer: Transfer) -> Scenario:
    able = with_part(scenario, "screen", hdr=HdrPart())
    return with_part(able, "source", sends_transfer=transfer.value)


def _cold(scenario: Scenario, rng: np.random.Generator) -> Scenario:
    warm_up = scenario.screen.warm_up.model_copy(
        update={
            "already_minutes": float(rng.uniform(0.0, 5.0)),
            "missing_share": float(rng.uniform(0.04, 0.12)),
            "minutes": float(rng.uniform(5.0, 12.0)),
        }
    )
    return with_part(scenario, "screen", warm_up=warm_up)


def _full(format_: SignalFormat) -> SignalFormat:
    return replace(format_, range=Range.FULL)


_GREY, _CRUSHED = "Black is grey", "Dark steps are black"
TRAPS = (
    Trap("input set to full", (_GREY,), lambda s, _: with_part(s, "screen", expects_range="full")),
    Trap("input set to limited", (_CRUSHED,), lambda s, _: with_part(s, "screen", expects_range="limited"), _full),
    Trap("source stretches", (_CRUSHED,), lambda s, _: with_part(s, "source", sends_range="full")),
    Trap("source squeezes", (_GREY,), lambda s, _: with_part(s, "source", sends_range="limited"), _full),
    Trap("screen in PQ", ("answers as PQ",), lambda s, _: _hdr(s, Transfer.PQ)),
    Trap("screen in HLG", ("answers as HLG",), lambda s, _: _hdr(s, Transfer.HLG)),
    Trap("dynamic contrast by the peak", _FOLLOWS, _feature(kind="dynamic-contrast")),
    Trap("the same in four steps", _FOLLOWS, _feature(kind="dynamic-contrast", steps=4)),
    Trap("the same within 5 s", _FOLLOWS, _feature(kind="dynamic-contrast", seconds=5.0)),
    Trap("the same within 20 s", (*_FOLLOWS, _MOVED, _AUTOMATIC), _feature(kind="dynamic-contrast", seconds=20.0)),
    Trap("by the average", _FOLLOWS, _feature(kind="dynamic-contrast", follows="average")),
    Trap("the same in four steps", _FOLLOWS, _feature(kind="dynamic-contrast", follows="average", steps=4)),
    Trap("the same within 5 s", _FOLLOWS, _feature(kind="dynamic-contrast", follows="average", seconds=5.0)),
    Trap("dynamic iris", _FOLLOWS, _feature(kind="dynamic-iris")),
    Trap("local dimming", _FOLLOWS, _feature(kind="zone-dimming")),
    Trap(
        "room sensor",
        (_MOVED, _AUTOMATIC, "room sensor", "the room (a sensor)", "not warm yet"),
        _feature(kind="ambient-sensor"),
    ),
    Trap("first white too early", ("not warm yet",), _cold),
)


def said(number: int, trap: Trap | None, noted: Technology | None = None) -> list[str]:
    """What is said of a screen, noted as it is or as another, until the pass as found is over."""
    scenario, rng = zoo_screen(number), np.random.default_rng([number, 7])
    format_ = scenario.source.format
    if trap is not None:
        scenario, format_ = trap.set(scenario, rng), trap.format(format_)
    bench, journal = build_bench(scenario, number), MemoryJournal()
    plan = GreyPlan(target_named(scenario.visit.target), format_, anchor_every=4, first_look=True)
    plan = replace(plan, technology=noted or Technology(scenario.screen.technology))
    try:
        # As on a first visit: refresh fields keep a panel that dims from hiding what it does besides.
        care = BenchChoice().suited_to(plan.technology).care
        Runner(bench.bench(), journal, NobodyThere(), care=care).run(grey_pass(plan))
    except (WrongSignalError, InstrumentError) as error:
        return [*journal.notes.values(), str(error)]
    return list(journal.notes.values())


def named(number: int) -> dict[str, bool]:
    """Which traps were named on a screen; a wrong technology in the meter, and in the visit, too."""
    told = {}
    for i, trap in enumerate(TRAPS):
        words = " ".join(said(number, trap))
        told[f"{i:2d} {trap.name}"] = any(each in words for each in trap.words)
    told["meter set to another kind"] = _mode(number)
    told["screen noted as another kind"] = _technology(number)
    starved = _starved(number)
    if starved is not None:
        told["energy saving, light not reached"] = starved
    return told


def _other(number: int) -> Technology:
    """A technology that the screen is not of."""
    own, rng = zoo_screen(number).screen.technology, np.random.default_rng([number, 8])
    others = [each for each in Technology if each and each is not own]
    return others[int(rng.integers(len(others)))]


def _mode(number: int) -> bool:
    """Whether the bench warns of a meter that is set to another kind than the screen is rightly noted as.

    And does not where it is set to the screen's.
    """
    own = Technology(zoo_screen(number).screen.technology)
    wrong, right = (
        ailments(
            BenchConditions(BenchChoice(meter_mode=mode), own, MeterNoise(0.001, 0.001), (), None),
            datetime.now(UTC),
        )
        for mode in (_other(number), own)
    )
    said_of_mode = [any("meter is set to" in each.words for each in told) for told in (wrong, right)]
    return said_of_mode == [True, False]


def _technology(number: int) -> bool:
    """Whether a screen that is noted as of another kind is doubted, by its black or its primaries."""
    scenario, other = zoo_screen(number), _other(number)
    return any(_NOTED_AS in words for words in said(number, None, other)) or bool(_doubt(scenario, other))


def _starved(number: int) -> bool | None:
    """Whether Levels asks for energy saving where it keeps a screen from light that it could give.

    None where no control sets light.
    """
    scenario, rng = zoo_screen(number), np.random.default_rng([number, 9])
    plain = build_bench(scenario, number).screen
    full = {each.role: each.highest for each in plain.controls() if each.role == Role.LIGHT_OUTPUT.key}
    if not full:
        return None
    plain.turn(full)
    most = float(plain.steady(grey_patch(100.0, scenario.source.format))[1])
    strength = round(float(rng.uniform(*_SAVED)), 3)
    saving = _feature(kind="energy-saving", strength=strength)(scenario, rng)
    with tempfile.TemporaryDirectory() as folder:
        logbook = open_logbook(Path(folder) / "logbook.sqlite")
        bench = build_bench(saving, number)
        visit = begin_standin_visit(logbook, saving, f"zoo {number}", number)
        note_as_found(logbook, visit, bench.link.values())
        visit, words = logbook.choose_light(visit.id, _WANTED * most), []
        for kind in _STATIONS:
            prepared = begin(logbook, visit.id, kind)
            result = carry_out(logbook, prepared, bench.bench(), NobodyThere(), care=visit.bench.care)
            words += [kind.words(result), *logbook.notes(prepared.pass_id)]
        logbook.close()
    return any("energy saving" in each for each in words)


def _doubt(scenario: Scenario, noted: Technology) -> str:
    bench = build_bench(scenario, 1)
    patches = [
        colour_patch("", percents, scenario.source.format) for percents in ((100, 0, 0), (0, 100, 0), (0, 0, 100))
    ]
    judged = suspect(noted, np.array([bench.screen.steady(patch) for patch in patches]))
    return judged.words if judged is not None else ""


def alarms(number: int) -> list[str]:
    """What is wrongly said of a sound screen; that white moved is true of one that dims, or drifts.

    And some OLEDs are found with black raised by a bias, of which is asked.
    """
    wrong = {word for trap in TRAPS for word in trap.words} - {_MOVED} | {_NOTED_AS}
    words = [each for each in said(number, None) if any(word in each for word in wrong)]
    scenario = zoo_screen(number)
    if build_bench(scenario, number).screen.light_of_signal(np.zeros(3))[1] > 0.0:
        words = [each for each in words if _RAISED not in each]
    doubt = _doubt(scenario, Technology(scenario.screen.technology))
    return [*words, *([doubt] if doubt else [])]


def main() -> None:
    first, amount = int(sys.argv[1]), int(sys.argv[2])
    kept = "work" not in sys.argv[3:]
    sound = int(sys.argv[4]) if len(sys.argv) > 4 else amount
    tried: Counter[str] = Counter()
    right: Counter[str] = Counter()
    with ProcessPoolExecutor() as pool:
        for told in pool.map(named, chosen(first, amount, kept=kept)):
            tried.update(told.keys())
            right.update(name for name, yes in told.items() if yes)
        false = [words for words in pool.map(alarms, chosen(first, sound, kept=kept)) if words]
    for name, count in tried.items():
        print(f"{name:36s} {right[name]:4d} of {count}, {100 * right[name] / count:5.1f} %")
    print(f"false alarms: {len(false)} of {sound} sound screens")
    for what, count in Counter(words[:70] for each in false for words in each).most_common(10):
        print(f"{count:5d}  {what}")


if __name__ == "__main__":
    main()
