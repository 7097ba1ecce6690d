"""From a state of levels to its picture, and what the move panel says of it: pure functions, no Qt."""

from typing import Any

from aequitone.advice.levels import Curve
from aequitone.advice.levels.sweep import luminances
from aequitone.advice.moves import Change
from aequitone.advice.roles import CHANNELS, ROLE_WORDS, Role
from aequitone.advice.technology import usual_light
from aequitone.desktop.frame.key_hints import COPY, DARKEN, LEAVE
from aequitone.desktop.session.operator import AskMove
from aequitone.desktop.states import (
    Act,
    BigLine,
    KeyHint,
    LevelRow,
    LevelsPage,
    LineState,
    PanelState,
    ReadingFigure,
)
from aequitone.passes import LEVELS, UNIFORMITY, Snapshot, levels_state
from aequitone.procedures.evenness import PLACES, Evenness
from aequitone.procedures.levels import LEVEL_ROLES, LevelsState
from aequitone.procedures.sweeping import Swept

_EYE = KeyHint("E", "by eye instead", Act.BY_EYE)
LIGHTS = (48.0, 80.0, 100.0, 120.0, 160.0, 200.0)
"""White in cd/m² that schools ask for: projectors, tubes, dark rooms, and rooms more and more lit."""
_SAME = 0.02


def page(facts: Snapshot, live: LevelsState | None, asked: Role | None = None) -> LevelsPage:
    """The controls, and the curve of the newest sweep, or of the control that is `asked` about.

    `live`: the state of a pass that is running; what the ledger knows of it comes with its end.
    """
    state = live or levels_state(facts)
    controls = {control.role: control for control in facts.controls}
    sweeps = state.sweeps if state else ()
    about = [swept for swept in sweeps if asked is None or swept.control.role is asked]
    shown = about[-1] if about else None
    found = {swept.control.role: swept.found_at for swept in reversed(sweeps)}
    latest = {swept.control.role: swept for swept in sweeps}
    rows = []
    for role in LEVEL_ROLES:
        if role not in controls or role not in facts.settings:
            continue
        control, swept = controls[role], latest.get(role)
        finding = swept.finding if swept else None
        now = swept.control.value if swept and live else facts.settings[role]
        rows.append(
            LevelRow(
                ROLE_WORDS[role].capitalize(),
                control.name,
                control.lowest,
                control.highest,
                found.get(role, facts.settings[role]),
                now,
                finding.exact if finding else None,
                finding.sd if finding else 0.0,
                _note(swept),
                role is asked or (shown is not None and shown.control.role is role),
            )
        )
    return LevelsPage(tuple(rows), **_curve(shown), facts=figures(facts, state))


def _note(swept: Swept | None) -> str:
    if swept is None:
        return ""
    if swept.kept:
        return "put back by you"
    if swept.finding is None:
        return f"{len(swept.positions)} read so far"
    return f"{len(swept.positions)} positions, {swept.readings} readings"


def _curve(swept: Swept | None) -> dict[str, Any]:
    if swept is None:
        return {"title": "", "across": ""}
    finding = swept.finding
    curves = finding.curves if finding else _rough(swept)
    return {
        "title": _title(ROLE_WORDS[swept.control.role].capitalize(), swept.control.name),
        "across": swept.control.name,
        "lines": tuple(_line(curve) for curve in curves),
        "at": finding.exact if finding else None,
        "at_sd": finding.sd if finding else 0.0,
        "setting": finding.setting if finding else None,
    }


def _title(role: str, name: str) -> str:
    return role if role.casefold() == name.casefold() else f"{role}, {name}"


def _rough(swept: Swept) -> tuple[Curve, ...]:
    """Luminance alone, while the sweep has not said yet what it makes of it."""
    if not swept.positions:
        return ()
    settings, Y, sd = luminances(swept.positions)
    return (Curve("light", settings, Y, sd),)


