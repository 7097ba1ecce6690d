"""What the move panel says at Prepare: of a line, and while one is measured; no Qt."""

from typing import Any

from aequitone.advice.checklist import CHOICE, ChecklistLine, Way
from aequitone.advice.checklist import GAMMA as GAMMA_LINE
from aequitone.advice.checklist import GAMUT as GAMUT_LINE
from aequitone.advice.roles import Role
from aequitone.desktop import commands
from aequitone.desktop.commands import hint
from aequitone.desktop.frame.key_hints import DARKEN, LEAVE, STOP_HERE, bench_keys, pause
from aequitone.desktop.frame.panel_state import BigLine, PanelState, ReadingFigure
from aequitone.desktop.session.live import Live
from aequitone.desktop.session.operator import AskMove
from aequitone.desktop.session.prompts import go_on
from aequitone.desktop.stations.prepare.checklist import MEASURED, Standing, hindrance
from aequitone.desktop.stations.prepare.commands import DONE, LEAVE_AS_IS
from aequitone.desktop.stations.prepare.state import Mark
from aequitone.figures import light_words
from aequitone.passes import (
    GAMMA,
    GAMUT,
    MODE,
    PROOF,
    ROOM,
    TEMPERATURE,
    WARM_UP,
    WATCHED,
    NotNotedError,
    NotReadyError,
    PassType,
    Snapshot,
)
from aequitone.procedures.preparation.presets import ChoiceState
from aequitone.procedures.preparation.warm_up import Warmth
from aequitone.procedures.preparation.watching import PresetGlance, unseen_words

# Lines that choose a preset, which the other jobs of the visit have chosen too.
_CHOSEN = {CHOICE: Role.TEMPERATURE, GAMMA_LINE: Role.GAMMA, GAMUT_LINE: Role.GAMUT}
_MOVE_KEYS = (hint(commands.UP, "line above"), hint(commands.DOWN, "line below"))
_GREYED_OUT = hint(commands.SKIP, "greyed out, skip it")
# Letters of a large line that can be read from afar.
_LARGE = 22
_MEASURING = {
    WARM_UP: "White is watched until it drifts by less than 0.5 % over five minutes.",
    WATCHED: "Nothing is turned. It is kept as the before of the picture and the report.",
    ROOM: "The screen is off for one reading.",
    TEMPERATURE: "Each preset is measured from dark to light.",
    GAMMA: "Each gamma preset is measured from dark to light.",
    GAMUT: "White, a grey, primaries and secondaries are read in each gamut preset.",
    MODE: "Each picture mode is measured from dark to light, and its primaries.",
}


def line_panel(
    snapshot: Snapshot, lines: tuple[Standing, ...], here: int, message: str, following: str
) -> PanelState:
    """At a line, nothing running; `following`: the station after this one."""
    open_ = sum(standing.mark is Mark.OPEN for standing in lines)
    standing = lines[here]
    line = standing.line
    if not open_ and not message:
        return _all_done(snapshot, standing, following)
    error = hindrance(snapshot, line) if standing.mark is Mark.OPEN else None
    hindered = str(error) if error is not None else ""
    keys = [_main_key(snapshot, line)] if error is None else _instead(snapshot, line, error)
    measured = line.way is Way.MEASURE and standing.mark is Mark.DONE
    if measured and keys[0].command == commands.BEGIN:
        # Minutes of measuring are not begun again by whoever only presses Enter.
        keys = [
            hint(commands.DOWN, "line below", main=True, key="Enter"),
            hint(commands.BEGIN, "measure again", key="B"),
        ]
    if keys[0].command == commands.GO_ON:
        keys.append(hint(commands.SET_ASIDE, "set this pass aside"))
    if standing.mark is Mark.OPEN and line.way is Way.RESET and error is None:
        by_link = snapshot.visit.bench.by_link
        keys.append(hint(DONE, "reset to factory" if by_link else "reset, done", key="Ctrl+Enter"))
    elif standing.mark is Mark.OPEN:
        others = hint(commands.SKIP, "does not apply"), hint(LEAVE_AS_IS, "leave it as it is")
        keys += [each for each in others if each.command not in {key.command for key in keys}]
    elif line.key in snapshot.checks:
        keys.append(hint(commands.UNDO, "take it back"))
    if line.picture:
        keys.append(hint(commands.SHOW, "test picture"))
    keys += [*_MOVE_KEYS, hint(commands.NEXT_STATION, f"go on to {following}", key="G"), DARKEN]
    # A message may say the same after it was tried all the same.
    told = ["" if message == hindered else message, hindered, line.caution, line.why]
    told += ["" if hindered else line.how, chosen_elsewhere(snapshot, line)]
    if measured:
        told = [message, f"{standing.detail.rstrip('.')}."]
    return PanelState(
        "Your move",
        True,
        _title(line),
        " ".join(part for part in told if part),
        keys=tuple(keys),
        outlook=f"{open_} of {len(lines)} lines open. {to_settle(snapshot)}".strip(),
    )


