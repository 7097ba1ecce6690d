"""From a state of tone to its picture, and what the move panel says of it: pure functions, no Qt."""

from dataclasses import replace

import numpy as np

from aequitone.advice.moves import ControlState, Move
from aequitone.advice.points import BEND, Grid
from aequitone.advice.roles import CHANNELS, point_of
from aequitone.desktop import stages
from aequitone.desktop.frame.key_hints import COPY, DARKEN, LEAVE, MOVES, bench_keys
from aequitone.desktop.session.live import Live
from aequitone.desktop.session.operator import AskMove
from aequitone.desktop.states import (
    Act,
    BigLine,
    DeltaFigure,
    KeyHint,
    LineState,
    PanelState,
    TonePage,
    TonePoint,
)
from aequitone.desktop.stations.white.panel import trips_words, why_key
from aequitone.passes import AS_FOUND, GAMMA, TONE, Snapshot, tone_state
from aequitone.procedures.grey_pass import GreyPass
from aequitone.procedures.multi_plan import MultiState
from aequitone.procedures.near_black import NearBlack
from aequitone.procedures.tone import ToneState
from aequitone.reference import Target, light_band, target_named, verdict

_WISHES = (
    KeyHint("Z", "put the last back", Act.PUT_BACK),
    KeyHint("R", "read again", Act.READ_AGAIN),
    KeyHint("S", "enough of this part", Act.STOP_HERE),
)
BAND_LEVELS = (1.0, 2.0, 3.0, 5.0, 7.0, 10.0, 15.0, 20.0, 30.0, 40.0, 50.0, 60.0, 70.0, 80.0, 90.0, 100.0)


def page(facts: Snapshot, live: ToneState | None, here: float | None = None) -> TonePage:
    """Light at every level that was read, and the settings of multi-point; `here`: the level that is looked at."""
    target = target_named(facts.visit.target)
    state = live or tone_state(facts) or ToneState()
    ladder, foot = state.ladder, state.foot
    near = _of_foot(foot) if foot else ()
    # Near black is read more slowly, and against the light above black: a level is shown once.
    dark = {point.percent for point in near}
    points = [point for point in _of_ladder(ladder, target) if point.percent not in dark] if ladder else []
    points += near
    began, found = ladder.began if ladder else None, facts.result(AS_FOUND)
    ghosts = _of_ladder(began, target) if began else _of_pass(found) if found else ()
    ghosts = tuple(ghost for ghost in ghosts if ghost.percent not in dark)
    return TonePage(
        tuple(replace(point, here=point.percent == here) for point in points),
        ghosts,
        light_band(target, BAND_LEVELS),
        _corrections(facts, ladder),
        presets=_presets(facts, target) if not points else (),
        subtitle=_subtitle(points, began, facts),
        facts=_figures(state),
    )


def _subtitle(points: list[TonePoint], began: MultiState | None, facts: Snapshot) -> str:
    if not points:
        return "as found, and what each gamma preset gave" if facts.result(GAMMA) else "as found"
    return "now, with what multi-point began with behind it" if began else "now, with as found behind it"


def _of_ladder(ladder: MultiState, target: Target) -> tuple[TonePoint, ...]:
    if not ladder.percents:
        return ()
    light = ladder.xyz[:, 1]
    wanted = target.grey(ladder.percents, float(light[0]), ladder.black)[:, 1]
    off = (light / wanted - 1.0) * 100.0
    spread = ladder.sd[:, 1] / wanted * 100.0
    return tuple(
        TonePoint(percent, float(off[i]), float(spread[i]), verdict(ladder.de2000[i]), ladder.de2000[i])
        for i, percent in enumerate(ladder.percents)
    )


def _of_foot(foot: NearBlack) -> tuple[TonePoint, ...]:
    wanted = np.array(foot.wanted)
    off, spread = (foot.light / wanted - 1.0) * 100.0, foot.sd[:, 1] / wanted * 100.0
    return tuple(TonePoint(p, float(off[i]), float(spread[i]), None) for i, p in enumerate(foot.percents))


def _of_pass(found: GreyPass) -> tuple[TonePoint, ...]:
    light = found.errors.light
    return tuple(
        TonePoint(p, float(light[i]), 0.0, verdict(float(found.errors.de2000[i])), float(found.errors.de2000[i]))
        for i, p in enumerate(found.percents)
        if p > 0.0 and not np.isnan(light[i])
    )


