"""White by hand: its best setting is gone back to and reads otherwise, as one control had slipped twice unseen."""

import benchmarks.by_hand as evenings
import pytest

from aequitone.procedures.runner import Event, StepBegun
from aequitone.procedures.steps import Note


def test_white_goes_on_from_how_grey_reads_where_what_it_goes_back_to_was_noted_wrong(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    said: list[str] = []

    class Listens(evenings.Person):
        def hear(self, event: Event) -> None:
            if isinstance(event, StepBegun) and isinstance(event.step, Note):
                said.append(event.step.text)
            super().hear(event)

    stations = {name: evenings.STATIONS[name] for name in ("prepare", "as found", "levels", "white")}
    monkeypatch.setattr(evenings, "Person", Listens)
    monkeypatch.setattr(evenings, "STATIONS", stations | {"proof": ()})
    evening = evenings.run_one("wide-lcd", 24, evenings._SLIPS)
    assert sum(note.startswith("It does not read as it did there") for note in said) == 1
    assert evening.ladders["white"] < 1.2
