"""One bad row costs itself: everything else of the logbook is there, and what is not is named."""

import sqlite3
from collections.abc import Callable

import pytest

from aequitone.logbook import Logbook, VisitRecord, open_logbook
from aequitone.passes import AS_FOUND, begin, carry_out, load_snapshot
from aequitone.procedures.runner import NobodyThere
from aequitone.standins.bench import StandInBench

SPOILT = {
    "UPDATE job SET formula = 'ΔE 1931' WHERE id = 2": "visit 2",
    "UPDATE visit SET bench = 'not json' WHERE id = 2": "visit 2",
    """UPDATE visit SET bench = '{"meter": "by magic"}' WHERE id = 2""": "visit 2",
    "UPDATE visit SET bench = '[]' WHERE id = 2": "visit 2",
    "UPDATE visit SET started = 'yesterday' WHERE id = 2": "visit 2",
    "UPDATE control SET role = 'gain-q' WHERE id = 3": "control 3",
    "UPDATE control SET reach = 'the street' WHERE id = 3": "control 3",
    "UPDATE pass SET state = 'lost' WHERE id = 1": "pass 1",
    "UPDATE pass SET plan = '{' WHERE id = 1": "pass 1",
    "UPDATE pass SET result = 'x' WHERE id = 1": "pass 1",
    "UPDATE reading SET purpose = 'fun' WHERE seq = (SELECT min(seq) FROM reading)": "reading",
    "UPDATE reading SET range = 'wide' WHERE seq = (SELECT min(seq) FROM reading)": "reading",
}


@pytest.mark.parametrize("statement", SPOILT)
def test_the_rest_is_there(
    logbook: Logbook, visit: VisitRecord, bench: Callable[[int], StandInBench], statement: str
) -> None:
    carry_out(logbook, begin(logbook, visit.id, AS_FOUND), bench(4).bench(), NobodyThere())
    later = logbook.begin_visit(
        client="Someone else",
        room="Hall",
        screen="Other",
        input_="HDMI 2",
        memory="Day",
        technology=visit.technology,
        target=visit.target,
        levels=visit.levels,
        bench=visit.bench,
        controls=(),
    )
    assert later.id == 2
    logbook.close()
    with sqlite3.connect(logbook.path) as raw:
        raw.execute("PRAGMA foreign_keys=OFF")
        raw.execute(statement)
    raw.close()
    again = open_logbook(logbook.path)
    newest = again.latest_visit()
    assert newest is not None
    assert newest.id == (1 if "visit 2" in SPOILT[statement] else 2)
    snapshot = load_snapshot(again, visit.id)
    assert snapshot.visit.client == visit.client
    assert len(snapshot.controls) >= len(again.controls(visit.screen_id)) > 20
    assert len(again.find_visits("")) >= 1
    assert any(words.startswith(SPOILT[statement]) for words in again.unreadable.words)
    again.close()
