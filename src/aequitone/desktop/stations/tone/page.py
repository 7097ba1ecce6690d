"""From a state of tone to its picture: pure functions, no Qt."""

from dataclasses import replace

import numpy as np

from aequitone.advice.points import BEND, Grid
from aequitone.advice.roles import CHANNELS, point_of
from aequitone.colorimetry import Formula
from aequitone.colorimetry.transfer import PQ_PEAK
from aequitone.desktop.stations.tone.state import TonePage, TonePoint
from aequitone.desktop.widgets.chart_state import LineState
from aequitone.passes import AS_FOUND, GAMMA, TONE, Snapshot
from aequitone.passes.hdr import solved_target
from aequitone.procedures.grey.grey_pass import GreyPass
from aequitone.procedures.tone.multi_plan import MultiState
from aequitone.procedures.tone.near_black import NearBlack
from aequitone.procedures.tone.tone import ToneState
from aequitone.reference import Target, light_band, verdict

_WHITE = 100.0
BAND_LEVELS = (1.0, 2.0, 3.0, 5.0, 7.0, 10.0, 15.0, 20.0, 30.0, 40.0, 50.0, 60.0, 70.0, 80.0, 90.0, 100.0)


def tone_page(snapshot: Snapshot, live: ToneState | None, here: float | None = None) -> TonePage:
    """Light at every level that was read, and the settings of multi-point; `here`: the level that is looked at."""
    target, formula = solved_target(snapshot), snapshot.leading
    state = live or snapshot.state(TONE) or ToneState()
    ladder, foot = state.ladder, state.foot
    near = _of_foot(foot) if foot else ()
    # Near black is read more slowly, and against the light above black: a level is shown once.
    dark = {point.percent for point in near}
    lit = _of_ladder(ladder, target) if ladder else _of_lit(foot, target) if foot else ()
    points = [point for point in lit if point.percent not in dark]
    points += near
    began, found = ladder.began if ladder else None, snapshot.result(AS_FOUND)
    ghosts = _of_ladder(began, target) if began else _of_pass(found, formula) if found else ()
    ghosts = tuple(ghost for ghost in ghosts if ghost.percent not in dark)
    return TonePage(
        tuple(replace(point, here=point.percent == here) for point in points),
        ghosts,
        _band(target, formula, ladder, found),
        _corrections(snapshot, ladder),
        presets=_presets(snapshot, target) if not points else (),
        subtitle=_subtitle(points, began, snapshot),
        figures=_figures(state, formula),
        formula=formula.value,
    )


def _subtitle(points: list[TonePoint], began: MultiState | None, snapshot: Snapshot) -> str:
    if not points:
        return "as found, and what each gamma preset gave" if snapshot.result(GAMMA) else "as found"
    return "now, with the ladder as first read behind it" if began else "now, with as found behind it"


def _of_ladder(ladder: MultiState, target: Target) -> tuple[TonePoint, ...]:
    if not ladder.percents:
        return ()
    light = ladder.xyz[:, 1]
    wanted = target.grey(ladder.percents, float(light[0]), ladder.black)[:, 1]
    off = (light / wanted - 1.0) * 100.0
    spread = ladder.sd[:, 1] / wanted * 100.0
    # Beyond the knee light is the screen's own business.
    held = target.judged(ladder.percents, float(light[0]))
    return tuple(
        TonePoint(percent, float(off[i]), float(spread[i]), verdict(ladder.de2000[i]), ladder.de2000[i])
        for i, percent in enumerate(ladder.percents)
        if held[i]
    )


def _of_foot(foot: NearBlack) -> tuple[TonePoint, ...]:
    wanted = np.array(foot.wanted)
    off, spread = (foot.light / wanted - 1.0) * 100.0, foot.sd[:, 1] / wanted * 100.0
    return tuple(TonePoint(p, float(off[i]), float(spread[i]), None) for i, p in enumerate(foot.percents))


def _of_lit(foot: NearBlack, target: Target) -> tuple[TonePoint, ...]:
    """What was read higher up along with near black, while there is no ladder."""
    if _WHITE not in foot.lit:
        return ()
    light = foot.shoulder_xyz[:, 1]
    wanted = target.grey(foot.lit, float(light[foot.lit.index(_WHITE)]), foot.black)[:, 1]
    off, spread = (light / wanted - 1.0) * 100.0, foot.shoulder_xyz_sd[:, 1] / wanted * 100.0
    points = [
        TonePoint(percent, float(off[i]), float(spread[i]), verdict(float(de)), float(de))
        for i, (percent, de) in enumerate(zip(foot.lit, foot.shoulder_de, strict=True))
    ]
    return tuple(sorted(points, key=lambda point: point.percent, reverse=True))


