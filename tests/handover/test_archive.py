"""A visit as one file: out of one logbook, into another, and back the same; what is wrong with it is said."""

import io
import json
import random
import sqlite3
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from benchmarks.archive import archived, damaged, outcome
from tests.contents import contents

from aequitone.handover.errors import ImportFailedError
from aequitone.handover.files.archive import ConflictError, import_archive, read_archive, write_archive
from aequitone.handover.files.visit_file import visit_schema, visit_text
from aequitone.logbook import Logbook, VisitRecord, open_logbook
from aequitone.logbook.carrying import VisitThereError
from aequitone.passes import AS_FOUND, PROOF, WHITE, load_snapshot

DOCS = Path(__file__).parents[2] / "docs"


@pytest.fixture
def archive(logbook: Logbook, whole_visit: VisitRecord, tmp_path: Path) -> Path:
    logbook.letterheads.keep_notes(whole_visit.id, "Ring twice.")
    path = tmp_path / "visit.zip"
    write_archive(logbook, whole_visit.id, path)
    return path


@pytest.fixture(scope="module")
def taken_out(tmp_path_factory: pytest.TempPathFactory) -> bytes:
    """The archive of a visit with grey as found, for tests that only change it."""
    return archived(tmp_path_factory.mktemp("source"))


@pytest.fixture
def other(tmp_path: Path) -> Logbook:
    return open_logbook(tmp_path / "other" / "logbook.sqlite")


def test_there_and_back_it_is_the_same(
    logbook: Logbook,
    whole_visit: VisitRecord,
    archive: Path,
    other: Logbook,
    tmp_path: Path,
) -> None:
    taken = import_archive(other, archive)
    assert taken.readings == sum(record.readings for record in logbook.passes(whole_visit.id))
    here, there = load_snapshot(logbook, whole_visit.id), load_snapshot(other, taken.visit_id)
    for kind in (AS_FOUND, WHITE, PROOF):
        assert there.words(kind) == here.words(kind)
    assert there.result(PROOF).mean == here.result(PROOF).mean
    assert there.settings == here.settings
    assert there.visit.notes == "Ring twice."
    back = tmp_path / "back.zip"
    write_archive(other, taken.visit_id, back)
    with zipfile.ZipFile(archive) as first, zipfile.ZipFile(back) as second:
        assert first.namelist() == second.namelist()
        # The report, too, but for what a PDF says of the moment it was made.
        same = [name for name in first.namelist() if name != "report.pdf"]
        assert {name: first.read(name) for name in same} == {name: second.read(name) for name in same}
        assert {"visit.json", "report.pdf", "readings.csv", "before.png", "after.png"} <= set(first.namelist())


def test_a_visit_is_not_entered_twice(archive: Path, other: Logbook, logbook: Logbook) -> None:
    import_archive(other, archive)
    before = contents(other.path)
    for book in (other, logbook):
        with pytest.raises(VisitThereError, match="already, as visit 1; nothing was changed"):
            import_archive(book, archive)
    assert contents(other.path) == before


def test_names_that_are_known_are_not_made_twice(archive: Path, logbook: Logbook, other: Logbook) -> None:
    from aequitone.logbook.standin_visit import begin_standin_visit
    from aequitone.standins.scenario import load_scenario

    begin_standin_visit(other, load_scenario("demo"), "demo", 4)
    taken = import_archive(other, archive)
    assert taken.visit_id == 2
    with sqlite3.connect(other.path) as rows:
        for table in ("client", "room", "screen", "input", "memory"):
            assert rows.execute(f"SELECT count(*) FROM {table}").fetchone() == (1,)
        assert rows.execute("SELECT count(*) FROM control").fetchone() == (len(logbook.controls(1)),)


@pytest.mark.parametrize("take", [True, False])
def test_other_limits_of_a_control_are_asked_about(archive: Path, other: Logbook, take: bool) -> None:
    from aequitone.logbook.standin_visit import begin_standin_visit
    from aequitone.standins.scenario import load_scenario

    begun = begin_standin_visit(other, load_scenario("demo"), "demo", 4)
    with sqlite3.connect(other.path) as rows:
        rows.execute("UPDATE control SET highest = 63 WHERE name = 'R gain'")
    before = contents(other.path)
    with pytest.raises(ConflictError, match="R gain 0 to 100 by 1 there, R gain 0 to 63 by 1 here"):
        import_archive(other, archive)
    assert contents(other.path) == before
    import_archive(other, archive, take_controls=take)
    (gain,) = [control for control in other.controls(begun.screen_id) if control.name == "R gain"]
    assert gain.highest == (100 if take else 63)


Change = Callable[[dict[str, Any]], object]


