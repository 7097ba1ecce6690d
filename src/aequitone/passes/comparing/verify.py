"""Another input, looked at through its own device, against the finished job."""

import numpy as np

from aequitone.advice.last_look import PERCENTS
from aequitone.logbook import Logbook, PassState
from aequitone.passes.base import NotReadyError, PassType
from aequitone.passes.carrying_out import PreparedPass, begin_planned
from aequitone.passes.colours import COLOURS_FOUND, COLOURS_LEFT
from aequitone.passes.grey import PROOF
from aequitone.passes.snapshot import Snapshot, given_result, load_snapshot
from aequitone.planning.pace import Pace
from aequitone.procedures.colour.colour_pass import ColourPass
from aequitone.procedures.grey.verify import Verified, VerifyPlan, verify
from aequitone.procedures.policy import policy_for
from aequitone.reference import target_named

_COLOURS, _WHITE = 3, 100.0
# Read where nothing was set of colour: two primaries and a skin.
_USUAL = ("red 100 %", "blue 100 %", "fair skin")


def verify_plan(snapshot: Snapshot, place: str) -> VerifyPlan:
    """Plan the look at an input, named with its device. Raises NotReadyError where nothing was proven."""
    proof = snapshot.result(PROOF)
    if proof is None:
        raise NotReadyError("An input is compared with Proof, which was not measured yet.")
    visit = snapshot.visit
    rows = [i for i, percent in enumerate(proof.percents) if percent in PERCENTS]
    colours, found = snapshot.result(COLOURS_LEFT), snapshot.result(COLOURS_FOUND)
    chosen = _told_most(colours, found) if colours is not None else []
    empty = np.zeros((0, 3))
    return VerifyPlan(
        target_named(visit.target),
        visit.bench.format,
        place,
        visit.name,
        tuple(proof.percents[i] for i in rows),
        np.array(proof.xyz[rows]),
        np.array(proof.sd[rows]),
        tuple(colours.samples[i].name for i in chosen) if colours is not None else (),
        tuple(colours.samples[i].signal for i in chosen) if colours is not None else (),
        np.array(colours.xyz[chosen]) if colours is not None else empty,
        np.array(colours.sd[chosen]) if colours is not None else empty,
        proof.percents[::-1],
        tuple(float(light) for light in proof.xyz[::-1, 1]),
    )


def begin_verify(logbook: Logbook, visit_id: int, place: str) -> PreparedPass[VerifyPlan, Verified]:
    """Begin the look at an input. Raises NotReadyError."""
    snapshot = load_snapshot(logbook, visit_id, advice=False)
    return begin_planned(logbook, snapshot, VERIFY, verify_plan(snapshot, place))


def _told_most(left: ColourPass, found: ColourPass | None) -> list[int]:
    """The colours that tell most: those that setting has moved most, and a skin; or a few of each kind."""
    names = [sample.name for sample in left.samples]
    usual = [names.index(name) for name in _USUAL if name in names]
    if found is None or [sample.name for sample in found.samples] != names:
        return usual or list(range(min(_COLOURS, len(names))))
    moved = np.linalg.norm(left.xyz - found.xyz, axis=1) / np.maximum(left.xyz.sum(axis=1), 1e-9)
    strong = [row for row in left.rows(everyday=False) if left.samples[row].saturation == 100.0]
    most = sorted(strong, key=lambda row: -float(moved[row]))[: _COLOURS - 1]
    return list(dict.fromkeys([*most, *usual[::-1]]))[:_COLOURS]


def _plan(_snapshot: Snapshot) -> VerifyPlan:
    raise NotReadyError("Choose at Inputs which input is looked at.")


def _seconds(_snapshot: Snapshot, pace: Pace) -> float:
    return (len(PERCENTS) + _COLOURS) * pace.reading(policy_for(_WHITE / 8.0, _WHITE))


VERIFY = PassType(
    key="verify",
    title="Look at an input",
    plan=VerifyPlan,
    result=Verified,
    procedure=verify,
    make_plan=_plan,
    seconds=_seconds,
    words=lambda result: result.words,
)


def verified(snapshot: Snapshot) -> dict[str, Verified]:
    """What was found at each input that was looked at, the newest look, by its place.

    A look whose result cannot be read any more is none: the input is to be looked at again.
    """
    found: dict[str, Verified | None] = {}
    for record in snapshot.passes:
        if record.kind == VERIFY.key and record.state is PassState.DONE:
            found[str(record.plan.get("place", ""))] = given_result(record, VERIFY)
    return {place: look for place, look in found.items() if look is not None}
