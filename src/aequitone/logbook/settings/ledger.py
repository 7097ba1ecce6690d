"""The ledger of a visit: every change of a control, what was switched off and is owed, and what was checked."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum
from functools import partial

from sqlalchemy import Engine, select
from sqlalchemy.orm import Session

from aequitone.advice.roles import Role, role_of
from aequitone.errors import AequitoneError
from aequitone.logbook import model
from aequitone.logbook.jobs import current_job
from aequitone.logbook.settings.reaching import Holding, holding
from aequitone.logbook.storage.unreadable import Unreadable
from aequitone.wording import and_listed

FOUND_REASON = "as found"
PREPARED, ON_AGAIN, RESET_REASON = "switched off", "on again", "reset to factory"


class DebtAnswer(StrEnum):
    """What becomes of something that was switched off."""

    ON_AGAIN = "on again"
    LEAVE_OFF = "leave off"
    CLIENT = "client's choice"


class CheckState(StrEnum):
    """How a line of the checklist ended."""

    DONE = "done"
    NOT_HERE = "does not apply"
    LEFT = "left as it is"


class OpenDebtsError(AequitoneError):
    """A visit that cannot be closed; the message names what has no answer yet."""


@dataclass(frozen=True)
class SettingRecord:
    """A control's setting at a moment, and why."""

    role: Role
    name: str
    value: int
    reason: str
    at: datetime


@dataclass(frozen=True)
class DebtRecord:
    """Something that was switched off during a visit."""

    id: int
    role: Role
    name: str
    from_value: int
    answer: DebtAnswer | None
    memory: str = ""
    """The memory it was switched off in."""


@dataclass(frozen=True)
class CheckRecord:
    """A line of the checklist, as it was answered last."""

    key: str
    state: CheckState
    detail: str
    at: datetime


def standing(history: Sequence[SettingRecord], *, as_found: bool = False) -> dict[Role, int]:
    """What each control stands at in the end, or stood at as found."""
    return {record.role: record.value for record in history if not as_found or record.reason == FOUND_REASON}


class Ledger:
    """Of one logbook. Every method opens its own short session; rows are added, never changed, but for answers."""

    def __init__(self, engine: Engine, unreadable: Unreadable) -> None:
        self._engine, self._unreadable = engine, unreadable

    # Settings

    def note(self, visit_id: int, values: Mapping[int, int], reason: str) -> None:
        """Add settings, by control number."""
        with Session(self._engine) as session, session.begin():
            add_settings(session, visit_id, values, reason)

    def history(self, visit_id: int, job_id: int | None = None) -> tuple[SettingRecord, ...]:
        """Every setting of a visit that holds in the memory of a job, or of the present one, oldest first."""
        S, C = model.Setting, model.Control
        query = select(S, C).join(C, S.control_id == C.id).where(S.visit_id == visit_id).order_by(S.id)
        with Session(self._engine) as session:
            here = holding(session, visit_id, job_id)
            made = (
                self._unreadable.read(f"control {control.id}", partial(_setting, setting, control, here))
                for setting, control in session.execute(query).tuples()
            )
            return tuple(record for record in made if record is not None)

    def at(self, visit_id: int, *, as_found: bool = False) -> dict[Role, int]:
        """What each control stands at now, or stood at as found."""
        return standing(self.history(visit_id), as_found=as_found)

    def left_before(self, visit_id: int) -> dict[Role, int]:
        """What the newest earlier visit that worked in the memory of the present job left there."""
        with Session(self._engine) as session:
            job = (
                select(model.Job.visit_id, model.Job.id)
                .where(
                    model.Job.memory_id == current_job(session, visit_id).memory_id, model.Job.visit_id < visit_id
                )
                .order_by(model.Job.visit_id.desc(), model.Job.id.desc())
                .limit(1)
            )
            before = session.execute(job).first()
        return standing(self.history(before[0], before[1])) if before is not None else {}

    # What was switched off

    def switch_off(self, visit_id: int, control_id: int, from_value: int, to: int) -> None:
        """Note that something was switched off: the setting and the debt in one commit."""
        with Session(self._engine) as session, session.begin():
            add_settings(session, visit_id, {control_id: to}, PREPARED)
            session.add(
                model.Debt(
                    visit_id=visit_id,
                    control_id=control_id,
                    from_value=from_value,
                    memory_id=current_job(session, visit_id).memory_id,
                )
            )

    def debts(self, visit_id: int, job_id: int | None = None) -> tuple[DebtRecord, ...]:
        """What was switched off where a job works, or the present one, in that order."""
        return tuple(debt for debt, here in self._all_debts(visit_id, job_id) if here)

    def _all_debts(self, visit_id: int, job_id: int | None = None) -> list[tuple[DebtRecord, bool]]:
        """What was switched off in a visit, and whether it holds where a job works."""
        D, C = model.Debt, model.Control
        query = select(D, C).join(C, D.control_id == C.id).where(D.visit_id == visit_id).order_by(D.id)
        with Session(self._engine) as session:
            here = holding(session, visit_id, job_id)
            made = (
                self._unreadable.read(f"control {control.id}", partial(_debt, session, debt, control, here))
                for debt, control in session.execute(query).tuples()
            )
            return [record for record in made if record is not None]

    def answer(self, debt_id: int, answer: DebtAnswer | None) -> None:
        """Answer a debt, or take the answer back. "On again" writes the setting it had, in the same commit."""
        with Session(self._engine) as session, session.begin():
            debt = session.get_one(model.Debt, debt_id)
            again = debt.answer == DebtAnswer.ON_AGAIN
            debt.answer, debt.answered = (answer.value, model.now()) if answer else ("", None)
            to = debt.from_value if answer is DebtAnswer.ON_AGAIN else None
            reason = ON_AGAIN
            if again and answer is not DebtAnswer.ON_AGAIN:
                to, reason = _off_value(session, debt), PREPARED
            if to is not None:
                add_settings(session, debt.visit_id, {debt.control_id: to}, reason)

    def require_answers(self, visit_id: int) -> None:
        """Raise OpenDebtsError where something that was switched off has no answer."""
        owed = [
            debt.name if here or not debt.memory else f"{debt.name} in {debt.memory}"
            for debt, here in self._all_debts(visit_id)
            if debt.answer is None
        ]
        if owed:
            raise OpenDebtsError(
                f"{and_listed(owed)} {'was' if len(owed) == 1 else 'were'} switched off: say what becomes of "
                f"{'it' if len(owed) == 1 else 'each'} before the visit is closed"
            )

    # What was checked

    def check(self, visit_id: int, key: str, state: CheckState, detail: str = "") -> None:
        """Answer a line of the checklist."""
        with Session(self._engine) as session, session.begin():
            memory_id = current_job(session, visit_id).memory_id
            session.add(
                model.Check(visit_id=visit_id, memory_id=memory_id, key=key, state=state.value, detail=detail)
            )

    def uncheck(self, visit_id: int, key: str) -> None:
        """Take the answers to a line back."""
        with Session(self._engine) as session, session.begin():
            here = holding(session, visit_id)
            for row in session.scalars(select(model.Check).filter_by(visit_id=visit_id, key=key)):
                if here.check(row.key, row.memory_id):
                    session.delete(row)

    def checks(self, visit_id: int, job_id: int | None = None) -> dict[str, CheckRecord]:
        """The last answer to each line that holds where a job works, or the present one, by its key."""
        query = select(model.Check).where(model.Check.visit_id == visit_id).order_by(model.Check.id)
        with Session(self._engine) as session:
            here = holding(session, visit_id, job_id)
            return {
                row.key: CheckRecord(row.key, CheckState(row.state), row.detail, row.at)
                for row in session.scalars(query)
                if here.check(row.key, row.memory_id)
            }


