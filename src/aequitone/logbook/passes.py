"""The passes of a visit: planned from the logbook, carried out into it, and understood from it."""

from collections.abc import Callable
from dataclasses import asdict, dataclass
from typing import Any

from aequitone.advice.roles import ROLE_WORDS, TWO_POINT
from aequitone.instruments.ports import Bench
from aequitone.logbook.plans import grey_plan_in, grey_plan_out, white_plan_in, white_plan_out
from aequitone.logbook.records import PassKind, PassRecord, PassState, VisitRecord
from aequitone.logbook.store import Logbook
from aequitone.procedures.care import CARE, Care
from aequitone.procedures.first_look import WrongSignal
from aequitone.procedures.grey_pass import GreyPass, GreyPlan, grey_pass
from aequitone.procedures.replay import replay
from aequitone.procedures.runner import Listener, Operator, Runner
from aequitone.procedures.steps import Procedure
from aequitone.procedures.white_balance import WhitePlan, WhiteResult, WhiteState, white_balance
from aequitone.reference import target_named

SET_ASIDE_BY_PERSON = "set aside by the person"


class NotReady(Exception):  # noqa: N818
    """A pass cannot begin yet; the message says what is missing."""


@dataclass(frozen=True)
class PreparedPass:
    """A pass that has its row in the logbook and can be run, or run again from its record."""

    pass_id: int
    kind: PassKind
    plan: GreyPlan | WhitePlan

    @property
    def procedure(self) -> Callable[[], Procedure[Any]]:
        plan = self.plan
        if isinstance(plan, GreyPlan):
            return lambda: grey_pass(plan)
        return lambda: white_balance(plan)


def begin(logbook: Logbook, visit: VisitRecord, kind: PassKind) -> PreparedPass:
    """Plan a pass and begin it. Raises NotReady with a sentence."""
    bench = asdict(visit.bench)
    if kind is not PassKind.WHITE:
        grey = grey_plan(visit, kind)
        return PreparedPass(logbook.begin_pass(visit.id, kind, grey_plan_out(grey), bench), kind, grey)
    white = _white_plan(logbook, visit)
    return PreparedPass(logbook.begin_pass(visit.id, kind, white_plan_out(white), bench), kind, white)


def grey_plan(visit: VisitRecord, kind: PassKind) -> GreyPlan:
    """The grey pass that a visit's choices mean."""
    bench = visit.bench
    return GreyPlan(
        target_named(visit.target),
        bench.format,
        visit.levels,
        repeat_anchors=bench.automatic,
        anchor_every=bench.anchor_every if bench.automatic else 0,
        first_look=bench.automatic and kind is PassKind.AS_FOUND,
    )


def _white_plan(logbook: Logbook, visit: VisitRecord) -> WhitePlan:
    record = logbook.latest_done(visit.id, PassKind.AS_FOUND)
    found = grey_result(logbook, record) if record else None
    if found is None:
        raise NotReady("White needs the pass of the station As found first.")
    controls = {control.role: control for control in logbook.controls(visit.screen_id)}
    values = logbook.settings(visit.id)
    missing = [ROLE_WORDS[role] for role in TWO_POINT if role not in controls or role not in values]
    if missing:
        raise NotReady(f"White needs the settings of {', '.join(missing)} as they stand: note them at Arrive.")
    states = tuple(controls[role].state(values[role]) for role in TWO_POINT)
    looks = 3 if visit.bench.automatic else 1
    return WhitePlan(target_named(visit.target), visit.bench.format, states, found.white, found.black, looks=looks)


def go_on(record: PassRecord) -> PreparedPass:
    """An interrupted pass, ready to run from its record."""
    plan_in = white_plan_in if record.kind is PassKind.WHITE else grey_plan_in
    return PreparedPass(record.id, record.kind, plan_in(record.plan))


def carry_out(
    logbook: Logbook,
    prepared: PreparedPass,
    bench: Bench,
    operator: Operator,
    listener: Listener | None = None,
    on_runner: Callable[[Runner], None] | None = None,
    care: Care = CARE,
) -> GreyPass | WhiteResult:
    """Run a pass to its end and mark it done.

    What stops it (Abandoned, InstrumentError) leaves it resumable; WrongSignal sets it aside, as its
    readings are of another signal than the plan's.
    """
    runner = Runner(bench, logbook.journal(prepared.pass_id, bench.clock), operator, listener, care)
    if on_runner is not None:
        on_runner(runner)
    try:
        value: GreyPass | WhiteResult = runner.run(prepared.procedure())
    except WrongSignal as error:
        logbook.end_pass(prepared.pass_id, PassState.SET_ASIDE, str(error))
        raise
    logbook.end_pass(prepared.pass_id, PassState.DONE, value.words if isinstance(value, WhiteResult) else "")
    return value


def grey_result(logbook: Logbook, record: PassRecord) -> GreyPass | None:
    """What a grey pass found, worked out again from its readings; None while it is unfinished."""
    value, _ = replay(grey_pass(grey_plan_in(record.plan)), logbook.recorded(record.id))
    return value


def white_result(logbook: Logbook, record: PassRecord) -> tuple[WhiteResult | None, WhiteState | None]:
    """How a white pass ended, and its last state, worked out again from its record."""
    value, progress = replay(white_balance(white_plan_in(record.plan)), logbook.recorded(record.id))
    if value is not None:
        return value, value.state
    return None, progress if isinstance(progress, WhiteState) else None
