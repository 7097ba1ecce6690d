"""The technical part of the report: drawings, figures, with what and how well it was measured."""

from typing import Any

from aequitone.colorimetry import xyY_from_xyz
from aequitone.colorimetry.cct import cct_and_duv
from aequitone.figures import signed
from aequitone.handover import words
from aequitone.handover.open_points import proof_heading
from aequitone.handover.report.drawings import colour_drawing, grey_drawing, peak_drawing, tone_drawing
from aequitone.handover.report.part import Part
from aequitone.handover.report.sheet import Sheet
from aequitone.passes import (
    AS_FOUND,
    COLOURS_FOUND,
    COLOURS_LEFT,
    PEAK,
    PROOF,
    ROOM,
    TONE,
    UNIFORMITY,
    WARM_UP,
    WATCHED,
    PassType,
    Snapshot,
    tried_words,
)
from aequitone.passes.colours import colours_words
from aequitone.procedures.colour.colour_pass import ColourPass
from aequitone.procedures.grey.grey_pass import GreyPass
from aequitone.reference import target_named

# Left at the foot of a page for a heading and what belongs to it, in points.
_ROOM_FOR_ONE = 180.0


def technical_pages(sheet: Sheet, part: Part, *, first: bool) -> list[Any]:
    """What was measured for a job; `first`: of the report, which begins a page."""
    from reportlab.platypus import CondPageBreak, PageBreak

    snapshot = part.snapshot
    target = target_named(snapshot.visit.target)
    found, proof = snapshot.result(AS_FOUND), snapshot.result(PROOF)
    assert found is not None
    return [
        PageBreak() if first else CondPageBreak(_ROOM_FOR_ONE * 2.0),
        sheet.heading(f"Measurements: {part.name}", title=True),
        sheet.words(f"Target: {target.label}. {words.measured_words(snapshot)}{_simulated(snapshot)}"),
        *_said(sheet, snapshot),
        *_conditions(sheet, snapshot),
        *_together(
            sheet, "Grey", [grey_drawing(found, proof, sheet.width), tone_drawing(found, proof, sheet.width)]
        ),
        *_levels(sheet, "As found", found),
        *_levels(sheet, "Proof", proof),
        *_near_black(sheet, snapshot),
        *_peak(sheet, snapshot),
        *_colours(sheet, snapshot),
    ]


def _simulated(snapshot: Snapshot) -> str:
    return " These are readings of a simulated screen." if snapshot.visit.bench.simulated else ""


def _said(sheet: Sheet, snapshot: Snapshot) -> list[Any]:
    """What was found, done and proven, in the words of the trade."""
    target = target_named(snapshot.visit.target)
    found, proof = snapshot.result(AS_FOUND), snapshot.result(PROOF)
    assert found is not None
    story = []
    if snapshot.done(WATCHED):
        story += [sheet.heading("As it had been watched"), sheet.words(snapshot.words(WATCHED))]
    story += [
        sheet.heading("What was found"),
        sheet.words(words.found_words(found, target)),
        sheet.heading("What was done"),
        sheet.words(words.done_words(snapshot)),
        *sheet.fact(words.owed_words(snapshot)),
        *(sheet.words(each) for each in tried_words(snapshot).values()),
    ]
    if proof is None:
        return [*story, sheet.words("No proof pass was made, so nothing is claimed of the result.")]
    held = f"{words.last_look_words(snapshot)} {words.unlooked_words(snapshot)}".strip()
    return [
        *story,
        sheet.heading(proof_heading(snapshot)),
        sheet.words(words.found_words(proof, target)),
        sheet.words(words.compared_words(found, proof)),
        *sheet.fact(held),
    ]


def _together(sheet: Sheet, heading: str, drawings: list[Any]) -> list[Any]:
    """A heading with what must stand under it on the same page."""
    from reportlab.platypus import KeepTogether

    return [KeepTogether([sheet.heading(heading), *drawings])]


