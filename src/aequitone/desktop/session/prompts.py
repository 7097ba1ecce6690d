"""What is asked in the same words wherever a pass runs: trouble, a patch by hand, a reading to be typed. No Qt."""

from dataclasses import replace
from typing import Any

from aequitone.advice.roles import Role
from aequitone.desktop import commands
from aequitone.desktop.commands import KeyHint, hint
from aequitone.desktop.frame.key_hints import CONTROLS, LEAVE, PATTERNS, VIEW_KEYS, VISITS, bench_keys, pause
from aequitone.desktop.frame.panel_state import BigLine, EntryState, PanelState
from aequitone.desktop.session.live import Live
from aequitone.desktop.session.manual_entry import Asked
from aequitone.desktop.session.operator import AskMove, AskPatch, AskReading, AskReady, AskRemedy, Question
from aequitone.logbook.records import local_time
from aequitone.passes import PassType, Snapshot, pass_type

# Controls that are named where they are to be typed, before they are only counted.
_NAMED = 4


def prompt(
    snapshot: Snapshot, kind: PassType[Any, Any], live: Live | None, asked: Asked | None
) -> PanelState | None:
    """What the runner waits for, where it is the same in every pass; None for the station to say."""
    if asked is None:
        return None
    if isinstance(asked.question, AskRemedy):
        return _trouble(asked.question)
    if by_hand := hands_prompt(asked.question):
        return by_hand
    if isinstance(asked.question, AskReading):
        return _typing(asked, asked.question, snapshot, kind, live)
    return None


def hands_prompt(question: Question) -> PanelState | None:
    """A question that only hands can answer, at the Bench or in a pass; None for the other kinds."""
    if isinstance(question, AskReady):
        return PanelState(
            "Your move",
            True,
            tuple(BigLine(line) for line in question.lines),
            question.sentence,
            keys=(hint(commands.TURNED, "done, read it", main=True), hint(commands.STOP, "stop")),
        )
    if isinstance(question, AskPatch):
        patch = question.patch
        codes = " ".join(str(code) for code in patch.codes)
        return PanelState(
            "Your move",
            True,
            (BigLine("Show the patch"), BigLine(patch.name)),
            f"On the disc, stick or app: {patch.format.label}, codes {codes}. Then press Space.",
            keys=(hint(commands.TURNED, "it is shown", main=True), LEAVE),
        )
    return None


def entry_prompt(asked: Asked, question: AskReading, form: str) -> PanelState:
    """A reading is to be typed; `form`: "xyY" or "XYZ"."""
    figures = "X, Y, Z, all in cd/m²" if form == "XYZ" else "x, y, and Y in cd/m²"
    return PanelState(
        "Your move",
        True,
        (BigLine("Type the reading"), BigLine(question.patch.name)),
        "" if asked.objection else f"As the meter shows it: {figures}. Type 0 alone for no light.",
        entry=EntryState(f"{', '.join(form)} for {question.patch.name}", asked.objection),
        keys=(hint(commands.KEEP_ENTRY, "keep this reading", main=True), hint(commands.STOP, "stop")),
    )


def asked_to_turn(panel: PanelState, asked: Asked | None, *, standing: bool) -> PanelState:
    """What a station says, with the key that tells where a control really stands where a turn is asked.

    `standing`: that is being typed.
    """
    question = asked.question if asked is not None else None
    if asked is None or not isinstance(question, AskMove):
        return panel
    if standing:
        return _standing(question, asked.objection)
    if any(change.role == Role.POWER for change in question.move.changes):
        return panel
    first, *others = panel.keys
    return replace(panel, keys=(first, hint(commands.STANDS_AT, "where it stands"), *others))