def _band(
    target: Target, formula: Formula, ladder: MultiState | None, found: GreyPass | None
) -> tuple[tuple[float, float, float], ...]:
    """How far light may be off before it is visible, up to where the screen is held to the target."""
    if not target.tone.absolute:
        return light_band(target, BAND_LEVELS)
    peak = float(ladder.xyz[0, 1]) if ladder is not None and ladder.percents else found.white if found else PQ_PEAK
    levels = tuple(percent for percent in BAND_LEVELS if target.judged(percent, peak))
    return light_band(target, levels, peak=peak, formula=formula) if levels else ()


def _of_pass(found: GreyPass, formula: Formula) -> tuple[TonePoint, ...]:
    light, off = found.errors.light, found.errors.by(formula)[0]
    return tuple(
        TonePoint(p, float(light[i]), 0.0, verdict(float(off[i])), float(off[i]))
        for i, p in enumerate(found.percents)
        if p > 0.0 and not np.isnan(light[i])
    )


def _corrections(snapshot: Snapshot, ladder: MultiState | None) -> tuple[LineState, ...]:
    """A line for each channel, through the levels that have controls."""
    if ladder is not None:
        controls = ladder.controls
    else:
        noted = [control for control in snapshot.controls if point_of(control.role)]
        controls = tuple(c.state(snapshot.settings[c.role]) for c in noted if c.role in snapshot.settings)
    if not controls:
        return ()
    grid = Grid.of(controls)
    return tuple(
        LineState(name, tuple((float(p), float(n), 0.0) for p, n in zip(grid.percents, column, strict=True)), name)
        for name, column in zip(CHANNELS, grid.offsets.T, strict=True)
    )


def _presets(snapshot: Snapshot, target: Target) -> tuple[LineState, ...]:
    """What each gamma preset gave at Prepare, the chosen one first."""
    told, chosen = [], snapshot.result(GAMMA)
    for each in chosen.order if chosen else ():
        track = each.track
        light = track.xyz[:, 1]
        off = (light / target.grey(track.percents, float(light[0]))[:, 1] - 1.0) * 100.0
        points = tuple((float(p), float(n), 0.0) for p, n in zip(track.percents, off, strict=True))
        told.append(LineState(track.name, points))
    return tuple(told)


def _figures(state: ToneState, formula: Formula) -> tuple[tuple[str, str], ...]:
    told = []
    ladder, foot = state.ladder, state.foot
    if ladder is not None and ladder.percents:
        was = f"{ladder.began.mean:.2f} → " if ladder.began else ""
        told.append((f"{formula} on average", f"{was}{ladder.mean:.2f} ± {ladder.mean_sd:.2f}"))
        at, worst = ladder.worst
        told.append(("at worst", f"{worst:.2f} at {at:g} %"))
        told.append(("slope changes by", f"{ladder.bend * 100.0:.0f} % (limit {BEND * 100.0:.0f} %)"))
        told.append(("trips", f"{len(ladder.trips)}"))
    if foot is not None:
        told.append(("near black right", f"{sum(foot.right)} of {len(foot.right)}"))
        told.append(("black", f"{foot.black:.4f} cd/m²" if foot.black else "none that is read"))
    return tuple(told)


def tone_text(page: TonePage) -> str:
    """The picture of Tone as tab-separated text."""
    rows = [("Level %", "Light off %", "±", page.formula, *(f"{line.channel} steps" for line in page.corrections))]
    at = [{p: n for p, n, _ in line.points} for line in page.corrections]
    for point in page.points:
        de = "" if point.verdict is None else f"{point.delta:.2f}"
        steps = (f"{line[point.percent]:+g}" if point.percent in line else "" for line in at)
        rows.append((f"{point.percent:g}", f"{point.light:+.2f}", f"{point.sd:.2f}", de, *steps))
    return (
        "\n".join(["\t".join(row) for row in rows] + ["", *("\t".join(figure) for figure in page.figures)]) + "\n"
    )
