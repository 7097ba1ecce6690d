"""What a pass came to: kept as it was given on the day, worked out again, or told by its record alone."""

import gzip
import json
import sqlite3
from collections.abc import Callable
from dataclasses import dataclass, fields, is_dataclass, replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from aequitone.advice.two_point.mover import Mover, Stop
from aequitone.logbook import Logbook, VisitRecord, open_logbook
from aequitone.passes import (
    AS_FOUND,
    COPIED,
    GAMUT,
    LEVELS,
    PASSES,
    PEAK,
    PROOF,
    PUT_BACK,
    TONE,
    TRIED,
    VERIFY,
    WHAT_IF,
    WHITE,
    KeptError,
    Outcome,
    PassType,
    Snapshot,
    begin,
    begin_verify,
    carry_out,
    from_json,
    load_as_given,
    load_snapshot,
    pass_type,
    to_json,
)
from aequitone.procedures.grey.grey_pass import GreyPlan
from aequitone.procedures.runner import NobodyThere
from aequitone.procedures.white.plan import WhitePlan
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import load_scenario

FIXTURES = Path(__file__).with_name("fixtures")
LAYOUTS = ("0001", "0002", "0003", "0004", "0005", "0006", "0007", "0008", "0009")


def older(layout: str, folder: Path) -> Path:
    """A logbook as the version of that layout wrote it, a whole visit to unit 3 of the demo in it."""
    path = folder / "logbook.sqlite"
    path.write_bytes(gzip.decompress((FIXTURES / f"layout-{layout}.sqlite.gz").read_bytes()))
    return path


def same(one: Any, other: Any) -> bool:
    """Whether two results are the same, arrays and all, to what JSON keeps of a float: everything."""
    if type(one) is not type(other):
        return False
    if isinstance(one, np.ndarray):
        return bool(np.array_equal(one, other, equal_nan=True))
    if is_dataclass(one):
        return all(same(getattr(one, each.name), getattr(other, each.name)) for each in fields(one))
    if isinstance(one, tuple):
        return len(one) == len(other) and all(map(same, one, other))
    return bool(one == other)


@pytest.mark.parametrize("layout", LAYOUTS)
def test_a_visit_of_every_layout_keeps_all_its_results(layout: str, tmp_path: Path) -> None:
    path = older(layout, tmp_path)
    done = set(sqlite3.connect(path).execute("SELECT kind, outcome FROM pass WHERE state = 'done'"))
    assert {kind for kind, _ in done} >= {"as found", "white", "proof"}
    logbook = open_logbook(path)
    for job in logbook.jobs.of(1):
        snapshot = load_snapshot(logbook, 1, job_id=job.id)
        check_job(snapshot, done)
        given = load_as_given(logbook, 1, job.id)
        assert [given.words(kind) for kind in PASSES] == [snapshot.words(kind) for kind in PASSES]
        assert all(same(given.result(kind), snapshot.result(kind)) for kind in PASSES)
    assert not done, "passes that no job has"
    logbook.close()


def check_job(snapshot: Snapshot, done: set[tuple[str, str]]) -> None:
    """Every pass of a job has kept its result; takes what it finds out of `done`."""
    for record in snapshot.passes:
        kind = pass_type(record.kind)
        result = snapshot.result(kind)
        assert isinstance(result, kind.result), f"{record.kind} has lost its result"
        if record.outcome:
            assert snapshot.words(kind) == record.outcome
        done.discard((record.kind, record.outcome))
    white, proof = snapshot.result(WHITE), snapshot.result(PROOF)
    assert white is not None
    assert proof is not None
    # Its last readings are of the screen as White left it, which is what the proof read too.
    bright = list(proof.percents).index(80.0)
    assert white.state.xyz[1] == pytest.approx(proof.xyz[bright], rel=0.04)
    assert white.state.trips
    if snapshot.result(TONE) is None:
        # Nothing has turned them since.
        left = {control.role: control.value for control in white.state.controls}
        assert left == {role: snapshot.settings[role] for role in left}