def _standing(question: AskMove, objection: str) -> PanelState:
    """Where the controls of a move really stand is to be typed."""
    names = [change.name for change in question.move.changes]
    told = "As the menu shows it. What is left to turn is asked for from there, and so it is noted."
    many = len(names) > _NAMED
    if len(names) > 1:
        each = "control, in the order of the move" if many else f"of {', '.join(names)}"
        told += f" One figure for each {each}, or “{names[0]} 12” for one alone."
    return PanelState(
        "Your move",
        True,
        (BigLine("Type where it"), BigLine("really stands")),
        "" if objection else told,
        entry=EntryState(f"{len(names)} controls" if many else ", ".join(names), objection, letters=True),
        keys=(hint(commands.KEEP_ENTRY, "it stands so", main=True), hint(commands.CLOSE_TOOL, "back to the move")),
    )


def interrupted(snapshot: Snapshot, message: str) -> PanelState:
    """A pass was under way when the program ended, or was stopped."""
    record = snapshot.interrupted
    assert record is not None
    when = f", the last at {local_time(record.last_reading):%H:%M}" if record.last_reading else ""
    readings = f"{record.readings} reading{'s' if record.readings != 1 else ''}"
    title = pass_type(record.kind).title
    sentence = f"{title} was interrupted. {readings} kept{when}. Nothing needs to be measured twice."
    return PanelState(
        "Your move",
        True,
        (BigLine("Continue from the"), BigLine("last reading")),
        f"{message} {sentence}".strip(),
        keys=(
            hint(commands.GO_ON, "continue", main=True),
            hint(commands.SET_ASIDE, "set this pass aside"),
            *VIEW_KEYS,
        ),
    )


def elsewhere(title: str, key: str) -> PanelState:
    """Another station is looked at while a pass runs; `key`: the one that goes back to it."""
    return PanelState(
        "A pass is running",
        False,
        (BigLine(title),),
        f"{key} goes back to it.",
        keys=(hint(commands.PAUSE, "pause or continue"), LEAVE, *VIEW_KEYS),
    )


def held(by: str, title: str) -> PanelState:
    """The visit cannot be written; `by`: why, or who has it, in a sentence."""
    return PanelState(
        "Only to look at",
        False,
        (BigLine(title),),
        f"{by} Everything can be looked at; nothing is measured or changed here.",
        keys=(
            hint(commands.TAKE_VISIT, "try again", main=True),
            hint(commands.NEXT_STATION, "next station", key="G"),
            hint(commands.NEW_VISIT, "another visit"),
            VISITS,
            CONTROLS,
            *VIEW_KEYS,
        ),
    )


def go_on(following: str, told: str, keys: tuple[KeyHint, ...]) -> PanelState:
    """A station is done: what it came to, and the title of the one to go on to."""
    return PanelState("Your move", True, (BigLine("Go on to"), BigLine(following)), told, keys=keys)


def beginning() -> PanelState:
    """A pass has begun, and nothing was heard of it yet."""
    return PanelState("Measuring", False, (BigLine("Starting"),), keys=(LEAVE,))


def _typing(
    asked: Asked, question: AskReading, snapshot: Snapshot, kind: PassType[Any, Any], live: Live | None
) -> PanelState:
    grey = kind.from_file
    total = (live.total if live else 0) or (kind.make_plan(snapshot).readings if grey else 0)
    again = (hint(commands.UNDO, "the last one again"),) if live and live.done and grey else ()
    state = entry_prompt(asked, question, snapshot.visit.bench.entry_form)
    return replace(
        state,
        reading=live.reading if live and not asked.objection else None,
        keys=(state.keys[0], *again, pause(paused=False), LEAVE, *bench_keys(snapshot), *VIEW_KEYS),
        outlook=f"Reading {live.done + 1} of {total}." if live and grey else "",
    )


def _trouble(question: AskRemedy) -> PanelState:
    return PanelState(
        "Your move",
        True,
        (BigLine("An instrument"), BigLine("needs you")),
        f"{question.sentence}. Every reading so far is kept.",
        keys=(hint(commands.TRY_AGAIN, "try again", main=True), LEAVE, PATTERNS, *VIEW_KEYS),
    )
