"""Grey as found and the proof: the same pass, before and after."""

from collections.abc import Sequence
from functools import partial

from aequitone.advice.answers.encoding import usual_formula
from aequitone.advice.technology import Technology
from aequitone.passes.base import PassType
from aequitone.passes.snapshot import Snapshot
from aequitone.planning.pace import Pace, grey_pass_seconds
from aequitone.procedures.grey.grey_pass import GreyPass, GreyPlan, grey_pass, held_to, recovered
from aequitone.procedures.journal import Recorded
from aequitone.procedures.steps import Reading
from aequitone.reference import Target, target_named

_SHADOWS = 10.0


def grey_plan(snapshot: Snapshot, *, first_look: bool = False) -> GreyPlan:
    """Plan the grey pass that a visit's choices mean; `first_look`: at the signal, before time is spent on it."""
    visit, bench = snapshot.visit, snapshot.visit.bench
    return GreyPlan(
        target_named(visit.target),
        bench.format,
        visit.levels,
        repeat_anchors=bench.automatic,
        anchor_every=bench.anchor_every if bench.automatic else 0,
        first_look=first_look and bench.automatic,
        technology=visit.technology if first_look else Technology.UNKNOWN,
        formula=snapshot.leading,
    )


def _seconds(snapshot: Snapshot, pace: Pace, *, first_look: bool) -> float:
    return grey_pass_seconds(grey_plan(snapshot, first_look=first_look), pace)


def shadows(found: GreyPass, target: Target) -> tuple[float, float] | None:
    """The level in the shadows that later passes are not to make worse, in %, and its ΔE as found."""
    if _SHADOWS not in found.percents:
        return None
    return _SHADOWS, float(found.errors.by(usual_formula(target))[0][found.percents.index(_SHADOWS)])


def _recovered(plan: GreyPlan, record: Sequence[Recorded], _words: str) -> GreyPass | None:
    return recovered(plan, [each for each in record if isinstance(each, Reading)])


def _regraded(found: GreyPass, snapshot: Snapshot) -> GreyPass:
    """The readings held to the present target: in HDR it is chosen once the screen's upper end is known."""
    if not snapshot.hdr:
        return found
    return held_to(found, target_named(snapshot.visit.target), snapshot.leading)


AS_FOUND = PassType(
    key="as found",
    title="As found",
    plan=GreyPlan,
    result=GreyPass,
    procedure=grey_pass,
    make_plan=partial(grey_plan, first_look=True),
    seconds=partial(_seconds, first_look=True),
    from_file=True,
    recover=_recovered,
    regraded=_regraded,
)
PROOF = PassType(
    key="proof",
    title="Proof",
    plan=GreyPlan,
    result=GreyPass,
    procedure=grey_pass,
    make_plan=grey_plan,
    seconds=partial(_seconds, first_look=False),
    from_file=True,
    recover=_recovered,
    regraded=_regraded,
)