@pytest.mark.parametrize("layout", LAYOUTS)
def test_plans_of_every_layout_are_read_and_written_as_they_were(layout: str, tmp_path: Path) -> None:
    rows = sqlite3.connect(older(layout, tmp_path)).execute("SELECT kind, plan FROM pass").fetchall()
    assert rows
    for key, kept in rows:
        kind, plan = pass_type(key), json.loads(kept)
        again = to_json(from_json(kind.plan, plan))
        # Fields that came later take their usual value; whatever was there comes back as it was.
        assert {name: json.loads(json.dumps(again[name])) for name in plan if name != "format"} == {
            name: value for name, value in plan.items() if name != "format"
        }
        assert "format" not in plan or plan["format"].items() <= json.loads(json.dumps(again["format"])).items()


@pytest.fixture
def measured(logbook: Logbook, visit: VisitRecord, bench: Callable[[int], StandInBench]) -> Callable[..., Any]:
    stand_in = bench(4)
    return lambda kind: carry_out(logbook, begin(logbook, visit.id, kind), stand_in.bench(), NobodyThere())


def test_every_result_comes_back_from_the_file_as_it_was_given(tmp_path: Path) -> None:
    from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found

    scenario = load_scenario("demo")
    logbook, stand_in = open_logbook(tmp_path / "whole.sqlite"), build_bench(scenario, 5)
    visit = begin_standin_visit(logbook, scenario, "demo", 5)
    note_as_found(logbook, visit, stand_in.link.values())
    given = {
        kind.key: carry_out(logbook, begin(logbook, visit.id, kind), stand_in.bench(), NobodyThere())
        for kind in PASSES
        # The demo has no gamut preset, and sends SDR.
        if kind not in (PUT_BACK, COPIED, GAMUT, PEAK, VERIFY, TRIED, WHAT_IF)
    }
    looked = carry_out(logbook, begin_verify(logbook, visit.id, "HDMI 1"), stand_in.bench(), NobodyThere())
    given[VERIFY.key] = looked
    logbook.close()
    again = open_logbook(tmp_path / "whole.sqlite")
    # Without working anything out again: what was given is there at once.
    snapshot = load_snapshot(again, visit.id, advice=False)
    for key, result in given.items():
        assert same(snapshot.outcomes[key].given, result), key
    assert snapshot.outcomes[WHITE.key].recomputed is None
    assert load_as_given(again, visit.id, visit.job_id).outcomes[WHITE.key].recomputed is None
    whole = load_snapshot(again, visit.id)
    assert same(whole.outcomes[WHITE.key].recomputed, given[WHITE.key])
    assert [whole.revised_words(kind) for kind in PASSES] == [""] * len(PASSES)
    again.close()


def test_a_pass_of_just_now_is_not_worked_out_again_and_its_record_tells_the_same(
    logbook: Logbook, visit: VisitRecord, measured: Callable[..., Any], monkeypatch: pytest.MonkeyPatch
) -> None:
    measured(AS_FOUND)
    measured(WHITE)
    with monkeypatch.context() as never:
        never.setattr("aequitone.passes.snapshot.replay", lambda *_: pytest.fail("worked out again"))
        now = load_snapshot(logbook, visit.id)
    then = load_snapshot(open_logbook(logbook.path), visit.id)
    for kind in (AS_FOUND, WHITE):
        assert same(now.outcomes[kind.key].recomputed, then.outcomes[kind.key].recomputed)
        assert now.result(kind) is not None


def test_a_result_stands_though_the_program_no_longer_decides_alike(
    logbook: Logbook, visit: VisitRecord, measured: Callable[..., Any], monkeypatch: pytest.MonkeyPatch
) -> None:
    measured(AS_FOUND)
    given = measured(WHITE)
    monkeypatch.setattr(Mover, "propose", lambda *_: Stop.LONG_ENOUGH)
    fresh = open_logbook(logbook.path)
    snapshot = load_snapshot(fresh, visit.id)
    assert snapshot.outcomes[WHITE.key].recomputed is None
    assert same(snapshot.result(WHITE), given)


