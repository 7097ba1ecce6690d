"""Readings from CGATS.17 and CSV files, and a pass made of them."""

from pathlib import Path

import numpy as np
import pytest

from aequitone.handover.csv import write_readings
from aequitone.handover.errors import ImportFailedError
from aequitone.handover.passes_in import import_pass
from aequitone.handover.readings_in import parse, read_file
from aequitone.handover.readings_out import write_cgats
from aequitone.logbook import Logbook, VisitRecord
from aequitone.passes import AS_FOUND, PROOF, WHITE, begin, carry_out, load_snapshot
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
