"""Begin a pass, go on with one, carry it out into the logbook."""

from collections.abc import Callable
from dataclasses import asdict, dataclass
from typing import Any, Generic, TypeVar

from aequitone.instruments.ports import Bench
from aequitone.logbook import Logbook, PassRecord, PassState
from aequitone.passes.base import NotReadyError, PassType
from aequitone.passes.kept import KeptError, from_json, to_json
from aequitone.passes.snapshot import Snapshot, keep_understood, load_snapshot
from aequitone.procedures.care import CARE, Care
from aequitone.procedures.grey.first_look import WrongSignalError
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.runner import Event, Listener, Operator, Runner, StepBegun
from aequitone.procedures.steps import Procedure, Progress

P = TypeVar("P")
R = TypeVar("R")

FROM_FILE = "file"
"""The meter of a pass that was imported, in the record of its bench."""
SET_ASIDE_BY_PERSON = "set aside by the person"


@dataclass(frozen=True)
class PreparedPass(Generic[P, R]):
    """A pass that has its row in the logbook and can be run, or run again from its record."""

    pass_id: int
    kind: PassType[P, R]
    plan: P

    def procedure(self) -> Procedure[R]:
        """A fresh run of its procedure."""
        return self.kind.procedure(self.plan)


def begin(logbook: Logbook, visit_id: int, kind: PassType[P, R]) -> PreparedPass[P, R]:
    """Plan a pass from what is known of the visit, and begin it. Raises NotReadyError with a sentence."""
    snapshot = load_snapshot(logbook, visit_id)
    if not kind.fits(snapshot):
        raise NotReadyError(kind.misfit(snapshot))
    return begin_planned(logbook, snapshot, kind, kind.make_plan(snapshot))


def begin_planned(
    logbook: Logbook, snapshot: Snapshot, kind: PassType[P, R], plan: P, bench: dict[str, Any] | None = None
) -> PreparedPass[P, R]:
    """Begin a pass of a plan that is made; `bench`: what it is measured with, where that is not the visit's."""
    visit = snapshot.visit
    used = bench or asdict(visit.bench)
    return PreparedPass(logbook.begin_pass(visit.id, kind.key, to_json(plan), used), kind, plan)


def enter_whole(
    logbook: Logbook,
    visit_id: int,
    kind: PassType[P, R],
    plan: P,
    bench: dict[str, Any],
    journal: MemoryJournal,
    value: R,
) -> None:
    """Enter a pass that is over, with everything of it, in one transaction: it is there whole or not at all."""
    logbook.enter_pass(visit_id, kind.key, to_json(plan), bench, journal, kind.words(value), to_json(value))


def go_on(record: PassRecord) -> PreparedPass[Any, Any]:
    """Prepare an interrupted pass to run from its record.

    Raises KeptError where no meter may go on with it, or this version cannot; KeyError for an unknown kind.
    """
    from aequitone.passes import pass_type

    if record.bench.get("meter") == FROM_FILE:
        raise KeptError(
            "This pass came from a file and was never whole; a meter must not go on with it. Set it aside"
        )

    kind = pass_type(record.kind)
    return PreparedPass(record.id, kind, from_json(kind.plan, record.plan))


def go_on_or_begin(logbook: Logbook, visit_id: int, kind: PassType[Any, Any]) -> PreparedPass[Any, Any]:
    """Go on with the interrupted pass of a visit, of any kind; else begin one of `kind`. Raises NotReadyError."""
    interrupted = logbook.interrupted_pass(visit_id)
    return go_on(interrupted) if interrupted else begin(logbook, visit_id, kind)


def carry_out(
    logbook: Logbook,
    prepared: PreparedPass[P, R],
    bench: Bench,
    operator: Operator,
    listener: Listener | None = None,
    on_runner: Callable[[Runner], None] | None = None,
    care: Care = CARE,
) -> R:
    """Run a pass to its end, keep its result, and mark it done.

    What stops it (AbandonedError, InstrumentError) leaves it resumable; WrongSignalError sets it aside, as its
    readings are of another signal than the plan's.
    """
    kind, pass_id = prepared.kind, prepared.pass_id
    progress: object = None

    def hear(event: Event) -> None:
        nonlocal progress
        if isinstance(event, StepBegun) and isinstance(event.step, Progress) and event.step.value is not None:
            progress = event.step.value
        if listener is not None:
            listener(event)

    runner = Runner(bench, logbook.journal(pass_id, bench.clock, kind.reason), operator, hear, care)
    if on_runner is not None:
        on_runner(runner)
    try:
        value = runner.run(prepared.procedure())
    except WrongSignalError as error:
        logbook.end_pass(pass_id, PassState.SET_ASIDE, str(error))
        raise
    kind.finish(logbook, logbook.visit_of_pass(pass_id), prepared.plan, value, bench)
    logbook.end_pass(pass_id, PassState.DONE, kind.words(value), to_json(value))
    keep_understood(logbook, pass_id, value, progress)
    return value
