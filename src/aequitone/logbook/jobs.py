"""The jobs of a visit: several memories of one screen, each brought to a target of its own."""

from functools import partial
from typing import Any, TypeVar

from sqlalchemy import Engine, select
from sqlalchemy.orm import Session

from aequitone.advice.answers.encoding import usual_formula
from aequitone.colorimetry import Formula
from aequitone.errors import AequitoneError
from aequitone.logbook import model
from aequitone.logbook.naming import checked_name
from aequitone.logbook.records import JobRecord
from aequitone.logbook.rows import job_record
from aequitone.logbook.storage.unreadable import Unreadable
from aequitone.reference import target_named

Row = TypeVar("Row", bound=model.Base)
# ΔE at which white balance stops where nothing else was chosen: a unit of ΔE ITP is about as much as can be seen.
_STOP_AT = {Formula.DE2000: 0.5, Formula.ITP: 1.0}


class JobTakenError(AequitoneError):
    """A memory that has a job on this visit already; the message names it."""


class Jobs:
    """Of one logbook. Every method opens its own short session."""

    def __init__(self, engine: Engine, unreadable: Unreadable) -> None:
        self._engine, self._unreadable = engine, unreadable

    def of(self, visit_id: int) -> tuple[JobRecord, ...]:
        """The jobs of a visit, in the order in which they are done."""
        query = select(model.Job).where(model.Job.visit_id == visit_id).order_by(model.Job.id)
        with Session(self._engine) as session:
            made = [
                self._unreadable.read(f"job {row.id}", partial(job_record, session, row))
                for row in session.scalars(query).all()
            ]
        return tuple(job for job in made if job is not None)

    def add(
        self,
        visit_id: int,
        *,
        input_: str,
        memory: str,
        target: str,
        light: float | None = None,
        depth: int | None = None,
        range_: str | None = None,
    ) -> int:
        """Add a job modelled on the present one, and work on it; returns its number.

        Levels and pair are those of the present job, and so are light, depth and range where they are None; stop
        figure and formula too where both send SDR, or both HDR.
        Raises JobTakenError where that memory has a job on this visit.
        """
        with Session(self._engine) as session, session.begin():
            visit = session.get_one(model.Visit, visit_id)
            like = current_job(session, visit_id)
            screen = session.get_one(model.Input, session.get_one(model.Memory, like.memory_id).input_id).screen_id
            place = found_or_made(session, model.Input, screen_id=screen, name=input_)
            there = found_or_made(session, model.Memory, input_id=place.id, name=memory)
            if session.scalars(select(model.Job).filter_by(visit_id=visit_id, memory_id=there.id)).first():
                raise JobTakenError(f"{input_}, {memory} has a job on this visit already.")
            return add_job(
                session,
                visit,
                there.id,
                target=target,
                levels=like.levels,
                light=like.light if light is None else light,
                **stop_of(target, like),
                bright=like.bright,
                dark=like.dark,
                depth=like.depth if depth is None else depth,
                range=like.range if range_ is None else range_,
            )

    def choose(self, visit_id: int, job_id: int) -> None:
        """Work on another job. Raises LookupError where the visit has no such job."""
        with Session(self._engine) as session, session.begin():
            job = session.get(model.Job, job_id)
            if job is None or job.visit_id != visit_id:
                raise LookupError(f"visit {visit_id} has no job {job_id}")
            session.get_one(model.Visit, visit_id).job_id = job_id

    def leave_out(self, job_id: int, *, left_out: bool) -> None:
        """Note that a job is not done on this visit after all, or is."""
        with Session(self._engine) as session, session.begin():
            session.get_one(model.Job, job_id).left_out = int(left_out)


def current_job(session: Session, visit_id: int) -> model.Job:
    """The job of a visit that is worked on."""
    return session.get_one(model.Job, session.get_one(model.Visit, visit_id).job_id)


def stop_of(target: str, like: model.Job | None = None) -> dict[str, Any]:
    """The ΔE to stop at and its formula for a target: those of a job like it, or what suits its signal."""
    wanted = target_named(target)
    if like is not None and usual_formula(target_named(like.target)) is usual_formula(wanted):
        return {"stop_at": like.stop_at, "formula": like.formula}
    formula = usual_formula(wanted)
    return {"stop_at": _STOP_AT[formula], "formula": formula.value}


def add_job(session: Session, visit: model.Visit, memory_id: int, **wanted: Any) -> int:
    """Add a job to a visit, and make it the one that is worked on; returns its number."""
    job = model.Job(visit_id=visit.id, memory_id=memory_id, **wanted)
    session.add(job)
    session.flush()
    visit.job_id = job.id
    return job.id


def found_or_made(session: Session, table: type[Row], **fields: Any) -> Row:
    """The row with these fields, made where there is none; its name is brought into the form that is kept."""
    if "name" in fields:
        fields["name"] = checked_name(fields["name"])
    row = session.scalars(select(table).filter_by(**fields)).one_or_none()
    if row is None:
        row = table(**fields)
        session.add(row)
        session.flush()
    return row
