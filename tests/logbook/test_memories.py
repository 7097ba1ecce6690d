"""The memory that is worked in: another picture mode is chosen, and the ledger follows it."""

from collections.abc import Callable
from dataclasses import replace

import pytest

from aequitone.advice.roles import Role
from aequitone.logbook import Logbook, VisitRecord
from aequitone.logbook.settings.ledger import DebtAnswer
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.passes import AS_FOUND, LEVELS, MODE, NotReadyError, begin, carry_out, load_snapshot
from aequitone.procedures.runner import NobodyThere
from aequitone.procedures.steps import Interrupt
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import load_scenario

SHOWROOM = 0


@pytest.fixture
def standins() -> StandInBench:
    """The demo's unit 4, found in the mode of the shop."""
    made = build_bench(load_scenario("demo"), 4)
    made.link.turn({Role.PICTURE_MODE.key: SHOWROOM})
    return made


@pytest.fixture
def shop(logbook: Logbook, standins: StandInBench) -> VisitRecord:
    scenario = load_scenario("demo")
    in_shop = scenario.model_copy(update={"visit": scenario.visit.model_copy(update={"memory": "Showroom"})})
    begun = begin_standin_visit(logbook, in_shop, "demo", 4)
    note_as_found(logbook, begun, standins.link.values())
    return begun


def test_another_mode_wins_and_its_settings_are_noted_by_link(
    logbook: Logbook, standins: StandInBench, shop: VisitRecord
) -> None:
    before = logbook.ledger.at(shop.id)
    carry_out(logbook, begin(logbook, shop.id, MODE), standins.bench(), NobodyThere())
    snapshot = load_snapshot(logbook, shop.id)
    assert snapshot.result(MODE) is not None
    assert snapshot.visit.memory == snapshot.result(MODE).order[0].track.name != "Showroom"
    noted = {role: standins.screen.settings()[role.key] for role in snapshot.settings}
    assert snapshot.settings == snapshot.found_settings == noted
    assert snapshot.settings != before
    assert standins.screen.memory[1] == snapshot.visit.memory


def test_by_hand_the_settings_of_the_other_mode_are_to_be_noted(
    logbook: Logbook, standins: StandInBench, shop: VisitRecord
) -> None:
    class Hands(NobodyThere):
        def turn(self, move) -> type[Interrupt] | None:  # type: ignore[no-untyped-def]
            standins.link.turn({change.role.key: change.to_value for change in move.changes})
            return None

    bench = replace(standins.bench(), link=None)
    carry_out(logbook, begin(logbook, shop.id, MODE), bench, Hands())
    snapshot = load_snapshot(logbook, shop.id)
    # What acts on the whole screen is known there too.
    assert set(snapshot.settings) == {Role.PICTURE_MODE, Role.ENERGY_SAVING}
    with pytest.raises(NotReadyError, match="Levels need"):
        begin(logbook, snapshot.visit.id, LEVELS)


def test_a_mode_that_was_worked_on_is_not_left(
    logbook: Logbook, bench: Callable[[int], StandInBench], visit: VisitRecord
) -> None:
    eco = next(c for c in logbook.controls(visit.screen_id) if c.role == Role.ENERGY_SAVING)
    logbook.ledger.switch_off(visit.id, eco.id, 1, 0)
    with pytest.raises(NotReadyError, match=f"{eco.name} switched off in this picture mode"):
        begin(logbook, visit.id, MODE)
    logbook.ledger.answer(logbook.ledger.debts(visit.id)[0].id, DebtAnswer.LEAVE_OFF)
    carry_out(logbook, begin(logbook, visit.id, AS_FOUND), bench(4).bench(), NobodyThere())
    with pytest.raises(NotReadyError, match="Grey as found was measured in this picture mode"):
        begin(logbook, visit.id, MODE)
