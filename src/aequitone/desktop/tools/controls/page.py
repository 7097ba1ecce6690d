"""The controls of the screen at two moments, and what the move panel says of them: pure functions, no Qt."""

from collections.abc import Sequence

from aequitone.advice.roles import is_one_of_many, role_words
from aequitone.desktop.tools.controls.state import ControlRow, ControlsPage
from aequitone.handover.words import shown
from aequitone.logbook.records import ControlRecord, local_time
from aequitone.logbook.settings.moments import Moment, differing
from aequitone.passes import Snapshot

HEADS = ("Control", "Role", "Range, step", "Factory", "Acts on", "Apply to all")


def controls_page(
    snapshot: Snapshot, known: Sequence[Moment], first: int, second: int, row: int, *, only_changed: bool
) -> ControlsPage:
    """The table: a row a control, with its settings at the moments numbered `first` and `second`."""
    before, after = known[first], known[second]
    changed = differing(before, after)
    rows = tuple(
        ControlRow(
            control.role.key,
            control.name,
            role_words(control.role),
            _range(control),
            "" if control.factory is None else control.shown(control.factory),
            control.scope.words,
            control.scope.copied.value,
            shown(control, before.settings),
            shown(control, after.settings),
            control.role in changed,
        )
        for control in snapshot.controls
        # Of multi-point and colour management, which are a hundred rows, only what tells something.
        if control.role in changed or not (only_changed or is_one_of_many(control.role))
    )
    return ControlsPage(moment_words(before), moment_words(after), rows, min(row, max(0, len(rows) - 1)))


def controls_text(state: ControlsPage) -> str:
    """The table as tab-separated text."""
    rows = [(*HEADS, state.first, state.second), *(cells_of(row) for row in state.rows)]
    return "\n".join("\t".join(row) for row in rows) + "\n"


def cells_of(row: ControlRow) -> tuple[str, ...]:
    """A row's words, in the order of the columns."""
    return (row.name, row.role_words, row.range, row.factory, row.reach, row.copied, row.before, row.after)


def _range(control: ControlRecord) -> str:
    if control.choices:
        return f"{len(control.choices)} choices"
    step = f" by {control.step}" if control.step != 1 else ""
    return f"{control.lowest} to {control.highest}{step}"


def moment_words(moment: Moment) -> str:
    """A moment by what was done, and its time."""
    return f"{moment.name.capitalize()}, {local_time(moment.at):%H:%M}"
