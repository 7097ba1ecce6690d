"""How the report's pages look: styles, headings with bookmarks, tables."""

from collections.abc import Sequence
from typing import Any
from xml.sax.saxutils import escape

from aequitone.figures import tied
from aequitone.handover.letterhead import DEFAULT_COLOUR
from aequitone.handover.letters import HOUSE, HOUSE_BOLD, load_fonts, marked_up

_GREY, _RULE, _PALE_RULE = "#555555", "#444444", "#cccccc"
# Rows of a table that stand one below another before they are laid out in columns.
_ONE_BELOW_ANOTHER, _MOST_COLUMNS = 14, 3
_ROW = 12.6


class Sheet:
    """Makes what stands on a page of a width, in points; headings and rules in the letterhead's colour."""

    def __init__(self, width: float, colour: str = "") -> None:
        from reportlab.lib.styles import ParagraphStyle

        load_fonts()
        self.width, self.colour = width, colour or DEFAULT_COLOUR
        self.body = ParagraphStyle("body", fontName=HOUSE, fontSize=8.8, leading=12.8, spaceAfter=3)
        self.lead = ParagraphStyle("lead", parent=self.body, fontSize=10.4, leading=15.2, spaceAfter=4)
        self.small = ParagraphStyle("small", parent=self.body, fontSize=7.2, leading=9.6, textColor=_GREY)
        self.head = ParagraphStyle(
            "head",
            parent=self.body,
            fontName=HOUSE_BOLD,
            fontSize=10.5,
            leading=15,
            spaceBefore=8,
            keepWithNext=1,
            textColor=self.colour,
        )
        self.title = ParagraphStyle(
            "title", parent=self.head, fontSize=17, leading=22, spaceBefore=2, spaceAfter=4
        )
        self._cell_style = ParagraphStyle("cell", parent=self.body, fontSize=7.6, leading=9.6, spaceAfter=0)
        self._cell_head = ParagraphStyle("cell head", parent=self._cell_style, fontName=HOUSE_BOLD)

    def words(self, text: str, style: Any = None) -> Any:
        """A paragraph of plain text: whatever stands in it is no markup."""
        from reportlab.platypus import Paragraph

        chosen = style or self.body
        lines = tied(text).split("\n")
        bold = chosen.fontName == HOUSE_BOLD
        return Paragraph("<br/>".join(marked_up(line, bold=bold) for line in lines), chosen)

    def heading(self, text: str, *, title: bool = False, level: int = 1) -> Any:
        """A heading that is a bookmark too."""
        made = self.words(text, self.title if title else self.head)
        made.bookmark = (text, 0 if title else level)
        return made

    def fact(self, text: str) -> list[Any]:
        """A paragraph, or nothing where there are no words."""
        return [self.words(text)] if text else []

    def columns(self, head: Sequence[str], rows: Sequence[Sequence[str]]) -> Any:
        """A table of three columns, laid out beside itself where it is long."""
        columns = min(_MOST_COLUMNS, 1 + (len(rows) - 1) // _ONE_BELOW_ANOTHER) if rows else 1
        if columns == 1:
            return self.table([head, *rows], (0.5, 0.25, 0.25))
        high = -(-len(rows) // columns)
        filled = [*rows, *[("", "", "")] * (columns * high - len(rows))]
        beside = [filled[at * high : (at + 1) * high] for at in range(columns)]
        lines = [tuple(cell for each in line for cell in (*each, ""))[:-1] for line in zip(*beside, strict=True)]
        heads = tuple(cell for _ in range(columns) for cell in (*head, ""))[:-1]
        own, gap = 1.0 / columns, 0.02
        shares = ((0.46 * (own - gap), 0.27 * (own - gap), 0.27 * (own - gap), gap) * columns)[:-1]
        return self.table([heads, *lines], shares, names=tuple(range(0, 4 * columns, 4)))

    def table(
        self,
        rows: Sequence[Sequence[str]],
        shares: Sequence[float],
        *,
        numbers: bool = False,
        names: tuple[int, ...] = (0,),
    ) -> Any:
        """A table with its head; `numbers`: every column is of figures, else those in `names` are of words."""
        from reportlab.lib.colors import HexColor
        from reportlab.platypus import Table, TableStyle

        words = () if numbers else names
        cells = [
            [self._cell(each, head=i == 0, name=j in words) for j, each in enumerate(row)]
            for i, row in enumerate(rows)
        ]
        # A name that needs a second line has it; figures are all of one line.
        table = Table(
            cells,
            colWidths=[self.width * share for share in shares],
            rowHeights=_ROW if numbers else None,
            repeatRows=1,
        )
        table.setStyle(
            TableStyle(
                [
                    ("FONT", (0, 0), (-1, -1), HOUSE, 7.6),
                    ("FONT", (0, 0), (-1, 0), HOUSE_BOLD, 7.6),
                    ("LEADING", (0, 0), (-1, -1), 9.6),
                    ("TOPPADDING", (0, 0), (-1, -1), 1.5),
                    ("BOTTOMPADDING", (0, 0), (-1, -1), 1.5),
                    ("LINEBELOW", (0, 0), (-1, 0), 0.6, HexColor(_RULE)),
                    ("LINEBELOW", (0, 1), (-1, -1), 0.2, HexColor(_PALE_RULE)),
                    ("ALIGN", (0, 0), (-1, -1), "RIGHT"),
                    *(("ALIGN", (at, 0), (at, -1), "LEFT") for at in words),
                    ("VALIGN", (0, 0), (-1, -1), "MIDDLE"),
                ]
            )
        )
        return table

    def _cell(self, words: str, *, head: bool, name: bool) -> Any:
        """Figures as they are; names, and words that another font must help out, as a paragraph that may break."""
        marked = marked_up(words)
        if not name and marked == escape(words):
            return words
        return self.words(words, self._cell_head if head else self._cell_style)