def _line(curve: Curve) -> LineState:
    points = zip(curve.settings.tolist(), curve.values.tolist(), curve.sd.tolist(), strict=True)
    return LineState(curve.name, tuple(points), curve.name if curve.name in CHANNELS else "")


def figures(facts: Snapshot, state: LevelsState | None) -> tuple[tuple[str, str], ...]:
    """Figures of the whole."""
    told = [("Wanted at the end", f"{wanted_light(facts):g} cd/m²")]
    if state is None or state.white is None:
        return tuple(told)
    if state.reserve > _SAME:
        told.append(("Set now, reserve in", f"{state.wanted:.0f} cd/m²"))
    told.append(("White", f"{state.white[1]:.1f} cd/m²"))
    if state.black is not None:
        told.append(("Black", f"{state.black[1]:.3f} cd/m²"))
    if state.contrast is not None:
        told.append(("On to off", f"{state.contrast:,.0f} : 1".replace(",", " ")))
    if state.board_contrast is not None:
        told.append(("Checkerboard", f"{state.board_contrast:,.0f} : 1".replace(",", " ")))
    told += _uniformity(facts.result(UNIFORMITY))
    if state.windows:
        small, full = max(light for _, light in state.windows), state.windows[-1][1]
        told.append(("Full field to window", f"{full / small * 100:.0f} %"))
        told.append(("Window to use", f"up to {(state.window or 0.0) * 100:.0f} %"))
    return tuple(told)


def _uniformity(found: Evenness | None) -> list[tuple[str, str]]:
    if found is None or len(found.xyz) < len(PLACES):
        return []
    light = dict(zip((spot for _, spot in PLACES), found.light, strict=True))
    rows = sorted({spot[1] for spot in light}, reverse=True)
    columns = sorted({spot[0] for spot in light})
    names = ("Light, top, %", "Light, middle, %", "Light, bottom, %")
    told = [
        (name, "  ".join(f"{light[column, row]:+.0f}" for column in columns))
        for name, row in zip(names, rows, strict=True)
    ]
    return [*told, ("Colour uneven by", f"{found.cast.max():.4f}")]


def next_light(facts: Snapshot) -> float:
    """The light that comes after the one that is wanted now."""
    now = wanted_light(facts)
    return next((light for light in LIGHTS if light > now), LIGHTS[0])


def _evenness_key(facts: Snapshot) -> tuple[KeyHint, ...]:
    """Nine places are for a meter that answers by itself: typing each would take longer than it is worth."""
    return (KeyHint("U", "uniformity", Act.EVENNESS),) if facts.visit.bench.automatic else ()


def _light_key(facts: Snapshot) -> KeyHint:
    return KeyHint("Y", f"want {next_light(facts):g} cd/m²", Act.LIGHT)


def as_text(page: LevelsPage) -> str:
    """The picture of Levels as tab-separated text."""
    rows = [("Control", "Name", "Found", "Now", "Curve says", "±")]
    for row in page.rows:
        exact = "" if row.exact is None else f"{row.exact:.1f}"
        rows.append((row.role, row.name, str(row.found), str(row.now), exact, f"{row.sd:.1f}" if exact else ""))
    lines = ["\t".join(row) for row in rows]
    return "\n".join([*lines, "", *("\t".join(figure) for figure in page.facts)]) + "\n"


def wanted_light(facts: Snapshot) -> float:
    """Luminance of white that the visit wants in the end, cd/m²."""
    return facts.visit.light or usual_light(facts.visit.technology)


