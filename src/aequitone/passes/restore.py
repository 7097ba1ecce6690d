"""Turning every control back to how it stood at a moment, or to how it stands in the memory of another job."""

from aequitone.advice.roles import Role
from aequitone.logbook import Logbook
from aequitone.logbook.settings.moments import Moment
from aequitone.passes.base import NotReadyError, PassType
from aequitone.passes.carrying_out import PreparedPass, begin_planned
from aequitone.passes.snapshot import Snapshot, load_snapshot
from aequitone.planning.pace import Pace
from aequitone.procedures.preparation.restore import PutBackPlan, PutBackState, put_back


def _plan(_snapshot: Snapshot) -> PutBackPlan:
    raise NotReadyError("Choose at Controls which moment to put the settings back to.")


def _copy_plan(_snapshot: Snapshot) -> PutBackPlan:
    raise NotReadyError("Choose at Jobs which job the settings are copied from.")


def _seconds(snapshot: Snapshot, pace: Pace) -> float:
    return pace.trip * len(snapshot.controls)


PUT_BACK = PassType(
    key="put back",
    title="Put back",
    plan=PutBackPlan,
    result=PutBackState,
    procedure=put_back,
    make_plan=_plan,
    seconds=_seconds,
    words=lambda result: result.words,
)


COPIED = PassType(
    key="copied settings",
    title="Settings of another job",
    plan=PutBackPlan,
    result=PutBackState,
    procedure=put_back,
    make_plan=_copy_plan,
    seconds=_seconds,
    words=lambda result: result.words,
    reason="copied from another job",
)


def begin_copy(logbook: Logbook, visit_id: int, job_id: int) -> PreparedPass[PutBackPlan, PutBackState]:
    """Begin turning the present memory to the settings of another job, as a start.

    Raises NotReadyError where there is nothing to turn.
    """
    snapshot, other = (load_snapshot(logbook, visit_id, advice=False, job_id=job) for job in (None, job_id))
    now, there = snapshot.settings, other.settings
    name = other.visit.name
    if there.keys() - now.keys():
        raise NotReadyError(f"Note at Arrive how {snapshot.visit.memory} was found; then it can be changed.")
    off = [
        control
        for control in snapshot.controls
        # A picture mode chooses the memory itself.
        if control.role != Role.PICTURE_MODE
        and control.role in now
        and now[control.role] != there.get(control.role, now[control.role])
    ]
    if not off:
        raise NotReadyError(f"{snapshot.visit.memory} has the settings of {name} already.")
    plan = PutBackPlan(
        tuple(control.state(now[control.role]) for control in off),
        tuple(there[control.role] for control in off),
        "",
        name,
    )
    return begin_planned(logbook, snapshot, COPIED, plan)


def begin_put_back(
    logbook: Logbook, visit_id: int, moment: Moment, only: Role | None = None
) -> PreparedPass[PutBackPlan, PutBackState]:
    """Begin turning everything, or `only` one control, back to how it stood at a moment.

    Raises NotReadyError where it stands so.
    """
    snapshot = load_snapshot(logbook, visit_id, advice=False)
    now = snapshot.settings
    off = [
        control
        for control in snapshot.controls
        if control.role in now
        and now[control.role] != moment.settings.get(control.role, now[control.role])
        and only in (None, control.role)
    ]
    if not off:
        what = "Every setting is" if only is None else "It is"
        raise NotReadyError(f"{what} already as it was {moment.name}.")
    plan = PutBackPlan(
        tuple(control.state(now[control.role]) for control in off),
        tuple(moment.settings[control.role] for control in off),
        moment.name,
        alone=only is not None,
    )
    return begin_planned(logbook, snapshot, PUT_BACK, plan)