def _corrections(facts: Snapshot, ladder: MultiState | None) -> tuple[LineState, ...]:
    """A line for each channel, through the levels that have controls."""
    if ladder is not None:
        controls = ladder.controls
    else:
        noted = [control for control in facts.controls if point_of(control.role)]
        controls = tuple(c.state(facts.settings[c.role]) for c in noted if c.role in facts.settings)
    if not controls:
        return ()
    grid = Grid.of(controls)
    return tuple(
        LineState(name, tuple((float(p), float(n), 0.0) for p, n in zip(grid.percents, column, strict=True)), name)
        for name, column in zip(CHANNELS, grid.offsets.T, strict=True)
    )


def _presets(facts: Snapshot, target: Target) -> tuple[LineState, ...]:
    """What each gamma preset gave at Prepare, the chosen one first."""
    told, chosen = [], facts.result(GAMMA)
    for each in chosen.order if chosen else ():
        track = each.track
        light = track.xyz[:, 1]
        off = (light / target.grey(track.percents, float(light[0]))[:, 1] - 1.0) * 100.0
        points = tuple((float(p), float(n), 0.0) for p, n in zip(track.percents, off, strict=True))
        told.append(LineState(track.name, points))
    return tuple(told)


def _figures(state: ToneState) -> tuple[tuple[str, str], ...]:
    told = []
    ladder, foot = state.ladder, state.foot
    if ladder is not None and ladder.percents:
        was = f"{ladder.began.mean:.2f} → " if ladder.began else ""
        told.append(("ΔE 2000 on average", f"{was}{ladder.mean:.2f}"))
        worst = int(np.argmax(ladder.de2000))
        told.append(("at worst", f"{ladder.de2000[worst]:.2f} at {ladder.percents[worst]:g} %"))
        told.append(("ramp bends by", f"{ladder.bend * 100.0:.0f} % of {BEND * 100.0:.0f} %"))
        told.append(("trips", f"{len(ladder.trips)}"))
    if foot is not None:
        told.append(("near black right", f"{sum(foot.right)} of {len(foot.right)}"))
        told.append(("black", f"{foot.black:.4f} cd/m²" if foot.black else "none that is read"))
    return tuple(told)


def idle(facts: Snapshot, message: str, outlook: str) -> PanelState:
    """Tone, nothing running."""
    done = facts.result(TONE)
    if done is not None:
        return PanelState(
            "Your move",
            True,
            (BigLine("Go on to"), BigLine("Proof")),
            f"{message} {done.words}".strip(),
            keys=(
                KeyHint("Enter", "next station", Act.NEXT_STATION, main=True),
                KeyHint("B", "go over it again", Act.BEGIN),
                MOVES,
                DARKEN,
                COPY,
                *bench_keys(facts),
            ),
        )
    points, automatic = _has_points(facts), facts.visit.bench.automatic
    parts = []
    if automatic:
        parts.append("Near black is read first, and brought in with the biases together.")
    if points:
        parts.append("Then the ladder: each level that is worth it is turned, from the bright end.")
    else:
        parts.append("No multi-point controls are noted at Arrive, so levels are not turned one by one.")
    if not (points or automatic):
        return PanelState(
            "Your move",
            True,
            (BigLine("Nothing to turn:"), BigLine("go on to Proof")),
            f"{message} {parts[-1]} Near black needs a meter on its line.".strip(),
            keys=(KeyHint("Enter", "next station", Act.NEXT_STATION, main=True), DARKEN, *bench_keys(facts)),
        )
    return PanelState(
        "Your move",
        True,
        (BigLine("Even out"), BigLine("the tone")),
        f"{message} {' '.join(parts)}".strip(),
        keys=(
            KeyHint("Enter", "begin", Act.BEGIN, main=True),
            KeyHint("G", "go on without", Act.NEXT_STATION),
            DARKEN,
            COPY,
            *bench_keys(facts),
        ),
        outlook=outlook,
    )


