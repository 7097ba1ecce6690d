"""The checklist of Prepare as it stands, and what the move panel says of a line: pure functions, no Qt."""

from dataclasses import dataclass

from aequitone.advice import preparing as lines_of
from aequitone.advice.preparing import Line, Way, checklist
from aequitone.advice.roles import Role
from aequitone.desktop.frame.key_hints import DARKEN, LEAVE
from aequitone.desktop.session.operator import AskMove
from aequitone.desktop.states import Act, BigLine, ChecklistRow, KeyHint, Mark, PanelState, ReadingFigure
from aequitone.logbook.ledger import CheckState
from aequitone.passes import GAMMA, MODE, PUT_BACK, ROOM, TEMPERATURE, UNIFORMITY, WARM_UP, PassType, Snapshot
from aequitone.procedures.choosing import ChoiceState
from aequitone.procedures.evenness import Evenness
from aequitone.procedures.putting_back import PutBackState
from aequitone.procedures.warm_up import Warmth

MEASURED: dict[str, PassType] = {
    lines_of.WARM_UP: WARM_UP,
    lines_of.ROOM: ROOM,
    lines_of.CHOICE: TEMPERATURE,
    lines_of.GAMMA: GAMMA,
    lines_of.MODE: MODE,
}
_MARKS = {CheckState.DONE: Mark.DONE, CheckState.LEFT: Mark.LEFT, CheckState.NOT_HERE: Mark.NOT_HERE}
_GREYED_OUT = KeyHint("N", "greyed out, pass it over", Act.PASS_OVER)
_MOVE_KEYS = (KeyHint("Up", "line above", Act.LINE_UP), KeyHint("Down", "line below", Act.LINE_DOWN))


@dataclass(frozen=True)
class Standing:
    """A line and how it stands."""

    line: Line
    mark: Mark
    detail: str = ""


def standings(facts: Snapshot) -> tuple[Standing, ...]:
    """The lines for this visit, in order, each with how it stands."""
    visit = facts.visit
    roles = {control.role for control in facts.controls}
    lines = checklist(visit.technology, roles, metered=visit.bench.automatic)
    return tuple(_standing(facts, line) for line in lines)


def prepared(facts: Snapshot) -> bool:
    """Whether every line has been answered."""
    return all(standing.mark is not Mark.OPEN for standing in standings(facts))


def _standing(facts: Snapshot, line: Line) -> Standing:
    check = facts.checks.get(line.key)
    if check is not None:
        return Standing(line, _MARKS[check.state], check.detail or check.state.value)
    warmth, room = facts.result(WARM_UP), facts.result(ROOM)
    if line.key == lines_of.WARM_UP and warmth is not None:
        return Standing(line, Mark.DONE if warmth.settled else Mark.OPEN, warmth.words)
    if line.key == lines_of.ROOM and room is not None:
        return Standing(line, Mark.DONE if room.dark else Mark.OPEN, room.words)
    chosen = facts.result(MEASURED[line.key]) if line.key in MEASURED else None
    if isinstance(chosen, ChoiceState) and chosen.order:
        return Standing(line, Mark.DONE, chosen.words or "stopped, and put back")
    if line.role is not None:
        if any(debt.role is line.role for debt in facts.debts):
            return Standing(line, Mark.DONE, "switched off; owed")
        if facts.found_settings.get(line.role) == 0:
            return Standing(line, Mark.DONE, "found off")
    return Standing(line, Mark.OPEN)


def rows(lines: tuple[Standing, ...], here: int) -> tuple[ChecklistRow, ...]:
    """The lines as they are drawn."""
    return tuple(ChecklistRow(s.line.title, s.detail, s.mark, i == here) for i, s in enumerate(lines))


def panel(facts: Snapshot, lines: tuple[Standing, ...], here: int, message: str) -> PanelState:
    """At a line, nothing running."""
    open_ = sum(standing.mark is Mark.OPEN for standing in lines)
    standing = lines[here]
    line = standing.line
    if not open_ and not message:
        return _all_done(facts, standing)
    keys = [_main_key(facts, line)]
    measured = line.way is Way.MEASURE and standing.mark is Mark.DONE
    if measured and keys[0].act is Act.BEGIN:
        # Minutes of measuring are not begun again by whoever only presses Enter.
        keys = [KeyHint("Enter", "line below", Act.LINE_DOWN, main=True), KeyHint("B", "measure again", Act.BEGIN)]
    if keys[0].act is Act.GO_ON:
        keys.append(KeyHint("X", "set this pass aside", Act.SET_ASIDE))
    if standing.mark is Mark.OPEN and line.way is Way.RESET:
        by_link = facts.visit.bench.link != "by hand"
        keys.append(KeyHint("F", "reset to factory" if by_link else "it is reset now", Act.LINE_DONE))
    elif standing.mark is Mark.OPEN:
        keys.append(KeyHint("N", "does not apply", Act.LINE_NOT_HERE))
        keys.append(KeyHint("L", "leave it as it is", Act.LINE_LEFT))
    elif line.key in facts.checks:
        keys.append(KeyHint("Z", "take it back", Act.LINE_UNDO))
    if line.picture:
        keys.append(KeyHint("W", "test picture", Act.PICTURE))
    keys += [*_MOVE_KEYS, KeyHint("G", "go on to As found", Act.NEXT_STATION), DARKEN]
    told = [message, line.caution, line.why, line.how]
    if measured:
        told = [message, f"{standing.detail.rstrip('.')}."]
    return PanelState(
        "Your move",
        True,
        _title(line),
        " ".join(part for part in told if part),
        keys=tuple(keys),
        outlook=f"{open_} of {len(lines)} lines open. {_owed(facts)}".strip(),
    )