def idle(facts: Snapshot, message: str, outlook: str) -> PanelState:
    """Levels, nothing running."""
    state = levels_state(facts)
    missing = not any(role in facts.settings for role in LEVEL_ROLES)
    if state is not None and facts.done(LEVELS):
        return PanelState(
            "Your move",
            True,
            (BigLine("Go on to"), BigLine("White")),
            f"{message} {said(state)}".strip(),
            keys=(
                KeyHint("Enter", "next station", Act.NEXT_STATION, main=True),
                KeyHint("B", "set them again", Act.BEGIN),
                KeyHint("E", "look by eye", Act.BY_EYE),
                *_evenness_key(facts),
                _light_key(facts),
                DARKEN,
                COPY,
            ),
        )
    sentence = (
        "None of light output, contrast, black level, colour and tint is noted: note them at Arrive, or go by eye."
        if missing
        else "Each control is read at a few positions, and set where its curve says. "
        f"White of {wanted_light(facts):g} cd/m² is wanted in the end."
    )
    begin = () if missing else (KeyHint("Enter", "begin", Act.BEGIN, main=True),)
    return PanelState(
        "Your move",
        True,
        (BigLine("Set the levels,"), BigLine("light to tint")),
        f"{message} {sentence}".strip(),
        keys=(*begin, _EYE, _light_key(facts), KeyHint("G", "go on to White", Act.NEXT_STATION), DARKEN),
        outlook=outlook,
    )


def said(state: LevelsState) -> str:
    """What was found, control by control."""
    told = []
    for swept in {swept.control.role: swept for swept in state.sweeps}.values():
        if swept.kept:
            told.append(f"{swept.control.name} was put back to {swept.control.value}.")
        elif swept.finding is not None:
            told.append(swept.finding.words)
    return " ".join(told)


def running(
    state: LevelsState | None, shown: str, reading: ReadingFigure | None, turning: Change | None, *, paused: bool
) -> PanelState:
    """Levels are being measured."""
    swept = state.sweeps[-1] if state and state.sweeps else None
    heading = "Paused" if paused else "Turning" if turning else "Measuring"
    lines: tuple[BigLine, ...] = (BigLine(shown),)
    if turning is not None:
        lines = (BigLine(turning.name, f"to {turning.to_value}"),)
    elif swept is not None and swept.finding is None:
        lines = (BigLine(swept.control.name, f"at {swept.control.value}"), BigLine(shown))
    return PanelState(
        heading,
        paused,
        lines,
        _sentence(swept),
        reading=None if turning else reading,
        keys=(
            KeyHint("P", "go on" if paused else "pause", Act.PAUSE, main=paused),
            KeyHint("S", "enough of this control", Act.STOP_HERE),
            KeyHint("Z", "put this control back", Act.PUT_BACK),
            LEAVE,
            DARKEN,
        ),
        outlook=f"{len(state.sweeps)} sweeps so far." if state and len(state.sweeps) > 1 else "",
    )


def moving(question: AskMove, state: LevelsState | None, extra: tuple[KeyHint, ...]) -> PanelState:
    """A person is to turn a control."""
    (change,) = question.move.changes
    swept = state.sweeps[-1] if state and state.sweeps else None
    mine = swept is not None and swept.control.role is change.role
    final = mine and swept is not None and swept.finding is not None
    sentence = _sentence(swept) if mine else ""
    if not sentence:
        sentence = "It is read next where it is to go."
    return PanelState(
        "Your move",
        True,
        (BigLine(change.name, f"to {change.to_value}"),),
        f"It stands at {change.from_value}. {sentence}",
        keys=(
            KeyHint("Space", "turned" if final else "turned, read it", Act.TURNED, main=True),
            KeyHint("S", "enough of this control", Act.STOP_HERE),
            KeyHint("Z", "put it back as found", Act.PUT_BACK),
            LEAVE,
            *extra,
            DARKEN,
        ),
    )


def _sentence(swept: Swept | None) -> str:
    if swept is None:
        return "White, black and three colours first: they tell a channel's light, and what white will cost."
    return swept.finding.words if swept.finding is not None else f"{len(swept.positions)} positions read."


def levels_of(value: object) -> LevelsState | None:
    """The state of levels among what a procedure may tell."""
    return value if isinstance(value, LevelsState) else None
