"""Near black by hand: biases that stood elsewhere than noted, and a way back that slips."""

from collections.abc import Mapping
from dataclasses import replace

import pytest
from tests.procedures.test_stood_elsewhere import Looks, LooksWhenTold, noted_wrong, run
from tests.procedures.tone_benches import bench_of, plan_for, white_set

from aequitone.advice.by_hand.standing import Standing
from aequitone.advice.moves import Move
from aequitone.advice.roles import BIASES, Role
from aequitone.logbook.settings.menus import control_of
from aequitone.procedures.tone import near_black as near_black_module
from aequitone.procedures.tone.tone import TonePlan, tone
from aequitone.standins.bench import StandInBench


def biases_up() -> tuple[StandInBench, Mapping[str, int], TonePlan]:
    """A screen whose biases all stand four steps too high, its settings, and near black as a person sets it."""
    stand_in = bench_of("quantum-lcd", sag=0.0)
    white_set(stand_in)
    stand_in.screen.turn({role.key: stand_in.screen.settings()[role.key] + 4 for role in BIASES})
    plan = replace(plan_for(stand_in, near_black=True), points=(), percents=(), by_hand=True)
    return stand_in, stand_in.screen.settings(), plan


@pytest.mark.parametrize("by", [-9, 9])
def test_biases_go_together_near_black_from_where_they_really_stood(by: int) -> None:
    stand_in, before, plan = biases_up()
    plan = replace(plan, biases=noted_wrong(plan.biases, by, Role.BIAS_B))
    person = Looks(stand_in)
    state, _ = run(stand_in, stand_in.bench(by_link=False), lambda: tone(plan), person)
    assert person.said == 1
    after = stand_in.screen.settings()
    (steps,) = {after[role.key] - before[role.key] for role in BIASES}
    assert steps < 0
    assert {c.role.key: c.value for c in state.foot.biases} == {role.key: after[role.key] for role in BIASES}


@pytest.mark.parametrize("by", [-9, 9])
def test_biases_that_cost_too_much_go_back_to_where_they_really_stood(
    monkeypatch: pytest.MonkeyPatch, by: int
) -> None:
    stand_in, before, plan = biases_up()
    plan = replace(plan, biases=noted_wrong(plan.biases, by, Role.BIAS_B))
    # A ladder of which no level may be worse at all.
    monkeypatch.setattr(near_black_module, "_NOT_ON_AVERAGE", -10.0)
    run(stand_in, stand_in.bench(by_link=False), lambda: tone(plan), Looks(stand_in))
    assert stand_in.screen.settings() == before


class SlipsOnTheWayBack(LooksWhenTold):
    """Turns blue's bias too far, or another control instead of it, when near black goes back."""

    def __init__(self, bench: StandInBench, instead: Role) -> None:
        super().__init__(bench)
        self.instead = instead

    def turn(self, move: Move) -> Standing | None:  # type: ignore[override]
        blue = next((change for change in move.changes if change.role == Role.BIAS_B), None)
        if not move.undoes or blue is None:
            return super().turn(move)
        to = {change.role.key: change.to_value for change in move.changes if change is not blue}
        ends = {**self.bench.screen.settings(), Role.BIAS_B.key: blue.to_value}
        self.bench.screen.turn({**to, self.instead.key: ends[self.instead.key] + 8})
        return None


@pytest.mark.parametrize("instead", [Role.BIAS_B, Role.GAIN_B])
def test_near_black_that_does_not_read_as_it_did_is_looked_at(
    monkeypatch: pytest.MonkeyPatch, instead: Role
) -> None:
    stand_in, before, plan = biases_up()
    gains = [c for c in stand_in.screen.controls() if c.role.startswith("gain-")]
    plan = replace(plan, beside=tuple(control_of(c).state(before[c.role]) for c in gains))
    monkeypatch.setattr(near_black_module, "_NOT_ON_AVERAGE", -10.0)
    person = SlipsOnTheWayBack(stand_in, instead)
    _, accused = run(stand_in, stand_in.bench(by_link=False), lambda: tone(plan), person)
    assert ["Near black" in words for words in accused] == [True]
    assert stand_in.screen.settings() == before
