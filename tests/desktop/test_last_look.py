"""After HDR the finished SDR job is looked at once more: asked for, done by a key, and told to the client."""

from pathlib import Path

from pypdf import PdfReader
from tests.conftest import answer_checklist

from aequitone.advice.roles import Role
from aequitone.desktop.stations.proof.commands import LOOK_AGAIN
from aequitone.handover import words
from aequitone.handover.report import make_report
from aequitone.logbook import Logbook
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.passes import AS_FOUND, LAST_LOOK, PROOF, WHITE, begin, carry_out, load_snapshot, unlooked
from aequitone.procedures.runner import NobodyThere
from aequitone.standins.bench import build_bench
from aequitone.standins.scenario import load_scenario


def test_a_job_that_another_signal_may_have_changed_is_looked_at_again(
    logbook: Logbook, open_on, drive, tmp_path: Path
) -> None:
    scenario = load_scenario("mapping-lcd")
    bench = build_bench(scenario, 3)
    bench.screen.quieten()
    visit = begin_standin_visit(logbook, scenario, "mapping-lcd", 3)
    note_as_found(logbook, visit, bench.link.values())
    answer_checklist(logbook, visit)

    def measure(*kinds) -> None:
        for kind in kinds:
            carry_out(logbook, begin(logbook, visit.id, kind), bench.bench(), NobodyThere())

    measure(AS_FOUND, PROOF)
    first = logbook.visit(visit.id)
    assert unlooked(load_snapshot(logbook, visit.id)) == ()
    logbook.jobs.add(
        visit.id,
        input_=first.input,
        memory="HDR film",
        target="p3in2020-pq/added",
        light=0.0,
        depth=10,
        range_=None,
    )
    # On this screen gains and biases are those of all memories.
    hdr = logbook.visit(visit.id)
    bench.screen.choose_memory(hdr.input, hdr.memory)
    bench.screen.quieten()
    bench.screen.turn({Role.LIGHT_OUTPUT.key: 100, Role.GAIN_R.key: 62})
    note_as_found(logbook, hdr, bench.link.values())
    measure(AS_FOUND, WHITE)
    logbook.jobs.choose(visit.id, first.job_id)
    bench.screen.choose_memory(first.input, first.memory)
    snapshot = load_snapshot(logbook, visit.id)
    assert unlooked(snapshot) == (f"{first.memory}, {first.input}",)
    assert "was not looked at again" in words.unlooked_words(snapshot)
    window = open_on(logbook)
    driver, presenter = drive(window), window.presenter
    presenter.go_to("hand-over")
    assert "was not looked at again" in presenter.view().panel.sentence
    presenter.go_to("proof")
    window.refresh()
    assert LOOK_AGAIN in [key.command for key in presenter.view().panel.keys if key.main]
    # The window has stand-ins of its own, which know nothing of what the bench here has turned.
    standins = presenter.session.instruments.bench(presenter.snapshot.visit.bench).standins
    standins.screen.quieten()
    standins.screen.turn({Role.GAIN_R.key: bench.screen.settings()[Role.GAIN_R.key] + 12})
    driver.press_for(LOOK_AGAIN)
    driver.wait_for_pass()
    looked = presenter.snapshot.result(LAST_LOOK)
    assert looked.moved
    assert "It is not as it was left." in presenter.view().panel.sentence
    assert unlooked(presenter.snapshot) == ()
    report = make_report(logbook, visit.id, tmp_path)
    told = " ".join(" ".join(page.extract_text().split()) for page in PdfReader(report.pdf).pages)
    assert "It is not as it was left." in told