def add_settings(session: Session, visit_id: int, values: Mapping[int, int], reason: str) -> None:
    """Add settings, by control number, of the memory that is worked in; they answer what was switched off."""
    memory_id = current_job(session, visit_id).memory_id
    session.add_all(
        model.Setting(visit_id=visit_id, control_id=control, memory_id=memory_id, value=value, reason=reason)
        for control, value in values.items()
    )
    _settle(session, visit_id, values)


def _settle(session: Session, visit_id: int, values: Mapping[int, int]) -> None:
    """Answer debts by what was turned: on again at its old setting, open again if it is moved."""
    every = session.scalars(select(model.Debt).filter_by(visit_id=visit_id)).all()
    debts = [debt for debt in every if debt.control_id in values]
    if not debts:
        return
    here = holding(session, visit_id)
    for debt in debts:
        if not here.setting(session.get_one(model.Control, debt.control_id), debt.memory_id):
            continue
        value = values[debt.control_id]
        if not debt.answer and value == debt.from_value:
            debt.answer, debt.answered = DebtAnswer.ON_AGAIN.value, model.now()
        elif debt.answer == DebtAnswer.ON_AGAIN and value != debt.from_value:
            debt.answer, debt.answered = "", None


def _setting(setting: model.Setting, control: model.Control, here: Holding) -> SettingRecord | None:
    """None where it does not hold in the memory that is worked in."""
    if not here.setting(control, setting.memory_id):
        return None
    return SettingRecord(role_of(control.role), control.name, setting.value, setting.reason, setting.at)


def _debt(session: Session, debt: model.Debt, control: model.Control, here: Holding) -> tuple[DebtRecord, bool]:
    answer = DebtAnswer(debt.answer) if debt.answer else None
    memory = session.get(model.Memory, debt.memory_id)
    record = DebtRecord(
        debt.id, role_of(control.role), control.name, debt.from_value, answer, memory.name if memory else ""
    )
    return record, here.setting(control, debt.memory_id)


def _off_value(session: Session, debt: model.Debt) -> int | None:
    """What it was switched to when the debt was made."""
    query = (
        select(model.Setting.value)
        .where(
            model.Setting.visit_id == debt.visit_id,
            model.Setting.control_id == debt.control_id,
            model.Setting.reason == PREPARED,
        )
        .order_by(model.Setting.id.desc())
        .limit(1)
    )
    return session.scalar(query)
