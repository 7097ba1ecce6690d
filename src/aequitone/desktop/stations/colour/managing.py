"""What the move panel says while a colour management is set: a move to make, a look, and how it ended. No Qt."""

from aequitone.advice.moves import Move, way_back_words
from aequitone.desktop import commands
from aequitone.desktop.commands import KeyHint, choice_hint, hint
from aequitone.desktop.frame.key_hints import LEAVE, MOVES, STOP_HERE, VIEW_KEYS, bench_keys, pause
from aequitone.desktop.frame.panel_state import BigLine, DeltaFigure, PanelState
from aequitone.desktop.session.live import Live
from aequitone.desktop.session.operator import AskMove
from aequitone.desktop.stations.colour.commands import LIGHT
from aequitone.desktop.stations.colour.panel import DIAGRAM_KEY, length_key
from aequitone.desktop.stations.white.panel import move_lines, trips_made, trips_words, why_key
from aequitone.passes import WHITE, Snapshot
from aequitone.procedures.colour.manage_plan import Managed
from aequitone.procedures.colour.samples import Length
from aequitone.reference import verdict

# A move of more controls than this is told by how many they are: each stands in the list beside.
_MOST_LINES = 4
# What F4 goes through.
LIGHTS = (None, True, False)
_BY_EYE = "By eye: the picture Colour ramps, at the bench, must show no step, no block and no tint in white."


def to_begin(
    snapshot: Snapshot, message: str, told: str, time: str, length: Length, following: str, *, light: bool | None
) -> PanelState:
    """Colours were read as found, and the screen has a colour management."""
    what = "Grey is kept, and what brings nothing is left as it was found."
    if not snapshot.done(WHITE):
        what = f"{what} White is not balanced yet: do that first."
    return PanelState(
        "Your move",
        True,
        (BigLine("Set the"), BigLine("colour management")),
        " ".join(part for part in (message, told, what) if part),
        keys=(
            hint(commands.BEGIN, "begin", main=True),
            hint(commands.COLOURS, "measure as left"),
            light_key(light),
            length_key(length),
            DIAGRAM_KEY,
            hint(commands.NEXT_STATION, f"skip to {following}", key="G"),
            *bench_keys(snapshot),
            *VIEW_KEYS,
        ),
        outlook=time,
    )


def light_key(light: bool | None) -> KeyHint:
    """The key that has the light of colours count, or not; None: where the screen can give it."""
    return choice_hint(
        LIGHT, "light of colours", ("where it can be had", "counts", "left out"), LIGHTS.index(light)
    )


def done(snapshot: Snapshot, managed: Managed, told: str, length: Length, *, light: bool | None) -> PanelState:
    """It is set; the colours are to be read as they are left."""
    if managed.trips:
        told = f"{told} {_BY_EYE}"
    return PanelState(
        "Your move",
        True,
        (BigLine("Measure the"), BigLine("colours, as left")),
        told,
        delta=_delta(managed),
        keys=(
            hint(commands.COLOURS, "measure", main=True, key="Enter"),
            hint(commands.BEGIN, "adjust again", key="B"),
            light_key(light),
            length_key(length),
            DIAGRAM_KEY,
            hint(commands.NEXT_STATION, "go on without", key="G"),
            MOVES,
            *bench_keys(snapshot),
            *VIEW_KEYS,
        ),
    )


def moving(
    question: AskMove, snapshot: Snapshot, live: Live | None, state: Managed | None, message: str, *, why: bool
) -> PanelState:
    """A person is to make a move; `why`: they want to know why."""
    move = question.move
    explained = state is not None and state.proposed == move and bool(state.why)
    reasons = why and explained
    sentence = state.why if reasons and state is not None else _expected(move, state)
    note = live.note if live and not reasons else ""
    keys = [hint(commands.TURNED, "turned, read it", main=True)]
    if explained:
        keys.append(why_key(why=why))
    if state is not None and state.trips:
        keys.append(hint(commands.UNDO, "put it back"))
    keys += [hint(commands.READ, "read again"), STOP_HERE, LEAVE, MOVES, DIAGRAM_KEY]
    keys += [*bench_keys(snapshot), *VIEW_KEYS]
    return PanelState(
        "Your move",
        True,
        _lines(move),
        " ".join(part for part in (message, sentence, note) if part),
        delta=_delta(state),
        keys=tuple(keys),
        outlook=trips_words(trips_made(live, len(state.trips))) if state else "",
    )


def measuring(live: Live, state: Managed | None, *, why: bool) -> PanelState:
    """Saturations are being read, or controls are set by link."""
    lines: tuple[BigLine, ...] = (BigLine(live.shown),)
    keys, sentence = [pause(paused=live.paused), LEAVE], live.note
    usual = "All saturations are read first; nothing is turned yet."
    if state is not None:
        usual = "Bright and dark colours take turns; after a trip every second saturation is read."
        if state.ramp is not None:
            usual = (
                f"{state.ramp.colour.capitalize()} is pulled hard: a fine ramp through it is read, to see no step."
            )
        if live.turning and state.proposed is not None:
            lines = _lines(state.proposed)
            sentence = state.why if why else _expected(state.proposed, state)
            keys.append(why_key(why=why))
        if state.trips:
            keys.append(hint(commands.UNDO, "put it back"))
        keys += [hint(commands.READ, "read again"), STOP_HERE, MOVES, DIAGRAM_KEY]
    return PanelState(
        "Paused" if live.paused else "Turning" if live.turning else "Measuring",
        live.paused,
        lines,
        sentence or usual,
        reading=None if live.turning else live.reading,
        delta=_delta(state),
        keys=(*keys, *VIEW_KEYS),
        outlook=trips_words(trips_made(live, len(state.trips))) if state else "",
    )


def _lines(move: Move) -> tuple[BigLine, ...]:
    """A move in large words: control by control, or how many of which colours."""
    if len(move.changes) <= _MOST_LINES:
        return move_lines(move)
    colours = move.colours
    told = colours[0] if len(colours) == 1 else f"{len(colours)} colours"
    return BigLine(f"{len(move.changes)} controls"), BigLine(f"of {told}")


def _expected(move: Move, state: Managed | None) -> str:
    if move.expected is None:
        return way_back_words(move, [trip.move for trip in state.trips] if state is not None else [])
    words = f"{move.expected.words}, on average."
    if move.expected.de2000_after > move.expected.de2000_before:
        words += " White is brought back, which costs the colours a little."
    return words


def _delta(state: Managed | None) -> DeltaFigure | None:
    if state is None:
        return None
    mean, sd = state.colours.mean(everyday=False)
    if not state.formula.light:
        return DeltaFigure(f"{state.formula.short} without light", state.average, sd, verdict(state.average))
    return DeltaFigure(f"{state.colours.formula.short}, saturations", mean, sd, verdict(mean))
