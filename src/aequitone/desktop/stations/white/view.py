"""The view of White: the ladder, its figures, or the moves so far."""

from aequitone.desktop.widgets.ladder import Ladder
from aequitone.desktop.widgets.ladder_state import LadderState, LadderTablePage
from aequitone.desktop.widgets.ladder_table import LadderTable
from aequitone.desktop.widgets.moves import MovesPage
from aequitone.desktop.widgets.moves_table import MovesTable
from aequitone.desktop.widgets.page_stack import PageStack


def white_view() -> PageStack:
    """Make the view of White."""
    return PageStack({LadderState: Ladder(), LadderTablePage: LadderTable(), MovesPage: MovesTable()})
