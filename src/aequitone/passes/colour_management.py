"""Colour management: what is turned for primaries and secondaries."""

from dataclasses import replace

from aequitone.advice.roles import is_of_colours
from aequitone.passes.base import NotReadyError, PassType
from aequitone.passes.colours import COLOURS_FOUND, COLOURS_LEFT, light_below_knee, light_of_six
from aequitone.passes.hdr import shoulder_of
from aequitone.passes.snapshot import Snapshot
from aequitone.planning.pace import Pace, colour_pass_seconds
from aequitone.procedures.colour.colour_pass import ColourPass, ColourPlan
from aequitone.procedures.colour.manage_plan import DiffuseWhite, KnownColours, Managed, ManagePlan
from aequitone.procedures.colour.managing import manage_colours
from aequitone.procedures.colour.samples import DIFFUSE_WHITE, is_primary
from aequitone.reference import target_named
from aequitone.signal import Transfer

_TRIP_BY_HAND, _TRIP_BY_LINK = 20.0, 1.0
# Looks at all saturations that it usually takes.
_USUAL_LOOKS = 3
_NO_PEAK = "How bright this screen gets in HDR is not known yet: measure it at Peak, or read grey as found."
_NEEDED = (
    "Colour management is not among the controls of this screen: enter its controls at Arrive, if it has one."
)


def has_management(snapshot: Snapshot) -> bool:
    """Whether controls of a colour management are noted, and a meter reads by itself."""
    noted = any(is_of_colours(control.role) for control in snapshot.controls if control.role in snapshot.settings)
    return noted and snapshot.visit.bench.automatic


def management_plan(snapshot: Snapshot, *, light: bool | None = None) -> ManagePlan:
    """Plan a colour management; `light`: whether that of colours counts (`ManagePlan`). Raises NotReadyError."""
    if not has_management(snapshot):
        raise NotReadyError(_NEEDED)
    visit, values = snapshot.visit, snapshot.settings
    controls = tuple(
        control.state(values[control.role])
        for control in snapshot.controls
        if is_of_colours(control.role) and control.role in values
    )
    usual = _TRIP_BY_LINK if visit.bench.by_link else _TRIP_BY_HAND
    plan = ManagePlan(
        target_named(visit.target),
        visit.bench.format,
        controls,
        visit.bench.colour_level,
        by_hand=not visit.bench.by_link,
        trip_seconds=snapshot.trip_seconds or usual,
        light=light,
        leading=snapshot.leading,
        diffuse=_diffuse(snapshot),
    )
    known = _known(snapshot, plan)
    return plan if known is None else replace(plan, known=KnownColours.of(known, plan.diffuse))


def _diffuse(snapshot: Snapshot) -> DiffuseWhite | None:
    """What colours are held to under PQ; None elsewhere. Raises NotReadyError where the peak is not known."""
    if snapshot.visit.bench.transfer is not Transfer.PQ:
        return None
    shoulder = shoulder_of(snapshot)
    if shoulder is None:
        raise NotReadyError(_NO_PEAK)
    white = light_below_knee(snapshot, DIFFUSE_WHITE)
    return DiffuseWhite(white, light_of_six(snapshot), shoulder.peak)


def _known(snapshot: Snapshot, plan: ManagePlan) -> ColourPass | None:
    """The colours that were read last, where nothing was turned since."""
    passes = [(snapshot.latest_done(kind), kind) for kind in (COLOURS_FOUND, COLOURS_LEFT)]
    read = [(record.started, kind) for record, kind in passes if record is not None]
    if not read:
        return None
    when, kind = max(read, key=lambda each: each[0])
    found = snapshot.result(kind)
    if found is None or any(setting.at > when for setting in snapshot.history):
        return None
    # Whether anything has changed since is told by the full primaries; what else was not read is read first.
    primaries = {sample.signal for sample in plan.samples if is_primary(sample)}
    return found if primaries <= {sample.signal for sample in found.samples} else None


def _seconds(snapshot: Snapshot, pace: Pace) -> float:
    if not has_management(snapshot):
        return 0.0
    looked = ColourPlan(
        target_named(snapshot.visit.target), snapshot.visit.bench.format, light=light_of_six(snapshot)
    )
    share = sum(not sample.is_everyday for sample in looked.samples) / len(looked.samples)
    return _USUAL_LOOKS * (share * colour_pass_seconds(looked, pace) + pace.trip)


MANAGEMENT: PassType[ManagePlan, Managed] = PassType(
    key="colour management",
    title="Colour management",
    plan=ManagePlan,
    result=Managed,
    procedure=manage_colours,
    make_plan=management_plan,
    seconds=_seconds,
    words=lambda result: result.words,
    adjusts=True,
)
