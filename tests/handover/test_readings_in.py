"""Readings from CGATS.17 and CSV files, and a pass made of them."""

import itertools
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from tests.contents import contents

from aequitone.handover.errors import ImportFailedError
from aequitone.handover.files.csv import write_readings
from aequitone.handover.files.readings_out import write_cgats
from aequitone.handover.incoming.passes import import_pass
from aequitone.handover.incoming.readings import parse, read_file
from aequitone.logbook import Logbook, VisitRecord, journal
from aequitone.passes import (
    AS_FOUND,
    PROOF,
    WHITE,
    KeptError,
    begin,
    carry_out,
    go_on,
    grey_plan,
    load_snapshot,
    to_json,
)
from aequitone.procedures.runner import NobodyThere
from aequitone.reference import target_named
from aequitone.standins.bench import build_bench
from aequitone.standins.scenario import load_scenario

CGATS = """CGATS.17
ORIGINATOR "elsewhere"
NUMBER_OF_FIELDS 8
BEGIN_DATA_FORMAT
SAMPLE_ID SAMPLE_NAME RGB_R RGB_G RGB_B XYZ_X XYZ_Y XYZ_Z
END_DATA_FORMAT
NUMBER_OF_SETS 3
BEGIN_DATA
1 "white, full" 255 255 255 95.05 100.0 108.9
2 red 255 0 0 41.2 21.3 1.9
3 "half" 127.5 127.5 127.5 20.7 21.8 23.7
END_DATA
"""


def greys_csv(percents: list[int], heads: str = "percent,X,Y,Z") -> str:
    target = target_named("rec709-2.2")
    lines = [
        ",".join(f"{v:.6g}" for v in (p, *(target.grey(p, 120.0) * [1.0, 1.0, 1.1] + 0.03))) for p in percents
    ]
    return "\n".join([heads, *lines]) + "\n"


def test_cgats_is_read_with_its_names_and_scale() -> None:
    white, red, half = parse(CGATS, "file")
    assert white.name == "white, full"
    assert white.xyz.tolist() == [95.05, 100.0, 108.9]
    assert (white.grey_percent, half.grey_percent, red.grey_percent) == (100.0, 50.0, None)
    assert red.rgb_percent == (100.0, 0.0, 0.0)


@pytest.mark.parametrize(
    "text",
    [
        "percent,X,Y,Z\n100,95,100,109\n",
        "Level;x;y;Y\n100;0.3125;0.3289;100\n",
        "R\tG\tB\txyz x\txyz y\txyz z\n1023\t1023\t1023\t95\t100\t109\n",
        "percent;X;Y;Z\n100,0;95,0;100,0;109,0\n",
    ],
)
def test_csv_by_many_names(text: str) -> None:
    (white,) = parse(text, "table.csv")
    assert white.grey_percent == pytest.approx(100.0)
    assert white.xyz == pytest.approx([95.0, 100.0, 109.0], rel=1e-3)