@pytest.mark.parametrize(
    ("change", "why"),
    [
        (lambda v: v.update(version=2), "a newer Aequitone"),
        (lambda v: v.update(format="x"), "format: input should be 'aequitone-visit'"),
        (lambda v: v["tables"].pop("pass"), "tables.pass: field required"),
        (lambda v: v["tables"]["visit"].clear(), "0 rows of visit"),
        (lambda v: v["tables"]["job"][0].update(target="nice"), "no target “nice”"),
        (lambda v: v["tables"]["pass"][0].update(kind="guess"), "no pass “guess”"),
        (lambda v: v["tables"]["pass"][0].update(started="now"), "in UTC without a zone"),
        (lambda v: v["tables"]["reading"][0].update(Y="much"), "reading.0.Y: input should be a valid number"),
        (lambda v: v["tables"]["reading"][3].update(pass_id=99), "refers to pass 99, which is not there"),
        (lambda v: v["tables"]["setting"][1].update(id=1), "two rows of setting have the same number"),
        (lambda v: v["tables"]["control"][0].update(extra=1), "extra inputs are not permitted"),
        (lambda v: v["tables"]["client"][0].update(name="x" * 200), "at most 120 characters"),
        (lambda v: v["tables"]["pass"][0]["plan"].update(target=7), "cannot be used"),
        (lambda v: v["tables"]["visit"][0]["bench"].update(depth="deep"), "cannot be used"),
        (lambda v: v["tables"]["reading"][1].update(seq=v["tables"]["reading"][0]["seq"]), "cannot be used"),
    ],
)
def test_what_is_wrong_with_a_file_is_said_and_nothing_is_taken(
    taken_out: bytes, other: Logbook, tmp_path: Path, change: Change, why: str
) -> None:
    with zipfile.ZipFile(io.BytesIO(taken_out)) as opened:
        whole = json.loads(opened.read("visit.json"))
    change(whole)
    path = tmp_path / "changed.json"
    path.write_text(json.dumps(whole), "utf-8")
    before = contents(other.path)
    with pytest.raises(ImportFailedError) as told:
        import_archive(other, path)
    assert why in str(told.value)
    assert str(told.value).endswith("Nothing was taken from it.")
    assert contents(other.path) == before


@pytest.mark.parametrize(
    ("name", "content", "why"),
    [
        ("x.zip", b"", "no archive"),
        ("x.zip", b"PK\x03\x04 and so on", "no archive"),
        ("x.json", b"{", "not JSON"),
        ("x.json", b"\xff\xfe\x00", "not JSON"),
        ("x.json", b"[" * 100_000, "not JSON: brackets"),
        ("x.json", b"NaN", "no visit"),
        ("x.json", b"null", "no visit"),
    ],
)
def test_what_is_no_archive_is_called_so(tmp_path: Path, name: str, content: bytes, why: str) -> None:
    path = tmp_path / name
    path.write_bytes(content)
    with pytest.raises(ImportFailedError, match=why):
        read_archive(path)


def test_a_zip_without_a_visit_and_one_that_is_not_there(tmp_path: Path) -> None:
    with zipfile.ZipFile(tmp_path / "other.zip", "w") as archive:
        archive.writestr("../visit.json", "{}")
    with pytest.raises(ImportFailedError, match=r"holds no visit\.json"):
        read_archive(tmp_path / "other.zip")
    with pytest.raises(ImportFailedError, match="cannot be read"):
        read_archive(tmp_path / "none.zip")


def test_random_damage_ends_in_a_sentence_or_in_a_visit_that_can_be_read(
    taken_out: bytes, tmp_path: Path, other: Logbook
) -> None:
    """More of it: benchmarks/archive.py."""
    rng, whole = random.Random(3), taken_out
    (tmp_path / "whole.zip").write_bytes(whole)
    import_archive(other, tmp_path / "whole.zip")
    told = []
    for _ in range(40):
        before = contents(other.path)
        told.append(outcome(other, damaged(whole, rng), tmp_path / "damaged.zip").split()[0])
        # What is taken is a whole visit, of another day or name.
        assert told[-1] == "taken" or contents(other.path) == before
    assert set(told) <= {"refused", "same", "taken"}
    assert told.count("refused") > 15


def test_the_schema_in_the_docs_is_that_of_the_program() -> None:
    assert json.loads((DOCS / "visit.schema.json").read_text("utf-8")) == visit_schema()


def test_the_json_keeps_to_its_schema(logbook: Logbook, whole_visit: VisitRecord) -> None:
    whole = json.loads(visit_text(logbook.carrying.rows(whole_visit.id)))
    tables = visit_schema()["properties"]["tables"]
    assert set(whole) == {"format", "version", "tables"}
    assert tables
    assert [row["id"] for row in whole["tables"]["pass"]] == [1, 2, 3]
