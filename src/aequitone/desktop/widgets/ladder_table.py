"""The ladder as a table of figures, one key away; it copies as text."""

from aequitone.desktop.widgets.figures_table import FiguresTable
from aequitone.desktop.widgets.ladder_state import LadderTablePage
from aequitone.desktop.widgets.ladder_text import HEADS, MEANT, cells_of, heads

_CAST = 5


class LadderTable(FiguresTable):
    """The same rows as the ladder, as figures."""

    def __init__(self) -> None:
        super().__init__((*HEADS, MEANT), "Grey ladder as a table", wide=(_CAST,))

    def show_page(self, page: LadderTablePage) -> None:
        """Draw the ladder's figures."""
        named = heads(page.ladder)
        self.setHorizontalHeaderLabels(list(named))
        self.setColumnHidden(len(HEADS), len(named) == len(HEADS))
        self.show_cells([cells_of(row) for row in page.ladder.rows])
