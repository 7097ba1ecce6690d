"""White's ladder and White's panel agree, also where biases have moved the black that the target stands on."""

from dataclasses import replace

import numpy as np
import pytest

from aequitone.desktop.stations.white.ladder import white_ladder
from aequitone.logbook import Logbook
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.passes import AS_FOUND, WHITE, Snapshot, begin, carry_out, load_snapshot, white_state
from aequitone.procedures.runner import NobodyThere
from aequitone.procedures.white.session import WhiteState
from aequitone.standins.bench import build_bench
from aequitone.standins.zoo import zoo_screen

# Gains and biases; the biases add to the light of black.
_NUMBER = 52


def drawn(snapshot: Snapshot, state: WhiteState) -> dict[float, float]:
    """The ΔE that is drawn, by level."""
    return {row.percent: row.delta for row in white_ladder(snapshot, state).rows if row.delta is not None}


def test_the_ladder_stands_on_the_black_that_white_has_left(logbook: Logbook) -> None:
    scenario = zoo_screen(_NUMBER)
    bench = build_bench(scenario, _NUMBER)
    visit = begin_standin_visit(logbook, scenario, f"zoo {_NUMBER}", _NUMBER)
    note_as_found(logbook, visit, bench.link.values())
    for kind in (AS_FOUND, WHITE):
        prepared = begin(logbook, visit.id, kind)
        carry_out(logbook, prepared, bench.bench(), NobodyThere(), care=visit.bench.care)
    snapshot = load_snapshot(logbook, visit.id)
    state, found = white_state(snapshot), snapshot.result(AS_FOUND)
    assert state is not None
    assert state.black == pytest.approx(float(bench.screen.light_of_signal(np.zeros(3))[1]), rel=0.05)
    assert state.black > 1.2 * found.black

    told = drawn(snapshot, state)
    assert [told[percent] for percent in state.percents] == pytest.approx(list(state.errors), abs=0.01)
    # What an earlier version kept says nothing of black, and stands on the one that was found.
    assert abs(drawn(snapshot, replace(state, black=None))[30.0] - told[30.0]) > 0.3
    # The record alone tells the same.
    record = [kept for _, kept in sorted(logbook.recorded(prepared.pass_id).items())]
    again = WHITE.recover(prepared.plan, record, "")
    assert again is not None
    assert again.state.black == state.black
