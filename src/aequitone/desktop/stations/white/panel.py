"""What the move panel says at White: before, at a move that a person is to make, and afterwards. No Qt."""

from typing import TypeVar

import numpy as np

from aequitone.advice.by_hand.watching import Watched
from aequitone.advice.moves import Move, way_back_words
from aequitone.advice.two_point.mover import decisive
from aequitone.colorimetry import Formula
from aequitone.desktop import commands
from aequitone.desktop.commands import Command, KeyHint, choice_hint, hint
from aequitone.desktop.frame.key_hints import DARKEN, LEAVE, MOVES, NEXT, STOP_HERE, VIEW_KEYS, bench_keys, pause
from aequitone.desktop.frame.panel_state import BigLine, DeltaFigure, DialState, PanelState
from aequitone.desktop.session.live import Live
from aequitone.desktop.session.operator import AskMove
from aequitone.desktop.stations.white.commands import FORMULA, PAIR, STOP_FIGURE
from aequitone.desktop.widgets.control_sliders import control_sliders
from aequitone.passes import Snapshot
from aequitone.passes.white import white_levels
from aequitone.planning.pace import STOPS, minutes_words, usual_trips, white_balance_seconds
from aequitone.procedures.white.session import WhiteState
from aequitone.reference import verdict

T = TypeVar("T")
# Two levels that schools adjust at, bright and dark.
PAIRS = ((80.0, 30.0), (80.0, 20.0), (100.0, 20.0), (100.0, 30.0))


def to_begin(snapshot: Snapshot, message: str) -> PanelState:
    """Nothing is done yet."""
    how = (
        "The controls are set by link."
        if snapshot.visit.bench.by_link
        else "You turn the controls; the program says which, how far, and what to expect."
    )
    return PanelState(
        "Your move",
        True,
        (BigLine("Bring grey to"), BigLine("the white point")),
        " ".join(part for part in (message, how, _levels_words(snapshot)) if part),
        keys=(
            hint(commands.BEGIN, "begin", main=True),
            *_choices(snapshot),
            *bench_keys(snapshot),
            *VIEW_KEYS,
        ),
        outlook=_stop_words(snapshot),
    )


def done(
    snapshot: Snapshot,
    state: WhiteState,
    told: str,
    delta: DeltaFigure | None,
    dial: DialState | None,
    following: str,
) -> PanelState:
    """White is balanced; `following`: the station after it."""
    return PanelState(
        "Your move",
        True,
        (BigLine("Go on to"), BigLine(following)),
        told,
        delta=delta,
        dial=dial,
        sliders=control_sliders(state.controls, None),
        keys=(NEXT, hint(commands.BEGIN, "adjust again", key="B"), MOVES, *bench_keys(snapshot), *VIEW_KEYS),
    )


def moving(
    question: AskMove,
    snapshot: Snapshot,
    live: Live | None,
    state: WhiteState | None,
    trail: DialState | None,
    message: str,
    *,
    why: bool,
) -> PanelState:
    """A person is to make a move; `why`: they want to know why."""
    move = question.move
    explained = state is not None and state.proposed == move
    made = [trip.move for trip in state.trips] if state is not None else []
    expected = f"{move.expected.words}." if move.expected else way_back_words(move, made)
    note = live.note if live else ""
    reasons = why and explained
    if reasons and state is not None:
        expected, note = state.why, ""
    keys = [hint(commands.TURNED, "turned, read it", main=True)]
    if snapshot.visit.bench.automatic:
        keys.append(hint(commands.WATCH, "watch while turning"))
    if explained:
        keys.append(why_key(why=why))
    if state is not None and state.trips:
        keys.append(hint(commands.UNDO, "put it back"))
    keys += [hint(commands.READ, "read again"), STOP_HERE, LEAVE]
    keys += [MOVES, *bench_keys(snapshot)]
    return PanelState(
        "Your move",
        True,
        move_lines(move),
        " ".join(part for part in (message, expected, note) if part),
        delta=delta_of(state) if state and not reasons else None,
        # Reasons take the room of the pictures.
        dial=None if reasons else trail,
        sliders=control_sliders(state.controls, move) if state and not reasons else (),
        keys=(*keys, *VIEW_KEYS),
        outlook=trips_words(trips_made(live, len(state.trips))) if state else "",
    )


def measuring(live: Live, state: WhiteState | None, trail: DialState | None, *, why: bool) -> PanelState:
    """White is being read, or turned by link."""
    lines: tuple[BigLine, ...] = (BigLine(live.shown),)
    keys = [pause(paused=live.paused), LEAVE]
    sentence, reasons = live.note, False
    if state is not None and live.turning and state.proposed is not None:
        lines = move_lines(state.proposed)
        sentence = f"{state.proposed.expected.words}." if state.proposed.expected else ""
        if why:
            sentence, reasons = state.why, True
        keys.append(why_key(why=why))
    if state is not None:
        if state.trips:
            keys.append(hint(commands.UNDO, "put it back"))
        keys += [hint(commands.READ, "read again"), STOP_HERE, MOVES]
    pictured = state is not None and not reasons
    return PanelState(
        "Paused" if live.paused else "Turning" if live.turning else "Measuring",
        live.paused,
        lines,
        sentence,
        reading=None if live.turning else live.reading,
        delta=None if reasons else delta_of(state) if state else live.delta,
        dial=None if reasons else trail if state else live.dial,
        sliders=control_sliders(state.controls, state.proposed if live.turning else None)
        if state is not None and pictured
        else (),
        keys=(*keys, *VIEW_KEYS),
        outlook=trips_words(trips_made(live, len(state.trips))) if state else "",
    )


