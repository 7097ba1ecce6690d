"""What the move panel says at Controls: the two moments, and the control in view; no Qt."""

from collections.abc import Sequence
from enum import StrEnum

from aequitone.advice.scopes import Copied, Reach, Signals
from aequitone.desktop import commands
from aequitone.desktop.commands import KeyHint, choice_hint, hint
from aequitone.desktop.frame.panel_state import BigLine, PanelState
from aequitone.desktop.tools.controls.commands import (
    COPIED,
    EARLIER,
    LATER,
    ONLY_CHANGED,
    OTHER_EARLIER,
    OTHER_LATER,
    PUT_BACK_ALL,
    PUT_BACK_ONE,
    REACH,
    SIGNALS,
    TAKE_OVER,
    TRY_LAST,
)
from aequitone.desktop.tools.controls.page import moment_words
from aequitone.desktop.tools.controls.state import ControlRow, ControlsPage
from aequitone.logbook.records import local_time
from aequitone.logbook.settings.moments import Moment
from aequitone.passes import WHAT_IF, Snapshot

_BACK = hint(commands.CLOSE_TOOL, "back")


def controls_panel(
    snapshot: Snapshot, page: ControlsPage | None, known: Sequence[Moment], message: str, *, only_changed: bool
) -> PanelState:
    """What to do with the table; `page` None where no control is noted yet."""
    if page is None:
        empty = f"{message} No control was entered yet; Arrive is where they are written down."
        return PanelState("Controls", False, (BigLine("Settings"),), empty.strip(), keys=(_BACK,))
    changed = sum(row.differs for row in page.rows)
    keys = []
    # After closing too: a client may regret.
    if page.second == moment_words(known[-1]) and changed:
        keys.append(hint(PUT_BACK_ALL, f"put {changed} back", main=True))
        if changed > 1 and page.rows[page.at].differs:
            keys.append(hint(PUT_BACK_ONE, "put this one back"))
    keys += [
        hint(EARLIER, "earlier moment"),
        hint(LATER, "later moment"),
        hint(OTHER_EARLIER, "other: earlier"),
        hint(OTHER_LATER, "other: later"),
        hint(ONLY_CHANGED, "show all" if only_changed else "differences only"),
        hint(commands.COPY, "copy"),
    ]
    if snapshot.visit.closed is None:
        keys += [hint(commands.IMPORT, "measure a list"), hint(TRY_LAST, "measure the last visit's")]
        if snapshot.done(WHAT_IF):
            keys.append(hint(TAKE_OVER, "take over what was tried"))
    keys.append(_BACK)
    told = [message, f"{page.first} beside {page.second}: {_count(changed)}."]
    if page.rows:
        row = page.rows[page.at]
        told.append(_of_row(row, snapshot))
        keys += _scope_keys(row, snapshot)
    return PanelState(
        "Controls",
        False,
        (BigLine("Settings"),),
        " ".join(part for part in told if part),
        keys=tuple(keys),
        outlook=f"{len(known)} moments, {len(snapshot.history)} entries.",
    )


def _scope_keys(row: ControlRow, snapshot: Snapshot) -> tuple[KeyHint, ...]:
    """The keys that go through what a control acts on, each with its choices."""
    scope = next(control for control in snapshot.controls if control.role.key == row.role).scope
    return (
        _scope_key(REACH, "acts on", list(Reach), scope.reach),
        _scope_key(SIGNALS, "signals", list(Signals), scope.signals),
        _scope_key(COPIED, "apply to all", list(Copied), scope.copied),
    )


def _scope_key(command: commands.Command, words: str, order: Sequence[StrEnum], now: StrEnum) -> KeyHint:
    return choice_hint(command, words, tuple(each.value for each in order), order.index(now))


def _of_row(row: ControlRow, snapshot: Snapshot) -> str:
    control = next(control for control in snapshot.controls if control.role.key == row.role)
    changes = [
        f"{control.shown(record.value)} {local_time(record.at):%H:%M} ({record.reason})"
        for record in snapshot.history
        if record.role == control.role
    ]
    told = f"{row.name}: {', then '.join(changes[-4:])}." if changes else f"{row.name}: never entered."
    if control.scope.reach is not Reach.MEMORY:
        where = control.scope.reach.value.removeprefix("this ")
        told += f" It acts on the {where}: turning it changes other memories too."
    return told


def _count(changed: int) -> str:
    if not changed:
        return "nothing differs"
    return f"{changed} control{'s differ' if changed != 1 else ' differs'}"
