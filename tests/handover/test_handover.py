"""What is handed over: pages, words, pictures, figures."""

import csv
from collections.abc import Callable
from dataclasses import replace
from datetime import datetime
from pathlib import Path

import numpy as np
import pytest
from pypdf import PdfReader
from pypdfium2 import PdfDocument

from aequitone.advice.technology import Technology
from aequitone.colorimetry import D65
from aequitone.handover import words
from aequitone.handover.errors import NothingToReportError
from aequitone.handover.picture import before_and_after, screen_light
from aequitone.handover.report import make_report
from aequitone.handover.summary import grey_summary
from aequitone.logbook import Logbook, VisitRecord
from aequitone.logbook.shelf import CorrectionRecord
from aequitone.passes import AS_FOUND, PROOF, begin, carry_out, load_snapshot
from aequitone.procedures.grey.grey_pass import GreyPass
from aequitone.procedures.runner import NobodyThere
from aequitone.procedures.steps import Purpose
from aequitone.reference import TARGETS, grey_errors, target_named
from aequitone.signal import grey_levels
from aequitone.signal.pictures.scene import still_life
from aequitone.standins.bench import StandInBench

TARGET = TARGETS["rec709-2.2"]
LEVELS = grey_levels(11)


def grey(factors: tuple[float, float, float] = (1.0, 1.0, 1.0), black: float = 0.05, sd: float = 0.0) -> GreyPass:
    """A pass over a made-up screen whose X, Y, Z are off by factors."""
    xyz = TARGET.grey(LEVELS, 100.0) * factors + D65.xyz(black)
    spread = np.full_like(xyz, sd)
    errors = grey_errors(LEVELS, xyz, TARGET, white=float(xyz[0, 1]), black=black, sd=spread)
    return GreyPass(LEVELS, xyz, spread, errors, 0.0)


def pages_of(pdf: Path) -> list[str]:
    """The words of each page, line breaks gone."""
    return [" ".join(page.extract_text().split()) for page in PdfReader(pdf).pages]


def test_the_report_has_a_page_for_the_client_a_page_to_keep_and_the_measurements(
    logbook: Logbook, whole_visit: VisitRecord, tmp_path: Path
) -> None:
    files = make_report(logbook, whole_visit.id, tmp_path / "out")
    client, keep, *technical = pages_of(files.pdf)
    snapshot = load_snapshot(logbook, whole_visit.id)
    for phrase in ("Norvane K55", "Fernhollow Hall", "grey leaned cool", "Now grey", "yellowish for a day or two"):
        assert phrase in client
    assert "ΔE" not in client
    for name, found, left in words.settings_rows(snapshot):
        assert f"{name} {found} {left}" in keep
    assert "Sooner when" in keep
    measured = " ".join(technical)
    for phrase in ("What was found Grey leans cool", "How it is now", "fell from", "As found", "simulated screen"):
        assert phrase in measured
    assert snapshot.result(PROOF) is not None
    assert f"{snapshot.result(PROOF).errors.de2000[0]:.2f}" in measured
    assert files.before is not None
    assert files.before.stat().st_size > 1000


def filled(pdf: Path) -> list[float]:
    """How far down each page goes, as a share of its height; its foot is left out."""
    shares = []
    for page in PdfDocument(pdf):
        ink = (np.asarray(page.render(scale=0.5).to_pil().convert("L")) < 250).any(axis=1)
        above = ink[: int(len(ink) * (1.0 - 44.0 / page.get_height()))]
        shares.append(float(np.flatnonzero(above).max()) / len(ink))
    return shares


def test_the_report_embeds_its_fonts_has_bookmarks_and_no_nearly_empty_page(
    logbook: Logbook, whole_visit: VisitRecord, tmp_path: Path
) -> None:
    files = make_report(logbook, whole_visit.id, tmp_path)
    reader = PdfReader(files.pdf)
    for page in reader.pages:
        for font in page["/Resources"]["/Font"].values():
            assert "/FontFile2" in font.get_object()["/FontDescriptor"], font
    headings = [entry.title for entry in reader.outline if not isinstance(entry, list)]
    assert headings == [
        "Norvane K55: what was found, and how it was left",
        "To keep",
        "Measurements: Film night, HDMI 2",
    ]
    assert all(share > 0.33 for share in filled(files.pdf)[:-1])


