"""Settings from elsewhere, measured on this unit before or instead of being taken over."""

from collections.abc import Mapping

from aequitone.advice.roles import Role
from aequitone.logbook import Logbook
from aequitone.passes.base import NotReadyError, PassType
from aequitone.passes.carrying_out import PreparedPass, begin_planned
from aequitone.passes.grey import AS_FOUND, PROOF
from aequitone.passes.snapshot import Snapshot, load_snapshot
from aequitone.planning.pace import Pace
from aequitone.procedures.policy import policy_for
from aequitone.procedures.preparation.as_watched import WATCHED_PERCENTS
from aequitone.procedures.preparation.what_if import WhatIf, WhatIfPlan, what_if
from aequitone.reference import target_named

_WHITE, _TRIPS = 100.0, 6


def begin_what_if(
    logbook: Logbook, visit_id: int, source: str, settings: Mapping[Role, int]
) -> PreparedPass[WhatIfPlan, WhatIf]:
    """Begin to measure settings; `source`: where they come from, in words. Raises NotReadyError."""
    snapshot = load_snapshot(logbook, visit_id, advice=False)
    now = snapshot.settings
    off = [
        control
        for control in snapshot.controls
        # Another mode would bring settings that nobody noted.
        if control.role != Role.PICTURE_MODE
        and control.role in now
        and settings.get(control.role, now[control.role]) != now[control.role]
    ]
    if not off:
        raise NotReadyError(f"Every control that {source} names stands so already.")
    found, proof = snapshot.result(AS_FOUND), snapshot.result(PROOF)
    plan = WhatIfPlan(
        target_named(snapshot.visit.target),
        snapshot.visit.bench.format,
        source,
        tuple(control.state(now[control.role]) for control in off),
        tuple(settings[control.role] for control in off),
        found.mean if found is not None else None,
        proof.mean if proof is not None else None,
        snapshot.leading,
    )
    return begin_planned(logbook, snapshot, WHAT_IF, plan)


def _plan(_snapshot: Snapshot) -> WhatIfPlan:
    raise NotReadyError("Choose at Controls which settings are measured.")


def _seconds(_snapshot: Snapshot, pace: Pace) -> float:
    return _TRIPS * pace.trip + len(WATCHED_PERCENTS) * pace.reading(policy_for(_WHITE / 8.0, _WHITE))


WHAT_IF = PassType(
    key="what if",
    title="Settings from elsewhere",
    plan=WhatIfPlan,
    result=WhatIf,
    procedure=what_if,
    make_plan=_plan,
    seconds=_seconds,
    words=lambda result: result.words,
    reason="tried, from elsewhere",
)
