"""What the move panel says at Tone: before, at a move that a person is to make, and afterwards. No Qt."""

from aequitone.advice.moves import ControlState, Move
from aequitone.advice.roles import BIASES, point_of
from aequitone.colorimetry import Formula
from aequitone.desktop import commands
from aequitone.desktop.commands import KeyHint, hint
from aequitone.desktop.frame.key_hints import COPY, DARKEN, LEAVE, MOVES, NEXT, bench_keys, pause
from aequitone.desktop.frame.panel_state import BigLine, DeltaFigure, PanelState
from aequitone.desktop.session.live import Live
from aequitone.desktop.session.operator import AskMove
from aequitone.desktop.session.prompts import go_on
from aequitone.desktop.stations.white.panel import move_lines, trips_made, trips_words, why_key
from aequitone.desktop.widgets.control_sliders import control_sliders
from aequitone.passes import Snapshot
from aequitone.procedures.tone.multi_plan import MultiState
from aequitone.procedures.tone.near_black import NearBlack
from aequitone.procedures.tone.tone import ToneState
from aequitone.reference import verdict

_ALL_OF_A_LEVEL = 4
_WISHES = (
    hint(commands.UNDO, "put the last back"),
    hint(commands.READ, "read again"),
    hint(commands.STOP_HERE, "finish this part"),
)


def done(snapshot: Snapshot, told: str, following: str) -> PanelState:
    """Tone is done; `following`: the station after it."""
    return go_on(
        following,
        told,
        (
            NEXT,
            hint(commands.BEGIN, "adjust again", key="B"),
            MOVES,
            DARKEN,
            COPY,
            *bench_keys(snapshot),
        ),
    )


def to_begin(snapshot: Snapshot, message: str, time: str, following: str) -> PanelState:
    """Nothing is done yet."""
    points, automatic = has_points(snapshot), snapshot.visit.bench.automatic
    parts = []
    if automatic:
        parts.append("Near black is measured, and corrected with the three biases together.")
    if points:
        parts.append("Then the ladder is measured." if automatic else "The ladder is measured first.")
    if points and not snapshot.visit.bench.by_link and not automatic:
        parts.append("Then each level of the ladder that is worth a trip is corrected, from the bright end down.")
    elif points and not snapshot.visit.bench.by_link:
        parts.append("You turn the levels that gain most, several in one trip, and the ladder is measured again.")
    elif points:
        parts.append("All levels that gain by it are turned in one trip, and the ladder is measured again.")
    else:
        parts.append("No multi-point controls were entered at Arrive, so single levels cannot be corrected.")
    if not (points or automatic):
        return PanelState(
            "Your move",
            True,
            (BigLine("Nothing to adjust:"), BigLine(f"go on to {following}")),
            f"{message} {parts[-1]} Near black needs a meter that the program can read.".strip(),
            keys=(NEXT, DARKEN, *bench_keys(snapshot)),
        )
    return PanelState(
        "Your move",
        True,
        (BigLine("Even out"), BigLine("the tone")),
        f"{message} {' '.join(parts)}".strip(),
        keys=(
            hint(commands.BEGIN, "begin", main=True),
            hint(commands.NEXT_STATION, f"skip to {following}", key="G"),
            DARKEN,
            COPY,
            *bench_keys(snapshot),
        ),
        outlook=time,
    )


def moving(
    question: AskMove, snapshot: Snapshot, live: Live | None, state: ToneState | None, message: str, *, why: bool
) -> PanelState:
    """A person is to turn a level, or the biases."""
    move = question.move
    ladder = state.ladder if state else None
    explained = ladder is not None and ladder.proposed == move and bool(ladder.why)
    foot = state.foot if state else None
    expected = "This undoes an earlier move." if move.undoes else _expected(move, foot)
    sentence = ladder.why if why and explained and ladder is not None else expected
    several, of_biases = len(move.levels) > 1, any(change.role in BIASES for change in move.changes)
    # What was read last says nothing of why biases are turned.
    last = live.delta if live and not of_biases else None
    note = live.note if live and not (why and explained) else ""
    keys = [hint(commands.TURNED, "turned, read it", main=True)]
    if ladder is not None and ladder.proposed == move and snapshot.visit.bench.automatic:
        keys.append(hint(commands.WATCH, "watch while turning"))
    if explained:
        keys.append(why_key(why=why))
    keys += [*_WISHES, LEAVE, MOVES, *bench_keys(snapshot), DARKEN]
    return PanelState(
        "Your move",
        True,
        level_lines(move) if several else move_lines(move),
        " ".join(part for part in (message, sentence, note) if part),
        delta=_move_delta(move, snapshot.leading) or last,
        sliders=() if several else control_sliders(_beside(move, ladder), move),
        keys=tuple(keys),
        outlook=_trips(state, live, in_rounds=not snapshot.visit.bench.automatic),
    )


