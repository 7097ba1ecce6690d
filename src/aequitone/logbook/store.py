"""What can be asked of a logbook and written into it."""

import statistics
from collections.abc import Iterable, Sequence
from dataclasses import asdict
from functools import partial
from pathlib import Path
from typing import Any, TypeVar

from sqlalchemy import Engine, select
from sqlalchemy.orm import Session

from aequitone.advice.scopes import Scope
from aequitone.advice.technology import Technology, technology_of
from aequitone.colorimetry import Formula
from aequitone.instruments.ports import Clock
from aequitone.logbook import journal, model
from aequitone.logbook.carrying import Carrying
from aequitone.logbook.jobs import Jobs, add_job, current_job, found_or_made, stop_of
from aequitone.logbook.letterheads import Letterheads
from aequitone.logbook.naming import checked_name
from aequitone.logbook.records import (
    BenchChoice,
    ControlRecord,
    PassRecord,
    PassState,
    Plate,
    VisitLine,
    VisitRecord,
)
from aequitone.logbook.register import Register
from aequitone.logbook.rows import bench_row, control_record, pass_record, visit_record
from aequitone.logbook.search import find_visits
from aequitone.logbook.settings.copies import Copies
from aequitone.logbook.settings.ledger import Ledger
from aequitone.logbook.shelf import Shelf
from aequitone.logbook.storage.unreadable import Unreadable
from aequitone.procedures.journal import MemoryJournal, Recorded
from aequitone.procedures.steps import Reading

Row = TypeVar("Row", bound=model.Base)