def _title(line: Line) -> tuple[BigLine, ...]:
    """The title in lines that fit when read from afar."""
    words, first = line.title.split(), ""
    while words and len(first) + len(words[0]) < 22:
        first = f"{first} {words.pop(0)}".strip()
    if not words:
        return (BigLine(first),)
    second = ""
    while words and len(second) + len(words[0]) < 22:
        second = f"{second} {words.pop(0)}".strip()
    rest = " ".join(words)
    return tuple(BigLine(part) for part in (first, second, rest) if part)


def _main_key(facts: Snapshot, line: Line) -> KeyHint:
    if line.way is Way.MEASURE:
        interrupted = facts.interrupted is not None and facts.interrupted.kind == MEASURED[line.key].key
        if interrupted:
            return KeyHint("Enter", "go on measuring", Act.GO_ON, main=True)
        return KeyHint("Enter", "measure", Act.BEGIN, main=True)
    if line.way is Way.RESET:
        # Nobody who only presses Enter shall lose an earlier owner's care.
        return KeyHint("Enter", "leave it, go on", Act.LINE_LEFT, main=True)
    if line.way is Way.SWITCH:
        by_link = facts.visit.bench.link != "by hand"
        return KeyHint("Enter", "switch it off" if by_link else "it is off now", Act.LINE_DONE, main=True)
    return KeyHint("Enter", "it is so", Act.LINE_DONE, main=True)


def _all_done(facts: Snapshot, standing: Standing) -> PanelState:
    keys = [KeyHint("Enter", "next station", Act.NEXT_STATION, main=True), *_MOVE_KEYS]
    if standing.line.key in facts.checks:
        keys.append(KeyHint("Z", "take the line back", Act.LINE_UNDO))
    if standing.line.way is Way.MEASURE:
        keys.append(KeyHint("B", "measure again", Act.BEGIN))
    if standing.line.picture:
        keys.append(KeyHint("W", "test picture", Act.PICTURE))
    last = f"{standing.line.title}: {standing.detail.rstrip('.')}."
    return PanelState(
        "Your move",
        True,
        (BigLine("Go on to"), BigLine("As found")),
        " ".join(part for part in ("Every line is answered.", _owed(facts), last) if part),
        keys=(*keys, DARKEN),
    )


def _owed(facts: Snapshot) -> str:
    owed = [debt.name for debt in facts.debts if debt.answer is None]
    return f"Owed at Hand over: {', '.join(owed)}." if owed else ""


def measuring(
    kind: PassType, value: object, shown: str, reading: ReadingFigure | None, *, paused: bool
) -> PanelState:
    """A line is being measured."""
    titles = {
        WARM_UP: "Warm-up",
        ROOM: "The room",
        TEMPERATURE: "Presets",
        GAMMA: "Gamma presets",
        MODE: "Modes",
        PUT_BACK: "Putting back",
        UNIFORMITY: "Uniformity",
    }
    sentence = {
        WARM_UP: "White is watched until it drifts by less than 0.5 % over five minutes.",
        ROOM: "The screen is off for one reading.",
        TEMPERATURE: "Each preset is read from dark to light.",
        GAMMA: "Each gamma preset is read from dark to light.",
        MODE: "Each picture mode is read from dark to light, and its primaries.",
        UNIFORMITY: "One grey is read at nine places, the middle first.",
        PUT_BACK: "Every control goes back to where it stood.",
    }[kind]
    if isinstance(value, Warmth):
        sentence = value.words
    if isinstance(value, PutBackState | Evenness):
        sentence = value.words
    title = titles[kind]
    if isinstance(value, ChoiceState):
        title = value.on or title
        if value.order:
            sentence = f"Best so far: {value.order[0].words}."
    stop = [] if kind is ROOM else [KeyHint("S", "enough, stop here", Act.STOP_HERE)]
    if kind is MODE:
        stop.append(_GREYED_OUT)
    return PanelState(
        "Paused" if paused else "Measuring",
        paused,
        (BigLine(title), BigLine(shown)) if shown else (BigLine(title),),
        sentence,
        reading=reading,
        keys=(
            KeyHint("P", "go on" if paused else "pause", Act.PAUSE, main=paused),
            *stop,
            LEAVE,
            DARKEN,
        ),
    )


def turning(facts: Snapshot, question: AskMove, value: object, extra: tuple[KeyHint, ...]) -> PanelState:
    """A person is to turn something while a line, or levels, are measured."""
    (change,) = question.move.changes
    words = value.words if isinstance(value, ChoiceState | PutBackState) and value.words else ""
    lines: tuple[BigLine, ...] = (BigLine(change.name, f"to {_setting(facts, change.role, change.to_value)}"),)
    if change.role.value == "power":
        lines = (BigLine("Switch the screen"), BigLine("off" if change.to_value == 0 else "on again"))
    return PanelState(
        "Your move",
        True,
        lines,
        words,
        keys=(
            KeyHint("Space", "turned, read it", Act.TURNED, main=True),
            KeyHint("S", "enough, stop here", Act.STOP_HERE),
            KeyHint("Z", "put it back", Act.PUT_BACK),
            *([_GREYED_OUT] if change.role is Role.PICTURE_MODE and not isinstance(value, PutBackState) else []),
            LEAVE,
            *extra,
            DARKEN,
        ),
    )


def _setting(facts: Snapshot, role: Role, value: int) -> str:
    """A setting in the screen's own words."""
    control = next((control for control in facts.controls if control.role is role), None)
    return control.shown(value) if control is not None else str(value)
