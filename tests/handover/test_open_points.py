"""What is told of a job that is not done, or whose verdict something spoils: true, and all of it."""

import json
from collections.abc import Callable
from dataclasses import replace
from datetime import timedelta
from pathlib import Path

import numpy as np
import pytest
from benchmarks.trust import with_part
from pypdf import PdfReader

from aequitone.advice.checklist import WARM_UP as WARM_LINE
from aequitone.advice.moves import Move
from aequitone.advice.roles import FEATURES, Role
from aequitone.desktop.stations.hand_over.panel import paragraphs
from aequitone.handover.open_points import open_points, proof_heading
from aequitone.handover.report import make_report
from aequitone.handover.summary import summary
from aequitone.logbook import Logbook, VisitRecord
from aequitone.logbook.records import Connection, PassState
from aequitone.logbook.settings.ledger import FOUND_REASON
from aequitone.logbook.standin_visit import begin_standin_visit
from aequitone.passes import AS_FOUND, LEVELS, PROOF, TONE, WHITE, Snapshot, begin, carry_out, load_snapshot
from aequitone.procedures.runner import NobodyThere
from aequitone.standins.bench import StandInBench
from aequitone.standins.scenario import load_scenario


@pytest.fixture
def ports(bench: Callable[[int], StandInBench]) -> StandInBench:
    return bench(4)


def measured(logbook: Logbook, visit: VisitRecord, ports: StandInBench, *kinds: object) -> Snapshot:
    for kind in kinds:
        carry_out(logbook, begin(logbook, visit.id, kind), ports.bench(), NobodyThere())  # type: ignore[arg-type]
    return load_snapshot(logbook, visit.id)


def note(logbook: Logbook, visit: VisitRecord, role: Role, value: int, reason: str = "by eye") -> None:
    control = next(control for control in logbook.controls(visit.screen_id) if control.role == role)
    logbook.ledger.note(visit.id, {control.id: value}, reason)


def told(snapshot: Snapshot) -> str:
    return " ".join(open_points(snapshot))


def test_what_was_not_done_is_named_until_it_is(logbook: Logbook, visit: VisitRecord, ports: StandInBench) -> None:
    snapshot = measured(logbook, visit, ports, AS_FOUND)
    assert "Not done: Levels, White, Tone, Proof." in open_points(snapshot)
    snapshot = measured(logbook, visit, ports, LEVELS, WHITE, PROOF)
    assert "Not done: Tone." in open_points(snapshot)
    assert proof_heading(snapshot) == "How it is now"
    assert "after the proof" not in told(snapshot)
    snapshot = measured(logbook, visit, ports, TONE)
    assert not any(sentence.startswith("Not done") for sentence in open_points(snapshot))
    # Tone turned controls that the proof has not seen.
    turned = snapshot.result(TONE)
    if any(turned.ladder.controls[i].value for i in range(len(turned.ladder.controls))):
        assert "Turned after the proof, so not proven: " in told(snapshot)
        assert proof_heading(snapshot) == "What the proof measured"
    snapshot = measured(logbook, visit, ports, PROOF)
    assert "not proven" not in told(snapshot)


def test_a_light_that_was_not_reached_is_said(logbook: Logbook, visit: VisitRecord, ports: StandInBench) -> None:
    snapshot = measured(logbook, visit, ports, AS_FOUND)
    white = snapshot.result(AS_FOUND).white
    logbook.choose_light(visit.id, round(white * 1.6))
    assert "White gives" in told(load_snapshot(logbook, visit.id))
    logbook.choose_light(visit.id, round(white * 1.04))
    assert "White gives" not in told(load_snapshot(logbook, visit.id))


def test_controls_turned_before_grey_as_found_are_said(
    logbook: Logbook, visit: VisitRecord, ports: StandInBench
) -> None:
    stood = load_snapshot(logbook, visit.id).settings[Role.CONTRAST]
    note(logbook, visit, Role.CONTRAST, stood - 5)
    snapshot = measured(logbook, visit, ports, AS_FOUND)
    assert "Grey as found was measured after Contrast had been changed" in told(snapshot)
    # Put back before it was read, nothing had been changed.
    early = snapshot.history[-1].at
    back = replace(snapshot.history[-1], value=stood, at=early)
    assert "had been changed" not in told(replace(snapshot, history=(*snapshot.history, back)))


def test_what_acts_by_itself_and_was_on_is_said(logbook: Logbook, visit: VisitRecord, ports: StandInBench) -> None:
    snapshot = measured(logbook, visit, ports, AS_FOUND)
    role = next(role for role in FEATURES if role in snapshot.settings)
    name = next(control.name for control in snapshot.controls if control.role == role)
    first = snapshot.history[0].at
    on = tuple(
        replace(each, value=1, at=first) if each.role == role else replace(each, at=first)
        for each in snapshot.history
    )
    assert f"{name} was on while As found was measured" in told(replace(snapshot, history=on))
    off = tuple(replace(each, value=0) if each.role == role else each for each in on)
    assert "was on while" not in told(replace(snapshot, history=off))
    # Switched on again after the reading, it spoilt nothing.
    later = replace(on[-1], role=role, value=1, at=snapshot.passes[-1].started + timedelta(hours=1))
    assert "was on while" not in told(replace(snapshot, history=(*off, later)))


def test_a_screen_of_which_nobody_said_that_it_was_warm(
    logbook: Logbook, visit: VisitRecord, ports: StandInBench
) -> None:
    snapshot = measured(logbook, visit, ports, AS_FOUND)
    checks = {key: check for key, check in snapshot.checks.items() if key not in (WARM_LINE, "clock")}
    assert "warm was not noted" in told(replace(snapshot, checks=checks))


