"""Memories of other inputs that are to be as a finished one, and what of each has been entered."""

from dataclasses import dataclass

from sqlalchemy import Engine, Select, delete, select
from sqlalchemy.orm import Session

from aequitone.logbook import model
from aequitone.logbook.jobs import JobTakenError, current_job, found_or_made
from aequitone.logbook.settings.ledger import CheckState

# Lines of the checklist's table: that there is such a copy, that "apply to all" was used, and each control.
_COPY, _APPLIED, _CONTROL = "copy", "copy-applied", "copy:"


@dataclass(frozen=True)
class CopyRecord:
    """A memory on an input, with the device on it."""

    memory_id: int
    input: str
    memory: str
    device: str
    job: int
    """Which of the visit's jobs it is a copy of, from 1 in their order."""
    applied: bool
    """Whether the screen's own "apply to all" was used."""
    ticked: frozenset[str]
    """Keys of the roles that were entered or looked at."""

    @property
    def place(self) -> str:
        """Input and device, in words."""
        return f"{self.input}, {self.device}" if self.device else self.input

    @property
    def name(self) -> str:
        """Memory and input, in words."""
        return f"{self.memory}, {self.input}"


class Copies:
    """Of one logbook. Every method opens its own short session."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine

    def of(self, visit_id: int) -> tuple[CopyRecord, ...]:
        """The copies of a visit, in the order they were added."""
        with Session(self._engine) as session:
            checks = session.scalars(
                select(model.Check).filter_by(visit_id=visit_id).order_by(model.Check.id)
            ).all()
            return tuple(
                _record(session, row, {each.key for each in checks if each.memory_id == row.memory_id})
                for row in checks
                if row.key == _COPY
            )

    def add(self, visit_id: int, *, input_: str, memory: str, device: str = "") -> int:
        """Add a memory of an input, with what hangs on it; returns the memory's number.

        Raises JobTakenError where that memory has a job of its own on this visit, or is on the list.
        """
        with Session(self._engine) as session, session.begin():
            own = session.get_one(model.Memory, current_job(session, visit_id).memory_id)
            screen = session.get_one(model.Input, own.input_id).screen_id
            place = found_or_made(session, model.Input, screen_id=screen, name=input_)
            place.device = device or place.device
            there = found_or_made(session, model.Memory, input_id=place.id, name=memory)
            if session.scalars(select(model.Job).filter_by(visit_id=visit_id, memory_id=there.id)).first():
                raise JobTakenError(f"{input_}, {memory} has a job of its own on this visit.")
            if session.scalars(_checks(visit_id, there.id, _COPY)).first():
                raise JobTakenError(f"{input_}, {memory} is on the list already.")
            # Its place among the jobs, which stays the same in another logbook.
            jobs = session.scalars(select(model.Job.id).filter_by(visit_id=visit_id).order_by(model.Job.id)).all()
            _note(session, visit_id, there.id, _COPY, str(jobs.index(current_job(session, visit_id).id) + 1))
            return there.id

    def remove(self, visit_id: int, memory_id: int) -> None:
        """Take a memory off the list, with what was entered of it."""
        keys = model.Check.key.in_((_COPY, _APPLIED)) | model.Check.key.startswith(_CONTROL)
        with Session(self._engine) as session, session.begin():
            session.execute(
                delete(model.Check).where(
                    model.Check.visit_id == visit_id, model.Check.memory_id == memory_id, keys
                )
            )

    def tick(self, visit_id: int, memory_id: int, role: str, *, done: bool) -> None:
        """Note that a control was entered or looked at there, or that it was not."""
        self._set(visit_id, memory_id, f"{_CONTROL}{role}", done=done)

    def apply(self, visit_id: int, memory_id: int, *, applied: bool) -> None:
        """Note that the screen's own "apply to all" was used, or that it was not."""
        self._set(visit_id, memory_id, _APPLIED, done=applied)

    def _set(self, visit_id: int, memory_id: int, key: str, *, done: bool) -> None:
        with Session(self._engine) as session, session.begin():
            for row in session.scalars(_checks(visit_id, memory_id, key)):
                session.delete(row)
            if done:
                _note(session, visit_id, memory_id, key)


def _record(session: Session, copy: model.Check, keys: set[str]) -> CopyRecord:
    memory = session.get_one(model.Memory, copy.memory_id)
    place = session.get_one(model.Input, memory.input_id)
    ticked = frozenset(key.removeprefix(_CONTROL) for key in keys if key.startswith(_CONTROL))
    job = int(copy.detail) if copy.detail.isdecimal() else 1
    return CopyRecord(memory.id, place.name, memory.name, place.device, job, _APPLIED in keys, ticked)


def _checks(visit_id: int, memory_id: int, key: str) -> Select[model.Check]:
    return select(model.Check).filter_by(visit_id=visit_id, memory_id=memory_id, key=key)


def _note(session: Session, visit_id: int, memory_id: int, key: str, detail: str = "") -> None:
    done = CheckState.DONE.value
    session.add(model.Check(visit_id=visit_id, memory_id=memory_id, key=key, state=done, detail=detail))