def test_what_this_version_would_say_of_the_same_readings_is_told_beside(
    logbook: Logbook, visit: VisitRecord, measured: Callable[..., Any], monkeypatch: pytest.MonkeyPatch
) -> None:
    measured(AS_FOUND)
    given = measured(WHITE)
    monkeypatch.setattr("aequitone.procedures.white.white_balance.stop_words", lambda *_: "Said otherwise today.")
    snapshot = load_snapshot(open_logbook(logbook.path), visit.id)
    result = snapshot.result(WHITE)
    assert result is not None
    assert result.words == given.words
    assert snapshot.revised_words(WHITE) == "Said otherwise today."
    assert snapshot.revised_words(AS_FOUND) == ""


def test_a_pass_that_is_under_way_hides_no_result(
    logbook: Logbook, visit: VisitRecord, measured: Callable[..., Any]
) -> None:
    found = measured(AS_FOUND)
    begin(logbook, visit.id, AS_FOUND)
    snapshot = load_snapshot(logbook, visit.id)
    assert snapshot.interrupted is not None
    assert same(snapshot.result(AS_FOUND), found)
    assert snapshot.result(LEVELS) is None
    assert snapshot.progress(LEVELS) is None


@dataclass(frozen=True)
class Odd:
    """A result with everything that JSON has no word for."""

    light: np.ndarray
    seen: np.ndarray
    inner: "Odd | None" = None
    note: str = ""


def test_arrays_survive_whatever_is_in_them() -> None:
    value = Odd(np.array([[1.0, np.nan], [2.5, 0.1 + 0.2]]), np.array([True, False]), Odd(np.zeros(3), np.ones(2)))
    text = json.dumps(to_json(value), allow_nan=False)
    assert same(from_json(Odd, json.loads(text)), value)


@pytest.mark.parametrize(
    ("kind", "spoilt"),
    [
        (WHITE, {"target": "no such target"}),
        (WHITE, {"controls": [{"role": "no such role"}]}),
        (AS_FOUND, {"levels": "many"}),
        (TONE, {}),
    ],
)
def test_a_record_that_no_version_wrote_is_refused_with_a_sentence(
    kind: PassType[Any, Any], spoilt: dict[str, Any], tmp_path: Path
) -> None:
    rows = dict(sqlite3.connect(older("0005", tmp_path)).execute("SELECT kind, plan FROM pass").fetchall())
    plan = json.loads(rows[kind.key]) | spoilt
    if not spoilt:
        plan = {}
    with pytest.raises(KeptError, match=kind.plan.__name__):
        from_json(kind.plan, plan)


def test_kinds_are_told_apart_by_their_keys_which_never_change() -> None:
    keys = [kind.key for kind in PASSES]
    assert len(set(keys)) == len(keys)
    assert {"as found", "white", "tone", "levels", "proof", "warm-up", "room", "choice", "mode"} <= set(keys)
    with pytest.raises(KeyError, match="this version has no pass “tables”"):
        pass_type("tables")


def test_plans_differ_by_what_they_plan() -> None:
    assert {kind.plan for kind in (AS_FOUND, PROOF)} == {GreyPlan}
    assert WHITE.plan is WhitePlan
    assert replace(Outcome(), notes=("said",)).given is None


def test_a_pass_that_this_version_would_have_stopped_does_not_keep_the_visit_from_being_opened(
    logbook: Logbook, visit: VisitRecord, bench: Callable[[int], StandInBench]
) -> None:
    carry_out(logbook, begin(logbook, visit.id, AS_FOUND), bench(4).bench(), NobodyThere())
    with sqlite3.connect(logbook.path) as rows:
        # As an older version kept it, and read what this one's first look takes for another signal.
        rows.execute("UPDATE pass SET result = NULL")
        rows.execute("UPDATE reading SET X = 40, Y = 40, Z = 40 WHERE purpose = 'first look' AND percent > 0")
    logbook.understood.clear()
    snapshot = load_snapshot(logbook, visit.id)
    assert snapshot.done(AS_FOUND)
    assert snapshot.visit.id == visit.id
