"""What the move panel says at Levels by meter: before, at a control that a person turns, and afterwards. No Qt."""

import re

from aequitone.advice.moves import Change
from aequitone.advice.technology import usual_light
from aequitone.desktop import commands
from aequitone.desktop.commands import KeyHint, choice_hint, hint
from aequitone.desktop.frame.key_hints import COPY, DARKEN, LEAVE, NEXT, bench_keys, pause
from aequitone.desktop.frame.panel_state import BigLine, EntryState, PanelState, ReadingFigure
from aequitone.desktop.session.operator import AskMove
from aequitone.desktop.session.prompts import go_on
from aequitone.desktop.stations.levels.commands import BY_EYE, LIGHT, MEASURE_UNIFORMITY, TYPE_LIGHT
from aequitone.figures import light_words
from aequitone.passes import Snapshot
from aequitone.passes.levels import wanted_light
from aequitone.procedures.levels.session import LEVEL_ROLES, Glance, LevelsState
from aequitone.procedures.levels.swept import Swept
from aequitone.procedures.preparation.uniformity import Evenness
from aequitone.reference import target_named
from aequitone.wording import and_listed

LIGHTS = (48.0, 80.0, 100.0, 120.0, 160.0, 200.0)
"""White in cd/m² that schools ask for: projectors, tubes, dark rooms, and rooms more and more lit."""
_LIGHT = re.compile(r"\d+(\.\d+)?")
_DARKEST, _BRIGHTEST = 1.0, 10_000.0


def done(snapshot: Snapshot, told: str, following: str) -> PanelState:
    """Levels are set; `following`: the station after them."""
    return go_on(
        following,
        told,
        (
            NEXT,
            hint(commands.BEGIN, "set them again", key="B"),
            hint(BY_EYE, "check by eye"),
            *_uniformity_key(snapshot),
            *bench_keys(snapshot),
            DARKEN,
            COPY,
            *light_keys(snapshot)[:1],
        ),
    )


def to_begin(snapshot: Snapshot, message: str, time: str, following: str) -> PanelState:
    """Nothing is set yet."""
    missing = not any(role in snapshot.settings for role in LEVEL_ROLES)
    sentence = (
        "None of light output, contrast, black level, colour and tint was entered. Enter them at Arrive, or set "
        "them by eye."
        if missing
        else "Each control is measured at a few positions and set where its curve is best."
    )
    begin = hint(commands.BEGIN, "begin", main=True)
    if missing:
        begin = hint(commands.TO_ARRIVE, "go to Arrive", main=True)
    return PanelState(
        "Your move",
        True,
        (BigLine("Set the levels,"), BigLine("light to tint")),
        f"{message} {sentence}".strip(),
        keys=(
            begin,
            hint(BY_EYE, "by eye instead"),
            hint(commands.NEXT_STATION, f"go on to {following}", key="G"),
            *bench_keys(snapshot),
            DARKEN,
            *light_keys(snapshot),
        ),
        outlook=time,
    )


def measuring(
    state: LevelsState | None,
    shown: str,
    reading: ReadingFigure | None,
    turning: tuple[Change, ...],
    *,
    paused: bool,
) -> PanelState:
    """Levels are being measured."""
    swept = state.sweeps[-1] if state and state.sweeps else None
    heading = "Paused" if paused else "Turning" if turning else "Measuring"
    lines: tuple[BigLine, ...] = (BigLine(shown),)
    if turning:
        lines = tuple(BigLine(change.name, f"to {change.to_value}") for change in turning)
    elif swept is not None and swept.finding is None:
        lines = (BigLine(swept.control.name, f"at {swept.control.value}"), BigLine(shown))
    return PanelState(
        heading,
        paused,
        lines,
        _sentence(swept),
        reading=None if turning else reading,
        keys=(
            pause(paused=paused),
            hint(commands.STOP_HERE, "finish this control"),
            hint(commands.UNDO, "put this control back"),
            LEAVE,
            DARKEN,
        ),
        outlook=f"{len(state.sweeps)} sweeps so far." if state and len(state.sweeps) > 1 else "",
    )


