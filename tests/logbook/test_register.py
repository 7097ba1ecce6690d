"""Names in the logbook: mended everywhere at once, never two alike in one place."""

import pytest

from aequitone.logbook import Logbook, VisitRecord
from aequitone.logbook.register import Named, NameTakenError
from aequitone.logbook.standin_visit import begin_standin_visit
from aequitone.standins.scenario import load_scenario


@pytest.mark.parametrize("what", list(Named))
def test_every_kind_of_name_can_be_mended(logbook: Logbook, visit: VisitRecord, what: Named) -> None:
    before = logbook.register.name(visit.id, what)
    logbook.register.rename(visit.id, what, "  Another   name ")
    assert logbook.register.name(visit.id, what) == "Another name" != before
    fields = {Named.MEMORY: "memory", Named.DEVICE: "device"}
    assert getattr(logbook.visit(visit.id), fields.get(what, what.value)) == "Another name"


def test_a_name_that_is_taken_or_empty_is_refused_and_the_old_one_kept(
    logbook: Logbook, visit: VisitRecord
) -> None:
    scenario = load_scenario("demo")
    part = scenario.visit.model_copy(update={"client": "Second Client"})
    begin_standin_visit(logbook, scenario.model_copy(update={"visit": part}), "demo", 4)
    with pytest.raises(
        NameTakenError, match=f"There is a client called “Second Client” already; “{visit.client}” is kept"
    ):
        logbook.register.rename(visit.id, Named.CLIENT, "Second Client")
    with pytest.raises(NameTakenError, match="A room needs a name"):
        logbook.register.rename(visit.id, Named.ROOM, "  ")
    # Another client may have a room of the same name.
    logbook.register.rename(visit.id, Named.ROOM, "Den")
    logbook.register.rename(visit.id + 1, Named.ROOM, "Den")
    with pytest.raises(LookupError, match="there is no visit 99"):
        logbook.register.name(99, Named.CLIENT)


def test_clients_put_away_are_listed_apart_and_come_back_with_a_visit(
    logbook: Logbook, visit: VisitRecord
) -> None:
    logbook.register.put_away(visit.id, away=True)
    assert logbook.find_visits() == []
    assert [line.id for line in logbook.find_visits(away=True)] == [visit.id]
    begin_standin_visit(logbook, load_scenario("demo"), "demo", 4)
    assert len(logbook.find_visits()) == 2
