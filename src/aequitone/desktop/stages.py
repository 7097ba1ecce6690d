"""From what is known to what is drawn: pure functions, no Qt."""

from dataclasses import replace

import numpy as np

from aequitone.advice.explaining import reach
from aequitone.advice.mover import decisive
from aequitone.advice.moves import ControlState, Move
from aequitone.advice.roles import BIASES, GAINS, channel_of
from aequitone.advice.technology import TECHNOLOGY_WORDS
from aequitone.colorimetry import REC709, cast_of, cast_word
from aequitone.colorimetry.arrays import Array
from aequitone.colorimetry.transfer import srgb_codes
from aequitone.desktop.states import (
    BigLine,
    DeltaFigure,
    DialState,
    FootState,
    LadderRow,
    LadderState,
    RouteState,
    RouteStop,
    SliderState,
    Station,
    StripState,
)
from aequitone.desktop.stations.prepare.panel import prepared
from aequitone.logbook import BenchChoice
from aequitone.passes import (
    AS_FOUND,
    GAMMA,
    LEVELS,
    MODE,
    PASSES,
    PROOF,
    PUT_BACK,
    ROOM,
    TEMPERATURE,
    TONE,
    UNIFORMITY,
    WARM_UP,
    WHITE,
    PassType,
    Snapshot,
    white_state,
)
from aequitone.planning.pace import (
    ARRIVE_SECONDS,
    HAND_OVER_SECONDS,
    PREPARE_SECONDS,
    clock_words,
    minutes_words,
)
from aequitone.procedures.grey_pass import GreyPass
from aequitone.procedures.white_session import WhiteState
from aequitone.reference import GreyErrors, Target, grey_errors, target_named, verdict
from aequitone.signal import grey_levels

STATION_PASS: dict[Station, PassType] = {
    Station.AS_FOUND: AS_FOUND,
    Station.LEVELS: LEVELS,
    Station.WHITE: WHITE,
    Station.TONE: TONE,
    Station.PROOF: PROOF,
}
GREY_STATIONS = (Station.AS_FOUND, Station.WHITE, Station.PROOF)
"""Those whose picture is the grey ladder."""
PASS_STATION = {kind: station for station, kind in STATION_PASS.items()} | {
    WARM_UP: Station.PREPARE,
    ROOM: Station.PREPARE,
    TEMPERATURE: Station.PREPARE,
    GAMMA: Station.PREPARE,
    MODE: Station.PREPARE,
    PUT_BACK: Station.HAND_OVER,
    UNIFORMITY: Station.LEVELS,
}
# White is drawn below full drive so that a cast has room to show.
_SWATCH_PEAK = 0.86


def strip(facts: Snapshot | None) -> StripState:
    """The strip on top."""
    if facts is None:
        return StripState("New visit", "", "", "nothing noted yet")
    visit = facts.visit
    used = facts.seconds(*PASSES)
    planned = sum(planned_seconds(facts, station) for station in Station)
    return StripState(
        f"{visit.client}, {visit.room}",
        "  ·  ".join((visit.screen, visit.input, visit.memory, target_named(visit.target).label)),
        f"{clock_words(used)} of {clock_words(planned)} planned",
        "every reading saved",
    )


def route(facts: Snapshot | None, here: Station) -> RouteState:
    """The stations with their minutes: spent where done, planned where ahead."""
    stops = []
    for station in Station:
        if facts is None:
            stops.append(RouteStop(station, "", False, station is Station.ARRIVE))
            continue
        stops.append(RouteStop(station, _minutes(facts, station), station_done(facts, station), True))
    return RouteState(tuple(stops), here)


def station_done(facts: Snapshot, station: Station) -> bool:
    """Whether a station's work is done."""
    if station is Station.TONE and facts.done(PROOF):
        # Not every screen has anything to turn there, and nobody must.
        return True
    if station in STATION_PASS:
        return facts.done(STATION_PASS[station])
    if station is Station.ARRIVE:
        return bool(facts.found_settings)
    if station is Station.PREPARE:
        return prepared(facts)
    return facts.visit.closed is not None


def planned_seconds(facts: Snapshot, station: Station) -> float:
    """Seconds a station is planned to take: what it took where it is done."""
    if station is Station.ARRIVE:
        return ARRIVE_SECONDS
    if station is Station.HAND_OVER:
        return HAND_OVER_SECONDS
    if station is Station.PREPARE:
        spent = facts.seconds(*(kind for kind, at in PASS_STATION.items() if at is station))
        return spent if prepared(facts) and spent else PREPARE_SECONDS
    kind = STATION_PASS[station]
    if facts.done(kind):
        return facts.seconds(kind)
    return kind.seconds(facts, facts.pace)


