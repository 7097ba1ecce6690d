"""What the move panel says at White: before, at a move that a person is to make, and afterwards. No Qt."""

from typing import TypeVar

from aequitone.advice.watching import Watched
from aequitone.colorimetry import Formula
from aequitone.desktop import stages
from aequitone.desktop.frame.key_hints import DARKEN, LEAVE, MOVES, VIEW_KEYS, bench_keys
from aequitone.desktop.session.live import Live
from aequitone.desktop.session.operator import AskMove
from aequitone.desktop.states import Act, BigLine, DeltaFigure, DialState, KeyHint, PanelState
from aequitone.passes import WHITE, Snapshot
from aequitone.planning.pace import STOPS, minutes_words, usual_trips, white_balance_seconds
from aequitone.reference import verdict

T = TypeVar("T")
# Two levels that schools adjust at, bright and dark.
PAIRS = ((80.0, 30.0), (80.0, 20.0), (100.0, 20.0), (100.0, 30.0))


def white_idle(facts: Snapshot, message: str) -> PanelState:
    """White, nothing running."""
    extra = bench_keys(facts)
    result = facts.result(WHITE)
    if result is not None:
        return PanelState(
            "Your move",
            True,
            (BigLine("Go on to"), BigLine("Tone")),
            f"{message} {result.words}".strip(),
            delta=stages.delta_of(result.state),
            dial=stages.white_trail(facts, result.state, ()),
            sliders=stages.sliders(result.state.controls, None),
            keys=(
                KeyHint("Enter", "next station", Act.NEXT_STATION, main=True),
                KeyHint("B", "adjust again", Act.BEGIN),
                MOVES,
                *extra,
                *VIEW_KEYS,
            ),
        )
    how = (
        "The stand-in is turned for you."
        if facts.visit.bench.link == "stand-in"
        else ("You turn the controls; the program says which, how far, and what to expect.")
    )
    return PanelState(
        "Your move",
        True,
        (BigLine("Bring grey to"), BigLine("the white point")),
        f"{message} {how}".strip(),
        keys=(
            KeyHint("Enter", "begin", Act.BEGIN, main=True),
            KeyHint("F", f"stop at {chosen_by(Act.STOP_FIGURE, facts)[0]:g}", Act.STOP_FIGURE),
            KeyHint("X", f"by {chosen_by(Act.STOP_FORMULA, facts)[1]}", Act.STOP_FORMULA),
            KeyHint("J", f"at {_levels(chosen_by(Act.PAIR, facts)[2])}", Act.PAIR),
            *extra,
            *VIEW_KEYS,
        ),
        outlook=_stop_words(facts),
    )


def moving(
    question: AskMove, facts: Snapshot, live: Live | None, trail: DialState | None, message: str, *, why: bool
) -> PanelState:
    move, state = question.move, live.state if live else None
    explained = state is not None and state.proposed == move
    expected = f"{move.expected.words}." if move.expected else "This undoes the last move." if move.undoes else ""
    note = live.note if live else ""
    reasons = why and explained
    if reasons and state is not None:
        expected, note = state.why, ""
    keys = [KeyHint("Space", "turned, read it", Act.TURNED, main=True)]
    if facts.visit.bench.automatic:
        keys.append(KeyHint("V", "watch while turning", Act.WATCH))
    if explained:
        keys.append(why_key(why=why))
    if state is not None and state.trips:
        keys.append(KeyHint("Z", "put it back", Act.PUT_BACK))
    keys += [KeyHint("R", "read again", Act.READ_AGAIN), KeyHint("S", "good enough, stop", Act.STOP_HERE), LEAVE]
    keys += [MOVES, *bench_keys(facts)]
    return PanelState(
        "Your move",
        True,
        stages.move_lines(move),
        " ".join(part for part in (message, expected, note) if part),
        delta=stages.delta_of(state) if state and not reasons else None,
        dial=None if reasons else trail,
        sliders=stages.sliders(state.controls, move) if state and not reasons else (),
        keys=(*keys, *VIEW_KEYS),
        outlook=trips_words(len(state.trips)) if state else "",
    )


def watching(seen: Watched, facts: Snapshot, live: Live, message: str, *, heard: bool) -> PanelState:
    """A person turns, and the meter looks on: what is left to turn, in words for the corner of an eye."""
    to = {change.name: change.to_value for change in seen.move.changes}
    lines = tuple(BigLine(each.name, each.words, f"to {to[each.name]}") for each in seen.left)
    watched = {each.name for each in seen.left}
    other = [change.name for change in seen.move.changes if change.name not in watched]
    if seen.there:
        sentence = "All of these are there: say so, and it is read exactly."
    elif other:
        sentence = f"{', '.join(other)}: afterwards, at the other level."
    else:
        sentence = "The figures follow your hand; they are read quickly, and settle within a second or two."
    return PanelState(
        "Your move",
        True,
        lines,
        f"{message} {sentence}".strip(),
        delta=DeltaFigure(f"{seen.formula} at {seen.percent:g} %", seen.error, seen.error_sd, verdict(seen.error)),
        dial=live.dial,
        keys=(
            KeyHint("Space", "turned, read it", Act.WATCHED, main=True),
            KeyHint("O", "no sound" if heard else "sound", Act.SOUND),
            LEAVE,
            *bench_keys(facts),
            DARKEN,
        ),
    )


def why_key(*, why: bool) -> KeyHint:
    return KeyHint("Q", "no reasons" if why else "why this?", Act.WHY)


def chosen_by(act: Act, facts: Snapshot) -> tuple[float, Formula, tuple[float, float]]:
    """What White stops at, by which formula, and at which levels, once a key has chosen the next of one."""
    stop, formula, pair = facts.visit.stop_at, facts.visit.formula, facts.visit.pair
    match act:
        case Act.STOP_FIGURE:
            stop = _next(list(STOPS), stop)
        case Act.STOP_FORMULA:
            formula = _next(list(Formula), formula)
        case _:
            pair = _next(list(PAIRS), pair)
    return stop, formula, pair


def _levels(pair: tuple[float, float]) -> str:
    return f"{pair[0]:g} and {pair[1]:g} %"


def _next(order: list[T], now: T) -> T:
    return order[(order.index(now) + 1) % len(order)] if now in order else order[0]


def _stop_words(facts: Snapshot) -> str:
    """What each figure to stop at would cost on this bench."""
    pace, formula = facts.pace, facts.visit.formula
    told = [
        f"{stop:g}{' (chosen)' if stop == facts.visit.stop_at else ''}: {trips} trips, "
        f"{minutes_words(white_balance_seconds(pace, trips))}"
        for stop in STOPS
        for trips in (usual_trips(stop, formula),)
    ]
    return f"{_levels(facts.visit.pair)}. {formula} at {'; '.join(told)}."


def trips_words(count: int) -> str:
    return (
        "No trip to the menu yet." if not count else f"{count} trip{'s' if count != 1 else ''} to the menu so far."
    )