def _instead(snapshot: Snapshot, line: ChecklistLine, error: NotReadyError) -> list[commands.KeyHint]:
    """What is offered first where a line cannot be worked on."""
    if not isinstance(error, NotNotedError):
        return [hint(LEAVE_AS_IS, "leave it as it is", main=True, key="Enter")]
    role = _CHOSEN.get(line.key, Role.PICTURE_MODE)
    if any(control.role == role for control in snapshot.controls):
        return [hint(commands.TO_ARRIVE, "go to Arrive", main=True)]
    return [hint(commands.SKIP, "does not apply", main=True)]


def chosen_elsewhere(snapshot: Snapshot, line: ChecklistLine) -> str:
    """Which preset the finished jobs of the visit stand at, where the line chooses one; "" otherwise."""
    role = _CHOSEN.get(line.key)
    told = [
        f"{job.memory} was left at {setting_words(snapshot, role, value)}"
        for job in snapshot.jobs
        for of, value in job.presets
        if of == role and job.id != snapshot.visit.job_id and PROOF.key in job.done
    ]
    return f"{'; '.join(told)}." if told and role is not None else ""


def measuring(kind: PassType[Any, Any], live: Live) -> PanelState:
    """A line is being measured."""
    sentence, title, value = _MEASURING[kind], kind.title, live.value
    if isinstance(value, Warmth):
        sentence = value.words
    if isinstance(value, ChoiceState):
        title = value.on or title
        sentence = f"{_compared(live, value)} {sentence}"
    stop = () if kind in (ROOM, WATCHED) else (STOP_HERE,)
    return PanelState(
        "Paused" if live.paused else "Measuring",
        live.paused,
        (BigLine(title), BigLine(live.shown)) if live.shown else (BigLine(title),),
        sentence,
        reading=live.reading,
        keys=(
            pause(paused=live.paused),
            *stop,
            *((_GREYED_OUT,) if kind is MODE else ()),
            LEAVE,
            DARKEN,
        ),
        outlook=f"{live.done} of {live.total} readings." if kind is WATCHED and live.total else "",
        progress=live.done / max(1, live.total) if kind is WATCHED else None,
    )


def _compared(live: Live, value: ChoiceState) -> str:
    """How many settings were compared, what the last came to, and which is the best by now."""
    told = [f"{min(live.done + 1, live.total)} of {live.total}."] if live.total else []
    if value.last is not None and value.last != value.order[0]:
        told.append(f"Last: {value.last.words}.")
    if value.order:
        told.append(f"Best so far: {value.order[0].words}.")
    return " ".join(told)


def turning(snapshot: Snapshot, question: AskMove, live: Live | None) -> PanelState:
    """A person is to turn something while a line is measured."""
    (change,) = question.move.changes
    lines: tuple[BigLine, ...] = (
        BigLine(change.name, f"to {setting_words(snapshot, change.role, change.to_value)}"),
    )
    if change.role == Role.POWER:
        lines = (BigLine("Switch the screen"), BigLine("off" if change.to_value == 0 else "on again"))
    presets = change.role in (*_CHOSEN.values(), Role.PICTURE_MODE) and snapshot.visit.bench.automatic
    watched = (hint(commands.WATCH, "watch while choosing"),) if presets else ()
    return PanelState(
        "Your move",
        True,
        lines,
        _at_a_turn(live, change.name) if live is not None else "",
        keys=(
            hint(commands.TURNED, "turned, read it", main=True),
            *watched,
            STOP_HERE,
            hint(commands.UNDO, "put it back"),
            *((_GREYED_OUT,) if change.role == Role.PICTURE_MODE else ()),
            LEAVE,
            *bench_keys(snapshot),
            DARKEN,
        ),
    )