def _minutes(facts: Snapshot, station: Station) -> str:
    seconds = planned_seconds(facts, station)
    if station is Station.PREPARE and prepared(facts):
        return "done"
    if station in STATION_PASS and facts.done(STATION_PASS[station]):
        return f"took {minutes_words(seconds)}"
    return f"about {minutes_words(seconds)}"


def foot(bench: BenchChoice) -> FootState:
    """The instruments line."""
    meter = {
        "by hand": "by hand, one figure a level",
        "stand-in": f"stand-in “{bench.scenario}”",
        "instrument": "on its line",
    }[bench.meter]
    if bench.meter_mode:
        meter += f", set to {TECHNOLOGY_WORDS.get(bench.meter_mode, bench.meter_mode)}"
    if bench.correction_id:
        meter += ", corrected"
    patterns = {"stand-in": "stand-in", "by hand": "by hand", "instrument": "on its line"}.get(
        bench.patterns, "this computer's screen"
    )
    refresh = f", refreshed every {bench.refresh_every:g} s" if bench.refresh_every else ""
    link = {"stand-in": "stand-in, by link", "instrument": "on its line"}.get(bench.link, "by hand")
    return FootState(
        f"Meter  {meter}", f"Patterns  {patterns}, {bench.format.label}{refresh}", f"Screen link  {link}"
    )


def swatch(xyz: Array, white: float) -> tuple[int, int, int]:
    """An XYZ as sRGB codes for the ladder, white at `white` cd/m²."""
    linear = np.clip(REC709.rgb(xyz / max(white, 1e-9)) * _SWATCH_PEAK, 0.0, 1.0)
    r, g, b = (int(code) for code in srgb_codes(linear))
    return r, g, b


def empty_rows(target: Target, levels: int, white: float = 100.0) -> dict[float, LadderRow]:
    """A ladder on which nothing is read yet."""
    return {
        percent: LadderRow(percent, swatch(target.grey(percent, white), white)) for percent in grey_levels(levels)
    }


def filled(rows: dict[float, LadderRow], errors: GreyErrors, xyz: Array, white: float) -> dict[float, LadderRow]:
    """The ladder with what was read put on it; a level that the ladder lacks is left out."""
    rows = dict(rows)
    for i, level in enumerate(errors.percent):
        percent = float(level)
        if percent not in rows:
            continue
        warm, green = (float(value) for value in np.nan_to_num(errors.cast[i]))
        dark = percent == 0.0
        rows[percent] = replace(
            rows[percent],
            target_rgb=swatch(errors.target[i], white),
            seen_rgb=swatch(np.clip(xyz[i], 0.0, None), white),
            luminance=float(xyz[i, 1]),
            light=None if np.isnan(errors.light[i]) else float(errors.light[i]),
            cast=None if dark else (warm, green),
            word="" if dark else cast_word(warm, green),
            delta=None if dark else float(errors.de2000[i]),
            sd=float(errors.de2000_sd[i]),
            verdict=None if dark else verdict(float(errors.de2000[i])),
            xyz=(float(xyz[i, 0]), float(xyz[i, 1]), float(xyz[i, 2])),
        )
    return rows


def marked(rows: dict[float, LadderRow], found: GreyPass) -> dict[float, LadderRow]:
    """The ladder with a mark where answers of the meter were left out."""
    left_out = dict(zip(found.percents, found.rejected, strict=False))
    return {percent: replace(row, left_out=left_out.get(percent, 0)) for percent, row in rows.items()}


def ghosted(rows: dict[float, LadderRow], errors: GreyErrors, xyz: Array, white: float) -> dict[float, LadderRow]:
    """The ladder with another pass as the ghost behind it."""
    rows = dict(rows)
    for i, level in enumerate(errors.percent):
        if float(level) in rows:
            ghost = float(errors.de2000[i]) if level > 0 else None
            rows[float(level)] = replace(rows[float(level)], ghost=ghost, ghost_rgb=swatch(xyz[i], white))
    return rows


