"""Uniformity over nine places, and black beside white in a checkerboard, against the stand-in's truth."""

import numpy as np
import pytest

from aequitone.instruments.errors import InstrumentError
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.preparation.uniformity import PLACES, Evenness, EvennessPlan, evenness
from aequitone.procedures.runner import NobodyThere, Runner
from aequitone.procedures.steps import Place, StopHere
from aequitone.signal import SignalFormat, board_patch, board_rects, grey_patch, window_rect
from aequitone.standins.bench import build_bench
from aequitone.standins.scenario import load_scenario


def test_the_corners_are_found_as_dark_as_they_are_and_the_meter_hangs_in_the_middle_again() -> None:
    standins = build_bench(load_scenario("wide-lcd"), 3)
    standins.screen.quieten()
    journal = MemoryJournal()
    found = Runner(standins.bench(), journal, NobodyThere()).run(evenness(EvennessPlan(SignalFormat(10))))
    corner = standins.screen.part.uniformity.corner_light_share
    # Two thirds of the way to a corner: light falls with the square of the distance.
    assert found.light[1] == pytest.approx(corner * 100.0 * (2.0 / 3.0) ** 2, abs=1.0)
    assert found.light[2] == pytest.approx(corner * 50.0 * (2.0 / 3.0) ** 2, abs=1.0)
    assert found.light[0] == found.cast[0] == 0.0
    assert standins.meter.spot == (0.0, 0.0)
    assert "Against the middle the light differs most at" in found.words
    assert found.words in journal.notes.values()


def test_it_can_be_ended_early_and_needs_someone_to_hang_the_meter() -> None:
    procedure = evenness(EvennessPlan(SignalFormat()))
    assert next(procedure) == Place(*PLACES[0])
    # There is nothing to end with yet, so the middle is read all the same.
    step = procedure.throw(StopHere())
    assert not isinstance(step, Place)
    standins = build_bench(load_scenario("demo"), 4)
    with pytest.raises(InstrumentError, match="nobody to hang it at the middle"):
        bench = standins.bench()
        Runner(type(bench)(bench.meter, bench.source, None, bench.clock), MemoryJournal(), NobodyThere()).run(
            evenness(EvennessPlan(SignalFormat()))
        )
    assert Evenness(np.array([[95.0, 100.0, 108.0]])).words == "Only the middle was read."


@pytest.mark.parametrize("name", ["white-oled", "lamp-projector"])
def test_a_checkerboard_shows_the_glare_that_a_black_screen_hides(name: str) -> None:
    screen = build_bench(load_scenario(name), 1).screen
    screen.quieten()
    format_ = SignalFormat(10, window=1.0)
    black, beside = (
        float(screen.steady(p)[1]) for p in (grey_patch(0.0, format_), board_patch(format_, white=False))
    )
    white = float(screen.steady(board_patch(format_, white=True))[1])
    glare = screen.part.uniformity.glare_share * white * 13 / 25
    assert beside - black == pytest.approx(glare, rel=0.25)


def test_the_square_in_the_middle_is_one_of_its_colour_and_nearly_half_are() -> None:
    rects = board_rects(1920, 1080, 5)
    assert len(rects) == 13
    middle = window_rect(1920, 1080, 0.001)
    assert any(r.x <= middle.x and middle.x + middle.width <= r.x + r.width and r.y <= middle.y for r in rects)
    assert sum(r.width * r.height for r in rects) / (1920 * 1080) == pytest.approx(13 / 25, abs=1e-3)
