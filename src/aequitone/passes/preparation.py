"""What Prepare measures: the warm-up, the light in the room, and how even the screen is."""

from aequitone.passes.base import PassType
from aequitone.passes.snapshot import Snapshot
from aequitone.planning.pace import Pace
from aequitone.procedures.policy import policy_for
from aequitone.procedures.preparation.room_light import RoomLight, RoomPlan, room_light
from aequitone.procedures.preparation.uniformity import PLACES, Evenness, EvennessPlan, evenness
from aequitone.procedures.preparation.warm_up import Warmth, WarmUpPlan, warm_up

# A screen that comes from another room is settled in about half an hour (practice).
_WARM_UP_SECONDS = 1800.0
# Hanging the meter at another place.
_PLACE_SECONDS = 15.0
_WHITE = 100.0


def _warm_up_seconds(_snapshot: Snapshot, _pace: Pace) -> float:
    return _WARM_UP_SECONDS


def _room_seconds(_snapshot: Snapshot, pace: Pace) -> float:
    return 2.0 * pace.trip + pace.reading(policy_for(0.01, _WHITE))


def _uniformity_seconds(_snapshot: Snapshot, pace: Pace) -> float:
    return len(PLACES) * (_PLACE_SECONDS + pace.reading(policy_for(_WHITE / 3.0, _WHITE)))


WARM_UP = PassType(
    key="warm-up",
    title="Warm-up",
    plan=WarmUpPlan,
    result=Warmth,
    procedure=warm_up,
    make_plan=lambda snapshot: WarmUpPlan(snapshot.visit.bench.format),
    seconds=_warm_up_seconds,
    words=lambda result: result.words,
)
ROOM = PassType(
    key="room",
    title="Room light",
    plan=RoomPlan,
    result=RoomLight,
    procedure=room_light,
    make_plan=lambda snapshot: RoomPlan(snapshot.visit.bench.format),
    seconds=_room_seconds,
    words=lambda result: result.words,
)
UNIFORMITY = PassType(
    key="uniformity",
    title="Uniformity",
    plan=EvennessPlan,
    result=Evenness,
    procedure=evenness,
    make_plan=lambda snapshot: EvennessPlan(snapshot.visit.bench.format),
    seconds=_uniformity_seconds,
    words=lambda result: result.words,
)