def _levels(sheet: Sheet, heading: str, found: GreyPass | None) -> list[Any]:
    """The levels of a grey pass, a row each."""
    if found is None:
        return []
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
                signed(float(errors.light[i])),
                "" if dark or kelvin != kelvin else f"{kelvin:.0f}",
                "" if dark or duv != duv else f"{duv:+.4f}",
                *("" if value[i] != value[i] else f"{value[i]:.2f}" for value in differences),
            )
        )
    return _together(sheet, heading, [sheet.table(rows, (0.1,) * 10, numbers=True)])


def _near_black(sheet: Sheet, snapshot: Snapshot) -> list[Any]:
    tone = snapshot.result(TONE)
    if tone is None or tone.foot is None:
        return []
    foot = tone.foot
    rows: list[tuple[str, ...]] = [("Level %", "cd/m²", "±", "wanted", "off %")]
    for percent, light, sd, wanted in zip(foot.percents, foot.light, foot.sd[:, 1], foot.wanted, strict=True):
        off = f"{100.0 * (light / wanted - 1.0):+.0f}" if wanted > 0.0 else ""
        rows.append((f"{percent:g}", f"{light:.4f}", f"{sd:.4f}", f"{wanted:.4f}", off))
    table = sheet.table(rows, (0.2,) * 5, numbers=True)
    return _together(sheet, "Near black, as Tone left it", [table, sheet.words(foot.words)])


def _peak(sheet: Sheet, snapshot: Snapshot) -> list[Any]:
    peak = snapshot.result(PEAK)
    if peak is None:
        return []
    drawings = [peak_drawing(peak, sheet.width)] if peak.windows else []
    return _together(sheet, "What the screen can give in HDR", [sheet.words(peak.words), *drawings])


def _colours(sheet: Sheet, snapshot: Snapshot) -> list[Any]:
    """The colours as found and as left side by side, a row each."""
    found, left = (snapshot.result(kind) for kind in (COLOURS_FOUND, COLOURS_LEFT))
    shown = left or found
    if shown is None:
        return []
    was = {sample.name: f"{found.errors.de2000[i]:.2f}" for i, sample in enumerate(found.samples)} if found else {}
    rows: list[tuple[str, ...]] = [
        ("Colour", "x", "y", "cd/m²", "Light %", "Saturation %", "Hue °", "ΔE 2000", "as found")
    ]
    rows += [(*_colour(shown, i), was.get(sample.name, "")) for i, sample in enumerate(shown.samples)]
    name = "Colours as left" if left is not None else "Colours as found"
    head = [sheet.words(colours_words(shown)), colour_drawing(found, left, sheet.width)]
    return [*_together(sheet, name, head), sheet.table(rows, (0.2,) + (0.1,) * 8, numbers=True)]


def _colour(shown: ColourPass, row: int) -> tuple[str, ...]:
    errors, (x, y, Y) = shown.errors, xyY_from_xyz(shown.xyz[row])
    parts = (errors.light[row], errors.saturation[row], errors.hue[row])
    return (
        shown.samples[row].name,
        f"{x:.4f}",
        f"{y:.4f}",
        f"{Y:.2f}",
        *(signed(float(part)) for part in parts),
        f"{errors.de2000[row]:.2f}",
    )


def _conditions(sheet: Sheet, snapshot: Snapshot) -> list[Any]:
    """The screen's warmth, the room, how even the screen is; and what ± means."""
    kinds: tuple[PassType[Any, Any], ...] = (WARM_UP, ROOM, UNIFORMITY)
    told = [snapshot.words(kind) for kind in kinds if snapshot.done(kind)]
    plate = snapshot.visit.plate
    noted = (("hours run", plate.hours), ("firmware", plate.firmware), ("serial", plate.serial))
    of_plate = ", ".join(f"{name} {value}" for name, value in noted if value)
    explained = (
        "ΔE 2000 and ΔE ITP include light; ± is the standard deviation that the meter's noise gives of "
        f"{snapshot.leading}. ΔE is against the target at the screen's own white."
    )
    return [
        sheet.heading("Conditions and uncertainty"),
        *sheet.fact(" ".join(told)),
        *sheet.fact(f"As noted of the screen: {of_plate}." if of_plate else ""),
        sheet.words(explained, sheet.small),
    ]