def _at_a_turn(live: Live, name: str) -> str:
    """What to say where a control is to be turned."""
    value = live.value
    if not isinstance(value, ChoiceState):
        return ""
    return unseen_words(name) if value.unseen else value.words or _compared(live, value)


def watching(snapshot: Snapshot, seen: PresetGlance) -> PanelState:
    """A person chooses a preset while the meter reads on."""
    (change,) = seen.move.changes
    now, before = (light_words(float(xyz[1])) for xyz in (seen.xyz, seen.before))
    moved = "no change yet" if seen.is_still else f"its colour moved by {seen.apart:.4f}\u00a0u'v'"
    return PanelState(
        "Your move",
        True,
        (BigLine(change.name, f"to {setting_words(snapshot, change.role, change.to_value)}"),),
        f"{seen.patch}: {now} now, {before} before; {moved}.",
        reading=ReadingFigure(f"Watched at {seen.patch}", float(seen.xyz[1]), None),
        keys=(hint(commands.WATCHED, "chosen, read it", main=True), LEAVE, *bench_keys(snapshot), DARKEN),
    )


def setting_words(snapshot: Snapshot, role: Role, value: int) -> str:
    """A setting in the screen's own words."""
    control = next((control for control in snapshot.controls if control.role == role), None)
    return control.shown(value) if control is not None else str(value)


def to_settle(snapshot: Snapshot) -> str:
    """What was switched off and is to be settled before the visit is closed; "" where nothing is."""
    owed = [debt.name for debt in snapshot.debts if debt.answer is None]
    return f"Switched off, to settle at Hand over: {', '.join(owed)}." if owed else ""


def _title(line: ChecklistLine) -> tuple[BigLine, ...]:
    """The title in lines that can be read from afar."""
    words, told = line.title.split(), [""]
    for word in words:
        if told[-1] and len(told[-1]) + len(word) >= _LARGE and len(told) < 3:
            told.append(word)
        else:
            told[-1] = f"{told[-1]} {word}".strip()
    return tuple(BigLine(part) for part in told)


def _main_key(snapshot: Snapshot, line: ChecklistLine) -> commands.KeyHint:
    if line.way is Way.MEASURE:
        interrupted = snapshot.interrupted is not None and snapshot.interrupted.kind == MEASURED[line.key].key
        if interrupted:
            return hint(commands.GO_ON, "continue measuring", main=True)
        return hint(commands.BEGIN, "measure", main=True)
    if line.way is Way.RESET:
        # Nobody who only presses Enter shall lose an earlier owner's care.
        return hint(LEAVE_AS_IS, "leave it as it is", main=True, key="Enter")
    if line.way is Way.SWITCH:
        by_link = snapshot.visit.bench.by_link
        return hint(DONE, "switch it off" if by_link else "switched off", main=True)
    return hint(DONE, "done", main=True)


def _all_done(snapshot: Snapshot, standing: Standing, following: str) -> PanelState:
    keys = [hint(commands.NEXT_STATION, "next station", main=True), *_MOVE_KEYS]
    if standing.line.key in snapshot.checks:
        keys.append(hint(commands.UNDO, "take the line back"))
    if standing.line.way is Way.MEASURE:
        keys.append(hint(commands.BEGIN, "measure again", key="B"))
    if standing.line.picture:
        keys.append(hint(commands.SHOW, "test picture"))
    last = f"{standing.line.title}: {standing.detail.rstrip('.')}."
    return go_on(
        following,
        " ".join(part for part in ("Every line is answered.", to_settle(snapshot), last) if part),
        (*keys, DARKEN),
    )
