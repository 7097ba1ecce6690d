"""An HDR memory by link: what Peak finds, up to where grey is adjusted, and what comes of it in truth."""

import json
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from benchmarks.hdr import MEMORY, TARGET, errors_of, true_knee
from pypdf import PdfReader
from tests.passes.test_results import same

from aequitone.advice.answers.shoulder import ShoulderKind
from aequitone.advice.roles import BIASES, GAINS, Role
from aequitone.colorimetry import P3, REC2020, Formula
from aequitone.colorimetry.transfer import pq_light
from aequitone.handover.incoming.jobs import JobWish
from aequitone.handover.report import make_report
from aequitone.headless import run
from aequitone.logbook import Logbook, open_logbook
from aequitone.logbook.standin_visit import begin_standin_visit, note_as_found
from aequitone.passes import (
    AS_FOUND,
    COLOURS_FOUND,
    PEAK,
    TONE,
    WHITE,
    NotReadyError,
    begin,
    carry_out,
    colour_plan,
    from_json,
    load_snapshot,
    shoulder_of,
    to_json,
)
from aequitone.passes.hdr import solved_pair, solved_target, solved_top
from aequitone.procedures.colour.colour_pass import ColourPass
from aequitone.procedures.hdr.peak import WINDOWS, PeakPass
from aequitone.procedures.runner import NobodyThere
from aequitone.reference import target_named
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import load_scenario

UNIT = 4


def visited(folder: Path, name: str, target: str = TARGET) -> tuple[Logbook, int, StandInBench]:
    """A visit to the HDR memory of a unit whose gains and biases are off, all that is automatic being off."""
    scenario = load_scenario(name)
    visit = scenario.visit.model_copy(update={"target": target, "memory": MEMORY})
    scenario = scenario.model_copy(update={"visit": visit})
    logbook, bench = open_logbook(folder / "logbook.sqlite"), build_bench(scenario, UNIT)
    bench.clock.sleep(5400.0)
    begun = begin_standin_visit(logbook, scenario, name, UNIT)
    logbook.choose_bench(begun.id, replace(begun.bench, depth=10))
    bench.screen.choose_memory(begun.input, MEMORY)
    bench.screen.quieten()
    stands = bench.screen.settings()
    off = dict(zip((role.key for role in GAINS + BIASES), (5, -4, 3, -3, 4, -2), strict=True))
    bench.screen.turn({role: stands[role] + by for role, by in off.items()} | {Role.LIGHT_OUTPUT.key: 100})
    note_as_found(logbook, logbook.visit(begun.id), bench.link.values())
    return logbook, begun.id, bench


@pytest.mark.parametrize("name", ["quantum-lcd", "rgb-oled"])
def test_an_hdr_memory_is_brought_to_pq_up_to_its_knee(name: str, tmp_path: Path) -> None:
    logbook, visit_id, bench = visited(tmp_path, name)
    target, (knee, kind) = target_named(TARGET), true_knee(bench.scenario)
    before = errors_of(bench, target, logbook.visit(visit_id).bench.format, knee)
    results = {}
    for each in (AS_FOUND, PEAK, WHITE, TONE):
        prepared = begin(logbook, visit_id, each)
        results[each.key] = carry_out(logbook, prepared, bench.bench(), NobodyThere())
    after = errors_of(bench, target, logbook.visit(visit_id).bench.format, knee)
    assert np.nanmean(before) > 6.0
    assert np.nanmean(after) < 2.5
    snapshot = load_snapshot(logbook, visit_id)
    assert snapshot.leading is Formula.ITP
    assert snapshot.visit.stop_at == 1.0
    peak = snapshot.result(PEAK)
    assert isinstance(peak, PeakPass)
    shoulder = shoulder_of(snapshot)
    assert shoulder == peak.shoulder
    assert shoulder is not None
    assert shoulder.kind.name == kind
    assert shoulder.knee == pytest.approx(knee, abs=0.01)
    assert [share for share, _, _ in peak.windows] == list(WINDOWS)
    assert peak.usual == pytest.approx(bench.scenario.screen.peak_cd_m2, rel=0.12)
    assert same(from_json(PeakPass, to_json(peak)), peak)
    # White's levels and the brightest of Tone's lie where the screen controls its light.
    white = results[WHITE.key].state
    assert white.percents[1] <= 100.0 * knee
    ladder = results[TONE.key].ladder
    beyond = [p for p in ladder.percents if p > 100.0 * knee]
    assert len(beyond) <= 2
    assert snapshot.revised_words(WHITE) == snapshot.revised_words(PEAK) == ""
    logbook.close()


@pytest.mark.parametrize(("name", "light"), [("quantum-lcd", 100.0), ("laser-projector", 35.0)])
def test_colours_of_hdr_are_those_of_p3_in_their_container(name: str, light: float, tmp_path: Path) -> None:
    logbook, visit_id, bench = visited(tmp_path, name)
    for each in (AS_FOUND, PEAK, WHITE):
        carry_out(logbook, begin(logbook, visit_id, each), bench.bench(), NobodyThere())
    snapshot = load_snapshot(logbook, visit_id)
    plan = colour_plan(snapshot)
    assert (plan.formula, plan.light) == (Formula.ITP, pytest.approx(light, abs=5.0))
    red = next(sample for sample in plan.samples if sample.colour == "red" and sample.saturation == 100.0)
    # Full red of P3 needs a little green of Rec.2020, and no blue.
    linear = pq_light(np.array(red.signal) / 100.0)
    assert P3.rgb(REC2020.xyz(linear))[0] == pytest.approx(plan.light, rel=0.02)
    assert np.abs(P3.rgb(REC2020.xyz(linear))[1:]).max() < 0.02 * plan.light
    found = carry_out(logbook, begin(logbook, visit_id, COLOURS_FOUND), bench.bench(), NobodyThere())
    white = snapshot.result(PEAK).usual
    signals = np.array([sample.signal for sample in found.samples]).max(axis=1) / 100.0
    beyond = pq_light(signals) > white * 1.02
    assert np.isnan(found.errors.deitp[beyond]).all()
    assert beyond.any() is np.bool_(white < 400.0)
    mean, sd = found.mean(everyday=False)
    assert 0.5 < mean < 8.0
    assert 0.0 < sd < 0.5
    assert "ΔE ITP" in COLOURS_FOUND.words(found)
    assert same(from_json(ColourPass, to_json(found)), found)
    logbook.close()


