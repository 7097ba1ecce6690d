"""A visit carried from one logbook to another: its rows, numbered anew, and what is known here already."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import Engine, select
from sqlalchemy.orm import Session

from aequitone.errors import AequitoneError
from aequitone.logbook import model

Row = dict[str, Any]
Rows = dict[str, list[Row]]

# Tables in the order in which they can be entered, each with what its numbers refer to.
REFERENCES: dict[type[model.Base], dict[str, type[model.Base]]] = {
    model.Client: {},
    model.StoredRoom: {"client_id": model.Client},
    model.Screen: {"room_id": model.StoredRoom},
    model.Input: {"screen_id": model.Screen},
    model.Memory: {"input_id": model.Input},
    model.Control: {"screen_id": model.Screen},
    model.Correction: {},
    model.Visit: {"job_id": model.Job},
    model.Job: {"visit_id": model.Visit, "memory_id": model.Memory},
    model.Setting: {"visit_id": model.Visit, "control_id": model.Control, "memory_id": model.Memory},
    model.Debt: {"visit_id": model.Visit, "control_id": model.Control, "memory_id": model.Memory},
    model.Check: {"visit_id": model.Visit, "memory_id": model.Memory},
    model.Pass: {"visit_id": model.Visit, "job_id": model.Job},
    model.StoredReading: {"pass_id": model.Pass},
    model.StoredMove: {"pass_id": model.Pass},
    model.Remark: {"pass_id": model.Pass},
}
# What is found again by its name, and not made twice; and of a bench the numbers of one's own shelf.
_BY_NAME = (model.Client, model.StoredRoom, model.Screen, model.Input, model.Memory)
_OF_THE_SHELF = ("meter_id", "source_id", "link_id")
# Of a control, what must be the same for its settings to mean the same.
_LIMITS = ("name", "lowest", "highest", "step", "choices")
# Rows that were made before memories could change, or before jobs, refer to none.
_NONE = 0


class VisitThereError(AequitoneError):
    """The visit is in this logbook already; the message names it."""


@dataclass(frozen=True)
class OtherControl:
    """A control of the screen that has other limits or another name here."""

    here: str
    there: str

    @property
    def words(self) -> str:
        """Both, in words."""
        return f"{self.there} there, {self.here} here"


def visit_rows(engine: Engine, visit_id: int) -> Rows:
    """Take out every row of a visit, by table, numbered from 1 in each; LookupError where there is none."""
    with Session(engine) as session:
        if session.get(model.Visit, visit_id) is None:
            raise LookupError(f"there is no visit {visit_id}")
        found = {table: list(_of_visit(session, table, visit_id)) for table in REFERENCES}
        numbers = {table: {row.id: n for n, row in enumerate(rows, 1)} for table, rows in found.items()}
        return {table.__tablename__: [_plain(row, numbers) for row in rows] for table, rows in found.items()}


def differing_controls(engine: Engine, rows: Rows) -> tuple[OtherControl, ...]:
    """The controls that the screen has here with other limits or names; none where it is not known here.

    Raises VisitThereError where the visit is here already.
    """
    with Session(engine) as session:
        made = _known(session, rows)
        if not made[model.Screen]:
            return ()
        (visit,) = rows[model.Visit.__tablename__]
        _refuse_twice(session, _referring(visit, model.Visit, made, left_out=("job_id",)), made)
        told = []
        for row in rows[model.Control.__tablename__]:
            control = _control(session, made[model.Screen][row["screen_id"]], row)
            if control is not None and any(getattr(control, name) != row[name] for name in _LIMITS):
                told.append(OtherControl(_limits_words(vars(control)), _limits_words(row)))
        return tuple(told)


def enter_rows(engine: Engine, rows: Rows, *, take_controls: bool = False) -> int:
    """Enter a visit, all or nothing; returns its number here. The rows must refer to one another rightly.

    `take_controls`: the screen's controls get the limits and names that they have in the rows; otherwise those
    here stay. Raises VisitThereError where the visit is here already.
    """
    with Session(engine) as session, session.begin():
        made: dict[type[model.Base], dict[int, int]] = {table: {} for table in REFERENCES}
        jobs: list[tuple[model.Visit, int]] = []
        for table in REFERENCES:
            for row in rows[table.__tablename__]:
                values = _referring(row, table, made, left_out=("job_id",) if table is model.Visit else ())
                if table is model.Visit:
                    _refuse_twice(session, values, made)
                if "bench" in values:
                    values["bench"] = _rebenched(values["bench"], made)
                kept = _kept(session, table, values, take_controls=take_controls)
                made[table][row["id"]] = kept.id
                if isinstance(kept, model.Visit):
                    jobs.append((kept, row["job_id"]))
        for visit, job in jobs:
            visit.job_id = made[model.Job].get(job, _NONE)
        return jobs[0][0].id


def _known(session: Session, rows: Rows) -> dict[type[model.Base], dict[int, int]]:
    """The numbers here of what is known by its name: client, room, screen, inputs, memories."""
    made: dict[type[model.Base], dict[int, int]] = {table: {} for table in REFERENCES}
    for table in _BY_NAME:
        for row in rows[table.__tablename__]:
            values = _referring(row, table, made)
            placed = all(values[name] != _NONE for name in REFERENCES[table])
            there = _named(session, table, values) if placed else None
            if there is not None:
                made[table][row["id"]] = there.id
    return made


def _of_visit(session: Session, table: type[Any], visit_id: int) -> Iterator[Any]:
    """The rows of a table that a visit needs, in the order they were made."""
    memories = _memories(session, visit_id)
    inputs = select(model.Memory.input_id).where(model.Memory.id.in_(memories))
    screens = select(model.Input.screen_id).where(model.Input.id.in_(inputs))
    rooms = select(model.Screen.room_id).where(model.Screen.id.in_(screens))
    clients = select(model.StoredRoom.client_id).where(model.StoredRoom.id.in_(rooms))
    passes = select(model.Pass.id).where(model.Pass.visit_id == visit_id)
    query = select(table).order_by(table.id)
    if table is model.Correction:
        query = query.where(table.id == session.get_one(model.Visit, visit_id).bench.get("correction_id", _NONE))
    elif table is model.Control:
        query = query.where(table.screen_id.in_(screens))
    elif table in _BY_NAME:
        wanted = dict(zip(_BY_NAME, (clients, rooms, screens, inputs, memories), strict=True))[table]
        query = query.where(table.id.in_(wanted))
    elif table is model.Visit:
        query = query.where(table.id == visit_id)
    elif hasattr(table, "visit_id"):
        query = query.where(table.visit_id == visit_id)
    else:
        query = query.where(table.pass_id.in_(passes))
    return iter(session.scalars(query).all())


def _memories(session: Session, visit_id: int) -> Sequence[int]:
    """The memories that a visit worked or noted something in."""
    found: set[int] = set()
    for table in (model.Job, model.Setting, model.Debt, model.Check):
        found |= set(session.scalars(select(table.memory_id).where(table.visit_id == visit_id)).all())
    return sorted(found - {_NONE})


def _plain(row: Any, numbers: Mapping[type[model.Base], Mapping[int, int]]) -> Row:
    """A row as JSON has it, with numbers of its own visit."""
    table = type(row)
    told: Row = {"id": numbers[table][row.id]}
    for column in table.__table__.columns.keys()[1:]:
        value = getattr(row, column)
        if column in REFERENCES[table]:
            value = numbers[REFERENCES[table][column]].get(value, _NONE)
        elif isinstance(value, datetime):
            value = value.isoformat()
        elif column == "bench" and "correction_id" in value:
            there = numbers[model.Correction].get(value["correction_id"], _NONE)
            value = value | dict.fromkeys(_OF_THE_SHELF, 0) | {"correction_id": there}
        told[column] = value
    return told


def _referring(
    row: Row,
    table: type[model.Base],
    made: Mapping[type[model.Base], Mapping[int, int]],
    left_out: tuple[str, ...] = (),
) -> Row:
    """A row's values with the numbers that what they refer to has here."""
    values = {name: value for name, value in row.items() if name not in ("id", *left_out)}
    for name, to in REFERENCES[table].items():
        if name in values:
            values[name] = made[to].get(values[name], _NONE)
    for name, column in table.__table__.columns.items():
        if isinstance(values.get(name), str) and column.type.python_type is datetime:
            values[name] = datetime.fromisoformat(values[name])
    return values