@pytest.mark.parametrize(
    ("text", "sentence"),
    [
        ("", "file is empty"),
        ("percent,X,Y,Z\n", "holds no readings"),
        ("percent,X,Y,Z\n100,95,bright,109\n", "line 2: “bright” stands where a number belongs"),
        ("percent,X,Y,Z\n100,95,nan,109\n", "line 2: “nan” is no reading"),
        ("percent,X,Y,Z\n100,95,100\n", "line 2: 3 values under 4 headings"),
        ("X,Y,Z\n95,100,109\n", "does not say what was shown"),
        ("percent,colour\n100,red\n", "no columns for light.*it has percent, colour"),
        ("percent,X,Y,Z\n100,95,inf,109\n", "line 2: “inf” is no reading"),
        ("percent,X,Y,Z\n100,95,1e999,109\n", "line 2: “1e999” is no reading"),
        ("percent,X,Y,Z\n100,95,1e308,109\n", "line 2: it has 1e\\+308 cd/m², more than any screen gives"),
        ("percent,X,Y,Z\n100,95,1e9,109\n", "line 2: it has 1e\\+09 cd/m², more than any screen gives"),
        ("percent,X,Y,Z\n100,95,-3,109\n", "line 2: it has less than no light"),
        ("percent,X,Y,Z\n100,95,1_00,109\n", "line 2: “1_00” stands where a number belongs"),
        ("percent,X,Y,Z\n100,95,0x64,109\n", "line 2: “0x64” stands where a number belongs"),
        ("percent,X,Y,Z\n100,95,١٠٠,109\n", "line 2: “١٠٠” stands where a number belongs"),
        ('percent,X,Y,Z\n100,950,"1,234",109\n', "line 2: “1,234” could be 1234 or 1.234"),
        ('percent,X,Y,Z\n100,95.5,"1,234",109\n', "line 2: “1,234”, but numbers before it have another decimal"),
        ('percent,X,Y,Z\n100,95,"1,234.5",109\n', "line 2: “1,234.5” stands where a number belongs"),
        ("percent,x,y,Y\n100,0.31,1e-9,100\n", "line 2: x 0.31, y 1e-09 is the colour of no light"),
        ("percent,x,y,Y\n100,0.8,0.8,100\n", "line 2: x 0.8, y 0.8 is the colour of no light"),
        ("percent,X,Y,Z\n-50,95,100,109\n", "line 2: a signal of -50 % cannot be"),
        ("percent,X,Y,Z\n140,95,100,109\n", "line 2: a signal of 140 % cannot be"),
        ("percent,X,Y,Z,X\n100,95,100,109,7\n", "more than one column X"),
        ('name,percent,X,Y,Z\n"a\nb\nc",100,95,100,109\n"d\ne",50,red,20,21\n', "line 5: “red” stands"),
        (CGATS + CGATS.replace("CGATS.17\n", ""), "more than one table; the second begins at line 15"),
        (CGATS.replace("END_DATA\n", ""), "ends before its data do"),
        (CGATS.replace("41.2 21.3 1.9", "41.2"), "line 10: 6 values where the format names 8"),
    ],
)
def test_a_wrong_file_is_refused_with_its_place(text: str, sentence: str) -> None:
    with pytest.raises(ImportFailedError, match=sentence) as refused:
        parse(text, "file")
    assert "Nothing was taken" in str(refused.value)


def test_a_file_that_is_no_text_or_not_there_is_refused(tmp_path: Path) -> None:
    path = tmp_path / "picture.csv"
    path.write_bytes(b"\x89PNG\xff\xfe")
    with pytest.raises(ImportFailedError, match="is not text"):
        read_file(path)
    with pytest.raises(ImportFailedError, match="cannot be read"):
        read_file(tmp_path / "nowhere.csv")


def test_a_pass_from_a_file_is_a_pass_as_found(logbook: Logbook, visit: VisitRecord) -> None:
    rows = parse(greys_csv(list(range(0, 101, 10))), "mine.csv")
    found = import_pass(logbook, visit, AS_FOUND, rows, "mine.csv")
    snapshot = load_snapshot(logbook, visit.id)
    assert snapshot.result(AS_FOUND) is not None
    assert np.array_equal(snapshot.result(AS_FOUND).xyz, found.xyz)
    assert found.white == pytest.approx(120.03)
    assert snapshot.passes[0].bench == {"meter": "file", "file": "mine.csv"}


def test_a_file_that_lacks_levels_enters_nothing(logbook: Logbook, visit: VisitRecord) -> None:
    rows = parse(greys_csv([0, 20, 40, 60, 80, 100]), "short.csv")
    with pytest.raises(ImportFailedError, match="short.csv lacks 90 %, 70 %, 50 %, 30 %, 10 % of the 11 grey"):
        import_pass(logbook, visit, AS_FOUND, rows, "short.csv")
    assert logbook.passes(visit.id) == []
    with pytest.raises(ImportFailedError, match="not an adjustment"):
        import_pass(logbook, visit, WHITE, rows, "short.csv")


def refused(logbook: Logbook, visit: VisitRecord, text: str) -> str:
    """The sentence that refuses a file, of which nothing was entered."""
    before = contents(logbook.path)
    with pytest.raises(ImportFailedError) as failed:
        import_pass(logbook, visit, AS_FOUND, parse(text, "mine.csv"), "mine.csv")
    assert contents(logbook.path) == before
    return str(failed.value)


