"""A visit from the command line: its passes one after another, gone on with by the same command."""

import json
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from aequitone.advice.roles import role_of
from aequitone.handover.report import make_report
from aequitone.handover.summary import summary
from aequitone.instruments.opening import Opened, opened_meter, opened_screen, opened_source
from aequitone.instruments.ports import Bench, Clock
from aequitone.logbook import Logbook, VisitRecord, open_logbook
from aequitone.logbook.records import BenchChoice, Connection
from aequitone.logbook.settings.menus import control_of, is_noted
from aequitone.logbook.shelf import InstrumentKind
from aequitone.logbook.standin_visit import note_as_found
from aequitone.logbook.storage.lease import VisitLease
from aequitone.passes import AS_FOUND, NotReadyError, PassType, carry_out, go_on_or_begin, load_snapshot
from aequitone.planning.pace import minutes_words
from aequitone.procedures.runner import Event, NobodyThere, Operator, StepDone
from aequitone.procedures.steps import Note, Progress, Turn
from aequitone.standins.clock import PacedClock
from aequitone.terminal.plan_file import KINDS, PlanFileError, VisitPlan
from aequitone.whole_file import write_whole

Say = Callable[[str], None]


@dataclass(frozen=True)
class Addresses:
    """Where the instruments of a visit are; `screen` "" where a person turns the controls."""

    meter: str
    source: str
    screen: str = ""


def make_visit(
    plan: VisitPlan, addresses: Addresses, out: Path, operator: Operator, say: Say, clock: Clock | None = None
) -> Path:
    """Make the visit and write `out`/summary.json; returns its path. `clock`: that of the wall where none is said.

    A visit that was interrupted is gone on with from its last reading when it is made again with the same plan and
    folder. Raises PlanFileError, InstrumentError, LogbookError, AbandonedError.
    """
    out.mkdir(parents=True, exist_ok=True)
    opened: list[Opened[Any]] = []
    try:
        meter, source = opened_meter(addresses.meter), opened_source(addresses.source)
        opened += [meter, source]
        screen = opened_screen(addresses.screen) if addresses.screen else None
        if screen is not None:
            opened.append(screen)
        logbook = open_logbook(out / "logbook.sqlite")
        visit = _unfinished(logbook, plan)
        if visit is None:
            visit = _begun(logbook, plan, addresses, opened)
        else:
            say("Going on from where the visit was interrupted.")
        link = screen.device if screen is not None else None
        bench = Bench(meter.device, source.device, link, clock or PacedClock(1.0))
        with VisitLease(logbook.path, visit.id):
            for key in (key for key in KINDS if key in plan.passes):
                _pass(logbook, visit, KINDS[key], bench, operator if link is None else NobodyThere(), say)
            logbook.close_visit(visit.id)
        result = summary(logbook, visit, 0)
        if load_snapshot(logbook, visit.id, advice=False).done(AS_FOUND):
            say(f"Report: {make_report(logbook, visit.id, out).pdf}")
        logbook.close()
    finally:
        for each in opened:
            each.hang_up()
    return _written(out / "summary.json", result)


def _written(path: Path, result: dict[str, Any]) -> Path:
    write_whole(path, json.dumps(result, indent=1, allow_nan=False) + "\n")
    return path


def _unfinished(logbook: Logbook, plan: VisitPlan) -> VisitRecord | None:
    """The open visit of the folder. Raises PlanFileError where it is of another plan."""
    visit = logbook.open_visit()
    if visit is None:
        return None
    here = (visit.client, visit.room, visit.screen, visit.input, visit.target)
    if here != (plan.client, plan.room, plan.screen, plan.input, plan.target):
        raise PlanFileError(
            f"The folder holds an unfinished visit to {visit.client}, {visit.screen}, {visit.target}: take "
            "another folder, or the plan that it was begun with"
        )
    return visit


def _begun(logbook: Logbook, plan: VisitPlan, addresses: Addresses, opened: list[Opened[Any]]) -> VisitRecord:
    """Enter a new visit, its instruments and controls, and how those stand."""
    kinds = (InstrumentKind.METER, InstrumentKind.SOURCE, InstrumentKind.LINK)
    places = (addresses.meter, addresses.source, addresses.screen)
    ids = [0, 0, 0]
    for at, each in enumerate(opened):
        ids[at] = logbook.shelf.remember(kinds[at], places[at], each.name, each.serial).id
    by_link = bool(addresses.screen)
    bench = BenchChoice(
        Connection.INSTRUMENT,
        Connection.INSTRUMENT,
        Connection.INSTRUMENT if by_link else Connection.BY_HAND,
        depth=plan.depth_bit,
        range=plan.range.value,
        window=plan.window_share,
        meter_id=ids[0],
        source_id=ids[1],
        link_id=ids[2],
        precision=plan.precision,
    ).suited_to(plan.technology)
    told = opened[2].device if by_link else None
    controls = [control_of(each) for each in told.menu() if is_noted(each)] if told is not None else []
    known = {control.role for control in controls}
    controls += [each.record for each in plan.control if role_of(each.role) not in known]
    visit = logbook.begin_visit(
        client=plan.client,
        room=plan.room,
        screen=plan.screen,
        input_=plan.input,
        memory=plan.memory,
        technology=plan.technology,
        target=plan.target,
        levels=plan.levels,
        bench=bench,
        controls=controls,
    )
    logbook.choose_light(visit.id, plan.light_cd_m2)
    found = {role.key: value for role, value in plan.found.items()}
    note_as_found(logbook, visit, found | (told.values() if told is not None else {}))
    return logbook.visit(visit.id)


def _pass(
    logbook: Logbook, visit: VisitRecord, kind: PassType[Any, Any], bench: Bench, operator: Operator, say: Say
) -> None:
    if logbook.latest_done(visit.id, kind.key):
        return
    try:
        prepared = go_on_or_begin(logbook, visit.id, kind)
    except NotReadyError as error:
        say(f"{kind.title} is left out: {error}")
        return
    snapshot = load_snapshot(logbook, visit.id, advice=False)
    say(f"{prepared.kind.title}: about {minutes_words(kind.seconds(snapshot, snapshot.pace))}.")
    began = time.monotonic()

    def tell(event: Event) -> None:
        if not isinstance(event, StepDone) or event.replayed:
            return
        match event.step:
            case Progress(done, total, _) if done and total:
                left = (time.monotonic() - began) / done * max(0, total - done)
                say(f"  {done} of {total}, about {minutes_words(left)} left")
            case Turn(move) if bench.link is not None:
                say(f"  {move.summary}. {move.expected.words if move.expected else ''}".rstrip())
            case Note(text):
                say(f"  {text}")

    value = carry_out(logbook, prepared, bench, operator, tell, care=visit.bench.care)
    words = prepared.kind.words(value)
    if words:
        say(f"  {words}")
    if prepared.kind is not kind:
        # What was interrupted was another pass than the next of the plan.
        _pass(logbook, visit, kind, bench, operator, say)
