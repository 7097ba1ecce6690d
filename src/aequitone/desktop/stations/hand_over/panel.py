"""What the move panel and the page say at Hand over: pure functions, no Qt."""

from typing import Any

from aequitone.advice.checklist import usual_answer
from aequitone.desktop import commands
from aequitone.desktop.commands import KeyHint, hint
from aequitone.desktop.frame.key_hints import DARKEN, LEAVE, STOP_HERE, VISITS, bench_keys, pause
from aequitone.desktop.frame.panel_state import BigLine, PanelState
from aequitone.desktop.session.live import Live
from aequitone.desktop.session.operator import AskMove
from aequitone.desktop.session.prompts import beginning
from aequitone.desktop.stations.hand_over.commands import (
    CLIENT_CHOICE,
    CLOSE_VISIT,
    EXPORT,
    LEAVE_OFF,
    MAKE_REPORT,
    ON_AGAIN,
    OPEN_REPORT,
    TRY_IT,
)
from aequitone.desktop.stations.prepare.panel import setting_words
from aequitone.desktop.tools.inputs.commands import INPUTS
from aequitone.desktop.tools.report.commands import REPORT
from aequitone.handover import words
from aequitone.handover.open_points import proof_heading
from aequitone.logbook.settings.ledger import DebtRecord
from aequitone.passes import (
    AS_FOUND,
    COPIED,
    PROOF,
    PUT_BACK,
    TRIED,
    VERIFY,
    WATCHED,
    WHAT_IF,
    PassType,
    Snapshot,
    tried_words,
)
from aequitone.procedures.preparation.restore import PutBackState
from aequitone.reference import target_named

_CONTROLS = hint(commands.CONTROLS, "controls, put back")
_INPUTS = hint(INPUTS, "other inputs")
_REPORT = hint(REPORT, "letterhead, notes")
_EXPORT_WORDS = (
    "spreadsheet",
    "whole visit, zip",
    "next visit, calendar",
    "card for a phone",
    "readings, CSV",
    "JSON",
)


def export_keys() -> tuple[KeyHint, ...]:
    """A key for each kind of file that can be put where the person wants."""
    return tuple(hint(command, words) for command, words in zip(EXPORT, _EXPORT_WORDS, strict=True))


def hand_over(snapshot: Snapshot, message: str, *, open_: bool, made: bool, busy: bool) -> PanelState:
    """Nothing is running; `open_`: something is open, `made`: there is a report, `busy`: one is being made."""
    if snapshot.passes and snapshot.passes[-1].kind in (PUT_BACK.key, COPIED.key, VERIFY.key, WHAT_IF.key):
        message = f"{message} {snapshot.passes[-1].outcome}".strip()
    if snapshot.visit.closed is not None:
        return _closed(snapshot, message, made=made)
    owed = [debt for debt in snapshot.debts if debt.answer is None]
    undo = (hint(commands.UNDO, "undo the last answer"),) if len(owed) < len(snapshot.debts) else ()
    if owed:
        return _to_settle(owed[0], len(owed), message, undo, tried_words(snapshot).get(owed[0].name, ""))
    if snapshot.result(AS_FOUND) is None:
        return PanelState(
            "Hand over",
            False,
            (BigLine("Nothing to report"),),
            f"{message} Grey as found has not been measured yet.".strip(),
            keys=(hint(CLOSE_VISIT, "close the visit"), *undo, _CONTROLS),
        )
    if busy:
        return PanelState("Writing", False, (BigLine("Making the report"),), message)
    waiting = [job for job in snapshot.jobs if not job.left_out and PROOF.key not in job.done]
    others = [job for job in waiting if job.id != snapshot.visit.job_id]
    if others:
        names = ", ".join(f"{job.memory} on {job.input}" for job in others)
        message = f"{message} Not finished: {names}.".strip()
    unproven = "" if snapshot.result(PROOF) else "There is no proof: the report will claim nothing of the result."
    if open_:
        unproven = f"{unproven} What is open is listed beside, and stands in the report.".strip()
    close = hint(CLOSE_VISIT, "close the visit", main=made)
    again = hint(MAKE_REPORT, "make it again" if made else "make the report", main=not made)
    keys = (close, hint(OPEN_REPORT, "open the report"), again) if made else (again, close)
    if others:
        keys = (*keys, hint(commands.NEXT_JOB, "next job"))
    return PanelState(
        "Your move",
        True,
        (BigLine("Report made"),) if made else (BigLine("Make the report"),),
        f"{message} {unproven} {words.unlooked_words(snapshot)}".strip(),
        keys=(*keys, _INPUTS, _REPORT, *export_keys(), *undo, _CONTROLS),
        outlook="A page for the client, a page to keep, the measurements, and the readings as CSV.",
    )


_LOOKING: dict[PassType[Any, Any], str] = {
    VERIFY: "A few greys and colours are compared with the finished job.",
    TRIED: "Greys, near black and white in two windows, with it off and on. It is left off.",
    WHAT_IF: "The settings are turned, a few greys read, and the settings turned back.",
}


