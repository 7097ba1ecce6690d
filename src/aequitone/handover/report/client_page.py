"""The first page: for the client, without the words of the trade."""

from collections.abc import Sequence
from typing import Any

from aequitone.handover.client_words import apart_words, before_of, first_days, three_sentences
from aequitone.handover.letters import HOUSE
from aequitone.handover.open_points import open_points
from aequitone.handover.picture import Exposure
from aequitone.handover.report.drawings import greys_drawing
from aequitone.handover.report.part import Part, lights
from aequitone.handover.report.sheet import Sheet
from aequitone.logbook.records import local_time
from aequitone.passes import PROOF
from aequitone.reference import target_named

_PICTURE_SHAPE, _BETWEEN = 450 / 720, 8.0


def client_page(sheet: Sheet, parts: Sequence[Part], exposure: Exposure) -> list[Any]:
    """The picture before and after, grey before and after, three sentences, what to expect, what is open."""
    from reportlab.platypus import Spacer

    main = _main(parts)
    snapshot, visit = main.snapshot, main.snapshot.visit
    story = [
        sheet.heading(f"{visit.screen}: what was found, and how it was left", title=True),
        sheet.words(f"{visit.client}, {visit.room}. {local_time(visit.started):%d %B %Y}. {main.name}."),
    ]
    if main.before is not None and main.after is not None:
        story += _pictures(sheet, main, exposure)
    grey, proof = before_of(snapshot)[0], snapshot.result(PROOF)
    first, last = lights(snapshot)
    if grey is not None and first is not None:
        story += [
            greys_drawing(first, last, (grey, proof), sheet.width),
            sheet.words("Grey from black to white, and the size of its error at each step.", sheet.small),
            Spacer(0, 5),
        ]
    story += [sheet.words(sentence, sheet.lead) for sentence in three_sentences(snapshot)]
    if days := first_days(snapshot):
        story += [sheet.heading("In the first days"), sheet.words(days)]
    if visit.notes.strip():
        story += [sheet.heading("A word from your calibrator"), sheet.words(visit.notes.strip())]
    story += _other_jobs(sheet, parts)
    for part in parts:
        story += _open(sheet, part, named=len(parts) > 1)
    return story


def _main(parts: Sequence[Part]) -> Part:
    """The job that the page is about: the first whose pictures are there, or the first."""
    return next((part for part in parts if part.before is not None), parts[0])


def _pictures(sheet: Sheet, part: Part, exposure: Exposure) -> list[Any]:
    from reportlab.platypus import Image, Spacer, Table, TableStyle

    wide = (sheet.width - _BETWEEN) / 2.0
    row = [Image(str(path), wide, wide * _PICTURE_SHAPE) for path in (part.before, part.after)]
    table = Table([[row[0], "", row[1]]], colWidths=[wide, _BETWEEN, wide])
    none: list[Any] = [("FONT", (0, 0), (-1, -1), HOUSE, 8)]
    none += [(f"{side}PADDING", (0, 0), (-1, -1), 0) for side in ("LEFT", "RIGHT", "TOP", "BOTTOM")]
    table.setStyle(TableStyle(none))
    was = "as it had been watched" if before_of(part.snapshot)[2] else "as it was found"
    caption = f"A made-up picture on this screen: {was} (left), and now (right); {exposure.words}."
    return [Spacer(0, 4), table, Spacer(0, 3), sheet.words(caption, sheet.small)]


def _other_jobs(sheet: Sheet, parts: Sequence[Part]) -> list[Any]:
    """All memories with what became of each, where there are several."""
    if len(parts) < 2:
        return []
    rows = [("Memory", "What it is for", "Error before", "Error now")]
    for part in parts:
        grey, proof = before_of(part.snapshot)[0], part.snapshot.result(PROOF)
        target = target_named(part.snapshot.visit.target)
        before, now = (f"{each.mean:.1f}" if each is not None else "not measured" for each in (grey, proof))
        rows.append((part.name, target.label, before, now))
    table = sheet.table(rows, (0.32, 0.42, 0.13, 0.13), names=(0, 1))
    apart = [words for part in parts[1:] if (words := apart_words(part.snapshot, parts[0].snapshot))]
    said = sheet.words("Error of grey, on average, each against what its memory is for.", sheet.small)
    return [sheet.heading("Each memory"), table, said, *(sheet.words(words) for words in apart)]


def _open(sheet: Sheet, part: Part, *, named: bool) -> list[Any]:
    points = open_points(part.snapshot)
    if not points:
        return []
    heading = f"What is open: {part.name}" if named else "What is open"
    return [sheet.heading(heading), *(sheet.words(sentence) for sentence in points)]
