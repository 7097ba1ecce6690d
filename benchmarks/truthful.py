"""Every sentence of hand-over and client's page against the record, on visits that went as visits go.

    PYTHONPATH=. .venv/bin/python benchmarks/truthful.py [FIRST] [COUNT]

Visits to shipped stand-ins in which stations are left out, done in another order, stopped half way or done twice,
controls turned in between, features left on, debts answered or not, the light wanted anew, the warm-up noted or
not. What is said is then read as a stranger would who has the logbook's tables alone: each sentence must be of a
kind that is known here and true, and what the tables show must have been said. Nothing of the program's words or
sums is used for that.
"""

import re
import sys
import tempfile
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from contextlib import suppress
from pathlib import Path
from typing import Any

import numpy as np
from benchmarks.visit_tables import Tables, tables_of

from aequitone.advice.checklist import WARM_UP as WARM_LINE
from aequitone.advice.roles import FEATURES
from aequitone.advice.technology import usual_light
from aequitone.handover.client_words import first_days, three_sentences
from aequitone.handover.open_points import open_points
from aequitone.handover.words import done_words, owed_words
from aequitone.instruments import InstrumentError
from aequitone.logbook import Logbook, VisitRecord, open_logbook
from aequitone.logbook.settings.ledger import CheckState, DebtAnswer
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.passes import (
    AS_FOUND,
    LEVELS,
    PROOF,
    TONE,
    WATCHED,
    WHITE,
    NotReadyError,
    begin,
    carry_out,
    load_snapshot,
)
from aequitone.procedures.runner import AbandonedError, Event, NobodyThere, Runner, StepDone
from aequitone.reference import target_named
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import load_scenario

SCREENS = ("demo", "wide-lcd", "white-oled", "lamp-projector", "desk-monitor", "studio-tube")
_TITLES = {"levels": "Levels", "white": "White", "tone": "Tone", "proof": "Proof", "as found": "As found"}
_LEVELS = ("light-output", "black-level", "contrast", "colour", "tint")
_NO_HARM = ("motion", "noise-reduction", "edge-enhancement", "super-resolution")


def visit_of(seed: int, logbook: Logbook) -> tuple[VisitRecord, StandInBench]:
    """Make one visit at random."""
    rng = np.random.default_rng([seed, 500])
    name = SCREENS[seed % len(SCREENS)]
    scenario = load_scenario(name)
    bench, visit = build_bench(scenario, seed), begin_standin_visit(logbook, scenario, name, seed)
    if rng.random() < 0.5:
        bench.screen.quieten()
    note_as_found(logbook, visit, bench.link.values())
    for control in logbook.controls(visit.screen_id):
        on = bench.screen.settings().get(control.role.key, 0)
        if control.role.key.startswith("feature-") and on > 0 and rng.random() < 0.6:
            logbook.ledger.switch_off(visit.id, control.id, on, 0)
            bench.screen.turn({control.role.key: 0})
    if rng.random() < 0.5:
        logbook.ledger.check(visit.id, WARM_LINE, CheckState.DONE)
    kinds = [AS_FOUND, LEVELS, WHITE, TONE, PROOF]
    if rng.random() < 0.2:
        kinds.insert(0, WATCHED)
    if rng.random() < 0.2:
        kinds = [kinds[i] for i in rng.permutation(len(kinds))]
    if rng.random() < 0.3:
        kinds.append(kinds[int(rng.integers(len(kinds)))])
    for kind in kinds:
        if rng.random() < 0.25:
            _turn(logbook, visit, bench, rng)
        if rng.random() < 0.3:
            continue
        # An instrument that gives up stops a pass as a person does.
        with suppress(NotReadyError, AbandonedError, InstrumentError):
            _measure(
                logbook, visit, bench, kind, stop_after=int(rng.integers(3, 12)) if rng.random() < 0.15 else 0
            )
    if rng.random() < 0.3:
        _turn(logbook, visit, bench, rng)
    if rng.random() < 0.2:
        logbook.choose_light(visit.id, float(rng.integers(60, 200)))
    for debt in logbook.ledger.debts(visit.id):
        if rng.random() < 0.5:
            logbook.ledger.answer(debt.id, list(DebtAnswer)[int(rng.integers(len(DebtAnswer)))])
    return visit, bench


