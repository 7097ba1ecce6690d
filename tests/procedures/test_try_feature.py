"""What acts by itself, tried on and off: what it does is told by size, and it is off again at the end."""

import pytest

from aequitone.advice.roles import role_of
from aequitone.logbook import Logbook, open_logbook
from aequitone.logbook.settings.ledger import DebtAnswer
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.passes import TRIED, NotReadyError, begin_try, carry_out, load_snapshot, tried_words
from aequitone.procedures.preparation.try_feature import Tried
from aequitone.procedures.runner import NobodyThere
from aequitone.standins.bench import build_bench
from aequitone.standins.scenario import parse_scenario
from aequitone.standins.shipped import shipped_text

SAVING, DIMMING = "feature-energy-saving", "feature-dynamic-contrast"


def tried(logbook: Logbook, kind: str, strength: float) -> tuple[Tried, int, DebtAnswer | None]:
    """Try a feature of the demo's screen: what came of it, where it stands, and what became of the debt."""
    text = shipped_text("demo").replace('kind = "energy-saving"', f'kind = "{kind}"')
    scenario = parse_scenario(text.replace("strength = 0.12", f"strength = {strength}"), "demo")
    bench, role = build_bench(scenario, 4), role_of(f"feature-{kind}")
    visit = begin_standin_visit(logbook, scenario, "demo", 4)
    note_as_found(logbook, visit, bench.link.values())
    control = next(each for each in logbook.controls(visit.screen_id) if each.role == role)
    with pytest.raises(NotReadyError, match="switched off on this visit"):
        begin_try(logbook, visit.id, role)
    bench.link.turn({role.key: 0})
    logbook.ledger.switch_off(visit.id, control.id, 1, 0)
    bench.clock.sleep(5400.0)
    found = carry_out(
        logbook, begin_try(logbook, visit.id, role), bench.bench(), NobodyThere(), care=visit.bench.care
    )
    (debt,) = logbook.ledger.debts(visit.id)
    assert tried_words(load_snapshot(logbook, visit.id)) == {control.name: found.words}
    assert logbook.latest_done(visit.id, TRIED.key).outcome == found.words
    return found, bench.screen.settings()[role.key], debt.answer


def test_energy_saving_takes_light_and_leaves_grey_alone(logbook: Logbook) -> None:
    found, stands, answer = tried(logbook, "energy-saving", 0.12)
    assert (stands, answer) == (0, None)
    assert found.light == pytest.approx(-0.12, abs=0.02)
    assert not found.costs
    assert "the client's choice" in found.words


def test_dynamic_contrast_costs_grey(logbook: Logbook) -> None:
    found, stands, answer = tried(logbook, "dynamic-contrast", 0.5)
    assert (stands, answer) == (0, None)
    assert found.costs
    assert "A minus by the meter" in found.words


def test_it_is_tried_only_while_it_is_off(logbook: Logbook) -> None:
    found, _, _ = tried(logbook, "energy-saving", 0.12)
    assert found.name
    again = open_logbook(logbook.path)
    (debt,) = again.ledger.debts(1)
    again.ledger.answer(debt.id, DebtAnswer.ON_AGAIN)
    with pytest.raises(NotReadyError, match="on again already"):
        begin_try(again, 1, debt.role)
    again.close()