class Logbook:
    """One file. Every method opens its own short session, so any thread may call."""

    def __init__(self, engine: Engine, path: Path, *, read_only: bool = False) -> None:
        self._engine = engine
        self.path, self.read_only = path, read_only
        self.unreadable = Unreadable()
        self.understood: dict[tuple[str, int], Any] = {}
        """What was made of passes that are done, and their numbers: their records do not change any more."""
        self.shelf = Shelf(engine)
        self.ledger = Ledger(engine, self.unreadable)
        self.register = Register(engine)
        self.jobs = Jobs(engine, self.unreadable)
        self.letterheads = Letterheads(engine)
        self.carrying = Carrying(engine)
        self.copies = Copies(engine)

    def close(self) -> None:
        self._engine.dispose()

    # Who and what

    def known_menu(self, client: str, room: str, screen: str) -> tuple[ControlRecord, ...]:
        """The controls of a screen that was visited before; empty where it was not."""
        query = (
            select(model.Screen.id)
            .join(model.StoredRoom, model.Screen.room_id == model.StoredRoom.id)
            .join(model.Client, model.StoredRoom.client_id == model.Client.id)
            .where(model.Client.name == client, model.StoredRoom.name == room, model.Screen.name == screen)
        )
        with Session(self._engine) as session:
            screen_id = session.scalar(query)
        return self.controls(screen_id) if screen_id is not None else ()

    def begin_visit(
        self,
        *,
        client: str,
        room: str,
        screen: str,
        input_: str,
        memory: str,
        technology: Technology,
        target: str,
        levels: int,
        bench: BenchChoice,
        controls: Iterable[ControlRecord],
        device: str = "",
    ) -> VisitRecord:
        """Begin a visit; client, room, screen, input, memory and controls are made where they are new."""
        with Session(self._engine) as session, session.begin():
            client_row = found_or_made(session, model.Client, name=client)
            client_row.archived = 0
            room_row = found_or_made(session, model.StoredRoom, client_id=client_row.id, name=room)
            screen_row = found_or_made(session, model.Screen, room_id=room_row.id, name=screen)
            screen_row.technology = technology.value
            input_row = found_or_made(session, model.Input, screen_id=screen_row.id, name=input_)
            input_row.device = device or input_row.device
            memory_row = found_or_made(session, model.Memory, input_id=input_row.id, name=memory)
            _keep_controls(session, screen_row.id, controls)
            visit = model.Visit(bench=bench_row(bench))
            session.add(visit)
            session.flush()
            visit_id = visit.id
            signal = {"depth": bench.depth, "range": bench.range}
            add_job(session, visit, memory_row.id, target=target, levels=levels, **stop_of(target), **signal)
        return self.visit(visit_id)

    def change_visit(
        self,
        visit_id: int,
        *,
        target: str,
        levels: int,
        bench: BenchChoice,
        controls: Iterable[ControlRecord],
        technology: Technology = Technology.UNKNOWN,
    ) -> VisitRecord:
        """Choose another target, number of levels or instruments, or mend what is noted of the screen."""
        screen_id = self.visit(visit_id).screen_id
        with Session(self._engine) as session, session.begin():
            job = _keep_bench(session, visit_id, bench)
            _keep_target(job, target)
            job.levels = levels
            if technology:
                session.get_one(model.Screen, screen_id).technology = technology.value
            _keep_controls(session, screen_id, controls)
        return self.visit(visit_id)

    def choose_bench(self, visit_id: int, bench: BenchChoice) -> VisitRecord:
        """Choose other instruments for a visit, or use them otherwise."""
        with Session(self._engine) as session, session.begin():
            _keep_bench(session, visit_id, bench)
        return self.visit(visit_id)

    def choose_light(self, visit_id: int, light: float) -> VisitRecord:
        """Choose the luminance of white that is wanted in the end; ValueError where it cannot be."""
        if not 0.0 <= light <= 10_000.0:
            raise ValueError(f"white of {light:g} cd/m² cannot be wanted")
        with Session(self._engine) as session, session.begin():
            current_job(session, visit_id).light = light
        return self.visit(visit_id)

    def choose_target(self, visit_id: int, target: str) -> None:
        """Choose what the present job is brought to; ValueError where there is no such target."""
        with Session(self._engine) as session, session.begin():
            _keep_target(current_job(session, visit_id), target)

    def choose_white(
        self, visit_id: int, stop_at: float, formula: Formula, pair: tuple[float, float]
    ) -> VisitRecord:
        """Choose the ΔE that white balance stops at, and its two levels; ValueError where it cannot be."""
        if not 0.0 < stop_at <= 10.0:
            raise ValueError(f"white balance cannot stop at ΔE {stop_at:g}")
        with Session(self._engine) as session, session.begin():
            job = current_job(session, visit_id)
            job.stop_at, job.formula = stop_at, formula.value
            job.bright, job.dark = pair
        return self.visit(visit_id)

    def work_in(self, visit_id: int, memory: str) -> VisitRecord:
        """Go on with the job in another memory of the same input: what was noted of the one before stays."""
        with Session(self._engine) as session, session.begin():
            job = current_job(session, visit_id)
            before = session.get_one(model.Memory, job.memory_id)
            job.memory_id = found_or_made(session, model.Memory, input_id=before.input_id, name=memory).id
        return self.visit(visit_id)

    def note_plate(self, visit_id: int, plate: Plate) -> VisitRecord:
        """Note what stands on the screen's plate."""
        screen_id = self.visit(visit_id).screen_id
        with Session(self._engine) as session, session.begin():
            row = session.get_one(model.Screen, screen_id)
            for name, words in asdict(plate).items():
                setattr(row, name, words)
        return self.visit(visit_id)

    def close_visit(self, visit_id: int) -> None:
        """Close a visit. Raises OpenDebtsError while something that was switched off has no answer."""
        self.ledger.require_answers(visit_id)
        with Session(self._engine) as session, session.begin():
            session.get_one(model.Visit, visit_id).closed = model.now()

    def visit(self, visit_id: int, job_id: int | None = None) -> VisitRecord:
        """A visit by its number, as seen from a job; LookupError where there is none, or it cannot be read."""
        found = self._visit(visit_id, job_id)
        if found is None:
            raise LookupError(f"there is no visit {visit_id} in {self.path} that can be read")
        return found

    def open_visit(self) -> VisitRecord | None:
        """The newest visit that is not closed."""
        return self._newest(model.Visit.closed.is_(None))

    def latest_visit(self) -> VisitRecord | None:
        """The newest visit, closed or not."""
        return self._newest()

    def _newest(self, *where: Any) -> VisitRecord | None:
        with Session(self._engine) as session:
            ids = session.scalars(select(model.Visit.id).where(*where).order_by(model.Visit.id.desc())).all()
        return next((found for found in map(self._visit, ids) if found is not None), None)

    def _visit(self, visit_id: int, job_id: int | None = None) -> VisitRecord | None:
        query = (
            select(model.Visit, model.Job, model.Memory, model.Input, model.Screen, model.StoredRoom, model.Client)
            .join(model.Job, model.Visit.id == model.Job.visit_id)
            .join(model.Memory, model.Job.memory_id == model.Memory.id)
            .join(model.Input, model.Memory.input_id == model.Input.id)
            .join(model.Screen, model.Input.screen_id == model.Screen.id)
            .join(model.StoredRoom, model.Screen.room_id == model.StoredRoom.id)
            .join(model.Client, model.StoredRoom.client_id == model.Client.id)
            .where(model.Visit.id == visit_id, model.Job.id == (job_id or model.Visit.job_id))
        )

        def read() -> VisitRecord | None:
            with Session(self._engine) as session:
                row = session.execute(query).tuples().one_or_none()
                return visit_record(*row) if row is not None else None

        return self.unreadable.read(f"visit {visit_id}", read)

    def find_visits(self, words: str = "", most: int = 200, *, away: bool = False) -> list[VisitLine]:
        """Visits whose client, room, screen, input or memory hold every one of the words, newest first.

        `away`: those of clients who were put away, instead of the others.
        """
        return find_visits(self._engine, self.unreadable, words, most, away=away)

    # Controls

    def controls(self, screen_id: int) -> tuple[ControlRecord, ...]:
        """The menu of a screen, in the order it was noted."""
        with Session(self._engine) as session:
            screen = session.get(model.Screen, screen_id)
            technology = technology_of(screen.technology if screen else "")
            query = select(model.Control).where(model.Control.screen_id == screen_id).order_by(model.Control.id)
            made = (
                self.unreadable.read(f"control {row.id}", partial(control_record, row, technology))
                for row in session.scalars(query)
            )
            return tuple(control for control in made if control is not None)

    def note_scope(self, control_id: int, scope: Scope) -> None:
        """Note what a control acts on."""
        with Session(self._engine) as session, session.begin():
            row = session.get_one(model.Control, control_id)
            row.reach, row.signals, row.copied = scope.reach.value, scope.signals.value, scope.copied.value

    # Passes

    def begin_pass(
        self, visit_id: int, kind: str, plan: dict[str, Any], bench: dict[str, Any] | None = None
    ) -> int:
        """Begin a pass of a kind, by its key; `bench` is what it is measured with, for the record."""
        with Session(self._engine) as session, session.begin():
            row = model.Pass(
                visit_id=visit_id,
                job_id=current_job(session, visit_id).id,
                kind=kind,
                state=PassState.RUNNING.value,
                plan=plan,
                bench=bench or {},
            )
            session.add(row)
            session.flush()
            return row.id

    def enter_pass(
        self,
        visit_id: int,
        kind: str,
        plan: dict[str, Any],
        bench: dict[str, Any],
        kept: MemoryJournal,
        outcome: str,
        result: dict[str, Any],
    ) -> int:
        """Enter a pass that is done, with its readings and notes, in one transaction."""
        with Session(self._engine) as session, session.begin():
            row = model.Pass(
                visit_id=visit_id,
                job_id=current_job(session, visit_id).id,
                kind=kind,
                state=PassState.DONE.value,
                plan=plan,
                bench=bench,
                outcome=outcome,
                ended=model.now(),
                result=result,
            )
            session.add(row)
            session.flush()
            session.add_all(journal.rows_of(row.id, kept))
            return row.id

    def end_pass(
        self, pass_id: int, state: PassState, outcome: str = "", result: dict[str, Any] | None = None
    ) -> None:
        """End a pass with what was said of it, and what it came to."""
        with Session(self._engine) as session, session.begin():
            row = session.get_one(model.Pass, pass_id)
            row.state, row.outcome, row.ended = state.value, outcome, model.now()
            row.result = result

    def visit_of_pass(self, pass_id: int) -> int:
        """The number of the visit that a pass belongs to."""
        with Session(self._engine) as session:
            return session.get_one(model.Pass, pass_id).visit_id

    def passes(self, visit_id: int, job_id: int | None = None) -> list[PassRecord]:
        """The passes of a visit, or of one of its jobs, oldest first."""
        query = select(model.Pass.id).where(model.Pass.visit_id == visit_id).order_by(model.Pass.id)
        if job_id is not None:
            query = query.where(model.Pass.job_id == job_id)
        with Session(self._engine) as session:
            ids = session.scalars(query).all()
        made = (self.unreadable.read(f"pass {pass_id}", partial(self._pass, pass_id)) for pass_id in ids)
        return [record for record in made if record is not None]

    def _pass(self, pass_id: int) -> PassRecord:
        # Each by itself: one that is damaged does not take the others with it.
        with Session(self._engine) as session:
            return pass_record(session, session.get_one(model.Pass, pass_id))

    def interrupted_pass(self, visit_id: int) -> PassRecord | None:
        """The pass of the present job that was under way when the program ended, if any."""
        running = [p for p in self._of_job(visit_id) if p.state is PassState.RUNNING]
        return running[-1] if running else None

    def latest_done(self, visit_id: int, kind: str) -> PassRecord | None:
        """The newest pass of a kind, by its key, that is done for the present job."""
        done = [p for p in self._of_job(visit_id) if p.kind == kind and p.state is PassState.DONE]
        return done[-1] if done else None

    def _of_job(self, visit_id: int) -> list[PassRecord]:
        return self.passes(visit_id, self.visit(visit_id).job_id)

    def journal(self, pass_id: int, clock: Clock, reason: str) -> journal.PassJournal:
        """The journal of a pass; `reason`: why its controls are turned, in the ledger."""
        return journal.PassJournal(self._engine, pass_id, clock, reason)

    def recorded(self, pass_id: int) -> dict[int, Recorded]:
        """Everything a pass was given, by step number."""
        return journal.recorded(self._engine, pass_id, self.unreadable)

    def notes(self, pass_id: int) -> list[str]:
        return journal.notes(self._engine, pass_id)

    def readings(self, pass_id: int) -> Sequence[Reading]:
        """The readings of a pass in the order they were taken."""
        results = sorted(self.recorded(pass_id).items())
        return [result for _, result in results if isinstance(result, Reading)]

    def trip_seconds(self, visit_id: int, kinds: Sequence[str]) -> float:
        """Median of what a trip to the menu took in a visit's passes of some kinds; 0 where none was made."""
        with Session(self._engine) as session:
            passes = select(model.Pass.id).where(model.Pass.visit_id == visit_id, model.Pass.kind.in_(kinds))
            taken = [s for pass_id in session.scalars(passes).all() for s in journal.turning(session, pass_id)]
        return statistics.median(taken) if taken else 0.0


def _keep_target(job: model.Job, target: str) -> None:
    for name, value in stop_of(target, job).items():
        setattr(job, name, value)
    job.target = target


def _keep_bench(session: Session, visit_id: int, bench: BenchChoice) -> model.Job:
    """Keep the instruments with the visit and the signal with its present job; returns that job."""
    session.get_one(model.Visit, visit_id).bench = bench_row(bench)
    job = current_job(session, visit_id)
    job.depth, job.range = bench.depth, bench.range
    return job


def _keep_controls(session: Session, screen_id: int, controls: Iterable[ControlRecord]) -> None:
    """Keep the controls of a screen; those that are new are made."""
    kept = {row.role: row for row in session.scalars(select(model.Control).filter_by(screen_id=screen_id))}
    for control in controls:
        row = kept.get(control.role.key)
        if row is None:
            row = kept[control.role.key] = model.Control(screen_id=screen_id, role=control.role.key)
            session.add(row)
        row.name = checked_name(control.name, "the name of a control")
        row.lowest, row.highest, row.step = control.lowest, control.highest, control.step
        row.factory, row.choices = control.factory, list(control.choices)