def watching(seen: Watched, snapshot: Snapshot, live: Live, message: str, *, heard: bool) -> PanelState:
    """A person turns while the meter reads on: what is left to turn, in words for the corner of an eye."""
    to = {change.name: change.to_value for change in seen.move.changes}
    lines = tuple(BigLine(each.name, each.words, f"to {to[each.name]}") for each in seen.left)
    watched = {each.name for each in seen.left}
    other = [change.name for change in seen.move.changes if change.name not in watched]
    if seen.there:
        sentence = "All of these are set. Press Space for an exact reading."
    elif other:
        sentence = f"{', '.join(other)}: afterwards, at the other level."
    else:
        sentence = "The figures follow your hand: quick readings, which settle within a second or two."
    return PanelState(
        "Your move",
        True,
        lines,
        f"{message} {sentence}".strip(),
        delta=DeltaFigure(f"{seen.formula} at {seen.percent:g} %", seen.error, seen.error_sd, verdict(seen.error)),
        dial=live.dial,
        keys=(
            hint(commands.WATCHED, "turned, read it", main=True),
            hint(commands.SOUND, "sound off" if heard else "sound on"),
            LEAVE,
            *bench_keys(snapshot),
            DARKEN,
        ),
    )


def move_lines(move: Move) -> tuple[BigLine, ...]:
    """A move in large words."""
    return tuple(
        BigLine(change.name, f"{'up' if change.by > 0 else 'down'} {abs(change.by)}", f"to {change.to_value}")
        if change.by
        else BigLine(change.name, f"at {change.to_value}")
        for change in move.changes
    )


def delta_of(state: WhiteState) -> DeltaFigure:
    """The figure that white balance works on."""
    worse = state.percents[decisive(np.array(state.errors))]
    return DeltaFigure(f"{state.formula} at {worse:g} %", state.worst, state.worst_sd, verdict(state.worst))


def why_key(*, why: bool) -> KeyHint:
    """The key that asks for the reasons of a move."""
    return hint(commands.WHY, "hide the reasons" if why else "why this move?")


def next_choice(command: Command, snapshot: Snapshot) -> tuple[float, Formula, tuple[float, float]]:
    """Stop figure, formula and pair of levels, once a key has gone on to the next of one."""
    stop, formula, pair = snapshot.visit.stop_at, snapshot.visit.formula, snapshot.visit.pair
    if command == STOP_FIGURE:
        stop = _next(list(STOPS), stop)
    elif command == FORMULA:
        formula = _next(list(Formula), formula)
    else:
        pair = _next(list(PAIRS), pair)
    return stop, formula, pair


def _levels_words(snapshot: Snapshot) -> str:
    """What is said where other levels are adjusted than those that were chosen."""
    bright, dark = white_levels(snapshot)
    chosen_bright, chosen_dark = snapshot.visit.pair
    why = []
    if bright != chosen_bright:
        why.append("higher up, the screen rolls off")
    if dark != chosen_dark:
        why.append("PQ has its shadows lower down")
    return f"Adjusted at {bright:g} and {dark:g} %: {'; '.join(why)}." if why else ""


def _choices(snapshot: Snapshot) -> tuple[KeyHint, ...]:
    """The keys that go through what White can be told, each with its choices."""
    visit = snapshot.visit
    return (
        choice_hint(STOP_FIGURE, "stop at ΔE", tuple(f"{stop:g}" for stop in STOPS), _index(STOPS, visit.stop_at)),
        choice_hint(FORMULA, "by", tuple(_FORMULA_WORDS[f] for f in Formula), list(Formula).index(visit.formula)),
        choice_hint(PAIR, "levels", tuple(f"{b:g}/{d:g}" for b, d in PAIRS), _index(PAIRS, visit.pair)),
    )


_FORMULA_WORDS = {
    Formula.DE2000: "2000",
    Formula.DE2000_CAST: "2000 cast",
    Formula.ITP: "ITP",
    Formula.ITP_CAST: "ITP cast",
}


def _index(order: tuple[T, ...], now: T) -> int:
    return order.index(now) if now in order else 0


def _next(order: list[T], now: T) -> T:
    return order[(order.index(now) + 1) % len(order)] if now in order else order[0]


def _stop_words(snapshot: Snapshot) -> str:
    """What each figure to stop at would cost on this bench."""
    pace, formula = snapshot.pace, snapshot.visit.formula
    told = [
        f"{stop:g} takes about {trips} trips, {minutes_words(white_balance_seconds(pace, trips))}"
        for stop in STOPS
        for trips in (usual_trips(stop, formula),)
    ]
    return f"To {formula} {'; '.join(told)}."


def trips_made(live: Live | None, told: int) -> int:
    """How many trips to the menu were made, of which a procedure has told so many; it mends slips beside them."""
    return max(told, live.trips if live is not None else 0)


def trips_words(count: int) -> str:
    """How many trips to the menu were made."""
    return (
        "No trip to the menu yet." if not count else f"{count} trip{'s' if count != 1 else ''} to the menu so far."
    )
