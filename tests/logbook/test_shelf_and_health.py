"""Instruments and corrections on the shelf, what is said of a bench, and older logbooks brought up to date."""

import sqlite3
from dataclasses import replace
from datetime import datetime, timedelta
from pathlib import Path

import numpy as np
import pytest
from sqlalchemy import create_engine

from aequitone import logbook as package
from aequitone.advice.technology import TECHNOLOGIES, Technology
from aequitone.instruments import MeterNoise
from aequitone.logbook import BenchChoice, Logbook, VisitRecord, open_logbook
from aequitone.logbook.health import BenchConditions, ailments
from aequitone.logbook.records import Connection
from aequitone.logbook.shelf import CorrectionRecord, InstrumentKind
from aequitone.logbook.storage.opening import REVISION, _upgrade
from aequitone.passes import AS_FOUND, begin
from aequitone.procedures.steps import Purpose, Reading
from aequitone.signal import SignalFormat, Transfer, grey_patch

NOW = datetime(2026, 11, 25, 12, 0)
VERSIONS = Path(package.__file__).parent / "migrations" / "versions"
SHEET = MeterNoise(0.01, 0.002)
MATRIX = np.array([[1.02, 0.01, 0.0], [0.0, 0.99, 0.01], [0.0, 0.0, 1.05]])
CORRECTION = CorrectionRecord(
    0, "Field 1", "Reference 2", Technology.WHITE_OLED, "Kaldmere", "four colours", MATRIX, 0.0008, 0.4, NOW
)
READING = Reading(grey_patch(50, SignalFormat()), Purpose.LEVEL, 19, 20, 21, 0.1, 0.1, 0.1, 2, 1.0, 2.0, 3.0)


def told(**fields: object) -> list[str]:
    choice = BenchChoice(Connection.STANDIN, Connection.STANDIN, scenario="demo")
    snapshot = BenchConditions(choice, Technology.LED_LCD, SHEET, (), None)
    return [f"{a.words} {a.todo}" for a in ailments(replace(snapshot, **fields), NOW)]  # type: ignore[arg-type]


def test_an_instrument_is_remembered_once_for_each_address(logbook: Logbook) -> None:
    first = logbook.shelf.remember(InstrumentKind.METER, "TCPIP::1", "Old name", "7")
    again = logbook.shelf.remember(InstrumentKind.METER, "TCPIP::1", "New name", "7")
    other = logbook.shelf.remember(InstrumentKind.SOURCE, "TCPIP::1", "Source", "8")
    assert first.id == again.id != other.id
    assert [record.name for record in logbook.shelf.instruments()] == ["New name", "Source"]
    logbook.shelf.forget(first.id)
    assert [record.name for record in logbook.shelf.instruments()] == ["Source"]
    with pytest.raises(LookupError, match="no instrument 1 any more"):
        logbook.shelf.instrument(first.id)


def test_a_correction_comes_back_as_it_was_kept(logbook: Logbook) -> None:
    kept = logbook.shelf.keep_correction(CORRECTION)
    logbook.shelf.keep_correction(replace(CORRECTION, meter="Another"))
    (found,) = logbook.shelf.corrections("Field 1")
    assert np.array_equal(found.matrix, MATRIX)
    assert (found.fit_uv, found.technology, found.id) == (0.0008, "white-oled", kept.id)
    assert logbook.shelf.corrections()[0].meter == "Another"
    assert logbook.shelf.correction(kept.id).reference == "Reference 2"
    with pytest.raises(LookupError, match="no correction 99"):
        logbook.shelf.correction(99)
    assert found.age_days(found.made + timedelta(days=200)) == 200


def test_a_pass_keeps_what_it_was_measured_with(logbook: Logbook, visit: VisitRecord) -> None:
    chosen = replace(visit.bench, precision="careful", refresh_every=40.0)
    begin(logbook, logbook.choose_bench(visit.id, chosen).id, AS_FOUND)
    (record,) = logbook.passes(visit.id)
    assert (record.bench["precision"], record.bench["refresh_every"]) == ("careful", 40.0)


def test_nothing_is_said_of_a_sound_bench() -> None:
    assert told() == []
    assert told(readings=(READING,) * 20) == []


@pytest.mark.parametrize(
    ("fields", "sentence"),
    [
        (
            {"choice": BenchChoice(Connection.STANDIN, Connection.STANDIN, scenario="x", meter_mode="crt")},
            "The meter is set to tube",
        ),
        ({"readings": (replace(READING, scatter=60.0),) * 20}, r"scatter 4\.1 times as much.*pulses"),
        (
            {"readings": (replace(READING, rejected=1),) * 20},
            "20 of 60 answers of the meter did not agree with the rest",
        ),
        ({"choice": BenchChoice(transfer=Transfer.PQ)}, "sends no mark of PQ.*HDR by hand"),
        ({"technology": "white-oled"}, "dims under a still picture, and no refresh fields are set"),
        ({"correction": CORRECTION}, "correction was made on another kind of screen"),
        (
            {"correction": replace(CORRECTION, technology=Technology.LED_LCD, made=NOW - timedelta(days=300))},
            "correction is 300 days old. Filters age",
        ),
        (
            {"correction": replace(CORRECTION, technology=Technology.LED_LCD, fit_uv=0.004)},
            "leaves up to 0.0040 in u'v'",
        ),
        (
            {
                "technology": Technology.TUBE,
                "choice": BenchChoice(Connection.INSTRUMENT, Connection.STANDIN, scenario="x"),
            },
            "pulses, and the meter has not been told how fast",
        ),
    ],
)
def test_each_ailment_is_said_with_what_to_do(fields: dict[str, object], sentence: str) -> None:
    import re

    assert any(re.search(sentence, words) for words in told(**fields)), told(**fields)


