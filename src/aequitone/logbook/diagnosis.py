"""The part of a bug report about the logbook: how much is in it, with no names."""

from collections import Counter

from aequitone.diagnosis import bug_report
from aequitone.logbook.storage.opening import REVISION
from aequitone.logbook.store import Logbook

_MOST_VISITS = 10_000


def bug_report_of(logbook: Logbook | None) -> str:
    """Text for a bug report; None where there is no logbook yet."""
    if logbook is None:
        return bug_report(())
    names = [name for told in logbook.register.known_names().values() for name in told]
    visits = [*logbook.find_visits(most=_MOST_VISITS), *logbook.find_visits(most=_MOST_VISITS, away=True)]
    passes = Counter(
        f"{record.kind}, {record.state.value}" for visit in visits for record in logbook.passes(visit.id)
    )
    facts = [("Logbook layout", REVISION), ("Visits", str(len(visits)))]
    facts += [(f"Passes {what}", str(count)) for what, count in sorted(passes.items())]
    return bug_report(names, facts)