@pytest.mark.parametrize("name", ["television", "hdr-film", "projector"])
def test_the_reports_in_the_docs_have_no_nearly_empty_page(name: str) -> None:
    pdf = Path(__file__).parents[2] / "docs" / "reports" / f"{name}.pdf"
    assert all(share > 0.33 for share in filled(pdf)[:-1])
    for page in PdfReader(pdf).pages:
        for font in page["/Resources"]["/Font"].values():
            assert "/FontFile2" in font.get_object()["/FontDescriptor"], font


def test_every_reading_is_in_the_csv(logbook: Logbook, whole_visit: VisitRecord, tmp_path: Path) -> None:
    files = make_report(logbook, whole_visit.id, tmp_path)
    with files.csv.open(encoding="utf-8") as file:
        rows = list(csv.DictReader(file))
    taken = [r for record in logbook.passes(whole_visit.id) for r in logbook.readings(record.id)]
    assert [float(row["Y_cd_m2"]) for row in rows] == pytest.approx([r.Y for r in taken], rel=1e-5)
    assert {row["kind"] for row in rows} == {"as found", "white", "proof"}


def test_glances_are_written_only_where_they_are_asked_for(
    logbook: Logbook, whole_visit: VisitRecord, bench: Callable[[int], StandInBench], tmp_path: Path
) -> None:
    passes = {record.kind: record for record in logbook.passes(whole_visit.id)}
    white = passes["white"]
    before = logbook.readings(white.id)
    journal = logbook.journal(white.id, bench(4).clock, "test")
    glances = [replace(before[0], purpose=Purpose.WATCH, repeats=1) for _ in range(40)]
    for seq, glance in enumerate(glances, 10_000):
        journal.reading(seq, glance)

    def rows(folder: str, *, asked: bool) -> tuple[list[str], str]:
        files = make_report(logbook, whole_visit.id, tmp_path / folder, glances=asked)
        with files.csv.open(encoding="utf-8") as file:
            purposes = [row["purpose"] for row in csv.DictReader(file) if row["kind"] == "white"]
        return purposes, (tmp_path / folder / f"pass-{white.id}-white.txt").read_text("utf-8")

    purposes, cgats = rows("usual", asked=False)
    assert len(purposes) == len(before)
    assert "watch" not in purposes
    assert f"NUMBER_OF_SETS {len(before)}\n" in cgats
    purposes, cgats = rows("asked", asked=True)
    assert len(purposes) == len(before) + len(glances)
    assert f"NUMBER_OF_SETS {len(purposes)}\n" in cgats


def test_nothing_read_is_nothing_to_report(logbook: Logbook, visit: VisitRecord, tmp_path: Path) -> None:
    with pytest.raises(NothingToReportError, match="nothing to report yet"):
        make_report(logbook, visit.id, tmp_path / "out")
    assert not (tmp_path / "out").exists()


def test_without_a_proof_nothing_is_claimed(
    logbook: Logbook, visit: VisitRecord, bench: Callable[[int], StandInBench], tmp_path: Path
) -> None:
    carry_out(logbook, begin(logbook, visit.id, AS_FOUND), bench(4).bench(), NobodyThere())
    files = make_report(logbook, visit.id, tmp_path)
    client, _, *technical = pages_of(files.pdf)
    assert "nothing is said of the result" in client
    assert "Nothing was turned" in client
    assert "No proof pass was made" in " ".join(technical)
    assert files.before is None


def test_a_cool_screen_is_called_cool_and_the_client_told_of_yellow() -> None:
    cool = grey((0.97, 1.0, 1.2))
    told = words.found_words(cool, TARGET)
    assert "Grey leans cool" in told
    # What the average looks like is said beside it, and not beside the worst level.
    assert "less the meter's noise: an error that is plainly visible. At its worst, at " in told
    assert "yellowish for a day or two" in words.adaptation_words(cool)
    assert words.adaptation_words(grey()) == ""


