"""What was switched off for measuring, tried on and off before it is decided what becomes of it."""

from aequitone.advice.roles import Role
from aequitone.logbook import Logbook
from aequitone.passes.base import NotReadyError, PassType
from aequitone.passes.carrying_out import PreparedPass, begin_planned
from aequitone.passes.snapshot import Snapshot, load_snapshot
from aequitone.planning.pace import Pace
from aequitone.procedures.policy import policy_for
from aequitone.procedures.preparation.try_feature import READINGS, Tried, TryPlan, try_feature
from aequitone.reference import target_named

_WHITE = 100.0


def begin_try(logbook: Logbook, visit_id: int, role: Role) -> PreparedPass[TryPlan, Tried]:
    """Begin to try something that was switched off. Raises NotReadyError where it was not."""
    snapshot = load_snapshot(logbook, visit_id, advice=False)
    control = next((each for each in snapshot.controls if each.role == role), None)
    debt = next((each for each in snapshot.debts if each.role == role), None)
    if control is None or debt is None:
        raise NotReadyError("Only what was switched off on this visit is tried on and off.")
    stands = snapshot.settings.get(role, control.lowest)
    if stands == debt.from_value:
        raise NotReadyError(f"{control.name} is on again already; take that answer back to try it.")
    plan = TryPlan(
        target_named(snapshot.visit.target),
        snapshot.visit.bench.format,
        control.state(stands),
        debt.from_value,
        snapshot.leading,
    )
    return begin_planned(logbook, snapshot, TRIED, plan)


def tried_words(snapshot: Snapshot) -> dict[str, str]:
    """What was said of each feature that was tried, the newest trial, by the control's name."""
    told = {}
    for record in snapshot.passes:
        control = record.plan.get("control")
        if record.kind == TRIED.key and record.outcome and isinstance(control, dict):
            told[str(control.get("name", ""))] = record.outcome
    return told


def _plan(_snapshot: Snapshot) -> TryPlan:
    raise NotReadyError("Choose at Hand over what is tried.")


def _seconds(_snapshot: Snapshot, pace: Pace) -> float:
    return 2.0 * pace.trip + READINGS * pace.reading(policy_for(_WHITE / 8.0, _WHITE))


TRIED = PassType(
    key="feature",
    title="Tried on and off",
    plan=TryPlan,
    result=Tried,
    procedure=try_feature,
    make_plan=_plan,
    seconds=_seconds,
    words=lambda result: result.words,
    reason="tried on and off",
)
