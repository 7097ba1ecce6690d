"""The controls of the screen at two moments, and what the move panel says of them: pure functions, no Qt."""

from collections.abc import Sequence
from dataclasses import replace
from enum import StrEnum
from typing import TypeVar

from aequitone.advice.roles import point_of, role_words
from aequitone.advice.scopes import Reach, Scope
from aequitone.desktop.states import Act, BigLine, KeyHint, LedgerPage, LedgerRow, PanelState
from aequitone.handover.words import shown
from aequitone.logbook.moments import Moment, differing
from aequitone.logbook.records import ControlRecord, local_time
from aequitone.passes import Snapshot

HEADS = ("Control", "Role", "Range, step", "Factory", "Acts on", "Apply to all")


def page(
    facts: Snapshot, known: Sequence[Moment], first: int, second: int, row: int, *, only_changed: bool
) -> LedgerPage:
    """The table: a row a control, with its settings at the moments numbered `first` and `second`."""
    before, after = known[first], known[second]
    changed = differing(before, after)
    rows = tuple(
        LedgerRow(
            control.role.value,
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
        for control in facts.controls
        # Of multi-point, which is eighty rows, only what tells something.
        if control.role in changed or not (only_changed or point_of(control.role))
    )
    return LedgerPage(_moment(before), _moment(after), rows, min(row, max(0, len(rows) - 1)))


def panel(facts: Snapshot, state: LedgerPage | None, known: Sequence[Moment], message: str) -> PanelState:
    """What to do with it; `state` None where no control is noted yet."""
    back = KeyHint("Esc", "back", Act.LEDGER)
    if state is None:
        empty = f"{message} No control is noted yet; Arrive is where they are written down."
        return PanelState("Ledger", False, (BigLine("Controls"),), empty.strip(), keys=(back,))
    changed = sum(row.differs for row in state.rows)
    keys = []
    if facts.visit.closed is None and state.second == _moment(known[-1]) and changed:
        keys.append(KeyHint("Enter", f"put {changed} back", Act.PUT_ALL_BACK, main=True))
    keys += [
        KeyHint("Left", "earlier moment", Act.MOMENT_EARLIER),
        KeyHint("Right", "later moment", Act.MOMENT_LATER),
        KeyHint("Ctrl+Left", "other: earlier", Act.OTHER_EARLIER),
        KeyHint("Ctrl+Right", "other: later", Act.OTHER_LATER),
        KeyHint("F", "differing only", Act.ONLY_CHANGED),
        KeyHint("A", "acts on", Act.SCOPE_REACH),
        KeyHint("N", "signals", Act.SCOPE_SIGNALS),
        KeyHint("L", "apply to all", Act.SCOPE_COPIED),
        KeyHint("Ctrl+C", "copy", Act.COPY),
        back,
    ]
    told = [message, f"{state.first} beside {state.second}: {_count(changed)}."]
    if state.rows:
        told.append(_of_row(state.rows[state.at], facts))
    return PanelState(
        "Ledger",
        False,
        (BigLine("Controls"),),
        " ".join(part for part in told if part),
        keys=tuple(keys),
        outlook=f"{len(known)} moments, {len(facts.history)} entries.",
    )


def next_scope(scope: Scope, act: Act) -> Scope:
    """What a key makes of what is noted now."""
    match act:
        case Act.SCOPE_REACH:
            return replace(scope, reach=_next(scope.reach))
        case Act.SCOPE_SIGNALS:
            return replace(scope, signals=_next(scope.signals))
    return replace(scope, copied=_next(scope.copied))


Kind = TypeVar("Kind", bound=StrEnum)


def _next(kind: Kind) -> Kind:
    kinds = list(type(kind))
    return kinds[(kinds.index(kind) + 1) % len(kinds)]


def as_text(state: LedgerPage) -> str:
    """The table as tab-separated text."""
    rows = [(*HEADS, state.first, state.second), *(cells_of(row) for row in state.rows)]
    return "\n".join("\t".join(row) for row in rows) + "\n"


def cells_of(row: LedgerRow) -> tuple[str, ...]:
    """A row's words, in the order of the columns."""
    return (row.name, row.role_words, row.range, row.factory, row.reach, row.copied, row.before, row.after)


def _of_row(row: LedgerRow, facts: Snapshot) -> str:
    control = next(control for control in facts.controls if control.role.value == row.role)
    changes = [
        f"{control.shown(record.value)} {local_time(record.at):%H:%M} ({record.reason})"
        for record in facts.history
        if record.role is control.role
    ]
    told = f"{row.name}: {', then '.join(changes[-4:])}." if changes else f"{row.name}: never noted."
    if control.scope.reach is not Reach.MEMORY:
        where = control.scope.reach.value.removeprefix("this ")
        told += f" It acts on the {where}: turning it changes other memories too."
    return told


def _range(control: ControlRecord) -> str:
    if control.choices:
        return f"{len(control.choices)} choices"
    step = f" by {control.step}" if control.step != 1 else ""
    return f"{control.lowest} to {control.highest}{step}"


def _moment(moment: Moment) -> str:
    return f"{moment.name.capitalize()}, {local_time(moment.at):%H:%M}"


def _count(changed: int) -> str:
    if not changed:
        return "nothing differs"
    return f"{changed} control{'s differ' if changed != 1 else ' differs'}"