def _turn(logbook: Logbook, visit: VisitRecord, bench: StandInBench, rng: np.random.Generator) -> None:
    """Turn a control by hand, and note it."""
    there = bench.screen.settings()
    controls = [c for c in logbook.controls(visit.screen_id) if c.role.key in there and c.role not in FEATURES]
    control = controls[int(rng.integers(len(controls)))]
    now = there[control.role.key]
    to = int(np.clip(now + int(rng.integers(-4, 5)) * control.step, control.lowest, control.highest))
    bench.screen.turn({control.role.key: to})
    logbook.ledger.note(visit.id, {control.id: to}, "by eye")


def _measure(logbook: Logbook, visit: VisitRecord, bench: StandInBench, kind: Any, *, stop_after: int) -> None:
    runner: list[Runner] = []
    heard = 0

    def hear(event: Event) -> None:
        nonlocal heard
        heard += isinstance(event, StepDone)
        if stop_after and heard == stop_after:
            runner[0].abandon()

    care = logbook.visit(visit.id).bench.care
    carry_out(logbook, begin(logbook, visit.id, kind), bench.bench(), NobodyThere(), hear, runner.append, care)


def named(words: str, roles: list[str], names: dict[str, str]) -> bool:
    """Whether a list in words is of these controls: all of them, or some with a count of the rest."""
    said = re.split(r", | and ", words)
    others = re.search(r"(\d+) (?:others|more)", words)
    told = [each for each in said if not re.search(r"\d+ (others|more)", each)]
    known = {names.get(role, role) for role in roles}
    rest = len(roles) - len(told)
    return set(told) <= known and (int(others[1]) == rest if others else rest <= 0)


def apart(then: dict[str, int], now: dict[str, int]) -> list[str]:
    return [r for r, v in then.items() if now.get(r, v) != v and not r.startswith("feature-")]


def expected_open(t: Tables) -> dict[str, Any]:
    """By kind of sentence, what the tables show that is to be said; a kind that is not there is not to be said."""
    now, told = t.at(), dict[str, Any]()
    pointed = any(role.startswith("multi-") for role in now)
    has = {"levels": any(r in now for r in _LEVELS), "white": True, "tone": pointed, "proof": True}
    want = [kind for kind, there in has.items() if there]
    if lacking := [_TITLES[k] for k in want if t.last(k) is None]:
        told["Not done"] = lacking
    found, proof, watched = t.last("as found"), t.last("proof"), t.last("as watched")
    newest = proof or found
    if newest and "light-output" in now:
        lights = t.light(newest[0])
        told["White gives"] = lights
    if found and proof and proof[0] < found[0]:
        told["The proof was measured before"] = True
    if proof and (since := apart(t.at(proof[1]), now)):
        told["Turned after the proof"] = since
    if found and not watched and (early := apart(t.found, t.at(found[1], before=True))):
        told["Grey as found was measured after"] = early
    for kind, record in (("As found", found), ("Proof", proof)):
        if record:
            stood = t.at(record[1])
            acting = [r for r, v in stood.items() if r.startswith("feature-") and v > 0]
            on = [role for role in acting if role.removeprefix("feature-") not in _NO_HARM]
            if on:
                told[f"on while {kind}"] = on
    ended = [(number, kind) for number, kind, state, _ in t.passes if state == "done"]
    begun = [(number, kind) for number, kind, state, _ in t.passes if state == "running"]
    open_ = [kind for number, kind in begun if not any(n > number and k == kind for n, k in ended)]
    if open_:
        told["Begun and not ended"] = open_
    if found and not t.warm:
        told["Whether the screen was warm"] = True
    return told