def pass_ladder(facts: Snapshot, station: Station) -> LadderState:
    """The ladder of a station from what is in the logbook."""
    target = target_named(facts.visit.target)
    rows = empty_rows(target, facts.visit.levels)
    found, proof = facts.result(AS_FOUND), facts.result(PROOF)
    if station is Station.AS_FOUND:
        if found:
            rows = marked(filled(rows, found.errors, found.xyz, found.white), found)
        return LadderState("Grey ladder", "as found" if found else "not read yet", tuple(rows.values()))
    if found:
        rows = ghosted(rows, found.errors, found.xyz, found.white)
    if station is Station.PROOF:
        if proof:
            rows = marked(filled(rows, proof.errors, proof.xyz, proof.white), proof)
        subtitle = "proof, with as found behind it" if proof else "as found, proof not read yet"
        return LadderState("Grey ladder", subtitle, tuple(rows.values()))
    return white_ladder(facts, white_state(facts))


def white_ladder(facts: Snapshot, state: WhiteState | None) -> LadderState:
    """The ladder of white balance: the three levels as they were left, as found behind all."""
    target = target_named(facts.visit.target)
    rows = empty_rows(target, facts.visit.levels)
    black = 0.0
    if found := facts.result(AS_FOUND):
        black = found.black
        rows = ghosted(rows, found.errors, found.xyz, found.white)
    if state is not None:
        white = float(state.xyz[0, 1])
        errors = grey_errors(state.percents, state.xyz, target, white=white, black=black, sd=state.sd)
        rows = filled(rows, errors, state.xyz, white)
    return with_reach(tuple(rows.values()), state)


def with_reach(rows: tuple[LadderRow, ...], state: WhiteState | None) -> LadderState:
    """The ladder with the brackets of gains and biases as learnt, those that the move turns being marked."""
    if state is None:
        return LadderState("Grey ladder", "now, with as found behind it", rows)
    move, (_, bright, dark) = state.proposed, state.percents
    roles = {change.role for change in move.changes} if move else set()
    gains, biases = bool(roles & set(GAINS)), bool(roles & set(BIASES))
    active = "both" if gains and biases else "gains" if gains else "biases" if biases else ""
    return LadderState(
        "Grey ladder", "now, with as found behind it", rows, reach(state.responses, bright, dark), active
    )


def moving_ladder(
    rows: tuple[LadderRow, ...], percent: float | None, kind: PassType, state: WhiteState | None
) -> LadderState:
    """The ladder of a pass that runs: the level that is read is marked."""
    rows = tuple(replace(row, here=True) if row.percent == percent else row for row in rows)
    if kind is WHITE:
        return with_reach(rows, state)
    subtitle = "as it is found" if kind is AS_FOUND else "proof, with as found behind it"
    return LadderState("Grey ladder", subtitle, rows)


def white_trail(facts: Snapshot, state: WhiteState, before: tuple[tuple[float, float], ...]) -> DialState:
    """The cast of the worse level, after the trail so far."""
    worse = decisive(np.array(state.errors))
    cast = cast_of(state.xyz[worse], target_named(facts.visit.target).white.xyz())
    warm, green = cast.warm, cast.green
    trail = before if before and before[-1] == (warm, green) else (*before, (warm, green))
    return DialState(trail[-6:])


def sliders(controls: tuple[ControlState, ...], move: Move | None) -> tuple[SliderState, ...]:
    """The two-point controls, and where the move wants them."""
    to = {change.role: change.to_value for change in move.changes} if move else {}
    return tuple(
        SliderState(channel_of(c.role) or "", c.name, c.lowest, c.highest, c.value, to.get(c.role))
        for c in controls
    )


def move_lines(move: Move) -> tuple[BigLine, ...]:
    """A move in large words."""
    return tuple(
        BigLine(change.name, f"{'up' if change.by > 0 else 'down'} {abs(change.by)}", f"to {change.to_value}")
        for change in move.changes
    )


def mean_delta(found: GreyPass) -> DeltaFigure:
    """The average ΔE 2000 of a pass, black left out, and its spread."""
    return DeltaFigure("ΔE 2000 on average", found.mean_de2000, found.mean_de2000_sd, verdict(found.mean_de2000))


def casts(found: GreyPass) -> DialState:
    """Where the levels lean, from dark to bright: how far grey wanders."""
    inner = np.nan_to_num(found.errors.cast[:-1])[::-1]
    return DialState(tuple((float(warm), float(green)) for warm, green in inner))


def delta_of(state: WhiteState) -> DeltaFigure:
    """The figure that white balance works on."""
    worse = state.percents[decisive(np.array(state.errors))]
    return DeltaFigure(f"{state.formula} at {worse:g} %", state.worst, state.worst_sd, verdict(state.worst))
