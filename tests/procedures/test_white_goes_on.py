"""White does not end where grey reads otherwise than it did: it goes on from there."""

from collections.abc import Mapping
from dataclasses import replace

import benchmarks.by_hand as evenings
import pytest
from tests.procedures.test_white_balance import plan_for, true_worst

from aequitone.advice.roles import Role
from aequitone.instruments.ports import Bench, ScreenLink
from aequitone.logbook.settings.menus import control_of
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.replay import replay
from aequitone.procedures.runner import Event, NobodyThere, Runner, StepBegun
from aequitone.procedures.steps import Note
from aequitone.procedures.white.plan import LightStep
from aequitone.procedures.white.white_balance import white_balance
from aequitone.standins.bench import build_bench
from aequitone.standins.scenario import load_scenario


def test_white_goes_on_from_how_grey_reads_where_what_it_goes_back_to_was_noted_wrong(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    said: list[str] = []

    class Listens(evenings.Person):
        def hear(self, event: Event) -> None:
            if isinstance(event, StepBegun) and isinstance(event.step, Note):
                said.append(event.step.text)
            super().hear(event)

    stations = {name: evenings.STATIONS[name] for name in ("as found", "white")}
    monkeypatch.setattr(evenings, "Person", Listens)
    monkeypatch.setattr(evenings, "STATIONS", stations | {"proof": ()})
    # A person who slips at every seventh control.
    evening = evenings.run_one("wide-lcd", 20, 0.15)
    assert sum(note.startswith("It does not read as it did there") for note in said) == 1
    assert evening.ladders["white"] < 1.2


class Tinting:
    """A screen whose light output tints grey the first time it is turned."""

    name = "link"

    def __init__(self, link: ScreenLink) -> None:
        self.link, self.tinted = link, False

    def values(self) -> dict[str, int]:
        return self.link.values()

    def turn(self, settings: Mapping[str, int]) -> None:
        told = dict(settings)
        if Role.LIGHT_OUTPUT.key in told and not self.tinted:
            self.tinted = True
            told[Role.GAIN_B.key] = self.link.values()[Role.GAIN_B.key] - 6
        self.link.turn(told)


def test_white_goes_on_where_grey_is_not_right_any_more_once_light_was_set() -> None:
    stand_in = build_bench(load_scenario("demo"), 2)
    stand_in.screen.quieten()
    part = next(c for c in stand_in.screen.controls() if c.role == Role.LIGHT_OUTPUT.key)
    control = control_of(part).state(stand_in.screen.settings()[part.role])
    plan = replace(plan_for(stand_in), light=LightStep(control, 120.0))
    tinting = Tinting(stand_in.link)
    journal = MemoryJournal()
    ports = Bench(stand_in.meter, stand_in.source, tinting, stand_in.clock)
    result = Runner(ports, journal, NobodyThere()).run(white_balance(plan))
    assert tinting.tinted
    assert true_worst(stand_in) < 1.0
    assert "target is met" in result.words
    again, _ = replay(white_balance(plan), journal.recorded())
    assert again is not None
    assert again.words == result.words
