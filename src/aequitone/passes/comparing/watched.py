"""The picture as the client has been watching it: before anything is chosen, switched off or turned."""

from aequitone.logbook.settings.ledger import FOUND_REASON
from aequitone.passes.base import NotReadyError, PassType
from aequitone.passes.colours import colours_words
from aequitone.passes.snapshot import Snapshot
from aequitone.planning.pace import Pace
from aequitone.procedures.policy import policy_for
from aequitone.procedures.preparation.as_watched import Watched, WatchedPlan, as_watched
from aequitone.reference import target_named
from aequitone.wording import listed

_WHITE, _NAMED = 100.0, 3


def changed_since(snapshot: Snapshot) -> tuple[str, ...]:
    """The controls that have been changed on this visit: with any of them the picture as watched is gone."""
    return tuple(dict.fromkeys(record.name for record in snapshot.history if record.reason != FOUND_REASON))


def _plan(snapshot: Snapshot) -> WatchedPlan:
    changed = changed_since(snapshot)
    if changed:
        have = "has" if len(changed) == 1 else "have"
        raise NotReadyError(
            f"{listed(changed, _NAMED)} {have} been changed on this visit: the picture as it was watched is gone. "
            "As found is the before then."
        )
    bench = snapshot.visit.bench
    return WatchedPlan(target_named(snapshot.visit.target), bench.format, bench.colour_level, snapshot.leading)


def _seconds(snapshot: Snapshot, pace: Pace) -> float:
    bench = snapshot.visit.bench
    plan = WatchedPlan(target_named(snapshot.visit.target), bench.format, bench.colour_level)
    return plan.readings * pace.reading(policy_for(_WHITE / 4.0, _WHITE))


def _words(found: Watched) -> str:
    grey = found.grey
    told = f"Grey: {grey.formula} {grey.mean:.1f} on average, white {grey.white:.0f} cd/m²."
    return f"{told} {colours_words(found.colours)}"


WATCHED = PassType(
    key="as watched",
    title="As watched",
    plan=WatchedPlan,
    result=Watched,
    procedure=as_watched,
    make_plan=_plan,
    seconds=_seconds,
    words=_words,
)