def test_without_peak_the_ladder_as_found_tells_the_knee(tmp_path: Path) -> None:
    logbook, visit_id, bench = visited(tmp_path, "rgb-oled")
    assert shoulder_of(load_snapshot(logbook, visit_id)) is None
    carry_out(logbook, begin(logbook, visit_id, AS_FOUND), bench.bench(), NobodyThere())
    snapshot = load_snapshot(logbook, visit_id)
    shoulder = shoulder_of(snapshot)
    assert shoulder is not None
    # A ladder of tenths leaves it in doubt, and then the cautious side is taken.
    knee = true_knee(bench.scenario)[0]
    assert knee - 0.15 < shoulder.knee < knee + 0.01
    assert shoulder.knee_sd > 0.01
    assert solved_target(snapshot).name.startswith("p3in2020-pqto")
    logbook.close()


def test_peak_and_levels_have_each_their_signal(tmp_path: Path) -> None:
    logbook, visit_id, _ = visited(tmp_path, "rgb-oled", "rec2020-hlg")
    snapshot = load_snapshot(logbook, visit_id)
    assert not PEAK.fits(snapshot)
    assert "Peak is for PQ" in PEAK.misfit(snapshot)
    assert WHITE.fits(snapshot)
    assert shoulder_of(snapshot) is None
    with pytest.raises(NotReadyError, match="Peak is for PQ"):
        begin(logbook, visit_id, PEAK)
    logbook.close()


@pytest.mark.parametrize(
    ("white", "wanted"),
    [(10_000.0, (80.0, 15.0)), (700.0, (70.0, 15.0)), (110.0, (50.0, 12.0)), (5.0, (20.0, 10.0))],
)
def test_bright_and_dark_lie_below_what_the_screen_reaches(white: float, wanted: tuple[float, float]) -> None:
    target = target_named("p3in2020-pq/added")
    assert solved_pair((80.0, 30.0), target, white, 10.0) == wanted
    sdr = target_named("rec709-2.2/added")
    assert solved_pair((80.0, 30.0), sdr, white, 10.0) == (80.0, 30.0)
    assert solved_top(target, white, (100.0, 90.0, 20.0)) == (100.0 if white > 3_000.0 else 90.0)


def test_what_peak_says(tmp_path: Path) -> None:
    found = PeakPass(
        windows=((0.04, 900.0, 1.0), (0.1, 640.0, 1.0), (1.0, 120.0, 0.2)),
        recovered=0.93,
        held=((0.0, 1.0), (30.0, 0.9)),
        darkest=2.0,
        darkest_light=0.0123,
    )
    assert found.advised[0] == 0.04
    assert found.to_enter[0] == ("Peak, 10 % window", "640 cd/m²")
    assert found.to_enter[1:] == (
        ("Peak, full field", "120 cd/m²"),
        ("Darkest grey seen", "0.0123 cd/m²"),
    )
    assert "held back to 71 %" in found.words
    assert "loses 10 %" in found.words
    assert "93 % of its light" in found.words
    assert ShoulderKind.NONE.value not in found.words


def test_an_evening_of_sdr_and_hdr_without_a_window_tells_the_truth_of_each(tmp_path: Path) -> None:
    jobs = (
        JobWish(input="HDMI 1", memory="Night", target="rec709-2.4/added"),
        JobWish(input="HDMI 1", memory="HDR film", target=TARGET, depth_bit=10),
    )
    path = run("rgb-oled", tmp_path / "out", seed=2, jobs=jobs, whole=True, say=lambda _words: None)
    told = json.loads(path.read_text("utf-8"))
    sdr, hdr = told["jobs"]
    assert sdr["peak"] is None
    assert sdr["truth"]["ladder_mean_de2000_after"] < sdr["truth"]["ladder_mean_de2000_before"]
    assert hdr["truth"]["ladder_mean_deitp_after"] < hdr["truth"]["ladder_mean_deitp_before"]
    assert hdr["peak"]["curve"] == ShoulderKind.CLIP.value
    assert hdr["peak"]["windows"][-1]["share"] == 1.0
    assert hdr["proof"]["formula"] == "ΔE ITP"
    beyond = [level["percent"] for level in hdr["proof"]["levels"] if level["beyond"]]
    white = hdr["proof"]["white_cd_m2"]
    assert beyond == [percent for percent in range(100, -1, -10) if pq_light(percent / 100.0) > white]
    assert all(level["deitp"] is None for level in hdr["proof"]["levels"] if level["beyond"])
    # What lies beyond is not in the average.
    within = [level["deitp"] for level in hdr["proof"]["levels"] if level["deitp"] is not None]
    assert hdr["proof"]["mean"] == pytest.approx(sum(within) / len(within), rel=0.05)
    logbook = open_logbook(tmp_path / "out" / "logbook.sqlite")
    report = make_report(logbook, 1, tmp_path / "report")
    logbook.close()
    text = " ".join(" ".join(page.extract_text().split()) for page in PdfReader(report.pdf).pages)
    assert "What the screen can give in HDR" in text
    assert "Peak, full field" in text
