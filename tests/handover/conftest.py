"""A whole visit, for tests of what is handed over."""

import json
import tempfile
from functools import cache
from pathlib import Path

import pytest
from tests.conftest import answer_checklist

from aequitone.logbook import Logbook, VisitRecord, open_logbook
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.passes import AS_FOUND, PROOF, WHITE, begin, carry_out
from aequitone.procedures.runner import NobodyThere
from aequitone.standins.bench import build_bench
from aequitone.standins.scenario import load_scenario


@cache
def _whole_rows() -> str:
    """The rows of a visit with grey found, set and proven, as JSON: made once, and entered by whoever needs it."""
    with tempfile.TemporaryDirectory() as folder:
        logbook = open_logbook(Path(folder) / "logbook.sqlite")
        scenario = load_scenario("demo")
        begun, stand_in = begin_standin_visit(logbook, scenario, "demo", 4), build_bench(scenario, 4)
        note_as_found(logbook, begun, stand_in.link.values())
        answer_checklist(logbook, begun)
        for kind in (AS_FOUND, WHITE, PROOF):
            carry_out(logbook, begin(logbook, begun.id, kind), stand_in.bench(), NobodyThere())
        rows = logbook.carrying.rows(begun.id)
        logbook.close()
    return json.dumps(rows)


@pytest.fixture
def whole_visit(logbook: Logbook) -> VisitRecord:
    return logbook.visit(logbook.carrying.enter(json.loads(_whole_rows())))