def moving(
    question: AskMove, facts: Snapshot, live: Live | None, state: ToneState | None, message: str, *, why: bool
) -> PanelState:
    """A person is to turn a level, or the biases."""
    move = question.move
    ladder = state.ladder if state else None
    explained = ladder is not None and ladder.proposed == move and bool(ladder.why)
    expected = "This undoes an earlier move." if move.undoes else _expected(move)
    sentence = ladder.why if why and explained and ladder is not None else expected
    note = live.note if live and not (why and explained) else ""
    keys = [KeyHint("Space", "turned, read it", Act.TURNED, main=True)]
    if ladder is not None and ladder.proposed == move and facts.visit.bench.automatic:
        keys.append(KeyHint("V", "watch while turning", Act.WATCH))
    if explained:
        keys.append(why_key(why=why))
    keys += [*_WISHES, LEAVE, MOVES, *bench_keys(facts), DARKEN]
    return PanelState(
        "Your move",
        True,
        stages.move_lines(move),
        " ".join(part for part in (message, sentence, note) if part),
        delta=_level_delta(move) or (live.delta if live else None),
        sliders=stages.sliders(_beside(move, ladder), move),
        keys=tuple(keys),
        outlook=_trips(state),
    )


def _expected(move: Move) -> str:
    """What a move should bring, in a sentence."""
    if move.expected is None:
        return "All biases go together."
    worse = move.expected.de2000_after > move.expected.de2000_before
    return f"{move.expected.words}.{' It is turned for the sake of a smooth ramp.' if worse else ''}"


def _level_delta(move: Move) -> DeltaFigure | None:
    """ΔE of the level that is to be turned, as it is now."""
    point = point_of(move.changes[0].role)
    if point is None or move.expected is None:
        return None
    now = move.expected.de2000_before
    return DeltaFigure(f"ΔE 2000 at {point[1]} %", now, 0.0, verdict(now))


def _beside(move: Move, ladder: MultiState | None) -> tuple[ControlState, ...]:
    """Every control of the level that is to be turned, with those that stay."""
    point = point_of(move.changes[0].role)
    if point is None or ladder is None:
        return ()
    return tuple(control for control in ladder.controls if (p := point_of(control.role)) and p[1] == point[1])


def running(live: Live, state: ToneState | None, *, why: bool) -> PanelState:
    """Tone is being measured, or turned by link."""
    ladder = state.ladder if state else None
    lines: tuple[BigLine, ...] = (BigLine(live.shown),)
    sentence = live.note
    keys = [KeyHint("P", "go on" if live.paused else "pause", Act.PAUSE, main=live.paused), LEAVE]
    if live.turning and ladder is not None and ladder.proposed is not None:
        lines = stages.move_lines(ladder.proposed)
        sentence = ladder.why if why else _expected(ladder.proposed)
        keys.append(why_key(why=why))
    keys += [*_WISHES, MOVES, DARKEN]
    if not sentence:
        sentence = "The ladder, from the bright end." if ladder is not None else "Near black, read slowly."
    return PanelState(
        "Paused" if live.paused else "Turning" if live.turning else "Measuring",
        live.paused,
        lines,
        sentence,
        reading=None if live.turning else live.reading,
        delta=live.delta if ladder is not None else None,
        keys=tuple(keys),
        outlook=_trips(state),
    )


def _trips(state: ToneState | None) -> str:
    if state is None or state.ladder is None:
        return ""
    ladder = state.ladder
    if ladder.began is None:
        return f"{len(ladder.percents)} levels read so far."
    return f"Round {ladder.round + 1}. {trips_words(len(ladder.trips))}"


def _has_points(facts: Snapshot) -> bool:
    return any(point_of(role) for role in facts.settings)


def tone_of(value: object) -> ToneState | None:
    """The state of tone among what a procedure may tell."""
    return value if isinstance(value, ToneState) else None


def as_text(page: TonePage) -> str:
    """The picture of Tone as tab-separated text."""
    rows = [("Level %", "Light off %", "±", "ΔE 2000", *(f"{line.channel} steps" for line in page.corrections))]
    at = [{p: n for p, n, _ in line.points} for line in page.corrections]
    for point in page.points:
        de = "" if point.verdict is None else f"{point.de2000:.2f}"
        steps = (f"{line[point.percent]:+g}" if point.percent in line else "" for line in at)
        rows.append((f"{point.percent:g}", f"{point.light:+.2f}", f"{point.sd:.2f}", de, *steps))
    return "\n".join(["\t".join(row) for row in rows] + ["", *("\t".join(figure) for figure in page.facts)]) + "\n"