def moving(
    question: AskMove, state: LevelsState | None, extra: tuple[KeyHint, ...], *, watched: bool = False
) -> PanelState:
    """A person is to turn a control, and with it others that can be told apart; `watched`: a meter can follow."""
    changes = question.move.changes
    swept = state.sweeps[-1] if state and state.sweeps else None
    mine = swept is not None and any(swept.control.role == change.role for change in changes)
    final = mine and swept is not None and swept.finding is not None and len(changes) == 1
    stands = and_listed(
        [
            f"{changes[0].name} is at {changes[0].from_value}",
            *(f"{change.name} at {change.from_value}" for change in changes[1:]),
        ]
    )
    # Where several are turned, the two keys are about the one that is swept.
    which = swept.control.name if swept is not None and len(changes) > 1 else ""
    sentence = _sentence(swept) if mine else ""
    if state is not None and state.glance is not None and state.glance.still:
        sentence = (
            f"Watched, and not seen to move: {and_listed(state.glance.still)}. Turn it, or say where it stands."
        )
    if not sentence:
        sentence = "They are read there next." if len(changes) > 1 else "It is read at its new setting next."
    if swept is not None and swept.finding is None:
        sentence += " Near it will do: then say where it stands."
    return PanelState(
        "Your move",
        True,
        tuple(BigLine(change.name, f"to {change.to_value}") for change in changes),
        f"{stands} now. {sentence}" if len(changes) > 1 else f"It is at {changes[0].from_value} now. {sentence}",
        keys=(
            hint(commands.TURNED, "turned" if final else "turned, read it", main=True),
            *((hint(commands.WATCH, "watch while turning"),) if watched else ()),
            hint(commands.STOP_HERE, f"finish {which}" if which else "finish this control"),
            hint(commands.UNDO, f"put {which} back" if which else "put it back as found"),
            LEAVE,
            *extra,
            DARKEN,
        ),
    )


def watching(seen: Glance, extra: tuple[KeyHint, ...]) -> PanelState:
    """A person turns while the meter reads on."""
    figure = f"{seen.patch}: {light_words(seen.light)} now, {light_words(seen.before)} before"
    wanted = f"; {light_words(seen.wanted)} are wanted" if seen.wanted is not None else ""
    return PanelState(
        "Your move",
        True,
        tuple(BigLine(change.name, f"to {change.to_value}") for change in seen.move.changes),
        f"{figure}{wanted}.",
        reading=ReadingFigure(f"Watched at {seen.patch}", seen.light, seen.wanted),
        keys=(hint(commands.WATCHED, "turned, read it", main=True), LEAVE, *extra, DARKEN),
    )


def uniformity(found: Evenness | None, shown: str, reading: ReadingFigure | None, *, paused: bool) -> PanelState:
    """Uniformity is being measured."""
    title = (BigLine("Uniformity"), BigLine(shown)) if shown else (BigLine("Uniformity"),)
    return PanelState(
        "Paused" if paused else "Measuring",
        paused,
        title,
        found.words if found is not None else "One grey is read at nine places, the middle first.",
        reading=reading,
        keys=(pause(paused=paused), hint(commands.STOP_HERE, "stop here"), LEAVE, DARKEN),
    )


def typing_light(snapshot: Snapshot, objection: str) -> PanelState:
    """The light that white is to have in the end is to be typed."""
    visit = snapshot.visit
    usual = target_named(visit.target).light or usual_light(visit.technology)
    return PanelState(
        "Your move",
        True,
        (BigLine("White of"), BigLine(visit.memory)),
        "" if objection else f"Its luminance in the end, in cd/m². Nothing typed: {usual:g}, as is usual here.",
        entry=EntryState("cd/m²", objection, f"{wanted_light(snapshot):g}", letters=True),
        keys=(hint(commands.KEEP_ENTRY, "keep it", main=True), hint(commands.CLOSE_TOOL, "cancel")),
    )


def light_typed(text: str) -> float:
    """The luminance that was typed, cd/m²; 0 for what is usual. ValueError with a sentence where it cannot be."""
    words = text.strip().removesuffix("cd/m²").strip().replace(",", ".")
    if not words:
        return 0.0
    if not _LIGHT.fullmatch(words):
        raise ValueError(f"“{text.strip()}” is no luminance: type one figure, such as 110")
    light = float(words)
    if not _DARKEST <= light <= _BRIGHTEST:
        raise ValueError(f"White of {light:g} cd/m² cannot be: type {_DARKEST:g} to {_BRIGHTEST:g}")
    return light


def next_light(snapshot: Snapshot) -> float:
    """The light that comes after the one that is wanted now."""
    now = wanted_light(snapshot)
    return next((light for light in LIGHTS if light > now), LIGHTS[0])


def light_keys(snapshot: Snapshot) -> tuple[KeyHint, ...]:
    """The keys for the light that white is to have in the end; none where the target itself says which."""
    if target_named(snapshot.visit.target).light:
        return ()
    now = wanted_light(snapshot)
    choices = LIGHTS if now in LIGHTS else tuple(sorted((*LIGHTS, now)))
    usual = choice_hint(LIGHT, "white, cd/m²", tuple(f"{light:g}" for light in choices), choices.index(now))
    return usual, hint(TYPE_LIGHT, "type another")


def _uniformity_key(snapshot: Snapshot) -> tuple[KeyHint, ...]:
    """Nine places are for a meter that answers by itself: typing each would take longer than it is worth."""
    return (hint(MEASURE_UNIFORMITY, "uniformity"),) if snapshot.visit.bench.automatic else ()


def _sentence(swept: Swept | None) -> str:
    if swept is None:
        return (
            "White, black and three colours first: they tell a channel's light, and what white balance will cost."
        )
    if swept.doubt:
        return swept.doubt
    if swept.finding is not None:
        return swept.finding.words
    count = len(swept.positions)
    return f"Read at {count} position{'' if count == 1 else 's'} so far."
