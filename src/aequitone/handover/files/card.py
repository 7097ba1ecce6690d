"""A card for a phone: the settings that were left, and when to come again, as a PNG."""

import io
from collections.abc import Sequence
from functools import cache
from importlib import resources
from pathlib import Path
from typing import TYPE_CHECKING, Any

from aequitone.handover import words
from aequitone.handover.coming_again import visit_comes_again
from aequitone.handover.errors import NothingToReportError
from aequitone.handover.letterhead import DEFAULT_COLOUR
from aequitone.handover.letters import HOUSE, HOUSE_BOLD, in_one_font
from aequitone.logbook import Logbook
from aequitone.logbook.records import local_time
from aequitone.passes import load_as_given

if TYPE_CHECKING:
    from PIL.ImageDraw import ImageDraw

# In pixels.
_WIDE, _MARGIN, _MOST_HIGH = 1080, 64, 8_000
_TITLE, _HEAD, _BODY = 54, 40, 36
_INK, _PALE, _PAPER = "#111111", "#666666", "#ffffff"
_LEADING = 1.42


def write_card(logbook: Logbook, visit_id: int, path: Path) -> None:
    """Write the card of a visit. Raises NothingToReportError where no setting was noted."""
    from PIL import Image, ImageDraw

    jobs = [load_as_given(logbook, visit_id, job.id) for job in logbook.jobs.of(visit_id)]
    noted = [snapshot for snapshot in jobs if snapshot.settings]
    if not noted:
        raise NothingToReportError("There is nothing for a card yet: no setting has been noted.")
    head, visit = logbook.letterheads.get(), noted[0].visit
    again = visit_comes_again(visit)
    image = Image.new("RGB", (_WIDE, _MOST_HIGH), _PAPER)
    pen = _Pen(ImageDraw.Draw(image), head.colour or DEFAULT_COLOUR)
    pen.line(visit.screen, _TITLE, bold=True, coloured=True)
    pen.line(f"{visit.room}, {local_time(visit.started):%d %B %Y}", _BODY, pale=True)
    for snapshot in noted:
        pen.gap()
        pen.line(snapshot.visit.name, _HEAD, bold=True, coloured=True)
        pen.pairs([(name, left) for name, _, left in words.settings_rows(snapshot)])
    pen.gap()
    pen.line(f"Come again about {again.day:%B %Y}", _HEAD, bold=True, coloured=True)
    if head.name:
        pen.line(head.name, _BODY, pale=True)
    image.crop((0, 0, _WIDE, min(pen.y + _MARGIN, _MOST_HIGH))).save(path, "PNG")


class _Pen:
    """Writes line under line."""

    def __init__(self, draw: "ImageDraw", colour: str) -> None:
        self._draw, self._colour, self.y = draw, colour, _MARGIN

    def gap(self) -> None:
        self.y += _BODY

    def line(
        self, text: str, size: int, *, bold: bool = False, coloured: bool = False, pale: bool = False
    ) -> None:
        """One line, cut where it does not fit."""
        ink = self._colour if coloured else _PALE if pale else _INK
        self._put(_MARGIN, text, size, ink, bold=bold, room=_WIDE - 2 * _MARGIN)
        self.y += round(size * _LEADING)

    def pairs(self, rows: Sequence[tuple[str, str]]) -> None:
        """Names at the left, settings at the right."""
        for name, value in rows:
            told, font = _set(value, _BODY, bold=True)
            wide = font.getlength(told)
            self._draw.text((_WIDE - _MARGIN - wide, self.y), told, fill=_INK, font=font)
            self._put(_MARGIN, name, _BODY, _INK, bold=False, room=_WIDE - 2 * _MARGIN - wide - 24)
            self.y += round(_BODY * _LEADING)

    def _put(self, x: int, text: str, size: int, ink: str, *, bold: bool, room: float) -> None:
        told, font = _set(text, size, bold=bold)
        if font.getlength(told) > room:
            while told and font.getlength(f"{told}…") > room:
                told = told[:-1]
            told = f"{told}…"
        self._draw.text((x, self.y), told, fill=ink, font=font)


def _set(text: str, size: int, *, bold: bool) -> tuple[str, Any]:
    """A line, and the font to write it in; letters that no font of ours has are given as their code points."""
    told, file = in_one_font(text, HOUSE_BOLD if bold else HOUSE, bold=bold)
    return told, _font(file, size)


@cache
def _font(file: str, size: int) -> Any:
    from PIL import ImageFont

    folder = resources.files("aequitone") / "assets" / "fonts"
    return ImageFont.truetype(io.BytesIO((folder / file).read_bytes()), size)
