"""The report as a PDF: paper, head and foot of its pages, bookmarks."""

import io
from collections.abc import Callable
from typing import Any

from aequitone.handover.letterhead import paper_of
from aequitone.handover.letters import HOUSE, load_fonts
from aequitone.handover.report.sheet import Sheet
from aequitone.logbook.letterheads import Letterhead

# All in points: 18 mm, 14 mm and 15 mm.
_SIDE, _TOP, _FOOT = 51.0, 40.0, 42.0
_LOGO_WIDE, _LOGO_HIGH = 150.0, 44.0


def written(title: str, letterhead: Letterhead, foot: str, story: Callable[[Sheet], list[Any]]) -> bytes:
    """Lay out a story of flowables; `foot`: what stands at the foot of every page, before its number."""
    from reportlab import rl_config
    from reportlab.graphics.shapes import STATE_DEFAULTS
    from reportlab.platypus import BaseDocTemplate, Frame, PageTemplate

    load_fonts()
    # Or every document and drawing names a font that is none of its own, and not embedded.
    rl_config.canvas_basefontname = STATE_DEFAULTS["fontName"] = HOUSE
    wide, high = paper_of(letterhead)
    sheet = Sheet(wide - 2.0 * _SIDE, letterhead.colour)

    class Document(BaseDocTemplate):  # type: ignore[misc]
        def afterFlowable(self, flowable: Any) -> None:
            text, level = getattr(flowable, "bookmark", ("", 0))
            if text:
                # An outline may not skip a level.
                level = min(level, self.deepest + 1)
                self.deepest = level
                key = f"place-{self.seq.nextf('place')}"
                self.canv.bookmarkPage(key)
                self.canv.addOutlineEntry(text, key, level)

        deepest = -1

    def footed(canvas: Any, document: Any) -> None:
        canvas.saveState()
        words = sheet.words(f"{foot} · page {document.page}", sheet.small)
        words.wrapOn(canvas, sheet.width, _FOOT)
        words.drawOn(canvas, _SIDE, _FOOT - 20.0)
        canvas.restoreState()

    buffer = io.BytesIO()
    document = Document(
        buffer, pagesize=(wide, high), title=title, author=letterhead.name or "Aequitone", lang="en"
    )
    frame = Frame(_SIDE, _FOOT, sheet.width, high - _TOP - _FOOT, 0, 0, 0, 0)
    document.addPageTemplates([PageTemplate("page", [frame], onPage=footed)])
    document.build([*_head(sheet, letterhead), *story(sheet)])
    return buffer.getvalue()


def _head(sheet: Sheet, letterhead: Letterhead) -> list[Any]:
    """The letterhead, over the first page; nothing where nobody has one."""
    from reportlab.lib.colors import HexColor
    from reportlab.lib.styles import ParagraphStyle
    from reportlab.platypus import HRFlowable, Image, Table, TableStyle

    if not (letterhead.name or letterhead.address or letterhead.image):
        return []
    name = ParagraphStyle("business", parent=sheet.head, fontSize=12.5, leading=16, spaceBefore=0)
    left: list[Any] = [sheet.words(letterhead.name, name)] if letterhead.name else []
    if letterhead.image:
        image = Image(io.BytesIO(letterhead.image))
        image._restrictSize(_LOGO_WIDE, _LOGO_HIGH)
        image.hAlign = "LEFT"
        left.insert(0, image)
    address = ParagraphStyle("address", parent=sheet.small, alignment=2)
    right = [sheet.words(letterhead.address, address)] if letterhead.address else []
    table = Table([[left or "", right or ""]], colWidths=[0.6 * sheet.width, 0.4 * sheet.width])
    whole = (0, 0), (-1, -1)
    style = [("VALIGN", *whole, "BOTTOM"), ("LEFTPADDING", *whole, 0), ("RIGHTPADDING", *whole, 0)]
    table.setStyle(TableStyle([("FONT", *whole, HOUSE, 8), *style]))
    return [
        table,
        HRFlowable(width="100%", thickness=1.2, color=HexColor(sheet.colour), spaceBefore=2, spaceAfter=8),
    ]