def measuring(live: Live, state: ToneState | None, *, why: bool) -> PanelState:
    """Tone is being measured, or turned by link."""
    ladder = state.ladder if state else None
    lines: tuple[BigLine, ...] = (BigLine(live.shown),)
    sentence = live.note
    keys: list[KeyHint] = [pause(paused=live.paused), LEAVE]
    if live.turning and ladder is not None and ladder.proposed is not None:
        lines = _lines(ladder.proposed)
        sentence = ladder.why if why else _expected(ladder.proposed)
        keys.append(why_key(why=why))
    keys += [*_WISHES, MOVES, DARKEN]
    if not sentence:
        sentence = "The ladder, from the bright end down." if ladder is not None else "Near black, read slowly."
    return PanelState(
        "Paused" if live.paused else "Turning" if live.turning else "Measuring",
        live.paused,
        lines,
        sentence,
        reading=None if live.turning else live.reading,
        delta=live.delta if ladder is not None else None,
        keys=tuple(keys),
        outlook=_trips(state, live),
    )


def has_points(snapshot: Snapshot) -> bool:
    """Whether multi-point controls are noted."""
    return any(point_of(role) for role in snapshot.settings)


def _expected(move: Move, foot: NearBlack | None = None) -> str:
    """What a move should bring, in a sentence; `foot`: near black as it was read last, why biases are turned."""
    if move.expected is None:
        return _of_biases(foot) if any(change.role in BIASES for change in move.changes) else ""
    if len(move.levels) > 1:
        return f"{move.expected.words}, on average over the ladder."
    worse = move.expected.de2000_after > move.expected.de2000_before
    return f"{move.expected.words}.{' It stays unseen there, and its neighbours gain.' if worse else ''}"


def _of_biases(foot: NearBlack | None) -> str:
    """Why all biases are turned: the level near black whose light is most surely off."""
    together = "All biases go together."
    if foot is None:
        return together
    levels = zip(foot.percents, foot.light, foot.sd[:, 1], foot.wanted, foot.right, strict=True)
    wrong = [(percent, light, sd, wanted) for percent, light, sd, wanted, right in levels if not right]
    if not wrong:
        return together
    percent, light, _, wanted = max(wrong, key=lambda each: abs(each[1] - each[3]) / max(each[2], 1e-9))
    return f"Near black, light at {percent:g} % is off by {(light / wanted - 1.0) * 100.0:+.0f} %. {together}"


def _lines(move: Move) -> tuple[BigLine, ...]:
    """A move in large words: what is turned at one level, or how many levels are turned together."""
    levels = move.levels
    if len(levels) < 2:
        return move_lines(move)
    return BigLine(f"{len(levels)} levels"), BigLine(f"{levels[0]} to {levels[-1]} %", "together")


def level_lines(move: Move) -> tuple[BigLine, ...]:
    """A move at several levels, a line for each: what its controls are set to, as the menu shows them."""
    lines = []
    for percent in move.levels:
        here = [change for change in move.changes if change.role.level == percent]
        # Four controls of a level leave no room for arrows.
        arrow, apart = (" → ", "   ") if len(here) < _ALL_OF_A_LEVEL else (" ", "  ")
        amounts = [f"{str(change.role.channel).upper()}{arrow}{change.to_value}" for change in here]
        lines.append(BigLine(f"{percent} %", apart.join(amounts)))
    others = tuple(change for change in move.changes if change.role.level is None)
    return (*move_lines(Move(others)), *lines)


def _move_delta(move: Move, formula: Formula) -> DeltaFigure | None:
    """ΔE of the level that is to be turned, or of the ladder where several are, as it is now."""
    point = point_of(move.changes[0].role)
    if point is None or move.expected is None:
        return None
    now, several = move.expected.de2000_before, len(move.levels) > 1
    where = f"{formula} on average" if several else f"{formula} at {point[1]} %"
    return DeltaFigure(where, now, 0.0, verdict(now))


def _beside(move: Move, ladder: MultiState | None) -> tuple[ControlState, ...]:
    """Every control of the level that is to be turned, with those that stay."""
    point = point_of(move.changes[0].role)
    if point is None or ladder is None:
        return ()
    return tuple(control for control in ladder.controls if (p := point_of(control.role)) and p[1] == point[1])


def _trips(state: ToneState | None, live: Live | None, *, in_rounds: bool = False) -> str:
    """How far it is; `in_rounds`: whether levels are turned one after the other, from the bright end down."""
    if state is None or state.ladder is None:
        return ""
    ladder = state.ladder
    if ladder.began is None:
        return f"{len(ladder.percents)} levels read so far."
    near_black = state.foot.trips if state.foot is not None else 0
    trips = trips_made(live, near_black + len(ladder.trips))
    return f"Round {ladder.round + 1}. {trips_words(trips)}" if in_rounds else trips_words(trips)
