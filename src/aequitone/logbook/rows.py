"""Rows of the logbook as plain values: what is stored as a word becomes the value of that word."""

from dataclasses import fields, replace
from typing import Any

from cattrs import structure
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from aequitone.advice.answers.encoding import container_of, transfer_of
from aequitone.advice.roles import Role, role_of
from aequitone.advice.scopes import Copied, Reach, Scope, Signals, usual_scope
from aequitone.advice.technology import Technology, technology_of
from aequitone.colorimetry import Formula
from aequitone.logbook import model
from aequitone.logbook.records import (
    BenchChoice,
    ControlRecord,
    JobRecord,
    PassRecord,
    PassState,
    Plate,
    VisitRecord,
)
from aequitone.reference import target_named

# What is chosen anew for each job, and is worth knowing of the others.
_PRESETS = (Role.GAMMA, Role.TEMPERATURE)


def visit_record(
    visit: model.Visit,
    job: model.Job,
    memory: model.Memory,
    input_: model.Input,
    screen: model.Screen,
    room: model.StoredRoom,
    client: model.Client,
) -> VisitRecord:
    """A visit, with the names of where it is and what its present job wants."""
    if not isinstance(visit.bench, dict):
        raise TypeError(f"instruments are noted as {visit.bench!r}")
    return VisitRecord(
        visit.id,
        client.name,
        room.name,
        screen.name,
        input_.name,
        memory.name,
        screen.id,
        memory.id,
        job.target,
        job.levels,
        _bench_of_job(visit, job),
        visit.started,
        visit.closed,
        technology_of(screen.technology),
        job.light,
        Plate(**{each.name: getattr(screen, each.name) for each in fields(Plate)}),
        input_.device,
        job.stop_at,
        Formula(job.formula),
        (job.bright, job.dark),
        job.id,
        visit.notes,
    )


def _bench_of_job(visit: model.Visit, job: model.Job) -> BenchChoice:
    """The instruments of a visit, sending the signal of a job."""
    target = target_named(job.target)
    return replace(
        structure(visit.bench, BenchChoice),
        depth=job.depth,
        range=job.range,
        transfer=transfer_of(target),
        container=container_of(target),
    )


def job_record(session: Session, job: model.Job) -> JobRecord:
    """A job, with what was done for it."""
    memory = session.get_one(model.Memory, job.memory_id)
    P, R, M = model.Pass, model.StoredReading, model.StoredMove
    finished = select(P.kind, func.max(P.id)).where(P.job_id == job.id, P.state == PassState.DONE.value)
    newest = dict(session.execute(finished.group_by(P.kind)).tuples().all())
    noted = (
        select(model.Control.role, model.Setting.value)
        .join(model.Control, model.Setting.control_id == model.Control.id)
        .where(
            model.Setting.visit_id == job.visit_id,
            model.Setting.memory_id == job.memory_id,
            model.Control.role.in_([role.key for role in _PRESETS]),
        )
        .order_by(model.Setting.id)
    )
    presets = dict(session.execute(noted).tuples().all())
    # A pass took until its last reading or trip.
    read, turned = (
        dict(
            session.execute(
                select(P.id, func.max(table.elapsed))
                .join(table, table.pass_id == P.id)
                .where(P.job_id == job.id)
                .group_by(P.id)
            )
            .tuples()
            .all()
        )
        for table in (R, M)
    )
    return JobRecord(
        job.id,
        session.get_one(model.Input, memory.input_id).name,
        memory.name,
        memory.id,
        job.target,
        job.levels,
        job.light,
        job.stop_at,
        Formula(job.formula),
        (job.bright, job.dark),
        bool(job.left_out),
        frozenset(newest),
        sum(max(read.get(n, 0.0), turned.get(n, 0.0)) for n in read.keys() | turned.keys()),
        job.depth,
        job.range,
        tuple((role_of(key), value) for key, value in presets.items()),
        tuple(newest.items()),
        max(turned, default=0),
    )


def control_record(row: model.Control, technology: Technology) -> ControlRecord:
    """A control; `technology` of its screen says what it usually acts on, until a person has."""
    role = role_of(row.role)
    scope = (
        Scope(Reach(row.reach), Signals(row.signals), Copied(row.copied))
        if row.reach
        else usual_scope(role, technology)
    )
    return ControlRecord(
        row.id, role, row.name, row.lowest, row.highest, row.step, row.factory, tuple(row.choices), scope
    )


def pass_record(session: Session, row: model.Pass) -> PassRecord:
    """A pass, with how many readings it has and how long it took."""
    R, M = model.StoredReading, model.StoredMove
    query = select(func.count(R.id), func.max(R.elapsed), func.max(R.at)).where(R.pass_id == row.id)
    count, elapsed, last = session.execute(query).one()
    moved = session.scalar(select(func.max(M.elapsed)).where(M.pass_id == row.id))
    return PassRecord(
        row.id,
        row.visit_id,
        row.job_id,
        row.kind,
        PassState(row.state),
        row.plan,
        row.outcome,
        row.started,
        count,
        max(elapsed or 0.0, moved or 0.0),
        last,
        row.bench,
        row.result,
    )


def bench_row(bench: BenchChoice) -> dict[str, Any]:
    """A choice of instruments as it is stored."""
    return {each.name: getattr(bench, each.name) for each in fields(bench)}