def _named(session: Session, table: type[Any], values: Row) -> Any:
    """What has that name here, in the same place; None where nothing has."""
    where = {name: values[name] for name in ("name", *REFERENCES[table])}
    return session.scalars(select(table).filter_by(**where)).one_or_none()


def _control(session: Session, screen_id: int, values: Row) -> model.Control | None:
    query = select(model.Control).filter_by(screen_id=screen_id, role=values["role"])
    return session.scalars(query).one_or_none()


def _kept(session: Session, table: type[Any], values: Row, *, take_controls: bool) -> Any:
    """The row as it is here: found again by what it is, or made."""
    if table in _BY_NAME:
        row = _named(session, table, values)
    elif table is model.Control:
        row = _control(session, values["screen_id"], values)
        if row is not None and take_controls:
            for name, value in values.items():
                setattr(row, name, value)
    elif table is model.Correction:
        row = session.scalars(select(table).filter_by(meter=values["meter"], made=values["made"])).first()
    else:
        row = None
    if row is None:
        row = table(**values)
        session.add(row)
        session.flush()
    return row


def _refuse_twice(session: Session, values: Row, made: Mapping[type[model.Base], Mapping[int, int]]) -> None:
    """Raise VisitThereError where a visit to one of these memories was begun at the same moment."""
    query = (
        select(model.Visit.id)
        .join(model.Job, model.Job.visit_id == model.Visit.id)
        .where(model.Visit.started == values["started"], model.Job.memory_id.in_(made[model.Memory].values()))
    )
    there = session.scalars(query).first()
    if there is not None:
        raise VisitThereError(f"This visit is in the logbook already, as visit {there}; nothing was changed")


def _rebenched(bench: Row, made: Mapping[type[model.Base], Mapping[int, int]]) -> Row:
    """The instruments of a visit, with the correction that it has here."""
    there = made[model.Correction].get(bench.get("correction_id", _NONE), _NONE)
    return bench | {"correction_id": there} if "correction_id" in bench else bench


def _limits_words(values: Mapping[str, Any]) -> str:
    return f"{values['name']} {values['lowest']} to {values['highest']} by {values['step']}"


class Carrying:
    """Visits of one logbook, taken out and entered."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine

    def rows(self, visit_id: int) -> Rows:
        """Every row of a visit (`visit_rows`)."""
        return visit_rows(self._engine, visit_id)

    def differing(self, rows: Rows) -> tuple[OtherControl, ...]:
        """The controls that the screen has here with other limits or names (`differing_controls`)."""
        return differing_controls(self._engine, rows)

    def enter(self, rows: Rows, *, take_controls: bool = False) -> int:
        """Enter a visit, all or nothing (`enter_rows`)."""
        return enter_rows(self._engine, rows, take_controls=take_controls)