def looking(kind: PassType[Any, Any], live: Live | None) -> PanelState:
    """An input is looked at, or something is tried on and off."""
    if live is None:
        return beginning()
    return PanelState(
        "Paused" if live.paused else "Measuring",
        live.paused,
        (BigLine("Another input" if kind is VERIFY else kind.title), BigLine(live.shown)),
        _LOOKING[kind],
        reading=live.reading,
        keys=(pause(paused=live.paused), LEAVE, DARKEN),
        outlook=f"{live.done} of {live.total} readings." if live.total else "",
        progress=live.done / max(1, live.total),
    )


def putting_back(
    snapshot: Snapshot, kind: PassType[Any, Any], live: Live | None, asked: AskMove | None
) -> PanelState:
    """Controls are being turned: put back to how they stood, copied, or tried."""
    back = kind in (PUT_BACK, COPIED)
    value = live.value if live is not None and isinstance(live.value, PutBackState) else None
    told = value.words if value is not None else "Every control goes back to its setting of that moment."
    keys: tuple[KeyHint, ...] = (STOP_HERE, LEAVE)
    if asked is not None:
        return PanelState(
            "Your move",
            True,
            tuple(
                BigLine(change.name, f"to {setting_words(snapshot, change.role, change.to_value)}")
                for change in asked.move.changes
            ),
            told if back else _LOOKING[kind],
            keys=(
                hint(commands.TURNED, "turned", main=True),
                *((hint(commands.UNDO, "put it back"),) if back else ()),
                *(keys if back else (LEAVE,)),
                *bench_keys(snapshot),
                DARKEN,
            ),
        )
    paused = live is not None and live.paused
    return PanelState(
        "Paused" if paused else "Turning",
        paused,
        (BigLine("Copying" if value is not None and value.memory else "Putting back"),),
        told,
        keys=(pause(paused=paused), *keys, DARKEN),
    )


def _closed(snapshot: Snapshot, message: str, *, made: bool) -> PanelState:
    """The visit is closed; settings can still be put back, for a client who regrets."""
    open_or_make = hint(OPEN_REPORT, "open the report") if made else hint(MAKE_REPORT, "make the report")
    unfinished = (hint(commands.GO_ON, "go on putting back"),) if snapshot.interrupted is not None else ()
    return PanelState(
        "Your move",
        True,
        (BigLine("Visit closed"),),
        message,
        keys=(
            hint(commands.NEW_VISIT, "another visit", main=True),
            open_or_make,
            *unfinished,
            _REPORT,
            *export_keys(),
            _CONTROLS,
            VISITS,
        ),
    )


def _to_settle(debt: DebtRecord, left: int, message: str, undo: tuple[KeyHint, ...], tried: str) -> PanelState:
    # What was measured of it goes before what is usual.
    told = [message, tried or usual_answer(debt.role), "The visit cannot be closed before this is settled."]
    return PanelState(
        "Your move",
        True,
        (BigLine(debt.name), BigLine("was switched off")),
        " ".join(part for part in told if part),
        keys=(
            hint(ON_AGAIN, "on again", main=True),
            hint(LEAVE_OFF, "leave off"),
            hint(CLIENT_CHOICE, "client's choice"),
            hint(TRY_IT, "measure what it does"),
            _INPUTS,
            _REPORT,
            *undo,
            _CONTROLS,
        ),
        outlook=f"{left} to settle." if left > 1 else "The last one.",
    )


def paragraphs(snapshot: Snapshot, open_: tuple[str, ...]) -> tuple[tuple[str, str], ...]:
    """The visit in words, with what is `open_`: heading and text; settings as tab-separated lines."""
    before, after = snapshot.result(AS_FOUND), snapshot.result(PROOF)
    if before is None:
        return (("Nothing to hand over yet", "Grey as found has not been measured to its end."),)
    target = target_named(snapshot.visit.target)
    told = [("What was found", words.found_words(before, target)), ("What was done", words.done_words(snapshot))]
    if snapshot.done(WATCHED):
        told.insert(0, ("As it had been watched", snapshot.words(WATCHED)))
    if after is not None:
        told.append(
            (proof_heading(snapshot), f"{words.found_words(after, target)} {words.compared_words(before, after)}")
        )
    if open_:
        told.append(("What is open", "\n".join(open_)))
    if held := f"{words.last_look_words(snapshot)} {words.unlooked_words(snapshot)}".strip():
        told.append(("Whether it still holds", held))
    if snapshot.debts:
        answers = [(debt.name, debt.answer.value if debt.answer else "not settled") for debt in snapshot.debts]
        told.append(("Switched off for measuring", "\n".join(f"{name}\t{answer}" for name, answer in answers)))
    told.append(("How it was measured", words.measured_words(snapshot)))
    settings = [
        f"{name}\t{found}\t{'as found' if found == left else f'→ {left}'}"
        for name, found, left in words.settings_rows(snapshot)
    ]
    if settings:
        told.append(("Settings, as found → as left", "\n".join(settings)))
    return tuple(told)