def check_open(said: tuple[str, ...], t: Tables, target_light: float) -> list[str]:
    """What is wrong with the open points."""
    expected, wrong, seen = expected_open(t), [], set[str]()
    wanted = target_light or t.wanted
    for sentence in said:
        if m := re.fullmatch(r"Not done: (.*)\.", sentence):
            kind, right = "Not done", m[1].split(", ") == expected.get("Not done")
        elif m := re.fullmatch(r"White gives ([\d.\u00a0 ]+) cd/m²; ([\d.]+) cd/m² were wanted\.", sentence):
            kind, light = "White gives", float(re.sub(r"[\u00a0 ]", "", m[1]))
            lights = expected.get(kind, [])
            right = any(abs(light - each) < max(0.6, 0.02 * each) for each in lights)
            right &= abs(float(m[2]) - wanted) < 0.6 and abs(light / wanted - 1.0) > 0.095
        elif sentence.startswith("The proof was measured before grey as found"):
            kind = "The proof was measured before"
            right = kind in expected
        elif m := re.fullmatch(r"Turned after the proof, so not proven: (.*)\.", sentence):
            kind = "Turned after the proof"
            right = named(m[1], expected.get(kind, []), t.names)
        elif m := re.fullmatch(r"Grey as found was measured after (.*) had been changed: .*", sentence):
            kind = "Grey as found was measured after"
            right = named(m[1], expected.get(kind, []), t.names)
        elif m := re.fullmatch(r"(.*) (?:was|were) on while (As found|Proof) was measured: .*", sentence):
            kind = f"on while {m[2]}"
            right = named(m[1], expected.get(kind, []), t.names)
        elif m := re.fullmatch(r"Begun and not ended: (.*)\.", sentence):
            kind = "Begun and not ended"
            right = len(m[1].split(", ")) == len(expected.get(kind, []))
        elif sentence == "Whether the screen was warm was not noted.":
            kind = "Whether the screen was warm"
            right = kind in expected
        else:
            wrong.append(f"no rule for: {sentence}")
            continue
        seen.add(kind)
        if not right:
            wrong.append(f"not so: {sentence} (the tables: {expected.get(kind)})")
    for kind in expected.keys() - seen:
        lights = expected[kind] if kind == "White gives" else []
        if kind == "White gives" and (not lights or abs(lights[-1] / wanted - 1.0) < 0.12):
            continue
        wrong.append(f"not said: {kind} {expected[kind]}")
    return wrong


def check_done(words: str, t: Tables) -> list[str]:
    """What is wrong with the settings that are said to have been turned."""
    now, found, wrong = t.at(), t.found, []
    changed = {r: (v, now[r]) for r, v in found.items() if now[r] != v}
    plain = {t.names[r]: each for r, each in changed.items() if not r.startswith(("multi-", "cms-"))}
    if "Nothing was turned." in words or "every control stands where it was found" in words:
        return [f"not so: {words}"] if changed else []
    turned = words.rpartition("Turned: ")[2].rstrip(".")
    if not changed:
        return [f"not so: {words}"]
    for name, (was, is_) in plain.items():
        m = re.search(rf"(?:^|, ){re.escape(name)} from (.+?) to ([^,]+)(?:,|$)", turned)
        if m is None:
            wrong.append(f"not said: {name} {was} -> {is_} in “{words}”")
        elif m[1].lstrip("-").isdigit() and (int(m[1]), int(m[2])) != (was, is_):
            wrong.append(f"not so: {name} {m[1]} to {m[2]}, in the tables {was} to {is_}")
    if ("multi-point at" in turned) is not any(r.startswith("multi-") for r in changed):
        wrong.append(f"multi-point: {words}")
    return wrong


