"""What the move panel says at Inputs; no Qt."""

from aequitone.desktop import commands
from aequitone.desktop.commands import hint
from aequitone.desktop.frame.panel_state import BigLine, EntryState, PanelState
from aequitone.desktop.tools.inputs.commands import (
    ADD,
    APPLIED,
    BY_PLAYER,
    INPUT_BEFORE,
    LOOK,
    OTHER_INPUT,
    REMOVE,
    TICK,
)
from aequitone.desktop.tools.inputs.state import InputsPage
from aequitone.passes import PROOF, CopySheet, Snapshot
from aequitone.planning.pace import minutes_words

_BACK = hint(commands.CLOSE_TOOL, "back")


def no_inputs(snapshot: Snapshot, message: str) -> PanelState:
    """Nothing is on the list yet."""
    visit = snapshot.visit
    told = (
        f"Every input keeps its own memory. Add those that are to be as {visit.memory} on {visit.input}: what "
        "is to be entered there stands on a sheet, and each is looked at through its own device."
    )
    if visit.closed is not None:
        return PanelState(
            "Inputs", False, (BigLine("Other inputs"),), "None was copied on this visit.", keys=(_BACK,)
        )
    keys = (hint(ADD, "add an input", main=True), _BACK)
    return PanelState("Inputs", False, (BigLine("Other inputs"),), f"{message} {told}".strip(), keys=keys)


def adding(snapshot: Snapshot, objection: str) -> PanelState:
    """Which input is added is to be typed."""
    return PanelState(
        "Inputs",
        True,
        (BigLine("Add an input"),),
        "" if objection else "Its name, the picture memory on it, and what hangs on it.",
        entry=EntryState(
            "input, memory, device", objection, f"HDMI 1, {snapshot.visit.memory}, player", letters=True
        ),
        keys=(hint(commands.KEEP_ENTRY, "add it", main=True), hint(commands.CLOSE_TOOL, "cancel")),
    )


def inputs_panel(
    snapshot: Snapshot,
    sheet: CopySheet,
    page: InputsPage,
    message: str,
    seconds: float,
    *,
    by_player: bool,
) -> PanelState:
    """At the sheet of a memory; `seconds`: of a look, `by_player`: the device shows patches from a file."""
    if snapshot.visit.closed is not None:
        return _closed(sheet, page, message)
    row = page.rows[page.at] if page.rows else None
    left, proven = len(sheet.left), snapshot.done(PROOF)
    keys = []
    if row is not None and row.done is not None:
        keys.append(hint(TICK, "not entered after all" if row.done else "entered", main=not row.done))
    if proven:
        keys.append(hint(LOOK, "look again" if sheet.looked else "look at it", main=not left))
    keys += [
        hint(APPLIED, "apply to all not used" if sheet.copy.applied else "apply to all was used", wide=True),
        hint(
            BY_PLAYER, "patches: from the generator" if by_player else "patches: a file in the player", wide=True
        ),
        hint(ADD, "add an input"),
        hint(REMOVE, "take it off the list"),
    ]
    if len(page.others) > 1:
        keys += [hint(INPUT_BEFORE, "input before"), hint(OTHER_INPUT, "next input")]
    keys += [hint(commands.UP, "line above"), hint(commands.DOWN, "line below", key="Down")]
    keys += [hint(commands.COPY, "copy"), _BACK]
    lines = (BigLine(row.name, f"to {row.setting}"),) if row is not None and row.done is False else ()
    told = [message, _next(sheet, left, proven=proven)]
    return PanelState(
        "Your move" if left else "Inputs",
        bool(left),
        lines or (BigLine(sheet.copy.input), BigLine(sheet.copy.memory)),
        " ".join(part for part in told if part),
        keys=tuple(keys),
        outlook=f"{sheet.done} of {sheet.done + left} entered. A look takes about {minutes_words(seconds)}.",
    )


def _closed(sheet: CopySheet, page: InputsPage, message: str) -> PanelState:
    """The visit is closed: to look at."""
    others = (hint(INPUT_BEFORE, "input before"), hint(OTHER_INPUT, "next input")) if len(page.others) > 1 else ()
    return PanelState(
        "Inputs",
        False,
        (BigLine(sheet.copy.input), BigLine(sheet.copy.memory)),
        message or sheet.looked,
        keys=(*others, hint(commands.UP, "line above"), hint(commands.DOWN, "line below", key="Down"), _BACK),
    )


def _next(sheet: CopySheet, left: int, *, proven: bool) -> str:
    """What there is to do next, in a sentence."""
    if left:
        applied = (
            "" if sheet.copy.applied else " If the screen has an “apply to all”, use it first and say so here."
        )
        return f"Switch the screen to {sheet.copy.name}, and enter what stands on the sheet.{applied}"
    if not proven:
        return "Everything is entered. A look compares with Proof, which was not measured yet."
    if not sheet.looked:
        return f"Everything is entered. Show {sheet.copy.name} through its device, and look at it."
    return "Correct what differs, and look again." if sheet.wrong else "It matches the finished job."
