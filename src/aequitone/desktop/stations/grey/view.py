"""The ladder as a picture and as a table, in one view."""

from aequitone.desktop.widgets.ladder import Ladder
from aequitone.desktop.widgets.ladder_state import LadderState, LadderTablePage
from aequitone.desktop.widgets.ladder_table import LadderTable
from aequitone.desktop.widgets.page_stack import PageStack


def ladder_view() -> PageStack:
    """Make the view of a station whose page is the grey ladder."""
    return PageStack({LadderState: Ladder(), LadderTablePage: LadderTable()})