def test_one_row_that_cannot_be_leaves_nothing_of_the_others(logbook: Logbook, visit: VisitRecord) -> None:
    lines = greys_csv(list(range(0, 101, 10))).splitlines()
    lines[6] = "50,1e9,1e9,1e9"
    assert "line 7: it has 1e+09 cd/m²" in refused(logbook, visit, "\n".join(lines))


@pytest.mark.parametrize("step", (1, 6, 11))
def test_an_import_that_dies_at_any_statement_leaves_nothing(
    logbook: Logbook, visit: VisitRecord, monkeypatch: pytest.MonkeyPatch, step: int
) -> None:
    before, written = contents(logbook.path), itertools.count(1)
    real = journal.reading_row

    def dying(*given: Any) -> Any:
        if next(written) == step:
            raise OSError(28, "No space left on device")
        return real(*given)

    monkeypatch.setattr(journal, "reading_row", dying)
    rows = parse(greys_csv(list(range(0, 101, 10))), "mine.csv")
    with pytest.raises(OSError, match="No space left"):
        import_pass(logbook, visit, AS_FOUND, rows, "mine.csv")
    assert contents(logbook.path) == before


def test_a_level_that_is_there_twice_is_read_once_or_refused(logbook: Logbook, visit: VisitRecord) -> None:
    text = greys_csv([*range(0, 101, 10), 100])
    twice = text.splitlines()
    twice[-1] = "100,60,65,70"
    told = refused(logbook, visit, "\n".join(twice))
    assert "has 100 % more than once, with 65 cd/m² in line 13 and 120 in line 12" in told
    assert import_pass(logbook, visit, AS_FOUND, parse(text, "mine.csv"), "mine.csv").white > 119.0


def test_a_pass_from_a_file_is_never_gone_on_with_by_a_meter(logbook: Logbook, visit: VisitRecord) -> None:
    """As an earlier version left it: half a pass from a file, running."""
    plan = to_json(grey_plan(load_snapshot(logbook, visit.id)))
    logbook.begin_pass(visit.id, AS_FOUND.key, plan, {"meter": "file", "file": "mine.csv"})
    record = logbook.interrupted_pass(visit.id)
    assert record is not None
    with pytest.raises(KeptError, match="came from a file"):
        go_on(record)


def test_a_file_without_end_is_refused(tmp_path: Path) -> None:
    path = tmp_path / "long.csv"
    with path.open("w") as file:
        file.write("percent,X,Y,Z\n")
        file.writelines("100,95,100,109\n" for _ in range(60_000))
    with pytest.raises(ImportFailedError, match="more than 50000 readings"):
        read_file(path)
    path.write_text("percent,X,Y,Z\n" + "\n" * 1_100_000)
    with pytest.raises(ImportFailedError, match="more than 1000000 lines"):
        read_file(path)
    path.write_text("percent,X,Y,Z\n" + "9" * 20_000_000)
    with pytest.raises(ImportFailedError, match="line 2: it is too long"):
        read_file(path)


def test_what_is_written_is_read_again(logbook: Logbook, visit: VisitRecord, tmp_path: Path) -> None:
    bench = build_bench(load_scenario("demo"), 0)
    prepared = begin(logbook, visit.id, AS_FOUND)
    carry_out(logbook, prepared, bench.bench(), NobodyThere())
    (record,) = logbook.passes(visit.id)
    readings = logbook.readings(record.id)
    cgats, table = tmp_path / "pass.txt", tmp_path / "pass.csv"
    assert write_cgats(logbook, visit, record, cgats) == len(readings)
    assert write_readings(logbook, visit, table) == len(readings)
    for path in (cgats, table):
        rows = read_file(path)
        assert [row.name for row in rows] == [reading.patch.name for reading in readings]
        for row, reading in zip(rows, readings, strict=True):
            assert row.xyz == pytest.approx(reading.xyz, rel=1e-4, abs=1e-9)
        again = import_pass(logbook, visit, PROOF, rows, path.name)
        found = load_snapshot(logbook, visit.id).result(AS_FOUND)
        assert found is not None
        assert again.xyz[:, 1] == pytest.approx(found.xyz[:, 1], rel=0.02, abs=0.01)