def check_client(said: tuple[str, ...], days: str, t: Tables) -> list[str]:
    """What is wrong with the three sentences for the client, and with the first days."""
    wrong, now, found = [], t.at(), t.found
    watched, first, proof = t.last("as watched"), t.last("as found"), t.last("proof")
    before = watched or first
    count = sum(now[r] != v for r, v in found.items())
    for sentence in said:
        if m := re.fullmatch(
            r"As it (had been watched|was found), grey .*, and white gave ([\d.]+) cd/m²\.", sentence
        ):
            right = before is not None and (m[1] == "had been watched") is (watched is not None)
            right &= (
                any(abs(float(m[2]) - each) < max(0.6, 0.02 * each) for each in t.light(before[0]))
                if before
                else False
            )
        elif m := re.fullmatch(r"Now grey .*, and white gives ([\d.]+) cd/m²\.", sentence):
            lights = t.light(proof[0]) if proof else []
            right = any(abs(float(m[1]) - each) < max(0.6, 0.02 * each) for each in lights)
        elif sentence == "It was not measured again at the end, so nothing is said of the result.":
            right = proof is None
        elif m := re.fullmatch(r"(\d+|One) settings? (?:were|was) set by measuring.*", sentence):
            right = count == (1 if m[1] == "One" else int(m[1]))
        elif sentence == "Nothing was turned.":
            right = count == 0
        else:
            wrong.append(f"no rule for: {sentence}")
            continue
        if not right:
            wrong.append(f"not so: {sentence} (changed {count})")
    if m := re.search(r"White gives (\d+) % (less|more) light than before", days):
        if before and proof:
            share = np.mean(t.light(proof[0])) / np.mean(t.light(before[0])) - 1.0
            if abs(abs(share) * 100.0 - int(m[1])) > 2.5 or bool(share < 0.0) is not (m[2] == "less"):
                wrong.append(f"not so: {days} ({share * 100:+.1f} %)")
        else:
            wrong.append(f"not so: {days}")
    return wrong


def check_owed(words: str, t: Tables) -> list[str]:
    """What is wrong with what is said of features that were switched off."""
    if not t.debts:
        return [f"not so: {words}"] if words else []
    wrong = [f"not said: {name}" for name, _ in t.debts if f"{name} (" not in words]
    return wrong + [
        f"not so: {words} ({name}: {answer})"
        for name, answer in t.debts
        if (f"{name} (not answered)" in words) is not (answer == "")
    ]


_KINDS = {
    r".* (was|were) on while": "… was on while … was measured",
    r"Now grey": "Now grey …",
    r"As it": "As it was found …",
    r"\d+ settings|One setting": "… settings were set by measuring",
    r"White gives .*wanted": "White gives …; … were wanted",
    r"White gives": "White gives … % less, or more, than before",
    r"Not done": "Not done: …",
    r"Begun": "Begun and not ended: …",
    r"Turned after": "Turned after the proof …",
    r"The proof was": "The proof was measured before …",
    r"Grey as found was": "Grey as found was measured after …",
    r"Levels were|Grey was|After|Turned|Nothing": "Turned: …",
    r"The picture may": "The picture may look yellowish …",
    r"Switched off": "Switched off for measuring: …",
}


def kind_of(sentence: str) -> str:
    """A sentence without its figures and names, for a count."""
    for often, of in _KINDS.items():
        if re.match(often, sentence):
            return of
    return sentence


def one(seed: int) -> tuple[int, list[str], list[str]]:
    """A visit's seed, the kinds of the sentences that were checked, and what is wrong."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "logbook.sqlite"
        logbook = open_logbook(path)
        visit, _ = visit_of(seed, logbook)
        snapshot = load_snapshot(logbook, visit.id)
        said, three = open_points(snapshot), three_sentences(snapshot)
        days, done, owed = first_days(snapshot), done_words(snapshot), owed_words(snapshot)
        logbook.close()
        t = tables_of(path, visit, usual_light(visit.technology))
        wrong = check_open(said, t, target_named(visit.target).light)
        wrong += check_done(done, t) + check_client(three, days, t) + check_owed(owed, t)
        every = (*said, *three, done, *(words for words in (days, owed) if words))
        return seed, [kind_of(sentence) for sentence in every], wrong


def main() -> None:
    first, count = (int(word) for word in (sys.argv[1:] + ["0", "500"][len(sys.argv) - 1 :])[:2])
    faulty, told, kinds = 0, Counter[str](), Counter[str]()
    with ProcessPoolExecutor() as pool:
        for seed, sentences, wrong in pool.map(one, range(first, first + count)):
            told.update(sentences)
            faulty += bool(wrong)
            for words in wrong:
                kinds[words.split(":")[0]] += 1
                print(f"  visit {seed}: {words}", flush=True)
    for kind, often in told.most_common():
        print(f"  {often:5d}  {kind} …")
    print(
        f"{count} visits, {told.total()} sentences; visits with a sentence that is not so: {faulty} {dict(kinds)}"
    )


if __name__ == "__main__":
    main()
