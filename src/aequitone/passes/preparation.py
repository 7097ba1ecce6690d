"""What Prepare measures: the warm-up, the light in the room, and how even the screen is."""

from collections.abc import Sequence

from aequitone.advice import checklist
from aequitone.logbook.settings.ledger import CheckState
from aequitone.passes.base import PassType
from aequitone.passes.snapshot import Snapshot
from aequitone.planning.pace import Pace
from aequitone.procedures.journal import Recorded, Turned
from aequitone.procedures.policy import policy_for
from aequitone.procedures.preparation.room_light import RoomLight, RoomPlan, room_light
from aequitone.procedures.preparation.uniformity import PLACES, Evenness, EvennessPlan, evenness
from aequitone.procedures.preparation.warm_up import Warmth, WarmUpPlan, warm_up
from aequitone.procedures.steps import Reading

# A screen that comes from another room is settled in about half an hour (practice).
_WARM_UP_SECONDS = 1800.0
# Hanging the meter at another place.
_PLACE_SECONDS = 15.0
_WHITE = 100.0


def _room_recovered(plan: RoomPlan, record: Sequence[Recorded], _words: str) -> RoomLight | None:
    """The light of the last reading; an earlier version switched every screen off."""
    readings = [kept for kept in record if isinstance(kept, Reading)]
    if not readings:
        return None
    lit = not any(isinstance(kept, Turned) for kept in record)
    return RoomLight(readings[-1].Y, readings[-1].sd_Y, plan.most, lit)


def is_warm(snapshot: Snapshot) -> bool:
    """Whether the screen is known to be warm: its light has settled, or a person has said that it had been on."""
    warmth = snapshot.result(WARM_UP)
    if warmth is not None and warmth.settled:
        return True
    checks = (snapshot.checks.get(line) for line in (checklist.WARM_UP, checklist.CLOCK))
    return any(check is not None and check.state is CheckState.DONE for check in checks)


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
    recover=_room_recovered,
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
