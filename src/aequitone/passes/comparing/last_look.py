"""A last look at a job that is done, after another was worked on: HDR and SDR leak into each other."""

import numpy as np

from aequitone.advice.last_look import PERCENTS
from aequitone.passes.base import NotReadyError, PassType
from aequitone.passes.grey import PROOF
from aequitone.passes.snapshot import Snapshot
from aequitone.planning.pace import Pace
from aequitone.procedures.grey.last_look import LastLook, LastLookPlan, last_look
from aequitone.procedures.policy import policy_for
from aequitone.reference import target_named

_A_WHITE = 100.0


def _plan(snapshot: Snapshot) -> LastLookPlan:
    proof = snapshot.result(PROOF)
    if proof is None:
        raise NotReadyError("A last look compares with Proof, which was not measured yet.")
    rows = [i for i, percent in enumerate(proof.percents) if percent in PERCENTS]
    return LastLookPlan(
        target_named(snapshot.visit.target),
        snapshot.visit.bench.format,
        tuple(proof.percents[i] for i in rows),
        np.array(proof.xyz[rows]),
        np.array(proof.sd[rows]),
    )


def _seconds(_snapshot: Snapshot, pace: Pace) -> float:
    return len(PERCENTS) * pace.reading(policy_for(_A_WHITE / 8.0, _A_WHITE))


LAST_LOOK = PassType(
    key="last look",
    title="Last look",
    plan=LastLookPlan,
    result=LastLook,
    procedure=last_look,
    make_plan=_plan,
    seconds=_seconds,
    words=lambda result: result.words,
)


def unlooked(snapshot: Snapshot) -> tuple[str, ...]:
    """The jobs that were done before another of another signal was adjusted, and not looked at since, by memory.

    What a person sets in HDR can act on SDR too, and the other way round.
    """
    told = []
    for job in snapshot.jobs:
        newest = dict(job.newest)
        seen = max(newest.get(PROOF.key, 0), newest.get(LAST_LOOK.key, 0))
        later = any(each.hdr is not job.hdr and each.turned > seen for each in snapshot.jobs)
        if PROOF.key in newest and not job.left_out and later:
            told.append(job.name)
    return tuple(told)
