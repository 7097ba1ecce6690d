"""Tone: near black, and grey at many levels."""

from aequitone.advice.points import ladder_of
from aequitone.advice.points.near_black import bias_light
from aequitone.advice.roles import BIASES, point_of
from aequitone.logbook.records import Connection
from aequitone.passes.base import NotReadyError, PassType
from aequitone.passes.snapshot import Snapshot
from aequitone.passes.white import WHITE
from aequitone.planning.pace import Pace, tone_seconds
from aequitone.procedures.tone.tone import TonePlan, ToneState, tone
from aequitone.reference import target_named

# Seconds that a trip to the menu takes before any was made on this visit.
_TRIP_BY_HAND, _TRIP_BY_LINK = 15.0, 1.0


def _plan(snapshot: Snapshot) -> TonePlan:
    visit, bench, values = snapshot.visit, snapshot.visit.bench, snapshot.settings
    result = snapshot.result(WHITE)
    if result is None:
        raise NotReadyError("Tone follows White, which measures white's light and what the biases do.")
    state = result.state
    noted = [control for control in snapshot.controls if control.role in values]
    points = tuple(control.state(values[control.role]) for control in noted if point_of(control.role))
    biases = {control.role: control.state(values[control.role]) for control in noted if control.role in BIASES}
    usual_trip = _TRIP_BY_HAND if bench.link is Connection.BY_HAND else _TRIP_BY_LINK
    return TonePlan(
        target_named(visit.target),
        bench.format,
        float(state.xyz[0, 1]),
        tuple(biases[role] for role in BIASES) if len(biases) == len(BIASES) else (),
        bias_light(state.responses.bias_light, state.percents[2] / 100.0),
        points,
        ladder_of(points, whole=bench.automatic) if points else (),
        # A person who types readings would type the same again, and cannot wait as long as near black needs.
        near_black=bench.automatic,
        by_hand=bench.link is Connection.BY_HAND,
        trip_seconds=snapshot.trip_seconds or usual_trip,
        stop_at=visit.stop_at,
    )


def _seconds(snapshot: Snapshot, pace: Pace) -> float:
    points = [control.state(0) for control in snapshot.controls if point_of(control.role)]
    automatic = snapshot.visit.bench.automatic
    levels = len(ladder_of(points, whole=automatic)) if points else 0
    return tone_seconds(pace, levels, near_black=automatic)


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
    sdr_only=True,
)
