"""Tone: near black, and grey at many levels."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from aequitone.advice.moves import ControlState
from aequitone.advice.points import ladder_of
from aequitone.advice.points.near_black import bias_light
from aequitone.advice.roles import BIASES, GAINS, TWO_POINT, point_of
from aequitone.passes.base import NotReadyError, PassType
from aequitone.passes.hdr import drive_at, solved_target, solved_top
from aequitone.passes.snapshot import Snapshot
from aequitone.passes.white import WHITE
from aequitone.planning.pace import Pace, tone_seconds
from aequitone.procedures.journal import Recorded, Turned
from aequitone.procedures.known_level import KnownLevel
from aequitone.procedures.policy import seen_black
from aequitone.procedures.steps import Reading
from aequitone.procedures.tone.multi_plan import TRIPS, MultiState
from aequitone.procedures.tone.tone import TonePlan, ToneState, tone
from aequitone.procedures.white.session import WhiteState
from aequitone.reference import grey_errors

_WHITE = 100.0


def _plan(snapshot: Snapshot) -> TonePlan:
    visit, bench, values = snapshot.visit, snapshot.visit.bench, snapshot.settings
    result = snapshot.result(WHITE)
    if result is None:
        raise NotReadyError("Tone follows White, which measures white's light and what the biases do.")
    state = result.state
    noted = [control for control in snapshot.controls if control.role in values]
    points = tuple(control.state(values[control.role]) for control in noted if point_of(control.role))
    two_point = {c.role: c.state(values[c.role]) for c in noted if c.role in TWO_POINT}
    biases, gains = (tuple(two_point[role] for role in roles if role in two_point) for roles in (BIASES, GAINS))
    target, white = solved_target(snapshot), float(state.xyz[0, 1])
    ladder = ladder_of(points, whole=bench.automatic) if points else ()
    top = solved_top(target, white, ladder)
    return TonePlan(
        target,
        bench.format,
        white,
        biases if len(biases) == len(BIASES) else (),
        bias_light(state.responses.bias_light, drive_at(target, state.percents[2], white)),
        points,
        tuple(percent for percent in ladder if percent <= top or percent == _WHITE),
        # A person who types readings would type the same again, and cannot wait as long as near black needs.
        near_black=bench.automatic,
        by_hand=not bench.by_link,
        trip_seconds=snapshot.pace.trip,
        stop_at=visit.stop_at,
        formula=snapshot.leading,
        top=top,
        typed=not bench.automatic,
        beside=gains,
        known=_known(snapshot, state),
    )


def _known(snapshot: Snapshot, state: WhiteState) -> tuple[KnownLevel, ...]:
    """What White has read in the end, where it is the last pass that was made: a link leaves all as it stands."""
    bench = snapshot.visit.bench
    if not (bench.by_link and bench.automatic and snapshot.ended_with(WHITE)):
        return ()
    return tuple(map(KnownLevel, state.percents, state.xyz, state.sd))


def _seconds(snapshot: Snapshot, pace: Pace) -> float:
    if not snapshot.has_two_point:
        # Tone follows White, and there will be none.
        return 0.0
    points = [control.state(0) for control in snapshot.controls if point_of(control.role)]
    automatic, by_link = snapshot.visit.bench.automatic, snapshot.visit.bench.by_link
    trips = TRIPS if by_link or automatic else 0
    levels = len(ladder_of(points, whole=automatic)) if points else 0
    return tone_seconds(pace, levels, near_black=automatic, trips=trips)


def _recovered(plan: TonePlan, record: Sequence[Recorded], words: str) -> ToneState | None:
    """The result as the record has it: the ladder as read first and last, and where the controls were left."""
    multi = plan.multi
    levels = [r for r in record if isinstance(r, Reading) and r.patch.percent in plan.percents]
    if multi is None or not levels:
        return ToneState(words=words)
    first: dict[float, Reading] = {}
    last: dict[float, Reading] = {}
    for reading in levels:
        first.setdefault(reading.patch.percent, reading)
        last[reading.patch.percent] = reading
    controls = multi.grid
    for kept in record:
        if isinstance(kept, Turned):
            controls = controls.moved(kept.move.changes)
    blacks = [r for r in record if isinstance(r, Reading) and r.patch.percent == 0.0]
    black = seen_black(blacks[-1].Y, blacks[-1].sd_Y) if blacks else 0.0
    began = _ladder(plan, first, multi.grid.controls, black)
    return ToneState(None, replace(_ladder(plan, last, controls.controls, black), began=began), words)


def _ladder(
    plan: TonePlan, readings: Mapping[float, Reading], controls: tuple[ControlState, ...], black: float
) -> MultiState:
    percents = tuple(sorted(readings, reverse=True))
    xyz = np.array([readings[percent].xyz for percent in percents])
    errors = grey_errors(percents, xyz, plan.target, white=float(xyz[0, 1]), black=black)
    sd = np.array([readings[percent].sd for percent in percents])
    return MultiState(percents, xyz, sd, tuple(map(float, errors.by(plan.formula)[0])), controls, (), 0.0, black)


TONE = PassType(
    key="tone",
    title="Tone",
    plan=TonePlan,
    result=ToneState,
    procedure=tone,
    make_plan=_plan,
    seconds=_seconds,
    words=lambda result: result.words,
    adjusts=True,
    recover=_recovered,
)
