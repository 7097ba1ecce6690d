"""The report: a page for the client and a page of readings, as PDF, with the CSV and the two pictures."""

import io
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from xml.sax.saxutils import escape

from aequitone.colorimetry import xyY_from_xyz
from aequitone.colorimetry.cct import cct_and_duv
from aequitone.handover import words
from aequitone.handover.csv import write_readings
from aequitone.handover.drawings import grey_drawing
from aequitone.handover.errors import NothingToReportError
from aequitone.handover.letters import HOUSE, HOUSE_BOLD, load_fonts, marked_up
from aequitone.handover.open_points import open_points, proof_heading
from aequitone.handover.picture import before_and_after
from aequitone.handover.readings_out import write_cgats
from aequitone.logbook import Logbook
from aequitone.passes import AS_FOUND, COLOURS_FOUND, COLOURS_LEFT, PEAK, PROOF, Snapshot, load_as_given
from aequitone.passes.colours import colours_words
from aequitone.procedures.grey.grey_pass import GreyPass
from aequitone.reference import target_named

# Controls that stand one below another in the list of settings; more stand in further columns.
_ONE_BELOW_ANOTHER = 14


@dataclass(frozen=True)
class ReportFiles:
    """What was written."""

    pdf: Path
    csv: Path
    before: Path | None
    after: Path | None


def make_report(logbook: Logbook, visit_id: int, out: Path, *, glances: bool = False) -> ReportFiles:
    """Write the report of a visit into a folder, of all jobs that were measured, and the readings beside it.

    `glances`: the readings also hold what was read while a control was watched on its way.
    Raises NothingToReportError or LookupError with a sentence.
    """
    jobs = [load_as_given(logbook, visit_id, job.id) for job in logbook.jobs.of(visit_id)]
    measured = [snapshot for snapshot in jobs if snapshot.result(AS_FOUND) is not None]
    if not measured:
        raise NothingToReportError("There is nothing to report yet: grey as found has not been read to its end.")
    out.mkdir(parents=True, exist_ok=True)
    csv = out / "readings.csv"
    write_readings(logbook, measured[0].visit, csv, glances=glances)
    parts = []
    for number, snapshot in enumerate(measured, 1):
        for record in snapshot.passes:
            if record.readings:
                kind = record.kind.replace(" ", "-")
                file = out / f"pass-{record.id}-{kind}.txt"
                write_cgats(logbook, snapshot.visit, record, file, glances=glances)
        parts.append((snapshot, *_pictures_of(snapshot, out, "" if number == 1 else f"-{number}")))
    pdf = out / "report.pdf"
    # Written whole or not at all: a client's report is never half a file.
    content = render(parts)
    fresh = pdf.with_suffix(".new")
    fresh.write_bytes(content)
    fresh.replace(pdf)
    return ReportFiles(pdf, csv, *parts[0][1:])


def _pictures_of(snapshot: Snapshot, out: Path, suffix: str) -> tuple[Path | None, Path | None]:
    """Write the pictures of before and after; None for both where there is no proof."""
    from PIL import Image

    found, proof = snapshot.result(AS_FOUND), snapshot.result(PROOF)
    if found is None or proof is None:
        return None, None
    before, after = out / f"before{suffix}.png", out / f"after{suffix}.png"
    for path, picture in zip((before, after), before_and_after(found, proof), strict=True):
        Image.fromarray(picture).save(path)
    return before, after


def render(parts: Sequence[tuple[Snapshot, Path | None, Path | None]]) -> bytes:
    """Lay out the report of a visit's jobs, two pages each: snapshots with their pictures of before and after."""
    from reportlab.lib.pagesizes import A4
    from reportlab.lib.units import mm
    from reportlab.platypus import PageBreak, SimpleDocTemplate

    buffer = io.BytesIO()
    visit = parts[0][0].visit
    document = SimpleDocTemplate(
        buffer,
        pagesize=A4,
        leftMargin=18 * mm,
        rightMargin=18 * mm,
        topMargin=14 * mm,
        bottomMargin=12 * mm,
        title=f"Calibration of {visit.screen}, {', '.join(snapshot.visit.memory for snapshot, *_ in parts)}",
        author="Aequitone",
    )
    story: list[Any] = []
    for part in parts:
        if story:
            story.append(PageBreak())
        story += _Pages(*part).story(document.width)
    document.build(story)
    return buffer.getvalue()