def test_a_proof_older_than_as_found_is_no_proof(
    logbook: Logbook, visit: VisitRecord, ports: StandInBench
) -> None:
    snapshot = measured(logbook, visit, ports, AS_FOUND, PROOF, AS_FOUND)
    assert "proves nothing of what was done since" in told(snapshot)
    assert dict(paragraphs(snapshot, open_points(snapshot))).keys() >= {"What the proof measured", "What is open"}
    assert "How it is now" not in dict(paragraphs(snapshot, open_points(snapshot)))


def test_page_report_and_summary_say_the_same(
    logbook: Logbook, visit: VisitRecord, ports: StandInBench, tmp_path: Path
) -> None:
    snapshot = measured(logbook, visit, ports, AS_FOUND, WHITE, PROOF)
    said = open_points(snapshot)
    assert said
    assert dict(paragraphs(snapshot, open_points(snapshot)))["What is open"] == "\n".join(said)
    files = make_report(logbook, visit.id, tmp_path / "out")
    text = " ".join(PdfReader(files.pdf).pages[0].extract_text().split())
    assert all(" ".join(sentence.split()) in text for sentence in said)
    figures = json.loads(json.dumps(summary(logbook, visit, 4)))
    assert figures["open"] == list(said)


@pytest.mark.parametrize("seed", range(40))
def test_sentences_agree_with_a_count_made_apart_from_them(
    logbook: Logbook, visit: VisitRecord, seed: int
) -> None:
    """Random histories of turning and measuring, told once in words and once by walking through the record."""
    rng = np.random.default_rng(seed)
    snapshot = load_snapshot(logbook, visit.id)
    roles = [role for role in snapshot.settings if role not in FEATURES][:4]
    start = snapshot.history[-1].at
    history, record, stands = list(snapshot.history), [], dict(snapshot.settings)
    found_at = proof_at = None
    at_found: dict[Role, int] = {}
    at_proof: dict[Role, int] = {}
    for minute in range(1, 12):
        moment = start + timedelta(minutes=minute)
        match int(rng.integers(0, 4)):
            case 0 if found_at is None:
                found_at, at_found = moment, dict(stands)
            case 1 if found_at is not None:
                proof_at, at_proof = moment, dict(stands)
            case _:
                role = roles[int(rng.integers(len(roles)))]
                stands[role] = int(rng.integers(0, 3)) + snapshot.settings[role]
                history.append(replace(history[-1], role=role, value=stands[role], reason="by eye", at=moment))
    done = [(AS_FOUND, found_at), (PROOF, proof_at)]
    template = _record(logbook, visit)
    for number, (kind, moment) in enumerate(done, 1):
        if moment is not None:
            record.append(replace(template, id=number, kind=kind.key, started=moment))
    made = replace(snapshot, history=tuple(history), settings=stands, passes=tuple(record))
    words = told(made)
    before = found_at is not None and any(at_found[r] != snapshot.found_settings[r] for r in roles)
    since = proof_at is not None and any(at_proof[r] != stands[r] for r in roles)
    assert ("had been changed" in words) is before
    assert ("Turned after the proof" in words) is since
    assert ("Proof" in words.partition("Not done: ")[2].partition(".")[0]) is (proof_at is None)
    assert proof_heading(made) == ("What the proof measured" if since else "How it is now")
    assert history[0].reason == FOUND_REASON


def _record(logbook: Logbook, visit: VisitRecord):  # type: ignore[no-untyped-def]
    """A pass that is done, as a template."""
    prepared = begin(logbook, visit.id, AS_FOUND)
    logbook.end_pass(prepared.pass_id, PassState.DONE, "")
    return logbook.passes(visit.id)[-1]


class Hand(NobodyThere):
    """Turns what is asked for, to the figure."""

    def __init__(self, bench: StandInBench) -> None:
        self.bench = bench

    def turn(self, move: Move) -> None:
        self.bench.screen.turn({change.role.key: change.to_value for change in move.changes})


def test_a_figure_that_was_noted_wrong_is_told_before_anybody_puts_it_back(
    logbook: Logbook, visit: VisitRecord, ports: StandInBench
) -> None:
    control = next(each for each in logbook.controls(visit.screen_id) if each.role == Role.GAIN_R)
    stood = ports.screen.settings()[Role.GAIN_R.key]
    note(logbook, visit, Role.GAIN_R, stood + 20, FOUND_REASON)
    by_hand = replace(visit.bench, link=Connection.BY_HAND)
    logbook.change_visit(visit.id, target=visit.target, levels=visit.levels, bench=by_hand, controls=())
    measured(logbook, visit, ports, AS_FOUND)
    carry_out(logbook, begin(logbook, visit.id, WHITE), ports.bench(by_link=False), Hand(ports))
    snapshot = load_snapshot(logbook, visit.id)
    assert snapshot.found_settings[Role.GAIN_R] == stood + 20
    assert f"{control.name} seems to have been noted wrong as found: putting it back may go elsewhere." in told(
        snapshot
    )
    # What was noted right is not doubted.
    assert told(snapshot).count("noted wrong") == 1


def test_a_screen_without_controls_is_told_without_them(
    logbook: Logbook, ports: StandInBench, tmp_path: Path
) -> None:
    bare = with_part(load_scenario("demo"), "screen", control=(), feature=(), mode=())
    visit = begin_standin_visit(logbook, bare, "demo", 4)
    snapshot = measured(logbook, visit, ports, AS_FOUND)
    assert "Settings, as found → as left" not in dict(paragraphs(snapshot, ()))
    pages = PdfReader(make_report(logbook, visit.id, tmp_path / "out").pdf).pages
    text = " ".join(" ".join(page.extract_text().split()) for page in pages)
    assert "No control was turned." in text
    assert "How to put it back" not in text