def test_an_older_logbook_is_copied_and_brought_up_to_date(tmp_path: Path) -> None:
    path = tmp_path / "old.sqlite"
    engine = create_engine(f"sqlite:///{path}")
    _upgrade(engine, "0001")
    engine.dispose()
    with sqlite3.connect(path) as raw:
        raw.execute("INSERT INTO client (name) VALUES ('Fernhollow')")
        raw.execute("INSERT INTO room (client_id, name) VALUES (1, 'Hall')")
        raw.execute("INSERT INTO screen (room_id, name, technology) VALUES (1, 'K55', 'led-lcd')")
        raw.execute("INSERT INTO input (screen_id, name) VALUES (1, 'HDMI 1')")
        raw.execute("INSERT INTO memory (input_id, name) VALUES (1, 'Film')")
        raw.execute(
            "INSERT INTO visit (memory_id, target, levels, bench, started) VALUES (1, 'rec709-2.2', 11, "
            "'{\"meter\": \"by hand\"}', '2026-11-20 10:00:00')"
        )
        raw.execute(
            "INSERT INTO pass (visit_id, kind, state, plan, outcome, started) VALUES (1, 'as found', 'set aside', "
            "'{}', '', '2026-11-20 10:05:00')"
        )
        raw.execute(
            "INSERT INTO reading (pass_id, seq, at, elapsed, patch, percent, code_r, code_g, code_b, depth, "
            "range, window, purpose, X, Y, Z, sd_X, sd_Y, sd_Z, repeats, seconds, took, scatter) VALUES (1, 1, "
            "'2026-11-20 10:06:00', 5.0, '100 % grey', 100, 235, 235, 235, 8, 'limited', 0.1, 'anchor', 95, 100, "
            "109, 0, 0, 0, 2, 1.0, 2.0, 3.0)"
        )
    raw.close()
    book = open_logbook(path)
    visit = book.open_visit()
    assert visit is not None
    assert (visit.client, visit.technology, visit.bench.precision) == ("Fernhollow", "led-lcd", "usual")
    (reading,) = book.readings(1)
    assert (reading.Y, reading.at, reading.rejected) == (100.0, 5.0, 0)
    assert reading.patch.format == SignalFormat(8)
    assert book.shelf.instruments() == ()
    book.close()
    copy = tmp_path / "old.layout-0001.sqlite"
    with sqlite3.connect(copy) as raw:
        assert raw.execute("SELECT version_num FROM alembic_version").fetchone() == ("0001",)
        assert raw.execute("SELECT count(*) FROM reading").fetchone() == (1,)
    raw.close()
    open_logbook(path).close()


def test_what_was_measured_with_another_instrument_is_no_longer_used() -> None:
    chosen = BenchChoice(
        Connection.INSTRUMENT,
        Connection.INSTRUMENT,
        meter_id=1,
        source_id=2,
        correction_id=5,
        settle_seconds=0.8,
        synchronise_hz=50.0,
    )
    assert chosen.without_stale(chosen) == chosen
    other_meter = replace(chosen, meter_id=3).without_stale(chosen)
    assert (other_meter.correction_id, other_meter.synchronise_hz, other_meter.settle_seconds) == (0, None, 0.8)
    other_mode = replace(chosen, meter_mode="crt").without_stale(chosen)
    assert (other_mode.correction_id, other_mode.synchronise_hz) == (0, 50.0)
    other_source = replace(chosen, patterns=Connection.SCREEN).without_stale(chosen)
    assert (other_source.correction_id, other_source.settle_seconds) == (5, None)
    both = replace(chosen, meter_id=3, correction_id=7).without_stale(chosen)
    assert both.correction_id == 7


@pytest.mark.parametrize("technology", TECHNOLOGIES)
def test_panels_that_dim_get_refresh_fields_from_the_start(technology: Technology) -> None:
    suited = BenchChoice(Connection.STANDIN, Connection.STANDIN, scenario="demo").suited_to(technology)
    assert (suited.care.refresh is not None) is technology.endswith("oled")
    assert replace(suited, patterns=Connection.BY_HAND).care.refresh is None
    chosen = BenchChoice(refresh_every=90.0).suited_to(technology)
    assert chosen.refresh_every == 90.0


@pytest.mark.parametrize("layout", sorted(path.name[1:5] for path in VERSIONS.glob("v0*.py"))[:-1])
def test_every_older_layout_is_brought_up_to_date(tmp_path: Path, layout: str) -> None:
    path = tmp_path / "old.sqlite"
    engine = create_engine(f"sqlite:///{path}")
    _upgrade(engine, layout)
    engine.dispose()
    open_logbook(path).close()
    assert (tmp_path / f"old.layout-{layout}.sqlite").exists()
    with sqlite3.connect(path) as raw:
        assert raw.execute("SELECT version_num FROM alembic_version").fetchone() == (REVISION,)