class _Pages:
    """The two pages of a job, made with ReportLab."""

    def __init__(self, snapshot: Snapshot, before: Path | None, after: Path | None) -> None:
        from reportlab.lib.styles import ParagraphStyle

        load_fonts()
        self._snapshot, self._before, self._after = snapshot, before, after
        self._body = ParagraphStyle("body", fontName=HOUSE, fontSize=8.6, leading=12.4, spaceAfter=3)
        self._small = ParagraphStyle("small", parent=self._body, fontSize=7.2, leading=9.6, textColor="#555555")
        self._head = ParagraphStyle(
            "head", parent=self._body, fontName=HOUSE_BOLD, fontSize=10.5, leading=15, spaceBefore=6
        )
        self._in_table = ParagraphStyle("cell", parent=self._body, fontSize=7.6, leading=9.6, spaceAfter=0)
        self._title = ParagraphStyle("title", parent=self._head, fontSize=16, leading=21, spaceBefore=0)

    def story(self, width: float) -> list[Any]:
        """The page for the client, and that of readings."""
        from reportlab.platypus import PageBreak

        return [*self._client_page(width), PageBreak(), *self._readings_page(width)]

    def _client_page(self, width: float) -> list[Any]:
        snapshot, visit = self._snapshot, self._snapshot.visit
        found, proof = snapshot.result(AS_FOUND), snapshot.result(PROOF)
        assert found is not None
        target = target_named(visit.target)
        story: list[Any] = [
            self._paragraph(f"{visit.screen}: how it was found, and how it was left", self._title),
            self._paragraph(
                f"{visit.client}, {visit.room}. {visit.input}, picture memory “{visit.memory}”, "
                f"{visit.started:%d %B %Y}. Target: {target.label}.",
                self._body,
            ),
            self._paragraph("What was found", self._head),
            self._paragraph(words.found_words(found, target), self._body),
            self._paragraph("What was done", self._head),
            self._paragraph(words.done_words(snapshot), self._body),
        ]
        if (peak := snapshot.result(PEAK)) is not None:
            story += [
                self._paragraph("What the screen can give in HDR", self._head),
                self._paragraph(peak.words, self._body),
                self._table([("To enter in a tone mapping", ""), *peak.to_enter], width, (0.6, 0.4)),
            ]
        if owed := words.owed_words(snapshot):
            story.append(self._paragraph(owed, self._body))
        if proof is not None:
            story += [
                self._paragraph(proof_heading(snapshot), self._head),
                self._paragraph(words.found_words(proof, target), self._body),
                self._paragraph(words.compared_words(found, proof), self._body),
            ]
            held = f"{words.last_look_words(snapshot)} {words.unlooked_words(snapshot)}".strip()
            if held:
                story.append(self._paragraph(held, self._body))
            if self._before and self._after:
                story += self._pictures(width)
            adaptation = words.adaptation_words(found)
            if adaptation:
                story.append(self._paragraph(adaptation, self._body))
        else:
            story.append(
                self._paragraph("No proof pass was made, so nothing is claimed of the result.", self._body)
            )
        if open_ := open_points(snapshot):
            story.append(self._paragraph("What is open", self._head))
            story += [self._paragraph(sentence, self._body) for sentence in open_]
        story += [
            self._paragraph("Settings, to put back or to keep", self._head),
            self._settings(words.settings_rows(snapshot), width),
            self._paragraph(
                "Come again in about six months, or when a device is added or the screen's firmware changes. "
                "To put the screen back as it was found, enter what stands under “As found”.",
                self._small,
            ),
        ]
        return story

    def _settings(self, rows: list[tuple[str, str, str]], width: float) -> Any:
        """Controls as found and as left, in as many columns as keep them on the page."""
        head = ("Control", "As found", "As left")
        columns = min(3, 1 + (len(rows) - 1) // _ONE_BELOW_ANOTHER)
        if columns == 1:
            return self._table([head, *rows], width, (0.5, 0.25, 0.25))
        high = -(-len(rows) // columns)
        filled = [*rows, *[("", "", "")] * (columns * high - len(rows))]
        beside = [filled[at * high : (at + 1) * high] for at in range(columns)]
        lines = [tuple(cell for each in line for cell in (*each, ""))[:-1] for line in zip(*beside, strict=True)]
        heads = tuple(cell for _ in range(columns) for cell in (*head, ""))[:-1]
        own, gap = 1.0 / columns, 0.02
        each = (0.46 * (own - gap), 0.27 * (own - gap), 0.27 * (own - gap), gap)
        shares = (each * columns)[:-1]
        return self._table([heads, *lines], width, shares, names=tuple(range(0, 4 * columns, 4)))

    def _pictures(self, width: float) -> list[Any]:
        from reportlab.platypus import Image, Table

        size = (width / 2 - 6, (width / 2 - 6) * 450 / 720)
        row = [Image(str(path), *size) for path in (self._before, self._after)]
        caption = (
            "A made-up picture as this screen showed it before (left) and shows it now (right), same exposure."
        )
        return [Table([row], colWidths=[width / 2] * 2), self._paragraph(caption, self._small)]

    def _readings_page(self, width: float) -> list[Any]:
        story: list[Any] = [self._paragraph("Readings", self._title)]
        if (first := self._snapshot.result(AS_FOUND)) is not None:
            story.append(grey_drawing(first, self._snapshot.result(PROOF), width))
        for name, found in (
            ("As found", self._snapshot.result(AS_FOUND)),
            ("Proof", self._snapshot.result(PROOF)),
        ):
            if found is not None:
                story += [self._paragraph(name, self._head), self._levels(found, width)]
        story += self._colours(width)
        bench = self._snapshot.visit.bench
        simulated = " These are readings of a simulated screen." if bench.simulated else ""
        story.append(
            self._paragraph(
                "ΔE 2000 and ΔE ITP include light; ± is the standard deviation that the meter's noise gives of "
                f"{self._snapshot.leading}. ΔE is against the target at the screen's own white. "
                f"{words.measured_words(self._snapshot)}{simulated}",
                self._small,
            )
        )
        return story

    def _colours(self, width: float) -> list[Any]:
        """The colours as found and as left side by side, a row each."""
        found, left = (self._snapshot.result(kind) for kind in (COLOURS_FOUND, COLOURS_LEFT))
        shown = left or found
        if shown is None:
            return []
        was = (
            {sample.name: f"{found.errors.de2000[i]:.2f}" for i, sample in enumerate(found.samples)}
            if found
            else {}
        )
        rows: list[tuple[str, ...]] = [
            ("Colour", "x", "y", "cd/m²", "Light %", "Saturation %", "Hue °", "ΔE 2000", "as found")
        ]
        errors, xyY = shown.errors, xyY_from_xyz(shown.xyz)
        for i, sample in enumerate(shown.samples):
            parts = (errors.light[i], errors.saturation[i], errors.hue[i])
            rows.append(
                (
                    sample.name,
                    *(f"{value:.4f}" for value in xyY[i, :2]),
                    f"{xyY[i, 2]:.2f}",
                    *("" if part != part else f"{part:+.1f}" for part in parts),
                    f"{errors.de2000[i]:.2f}",
                    was.get(sample.name, ""),
                )
            )
        name = "Colours as left" if left is not None else "Colours as found"
        return [
            self._paragraph(name, self._head),
            self._paragraph(colours_words(shown), self._body),
            self._table(rows, width, (0.2,) + (0.1,) * 8, numbers=True),
        ]

    def _levels(self, found: GreyPass, width: float) -> Any:
        errors = found.errors
        temperatures = cct_and_duv(found.xyz)
        rows: list[tuple[str, ...]] = [
            ("Level %", "X", "Y cd/m²", "Z", "Light %", "CCT K", "Duv", "ΔE 2000", "ΔE ITP", "±")
        ]
        differences = (errors.de2000, errors.deitp, errors.by(found.formula)[1])
        for i, percent in enumerate(found.percents):
            kelvin, duv = temperatures[i]
            dark = percent == 0.0
            rows.append(
                (
                    f"{percent:g}",
                    *(f"{value:.4g}" for value in found.xyz[i]),
                    "" if errors.light[i] != errors.light[i] else f"{errors.light[i]:+.1f}",
                    "" if dark or kelvin != kelvin else f"{kelvin:.0f}",
                    "" if dark or duv != duv else f"{duv:+.4f}",
                    *("" if value[i] != value[i] else f"{value[i]:.2f}" for value in differences),
                )
            )
        return self._table(rows, width, (0.1,) * 10, numbers=True)

    def _table(
        self,
        rows: list[tuple[str, ...]],
        width: float,
        shares: tuple[float, ...],
        *,
        numbers: bool = False,
        names: tuple[int, ...] = (0,),
    ) -> Any:
        """A table with its head; `numbers`: every column is of figures, else those in `names` are of words."""
        from reportlab.lib.colors import HexColor
        from reportlab.platypus import Table, TableStyle

        # Names of controls and memories are a person's own words, in whatever letters.
        cells = [[self._cell(words) for words in row] for row in rows]
        table = Table(cells, colWidths=[width * share for share in shares], rowHeights=12.6, repeatRows=1)
        table.setStyle(
            TableStyle(
                [
                    ("FONT", (0, 0), (-1, -1), HOUSE, 7.6),
                    ("FONT", (0, 0), (-1, 0), HOUSE_BOLD, 7.6),
                    ("LINEBELOW", (0, 0), (-1, 0), 0.6, HexColor("#444444")),
                    ("LINEBELOW", (0, 1), (-1, -1), 0.2, HexColor("#cccccc")),
                    ("ALIGN", (0, 0), (-1, -1), "RIGHT"),
                    *((("ALIGN", (at, 0), (at, -1), "LEFT") for at in names) if not numbers else ()),
                    ("VALIGN", (0, 0), (-1, -1), "MIDDLE"),
                ]
            )
        )
        return table

    def _cell(self, words: str) -> Any:
        """Words of a table as they are, or a paragraph where another font must help out."""
        marked = marked_up(words)
        return words if marked == escape(words) else self._paragraph(words, self._in_table)

    @staticmethod
    def _paragraph(text: str, style: Any) -> Any:
        from reportlab.platypus import Paragraph

        return Paragraph(marked_up(text, bold=style.fontName == HOUSE_BOLD), style)