def test_a_change_below_the_noise_is_called_no_change() -> None:
    assert "no change that the meter can tell" in words.compared_words(
        grey(sd=0.2), grey((1.0005, 1.0, 1.0), sd=0.2)
    )
    assert "fell from" in words.compared_words(grey((0.95, 1.0, 1.1)), grey())


def test_black_under_the_floor_claims_no_contrast() -> None:
    assert "too little for the meter" in words.found_words(grey(black=0.001, sd=0.01), TARGET)
    assert ":\N{NO-BREAK SPACE}1" in words.found_words(grey(black=0.05, sd=0.001), TARGET)


def test_another_tone_than_the_targets_is_said_before_white() -> None:
    assert words.tone_words(grey(), preset=True) == ""
    xyz = TARGETS["rec709-2.4"].grey(LEVELS, 100.0)
    errors = grey_errors(LEVELS, xyz, TARGET, white=100.0)
    other = GreyPass(LEVELS, xyz, np.zeros_like(xyz), errors, 0.0)
    for preset, advice in (
        (True, "the nearer gamma setting at Prepare"),
        (False, "a target of gamma 2.4 lies nearer"),
    ):
        told = words.tone_words(other, preset=preset)
        assert "gamma 2.40 where the target asks for 2.20" in told
        assert advice in told


def test_a_right_screen_shows_the_picture_as_it_is() -> None:
    # Between 10 % levels the course is a power law's: codes differ by what rounding leaves.
    right = screen_light(grey(black=0.0))
    shown, _ = before_and_after(right, right)
    linear = still_life() ** 2.2
    srgb = np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * linear ** (1 / 2.4) - 0.055)
    assert np.abs(shown / 255.0 - srgb).max() < 0.01


def test_before_is_bluer_than_after_under_one_exposure() -> None:
    before, after = before_and_after(screen_light(grey((0.95, 1.0, 1.3))), screen_light(grey()))
    assert before.shape == after.shape == (450, 720, 3)
    blueness = [float((p[..., 2].astype(float) - p[..., 0]).mean()) for p in (before, after)]
    assert blueness[0] > blueness[1] + 5


def test_a_summary_holds_no_nan() -> None:
    levels = grey_summary(grey())["levels"]
    assert levels[-1]["percent"] == 0.0
    assert levels[-1]["light_percent"] is None
    assert grey_summary(None) is None


def test_how_it_was_measured_is_told_with_correction_and_refresh(logbook: Logbook, visit: VisitRecord) -> None:
    kept = logbook.shelf.keep_correction(
        CorrectionRecord(
            0,
            "Field 1",
            "Reference 2",
            Technology.LED_LCD,
            "",
            "four colours",
            np.eye(3),
            0.0007,
            0.1,
            datetime(2026, 11, 1),
        )
    )
    chosen = replace(visit.bench, correction_id=kept.id, meter_mode="plasma", refresh_every=40.0)
    logbook.choose_bench(visit.id, chosen)
    told = words.measured_words(load_snapshot(logbook, visit.id))
    assert told.startswith("Measured with a simulated meter set to plasma, 10 % window, 10-bit limited.")
    assert "corrected by Reference 2 (four colours" in told
    assert "leaves up to 0.0007 in u'v'" in told
    assert told.endswith("Refresh fields every 40 s kept the panel from dimming.")


def test_what_lies_beyond_the_screen_is_said_and_is_no_error() -> None:
    told = words.reach_words(target_named("p3in2020-pq/added"), 600.0)
    # 600 cd/m² is about 70 % of a PQ signal.
    assert told.startswith("Above 70 % the signal means more light than the screen has: there it is cut off")
    rolled = words.reach_words(target_named("p3in2020-pq4000"), 600.0)
    assert "is rolled off" in rolled
    assert int(rolled.split()[1]) < 70
    assert words.reach_words(TARGET, 100.0) == ""
    assert words.reach_words(target_named("p3in2020-pq1000"), 1_200.0) == ""
